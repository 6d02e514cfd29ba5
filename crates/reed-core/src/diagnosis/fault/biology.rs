//! Faults of the colony: too young, too small, hurt, starved. Common practice, no source.
//!
//! What they do to the fish is [`super::bystander::GILL_POISONING`], a fault of its own: so that
//! fish at ease under half a milligram of ammonia at a low pH are no contradiction.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::Strength::{Itself, NearlyAlways, Often, Seldom, Usually};
use super::bystander::GILL_POISONING;
use super::{Fault, Precedes, Rate};
use crate::diagnosis::check::readings;
use crate::diagnosis::finding::{biology, computed, events, filter, fish, limits, places, upkeep};

/// Every fault of this file.
pub const ALL: &[&Fault] = &[
    &NOT_CYCLED,
    &TOO_LITTLE_BIOLOGY,
    &COLONY_HURT_BY_CLEANING,
    &COLONY_HURT_BY_MEDICINE,
    &COLONY_STARVED,
    &COLONY_SUFFOCATED,
    &LOW_ALKALINITY,
    &LOAD_JUMP,
    &OVER_SERVICING,
    &BACTERIAL_BLOOM,
    &ANOXIC_BED,
];

/// Four to six weeks from plain water, and an ammonia source all along.
pub static NOT_CYCLED: Fault = Fault {
    id: "not-cycled",
    title: "The tank is not cycled yet",
    what: "The bacteria that burn ammonia and nitrite take four to six weeks to settle, and need ammonia all that time.",
    rate: Rate::Common,
    signs: &[
        (&computed::NITROGEN_MEASURABLE, NearlyAlways),
        (&computed::TOXIC_NITROGEN, Often),
        (&computed::NITRATE_ABSENT, Usually),
        (&biology::CLOUDY_WHITE, Often),
        (&biology::JAR_STAYS_CLOUDY, Seldom),
        (&fish::IRRITATED, Often),
        (&fish::DEATHS_STEADY, Often),
    ],
    events: &[
        Precedes {
            event: &upkeep::TANK_SET_UP,
            strength: NearlyAlways,
            window_days: 42.0,
        },
        Precedes {
            event: &upkeep::BINDING_CONDITIONER_USED,
            strength: Often,
            window_days: 42.0,
        },
    ],
    settled_by: &[&readings::NITRITE, &readings::AMMONIA],
    seen_by: &[&upkeep::TANK_SET_UP],
    brings: &[&GILL_POISONING],
    ..Fault::BLANK
};

pub static TOO_LITTLE_BIOLOGY: Fault = Fault {
    id: "too-little-biology",
    title: "There is too little room for bacteria",
    what: "Media and surfaces carry fewer bacteria than the feed needs: ammonia or nitrite comes back, and keepers underfeed to cope.",
    rate: Rate::Common,
    signs: &[
        (&computed::NITROGEN_MEASURABLE, Usually),
        (&computed::TOXIC_NITROGEN, Often),
        (&computed::CAPACITY_SHORT, NearlyAlways),
        (&biology::RECURRING, Usually),
        (&biology::BIO_MEDIA_ABSENT, Usually),
        (&biology::CARTRIDGE_ONLY, Often),
        (&biology::THIN_FISH, Often),
        (&fish::IRRITATED, Often),
    ],
    events: &[Precedes {
        event: &events::STOCK_ADDED,
        strength: Often,
        window_days: 60.0,
    }],
    settled_by: &[&readings::NITRITE, &readings::AMMONIA],
    seen_by: &[&biology::BIO_MEDIA_ABSENT],
    brings: &[&GILL_POISONING],
    ..Fault::BLANK
};

/// Under the tap, or thrown away.
pub static COLONY_HURT_BY_CLEANING: Fault = Fault {
    id: "colony-hurt-by-cleaning",
    title: "Cleaning has thrown the bacteria away",
    what: "Chlorine in tap water kills them, and new media start without any. Ammonia shows within days.",
    rate: Rate::Common,
    signs: &[
        (&computed::NITROGEN_MEASURABLE, NearlyAlways),
        (&computed::TOXIC_NITROGEN, Often),
        (&biology::CARTRIDGE_ONLY, Often),
        (&fish::IRRITATED, Often),
    ],
    events: &[
        Precedes {
            event: &upkeep::MEDIA_RINSED_UNDER_TAP,
            strength: Usually,
            window_days: 14.0,
        },
        Precedes {
            event: &upkeep::MEDIA_REPLACED,
            strength: Usually,
            window_days: 14.0,
        },
    ],
    settled_by: &[&readings::NITRITE, &readings::AMMONIA],
    seen_by: &[&upkeep::MEDIA_RINSED_UNDER_TAP],
    brings: &[&GILL_POISONING],
    ..Fault::BLANK
};

