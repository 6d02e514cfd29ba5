//! How the water meets the air.

use crate::units::{FlowRate, Length};

/// How the surface looks, from worst to best for gas exchange.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Surface {
    /// Still, under an oily film.
    Filmed,
    /// A mirror.
    Still,
    /// Gentle ripples all over.
    Rippled,
    /// Well broken: it dances.
    Broken,
}

impl Surface {
    /// All of them, worst first.
    pub const ALL: [Self; 4] = [Self::Filmed, Self::Still, Self::Rippled, Self::Broken];

    /// Id as in the document.
    pub const fn id(self) -> &'static str {
        match self {
            Self::Filmed => "filmed",
            Self::Still => "still",
            Self::Rippled => "rippled",
            Self::Broken => "broken",
        }
    }

    /// In the keeper's words.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Filmed => "still, under an oily film",
            Self::Still => "a still mirror",
            Self::Rippled => "gentle ripples",
            Self::Broken => "well broken",
        }
    }
}

/// Water that falls through air into the tank.
#[derive(Clone, Copy, Debug, PartialEq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct FallingWater {
    /// How much falls.
    #[serde(rename = "flow_l_per_h")]
    pub flow: FlowRate,
    /// How far.
    #[serde(rename = "height_cm")]
    pub height: Length,
    /// It has stopped falling.
    #[serde(default)]
    pub stopped: bool,
}
