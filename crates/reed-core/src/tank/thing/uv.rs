//! UV lamps in the tank.

use super::form::{Air, DEVICE, Drive, Fall, Inlet, Pipe, Room, Search, Stance, Stands, at_most};
use super::{Background, Body, Cover, FilterRef, Form, Heading, Wall};
use crate::tank::{Bubbles, Running, Tank, Weight};
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

    fn solid_share(&self) -> f64 {
        0.0
    }

    fn stance(&self) -> Stance {
        DEVICE
    }

    fn hangs_outside(&self) -> Option<Wall> {
        None
    }

    fn amiss(&self, _: &Stands<'_>) -> Vec<(Weight, String)> {
        Vec::new()
    }

    fn heading(&self) -> Option<Heading> {
        None
    }

    fn angles_mut(&mut self) -> Option<(&mut Angle, &mut Angle)> {
        None
    }

    fn stream_above(&self) -> Option<Length> {
        None
    }

    fn filter(&self) -> Option<FilterRef> {
        None
    }

    fn filter_mut(&mut self) -> Option<&mut Option<FilterRef>> {
        None
    }

    fn pipe(&self) -> Pipe {
        Pipe::None
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
        Drive::None
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
        at_most(&mut self.length, room.length * 0.5, 5.0);
    }

    fn usual_place(&self, tank: &Tank) -> (f64, f64, f64) {
        let room = Room::of(tank);
        (
            room.length / 2.0,
            room.width - self.across.as_cm() / 2.0 - 1.0,
            room.bed + 3.0,
        )
    }

    fn search(&self) -> Option<Search> {
        None
    }
}
