//! Salt content.

quantity! {
    /// Practical salinity, close to grams of salt per kilogram of water.
    Salinity: g_per_kg / as_g_per_kg;
    "g/kg" | "ppt" | "psu" | "‰" = 1.0;
}

impl Salinity {
    /// It counts as salt water: kits and media work otherwise in it. From memory: from some 5 g/kg
    /// on.
    pub fn is_salt_water(self) -> bool {
        self.as_g_per_kg() > 5.0
    }
}
