//! Plants and the light they live by.

/// How much plant there is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Planting {
    /// None.
    None,
    /// A few.
    Sparse,
    /// Half of the bed.
    Moderate,
    /// A thicket with open water left.
    Dense,
    /// No open water left: stems lie along the surface.
    Overgrown,
}

choices! { Planting:
    None = "none", "none";
    Sparse = "sparse", "a few";
    Moderate = "moderate", "half of the bed";
    Dense = "dense", "a thicket";
    Overgrown = "overgrown", "overgrown, up to the surface";
}

impl Planting {
    /// The next denser planting.
    #[must_use]
    pub const fn denser(self) -> Self {
        match self {
            Self::None => Self::Sparse,
            Self::Sparse => Self::Moderate,
            Self::Moderate => Self::Dense,
            Self::Dense | Self::Overgrown => Self::Overgrown,
        }
    }

    /// The next thinner planting.
    #[must_use]
    pub const fn thinned(self) -> Self {
        match self {
            Self::None | Self::Sparse => self,
            Self::Moderate => Self::Sparse,
            Self::Dense => Self::Moderate,
            Self::Overgrown => Self::Dense,
        }
    }
}

/// Plants and their photoperiod; the light counts for fish and night aeration too.
#[derive(Clone, Copy, Debug, PartialEq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Plants {
    /// How many.
    pub planting: Planting,
    /// Hour of the day at which the lights go on, 0 to 24.
    pub lights_on_hour: f64,
    /// Hours of light.
    pub light_hours: f64,
}
