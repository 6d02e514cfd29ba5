//! Changes to filters, hoses, seals and what lets air in. Proved by looking again: bubbles that are
//! gone need no kit.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::buys::{Measure, bare_intakes, buy, filters, half_of_foam_l, hose_m, one};
use super::unseen::{AIR, ANIMALS, EVAPORATES, GAS, INTERVAL, LOOSE, SOCK, WATCHING};
use super::{Acts, Change, Disturbs, Phase, Proof, Step, Wanted, careful, step};
use super::{makes, moved};
use crate::diagnosis::fault::{filter as fault, water};
use crate::diagnosis::finding::Finding;
use crate::diagnosis::finding::filter as sign;
use crate::tank::thing::Kind;

/// Every change of this file.
pub(super) const ALL: &[&Change] = &[
    &WAIT_AND_TILT,
    &CLEAN_MECHANICAL,
    &REPLACE_FLOSS,
    &FIT_PREFILTER,
    &SHORTEN_INTERVAL,
    &THIN_MEDIA,
    &RINSE_PREFILTER,
    &REPLACE_SPONGE_IN_HALVES,
    &RINSE_BIO_IN_TANK_WATER,
    &CLEAN_OR_RECUT_HOSE,
    &SEAT_COUPLING_OPEN_TAPS,
    &PRIME_AND_PURGE,
    &SERVICE_IMPELLER,
    &RESEAT_JOINTS,
    &LOWER_INTAKE,
    &TOP_UP,
    &RENEW_SEALS,
    &REPLACE_HOSE,
    &REPLACE_PART,
    &MOVE_AIR_SOURCE,
    &MOVE_INTAKE,
    &MATCH_REFILL_TEMPERATURE,
    &WIPE_PANES,
    &FIT_LEVEL_ALARM,
    &TRIM_OUTLET,
    &RESEAT_MOTOR_COVER,
    &CHANGE_SOCK,
    &OPEN_SOCK,
    &MARK_MAX_LEVEL,
    &FRY_GUARD,
    &ACCEPT,
];

const OPENING: &str = "Unplug before hands or housings get wet. Both lines shut, and seen dry, before a canister is parted: an open line empties the \
     tank down to the intake. A full canister is heavy.";
const DRY_HANDS: &str = "Dry hands; the lead in a drip loop below the socket; a residual-current device. Damaged lead: stop.";
const LOOK_AT_SURFACE: &str =
    "Look at the surface again: more flow stirs it, another direction may leave it still.";

const fn gone(finding: &'static Finding, when: &'static str, after_hours: f64) -> Proof {
    Proof {
        wanted: Wanted::Gone(finding),
        when,
        after_hours,
    }
}

const BUBBLES_GONE: Proof = gone(
    &sign::OUTLET_BUBBLES_CONSTANT,
    "Tomorrow: a filter that was open sheds air for two or three hours by itself.",
    12.0,
);
const FLOW_BACK: Proof = gone(
    &sign::FLOW_WEAK,
    "In an hour, once the air of the restart is out.",
    1.0,
);
const DRY_AGAIN: Proof = gone(
    &sign::DAMP_OR_DRIP,
    "After an hour with dry paper below it, and again tomorrow.",
    1.0,
);

const OPEN: Step = careful(
    "Unplug, shut both taps, see that no line runs, carry it to a tub, open the latches with even pressure.",
    OPENING,
);
const CLOSE: Step = careful(
    "Stack by the marks; a head that will not seat means something is out of line, never force it. Fill with tank water, couple, open the taps, wait until no bubbles leave, then plug in.",
    DRY_HANDS,
);

