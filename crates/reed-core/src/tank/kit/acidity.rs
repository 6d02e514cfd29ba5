//! pH and hardness.

use super::{Kit, Shows, say};
use crate::tank::Analyte;

/// pH drops with a colour card.
pub(super) static PH_DROPS: Kit = Kit {
    id: "ph-drops",
    title: "pH drop kit",
    analyte: Analyte::PH,
    spread: 0.2,
    shows: Shows::Colour,
    steps: &[
        say("Fill the vial to its line, add the drops, swirl."),
        say("In daylight, vial against the white of the card."),
    ],
};

/// Carbonate hardness by counting drops.
pub(super) static KH_DROPS: Kit = Kit {
    id: "kh-drops",
    title: "KH drop kit",
    analyte: Analyte::KH,
    spread: 0.5,
    shows: Shows::Drops,
    steps: &[
        say("Fill the vial to its line."),
        say("Add drop by drop, swirl after each, count until the colour turns."),
    ],
};

/// General hardness by counting drops.
pub(super) static GH_DROPS: Kit = Kit {
    id: "gh-drops",
    title: "GH drop kit",
    analyte: Analyte::GH,
    spread: 0.7,
    shows: Shows::Drops,
    steps: KH_DROPS.steps,
};
