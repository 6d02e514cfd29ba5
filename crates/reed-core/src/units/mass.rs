//! Masses of animals, feed and waste.

quantity! {
    /// A mass.
    Mass: grams / as_grams;
    "g" | "gram" | "grams" = 1.0;
    "kg" = 1000.0;
    "mg" = 0.001;
    "oz" = 28.349_523_125;
}