pub(super) static WAIT_AND_TILT: Change = Change {
    id: "wait-and-tilt",
    title: "Wait, and tilt the filter now and then",
    what: "Air that was trapped comes out by itself; tilting hurries it.",
    phase: Phase::Flow,
    cures: &[&fault::TRAPPED_AIR_NEW, &fault::TRAPPED_AIR_CLEANED],
    eases: &[&fault::GAS_COLLECTED],
    minutes: 5.0,
    acts: Acts::Unseen(AIR),
    steps: &[
        careful(
            "Leave it running; tilt it slowly by some 30° to each side until nothing large comes out any more.",
            DRY_HANDS,
        ),
        step("Look again after three hours if it was just cleaned, after a week if media are new."),
    ],
    proof: gone(
        &sign::OUTLET_BUBBLES_CONSTANT,
        "After three hours; with new media after a week.",
        3.0,
    ),
    if_not: "It is more than trapped air: look at the fine pad and at everything on the suction side.",
    ..Change::BLANK
};

/// Opens the filter; spares the colony.
pub(super) static CLEAN_MECHANICAL: Change = Change {
    id: "clean-mechanical",
    title: "Rinse the mechanical stages in tank water",
    what: "What holds dirt is rinsed until water passes freely; what carries bacteria is left alone.",
    phase: Phase::Clean,
    disturbs: Disturbs::Filter,
    cures: &[&fault::CLOGGED_FINE_MEDIA, &fault::EXPOSED_HOB_MEDIA],
    eases: &[&fault::GAS_COLLECTED, &fault::CLOGGED_BIOLOGICAL_MEDIA],
    minutes: 45.0,
    logs: Some(("filter-opened", None)),
    acts: Acts::Cleans,
    steps: &[
        step(
            "Take a bucket of tank water first: some 5 L for each litre of loaded sponge (from memory).",
        ),
        OPEN,
        step(
            "Look at every stage before you touch it: coarse, fine, biological. Count animals. A photo helps next time.",
        ),
        step(
            "Rinse sponges piece by piece in the tank water until it passes freely, not until they look new. Throw floss away. Keep the biological media wet, unrinsed.",
        ),
        careful(
            "Housing, tubes and impeller under the tap; rinse water never goes back into the tank.",
            "Never soap.",
        ),
        CLOSE,
    ],
    look_after: "Test ammonia on the next three days: every opening disturbs the colony a little.",
    proof: BUBBLES_GONE,
    if_not: "Look at what lets air in: joints and intake above the water, then all seals as a set, then the suction hose.",
    ..Change::BLANK
};

pub(super) static REPLACE_FLOSS: Change = Change {
    id: "replace-floss",
    title: "Replace the fine pad or floss",
    what: "The finest stage clogs first, and a new pad costs little. It holds hardly any of the colony.",
    phase: Phase::Clean,
    disturbs: Disturbs::Filter,
    cures: &[&fault::CLOGGED_FINE_MEDIA],
    euros: 4.0,
    minutes: 30.0,
    logs: Some(("floss-new", None)),
    acts: Acts::Cleans,
    buys: &[buy(
        "Fine pad or floss, cut to the section",
        filters,
        Measure::Pieces,
    )],
    steps: &[
        OPEN,
        step(
            "Lay the new pad flat over the whole section, behind the coarser stages and before the biological ones.",
        ),
        CLOSE,
    ],
    proof: BUBBLES_GONE,
    ..Change::BLANK
};

/// So that it stays away.
pub(super) static FIT_PREFILTER: Change = Change {
    id: "fit-prefilter",
    title: "Fit a sponge over the intake",
    what: "Coarse dirt and small animals stay outside, where a rinse takes a minute.",
    phase: Phase::Clean,
    cures: &[&fault::ANIMALS_DRAWN_IN],
    eases: &[&fault::CLOGGED_FINE_MEDIA],
    fits: |tank| {
        if tank.has_intake_sponge() {
            Err("An intake has a sponge already.")
        } else {
            Ok(())
        }
    },
    euros: 6.0,
    minutes: 10.0,
    acts: Acts::Makes(makes::prefilters),
    buys: &[buy("Intake sponge", bare_intakes, Measure::Pieces)],
    steps: &[
        careful(
            "Filter off, push a coarse sponge over the strainer, filter on.",
            "Unplug before hands go in.",
        ),
        step("Rinse it when the flow says so; begin with every two weeks (from memory)."),
    ],
    look_after: "The flow: a full intake sponge starves the filter.",
    proof: gone(&sign::ANIMALS_IN_FILTER, "At the next opening.", 24.0),
    ..Change::BLANK
};

