//! Where a filter takes its water.

use super::{Body, FilterRef, Form};
use crate::tank::Tank;
use crate::units::{Length, SmallLength};

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

    fn filter(&self) -> Option<FilterRef> {
        self.filter
    }
}
