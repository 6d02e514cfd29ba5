//! What surface, outlet, water and bed show.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::{Finding, Kind, Place};

/// Every finding of this file, in the order in which they are asked.
pub const ALL: &[&Finding] = &[
    &SURFACE_FLAT,
    &SURFACE_FILM,
    &OUTLET_UNDER_SURFACE,
    &OUTLET_OFF_ITS_MARK,
    &SUDDEN_ONSET,
    &MUCK_EVERYWHERE,
    &SMELL_MUSTY,
    &WASTE_FOUND,
    &SAMPLE_PH_RISES,
    &CHLORINE_STRIP_COLOURS,
];

const fn sign(
    place: Place,
    id: &'static str,
    says: &'static str,
    says_not: &'static str,
    asks: &'static str,
    leak: f64,
) -> Finding {
    Finding {
        id,
        place,
        says,
        says_not,
        asks,
        leak,
        kind: Kind::Sign,
        look: None,
    }
}

/// The cheapest strong clue there is.
pub static SURFACE_FLAT: Finding = sign(
    Place::Surface,
    "surface-flat",
    "The surface is a mirror",
    "The surface moves",
    "Look flat across the surface: is it a mirror, with hardly a ripple?",
    0.02,
);
/// A film hinders gas and damps ripples.
pub static SURFACE_FILM: Finding = sign(
    Place::Surface,
    "surface-film",
    "An oily film lies on the surface",
    "The surface is clear",
    "Look along the surface against the light: is there an oily film?",
    0.02,
);
/// A submerged outlet may be meant so.
pub static OUTLET_UNDER_SURFACE: Finding = sign(
    Place::Outlet,
    "outlet-under-surface",
    "The outlet blows under the surface",
    "The outlet reaches the surface",
    "Does the outlet blow below the surface without stirring it?",
    0.15,
);
pub static OUTLET_OFF_ITS_MARK: Finding = sign(
    Place::Outlet,
    "outlet-off-its-mark",
    "The outlet sits lower or turned, against its mark or a photo",
    "The outlet sits where it always sat",
    "Compare the outlet with its mark or an old photo: does it sit lower, or point elsewhere?",
    0.02,
);
pub static SUDDEN_ONSET: Finding = sign(
    Place::Event,
    "sudden-onset",
    "It came within a day",
    "It came slowly",
    "Did it come suddenly, within a day?",
    0.05,
);
pub static MUCK_EVERYWHERE: Finding = sign(
    Place::Bed,
    "muck-everywhere",
    "Muck lies all over the bed",
    "The bed is clean",
    "Does muck lie all over the bed?",
    0.1,
);
pub static SMELL_MUSTY: Finding = sign(
    Place::Water,
    "smell-musty",
    "The water smells musty",
    "The water smells fresh",
    "Does the water smell musty or foul?",
    0.02,
);
pub static WASTE_FOUND: Finding = sign(
    Place::Bed,
    "waste-or-carcass-found",
    "Something rotting was found",
    "Nothing rotting was found",
    "Lift rocks and plants gently, look behind the filter, count the animals: is something rotting, or someone missing?",
    0.02,
);
pub static SAMPLE_PH_RISES: Finding = sign(
    Place::Water,
    "sample-ph-rises",
    "Bubbling a sample with room air raised its pH by 1.5 or more",
    "Bubbling a sample hardly changed its pH",
    "Bubble a glass of tank water with room air for an hour: does its pH rise by 1.5 or more?",
    0.02,
);
pub static CHLORINE_STRIP_COLOURS: Finding = sign(
    Place::Water,
    "chlorine-strip-colours",
    "A chlorine strip shows colour",
    "A chlorine strip stays white",
    "Does a chlorine test strip show colour?",
    0.02,
);
