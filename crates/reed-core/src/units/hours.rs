//! Spans and times of day in hours.

quantity! {
    /// A span of time.
    Hours: of / as_hours;
    "h" | "hour" | "hours" = 1.0;
    "min" | "minutes" = 1.0 / 60.0;
    "d" | "day" | "days" = 24.0;
}

/// A time of day, as hours since midnight.
#[derive(
    Clone, Copy, Debug, Default, PartialEq, PartialOrd, serde::Serialize, serde::Deserialize,
)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(transparent)]
pub struct ClockHour(f64);

impl ClockHour {
    /// So many hours after midnight.
    pub const fn hours(value: f64) -> Self {
        Self(value)
    }

    /// Hours since midnight.
    pub const fn as_hours(self) -> f64 {
        self.0
    }
}
