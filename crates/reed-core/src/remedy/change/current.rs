//! Changes of where the water goes, of what lies in its way, and of what it leaves lying.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::buys::{Measure, buy, one, riser_m};
use super::unseen::{ANIMALS, DIRT_OF_A_CORNER, KINDS, ON_DRIFT};
use super::{
    AMMONIA_THERE_AND_TAP_HIGHER, Acts, Change, Phase, Proof, UNPLUG_FIRST, Wanted, careful, step,
};
use super::{makes, moved};
use crate::diagnosis::fault::{biology, current as fault, oxygen, water};
use crate::diagnosis::finding::Finding;
use crate::diagnosis::finding::{current as sign, places};
use crate::tank::Tank;
use crate::tank::thing::Kind;

/// Every change of this file.
pub(super) const ALL: &[&Change] = &[
    &INTAKE_LOW_AT_OUTLETS_END,
    &INTAKES_SAME_END,
    &ADD_WAVE_MAKER,
    &OUTLET_TO_END_MIDDLE,
    &MOVE_STRUCTURE,
    &ADD_CIRCULATION,
    &BIGGER_FILTER,
    &ADD_FILTER,
    &INTAKE_BEHIND_BACKGROUND,
    &SIPHON_BEHIND_BACKGROUND,
    &LENGTHEN_RISER,
    &AIM_OUTLET,
    &SWAP_FILTER_KIND,
    &DIFFUSE_OUTLET,
    &VACUUM_BED,
    &BETTER_FOOD,
    &LARGE_WATER_CHANGE,
];

const HANDS_IN: &str = "Unplug pumps and heater before hands go in; a heater that stands dry must cool for 15 minutes first.";
const SIPHON: &str = "Start the siphon by bulb or by filling the tube, never by mouth; gloves and no open cuts. Rotten-egg smell: stop, air the room.";
const LOOK_AT_SURFACE: &str =
    "Look at the surface again: it may be still now. And at the fish: they need a quiet corner.";

const fn gone(finding: &'static Finding, when: &'static str, after_hours: f64) -> Proof {
    Proof {
        wanted: Wanted::Gone(finding),
        when,
        after_hours,
    }
}

fn at_half_height(tank: &Tank) -> Result<(), &'static str> {
    if tank.has_stream_at_half_height() {
        Ok(())
    } else {
        Err("By the tank file no stream blows at half height.")
    }
}

/// Where the dirt comes to rest.
pub(super) static INTAKE_LOW_AT_OUTLETS_END: Change = Change {
    id: "intake-low-at-outlets-end",
    title: "Set the intake low, at the outlet's own end",
    what: "There the loop brings the dirt home, and few bubbles come by. Judge again once rocks and wood are in.",
    phase: Phase::Flow,
    cures: &[&fault::INTAKE_MISPLACED],
    by_moving: &[Kind::Intake],
    minutes: 20.0,
    acts: Acts::Moves(moved::intake_to_outlets_end),
    steps: &[
        careful(
            "Filter off. Move the intake to the end where the outlet sits, a hand's breadth above the bed and well below the outlet.",
            HANDS_IN,
        ),
        step("Hoses without a kink, filter on."),
        step("Repeat the drift test with a pinch of fine food."),
    ],
    look_after: LOOK_AT_SURFACE,
    proof: gone(
        &sign::FOOD_PASSES_INTAKE,
        "With the drift test, after an hour.",
        1.0,
    ),
    ..Change::BLANK
};

pub(super) static INTAKES_SAME_END: Change = Change {
    id: "intakes-same-end",
    title: "Bring both intakes to the end to which the bed current returns",
    what: "Often one loop instead of two that stop each other. Not in every tank: try it in the water first.",
    phase: Phase::Flow,
    cures: &[&fault::OPPOSED_FLOW],
    by_moving: &[Kind::Intake, Kind::Outlet],
    minutes: 30.0,
    acts: Acts::Moves(moved::intakes_to_one_end),
    steps: &[
        careful(
            "Watch first to which end dirt creeps along the bed. Both intakes low at that end; outlets firing the same way.",
            HANDS_IN,
        ),
        careful("Siphon the heap off.", SIPHON),
    ],
    look_after: LOOK_AT_SURFACE,
    proof: gone(
        &sign::MUCK_ONE_PILE,
        "After two weeks: the heap has not come back.",
        336.0,
    ),
    ..Change::BLANK
};

