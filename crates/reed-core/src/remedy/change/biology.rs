//! Changes for the colony: where it lives, what it gets, what hurts it.

use super::buys::{Measure, buy, half_litre, medium_l, one};
use super::makes;
use super::unseen::{ANIMALS, BED, BY_THE_PACKET, CLAIM, DAYS_AHEAD, INTERVAL};
use super::{
    AMMONIA_FIRST, AMMONIA_THERE, Acts, Change, Disturbs, IN_TREATMENT, Phase, Proof, Wanted,
    careful, step,
};
use crate::diagnosis::fault::{biology as fault, bystander, filter, oxygen, water};
use crate::diagnosis::finding::{Finding, biology as sign};
use crate::tank::{Analyte, Conditioner, Purpose, Tank};
use crate::twin::numbers;
use crate::units::Mass;

/// Every change of this file.
pub(super) const ALL: &[&Change] = &[
    &SEED_MATURE_MEDIA,
    &RUN_CYCLE,
    &ADD_BIO_MEDIA,
    &CARTRIDGE_TO_SPONGE,
    &REMOVE_CHEMICAL_MEDIA,
    &REORDER_MEDIA,
    &PLAIN_CONDITIONER,
    &AMMONIA_MEDIA_LAST,
    &RINSE_BEFORE_RESTART,
    &RAISE_KH,
    &LENGTHEN_INTERVAL,
    &STIR_BED_IN_PARTS,
    &THIN_BED,
    &ADD_BURROWERS,
    &MOVE_ANIMALS,
    &FEED_UP,
    &ADD_BACTERIA_PRODUCT,
    &ADD_SLUDGE_EATERS,
];

const SHUT: &str = "Unplug before housings get wet. Both lines shut and seen dry before a canister is parted; it is heavy.";
const SULPHIDE: &str = "Rotten-egg smell is hydrogen sulphide: stop, air the room, move the fish. At high levels one smells nothing. Never dig up an old deep bed in a stocked tank.";

const fn at_zero(when: &'static str, after_hours: f64) -> Proof {
    Proof {
        wanted: Wanted::AtMost(Analyte::NITRITE, 0.1),
        when,
        after_hours,
    }
}

const fn gone(finding: &'static Finding, when: &'static str, after_hours: f64) -> Proof {
    Proof {
        wanted: Wanted::Gone(finding),
        when,
        after_hours,
    }
}

/// The quickest start there is.
static SEED_MATURE_MEDIA: Change = Change {
    id: "seed-mature-media",
    title: "Put mature media from a healthy tank into the filter",
    what: "A piece of sponge from a tank that has run well for months brings the colony with it: about a week instead of five.",
    phase: Phase::Media,
    cures: &[
        &fault::NOT_CYCLED,
        &fault::COLONY_HURT_BY_CLEANING,
        &fault::COLONY_HURT_BY_MEDICINE,
        &fault::COLONY_SUFFOCATED,
    ],
    eases: &[
        &fault::TOO_LITTLE_BIOLOGY,
        &fault::LOAD_JUMP,
        &bystander::GILL_POISONING,
    ],
    minutes: 30.0,
    acts: Acts::Unseen(DAYS_AHEAD),
    steps: &[
        step(
            "Take small pieces from several tanks of your own that are well; carry them wet, within the hour, at tank temperature.",
        ),
        careful(
            "Lay them where the water meets them after the coarse stage.",
            SHUT,
        ),
        step("Feed half for a week. Test ammonia and nitrite daily."),
    ],
    look_after: "Only from tanks without illness; never from a quarantine or treatment tank.",
    proof: at_zero("After a week of daily readings.", 168.0),
    ..Change::BLANK
};

