//! Faults of what is dissolved in the water, of the tap, of bottles and of feed. Common practice,
//! no source.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::Strength::{Itself, NearlyAlways, Often, Usually};
use super::{Fault, Precedes, Rate};
use crate::diagnosis::check::readings;
use crate::diagnosis::finding::{biology, computed, current, events, fish, limits, places, upkeep};

/// Every fault of this file.
pub const ALL: &[&Fault] = &[
    &TAP_WATER_SOURCE,
    &NITRATE_BUILD_UP,
    &EXHAUSTED_CHEMICAL_MEDIA,
    &COPPER,
    &TANNIN_TINT,
    &PHOSPHATE_ALGAE,
    &OVER_TREATMENT,
    &TEMPERATURE_SHOCK,
    &LOW_MINERALS,
    &OLD_TANK_DECLINE,
    &RESIDUAL_MEDICINE,
    &UNDERFED,
    &POOR_FOOD,
];

/// It came with the refill.
pub static TAP_WATER_SOURCE: Fault = Fault {
    id: "tap-water-source",
    title: "It comes with the tap water",
    what: "Tap water can hold ammonia (from chloramine) and nitrate: each refill brings them in.",
    rate: Rate::Uncommon,
    signs: &[
        (&limits::TAP_AMMONIA_READ, Usually),
        (&limits::TAP_NITRATE_HIGH, Usually),
        (&limits::NITRATE_HIGH, Often),
        (&computed::NITROGEN_MEASURABLE, Often),
    ],
    events: &[Precedes {
        event: &events::WATER_CHANGED,
        strength: Often,
        window_days: 2.0,
    }],
    settled_by: &[&readings::TAP_AMMONIA, &readings::TAP_NITRATE],
    ..Fault::BLANK
};

pub static NITRATE_BUILD_UP: Fault = Fault {
    id: "nitrate-build-up",
    title: "Nitrate builds up",
    what: "Water changes take out less than the feed brings in: it settles at tap water plus the gain between changes over the share changed.",
    rate: Rate::Common,
    signs: &[
        (&limits::NITRATE_HIGH, NearlyAlways),
        (&computed::NITRATE_PEAK_HIGH, Usually),
        (&biology::NUISANCE_ALGAE, Often),
    ],
    settled_by: &[&readings::NITRATE],
    ..Fault::BLANK
};

pub static EXHAUSTED_CHEMICAL_MEDIA: Fault = Fault {
    id: "exhausted-chemical-media",
    title: "A chemical medium is spent",
    what: "Carbon, resin and pads are full after weeks; what they took may come back.",
    rate: Rate::Uncommon,
    signs: &[
        (&biology::CHEMICAL_MEDIA_OLD, Itself),
        (&biology::TINT_BROWN, Often),
        (&places::SMELL_MUSTY, Often),
        (&computed::NITROGEN_MEASURABLE, Often),
    ],
    seen_by: &[&biology::CHEMICAL_MEDIA_OLD],
    ..Fault::BLANK
};

/// It lingers, however long ago.
pub static COPPER: Fault = Fault {
    id: "copper",
    title: "There is copper in the water",
    what: "From a medicine, a snail killer or new pipes. It settles in bed and rock and kills shrimp and snails years later.",
    rate: Rate::Rare,
    signs: &[
        (&biology::DEATHS_INVERTEBRATES, NearlyAlways),
        (&limits::COPPER_READ, NearlyAlways),
        (&biology::PAD_BLUE, NearlyAlways),
    ],
    events: &[Precedes {
        event: &upkeep::COPPER_USED,
        strength: Usually,
        window_days: 3650.0,
    }],
    settled_by: &[&readings::COPPER],
    seen_by: &[&biology::PAD_BLUE],
    ..Fault::BLANK
};

pub static TANNIN_TINT: Fault = Fault {
    id: "tannin-tint",
    title: "Wood or leaves tint the water",
    what: "Tannins are harmless; many fish like them.",
    rate: Rate::Common,
    signs: &[
        (&biology::TINT_BROWN, NearlyAlways),
        (&biology::PAD_TAN, Usually),
    ],
    seen_by: &[&biology::TINT_BROWN],
    ..Fault::BLANK
};

pub static PHOSPHATE_ALGAE: Fault = Fault {
    id: "phosphate-algae",
    title: "Phosphate feeds the algae",
    what: "It comes with food and with some tap water, and stays until it is taken out.",
    rate: Rate::Uncommon,
    signs: &[
        (&biology::NUISANCE_ALGAE, NearlyAlways),
        (&limits::PHOSPHATE_HIGH, NearlyAlways),
    ],
    settled_by: &[&readings::PHOSPHATE],
    ..Fault::BLANK
};

