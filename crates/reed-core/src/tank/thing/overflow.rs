//! Overflows.

use super::air_stone::always;
use super::{Body, FilterRef, Form};
use crate::tank::{Running, Tank};
use crate::units::{Length, SmallLength};

described! {
    /// An overflow box: water runs over its weir and down a drain.
    Overflow {
        /// Of the box, left to right.
        length: Length = "length_cm", "Length", 2.0..=500.0;
        /// Of the box, front to back.
        width: Length = "width_cm", "Width", 2.0..=200.0;
        /// Of the box, from the sill down.
        height: Length = "height_cm", "Height", 3.0..=300.0;
        /// Length over which water runs in.
        weir: Length = "weir_cm", "Weir", 1.0..=600.0;
        /// From the sill to the water inside the box.
        #[serde(default)]
        fall: Length = "fall_cm", "Water falls by", 0.0..=100.0;
        /// Of the drain pipe.
        bore: SmallLength = "bore_mm", "Bore", 5.0..=150.0;
        /// Whether water runs over it.
        #[serde(default = "always")]
        running: Running = "running", "Runs";
        /// The sump or filter that it feeds.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        filter: Option<FilterRef> = "filter", "Belongs to";
    }
}

impl Default for Overflow {
    fn default() -> Self {
        Self {
            length: Length::cm(20.0),
            width: Length::cm(12.0),
            height: Length::cm(40.0),
            weir: Length::cm(20.0),
            fall: Length::cm(10.0),
            bore: SmallLength::mm(32.0),
            running: Running::Always,
            filter: None,
        }
    }
}

impl Form for Overflow {
    fn body(&self, (x, y, z): (f64, f64, f64), _: &Tank) -> Body {
        Body::boxed(
            (x, y),
            (self.length.as_cm(), self.width.as_cm()),
            ((z - self.height.as_cm()).max(0.0), z),
        )
    }

    fn filter(&self) -> Option<FilterRef> {
        self.filter
    }
}
