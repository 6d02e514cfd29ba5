//! Shares.

quantity! {
    /// A share in percent.
    Percent: percent / as_percent;
    "%" | "percent" = 1.0;
}
