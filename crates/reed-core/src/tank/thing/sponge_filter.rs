//! Sponge filters that stand in the tank.

use super::air_stone::always;
use super::form::{
    Air, DEVICE, Drive, Fall, Inlet, Pipe, Room, Search, Stance, Stands, amiss_if, at_most,
};
use super::{Background, Body, Cover, FilterRef, Form, Heading, Wall};
use crate::tank::{Bubbles, Running, Tank, Weight};
use crate::units::{Angle, FlowRate, Length, Power};

choice_set! {
    /// What moves the water through the sponge.
    SpongeDrive:
    #[default]
    Air = "air", "air";
    Powerhead = "powerhead", "a powerhead on top";
}

described! {
    /// A sponge filter.
    SpongeFilter {
        /// Air also aerates; a powerhead catches more dirt and ends the bubbles.
        #[serde(default)]
        drive: SpongeDrive = "drive", "Driven by";
        /// Air of the air pump, or water of the powerhead.
        flow: FlowRate = "flow_l_per_h", "Air or water", 1.0..=20000.0;
        /// When it is driven.
        #[serde(default = "always")]
        running: Running = "running", "Runs";
        /// Across the sponge.
        across: Length = "across_cm", "Width", 2.0..=100.0;
        /// Of the sponge.
        height: Length = "height_cm", "Height", 2.0..=150.0;
        /// Pipe above the sponge; a powerhead with a short one blows at half height.
        #[serde(default)]
        riser: Length = "riser_cm", "Riser above the sponge", 0.0..=200.0;
        /// Of a powerhead's stream: 0° to the right, 90° to the back.
        #[serde(default)]
        heading: Angle = "heading_deg", "Points to", -360.0..=360.0;
        /// Above the horizontal; negative is down.
        #[serde(default)]
        up: Angle = "up_deg", "Tilted up by", -90.0..=90.0;
        /// Its entry among the filters, with its sponge.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        filter: Option<FilterRef> = "filter", "Belongs to";
    }
}

impl Default for SpongeFilter {
    fn default() -> Self {
        Self {
            drive: SpongeDrive::Air,
            flow: FlowRate::litres_per_hour(80.0),
            running: Running::Always,
            across: Length::cm(10.0),
            height: Length::cm(12.0),
            riser: Length::cm(8.0),
            heading: Angle::default(),
            up: Angle::default(),
            filter: None,
        }
    }
}

impl SpongeFilter {
    /// How far above its underside the air enters or the powerhead blows.
    pub fn mouth(&self) -> Length {
        match self.drive {
            // The air line ends in the foot of the riser, inside the sponge.
            SpongeDrive::Air => Length::cm(2.0),
            SpongeDrive::Powerhead => Length::cm(self.height.as_cm() + self.riser.as_cm()),
        }
    }
}

impl Form for SpongeFilter {
    fn body(&self, (x, y, z): (f64, f64, f64), _: &Tank) -> Body {
        Body::round((x, y), self.across.as_cm(), (z, z + self.height.as_cm()))
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
            let out = stands.print(stands.top - stands.level);
            format!(
                "{} stands {out} out of the water. Lower it, or raise the water.",
                stands.name
            )
        })
    }

    fn heading(&self) -> Option<Heading> {
        (self.drive == SpongeDrive::Powerhead).then_some(Heading {
            around: self.heading,
            up: self.up,
        })
    }

    fn angles_mut(&mut self) -> Option<(&mut Angle, &mut Angle)> {
        None
    }

    fn stream_above(&self) -> Option<Length> {
        (self.drive == SpongeDrive::Powerhead).then(|| self.mouth())
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
        Inlet::Sponge
    }

    fn air(&self) -> Option<Air> {
        (self.drive == SpongeDrive::Air).then(|| Air {
            flow: self.flow,
            above: self.mouth(),
            bubbles: Bubbles::Coarse,
            running: self.running,
        })
    }

    fn bubbles_mut(&mut self) -> Option<&mut Bubbles> {
        None
    }

    fn fall(&self, _: f64) -> Option<Fall> {
        None
    }

    fn drive(&self) -> Drive {
        match self.drive {
            SpongeDrive::Air => Drive::AirPump,
            SpongeDrive::Powerhead => Drive::Pump,
        }
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
        at_most(
            &mut self.across,
            (room.width * 0.4).min(room.length * 0.3),
            2.0,
        );
        at_most(&mut self.height, room.deep() * 0.6, 2.0);
        at_most(
            &mut self.riser,
            (room.deep() - self.height.as_cm() - 1.0).max(0.0),
            0.0,
        );
    }

    fn usual_place(&self, tank: &Tank) -> (f64, f64, f64) {
        let (x, y) = tank.free_place();
        (x, y, tank.bed.depth.as_cm())
    }

    fn search(&self) -> Option<Search> {
        Some(Search::OnTheBed)
    }
}
