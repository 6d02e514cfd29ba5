//! Heaters.

use super::{Body, Form};
use crate::tank::Tank;
use crate::units::{Length, Power, Temperature};

choice_set! {
    /// How it is fixed.
    Posture:
    #[default]
    Upright = "upright", "upright";
    Lying = "lying", "lying";
}

described! {
    /// A heater.
    Heater {
        /// As its label says.
        power: Power = "watts", "Power", 5.0..=3000.0;
        /// Of the glass or metal rod.
        length: Length = "length_cm", "Length", 5.0..=100.0;
        /// Lying near a stream it heats evenly.
        #[serde(default)]
        posture: Posture = "posture", "Fixed";
        /// What its thermostat is set to.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        set_to: Option<Temperature> = "set_to_c", "Set to", 5.0..=38.0;
    }
}

impl Default for Heater {
    fn default() -> Self {
        Self {
            power: Power::watts(100.0),
            length: Length::cm(25.0),
            posture: Posture::Upright,
            set_to: None,
        }
    }
}

impl Form for Heater {
    fn body(&self, (x, y, z): (f64, f64, f64), _: &Tank) -> Body {
        match self.posture {
            Posture::Upright => Body::round((x, y), 3.0, (z, z + self.length.as_cm())),
            Posture::Lying => Body::boxed((x, y), (self.length.as_cm(), 3.0), (z, z + 3.0)),
        }
    }
}