pub(super) static SHORTEN_INTERVAL: Change = Change {
    id: "shorten-interval",
    title: "Open the filter earlier next time",
    what: "The last interval was too long for this tank: two thirds of it is the next try.",
    phase: Phase::Routine,
    eases: &[&fault::CLOGGED_FINE_MEDIA, &fault::EXPOSED_HOB_MEDIA],
    minutes: 2.0,
    acts: Acts::Unseen(INTERVAL),
    steps: &[step(
        "Note when it was opened and how each stage looked; set the next date at two thirds of the time since the last.",
    )],
    proof: gone(&sign::FINE_MEDIA_CLOGGED, "At the next opening.", 24.0),
    ..Change::BLANK
};

pub(super) static THIN_MEDIA: Change = Change {
    id: "thin-media",
    title: "Take a part of the media out",
    what: "Loose media pass more water, and no gas is pulled out of it.",
    phase: Phase::Clean,
    disturbs: Disturbs::Filter,
    cures: &[&fault::OVER_PACKED_MEDIA],
    minutes: 40.0,
    acts: Acts::Makes(makes::media_thinned),
    steps: &[
        OPEN,
        step(
            "Take one bag or pad out of the fullest tray, mechanical before biological. Everything left should give when pressed.",
        ),
        CLOSE,
    ],
    look_after: "Keep what came out wet in the tank for two weeks if it is biological.",
    proof: FLOW_BACK,
    ..Change::BLANK
};

pub(super) static RINSE_PREFILTER: Change = Change {
    id: "rinse-prefilter",
    title: "Rinse the intake sponge",
    what: "The filter gets its water again.",
    phase: Phase::Clean,
    cures: &[&fault::CLOGGED_PREFILTER],
    minutes: 5.0,
    logs: Some(("prefilter-rinsed", None)),
    acts: Acts::Cleans,
    steps: &[
        careful(
            "Filter off. Slip a bag under the sponge before you lift it, so that its dirt does not go back. Squeeze it in tank water until it is light.",
            "Unplug every pump before hands go in: fry and shrimp are drawn into a bare intake while another filter runs.",
        ),
        step("Back on, filter on."),
    ],
    look_after: LOOK_AT_SURFACE,
    proof: FLOW_BACK,
    if_not: "Then the filter itself is clogged: lift the pad.",
    ..Change::BLANK
};

pub(super) static REPLACE_SPONGE_IN_HALVES: Change = Change {
    id: "replace-sponge-in-halves",
    title: "Replace the worn sponge in halves",
    what: "The new half is settled from the old one before that goes too.",
    phase: Phase::Clean,
    disturbs: Disturbs::Colony,
    cures: &[&fault::CLOGGED_BIOLOGICAL_MEDIA],
    euros: 8.0,
    minutes: 40.0,
    logs: Some(("filter-opened", None)),
    acts: Acts::Cleans,
    buys: &[buy(
        "Sponge as coarse as the old one",
        half_of_foam_l,
        Measure::Litres,
    )],
    steps: &[
        OPEN,
        step("Cut the sponge across; put a new half beside the old one."),
        CLOSE,
        step(
            "The other half no sooner than in four weeks (from memory), if ammonia and nitrite stayed at zero.",
        ),
    ],
    look_after: "Test ammonia and nitrite daily for a week.",
    proof: FLOW_BACK,
    ..Change::BLANK
};

