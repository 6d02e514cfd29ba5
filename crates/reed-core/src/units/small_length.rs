//! Bores, grains, panes: what is measured in millimetres.

quantity! {
    /// A short length.
    SmallLength: mm / as_mm;
    "mm" = 1.0;
    "cm" = 10.0;
    "in" | "inch" | "inches" | "\"" = 25.4;
}
