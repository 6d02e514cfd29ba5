//! Pumps that only move water.

use super::air_stone::always;
use super::{Body, Form, Heading};
use crate::tank::{Running, Tank};
use crate::units::{Angle, FlowRate, SmallLength};

choice_set! {
    /// What sort of stream it makes.
    PowerheadRole:
    #[default]
    Powerhead = "powerhead", "powerhead, a narrow stream";
    WaveMaker = "wave-maker", "wave maker, a wide push";
}

described! {
    /// A powerhead or wave maker.
    Powerhead {
        /// A wave maker pushes far more water, slowly.
        #[serde(default)]
        role: PowerheadRole = "role", "Sort";
        /// As its label says.
        flow: FlowRate = "flow_l_per_h", "Flow", 20.0..=60000.0;
        /// Of its nozzle or cage.
        bore: SmallLength = "bore_mm", "Bore", 3.0..=200.0;
        /// When it is on.
        #[serde(default = "always")]
        running: Running = "running", "Runs";
        /// 0° to the right, 90° to the back, 180° to the left, 270° to the front.
        #[serde(default)]
        heading: Angle = "heading_deg", "Points to", -360.0..=360.0;
        /// Above the horizontal; negative is down.
        #[serde(default)]
        up: Angle = "up_deg", "Tilted up by", -90.0..=90.0;
    }
}

impl Default for Powerhead {
    fn default() -> Self {
        Self {
            role: PowerheadRole::Powerhead,
            flow: FlowRate::litres_per_hour(800.0),
            bore: SmallLength::mm(20.0),
            running: Running::Always,
            heading: Angle::default(),
            up: Angle::degrees(5.0),
        }
    }
}

impl Form for Powerhead {
    fn body(&self, (x, y, z): (f64, f64, f64), _: &Tank) -> Body {
        let across = (self.bore.as_mm() / 10.0 + 1.0).max(4.0);
        Body::round((x, y), across, (z - across / 2.0, z + across / 2.0))
    }

    fn heading(&self) -> Option<Heading> {
        Some(Heading {
            around: self.heading,
            up: self.up,
        })
    }
}
