//! Phosphate and copper.

use super::{Kit, Shows, Step, say};
use crate::tank::Analyte;

const STEPS: &[Step] = &[
    say("Rinse the vial in tank water and fill it to its line."),
    say("Add the reagents in their order and wait as the leaflet says."),
    say("In daylight, look down through the vial on the white of the card; low values are pale."),
];

/// Phosphate drops.
pub(super) static PHOSPHATE_DROPS: Kit = Kit {
    id: "phosphate-drops",
    title: "Phosphate drop kit",
    analyte: Analyte::PHOSPHATE,
    spread: 0.15,
    shows: Shows::Colour,
    steps: STEPS,
};

/// Copper drops.
pub(super) static COPPER_DROPS: Kit = Kit {
    id: "copper-drops",
    title: "Copper drop kit",
    analyte: Analyte::COPPER,
    spread: 0.04,
    shows: Shows::Colour,
    steps: STEPS,
};
