//! Directions.

quantity! {
    /// An angle. A heading counts from the right (0) over the back (90) and the left (180) to the
    /// front (270).
    Angle: degrees / as_degrees;
    "°" | "deg" | "degrees" = 1.0;
}