pub(super) static RINSE_BIO_IN_TANK_WATER: Change = Change {
    id: "rinse-bio-in-tank-water",
    title: "Swish the biological media in tank water",
    what: "Sludge out of the pores, bacteria left on them.",
    phase: Phase::Clean,
    disturbs: Disturbs::Colony,
    eases: &[&fault::CLOGGED_BIOLOGICAL_MEDIA, &fault::EXPOSED_HOB_MEDIA],
    minutes: 40.0,
    logs: Some(("filter-opened", None)),
    acts: Acts::Cleans,
    steps: &[
        OPEN,
        step(
            "Swish each bag a few times in a bucket of tank water of tank temperature. Half of them at a time.",
        ),
        CLOSE,
    ],
    look_after: "Test ammonia on the next three days.",
    proof: FLOW_BACK,
    ..Change::BLANK
};

pub(super) static CLEAN_OR_RECUT_HOSE: Change = Change {
    id: "clean-or-recut-hose",
    title: "Brush the hose, or lay it without the kink",
    what: "A clear hose on a wide bend gives back what the kink took.",
    phase: Phase::Flow,
    cures: &[&fault::HOSE_FOULED_OR_KINKED],
    euros: 8.0,
    minutes: 30.0,
    logs: Some(("hose-cleaned", None)),
    acts: Acts::Unseen(LOOSE),
    buys: &[buy("Hose brush", one, Measure::Pieces)],
    steps: &[
        careful(
            "Taps shut, unplugged, hose off over a bucket. Draw a brush through it.",
            OPENING,
        ),
        step(
            "Cut a new one long, measured from the filter to each fitting, and trim it later: one run is often a third longer. Never cut in half.",
        ),
        careful(
            "Push it on fully, tighten, open the taps, look for drops.",
            DRY_HANDS,
        ),
    ],
    look_after: LOOK_AT_SURFACE,
    proof: FLOW_BACK,
    ..Change::BLANK
};

pub(super) static SEAT_COUPLING_OPEN_TAPS: Change = Change {
    id: "seat-coupling-open-taps",
    title: "Seat the coupling and open the taps",
    what: "One lever forgotten after a cleaning is all it takes.",
    phase: Phase::Flow,
    cures: &[&fault::TAPS_OR_COUPLING],
    minutes: 3.0,
    acts: Acts::Unseen(LOOSE),
    steps: &[careful(
        "Unplug; press the coupling down all round; open each lever until it stands along its hose; plug in.",
        DRY_HANDS,
    )],
    look_after: LOOK_AT_SURFACE,
    proof: FLOW_BACK,
    ..Change::BLANK
};

pub(super) static PRIME_AND_PURGE: Change = Change {
    id: "prime-and-purge",
    title: "Prime the filter and let its air out",
    what: "A head full of water lets the pump draw again.",
    phase: Phase::Flow,
    cures: &[&fault::AIR_LOCK, &fault::GAS_COLLECTED],
    minutes: 10.0,
    acts: Acts::Unseen(AIR),
    steps: &[
        careful(
            "Unplug. Fill hoses and head with tank water by its primer or through the intake hose.",
            "Never start a siphon by mouth.",
        ),
        careful(
            "Open the taps, rock the filter until no bubbles leave, plug in; off and on twice if it still gurgles.",
            DRY_HANDS,
        ),
    ],
    proof: gone(&sign::GURGLE_OR_RATTLE, "After half an hour.", 0.5),
    if_not: "Air comes in again from somewhere: joints, seals, the suction hose.",
    ..Change::BLANK
};

