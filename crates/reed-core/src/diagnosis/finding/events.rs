//! What happened, and how often such a thing happens in an ordinary tank.
//!
//! An event multiplies the prior odds of each fault that follows it, so that faults which share an
//! event do not explain each other away; how much, by its age, is in `evidence::happened`.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::{Finding, Kind, Place};

/// Every finding of this file, in the order in which they are asked.
pub const ALL: &[&Finding] = &[
    &AIR_SOURCE_STOPPED,
    &EQUIPMENT_MOVED,
    &STOCK_ADDED,
    &FEEDING_RAISED,
    &ANIMAL_MISSING,
    &WATER_CHANGED,
    &CONDITIONER_FORGOTTEN,
];

const fn event(
    id: &'static str,
    says: &'static str,
    says_not: &'static str,
    asks: &'static str,
    usual_days: f64,
) -> Finding {
    Finding {
        id,
        place: Place::Event,
        says,
        says_not,
        asks,
        leak: 0.03,
        kind: Kind::Event { usual_days },
        look: None,
    }
}

/// How many such events an ordinary tank sees in a window of so many days, on average.
pub fn ordinarily_within(finding: &Finding, usual_days: f64, window_days: f64) -> f64 {
    // A case is often opened over some work on the tank: so often what happened is fresh, however
    // rare. Water changes most.
    let floor = if finding == &WATER_CHANGED {
        0.1
    } else {
        finding.leak
    };
    (window_days / usual_days).max(floor)
}

/// Everything that breaks the surface counts: air pump, stone, hang-on-back lip, wave maker.
pub static AIR_SOURCE_STOPPED: Finding = event(
    "air-source-stopped",
    "An air pump, stone or whatever breaks the surface has stopped",
    "Whatever breaks the surface is running",
    "Has an air pump, air stone, overflow or anything else that breaks the surface stopped or weakened?",
    180.0,
);
pub static EQUIPMENT_MOVED: Finding = event(
    "equipment-moved",
    "Filter or outlet had been moved or cleaned",
    "Nothing had been moved",
    "Has the filter or its outlet been moved, cleaned or knocked?",
    60.0,
);
pub static STOCK_ADDED: Finding = event(
    "stock-added",
    "Animals had been added",
    "No animals had been added",
    "Have animals been added?",
    90.0,
);
pub static FEEDING_RAISED: Finding = event(
    "feeding-raised",
    "More had been fed",
    "Feeding was as usual",
    "Has more been fed than usual, by you or a stand-in?",
    60.0,
);
pub static ANIMAL_MISSING: Finding = event(
    "animal-missing",
    "An animal is missing",
    "Nobody is missing",
    "Is an animal missing?",
    90.0,
);
pub static WATER_CHANGED: Finding = event(
    "water-changed",
    "Water had been changed",
    "No water had been changed",
    "Has water been changed?",
    7.0,
);
pub static CONDITIONER_FORGOTTEN: Finding = event(
    "conditioner-forgotten",
    "Tap water went in without conditioner",
    "The refill was conditioned",
    "Did tap water go in without conditioner, or with too little?",
    60.0,
);
