//! Rocks and roots.

use super::form::{
    Air, DEVICE, Drive, Fall, Inlet, Pipe, Rest, Room, Search, Stance, Stands, at_most, tenths,
};
use super::{Background, Body, Cover, FilterRef, Form, Heading, Wall};
use crate::tank::{Bubbles, Running, Tank, Weight};
use crate::units::{Angle, Length, Percent, Power};

choice_set! {
    /// Shape it is counted as.
    RockShape:
    #[default]
    Box = "box", "box";
    Cylinder = "cylinder", "upright cylinder";
}

choice_set! {
    /// What it is.
    RockMaterial:
    #[default]
    Stone = "stone", "stone";
    Root = "root", "root or wood";
    LiveRock = "live-rock", "live rock";
    Ceramic = "ceramic", "pot or cave";
}

described! {
    /// A rock, a root, a pot: something that stands or lies there.
    Rock {
        /// A box or a cylinder that takes up the same room.
        #[serde(default)]
        shape: RockShape = "shape", "Counted as";
        /// Live rock filters; roots float until soaked.
        #[serde(default)]
        material: RockMaterial = "material", "Material";
        /// Along its longer side; of a cylinder, its width.
        length: Length = "length_cm", "Length", 0.5..=500.0;
        /// Along its shorter side.
        width: Length = "width_cm", "Width", 0.5..=500.0;
        /// From its underside.
        height: Length = "height_cm", "Height", 0.5..=300.0;
        /// From the right towards the back.
        #[serde(default)]
        turn: Angle = "turn_deg", "Turned by", -360.0..=360.0;
        /// Share of it that is water: holes, caves, gaps between stones.
        #[serde(default)]
        hollow: Percent = "hollow_percent", "Hollow", 0.0..=95.0;
    }
}

impl Default for Rock {
    fn default() -> Self {
        Self {
            shape: RockShape::Box,
            material: RockMaterial::Stone,
            length: Length::cm(15.0),
            width: Length::cm(10.0),
            height: Length::cm(12.0),
            turn: Angle::default(),
            hollow: Percent::default(),
        }
    }
}

impl Form for Rock {
    fn body(&self, (x, y, z): (f64, f64, f64), _: &Tank) -> Body {
        let heights = (z, z + self.height.as_cm());
        match self.shape {
            RockShape::Cylinder => Body::round((x, y), self.length.as_cm(), heights),
            RockShape::Box => {
                Body::boxed((x, y), (self.length.as_cm(), self.width.as_cm()), heights)
                    .turned(self.turn.as_degrees())
            }
        }
    }

    fn solid_share(&self) -> f64 {
        1.0 - self.hollow.as_percent() / 100.0
    }

    fn stance(&self) -> Stance {
        Stance {
            rest: Rest::OnTheGround {
                floats: self.material == RockMaterial::Root,
            },
            leans: true,
            ..DEVICE
        }
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
        Some([&mut self.length, &mut self.width, &mut self.height])
    }

    fn rescale(&mut self, along: f64, across: f64, up: f64) {
        let flat = along.min(across);
        self.length = tenths((self.length.as_cm() * flat).max(0.5));
        self.width = tenths((self.width.as_cm() * flat).max(0.5));
        self.height = tenths((self.height.as_cm() * up).max(0.5));
    }

    fn fit(&mut self, room: &Room) {
        at_most(&mut self.length, room.length * 0.3, 0.5);
        at_most(&mut self.width, room.width * 0.4, 0.5);
        at_most(&mut self.height, room.level * 0.5, 0.5);
    }

    fn usual_place(&self, tank: &Tank) -> (f64, f64, f64) {
        let (x, y) = tank.free_place();
        (x, y, (tank.bed.depth.as_cm() - 1.0).max(0.0))
    }

    fn search(&self) -> Option<Search> {
        None
    }
}
