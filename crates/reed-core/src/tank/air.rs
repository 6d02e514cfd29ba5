//! Things that blow air through the water.

use crate::units::{FlowRate, Length};

/// Size of the bubbles.
#[derive(Clone, Copy, Debug, PartialEq, Eq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Bubbles {
    /// A few millimetres: open tubes, sponge filters, worn stones.
    Coarse,
    /// About a millimetre or less: a good stone.
    Fine,
}

choices! { Bubbles:
    Coarse = "coarse", "coarse";
    Fine = "fine", "fine";
}

/// When the air runs.
#[derive(Clone, Copy, Debug, PartialEq, Eq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Running {
    /// Day and night.
    Always,
    /// Only while the lights are off.
    Night,
    /// Not at all.
    Stopped,
}

choices! { Running:
    Always = "always", "day and night";
    Night = "night", "by night";
    Stopped = "stopped", "not at present";
}

/// An air stone or an air-driven sponge filter.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct AirSource {
    /// What it is, in the keeper's words.
    pub kind: String,
    /// Air pumped.
    #[serde(rename = "air_l_per_h")]
    pub flow: FlowRate,
    /// Depth at which the air leaves.
    #[serde(rename = "depth_cm")]
    pub depth: Length,
    /// Size of its bubbles.
    pub bubbles: Bubbles,
    /// When it runs.
    pub running: Running,
}