pub(super) static ADD_WAVE_MAKER: Change = Change {
    id: "add-wave-maker",
    title: "Hang a wave maker that pushes the same way along the surface",
    what: "It helps the loop over the quarter in which it dies down.",
    phase: Phase::Flow,
    eases: &[
        &fault::OPPOSED_FLOW,
        &fault::STRUCTURE_SHADOW,
        &fault::FLOW_TOO_LOW,
        &oxygen::STILL_SURFACE,
    ],
    in_the_model: Some(Tank::with_surface_powerhead),
    euros: 45.0,
    minutes: 20.0,
    buys: &[buy("Wave maker", one, Measure::Pieces)],
    steps: &[
        careful(
            "Fix it behind the outlets, a hand's breadth under the surface, pointing as they do.",
            UNPLUG_FIRST,
        ),
        careful(
            "Plug it in.",
            "Leads in a drip loop below the socket; a residual-current device.",
        ),
        step("Start low; raise it until the bed below it just moves."),
    ],
    look_after: "Watch long-finned and slow fish for a day.",
    proof: gone(&sign::MUCK_ONE_PILE, "After two weeks.", 336.0),
    ..Change::BLANK
};

pub(super) static OUTLET_TO_END_MIDDLE: Change = Change {
    id: "outlet-to-end-middle",
    title: "Move the outlet to the middle of the end wall",
    what: "The stream splits round both sides of the mass and clears its lee bit by bit.",
    phase: Phase::Flow,
    cures: &[&fault::STRUCTURE_SHADOW],
    by_moving: &[Kind::Outlet, Kind::Intake],
    minutes: 20.0,
    acts: Acts::Moves(moved::outlet_to_end_middle),
    steps: &[careful(
        "Filter off, outlet to the middle of the end, aimed along the surface, intake low below it, filter on.",
        HANDS_IN,
    )],
    look_after: LOOK_AT_SURFACE,
    proof: gone(
        &sign::MUCK_BEHIND_STRUCTURE,
        "After two weeks: more at the intake, less behind the mass.",
        336.0,
    ),
    ..Change::BLANK
};

pub(super) static MOVE_STRUCTURE: Change = Change {
    id: "move-structure",
    title: "Move the rock or root out of the stream's way",
    what: "With a hand's breadth to the wall the water passes on both sides.",
    phase: Phase::Flow,
    cures: &[&fault::STRUCTURE_SHADOW],
    by_moving: &[Kind::Rock],
    minutes: 40.0,
    acts: Acts::Moves(moved::rock_elsewhere),
    steps: &[
        careful(
            "Lift it out or shift it; set it on the glass, not on the sand.",
            "Rocks are heavy and wet: two people for large ones, nothing above the glass. Unplug first.",
        ),
        careful("Siphon off what lay behind it.", SIPHON),
    ],
    look_after: "Animals that lived there need another hiding place today.",
    proof: gone(&sign::MUCK_BEHIND_STRUCTURE, "After two weeks.", 336.0),
    ..Change::BLANK
};

/// A pump of its own.
pub(super) static ADD_CIRCULATION: Change = Change {
    id: "add-circulation",
    title: "Add a powerhead for circulation",
    what: "It moves water without filtering it: cheaper than a larger filter where the media are enough.",
    phase: Phase::Flow,
    cures: &[&fault::FLOW_TOO_LOW],
    in_the_model: Some(Tank::with_surface_powerhead),
    euros: 30.0,
    minutes: 20.0,
    buys: &[buy("Powerhead", one, Measure::Pieces)],
    steps: &[
        careful(
            "Hang it where the drift test died down, pointing along the longest free stretch.",
            UNPLUG_FIRST,
        ),
        careful(
            "Plug it in.",
            "Leads in a drip loop below the socket; a residual-current device.",
        ),
    ],
    look_after: "Watch long-finned and slow fish for a day.",
    proof: gone(&places::MUCK_EVERYWHERE, "After two weeks.", 336.0),
    ..Change::BLANK
};

pub(super) static BIGGER_FILTER: Change = Change {
    id: "bigger-filter",
    title: "Fit a filter for four to six times the volume an hour",
    what: "Its label should say more: with media and hose 50 to 70 % of it are left.",
    phase: Phase::Flow,
    cures: &[&fault::FLOW_TOO_LOW],
    euros: 150.0,
    minutes: 120.0,
    acts: Acts::Makes(makes::larger_filters),
    buys: &[buy("Filter half as strong again", one, Measure::Pieces)],
    steps: &[
        careful(
            "Run it beside the old one for a month (from memory), so that its media settle.",
            "A full canister is heavy; leads in a drip loop.",
        ),
        step("Then move the old media over, and take the old filter out."),
    ],
    look_after: "Test ammonia daily for a week after the old one is out.",
    proof: gone(&places::MUCK_EVERYWHERE, "After two weeks.", 336.0),
    ..Change::BLANK
};

