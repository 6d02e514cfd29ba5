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

choices! { Surface:
    Filmed = "filmed", "still, under an oily film";
    Still = "still", "a still mirror";
    Rippled = "rippled", "gentle ripples";
    Broken = "broken", "well broken";
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
