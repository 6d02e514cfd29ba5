//! Filters that hang on the rim.

use super::air_stone::always;
use super::form::{
    Air, DEVICE, Drive, Fall, Inlet, Pipe, ROUNDING, Room, Search, Stance, Stands, amiss_if,
    at_most,
};
use super::{Background, Body, Cover, FilterRef, Form, Heading, Wall};
use crate::tank::{Bubbles, Running, Tank, Weight};
use crate::units::{Angle, Length, Power};

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

/// How far the lip reaches over the water, cm. A judgement.
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

    fn solid_share(&self) -> f64 {
        0.0
    }

    fn stance(&self) -> Stance {
        Stance {
            hangs_over: true,
            ..DEVICE
        }
    }

    fn hangs_outside(&self) -> Option<Wall> {
        Some(self.wall)
    }

    fn amiss(&self, stands: &Stands<'_>) -> Vec<(Weight, String)> {
        let lip = amiss_if(stands.z < stands.level - ROUNDING, Weight::Odd, || {
            format!(
                "The lip of {} is under water: nothing falls, and less oxygen comes in.",
                stands.name
            )
        });
        let tube = amiss_if(
            stands.z - self.intake.as_cm() > stands.level,
            Weight::Impossible,
            || {
                format!(
                    "The intake tube of {} ends above the water. Lengthen it.",
                    stands.name
                )
            },
        );
        [lip, tube].concat()
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
        Pipe::None
    }

    fn cover_mut(&mut self) -> Option<&mut Cover> {
        None
    }

    fn inlet(&self) -> Inlet {
        Inlet::Tube { has_sponge: false }
    }

    fn air(&self) -> Option<Air> {
        None
    }

    fn bubbles_mut(&mut self) -> Option<&mut Bubbles> {
        None
    }

    fn fall(&self, above_cm: f64) -> Option<Fall> {
        Some(Fall {
            height: Length::cm(above_cm),
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
        at_most(&mut self.lip, room.length * 0.4, 2.0);
        at_most(&mut self.intake, room.level * 0.7, 3.0);
    }

    fn usual_place(&self, tank: &Tank) -> (f64, f64, f64) {
        let Room {
            length,
            width,
            level,
            ..
        } = Room::of(tank);
        match self.wall {
            Wall::Back | Wall::Front => (length * 0.6, width, level + 2.0),
            Wall::Left | Wall::Right => (0.0, width / 2.0, level + 2.0),
        }
    }

    fn search(&self) -> Option<Search> {
        None
    }
}
