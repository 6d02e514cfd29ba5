//! Air stones.

use super::form::{Air, DEVICE, Drive, Fall, Inlet, Pipe, Room, Search, Stance, Stands, amiss_if};
use super::{Background, Body, Cover, FilterRef, Form, Heading, Wall};
use crate::tank::{Bubbles, Running, Tank, Weight};
use crate::units::{Angle, FlowRate, Length, Power};

described! {
    /// An air stone on an air pump.
    AirStone {
        /// What the pump's label says, less for a deep stone.
        air: FlowRate = "air_l_per_h", "Air", 1.0..=5000.0;
        /// Fine ones from a good stone, coarse ones from an old stone or an open tube.
        #[serde(default = "coarse")]
        bubbles: Bubbles = "bubbles", "Bubbles";
        /// By night only, it spares dosed carbon dioxide by day.
        #[serde(default = "always")]
        running: Running = "running", "Runs";
        /// Across the stone.
        #[serde(default = "across")]
        across: Length = "across_cm", "Size", 0.5..=60.0;
    }
}

const fn coarse() -> Bubbles {
    Bubbles::Coarse
}

pub(super) const fn always() -> Running {
    Running::Always
}

fn across() -> Length {
    Length::cm(3.0)
}

impl Default for AirStone {
    fn default() -> Self {
        Self {
            air: FlowRate::litres_per_hour(100.0),
            bubbles: Bubbles::Coarse,
            running: Running::Always,
            across: across(),
        }
    }
}

impl Form for AirStone {
    fn body(&self, (x, y, z): (f64, f64, f64), _: &Tank) -> Body {
        Body::round((x, y), self.across.as_cm(), (z, z + 2.0))
    }

    fn solid_share(&self) -> f64 {
        0.0
    }

    fn stance(&self) -> Stance {
        Stance {
            takes_room: false,
            ..DEVICE
        }
    }

    fn hangs_outside(&self) -> Option<Wall> {
        None
    }

    fn amiss(&self, stands: &Stands<'_>) -> Vec<(Weight, String)> {
        amiss_if(stands.z > stands.level, Weight::Impossible, || {
            format!("{} is above the water. Lower it to the bed.", stands.name)
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
        Some(Air {
            flow: self.air,
            above: Length::cm(0.0),
            bubbles: self.bubbles,
            running: self.running,
        })
    }

    fn bubbles_mut(&mut self) -> Option<&mut Bubbles> {
        Some(&mut self.bubbles)
    }

    fn fall(&self, _: f64) -> Option<Fall> {
        None
    }

    fn drive(&self) -> Drive {
        Drive::AirPump
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

    fn fit(&mut self, _: &Room) {}

    fn usual_place(&self, tank: &Tank) -> (f64, f64, f64) {
        let (x, y) = tank.free_place();
        (x, y, tank.stone_height())
    }

    fn search(&self) -> Option<Search> {
        Some(Search::OnTheBed)
    }
}
