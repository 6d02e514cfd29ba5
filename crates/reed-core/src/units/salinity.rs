//! Salt content.

quantity! {
    /// Practical salinity, close to grams of salt per kilogram of water.
    Salinity: g_per_kg / as_g_per_kg;
    "g/kg" | "ppt" | "psu" | "‰" = 1.0;
}
