//! The box.

use crate::units::{Length, SmallLength};

choice_set! {
    /// What runs round the top.
    Rim:
    #[default]
    Open = "open", "open top";
    Braced = "braced", "braces along the edges";
    Lid = "lid", "a lid";
}

described! {
    /// The box of glass, measured inside. Places in it count from the front left corner of its
    /// floor: to the right, to the back, up.
    Glass {
        /// Inside, left to right.
        length: Length = "length_cm", "Length", 10.0..=1000.0;
        /// Inside, front to back.
        width: Length = "width_cm", "Width", 5.0..=500.0;
        /// Inside, floor to rim.
        height: Length = "height_cm", "Height", 5.0..=300.0;
        /// Of the panes.
        #[serde(default = "thickness")]
        thickness: SmallLength = "thickness_mm", "Glass thickness", 2.0..=60.0;
        /// What hinders an outlet or a hang-on filter at the top.
        #[serde(default)]
        rim: Rim = "rim", "Rim";
    }
}

fn thickness() -> SmallLength {
    SmallLength::mm(8.0)
}

impl Default for Glass {
    fn default() -> Self {
        Self {
            length: Length::cm(80.0),
            width: Length::cm(35.0),
            height: Length::cm(45.0),
            thickness: thickness(),
            rim: Rim::Open,
        }
    }
}
