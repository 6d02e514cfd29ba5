//! Electric power.

quantity! {
    /// What a device draws.
    Power: watts / as_watts;
    "W" | "watt" | "watts" = 1.0;
    "kW" = 1000.0;
}
