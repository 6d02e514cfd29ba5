//! Changes of what is dissolved: refills, minerals, chemical media against one substance, bottles.

use super::buys::{Measure, buy, half_litre, one, plants};
use super::makes;
use super::unseen::{BY_THE_PACKET, PLANTS_OVER_WEEKS, POISON};
use super::{
    AMMONIA_THERE, Acts, Block, Change, Disturbs, IN_TREATMENT, Phase, Proof, Wanted, careful,
    is_fresh_water, step,
};
use crate::diagnosis::fault::{biology, current, water as fault};
use crate::diagnosis::finding::{Finding, biology as sign};
use crate::tank::Analyte;

/// Every change of this file.
pub(super) const ALL: &[&Change] = &[
    &BIGGER_CHANGES,
    &SMALL_CHANGES_OFTEN,
    &TREAT_TAP_WATER,
    &PLANTS_OR_DENITRIFY,
    &RAISE_GH,
    &CARBON_SHORT_TERM,
    &PHOSPHATE_MEDIA,
    &COPPER_PAD,
    &COLOUR_PAD,
    &STOP_ADDITIVES,
];

const SIPHON: &str =
    "Heater and pumps off before the level drops. Start the siphon by bulb, never by mouth.";
const LABEL: &str = "Read the label; rinse it first; gloves.";

const fn gone(finding: &'static Finding, when: &'static str, after_hours: f64) -> Proof {
    Proof {
        wanted: Wanted::Gone(finding),
        when,
        after_hours,
    }
}

const NITRATE_DOWN: Proof = Proof {
    // 40 mg/L of the ion.
    wanted: Wanted::AtMost(Analyte::NITRATE, 9.0),
    when: "Before the fourth change from now.",
    after_hours: 500.0,
};

static BIGGER_CHANGES: Change = Change {
    id: "bigger-changes",
    title: "Change more water, or more often",
    what: "The peak is tap water plus what is gained between changes over the share changed: twice the share, half the gain.",
    phase: Phase::Routine,
    cures: &[&fault::NITRATE_BUILD_UP],
    euros: 2.0,
    minutes: 40.0,
    acts: Acts::Makes(makes::larger_changes),
    steps: &[
        step(
            "First lower it in steps: a third every second day, three times. Then keep twice the share of before.",
        ),
        careful("Through the bed, into a white bucket.", SIPHON),
        careful(
            "Refill conditioned, within 1 °C.",
            "Where ammonia was read: compare the pH first, a higher one makes it poisonous.",
        ),
    ],
    look_after: "Feed is where it comes from: half the feed halves the gain.",
    proof: NITRATE_DOWN,
    ..Change::BLANK
};

static SMALL_CHANGES_OFTEN: Change = Change {
    id: "small-changes-often",
    title: "Bring it back by many small changes",
    what: "A tenth every second day lets animals that got used to old water follow; one large change would be a shock.",
    phase: Phase::Routine,
    cures: &[&fault::OLD_TANK_DECLINE],
    eases: &[&biology::LOW_ALKALINITY],
    not_while: &[AMMONIA_THERE],
    euros: 4.0,
    minutes: 120.0,
    acts: Acts::Makes(makes::small_changes_often),
    buys: &[buy("Plain conditioner", one, Measure::Pieces)],
    steps: &[
        step("Test ammonia first: it must read zero, since the pH will rise."),
        careful(
            "A tenth every second day for three weeks, through the bed.",
            SIPHON,
        ),
        step("Test pH, hardness and nitrate weekly, in tank and tap."),
    ],
    proof: Proof {
        wanted: Wanted::RisenBy(Analyte::KH, 1.0),
        when: "After three weeks.",
        after_hours: 480.0,
    },
    ..Change::BLANK
};

static TREAT_TAP_WATER: Change = Change {
    id: "treat-tap-water",
    title: "Treat the tap water before it goes in",
    what: "What is bound or filtered out beforehand never reaches the fish.",
    phase: Phase::Alive,
    cures: &[&fault::TAP_WATER_SOURCE],
    euros: 15.0,
    minutes: 30.0,
    acts: Acts::Unseen(POISON),
    buys: &[buy(
        "Conditioner that also binds ammonia",
        one,
        Measure::Pieces,
    )],
    steps: &[
        careful(
            "Against chloramine: a conditioner for the whole volume, an hour before, with aeration.",
            LABEL,
        ),
        step(
            "Against nitrate: a nitrate resin in the refill line, or part of the refill from soft water.",
        ),
        step("Test the treated water before the first refill."),
    ],
    proof: Proof {
        wanted: Wanted::AtMost(Analyte::AMMONIA, 0.1),
        when: "The day after the next refill.",
        after_hours: 20.0,
    },
    ..Change::BLANK
};

static PLANTS_OR_DENITRIFY: Change = Change {
    id: "plants-or-denitrify",
    title: "Let fast plants take the nitrate, best with leaves in the air",
    what: "Plants whose leaves are out of the water take much; so do fast floating ones.",
    phase: Phase::Media,
    eases: &[&fault::NITRATE_BUILD_UP, &fault::PHOSPHATE_ALGAE],
    fits: is_fresh_water,
    euros: 15.0,
    minutes: 30.0,
    acts: Acts::Unseen(PLANTS_OVER_WEEKS),
    buys: &[buy("Plants that grow fast", plants, Measure::Pieces)],
    steps: &[step(
        "Roots into the filter or through the cover; keep a third of the surface free of floating leaves.",
    )],
    look_after: "A surface closed by leaves lets little oxygen in.",
    proof: NITRATE_DOWN,
    ..Change::BLANK
};

