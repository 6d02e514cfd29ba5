//! UV lamps in the tank.

use super::{Body, Form};
use crate::tank::Tank;
use crate::units::{Angle, Length, Power};

described! {
    /// A UV lamp in a housing.
    Uv {
        /// Of the lamp.
        power: Power = "watts", "Power", 1.0..=500.0;
        /// Of the housing.
        length: Length = "length_cm", "Length", 5.0..=150.0;
        /// Across the housing.
        across: Length = "across_cm", "Width", 1.0..=40.0;
        /// From the right towards the back.
        #[serde(default)]
        turn: Angle = "turn_deg", "Turned by", -360.0..=360.0;
    }
}

impl Default for Uv {
    fn default() -> Self {
        Self {
            power: Power::watts(7.0),
            length: Length::cm(25.0),
            across: Length::cm(7.0),
            turn: Angle::default(),
        }
    }
}

impl Form for Uv {
    fn body(&self, (x, y, z): (f64, f64, f64), _: &Tank) -> Body {
        let across = self.across.as_cm();
        Body::boxed((x, y), (self.length.as_cm(), across), (z, z + across))
            .turned(self.turn.as_degrees())
    }
}