/// Beside the old one, not in its place.
pub(super) static ADD_FILTER: Change = Change {
    id: "add-filter",
    title: "Add a second filter",
    what: "More water passes, more surface carries bacteria, and one keeps running while the other is open.",
    phase: Phase::Flow,
    eases: &[&fault::FLOW_TOO_LOW, &biology::TOO_LITTLE_BIOLOGY],
    fits: |tank| match tank.filters.len() {
        0..MOST_FILTERS => Ok(()),
        _ => Err("It has several filters already: more of them need more care, not less."),
    },
    euros: 60.0,
    minutes: 45.0,
    acts: Acts::Makes(makes::second_filter),
    buys: &[buy(
        "Hang-on filter of the usual size for this tank",
        one,
        Measure::Pieces,
    )],
    steps: &[
        step(
            "Put it into the drawing first, and watch Drift: two streams that meet make a dead place, two intakes far apart may gather one heap.",
        ),
        careful(
            "Hang it so that its stream helps that of the old one round, its intake as a rule at the same end as the other's: Drift shows whether that holds here.",
            HANDS_IN,
        ),
        step("A handful of the old media goes into it, so that it need not start from nothing."),
    ],
    look_after: "Look along the bed after two weeks: a heap that was not there before comes from the second stream. Fish that rest: is there still a quiet corner?",
    proof: gone(&places::MUCK_EVERYWHERE, "After two weeks.", 336.0),
    ..Change::BLANK
};

/// So many filters are enough. A judgement.
const MOST_FILTERS: usize = 3;

/// All water must pass behind.
pub(super) static INTAKE_BEHIND_BACKGROUND: Change = Change {
    id: "intake-behind-background",
    title: "Move the intake behind the background",
    what: "Then all water passes behind it, if its openings are the only way.",
    phase: Phase::Flow,
    cures: &[&fault::STAGNANT_BEHIND_BACKGROUND],
    minutes: 40.0,
    acts: Acts::Unseen(ON_DRIFT),
    steps: &[
        careful(
            "Filter off, intake into the gap, openings at the far end and low, filter on.",
            HANDS_IN,
        ),
        step("Look whether the water in the gap stands lower: then the openings are too small."),
    ],
    proof: gone(&sign::BEHIND_BACKGROUND_DIRTY, "After two weeks.", 336.0),
    ..Change::BLANK
};

pub(super) static SIPHON_BEHIND_BACKGROUND: Change = Change {
    id: "siphon-behind-background",
    title: "Siphon behind the background at each water change",
    what: "What the stream does not fetch the siphon does.",
    phase: Phase::Clean,
    cures: &[&fault::STAGNANT_BEHIND_BACKGROUND],
    minutes: 15.0,
    acts: Acts::Unseen(DIRT_OF_A_CORNER),
    steps: &[careful(
        "A thin stiff tube on the siphon, down into the gap, slowly along its whole length.",
        SIPHON,
    )],
    look_after: "Look for animals in the gap first.",
    proof: gone(&sign::BEHIND_BACKGROUND_DIRTY, "After the siphoning.", 0.5),
    ..Change::BLANK
};

pub(super) static LENGTHEN_RISER: Change = Change {
    id: "lengthen-riser",
    title: "Lengthen the riser, or tilt the powerhead up",
    what: "The stream reaches the surface and rolls the tank from there.",
    phase: Phase::Flow,
    cures: &[&fault::MID_WATER_JET],
    fits: at_half_height,
    in_the_model: Some(Tank::with_powerheads_up),
    euros: 3.0,
    minutes: 10.0,
    buys: &[buy("Riser tube", riser_m, Measure::Metres)],
    steps: &[careful(
        "A longer pipe between sponge and powerhead, until it blows a hand's breadth under the surface.",
        HANDS_IN,
    )],
    look_after: LOOK_AT_SURFACE,
    proof: gone(&sign::PUSHED_BY_CURRENT, "Tomorrow.", 12.0),
    ..Change::BLANK
};

/// When neither turning nor lengthening helps.
pub(super) static SWAP_FILTER_KIND: Change = Change {
    id: "swap-filter-kind",
    title: "Change to a kind of filter that returns its water at the surface",
    what: "The old one runs on beside it until the new one carries its share: a colony is moved, not thrown away.",
    phase: Phase::Flow,
    eases: &[&fault::MID_WATER_JET, &fault::CURRENT_TOO_STRONG],
    fits: at_half_height,
    euros: 60.0,
    minutes: 60.0,
    acts: Acts::Unseen(KINDS),
    buys: &[buy("Filter of another kind", one, Measure::Pieces)],
    steps: &[
        careful(
            "Set up the new filter beside the old one; part of the old media into its trays, wet all the way.",
            HANDS_IN,
        ),
        step("Run both for four weeks."),
        step("Take the old one out when ammonia and nitrite have read zero all that time."),
    ],
    look_after: "Test ammonia and nitrite every other day for two weeks after the old one is out.",
    proof: gone(&sign::PUSHED_BY_CURRENT, "Tomorrow.", 12.0),
    ..Change::BLANK
};

