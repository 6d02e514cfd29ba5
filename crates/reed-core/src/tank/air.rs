//! Air through the water, as the relations of exchange take it.

use crate::units::{FlowRate, Length};

choice_set! {
    /// Size of the bubbles.
    Bubbles:
    /// A few millimetres: open tubes, sponge filters, worn stones.
    #[default]
    Coarse = "coarse", "coarse";
    /// About a millimetre or less: a good stone.
    Fine = "fine", "fine";
}

choice_set! {
    /// When something runs.
    Running:
    #[default]
    Always = "always", "day and night";
    Night = "night", "while the lights are off";
    Stopped = "stopped", "not at present";
}

impl Running {
    /// It runs now, with the lights on or off.
    pub const fn now(self, lit: bool) -> bool {
        matches!((self, lit), (Self::Always, _) | (Self::Night, false))
    }
}

/// Air that leaves at some depth: from an air stone or an air-driven sponge filter.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct AirSource {
    /// Air pumped.
    pub flow: FlowRate,
    /// Depth at which it leaves.
    pub depth: Length,
    /// Size of its bubbles.
    pub bubbles: Bubbles,
    /// When it runs.
    pub running: Running,
}

/// Water that falls through air into the tank or into an overflow box.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct FallingWater {
    /// How much falls.
    pub flow: FlowRate,
    /// How far.
    pub height: Length,
    /// When it falls.
    pub running: Running,
}
