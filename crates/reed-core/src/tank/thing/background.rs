//! Moulded backgrounds, and how water gets behind them.

use super::form::{Air, DEVICE, Drive, Fall, Inlet, Pipe, Room, Search, Stance, Stands, tenths};
use super::{Body, Cover, FilterRef, Form, Heading, Wall};
use crate::tank::{Bubbles, Running, Tank, Weight};
use crate::units::{Angle, Length, Power};

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

    fn solid_share(&self) -> f64 {
        1.0
    }

    fn stance(&self) -> Stance {
        Stance {
            hangs_over: true,
            is_leant_on: true,
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
        Some(self)
    }

    fn sides_mut(&mut self) -> Option<[&mut Length; 3]> {
        None
    }

    fn rescale(&mut self, along: f64, _: f64, up: f64) {
        for opening in &mut self.openings {
            opening.along = tenths(opening.along.as_cm() * along);
            opening.above = tenths(opening.above.as_cm() * up);
            opening.height = tenths((opening.height.as_cm() * up.min(1.0)).max(0.5));
        }
    }

    fn fit(&mut self, _: &Room) {}

    fn usual_place(&self, tank: &Tank) -> (f64, f64, f64) {
        (
            tank.glass.length.as_cm() / 2.0,
            tank.glass.width.as_cm(),
            0.0,
        )
    }

    fn search(&self) -> Option<Search> {
        None
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