static RUN_CYCLE: Change = Change {
    id: "run-cycle",
    title: "Run the cycle to its end before any more stock",
    what: "Bacteria settle on surfaces in four to six weeks if they get ammonia all along; a day of plain water does nothing.",
    phase: Phase::Media,
    cures: &[&fault::NOT_CYCLED],
    minutes: 90.0,
    euros: 8.0,
    acts: Acts::Unseen(DAYS_AHEAD),
    buys: &[buy(
        "Ammonia source without additives",
        one,
        Measure::Pieces,
    )],
    steps: &[
        step(
            "With animals in it: feed a third, test daily, change a third of the water whenever ammonia or nitrite passes 0.25 mg/L.",
        ),
        step("Without animals: bring ammonia to 2 mg/L and back there whenever it is gone."),
        step(
            "Done when 2 mg/L is gone within a day, nitrite too, and nitrate has risen, with no resin, pad or binder in use.",
        ),
        step("Then change half of the water, leave the filter alone, and add stock in steps."),
    ],
    look_after: "Stalled after five weeks: look for a binder, an adsorbent, low hardness, chlorine or cold before adding bacteria.",
    proof: at_zero("Every second day; done when it stays at zero.", 48.0),
    ..Change::BLANK
};

static ADD_BIO_MEDIA: Change = Change {
    id: "add-bio-media",
    title: "Add a litre or two of porous media or sponge",
    what: "More surface carries more bacteria, a few weeks from now.",
    phase: Phase::Media,
    disturbs: Disturbs::Filter,
    cures: &[&fault::TOO_LITTLE_BIOLOGY],
    euros: 15.0,
    minutes: 40.0,
    acts: Acts::Makes(makes::more_media),
    buys: &[buy("Biological medium", medium_l, Measure::Litres)],
    steps: &[
        step("How much: the tank's page shows the surface it has and the load it has to carry."),
        careful(
            "Rinse new media, put them after the mechanical stage, with room for water between them.",
            SHUT,
        ),
    ],
    look_after: "New media hold air: bubbles for up to a week are normal. Feel the flow before and after.",
    proof: at_zero("After four weeks.", 672.0),
    if_not: "Fewer animals or less feed: room for bacteria is one limit, oxygen and nitrate are others.",
    ..Change::BLANK
};

static CARTRIDGE_TO_SPONGE: Change = Change {
    id: "cartridge-to-sponge",
    title: "Replace the cartridge by a sponge cut to fit",
    what: "A cartridge that is thrown away each month takes its colony with it; a sponge stays for years.",
    phase: Phase::Media,
    disturbs: Disturbs::Colony,
    cures: &[&fault::TOO_LITTLE_BIOLOGY, &fault::COLONY_HURT_BY_CLEANING],
    fits: |tank| {
        if tank
            .filters
            .iter()
            .any(|filter| filter.kind.design().takes_cartridge)
        {
            Ok(())
        } else {
            Err("None of the filters takes a cartridge.")
        }
    },
    euros: 6.0,
    minutes: 20.0,
    acts: Acts::Makes(makes::sponge_for_cartridge),
    buys: &[buy("Sponge, cut to the cartridge", one, Measure::Pieces)],
    steps: &[
        step("Cut a coarse sponge to the slot, a little wider than it."),
        careful(
            "Let the old cartridge hang beside it for a month before it goes.",
            "Unplug the filter first.",
        ),
    ],
    proof: at_zero("After four weeks.", 672.0),
    ..Change::BLANK
};

static REMOVE_CHEMICAL_MEDIA: Change = Change {
    id: "remove-chemical-media",
    title: "Take the chemical medium out",
    what: "What it took is left to the bacteria, which then can grow; and what is spent can give nothing back.",
    phase: Phase::Media,
    disturbs: Disturbs::Filter,
    cures: &[&fault::COLONY_STARVED, &water::EXHAUSTED_CHEMICAL_MEDIA],
    minutes: 15.0,
    logs: Some(("media-out", None)),
    acts: Acts::Makes(makes::no_chemical_media),
    steps: &[
        careful(
            "Take resin, zeolite, pads or old carbon out in two parts, a week apart.",
            SHUT,
        ),
        step(
            "Test ammonia daily, before any new animal. At 0.25 mg/L change a third of the water.",
        ),
    ],
    look_after: "Ammonia may show for some weeks: that is the colony's food.",
    proof: Proof {
        wanted: Wanted::AtMost(Analyte::AMMONIA, 0.1),
        when: "After two days, then daily for two weeks.",
        after_hours: 48.0,
    },
    ..Change::BLANK
};