pub(super) static SERVICE_IMPELLER: Change = Change {
    id: "service-impeller",
    title: "Clean the impeller, replace it if it is worn",
    what: "A free impeller is quiet and gives its flow back.",
    phase: Phase::Flow,
    disturbs: Disturbs::Filter,
    cures: &[&fault::IMPELLER_DIRTY_OR_WORN],
    euros: 12.0,
    minutes: 20.0,
    logs: Some(("impeller-serviced", None)),
    acts: Acts::Unseen(LOOSE),
    buys: &[buy("Impeller with shaft", one, Measure::Pieces)],
    steps: &[
        careful(
            "Unplug, open the motor cover, lift the impeller out.",
            OPENING,
        ),
        step(
            "Wipe impeller, shaft and well; look for wear, hair and shells. A shaft with a groove or a loose magnet: replace it.",
        ),
        careful(
            "Back in, the cover seated all round and locked: left loose it drips from a place nobody suspects.",
            DRY_HANDS,
        ),
    ],
    look_after: "Lay paper under the motor for an hour.",
    proof: gone(&sign::GURGLE_OR_RATTLE, "After an hour.", 1.0),
    ..Change::BLANK
};

pub(super) static RESEAT_JOINTS: Change = Change {
    id: "reseat-joints",
    title: "Reseat every joint of the suction side",
    what: "Only where the inside is below the pressure of the air can air get in: everything above the water, and what lies behind a clog.",
    phase: Phase::Flow,
    cures: &[&fault::JOINT_LOOSE],
    minutes: 10.0,
    acts: Acts::Unseen(AIR),
    steps: &[
        careful(
            "Unplug. From the intake to the filter: hose off, cut a worn end, push it on fully, tighten.",
            OPENING,
        ),
        careful("Plug in; watch the outlet for a few minutes.", DRY_HANDS).lasting(5),
    ],
    proof: gone(&sign::OUTLET_BUBBLES_CONSTANT, "After three hours.", 3.0),
    if_not: "Next the intake fitting, then the seals as a set, then the hose.",
    ..Change::BLANK
};

pub(super) static LOWER_INTAKE: Change = Change {
    id: "lower-intake",
    title: "Lower the intake",
    what: "Its top slit and joint come under water and stay there.",
    phase: Phase::Flow,
    cures: &[&fault::INTAKE_FITTING_EXPOSED],
    by_moving: &[Kind::Intake],
    minutes: 5.0,
    acts: Acts::Unseen(AIR),
    steps: &[careful(
        "Filter off, push the intake down or lengthen it until a hand's breadth stands over its uppermost slit, filter on.",
        "Unplug before hands go in.",
    )],
    proof: gone(&sign::OUTLET_BUBBLES_CONSTANT, "After an hour.", 1.0),
    ..Change::BLANK
};

pub(super) static TOP_UP: Change = Change {
    id: "top-up",
    title: "Top up what evaporated",
    what: "Intake, outlet and return pump stand under water again.",
    phase: Phase::Flow,
    cures: &[&fault::INTAKE_FITTING_EXPOSED, &fault::RETURN_CHAMBER_LOW],
    minutes: 10.0,
    logs: Some(("top-up", None)),
    acts: Acts::Unseen(EVAPORATES),
    steps: &[
        careful(
            "Fill up to the mark with water of the tank's temperature: tap water conditioned, in sea water fresh water only.",
            "A sump: never above its running mark, or it runs over when the pump stops.",
        ),
        step("Mark the level, so that a glance tells next time."),
    ],
    proof: gone(&sign::OUTLET_BUBBLES_CONSTANT, "After an hour.", 1.0),
    ..Change::BLANK
};

pub(super) static RENEW_SEALS: Change = Change {
    id: "renew-seals",
    title: "Renew all seals of the filter as a set",
    what: "If one has failed the others are as old. Lid, each tap, pump seat, motor cover.",
    phase: Phase::Flow,
    disturbs: Disturbs::Filter,
    cures: &[&fault::SEAL_LEAK],
    euros: 20.0,
    minutes: 40.0,
    logs: Some(("seals-renewed", None)),
    acts: Acts::Unseen(LOOSE),
    buys: &[
        buy("Set of seals", filters, Measure::Pieces),
        buy("Seal-safe grease", one, Measure::Pieces),
    ],
    steps: &[
        OPEN,
        step(
            "Old seals out, grooves wiped clean; new ones in with a thin film of seal-safe grease, lying flat all round.",
        ),
        step("Screws crosswise in two rounds: firm, not so that plastic cracks."),
        CLOSE,
    ],
    look_after: "Dry paper round lid and taps for an hour.",
    proof: BUBBLES_GONE,
    if_not: "Then the suction hose, last the housing.",
    ..Change::BLANK
};

