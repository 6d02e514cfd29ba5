//! Plants and the light they live by.

use crate::units::{ClockHour, Hours};

choice_set! {
    /// How much plant there is.
    Planting:
    #[default]
    None = "none", "none";
    Sparse = "sparse", "a few";
    Moderate = "moderate", "half of the bed";
    /// Open water is left.
    Dense = "dense", "a thicket";
    /// No open water left: stems lie along the surface.
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

described! {
    /// Plants and their photoperiod; the light counts for fish and night aeration too.
    #[derive(Copy)]
    Plants {
        /// They give oxygen in the light and take it in the dark.
        #[serde(default)]
        planting: Planting = "planting", "Plants";
        /// By the clock on the wall beside the tank.
        lights_on: ClockHour = "lights_on_hour", "Lights go on at";
        /// Each day.
        light: Hours = "light_hours", "Hours of light", 0.0..=24.0;
    }
}

impl Default for Plants {
    fn default() -> Self {
        Self {
            planting: Planting::None,
            lights_on: ClockHour::hours(9.0),
            light: Hours::of(10.0),
        }
    }
}
