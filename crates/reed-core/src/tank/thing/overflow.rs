//! Overflows.

use super::air_stone::always;
use super::form::{
    Air, DEVICE, Drive, Fall, Inlet, Pipe, Room, Search, Stance, Stands, amiss_if, at_most,
};
use super::{Background, Body, Cover, FilterRef, Form, Heading, Wall};
use crate::tank::{Bubbles, Running, Tank, Weight};
use crate::units::{Angle, Length, Power, SmallLength};

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

    fn solid_share(&self) -> f64 {
        1.0
    }

    fn stance(&self) -> Stance {
        Stance {
            houses: true,
            ..DEVICE
        }
    }

    fn hangs_outside(&self) -> Option<Wall> {
        None
    }

    fn amiss(&self, stands: &Stands<'_>) -> Vec<(Weight, String)> {
        amiss_if(stands.is_above(), Weight::Odd, || {
            let dry = stands.print(stands.z - stands.level);
            format!(
                "The sill of {} is {dry} above the water: nothing runs over it.",
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
        self.filter
    }

    fn filter_mut(&mut self) -> Option<&mut Option<FilterRef>> {
        Some(&mut self.filter)
    }

    fn pipe(&self) -> Pipe {
        Pipe::Overflow
    }

    fn cover_mut(&mut self) -> Option<&mut Cover> {
        None
    }

    fn inlet(&self) -> Inlet {
        Inlet::Weir
    }

    fn air(&self) -> Option<Air> {
        None
    }

    fn bubbles_mut(&mut self) -> Option<&mut Bubbles> {
        None
    }

    fn fall(&self, above_cm: f64) -> Option<Fall> {
        (above_cm <= 0.0).then_some(Fall {
            height: self.fall,
            running: self.running,
        })
    }

    fn drive(&self) -> Drive {
        Drive::Pump
    }

    fn running_mut(&mut self) -> Option<&mut Running> {
        Some(&mut self.running)
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
        at_most(&mut self.length, room.length * 0.3, 2.0);
        at_most(&mut self.width, room.width * 0.3, 2.0);
        self.height = Length::cm((room.level - 1.0).max(3.0));
    }

    fn usual_place(&self, tank: &Tank) -> (f64, f64, f64) {
        let Room {
            length,
            width,
            level,
            ..
        } = Room::of(tank);
        (
            length - self.length.as_cm() / 2.0 - 1.0,
            width - self.width.as_cm() / 2.0 - 1.0,
            level - 1.0,
        )
    }

    fn search(&self) -> Option<Search> {
        None
    }
}