pub(super) static REPLACE_HOSE: Change = Change {
    id: "replace-hose",
    title: "Replace the suction hose",
    what: "A hair crack that leaks inward cannot be seen, only swapped out.",
    phase: Phase::Flow,
    cures: &[&fault::HOSE_CRACK],
    eases: &[&fault::HOSE_FOULED_OR_KINKED],
    euros: 15.0,
    minutes: 30.0,
    logs: Some(("hose-cleaned", None)),
    acts: Acts::Unseen(LOOSE),
    buys: &[buy("Hose of the same bore", hose_m, Measure::Metres)],
    steps: &[
        careful(
            "Taps shut, unplugged, the old hose off over a bucket.",
            OPENING,
        ),
        step(
            "Measure from the filter to the intake, cut long, trim later. Warm ends in hot water slide on.",
        ),
        careful(
            "Tighten, open the taps, look for drops, plug in.",
            DRY_HANDS,
        ),
    ],
    proof: BUBBLES_GONE,
    ..Change::BLANK
};

pub(super) static REPLACE_PART: Change = Change {
    id: "replace-part",
    title: "Replace the cracked part",
    what: "A crack under pressure grows.",
    phase: Phase::Flow,
    cures: &[&fault::BODY_CRACK],
    euros: 40.0,
    minutes: 60.0,
    acts: Acts::Unseen(LOOSE),
    buys: &[buy("The cracked part", one, Measure::Pieces)],
    steps: &[
        careful(
            "Take the filter out of use until the part is there; keep its media wet and aired in the tank.",
            OPENING,
        ),
        step("Swap the part, seals greased, everything seated."),
        careful(
            "Dry paper along every edge for an hour before you leave it alone.",
            DRY_HANDS,
        )
        .lasting(60),
    ],
    look_after: "Without its filter: air stone in, feed little, test ammonia daily.",
    proof: DRY_AGAIN,
    ..Change::BLANK
};

pub(super) static MOVE_AIR_SOURCE: Change = Change {
    id: "move-air-source",
    title: "Move the air source away from the intake",
    what: "Its bubbles reach the surface instead of the filter.",
    phase: Phase::Flow,
    cures: &[&fault::AIR_SOURCE_NEAR_INTAKE],
    by_moving: &[Kind::AirStone, Kind::SpongeFilter],
    minutes: 10.0,
    acts: Acts::Moves(moved::air_away_from_intakes),
    steps: &[careful(
        "Set stone or sponge where its plume rises free, away from every intake and its stream.",
        "Unplug before hands go in.",
    )],
    look_after: "Look at the bed there after two days: air lifts muck better than water alone.",
    proof: gone(&sign::OUTLET_BUBBLES_CONSTANT, "After an hour.", 1.0),
    ..Change::BLANK
};

pub(super) static MOVE_INTAKE: Change = Change {
    id: "move-intake",
    title: "Move the intake out of the bubbles",
    what: "Low at the outlet's own end there are few bubbles, and most of the dirt.",
    phase: Phase::Flow,
    cures: &[&fault::PLANT_GAS_AT_INTAKE],
    eases: &[&fault::AIR_SOURCE_NEAR_INTAKE],
    by_moving: &[Kind::Intake],
    minutes: 20.0,
    acts: Acts::Moves(moved::intake_to_outlets_end),
    steps: &[careful(
        "Filter off; move the intake, well below the outlet; hoses without a kink; filter on.",
        OPENING,
    )],
    look_after: "Look at the bed again after two days: dirt gathers where the intake was.",
    proof: gone(
        &sign::OUTLET_BUBBLES_CONSTANT,
        "After a day, in the light.",
        12.0,
    ),
    ..Change::BLANK
};

