//! Readings against a limit, and what the tank's own numbers say. Limits are from memory unless a
//! card names a source.
//!
//! Much nitrate is a build-up of nitrate: what is a fault by its definition is seldom beyond its
//! limit without one.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::{Finding, Kind, Place};
use crate::tank::Analyte;
use crate::units::masses::NITRATE_PER_NITROGEN;

/// A reading against a limit.
#[derive(Clone, Copy, Debug)]
pub struct Limit {
    /// What is read.
    pub analyte: &'static Analyte,
    /// Taken off it, where the difference counts.
    pub less: Option<&'static Analyte>,
    /// It is so above the limit; else below.
    pub above: bool,
    /// The limit, in the analyte's unit.
    pub value: f64,
}

/// Declares findings that are readings against a limit.
macro_rules! limits {
    ($($(#[$doc:meta])* $name:ident = $id:literal, $analyte:ident $(- $less:ident)?, $above:ident $value:expr, leak $leak:literal;
        $says:literal, not $not:literal;)+) => {
        /// Every finding of this file.
        pub const ALL: &[&Finding] = &[$(&$name),+];

        $($(#[$doc])*
        pub static $name: Finding = Finding {
            id: $id,
            place: Place::Known,
            says: $says,
            says_not: $not,
            asks: "",
            leak: $leak,
            kind: Kind::Read(&Limit {
                analyte: Analyte::$analyte,
                less: limits!(@less $($less)?),
                above: limits!(@$above),
                value: $value,
            }),
            look: None,
        };)+
    };
    (@less) => { None };
    (@less $less:ident) => { Some(Analyte::$less) };
    (@above) => { true };
    (@below) => { false };
}

limits! {
    /// 40 mg/L of the ion, common practice.
    NITRATE_HIGH = "nitrate-high", NITRATE, above (40.0 / NITRATE_PER_NITROGEN), leak 0.01; "Nitrate is above the usual limit", not "Nitrate is below the usual limit";
    KH_LOW = "kh-low", KH, below 3.0, leak 0.015; "The carbonate hardness is below 3 dKH", not "The carbonate hardness is above 3 dKH";
    /// A whole unit, and as much.
    PH_FAR_BELOW_TAP = "ph-far-below-tap", TAP_PH - PH, above 0.8, leak 0.02; "The tank's pH is far below the tap's", not "The tank's pH is near the tap's";
    GH_LOW = "gh-low", GH, below 4.0, leak 0.015; "The general hardness is below 4 dGH", not "The general hardness is above 4 dGH";
    PHOSPHATE_HIGH = "phosphate-high", PHOSPHATE, above 1.0, leak 0.05; "Phosphate is above 1 mg/L", not "Phosphate is below 1 mg/L";
    COPPER_READ = "copper-read", COPPER, above 0.05, leak 0.01; "There is copper in the water", not "There is no copper in the water";
    TAP_AMMONIA_READ = "tap-ammonia-read", TAP_AMMONIA, above 0.2, leak 0.02; "The tap water holds ammonia", not "The tap water holds no ammonia";
    /// 20 mg/L of the ion.
    TAP_NITRATE_HIGH = "tap-nitrate-high", TAP_NITRATE, above (20.0 / NITRATE_PER_NITROGEN), leak 0.05; "The tap water holds much nitrate", not "The tap water holds little nitrate";
}
