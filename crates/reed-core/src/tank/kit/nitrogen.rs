//! Ammonia and nitrite tests. Values are stored as N; check on the leaflet which form the card shows.

use super::Kit;
use crate::tank::Analyte;

const STEPS: &[&str] = &[
    "Rinse the vial in tank water and fill it to its line.",
    "Add the reagents in their order and wait as the leaflet says.",
    "In daylight, vial against the white of the card: held away from it, it reads too high.",
];

/// Ammonia drops.
pub(super) static AMMONIA_DROPS: Kit =
    Kit { id: "ammonia-drops", title: "Ammonia drop kit", analyte: Analyte::AMMONIA, spread: 0.1, steps: STEPS };

/// Nitrite drops.
pub(super) static NITRITE_DROPS: Kit =
    Kit { id: "nitrite-drops", title: "Nitrite drop kit", analyte: Analyte::NITRITE, spread: 0.03, steps: STEPS };
