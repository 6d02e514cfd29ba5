//! Levels that something read should not pass, each with what it means: one place for every chart
//! and sentence.

use crate::tank::{Analyte, Tank};
use crate::twin::oxygen_held_mg_l;
use crate::units::masses::NITRATE_PER_NITROGEN;
use crate::water::chemistry::NITRITE_LIMIT_MG_L;

use super::ahead::cycling::LEAST_DKH;

/// A level.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Limit {
    /// What it means, before its number: “stay under”.
    pub words: &'static str,
    /// Where it lies, in the first unit of what is read.
    pub value: f64,
    /// It is not to fall below it; else not to rise above it.
    pub is_floor: bool,
}

impl Limit {
    /// The level for something that is read in this tank; none where there is none that holds
    /// without knowing more, such as for ammonia, which harms by pH.
    pub fn of(analyte: &Analyte, tank: &Tank) -> Option<Self> {
        let limits = tank.limits();
        let (words, value, is_floor) = if *analyte == *Analyte::NITRITE {
            ("act from", NITRITE_LIMIT_MG_L, false)
        } else if *analyte == *Analyte::NITRATE {
            (
                "stay under",
                limits.nitrate_ion_mg_l.value / NITRATE_PER_NITROGEN,
                false,
            )
        } else if *analyte == *Analyte::KH {
            ("bacteria falter below", LEAST_DKH, true)
        } else if *analyte == *Analyte::OXYGEN {
            (
                "act below",
                limits.oxygen_act.value * oxygen_held_mg_l(tank),
                true,
            )
        } else {
            return None;
        };
        Some(Self {
            words,
            value,
            is_floor,
        })
    }
}
