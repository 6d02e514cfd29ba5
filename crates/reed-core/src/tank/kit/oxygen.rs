//! Oxygen tests.

use super::{Kit, Shows, Step, say, wait};
use crate::tank::Analyte;

/// Drop kit read against a colour card. Times: common practice, as on such kits; follow the leaflet
/// of your own.
pub(super) static DROP_KIT: Kit = Kit {
    id: "oxygen-drops",
    title: "Oxygen drop kit",
    analyte: Analyte::OXYGEN,
    spread: 0.5,
    shows: Shows::Colour,
    steps: &[
        say(
            "Rinse the vial in tank water, fill it to 5 mL without catching a bubble. Never shake it.",
        ),
        wait("First reagent: add, swirl gently for 20 s.", 20),
        wait("Second reagent: add, close, swirl for 15 s.", 15),
        Step {
            seconds_in_salt: 180,
            ..wait("Let it stand 1 min, in salt water 3 min.", 60)
        },
        wait(
            "Third reagent: drop by drop, swirl 5 s after each; then let it stand 1 min.",
            60,
        ),
        say(
            "In daylight, vial on the white of the card, look straight down. Between two patches, take the value between.",
        ),
    ],
};

/// Electronic meter.
pub(super) static METER: Kit = Kit {
    id: "oxygen-meter",
    title: "Oxygen meter",
    analyte: Analyte::OXYGEN,
    spread: 0.3,
    shows: Shows::Number,
    steps: &[
        say(
            "Calibrate in moist air; tell the meter the altitude and, in salt water, the salinity.",
        ),
        say(
            "Hold the probe in moving water, away from bubbles, until the figure stands still for half a minute.",
        ),
    ],
};
