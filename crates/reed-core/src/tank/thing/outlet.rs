//! Where a filter's water comes back.

use super::form::{Air, DEVICE, Drive, Fall, Inlet, Pipe, Room, Search, Stance, Stands, amiss_if};
use super::{Background, Body, Cover, FilterRef, Form, Heading, Wall};
use crate::tank::{Bubbles, Running, Tank, Weight};
use crate::units::{Angle, Length, Power, SmallLength};

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

    fn solid_share(&self) -> f64 {
        0.0
    }

    fn stance(&self) -> Stance {
        Stance {
            is_housed: true,
            leans: true,
            ..DEVICE
        }
    }

    fn hangs_outside(&self) -> Option<Wall> {
        None
    }

    fn amiss(&self, stands: &Stands<'_>) -> Vec<(Weight, String)> {
        if stands.z < stands.bed {
            return vec![(
                Weight::Impossible,
                format!(
                    "{} lies in the bed and would blow it about. Raise it above {}.",
                    stands.name,
                    stands.print(stands.bed)
                ),
            )];
        }
        amiss_if(stands.is_above(), Weight::Odd, || {
            let fall = stands.print(stands.z - stands.level);
            format!(
                "{} is {fall} above the water: its stream falls in, which aerates and takes bubbles down.",
                stands.name
            )
        })
    }

    fn heading(&self) -> Option<Heading> {
        Some(Heading {
            around: self.heading,
            up: self.up,
        })
    }

    fn angles_mut(&mut self) -> Option<(&mut Angle, &mut Angle)> {
        Some((&mut self.heading, &mut self.up))
    }

    fn stream_above(&self) -> Option<Length> {
        Some(Length::cm(0.0))
    }

    fn filter(&self) -> Option<FilterRef> {
        self.filter
    }

    fn filter_mut(&mut self) -> Option<&mut Option<FilterRef>> {
        Some(&mut self.filter)
    }

    fn pipe(&self) -> Pipe {
        Pipe::Outlet
    }

    fn cover_mut(&mut self) -> Option<&mut Cover> {
        None
    }

    fn inlet(&self) -> Inlet {
        Inlet::None
    }

    fn air(&self) -> Option<Air> {
        None
    }

    fn bubbles_mut(&mut self) -> Option<&mut Bubbles> {
        None
    }

    fn fall(&self, _: f64) -> Option<Fall> {
        None
    }

    fn drive(&self) -> Drive {
        Drive::Pump
    }

    fn running_mut(&mut self) -> Option<&mut Running> {
        None
    }

    fn stirs_alone(&self) -> bool {
        false
    }

    fn heating(&self) -> Option<Power> {
        None
    }

    fn background(&self) -> Option<&Background> {
        None
    }

    fn sides_mut(&mut self) -> Option<[&mut Length; 3]> {
        None
    }

    fn rescale(&mut self, _: f64, _: f64, _: f64) {}

    fn fit(&mut self, room: &Room) {
        self.filter = room.filter;
        self.bar = self.bar.filter(|_| self.style == OutletStyle::SprayBar);
    }

    fn usual_place(&self, tank: &Tank) -> (f64, f64, f64) {
        let Room {
            length,
            width,
            level,
            ..
        } = Room::of(tank);
        (5.0_f64.min(length / 4.0), width * 0.8, level - 1.5)
    }

    fn search(&self) -> Option<Search> {
        Some(Search::AtTheSurface)
    }
}
