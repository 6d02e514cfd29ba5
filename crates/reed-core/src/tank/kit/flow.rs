//! Flow, with a bucket and a watch.

use super::{Kit, Shows, say};
use crate::tank::Analyte;

/// Bucket test. Spread: two seconds in some forty.
pub(super) static BUCKET: Kit = Kit {
    id: "bucket",
    title: "Bucket and watch",
    analyte: Analyte::FLOW,
    spread: 30.0,
    shows: Shows::Number,
    steps: &[
        say(
            "Hold the outlet's end into a bucket with a mark at a known volume, at the height at which it usually sits.",
        ),
        say(
            "Time how long it takes to fill, three times; litres × 3600 / seconds is litres per hour. Enter the mean.",
        ),
        say("With several filters, add them up. Pour the water back slowly."),
    ],
};
