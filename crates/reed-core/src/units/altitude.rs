//! Height above sea level; it thins the air and with it the oxygen that water holds.

quantity! {
    /// Height of the tank's place above sea level.
    Altitude: metres / as_metres;
    "m" | "metre" | "metres" | "meter" | "meters" = 1.0;
    "ft" | "feet" | "foot" = 0.3048;
}
