//! The same kits with tap water: what comes in with every refill.

use super::{Kit, acidity, nitrogen, say};
use crate::tank::Analyte;

/// Ammonia of the tap; chloramine shows as ammonia too.
pub(super) static AMMONIA: Kit = Kit {
    id: "tap-ammonia-drops",
    title: "Tap water, ammonia drops",
    analyte: Analyte::TAP_AMMONIA,
    ..nitrogen::AMMONIA_DROPS
};

/// Nitrate of the tap.
pub(super) static NITRATE: Kit = Kit {
    id: "tap-nitrate-drops",
    title: "Tap water, nitrate drops",
    analyte: Analyte::TAP_NITRATE,
    ..nitrogen::NITRATE_DROPS
};

/// pH of the tap, after standing a night: fresh tap water holds carbon dioxide of its own.
pub(super) static PH: Kit = Kit {
    id: "tap-ph-drops",
    title: "Tap water, pH drops",
    analyte: Analyte::TAP_PH,
    steps: &[
        say("Let a glass of tap water stand for a night."),
        say("Then as with tank water, against the white of the card."),
    ],
    ..acidity::PH_DROPS
};

/// Carbonate hardness of the tap.
pub(super) static KH: Kit = Kit {
    id: "tap-kh-drops",
    title: "Tap water, KH drops",
    analyte: Analyte::TAP_KH,
    ..acidity::KH_DROPS
};

/// General hardness of the tap.
pub(super) static GH: Kit = Kit {
    id: "tap-gh-drops",
    title: "Tap water, GH drops",
    analyte: Analyte::TAP_GH,
    ..acidity::GH_DROPS
};
