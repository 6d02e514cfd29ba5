//! Trays, baskets and in-line chambers.

use super::Medium;
use crate::units::{Length, SmallLength, Volume};

choice_set! {
    /// Where a tray is.
    TrayPlace:
    #[default]
    Inside = "inside", "in the housing";
    Before = "before", "in-line chamber before it";
    After = "after", "in-line chamber after it";
}

described! {
    /// A medium in a tray.
    Portion {
        /// What it is.
        medium: Medium = "medium", "Medium";
        /// As it fills the tray.
        litres: Volume = "litres", "Amount", 0.01..=500.0;
        /// Of a grain, ring or ball.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        grain: Option<SmallLength> = "grain_mm", "Grain", 0.1..=100.0;
        /// The day it went in.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        put_in: Option<jiff::civil::Date> = "put_in", "Put in";
    }
}

impl Portion {
    /// Its surface, m².
    pub fn surface_m2(&self) -> f64 {
        self.litres.as_litres() * self.medium.surface_m2_per_l().value
    }
}

impl Default for Portion {
    fn default() -> Self {
        Self {
            medium: Medium::default(),
            litres: Volume::litres(0.5),
            grain: None,
            put_in: None,
        }
    }
}

described! {
    /// A tray, basket or in-line chamber.
    Tray {
        /// What you call it, such as "lowest basket".
        #[serde(default)]
        name: String = "name", "Name", 0..=40;
        /// In-line chambers sit in the hose.
        #[serde(default)]
        place: TrayPlace = "place", "Where";
        /// What it holds when it is full, with its media.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        holds: Option<Volume> = "holds_l", "Holds", 0.05..=500.0;
        /// From where the water enters it to where it leaves: a flat wide tray chokes later than a tall narrow one.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        depth: Option<Length> = "depth_cm", "Height along the stream", 0.5..=200.0;
        /// What is in it, in the order in which the water meets it.
        #[serde(default)]
        media: Vec<Portion> = "media", "Medium", 0..=12;
    }
}

impl Default for Tray {
    fn default() -> Self {
        Self {
            name: String::new(),
            place: TrayPlace::Inside,
            holds: None,
            depth: None,
            media: vec![Portion::default()],
        }
    }
}