pub(super) static MATCH_REFILL_TEMPERATURE: Change = Change {
    id: "match-refill-temperature",
    title: "Match the refill's temperature",
    what: "Within 1 to 2 °C (from memory) neither gas comes out nor do animals take a step.",
    phase: Phase::Routine,
    cures: &[&fault::COLD_REFILL_GAS, &water::TEMPERATURE_SHOCK],
    minutes: 5.0,
    acts: Acts::Unseen(GAS),
    steps: &[step(
        "Measure the refill before and again during a long fill: stored hot water runs out. Stir warm and cold until it fits.",
    )],
    proof: gone(
        &sign::BUBBLES_ON_PANES,
        "After the next water change.",
        24.0,
    ),
    ..Change::BLANK
};

pub(super) static WIPE_PANES: Change = Change {
    id: "wipe-panes",
    title: "Wipe the bubbles off",
    what: "They let go and rise; by tomorrow the gas has left.",
    phase: Phase::Looks,
    eases: &[&fault::COLD_REFILL_GAS],
    minutes: 3.0,
    acts: Acts::Unseen(GAS),
    steps: &[
        step("Wipe panes and equipment with a clean sponge kept for the tank."),
        step("Break the surface for the day."),
    ],
    proof: gone(&sign::BUBBLES_ON_PANES, "Tomorrow.", 12.0),
    ..Change::BLANK
};

/// So that it does not come back.
pub(super) static FIT_LEVEL_ALARM: Change = Change {
    id: "fit-level-alarm",
    title: "Fit a level alarm or a top-up",
    what: "The return chamber shows evaporation first; an alarm sees it while you do not.",
    phase: Phase::Flow,
    eases: &[&fault::RETURN_CHAMBER_LOW],
    euros: 30.0,
    minutes: 30.0,
    acts: Acts::Unseen(WATCHING),
    buys: &[buy("Level alarm", one, Measure::Pieces)],
    steps: &[careful(
        "Set its float a hand's breadth above the pump's intake; test it by hand.",
        DRY_HANDS,
    )],
    proof: gone(&sign::RETURN_CHAMBER_LOW, "In a week.", 24.0),
    ..Change::BLANK
};

pub(super) static TRIM_OUTLET: Change = Change {
    id: "trim-outlet",
    title: "Set the outlet two centimetres lower, or aim it flatter",
    what: "It still breaks the surface, and pulls no air down.",
    phase: Phase::Flow,
    cures: &[&fault::OUTLET_DRAWS_AIR],
    minutes: 5.0,
    acts: Acts::Unseen(AIR),
    steps: &[careful(
        "Lower or turn it until the funnel is gone and the surface still dances.",
        "Unplug before hands go in.",
    )],
    look_after: "The surface: if it is a mirror now, it was better before.",
    proof: gone(&sign::OUTLET_DRAWS_AIR, "At once.", 0.0),
    ..Change::BLANK
};

pub(super) static RESEAT_MOTOR_COVER: Change = Change {
    id: "reseat-motor-cover",
    title: "Reseat the motor cover",
    what: "Turned home and locked it is dry.",
    phase: Phase::Flow,
    cures: &[&fault::MOTOR_COVER_LEAK],
    minutes: 10.0,
    acts: Acts::Unseen(LOOSE),
    steps: &[
        careful(
            "Unplug, shut both taps. Cover off, seal wiped and lightly greased, cover on and turned until it locks.",
            OPENING,
        ),
        careful(
            "Dry it, lay paper below, plug in, look after an hour.",
            DRY_HANDS,
        )
        .lasting(60),
    ],
    proof: DRY_AGAIN,
    if_not: "Look at the seal itself, then for a crack.",
    ..Change::BLANK
};