pub static COLONY_HURT_BY_MEDICINE: Fault = Fault {
    id: "colony-hurt-by-medicine",
    title: "A medicine has hurt the bacteria",
    what: "Antibiotics, and some other medicines, kill the filter's bacteria too.",
    rate: Rate::Uncommon,
    signs: &[
        (&computed::NITROGEN_MEASURABLE, Usually),
        (&computed::TOXIC_NITROGEN, Often),
        (&fish::IRRITATED, Often),
    ],
    events: &[
        Precedes {
            event: &upkeep::ANTIBIOTIC_USED,
            strength: Usually,
            window_days: 21.0,
        },
        Precedes {
            event: &upkeep::MEDICATED,
            strength: Usually,
            window_days: 21.0,
        },
    ],
    settled_by: &[&readings::NITRITE, &readings::AMMONIA],
    seen_by: &[&upkeep::ANTIBIOTIC_USED, &upkeep::MEDICATED],
    brings: &[&GILL_POISONING],
    ..Fault::BLANK
};

pub static COLONY_STARVED: Fault = Fault {
    id: "colony-starved",
    title: "Something takes the ammonia before the bacteria get it",
    what: "Resin, zeolite, a pad or a binding conditioner keeps ammonia at zero and the colony small: when it is spent, nothing is there to take over.",
    rate: Rate::Uncommon,
    signs: &[
        // Put in or poured in for a while it does as much in the best of orders, and the tank file
        // does not list it.
        (&computed::MEDIA_ORDER_WRONG, Often),
        (&computed::MASKED_BY_MEDIUM, Often),
        (&biology::NITRATE_FLAT, Usually),
        (&computed::NITRATE_ABSENT, Usually),
        (&biology::CYCLE_STALLED, Usually),
        (&biology::AMMONIA_WITHOUT_MEDIUM, NearlyAlways),
        (&computed::NITROGEN_MEASURABLE, Often),
        (&places::SUDDEN_ONSET, Often),
    ],
    events: &[
        Precedes {
            event: &upkeep::BINDING_CONDITIONER_USED,
            strength: Often,
            window_days: 42.0,
        },
        Precedes {
            event: &upkeep::CHEMICAL_MEDIA_ADDED,
            strength: Often,
            window_days: 90.0,
        },
    ],
    seen_by: &[&biology::AMMONIA_WITHOUT_MEDIUM],
    brings: &[&GILL_POISONING],
    ..Fault::BLANK
};

pub static COLONY_SUFFOCATED: Fault = Fault {
    id: "colony-suffocated",
    title: "The bacteria had no oxygen",
    what: "In a filter that stands still they use up the oxygen within hours, and die.",
    rate: Rate::Uncommon,
    signs: &[
        (&computed::NITROGEN_MEASURABLE, Usually),
        (&computed::TOXIC_NITROGEN, Often),
        (&filter::LID_LIFTED, Often),
    ],
    events: &[
        Precedes {
            event: &upkeep::PUMP_STOPPED,
            strength: NearlyAlways,
            window_days: 7.0,
        },
        Precedes {
            event: &upkeep::LOW_OXYGEN_EPISODE,
            strength: Often,
            window_days: 14.0,
        },
    ],
    settled_by: &[&readings::NITRITE, &readings::AMMONIA],
    seen_by: &[&upkeep::PUMP_STOPPED],
    brings: &[&GILL_POISONING],
    ..Fault::BLANK
};

