//! Heaters.

use super::form::{
    Air, DEVICE, Drive, Fall, Inlet, Pipe, Room, Search, Stance, Stands, amiss_if, at_most,
};
use super::{Background, Body, Cover, FilterRef, Form, Heading, Wall};
use crate::tank::{Bubbles, Running, Tank, Weight};
use crate::units::{Angle, Length, Power, Temperature};

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

    fn solid_share(&self) -> f64 {
        0.0
    }

    fn stance(&self) -> Stance {
        Stance {
            hangs_over: true,
            needs_passing_water: true,
            is_housed: true,
            ..DEVICE
        }
    }

    fn hangs_outside(&self) -> Option<Wall> {
        None
    }

    fn amiss(&self, stands: &Stands<'_>) -> Vec<(Weight, String)> {
        amiss_if(stands.is_out(), Weight::Odd, || {
            format!(
                "{} is not wholly under water. Most heaters crack when they run half dry: unplug it before you move it.",
                stands.name
            )
        })
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
        Some(self.power)
    }

    fn background(&self) -> Option<&Background> {
        None
    }

    fn sides_mut(&mut self) -> Option<[&mut Length; 3]> {
        None
    }

    fn rescale(&mut self, _: f64, _: f64, _: f64) {}

    fn fit(&mut self, room: &Room) {
        let most = match self.posture {
            Posture::Lying => room.length * 0.6,
            Posture::Upright => room.deep() - 4.0,
        };
        at_most(&mut self.length, most.max(5.0), 5.0);
    }

    fn usual_place(&self, tank: &Tank) -> (f64, f64, f64) {
        let room = Room::of(tank);
        (room.length - 5.0, room.width - 5.0, room.bed + 2.0)
    }

    fn search(&self) -> Option<Search> {
        None
    }
}
