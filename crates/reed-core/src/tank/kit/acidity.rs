//! pH and carbonate hardness.

use super::Kit;
use crate::tank::Analyte;

/// pH drops with a colour card.
pub(super) static PH_DROPS: Kit = Kit {
    id: "ph-drops",
    title: "pH drop kit",
    analyte: Analyte::PH,
    spread: 0.2,
    steps: &["Fill the vial to its line, add the drops, swirl.", "In daylight, vial against the white of the card."],
};

/// Carbonate hardness by counting drops.
pub(super) static KH_DROPS: Kit = Kit {
    id: "kh-drops",
    title: "KH drop kit",
    analyte: Analyte::KH,
    spread: 0.5,
    steps: &["Fill the vial to its line.", "Add drop by drop, swirl after each, count until the colour turns."],
};
