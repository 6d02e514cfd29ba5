//! How the water meets the air.

choice_set! {
    /// How the surface looks, from worst to best for gas exchange.
    Surface:
    Filmed = "filmed", "still, under an oily film";
    Still = "still", "a still mirror";
    #[default]
    Rippled = "rippled", "gentle ripples";
    /// It dances.
    Broken = "broken", "well broken";
}