static REORDER_MEDIA: Change = Change {
    id: "reorder-media",
    title: "Put the media in the order in which the water passes",
    what: "Coarse, medium, fine, biological, chemical last: by the water's way, not by the number of the tray.",
    phase: Phase::Media,
    disturbs: Disturbs::Filter,
    cures: &[&fault::COLONY_STARVED],
    eases: &[&filter::CLOGGED_FINE_MEDIA],
    fits: |tank| {
        if tank.takes_ammonia_before_its_colony() || tank.has_fine_before_coarse() {
            Ok(())
        } else {
            Err("By the tank file the media are in order.")
        }
    },
    minutes: 30.0,
    acts: Acts::Makes(makes::media_in_order),
    steps: &[
        careful("Open the filter, hold all media wet in tank water.", SHUT),
        step(
            "Stack them anew; pads flat over the whole section. The water's way is drawn in the manual.",
        ),
    ],
    look_after: "Feel the flow; bubbles for some hours are normal.",
    proof: at_zero("After two weeks.", 336.0),
    ..Change::BLANK
};

static PLAIN_CONDITIONER: Change = Change {
    id: "plain-conditioner",
    title: "Use a plain conditioner",
    what: "Against chlorine only: whether bound ammonia still feeds the colony is disputed, and kits cannot say.",
    phase: Phase::Routine,
    cures: &[&fault::COLONY_STARVED],
    eases: &[&fault::NOT_CYCLED],
    fits: |tank| {
        if tank.binds_ammonia() && tank.practice.conditioner != Conditioner::BindsAmmonia {
            Err("By the tank file it is a medium in the filter that takes the ammonia.")
        } else {
            Ok(())
        }
    },
    euros: 6.0,
    minutes: 5.0,
    acts: Acts::Unseen(DAYS_AHEAD),
    buys: &[buy("Plain conditioner", one, Measure::Pieces)],
    steps: &[careful(
        "From the next refill on; dose for the water that goes in.",
        "Read the label; gloves.",
    )],
    proof: at_zero("After two weeks.", 336.0),
    ..Change::BLANK
};

static AMMONIA_MEDIA_LAST: Change = Change {
    id: "ammonia-media-last",
    title: "Bridge with an ammonia-taking medium, last in the path",
    what: "It wins hours while the colony grows again. Last, so that the bacteria get their share first.",
    phase: Phase::Alive,
    disturbs: Disturbs::Filter,
    eases: &[
        &fault::COLONY_HURT_BY_CLEANING,
        &fault::COLONY_HURT_BY_MEDICINE,
        &fault::COLONY_SUFFOCATED,
        &bystander::GILL_POISONING,
    ],
    not_while: &[IN_TREATMENT],
    euros: 10.0,
    minutes: 20.0,
    acts: Acts::Unseen(DAYS_AHEAD),
    buys: &[buy("Ammonia-binding medium", half_litre, Measure::Litres)],
    steps: &[
        careful(
            "In a bag after all other media; by the label for this much water.",
            SHUT,
        ),
        step("Write down the day: out again after two weeks at the latest."),
    ],
    look_after: "While it is in, a zero says nothing about the colony.",
    proof: Proof {
        wanted: Wanted::AtMost(Analyte::AMMONIA, 0.1),
        when: "Tomorrow.",
        after_hours: 20.0,
    },
    ..Change::BLANK
};

/// What died in it, out.
static RINSE_BEFORE_RESTART: Change = Change {
    id: "rinse-before-restart",
    title: "Rinse the filter before it runs again",
    what: "After hours without flow its water is without oxygen and full of what died in it: it must not go into the tank.",
    phase: Phase::Clean,
    disturbs: Disturbs::Colony,
    cures: &[&fault::COLONY_SUFFOCATED],
    minutes: 40.0,
    logs: Some(("filter-opened", None)),
    acts: Acts::Cleans,
    steps: &[
        careful(
            "Empty it into a drain, rinse housing and media in tank water.",
            SHUT,
        ),
        step("Fill with tank water, start, and test ammonia daily for a week."),
    ],
    proof: at_zero("Daily for a week.", 168.0),
    ..Change::BLANK
};