pub(super) static CHANGE_SOCK: Change = Change {
    id: "change-sock",
    title: "Change the sock, and again every three or four days",
    what: "Few do it that often; a full sock only lets dirt by.",
    phase: Phase::Clean,
    cures: &[&fault::SOCK_BYPASS],
    euros: 3.0,
    minutes: 5.0,
    logs: Some(("sock-changed", None)),
    acts: Acts::Cleans,
    buys: &[buy("Filter sock", one, Measure::Pieces)],
    steps: &[step(
        "Swap it for a clean one; turn the full one inside out and wash it without soap.",
    )],
    proof: gone(&sign::SOCK_OVERFLOWING, "After two days.", 48.0),
    ..Change::BLANK
};

/// For those who will not.
pub(super) static OPEN_SOCK: Change = Change {
    id: "open-sock",
    title: "Open the bottom of the sock",
    what: "It holds carbon or an organic pad only; dirt goes to the next chamber, which you do clean.",
    phase: Phase::Clean,
    eases: &[&fault::SOCK_BYPASS],
    minutes: 10.0,
    acts: Acts::Unseen(SOCK),
    steps: &[step(
        "Cut the bottom open. Never ammonia or nitrate media in it: dirt would bury them.",
    )],
    proof: gone(&sign::SOCK_OVERFLOWING, "After two days.", 48.0),
    ..Change::BLANK
};

pub(super) static MARK_MAX_LEVEL: Change = Change {
    id: "mark-max-level",
    title: "Mark the highest running level of the sump",
    what: "What drains back must fit above it.",
    phase: Phase::Flow,
    cures: &[&fault::SUMP_OVERFULL],
    minutes: 15.0,
    acts: Acts::Makes(makes::sumps_at_their_mark),
    steps: &[
        careful(
            "Take water out until the running level is low. Switch the return off and watch the sump rise.",
            "Stay beside it; be ready to switch on again.",
        ),
        step(
            "When it rests with a hand's breadth to spare, switch on, let it settle, and draw a line at the running level.",
        ),
    ],
    proof: gone(&sign::SUMP_LEVEL_HIGH, "At the next power-off test.", 1.0),
    ..Change::BLANK
};

pub(super) static FRY_GUARD: Change = Change {
    id: "fry-guard",
    title: "Cover the intake with a fine mesh",
    what: "Fry and shrimp stay out; the mesh is wiped every few days.",
    phase: Phase::Clean,
    eases: &[&fault::ANIMALS_DRAWN_IN],
    euros: 4.0,
    minutes: 10.0,
    acts: Acts::Unseen(ANIMALS),
    buys: &[buy(
        "Fine sponge or mesh for the intake",
        one,
        Measure::Pieces,
    )],
    steps: &[careful(
        "Filter off, mesh over the strainer with a large surface, fixed with a cable tie, filter on.",
        "Unplug before hands go in.",
    )],
    proof: gone(&sign::ANIMALS_IN_FILTER, "At the next opening.", 24.0),
    ..Change::BLANK
};

pub(super) static ACCEPT: Change = Change {
    id: "accept",
    title: "Leave it: it is harmless",
    what: "Nothing suffers from it, and every cure would cost more than it brings.",
    phase: Phase::Routine,
    cures: &[&fault::PLANT_GAS_AT_INTAKE, &water::TANNIN_TINT],
    eases: &[&fault::OUTLET_DRAWS_AIR],
    minutes: 1.0,
    acts: Acts::Unseen(WATCHING),
    steps: &[step(
        "Note that you have seen it, so that nobody looks for it again.",
    )],
    proof: gone(&sign::FLOW_WEAK, "In a week: the flow is as it was.", 24.0),
    ..Change::BLANK
};
