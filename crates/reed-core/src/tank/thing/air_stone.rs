//! Air stones.

use super::{Body, Form};
use crate::tank::{Bubbles, Running, Tank};
use crate::units::{FlowRate, Length};

described! {
    /// An air stone on an air pump.
    AirStone {
        /// What the pump's label says, less for a deep stone.
        air: FlowRate = "air_l_per_h", "Air", 1.0..=5000.0;
        /// Fine ones from a good stone, coarse ones from an old stone or an open tube.
        #[serde(default = "coarse")]
        bubbles: Bubbles = "bubbles", "Bubbles";
        /// By night only, it spares dosed carbon dioxide by day.
        #[serde(default = "always")]
        running: Running = "running", "Runs";
        /// Across the stone.
        #[serde(default = "across")]
        across: Length = "across_cm", "Size", 0.5..=60.0;
    }
}

const fn coarse() -> Bubbles {
    Bubbles::Coarse
}

pub(super) const fn always() -> Running {
    Running::Always
}

fn across() -> Length {
    Length::cm(3.0)
}

impl Default for AirStone {
    fn default() -> Self {
        Self {
            air: FlowRate::litres_per_hour(100.0),
            bubbles: Bubbles::Coarse,
            running: Running::Always,
            across: across(),
        }
    }
}

impl Form for AirStone {
    fn body(&self, (x, y, z): (f64, f64, f64), _: &Tank) -> Body {
        Body::round((x, y), self.across.as_cm(), (z, z + 2.0))
    }
}
