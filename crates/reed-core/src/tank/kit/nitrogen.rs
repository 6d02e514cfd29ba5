//! Ammonia, nitrite and nitrate tests. Values are stored as N; check on the leaflet which form the
//! card shows.

use super::{Kit, Shows, Step, say, wait};
use crate::tank::Analyte;

const STEPS: &[Step] = &[
    say("Rinse the vial in tank water and fill it to its line."),
    wait(
        "Add the reagents in their order and wait as the leaflet says: some ask for 5, some for 20 minutes.",
        300,
    ),
    say("In daylight, vial against the white of the card: held away from it, it reads too high."),
];

/// Ammonia drops.
pub(super) static AMMONIA_DROPS: Kit = Kit {
    id: "ammonia-drops",
    title: "Ammonia drop kit",
    analyte: Analyte::AMMONIA,
    spread: 0.1,
    shows: Shows::Colour,
    steps: STEPS,
};

/// Nitrite drops.
pub(super) static NITRITE_DROPS: Kit = Kit {
    id: "nitrite-drops",
    title: "Nitrite drop kit",
    analyte: Analyte::NITRITE,
    spread: 0.03,
    shows: Shows::Colour,
    steps: STEPS,
};

/// Nitrate drops. They are the coarsest of the three.
pub(super) static NITRATE_DROPS: Kit = Kit {
    id: "nitrate-drops",
    title: "Nitrate drop kit",
    analyte: Analyte::NITRATE,
    spread: 1.5,
    shows: Shows::Colour,
    steps: &[
        say("Rinse the vial in tank water and fill it to its line."),
        wait("Shake the reagents hard, half a minute each.", 30),
        wait(
            "Shake the vial as long as the leaflet says: too little reads too low.",
            60,
        ),
        wait("Let it stand.", 300),
        say("In daylight, vial against the white of the card."),
    ],
};
