//! Sizes of the tank and depths in it.

quantity! {
    /// A length inside or along the tank.
    Length: cm / as_cm;
    "cm" | "centimetre" | "centimetres" = 1.0;
    "mm" = 0.1;
    "m" = 100.0;
    "in" | "inch" | "inches" | "\"" = 2.54;
}

impl Length {
    /// The value in metres, in which the transfer relations are written.
    pub const fn as_metres(self) -> f64 {
        self.as_cm() / 100.0
    }
}
