//! Moulded backgrounds, and how water gets behind them.

use super::{Body, Form, Wall};
use crate::tank::Tank;
use crate::units::Length;

choice_set! {
    /// How it is built.
    BackgroundStyle:
    #[default]
    ThinWithGap = "thin-with-gap", "thin, with a gap behind";
    WithChamber = "with-chamber", "with a chamber for intake and heater";
}

described! {
    /// An opening in a background.
    Opening {
        /// Along the wall, from the left or the front, to its middle.
        along: Length = "along_cm", "Along the wall", 0.0..=1000.0;
        /// Of its lower edge above the floor.
        above: Length = "above_cm", "Above the floor", 0.0..=300.0;
        /// Along the wall.
        width: Length = "width_cm", "Width", 0.5..=300.0;
        /// Upwards.
        height: Length = "height_cm", "Height", 0.5..=300.0;
    }
}

impl Default for Opening {
    fn default() -> Self {
        Self {
            along: Length::cm(10.0),
            above: Length::cm(5.0),
            width: Length::cm(8.0),
            height: Length::cm(8.0),
        }
    }
}

described! {
    /// A moulded background along a whole wall.
    Background {
        /// Where it stands.
        #[serde(default)]
        wall: Wall = "wall", "Along the";
        /// Water must pass behind it for an intake there to work.
        #[serde(default)]
        style: BackgroundStyle = "style", "Built";
        /// Of the moulding itself, on average.
        thickness: Length = "thickness_cm", "Thickness", 0.3..=60.0;
        /// Free water between it and the glass.
        gap: Length = "gap_cm", "Gap behind", 0.0..=60.0;
        /// Where water gets behind it.
        #[serde(default)]
        openings: Vec<Opening> = "openings", "Opening", 0..=40;
    }
}

impl Default for Background {
    fn default() -> Self {
        Self {
            wall: Wall::Back,
            style: BackgroundStyle::ThinWithGap,
            thickness: Length::cm(4.0),
            gap: Length::cm(3.0),
            openings: vec![Opening::default()],
        }
    }
}

impl Form for Background {
    fn body(&self, _: (f64, f64, f64), tank: &Tank) -> Body {
        let (length, width) = (tank.glass.length.as_cm(), tank.glass.width.as_cm());
        let (thickness, gap) = (self.thickness.as_cm(), self.gap.as_cm());
        let middle = gap + thickness / 2.0;
        let heights = (0.0, tank.glass.height.as_cm());
        match self.wall {
            Wall::Back => Body::boxed((length / 2.0, width - middle), (length, thickness), heights),
            Wall::Front => Body::boxed((length / 2.0, middle), (length, thickness), heights),
            Wall::Left => Body::boxed((middle, width / 2.0), (thickness, width), heights),
            Wall::Right => Body::boxed((length - middle, width / 2.0), (thickness, width), heights),
        }
    }
}

impl Background {
    /// A place is between this background and its glass.
    pub fn hides(&self, x: f64, y: f64, tank: &Tank) -> bool {
        let gap = self.gap.as_cm();
        match self.wall {
            Wall::Back => y > tank.glass.width.as_cm() - gap,
            Wall::Front => y < gap,
            Wall::Left => x < gap,
            Wall::Right => x > tank.glass.length.as_cm() - gap,
        }
    }
}
