//! Sponge filters that stand in the tank.

use super::air_stone::always;
use super::{Body, FilterRef, Form, Heading};
use crate::tank::{Running, Tank};
use crate::units::{Angle, FlowRate, Length};

choice_set! {
    /// What moves the water through the sponge.
    SpongeDrive:
    #[default]
    Air = "air", "air";
    Powerhead = "powerhead", "a powerhead on top";
}

described! {
    /// A sponge filter.
    SpongeFilter {
        /// Air also aerates; a powerhead catches more dirt and ends the bubbles.
        #[serde(default)]
        drive: SpongeDrive = "drive", "Driven by";
        /// Air of the air pump, or water of the powerhead.
        flow: FlowRate = "flow_l_per_h", "Air or water", 1.0..=20000.0;
        /// When it is driven.
        #[serde(default = "always")]
        running: Running = "running", "Runs";
        /// Across the sponge.
        across: Length = "across_cm", "Width", 2.0..=100.0;
        /// Of the sponge.
        height: Length = "height_cm", "Height", 2.0..=150.0;
        /// Pipe above the sponge; a powerhead with a short one blows at half height.
        #[serde(default)]
        riser: Length = "riser_cm", "Riser above the sponge", 0.0..=200.0;
        /// Of a powerhead's stream: 0° to the right, 90° to the back.
        #[serde(default)]
        heading: Angle = "heading_deg", "Points to", -360.0..=360.0;
        /// Above the horizontal; negative is down.
        #[serde(default)]
        up: Angle = "up_deg", "Tilted up by", -90.0..=90.0;
        /// Its entry among the filters, with its sponge.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        filter: Option<FilterRef> = "filter", "Belongs to";
    }
}

impl Default for SpongeFilter {
    fn default() -> Self {
        Self {
            drive: SpongeDrive::Air,
            flow: FlowRate::litres_per_hour(80.0),
            running: Running::Always,
            across: Length::cm(10.0),
            height: Length::cm(12.0),
            riser: Length::cm(8.0),
            heading: Angle::default(),
            up: Angle::default(),
            filter: None,
        }
    }
}

impl SpongeFilter {
    /// How far above its underside the air enters or the powerhead blows.
    pub fn mouth(&self) -> Length {
        match self.drive {
            // The air line ends in the foot of the riser, inside the sponge.
            SpongeDrive::Air => Length::cm(2.0),
            SpongeDrive::Powerhead => Length::cm(self.height.as_cm() + self.riser.as_cm()),
        }
    }
}

impl Form for SpongeFilter {
    fn body(&self, (x, y, z): (f64, f64, f64), _: &Tank) -> Body {
        Body::round((x, y), self.across.as_cm(), (z, z + self.height.as_cm()))
    }

    fn heading(&self) -> Option<Heading> {
        (self.drive == SpongeDrive::Powerhead).then_some(Heading {
            around: self.heading,
            up: self.up,
        })
    }

    fn filter(&self) -> Option<FilterRef> {
        self.filter
    }
}
