//! Mass of a dissolved substance per volume of water.

quantity! {
    /// Milligrams per litre. Nitrogen compounds are as N throughout; kits that report the ion are
    /// converted at the border.
    Concentration: mg_l / as_mg_l;
    "mg/L" | "ppm" | "mgl" = 1.0;
}