/// 7.14 mg of calcium carbonate go with each mg of nitrogen.
pub static LOW_ALKALINITY: Fault = Fault {
    id: "low-alkalinity",
    title: "The carbonate hardness is used up",
    what: "Bacteria use it up with every milligram of ammonia; below two or three degrees they falter and the pH falls.",
    rate: Rate::Uncommon,
    signs: &[
        (&limits::KH_LOW, NearlyAlways),
        (&biology::PH_FALLING, NearlyAlways),
        (&computed::NITROGEN_MEASURABLE, Often),
    ],
    settled_by: &[&readings::KH],
    seen_by: &[&biology::PH_FALLING],
    brings: &[&GILL_POISONING],
    ..Fault::BLANK
};

/// More than the colony is used to.
pub static LOAD_JUMP: Fault = Fault {
    id: "load-jump",
    title: "More waste came than the bacteria are used to",
    what: "New animals, a stand-in's hand, a carcass: the colony takes a week or two to grow after it.",
    rate: Rate::Common,
    signs: &[
        (&computed::NITROGEN_MEASURABLE, Usually),
        (&computed::TOXIC_NITROGEN, Often),
        (&biology::CLOUDY_WHITE, Often),
        (&biology::JAR_STAYS_CLOUDY, Seldom),
        (&places::WASTE_FOUND, Often),
    ],
    events: &[
        Precedes {
            event: &events::STOCK_ADDED,
            strength: Often,
            window_days: 14.0,
        },
        Precedes {
            event: &events::FEEDING_RAISED,
            strength: Often,
            window_days: 14.0,
        },
        Precedes {
            event: &upkeep::FED_BY_STAND_IN,
            strength: Often,
            window_days: 14.0,
        },
        Precedes {
            event: &events::ANIMAL_MISSING,
            strength: Often,
            window_days: 14.0,
        },
    ],
    settled_by: &[&readings::NITRITE, &readings::AMMONIA],
    seen_by: &[&upkeep::FED_BY_STAND_IN],
    brings: &[&GILL_POISONING, &BACTERIAL_BLOOM],
    ..Fault::BLANK
};

pub static OVER_SERVICING: Fault = Fault {
    id: "over-servicing",
    title: "The filter is opened too often",
    what: "Each opening disturbs the colony; a filter whose sponges are hardly dirty gains nothing by it.",
    rate: Rate::Uncommon,
    signs: &[
        (&biology::FILTER_OPENED_OFTEN, Itself),
        (&biology::OPENED_CLEAN, NearlyAlways),
        (&biology::RECURRING, Usually),
        (&computed::NITROGEN_MEASURABLE, Often),
    ],
    seen_by: &[&biology::FILTER_OPENED_OFTEN],
    ..Fault::BLANK
};

/// It feeds on leftovers and uses oxygen.
pub static BACTERIAL_BLOOM: Fault = Fault {
    id: "bacterial-bloom",
    title: "Bacteria bloom in the water",
    what: "They feed on leftovers or on a bottle's food, cloud the water and use its oxygen. It passes within days.",
    rate: Rate::Uncommon,
    signs: &[
        (&biology::CLOUDY_WHITE, NearlyAlways),
        (&biology::JAR_STAYS_CLOUDY, NearlyAlways),
    ],
    events: &[
        Precedes {
            event: &upkeep::TANK_SET_UP,
            strength: Often,
            window_days: 42.0,
        },
        Precedes {
            event: &upkeep::BACTERIA_DOSED,
            strength: Often,
            window_days: 14.0,
        },
        Precedes {
            event: &events::FEEDING_RAISED,
            strength: Often,
            window_days: 14.0,
        },
    ],
    seen_by: &[&biology::JAR_STAYS_CLOUDY],
    ..Fault::BLANK
};

pub static ANOXIC_BED: Fault = Fault {
    id: "anoxic-bed",
    title: "The bed has gone without oxygen",
    what: "Deep fine sand that nobody moves turns black and can give off hydrogen sulphide when it is disturbed.",
    rate: Rate::Uncommon,
    signs: &[
        (&biology::BED_BLACK, Itself),
        (&biology::SMELL_ROTTEN_EGG, Usually),
        (&computed::BED_DEEP_FINE, Usually),
        (&places::SMELL_MUSTY, Often),
        (&fish::DEATHS_STEADY, Often),
    ],
    seen_by: &[&biology::BED_BLACK],
    ..Fault::BLANK
};
