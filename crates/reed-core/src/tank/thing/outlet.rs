//! Where a filter's water comes back.

use super::{Body, FilterRef, Form, Heading};
use crate::tank::Tank;
use crate::units::{Angle, Length, SmallLength};

choice_set! {
    /// What the stream leaves by.
    OutletStyle:
    #[default]
    Nozzle = "nozzle", "round nozzle";
    SprayBar = "spray-bar", "spray bar";
    Flared = "flared", "flared, like a flower";
    Slotted = "slotted", "flat slot";
}

described! {
    /// An outlet.
    Outlet {
        /// A bar and a slot spread the stream over their length.
        #[serde(default)]
        style: OutletStyle = "style", "Style";
        /// Inside width of the nozzle, or of one hole of a bar.
        bore: SmallLength = "bore_mm", "Bore", 1.0..=150.0;
        /// Of a spray bar or slot; others have none.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        bar: Option<Length> = "bar_cm", "Length of the bar", 1.0..=300.0;
        /// 0° to the right, 90° to the back, 180° to the left, 270° to the front.
        #[serde(default)]
        heading: Angle = "heading_deg", "Points to", -360.0..=360.0;
        /// Above the horizontal; negative is down.
        #[serde(default)]
        up: Angle = "up_deg", "Tilted up by", -90.0..=90.0;
        /// The filter whose water comes back here.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        filter: Option<FilterRef> = "filter", "Belongs to";
    }
}

impl Default for Outlet {
    fn default() -> Self {
        Self {
            style: OutletStyle::Nozzle,
            bore: SmallLength::mm(16.0),
            bar: None,
            heading: Angle::default(),
            up: Angle::default(),
            filter: None,
        }
    }
}

impl Form for Outlet {
    fn body(&self, (x, y, z): (f64, f64, f64), _: &Tank) -> Body {
        let across = (self.bore.as_mm() / 10.0 + 0.4).max(1.2);
        let heights = (z - across / 2.0, z + across / 2.0);
        match self
            .bar
            .filter(|_| matches!(self.style, OutletStyle::SprayBar | OutletStyle::Slotted))
        {
            // A bar lies across its stream.
            Some(bar) => {
                Body::boxed((x, y), (2.0, bar.as_cm()), heights).turned(self.heading.as_degrees())
            }
            None => Body::round((x, y), across, heights),
        }
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
