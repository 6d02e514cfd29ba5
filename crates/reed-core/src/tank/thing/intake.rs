//! Where a filter takes its water.

use super::form::{
    Air, DEVICE, Drive, Fall, Inlet, Pipe, Room, Search, Stance, Stands, amiss_if, at_most,
};
use super::{Background, Body, FilterRef, Form, Heading, Wall};
use crate::tank::{Bubbles, Running, Tank, Weight};
use crate::units::{Angle, Length, Power, SmallLength};

choice_set! {
    /// What keeps fish out.
    Cover:
    #[default]
    Strainer = "strainer", "strainer";
    Sponge = "sponge", "sponge over it";
}

described! {
    /// An intake.
    Intake {
        /// A sponge keeps fry, shrimp and coarse dirt out and needs rinsing.
        #[serde(default)]
        cover: Cover = "cover", "Cover";
        /// Inside width of the pipe.
        bore: SmallLength = "bore_mm", "Bore", 3.0..=150.0;
        /// Height of the strainer or sponge.
        #[serde(default = "basket")]
        basket: Length = "basket_cm", "Height of the cover", 1.0..=100.0;
        /// The filter that takes water here.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        filter: Option<FilterRef> = "filter", "Belongs to";
    }
}

fn basket() -> Length {
    Length::cm(6.0)
}

impl Default for Intake {
    fn default() -> Self {
        Self {
            cover: Cover::Strainer,
            bore: SmallLength::mm(16.0),
            basket: basket(),
            filter: None,
        }
    }
}

impl Form for Intake {
    fn body(&self, (x, y, z): (f64, f64, f64), _: &Tank) -> Body {
        let half = self.basket.as_cm() / 2.0;
        let cover = if self.cover == Cover::Sponge {
            5.0
        } else {
            1.5
        };
        Body::round(
            (x, y),
            self.bore.as_mm() / 10.0 + cover,
            (z - half, z + half),
        )
    }

    fn solid_share(&self) -> f64 {
        0.0
    }

    fn stance(&self) -> Stance {
        Stance {
            needs_passing_water: true,
            is_housed: true,
            ..DEVICE
        }
    }

    fn hangs_outside(&self) -> Option<Wall> {
        None
    }

    fn amiss(&self, stands: &Stands<'_>) -> Vec<(Weight, String)> {
        if stands.is_out() {
            let out = stands.print(stands.top - stands.level);
            return vec![(
                Weight::Impossible,
                format!(
                    "{} reaches {out} above the water and draws air. Lower it.",
                    stands.name
                ),
            )];
        }
        amiss_if(stands.z < stands.bed, Weight::Impossible, || {
            format!(
                "{} lies in the bed and would draw it in. Raise it above {}.",
                stands.name,
                stands.print(stands.bed)
            )
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
        self.filter
    }

    fn filter_mut(&mut self) -> Option<&mut Option<FilterRef>> {
        Some(&mut self.filter)
    }

    fn pipe(&self) -> Pipe {
        Pipe::Intake
    }

    fn cover_mut(&mut self) -> Option<&mut Cover> {
        Some(&mut self.cover)
    }

    fn inlet(&self) -> Inlet {
        Inlet::Tube {
            has_sponge: self.cover == Cover::Sponge,
        }
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
        None
    }

    fn rescale(&mut self, _: f64, _: f64, _: f64) {}

    fn fit(&mut self, room: &Room) {
        self.filter = room.filter;
        at_most(&mut self.basket, room.deep() * 0.4, 1.0);
    }

    fn usual_place(&self, tank: &Tank) -> (f64, f64, f64) {
        let Room {
            length, width, bed, ..
        } = Room::of(tank);
        (
            5.0_f64.min(length / 4.0),
            width * 0.25,
            bed + 4.0 + self.basket.as_cm() / 2.0,
        )
    }

    fn search(&self) -> Option<Search> {
        Some(Search::WhereMuckComes)
    }
}
