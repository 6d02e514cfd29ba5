//! Pumps that only move water.

use super::air_stone::always;
use super::form::{Air, DEVICE, Drive, Fall, Inlet, Pipe, Room, Search, Stance, Stands, amiss_if};
use super::{Background, Body, Cover, FilterRef, Form, Heading, Wall};
use crate::tank::{Bubbles, Running, Tank, Weight};
use crate::units::{Angle, FlowRate, Length, Power, SmallLength};

choice_set! {
    /// What sort of stream it makes.
    PowerheadRole:
    #[default]
    Powerhead = "powerhead", "powerhead, a narrow stream";
    WaveMaker = "wave-maker", "wave maker, a wide push";
}

described! {
    /// A powerhead or wave maker.
    Powerhead {
        /// A wave maker pushes far more water, slowly.
        #[serde(default)]
        role: PowerheadRole = "role", "Sort";
        /// As its label says.
        flow: FlowRate = "flow_l_per_h", "Flow", 20.0..=60000.0;
        /// Of its nozzle or cage.
        bore: SmallLength = "bore_mm", "Bore", 3.0..=200.0;
        /// When it is on.
        #[serde(default = "always")]
        running: Running = "running", "Runs";
        /// 0° to the right, 90° to the back, 180° to the left, 270° to the front.
        #[serde(default)]
        heading: Angle = "heading_deg", "Points to", -360.0..=360.0;
        /// Above the horizontal; negative is down.
        #[serde(default)]
        up: Angle = "up_deg", "Tilted up by", -90.0..=90.0;
    }
}

impl Default for Powerhead {
    fn default() -> Self {
        Self {
            role: PowerheadRole::Powerhead,
            flow: FlowRate::litres_per_hour(800.0),
            bore: SmallLength::mm(20.0),
            running: Running::Always,
            heading: Angle::default(),
            up: Angle::degrees(5.0),
        }
    }
}

impl Form for Powerhead {
    fn body(&self, (x, y, z): (f64, f64, f64), _: &Tank) -> Body {
        let across = (self.bore.as_mm() / 10.0 + 1.0).max(4.0);
        Body::round((x, y), across, (z - across / 2.0, z + across / 2.0))
    }

    fn solid_share(&self) -> f64 {
        0.0
    }

    fn stance(&self) -> Stance {
        DEVICE
    }

    fn hangs_outside(&self) -> Option<Wall> {
        None
    }

    fn amiss(&self, stands: &Stands<'_>) -> Vec<(Weight, String)> {
        amiss_if(stands.is_out(), Weight::Impossible, || {
            format!(
                "{} is not wholly under water: it draws air and runs dry. Lower it.",
                stands.name
            )
        })
    }

    fn heading(&self) -> Option<Heading> {
        Some(Heading {
            around: self.heading,
            up: self.up,
        })
    }

    fn angles_mut(&mut self) -> Option<(&mut Angle, &mut Angle)> {
        Some((&mut self.heading, &mut self.up))
    }

    fn stream_above(&self) -> Option<Length> {
        Some(Length::cm(0.0))
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
        Drive::Pump
    }

    fn running_mut(&mut self) -> Option<&mut Running> {
        Some(&mut self.running)
    }

    fn stirs_alone(&self) -> bool {
        true
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
        let Room {
            length,
            width,
            level,
            bed,
            ..
        } = Room::of(tank);
        (
            4.0_f64.min(length / 4.0),
            width / 2.0,
            (level - 6.0).max(bed + 3.0),
        )
    }

    fn search(&self) -> Option<Search> {
        Some(Search::HighAndLower)
    }
}
