//! Filters that hang in the water.

use super::{Body, FilterRef, Form, Heading};
use crate::tank::Tank;
use crate::units::{Angle, Length, SmallLength};

described! {
    /// An internal filter with its pump.
    InternalFilter {
        /// Along the wall it hangs on.
        length: Length = "length_cm", "Length", 2.0..=100.0;
        /// Away from that wall.
        width: Length = "width_cm", "Width", 2.0..=100.0;
        /// With its pump.
        height: Length = "height_cm", "Height", 3.0..=150.0;
        /// From the right towards the back.
        #[serde(default)]
        turn: Angle = "turn_deg", "Turned by", -360.0..=360.0;
        /// Of its nozzle at the top.
        #[serde(default = "bore")]
        bore: SmallLength = "bore_mm", "Bore", 1.0..=100.0;
        /// 0° to the right, 90° to the back, 180° to the left, 270° to the front.
        #[serde(default)]
        heading: Angle = "heading_deg", "Points to", -360.0..=360.0;
        /// Above the horizontal; negative is down.
        #[serde(default)]
        up: Angle = "up_deg", "Tilted up by", -90.0..=90.0;
        /// Its entry among the filters, with its media.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        filter: Option<FilterRef> = "filter", "Belongs to";
    }
}

fn bore() -> SmallLength {
    SmallLength::mm(12.0)
}

impl Default for InternalFilter {
    fn default() -> Self {
        Self {
            length: Length::cm(10.0),
            width: Length::cm(8.0),
            height: Length::cm(25.0),
            turn: Angle::default(),
            bore: bore(),
            heading: Angle::default(),
            up: Angle::default(),
            filter: None,
        }
    }
}

impl Form for InternalFilter {
    fn body(&self, (x, y, z): (f64, f64, f64), _: &Tank) -> Body {
        Body::boxed(
            (x, y),
            (self.length.as_cm(), self.width.as_cm()),
            (z, z + self.height.as_cm()),
        )
        .turned(self.turn.as_degrees())
    }

    fn heading(&self) -> Option<Heading> {
        Some(Heading {
            around: self.heading,
            up: self.up,
        })
    }

    fn filter(&self) -> Option<FilterRef> {
        self.filter
    }
}
