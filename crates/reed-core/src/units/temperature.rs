//! Water temperature.

quantity! {
    /// A temperature on the Celsius scale.
    Temperature: celsius / as_celsius;
    "°C" | "c" | "celsius" = 1.0;
    "°F" | "f" | "fahrenheit" = 5.0 / 9.0, zero at -160.0 / 9.0;
}

impl Temperature {
    /// On the absolute scale, as the solubility relations want it.
    pub const fn as_kelvin(self) -> f64 {
        self.as_celsius() + 273.15
    }

    /// This temperature and so many degrees more.
    #[must_use]
    pub const fn warmer_by(self, degrees: f64) -> Self {
        Self::celsius(self.as_celsius() + degrees)
    }
}