static RAISE_KH: Change = Change {
    id: "raise-kh",
    title: "Raise the carbonate hardness by one or two degrees",
    what: "Bacteria and pH hold again above three or four degrees.",
    phase: Phase::Routine,
    cures: &[&fault::LOW_ALKALINITY],
    eases: &[&water::OLD_TANK_DECLINE],
    not_while: &[AMMONIA_THERE],
    blocked_in: &[(
        Purpose::Transport,
        "Raising the hardness of transport water turns its ammonia into poison.",
    )],
    euros: 5.0,
    minutes: 15.0,
    acts: Acts::Unseen(BY_THE_PACKET),
    buys: &[buy("Carbonate hardener", one, Measure::Pieces)],
    steps: &[
        step("Test ammonia first: it must read zero."),
        careful(
            "A hardness salt or crushed coral by its label, for one degree; another tomorrow at the earliest.",
            "Dissolve it in a jug first; read the label.",
        ),
        step("Test weekly at first: it is used up with the feed."),
    ],
    proof: Proof {
        wanted: Wanted::RisenBy(Analyte::KH, 0.8),
        when: "Tomorrow.",
        after_hours: 20.0,
    },
    ..Change::BLANK
};

static LENGTHEN_INTERVAL: Change = Change {
    id: "lengthen-interval",
    title: "Open the filter half as often",
    what: "What each opening shows fits the interval: clean sponges can wait longer.",
    phase: Phase::Routine,
    cures: &[&fault::OVER_SERVICING],
    minutes: 2.0,
    acts: Acts::Unseen(INTERVAL),
    steps: &[step(
        "Set the next opening twice as far off, or when the flow drops by a quarter. Grade each stage then and write it down.",
    )],
    proof: gone(&sign::RECURRING, "After a month.", 672.0),
    ..Change::BLANK
};

/// A hand's breadth a visit.
static STIR_BED_IN_PARTS: Change = Change {
    id: "stir-bed-in-parts",
    title: "Siphon the black bed off, a hand's breadth a visit",
    what: "In small parts, with strong aeration, what is set free is diluted at once.",
    phase: Phase::Clean,
    cures: &[&fault::ANOXIC_BED],
    minutes: 40.0,
    acts: Acts::Unseen(BED),
    steps: &[
        careful("Air stones on and outlet up an hour before.", SULPHIDE).lasting(60),
        careful(
            "Siphon the disturbed sand straight out, a hand's breadth only.",
            "Start the siphon by bulb, never by mouth; gloves and no open cuts.",
        ),
        step("The next part in a week."),
    ],
    look_after: "Watch the fish for two hours.",
    proof: gone(&sign::BED_BLACK, "After the last part.", 336.0),
    ..Change::BLANK
};

static THIN_BED: Change = Change {
    id: "thin-bed",
    title: "Keep the bed at three centimetres or coarser",
    what: "Oxygen reaches all of a thin or coarse bed.",
    phase: Phase::Clean,
    cures: &[&fault::ANOXIC_BED],
    fits: |tank| {
        if tank.bed.depth.as_cm() > 3.0 {
            Ok(())
        } else {
            Err("By the tank file the bed is thin already.")
        }
    },
    minutes: 120.0,
    acts: Acts::Unseen(BED),
    steps: &[careful(
        "Take sand out with each water change over some weeks, never all at once.",
        SULPHIDE,
    )],
    proof: gone(&sign::BED_BLACK, "After the last part.", 336.0),
    ..Change::BLANK
};

static ADD_BURROWERS: Change = Change {
    id: "add-burrowers",
    title: "Keep animals that dig, if they suit this tank",
    what: "Burrowing fish and snails keep the upper bed open.",
    phase: Phase::Looks,
    eases: &[&fault::ANOXIC_BED],
    not_while: &[AMMONIA_THERE],
    euros: 20.0,
    minutes: 60.0,
    acts: Acts::Unseen(ANIMALS),
    buys: &[buy(
        "Burrowing animals that suit the tank",
        one,
        Measure::Pieces,
    )],
    steps: &[step(
        "Only kinds that suit this water and these companions, and only once ammonia and nitrite read zero.",
    )],
    look_after: "More animals eat and breathe: look at the oxygen again.",
    proof: gone(&sign::BED_BLACK, "After two months.", 1_400.0),
    ..Change::BLANK
};

