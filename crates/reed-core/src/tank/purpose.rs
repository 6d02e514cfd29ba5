//! What a tank is for: it sets where the limits lie by default, and which advice does harm here.

use super::Tank;
use crate::figure::Figure;

choice_set! {
    /// Purpose of the tank.
    Purpose:
    #[default]
    Display = "display", "display";
    GrowingOn = "growing-on", "growing young fish on";
    Breeding = "breeding", "breeding";
    Quarantine = "quarantine", "quarantine";
    Treatment = "treatment", "treatment with a medicine";
    Transport = "transport", "transport";
}

/// Where the limits of a tank lie.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Limits {
    /// Share of saturation below which something must be done.
    pub oxygen_act: Figure,
    /// Nitrate, mg/L as the ion, that should not be passed.
    pub nitrate_ion_mg_l: Figure,
}

impl Purpose {
    /// The default limits. Young, weak and crowded animals have less to spare.
    pub const fn limits(self) -> Limits {
        let (act, nitrate) = match self {
            Self::Display => (Figure::from_memory(0.7), Figure::common_practice(40.0)),
            Self::GrowingOn | Self::Breeding => {
                (Figure::from_memory(0.8), Figure::from_memory(20.0))
            }
            Self::Quarantine | Self::Treatment | Self::Transport => {
                (Figure::from_memory(0.8), Figure::common_practice(40.0))
            }
        };
        Limits {
            oxygen_act: act,
            nitrate_ion_mg_l: nitrate,
        }
    }

    /// What to bear in mind in such a tank.
    pub const fn advice(self) -> &'static str {
        match self {
            Self::Display => "The stock changes slowly: judge by days and weeks.",
            Self::GrowingOn => {
                "Much feed in little water: ammonia and oxygen first, and small parts of water often."
            }
            Self::Breeding => {
                "Intakes behind a sponge, streams gentle: fry go where the water goes."
            }
            Self::Quarantine => {
                "Watch closely. Mature media come from a healthy tank and never go back into one."
            }
            Self::Treatment => {
                "No carbon, adsorbing pad or resin during the course; they start on the day it ends. Media used here never go into another tank."
            }
            Self::Transport => {
                "Unfed beforehand. Do not aerate the old water for long once it is opened: as carbon dioxide leaves, ammonia turns poisonous."
            }
        }
    }
}

/// Nitrate that should not be passed in salt water, mg/L as the ion: half of what is usual in fresh
/// water.
const NITRATE_IN_SALT_WATER: Figure = Figure::common_practice(20.0);

impl Tank {
    /// The limits of this tank: those of its purpose, nitrate lower in salt water.
    pub fn limits(&self) -> Limits {
        let limits = self.purpose.limits();
        let nitrate = limits.nitrate_ion_mg_l;
        let is_lower = NITRATE_IN_SALT_WATER.value < nitrate.value;
        Limits {
            nitrate_ion_mg_l: if self.salinity.is_salt_water() && is_lower {
                NITRATE_IN_SALT_WATER
            } else {
                nitrate
            },
            ..limits
        }
    }
}