pub(super) static AIM_OUTLET: Change = Change {
    id: "aim-outlet",
    title: "Aim the outlet along the surface, past the fish's resting places",
    what: "The loop keeps turning, and the middle comes to rest.",
    phase: Phase::Flow,
    cures: &[&fault::MID_WATER_JET],
    eases: &[&fault::CURRENT_TOO_STRONG],
    fits: at_half_height,
    in_the_model: Some(Tank::with_outlets_raised),
    by_moving: &[Kind::Outlet, Kind::InternalFilter],
    minutes: 5.0,
    steps: &[careful(
        "Turn it up to the surface, along the longest free stretch.",
        HANDS_IN,
    )],
    look_after: "Look at the bed again after two days.",
    proof: gone(&sign::PUSHED_BY_CURRENT, "Tomorrow.", 12.0),
    ..Change::BLANK
};

pub(super) static DIFFUSE_OUTLET: Change = Change {
    id: "diffuse-outlet",
    title: "Spread the stream: spray bar, flared outlet, or against the glass",
    what: "The same water, slower: a jet loses its push within a few bores once it is spread.",
    phase: Phase::Flow,
    cures: &[&fault::CURRENT_TOO_STRONG],
    euros: 12.0,
    minutes: 15.0,
    acts: Acts::Unseen(ON_DRIFT),
    buys: &[buy("Spray bar or flared outlet", one, Measure::Pieces)],
    steps: &[careful(
        "Fit a spray bar along an end, or turn the outlet against the pane.",
        HANDS_IN,
    )],
    look_after: LOOK_AT_SURFACE,
    proof: gone(&sign::PUSHED_BY_CURRENT, "Tomorrow.", 12.0),
    ..Change::BLANK
};

pub(super) static VACUUM_BED: Change = Change {
    id: "vacuum-bed",
    title: "Siphon the bed, a third at each water change",
    what: "What is out of the bed rots no more in it.",
    phase: Phase::Clean,
    cures: &[&fault::BED_WASTE],
    eases: &[&fault::WASTE_FOAM, &oxygen::OXYGEN_DEMAND_HIGH],
    minutes: 30.0,
    acts: Acts::Unseen(DIRT_OF_A_CORNER),
    steps: &[
        careful(
            "Push the tube in, lift, let gravel fall back; a third of the bed each time. For fry a narrow tube with netting over its mouth.",
            SIPHON,
        ),
        step("Feed a third less for two weeks; each portion gone within half a minute."),
    ],
    look_after: "A bed deeper than 5 cm that was never touched: a hand's breadth per visit only, with strong aeration.",
    proof: gone(
        &sign::LEFTOVER_FOOD,
        "An hour after tomorrow's feeding.",
        12.0,
    ),
    ..Change::BLANK
};

pub(super) static BETTER_FOOD: Change = Change {
    id: "better-food",
    title: "Change to less oily, varied food",
    what: "Less fat on the surface, less protein in the water.",
    phase: Phase::Feed,
    cures: &[&fault::WASTE_FOAM, &water::POOR_FOOD],
    euros: 12.0,
    minutes: 10.0,
    logs: Some(("food-changed", None)),
    acts: Acts::Unseen(ANIMALS),
    buys: &[buy("Food, several kinds", one, Measure::Pieces)],
    steps: &[
        step("Rinse frozen food, leave home-made mixes out for two weeks, feed small portions."),
        step("Draw the foam off with plain paper."),
    ],
    proof: gone(&sign::FOAM_STAYS, "After a week.", 168.0),
    ..Change::BLANK
};

pub(super) static LARGE_WATER_CHANGE: Change = Change {
    id: "large-water-change",
    title: "Change half of the water now, and again tomorrow",
    what: "Soap cannot be filtered out in time: it has to be diluted.",
    phase: Phase::Alive,
    cures: &[&fault::SOAP_CONTAMINATION],
    eases: &[&water::COPPER],
    not_while: &[AMMONIA_THERE_AND_TAP_HIGHER],
    euros: 2.0,
    minutes: 60.0,
    logs: Some(("change", Some(50.0))),
    steps: &[
        careful(
            "Take foam off with plain paper. Heater and pumps off, half of the water out.",
            SIPHON,
        ),
        careful(
            "Refill with conditioned water within 1 °C of the tank's.",
            "Where ammonia was read: compare the pH first, a higher one makes it poisonous.",
        ),
        step(
            "Air stone in, fresh carbon in the filter for some days. Gulping or dying fish: move them to clean, tempered, aired water now.",
        ),
    ],
    look_after: "Test ammonia daily for a week. Keep buckets and hands for the tank free of soap.",
    proof: gone(&sign::FOAM_STAYS, "In two hours.", 2.0),
    if_not: "Repeat it today. Ask a fish vet about the gills.",
    ..Change::BLANK
};