/// Bottles that need each other.
pub static OVER_TREATMENT: Fault = Fault {
    id: "over-treatment",
    title: "Too many additives at once",
    what: "One bottle is bought for what another did. Nobody knows what they do together, to the kits least of all.",
    rate: Rate::Uncommon,
    signs: &[
        (&biology::SEVERAL_ADDITIVES, Itself),
        (&computed::NITROGEN_MEASURABLE, Often),
    ],
    seen_by: &[&biology::SEVERAL_ADDITIVES],
    ..Fault::BLANK
};

pub static TEMPERATURE_SHOCK: Fault = Fault {
    id: "temperature-shock",
    title: "The temperature jumped",
    what: "A refill that is colder or warmer than the tank stresses fish, or kills them over the next days.",
    rate: Rate::Uncommon,
    signs: &[
        (&fish::PALE_LISTLESS, Usually),
        (&fish::DEATHS_STEADY, Often),
        (&places::SUDDEN_ONSET, Usually),
    ],
    events: &[
        Precedes {
            event: &upkeep::TEMPERATURE_STEP,
            strength: NearlyAlways,
            window_days: 3.0,
        },
        Precedes {
            event: &events::WATER_CHANGED,
            strength: Usually,
            window_days: 1.0,
        },
    ],
    seen_by: &[&upkeep::TEMPERATURE_STEP],
    ..Fault::BLANK
};

pub static LOW_MINERALS: Fault = Fault {
    id: "low-minerals",
    title: "The water holds too few minerals",
    what: "Shrimp and crayfish need calcium and magnesium to moult; soft refills thin them out.",
    rate: Rate::Uncommon,
    signs: &[
        (&limits::GH_LOW, NearlyAlways),
        (&biology::FAILED_MOULTS, Usually),
        (&limits::KH_LOW, Often),
    ],
    settled_by: &[&readings::GH],
    seen_by: &[&biology::FAILED_MOULTS],
    ..Fault::BLANK
};

pub static OLD_TANK_DECLINE: Fault = Fault {
    id: "old-tank-decline",
    title: "The tank has aged away from its tap water",
    what: "Hardness spent, pH low, nitrate high: those that lived through it are used to it, newcomers die.",
    rate: Rate::Uncommon,
    signs: &[
        (&limits::KH_LOW, NearlyAlways),
        (&limits::PH_FAR_BELOW_TAP, NearlyAlways),
        (&limits::NITRATE_HIGH, NearlyAlways),
        (&biology::NEWCOMERS_DIE, NearlyAlways),
    ],
    settled_by: &[&readings::KH, &readings::TAP_PH],
    seen_by: &[&biology::NEWCOMERS_DIE],
    ..Fault::BLANK
};

pub static RESIDUAL_MEDICINE: Fault = Fault {
    id: "residual-medicine",
    title: "Medicine is left in the water",
    what: "What was not taken out with carbon goes on working, on shrimp and snails first.",
    rate: Rate::Uncommon,
    signs: &[
        (&biology::DEATHS_INVERTEBRATES, Usually),
        (&biology::PAD_PALE, Usually),
    ],
    events: &[Precedes {
        event: &upkeep::MEDICATED,
        strength: NearlyAlways,
        window_days: 60.0,
    }],
    seen_by: &[&upkeep::MEDICATED, &biology::PAD_PALE],
    ..Fault::BLANK
};

pub static UNDERFED: Fault = Fault {
    id: "underfed",
    title: "They get too little to eat",
    what: "Fed less and less for the water's sake, until bellies are hollow.",
    rate: Rate::Uncommon,
    signs: &[
        (&biology::THIN_FISH, NearlyAlways),
        (&computed::FEED_BELOW_NEED, NearlyAlways),
        (&fish::PALE_LISTLESS, Often),
    ],
    against: &[&computed::NITROGEN_MEASURABLE],
    seen_by: &[&biology::THIN_FISH],
    ..Fault::BLANK
};

/// The second pillar beside water.
pub static POOR_FOOD: Fault = Fault {
    id: "poor-food",
    title: "The food is poor",
    what: "Old or one-sided food wears fish down in the best of water.",
    rate: Rate::Uncommon,
    signs: &[
        (&biology::FOOD_POOR, NearlyAlways),
        (&fish::PALE_LISTLESS, Usually),
        (&biology::THIN_FISH, Often),
        (&biology::DISEASE_SIGNS, Often),
        (&current::OILY_FOOD, Often),
    ],
    events: &[Precedes {
        event: &upkeep::FOOD_CHANGED,
        strength: Often,
        window_days: 60.0,
    }],
    seen_by: &[&biology::FOOD_POOR],
    ..Fault::BLANK
};
