//! The animals, as groups of like mass.

use crate::units::Mass;

/// How much they move, which sets how much they breathe.
#[derive(Clone, Copy, Debug, PartialEq, Eq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Activity {
    /// Rest most of the day.
    Calm,
    /// Cruise about.
    Usual,
    /// Never stop.
    Lively,
}

choices! { Activity:
    Calm = "calm", "rest a lot";
    Usual = "usual", "cruise about";
    Lively = "lively", "never stop";
}

/// Animals of one kind and size.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct StockGroup {
    /// What the keeper calls them.
    pub name: String,
    /// How many.
    pub count: u32,
    /// Mass of one.
    #[serde(rename = "mass_each_g")]
    pub mass_each: Mass,
    /// How much they move.
    pub activity: Activity,
    /// They breathe air or live at the surface by nature.
    #[serde(default)]
    pub breathes_air: bool,
}
