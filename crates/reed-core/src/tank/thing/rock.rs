//! Rocks and roots.

use super::{Body, Form};
use crate::tank::Tank;
use crate::units::{Angle, Length, Percent};

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
}
