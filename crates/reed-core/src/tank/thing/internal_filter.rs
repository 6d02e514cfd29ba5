//! Filters that hang in the water.

use super::form::{
    Air, DEVICE, Drive, Fall, Inlet, Pipe, Room, Search, Stance, Stands, amiss_if, at_most,
};
use super::{Background, Body, Cover, FilterRef, Form, Heading, Wall};
use crate::tank::{Bubbles, Running, Tank, Weight};
use crate::units::{Angle, Length, Power, SmallLength};

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

    fn solid_share(&self) -> f64 {
        0.0
    }

    fn stance(&self) -> Stance {
        DEVICE
    }

    fn hangs_outside(&self) -> Option<Wall> {
        None
    }

    fn amiss(&self, stands: &Stands<'_>) -> Vec<(Weight, String)> {
        amiss_if(stands.is_out(), Weight::Impossible, || {
            let out = stands.print(stands.top - stands.level);
            format!(
                "{} stands {out} out of the water. Lower it, or raise the water.",
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
        Some(self.height)
    }

    fn filter(&self) -> Option<FilterRef> {
        self.filter
    }

    fn filter_mut(&mut self) -> Option<&mut Option<FilterRef>> {
        Some(&mut self.filter)
    }

    fn pipe(&self) -> Pipe {
        Pipe::None
    }

    fn cover_mut(&mut self) -> Option<&mut Cover> {
        None
    }

    fn inlet(&self) -> Inlet {
        Inlet::Slits
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
        at_most(&mut self.height, room.deep() - 2.0, 3.0);
    }

    fn usual_place(&self, tank: &Tank) -> (f64, f64, f64) {
        let Room {
            length,
            width,
            level,
            bed,
            ..
        } = Room::of(tank);
        let z = (level - self.height.as_cm() - 3.0).max(bed);
        (
            length - self.length.as_cm() / 2.0 - 1.0,
            width - self.width.as_cm() / 2.0 - 1.0,
            z,
        )
    }

    fn search(&self) -> Option<Search> {
        Some(Search::AtItsHeight)
    }
}