static RAISE_GH: Change = Change {
    id: "raise-gh",
    title: "Raise the general hardness, a degree or two a day",
    what: "Calcium and magnesium for moults; unlike carbonate hardness it is not used up by bacteria.",
    phase: Phase::Routine,
    cures: &[&fault::LOW_MINERALS],
    euros: 8.0,
    minutes: 15.0,
    acts: Acts::Unseen(BY_THE_PACKET),
    buys: &[buy("Mineral salt", one, Measure::Pieces)],
    steps: &[
        careful(
            "A mineral salt into the refill, not into the tank: one or two degrees a day (from memory).",
            LABEL,
        ),
        step("Each refill from now on with the same hardness."),
    ],
    proof: Proof {
        wanted: Wanted::RisenBy(Analyte::GH, 1.5),
        when: "In three days.",
        after_hours: 60.0,
    },
    ..Change::BLANK
};

/// One thing, for a while.
static CARBON_SHORT_TERM: Change = Change {
    id: "carbon-short-term",
    title: "Carbon in a bag for two weeks",
    what: "It takes leftover medicine, tint and odour out. Then it has to go: it may give back.",
    phase: Phase::Media,
    disturbs: Disturbs::Filter,
    cures: &[&fault::RESIDUAL_MEDICINE, &biology::COLONY_HURT_BY_MEDICINE],
    eases: &[&fault::TANNIN_TINT, &current::SOAP_CONTAMINATION],
    not_while: &[IN_TREATMENT],
    euros: 8.0,
    minutes: 15.0,
    logs: Some(("carbon", None)),
    acts: Acts::Unseen(POISON),
    buys: &[buy("Carbon, in a bag", half_litre, Measure::Litres)],
    steps: &[
        careful("In a bag, last in the path. Write down the day.", LABEL),
        step("Out after two weeks."),
    ],
    look_after: "It takes plant fertiliser too.",
    proof: gone(
        &sign::PAD_PALE,
        "With a fresh piece of pad, after two weeks.",
        336.0,
    ),
    ..Change::BLANK
};

/// After the feed is right.
static PHOSPHATE_MEDIA: Change = Change {
    id: "phosphate-media",
    title: "A phosphate remover, once feeding is right",
    what: "It binds phosphate until it is full. Feed brings it in again.",
    phase: Phase::Media,
    disturbs: Disturbs::Filter,
    cures: &[&fault::PHOSPHATE_ALGAE],
    not_while: &[IN_TREATMENT],
    euros: 12.0,
    minutes: 20.0,
    logs: Some(("chemical-medium", None)),
    acts: Acts::Unseen(POISON),
    buys: &[buy("Phosphate remover", half_litre, Measure::Litres)],
    steps: &[
        careful(
            "By its label for this much water, last in the path. Write down the day.",
            LABEL,
        ),
        step("Wipe algae off beforehand."),
    ],
    proof: Proof {
        wanted: Wanted::AtMost(Analyte::PHOSPHATE, 0.5),
        when: "After a week.",
        after_hours: 168.0,
    },
    ..Change::BLANK
};

/// Until a test reads zero.
static COPPER_PAD: Change = Change {
    id: "copper-pad",
    title: "A metal-binding pad, and no invertebrates until copper reads zero",
    what: "It takes what is in the water; bed and rock give more of it back for weeks.",
    phase: Phase::Alive,
    disturbs: Disturbs::Filter,
    cures: &[&fault::COPPER],
    not_while: &[IN_TREATMENT],
    euros: 15.0,
    minutes: 30.0,
    logs: Some(("chemical-medium", None)),
    acts: Acts::Unseen(POISON),
    buys: &[buy("Pad that binds copper", one, Measure::Pieces)],
    steps: &[
        step("Shrimp and snails into another tank today."),
        careful(
            "Half of the water out, refill conditioned; then the pad, last in the path.",
            SIPHON,
        ),
        step("Test copper weekly until it reads zero twice."),
    ],
    proof: Proof {
        wanted: Wanted::AtMost(Analyte::COPPER, 0.03),
        when: "After a week.",
        after_hours: 168.0,
    },
    ..Change::BLANK
};

static COLOUR_PAD: Change = Change {
    id: "colour-pad",
    title: "Hang in a colour-changing pad as a clue",
    what: "Its colour after a day and a week hints at copper, organics or a medicine. Beside tests, not in place of them.",
    phase: Phase::Media,
    eases: &[&fault::RESIDUAL_MEDICINE, &fault::COPPER],
    not_while: &[IN_TREATMENT],
    euros: 6.0,
    minutes: 5.0,
    logs: Some(("chemical-medium", None)),
    acts: Acts::Unseen(POISON),
    buys: &[buy("Pad that changes colour", one, Measure::Pieces)],
    steps: &[step(
        "A piece of about 2.5 cm for 40 L; it may float where there is no chamber. Keep a fresh piece to compare.",
    )],
    proof: gone(&sign::PAD_PALE, "After a week.", 168.0),
    ..Change::BLANK
};

static STOP_ADDITIVES: Change = Change {
    id: "stop-additives",
    title: "Stop all additives but the conditioner",
    what: "Then what the kits show is the tank.",
    phase: Phase::Alive,
    cures: &[&fault::OVER_TREATMENT],
    eases: &[&biology::BACTERIAL_BLOOM],
    not_while: &[Block {
        when: IN_TREATMENT.when,
        why: "Finish the course of medicine first, as its label or the vet says.",
    }],
    minutes: 5.0,
    acts: Acts::Unseen(POISON),
    steps: &[step(
        "Put the bottles away. Change a third of the water today and in three days. Test again after a week.",
    )],
    proof: gone(&sign::SEVERAL_ADDITIVES, "After a week.", 168.0),
    ..Change::BLANK
};
