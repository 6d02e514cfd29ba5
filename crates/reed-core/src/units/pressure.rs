//! Air pressure at the place itself (station pressure), not reduced to sea level.

quantity! {
    /// Absolute pressure.
    Pressure: kilopascals / as_kilopascals;
    "kPa" = 1.0;
    "hPa" | "mbar" = 0.1;
    "atm" = 101.325;
}

impl Pressure {
    /// The standard atmosphere.
    pub const STANDARD: Self = Self::kilopascals(101.325);
}
