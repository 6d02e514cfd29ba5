//! Thermometers.

use super::{Kit, Shows, say};
use crate::tank::Analyte;

/// A glass or simple digital thermometer.
pub(super) static GLASS: Kit = Kit {
    id: "thermometer",
    title: "Thermometer",
    analyte: Analyte::TEMPERATURE,
    spread: 0.4,
    shows: Shows::Number,
    steps: &[
        say("Hold it in the open water, away from the heater, until it stands still."),
        say("If it surprises you, try a second one."),
    ],
};
