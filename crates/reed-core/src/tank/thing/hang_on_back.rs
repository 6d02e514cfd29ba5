//! Filters that hang on the rim.

use super::air_stone::always;
use super::{Body, FilterRef, Form, Heading, Wall};
use crate::tank::{Running, Tank};
use crate::units::{Angle, Length};

described! {
    /// A hang-on-back filter: its intake tube inside, its box outside, its water over a lip.
    HangOnBack {
        /// Where it hangs.
        #[serde(default)]
        wall: Wall = "wall", "Hangs on the";
        /// Along the wall.
        lip: Length = "lip_cm", "Width of the lip", 2.0..=100.0;
        /// How far down its tube reaches, from the lip.
        intake: Length = "intake_below_lip_cm", "Intake below the lip", 3.0..=200.0;
        /// Whether its water falls.
        #[serde(default = "always")]
        running: Running = "running", "Runs";
        /// Its entry among the filters, with its media.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        filter: Option<FilterRef> = "filter", "Belongs to";
    }
}

impl Default for HangOnBack {
    fn default() -> Self {
        Self {
            wall: Wall::Back,
            lip: Length::cm(12.0),
            intake: Length::cm(20.0),
            running: Running::Always,
            filter: None,
        }
    }
}

/// How far the lip reaches over the water, cm.
const LIP_DEPTH: f64 = 3.0;

impl Form for HangOnBack {
    fn body(&self, (x, y, z): (f64, f64, f64), tank: &Tank) -> Body {
        let (length, width, lip) = (
            tank.glass.length.as_cm(),
            tank.glass.width.as_cm(),
            self.lip.as_cm(),
        );
        let half = LIP_DEPTH / 2.0;
        let (middle, size) = match self.wall {
            Wall::Back => ((x, width - half), (lip, LIP_DEPTH)),
            Wall::Front => ((x, half), (lip, LIP_DEPTH)),
            Wall::Left => ((half, y), (LIP_DEPTH, lip)),
            Wall::Right => ((length - half, y), (LIP_DEPTH, lip)),
        };
        Body::boxed(middle, size, (z - self.intake.as_cm(), z))
    }

    fn heading(&self) -> Option<Heading> {
        let around = match self.wall {
            Wall::Back => 270.0,
            Wall::Front => 90.0,
            Wall::Left => 0.0,
            Wall::Right => 180.0,
        };
        Some(Heading {
            around: Angle::degrees(around),
            up: Angle::degrees(-60.0),
        })
    }

    fn filter(&self) -> Option<FilterRef> {
        self.filter
    }
}
