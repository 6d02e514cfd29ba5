//! Where a piece of evidence comes from.

/// Where a piece of evidence comes from.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Origin {
    /// Answered by the keeper.
    Seen,
    /// Measured.
    Read,
    /// Stands in the tank file.
    File,
    /// Was entered with the tank's water.
    Record,
    /// Computed from readings.
    Computed,
    /// Computed by the flow model from the drawing of the tank.
    Flow,
}
