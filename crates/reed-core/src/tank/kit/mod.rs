//! Water tests: what a kit measures, how far to trust it, and how it is done.
//!
//! A kind of kit is one file with its cards. To add one: the file, its `mod` line and its row in
//! [`ALL`].

mod acidity;
mod flow;
mod nitrogen;
mod oxygen;
mod shop;
mod tap;
mod thermometer;
mod traces;

use super::Analyte;

/// A generic water test.
#[derive(Debug, PartialEq)]
pub struct Kit {
    /// Id as in documents and forms.
    pub id: &'static str,
    /// In the keeper's words.
    pub title: &'static str,
    /// What it measures.
    pub analyte: &'static Analyte,
    /// One standard deviation to assume: half a colour step for a drop kit. From memory unless the
    /// card says otherwise.
    pub spread: f64,
    /// How its value is found.
    pub shows: Shows,
    /// The steps, in order.
    pub steps: &'static [Step],
}

/// How a kit shows its value.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Shows {
    /// By a colour that is held against a card: between two patches is a value too.
    Colour,
    /// By the number of drops until the colour turns.
    Drops,
    /// As a number, on a display, a scale or by a clock.
    Number,
}

/// A step of a test. Times are common practice; the leaflet of one's own kit goes before.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Step {
    /// What to do.
    pub text: &'static str,
    /// How long it takes, by the clock, s; 0 where no clock is needed.
    pub seconds: u32,
    /// The same in salt water.
    pub seconds_in_salt: u32,
}

const fn say(text: &'static str) -> Step {
    wait(text, 0)
}

const fn wait(text: &'static str, seconds: u32) -> Step {
    Step {
        text,
        seconds,
        seconds_in_salt: seconds,
    }
}

/// Every kit.
pub const ALL: &[&Kit] = &[
    &oxygen::DROP_KIT,
    &oxygen::METER,
    &thermometer::GLASS,
    &nitrogen::AMMONIA_DROPS,
    &nitrogen::NITRITE_DROPS,
    &acidity::PH_DROPS,
    &nitrogen::NITRATE_DROPS,
    &acidity::KH_DROPS,
    &acidity::GH_DROPS,
    &flow::BUCKET,
    &traces::PHOSPHATE_DROPS,
    &traces::COPPER_DROPS,
    &tap::AMMONIA,
    &tap::NITRATE,
    &tap::PH,
    &tap::KH,
    &tap::GH,
    &shop::AMMONIA,
    &shop::NITRITE,
    &shop::NITRATE,
    &shop::PH,
    &shop::KH,
    &shop::GH,
    &shop::PHOSPHATE,
    &shop::COPPER,
];

/// The kit with this id.
pub fn by_id(id: &str) -> Option<&'static Kit> {
    ALL.iter().find(|kit| kit.id == id).copied()
}

/// The kit to assume for an analyte when none was named.
///
/// # Panics
/// Never for a listed analyte: a test walks the list.
pub fn first_for(analyte: &Analyte) -> &'static Kit {
    ALL.iter()
        .find(|kit| kit.analyte.id == analyte.id)
        .expect("every analyte has a kit, as a test proves")
}

#[cfg(test)]
mod tests {
    use super::{ALL, by_id, first_for};
    use crate::tank::Analyte;

    #[test]
    fn every_analyte_has_a_kit_and_every_kit_a_spread_and_steps() {
        for analyte in Analyte::ALL {
            assert_eq!(first_for(analyte).analyte, *analyte);
        }
        for kit in ALL {
            assert_eq!(by_id(kit.id), Some(*kit), "{} is listed twice", kit.id);
            assert!(
                kit.spread > 0.0 && kit.spread < kit.analyte.high / 4.0,
                "{}",
                kit.id
            );
            assert!(!kit.steps.is_empty(), "{}", kit.id);
        }
    }
}
