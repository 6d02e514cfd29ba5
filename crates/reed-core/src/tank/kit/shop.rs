//! What a shop or a laboratory reads of a sample: numbers that are taken over as they stand on the
//! slip. Spreads are from memory.

use super::{Kit, Shows, Step, say};
use crate::tank::Analyte;

const STEPS: &[Step] = &[
    say(
        "A clean bottle without soap, rinsed three times in tank water, filled to the brim under water and closed there.",
    ),
    say("Bring it cool and dark, within some hours: ammonia and pH change in the bottle."),
    say("Enter the number with the unit of the slip, as of when the sample was taken."),
];

const fn shop(
    id: &'static str,
    title: &'static str,
    analyte: &'static Analyte,
    spread: f64,
) -> Kit {
    Kit {
        id,
        title,
        analyte,
        spread,
        shows: Shows::Number,
        steps: STEPS,
    }
}

/// Ammonia of a sample.
pub(super) static AMMONIA: Kit = shop(
    "shop-ammonia",
    "Ammonia, by a shop's analysis",
    Analyte::AMMONIA,
    0.05,
);

/// Nitrite of a sample.
pub(super) static NITRITE: Kit = shop(
    "shop-nitrite",
    "Nitrite, by a shop's analysis",
    Analyte::NITRITE,
    0.02,
);

/// Nitrate of a sample.
pub(super) static NITRATE: Kit = shop(
    "shop-nitrate",
    "Nitrate, by a shop's analysis",
    Analyte::NITRATE,
    0.7,
);

/// pH of a sample.
pub(super) static PH: Kit = shop("shop-ph", "pH, by a shop's analysis", Analyte::PH, 0.15);

/// Carbonate hardness of a sample.
pub(super) static KH: Kit = shop(
    "shop-kh",
    "Carbonate hardness, by a shop's analysis",
    Analyte::KH,
    0.3,
);

/// General hardness of a sample.
pub(super) static GH: Kit = shop(
    "shop-gh",
    "General hardness, by a shop's analysis",
    Analyte::GH,
    0.4,
);

/// Phosphate of a sample.
pub(super) static PHOSPHATE: Kit = shop(
    "shop-phosphate",
    "Phosphate, by a shop's analysis",
    Analyte::PHOSPHATE,
    0.05,
);

/// Copper of a sample.
pub(super) static COPPER: Kit = shop(
    "shop-copper",
    "Copper, by a shop's analysis",
    Analyte::COPPER,
    0.02,
);