static MOVE_ANIMALS: Change = Change {
    id: "move-animals",
    title: "Move the animals to a tank that is well",
    what: "Where limits cannot be held, other water is the only help.",
    phase: Phase::Alive,
    eases: &[
        &fault::ANOXIC_BED,
        &bystander::GILL_POISONING,
        &fault::NOT_CYCLED,
    ],
    minutes: 60.0,
    acts: Acts::Unseen(ANIMALS),
    steps: &[careful(
        "Float them for a quarter of an hour, add water of the new tank bit by bit, lift them over without their water.",
        "Sick animals never go to healthy ones: a bare tank of their own, and a fish vet. Unplug heaters and pumps before hands go in; a wet net, and a lid on the bucket.",
    ).lasting(15)],
    look_after: "The other tank carries more load now: test it daily for a week.",
    ..Change::BLANK
};

/// So much more is fed to thin animals. From memory.
const FED_UP: f64 = 1.4;

/// Once the water carries it.
static FEED_UP: Change = Change {
    id: "feed-up",
    title: "Feed them up, five days out of seven",
    what: "Good food until bellies are neither hollow nor round, once the bacteria can carry it.",
    phase: Phase::Feed,
    cures: &[&water::UNDERFED],
    not_while: &[AMMONIA_FIRST],
    fits: |tank| {
        let fed_up = Tank {
            feed: Mass::grams(tank.feed.as_grams() * FED_UP),
            ..tank.clone()
        };
        match numbers::capacity_ratio(&fed_up) {
            Some(ratio) if ratio < 1.0 => Err(
                "By the sum of its surfaces the tank could not carry the larger feed: more media first.",
            ),
            _ => Ok(()),
        }
    },
    blocked_in: &[(Purpose::Transport, "Animals travel unfed.")],
    minutes: 5.0,
    acts: Acts::Makes(makes::fed_up),
    steps: &[step(
        "Small portions, each gone within half a minute, several kinds. Test ammonia and nitrite twice in the first week.",
    )],
    look_after: "Look at leftovers on the bed.",
    proof: gone(&sign::THIN_FISH, "After three weeks.", 504.0),
    ..Change::BLANK
};

static ADD_BACTERIA_PRODUCT: Change = Change {
    id: "add-bacteria-product",
    title: "Add a bacteria product (a claim of its sellers)",
    what: "Said to shorten a cycle to one or two weeks, at worst not at all. The model gives it no effect.",
    phase: Phase::Media,
    eases: &[&fault::NOT_CYCLED],
    euros: 12.0,
    minutes: 5.0,
    logs: Some(("bottle", None)),
    acts: Acts::Unseen(CLAIM),
    buys: &[buy("Bottled bacteria", one, Measure::Pieces)],
    steps: &[careful(
        "By its label, onto the media; with good aeration, since they use oxygen.",
        "Liquid ones may cloud the water for days.",
    )],
    proof: at_zero("After two weeks.", 336.0),
    ..Change::BLANK
};

static ADD_SLUDGE_EATERS: Change = Change {
    id: "add-sludge-eaters",
    title: "Add a product against sludge (a claim of its sellers)",
    what: "Said to eat what lies in filter and bed. Decay takes oxygen; siphoning takes none. The model gives it no effect.",
    phase: Phase::Media,
    eases: &[&oxygen::OXYGEN_DEMAND_HIGH],
    euros: 12.0,
    minutes: 5.0,
    acts: Acts::Unseen(CLAIM),
    buys: &[buy("Bottled bacteria", one, Measure::Pieces)],
    steps: &[careful(
        "By its label, with strong aeration.",
        "Not while fish gulp.",
    )],
    ..Change::BLANK
};
