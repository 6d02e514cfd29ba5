//! Shares.

quantity! {
    /// A share in percent.
    Percent: of / as_percent;
    "%" | "percent" = 1.0;
}
