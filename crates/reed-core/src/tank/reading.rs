//! What was measured: a value with its spread, when, and with which kit.

use jiff::civil::DateTime;

use super::kit::{self, Kit};
use crate::units::{Refusal, Span, Temperature};

/// Something that is measured. A card; the list is [`Analyte::ALL`].
#[derive(Debug, PartialEq)]
pub struct Analyte {
    /// Id as in the catalogue, the document and the forms.
    pub id: &'static str,
    /// In the keeper's words.
    pub label: &'static str,
    /// Unit of the stored value.
    pub unit: &'static str,
    /// Smallest value that can be.
    pub low: f64,
    /// Largest value that is believed.
    pub high: f64,
    /// Decimals worth printing.
    pub decimals: usize,
}

macro_rules! analytes {
    ($($(#[$doc:meta])* $name:ident = ($id:literal, $label:literal, $unit:literal, $low:expr, $high:expr, $decimals:expr);)+) => {
        impl Analyte {
            $($(#[$doc])* pub const $name: &'static Analyte = &Analyte {
                id: $id, label: $label, unit: $unit, low: $low, high: $high, decimals: $decimals,
            };)+
            /// Everything that can be entered.
            pub const ALL: &'static [&'static Analyte] = &[$(Self::$name),+];
        }
    };
}

analytes! {
    /// Dissolved oxygen.
    OXYGEN = ("do", "Oxygen", "mg/L", 0.0, 25.0, 1);
    /// Water temperature.
    TEMPERATURE = ("temperature", "Water temperature", "°C", 0.0, 45.0, 1);
    /// Total ammonia, as N.
    AMMONIA = ("tan", "Ammonia (as N)", "mg/L", 0.0, 20.0, 2);
    /// Nitrite, as N.
    NITRITE = ("nitrite", "Nitrite (as N)", "mg/L", 0.0, 20.0, 2);
    /// pH.
    PH = ("ph", "pH", "", 4.0, 10.0, 1);
    /// Carbonate hardness.
    KH = ("kh", "Carbonate hardness", "dKH", 0.0, 40.0, 1);
}

impl Analyte {
    /// Reads a typed value of this analyte; a temperature in any unit of temperature.
    ///
    /// # Errors
    /// When it is no number or lies outside what can be.
    pub fn read(&self, text: &str) -> Result<f64, Refusal> {
        if self == Self::TEMPERATURE {
            return Span::<Temperature>::new("value", self.label, self.low, self.high).read(text).map(Temperature::as_celsius);
        }
        let tidy = text.trim().replace(['−', '–'], "-").replace(',', ".");
        let number = tidy.trim_end_matches(self.unit).trim().parse::<f64>().ok();
        number.filter(|value| self.holds(*value)).ok_or_else(|| self.refuse(text.trim()))
    }

    /// Whether a value can be.
    pub fn holds(&self, value: f64) -> bool {
        value.is_finite() && value >= self.low && value <= self.high
    }

    fn refuse(&self, given: &str) -> Refusal {
        Refusal {
            field: "value",
            label: self.label,
            given: if given.is_empty() { "nothing" } else { given }.to_owned(),
            accepted: format!("Give a number from {} to {} {}", self.low, self.high, self.unit).trim().to_owned() + ".",
        }
    }

    /// A value as it is printed, with its unit.
    pub fn print(&self, value: f64) -> String {
        format!("{value:.*} {}", self.decimals, self.unit).trim().to_owned()
    }
}

/// The analyte with this id.
pub fn analyte(id: &str) -> Option<&'static Analyte> {
    Analyte::ALL.iter().find(|analyte| analyte.id == id).copied()
}

/// One measurement.
#[derive(Clone, Debug, PartialEq)]
pub struct Reading {
    /// What was measured.
    pub analyte: &'static Analyte,
    /// Value in the analyte's unit.
    pub value: f64,
    /// One standard deviation of the kit and the reading of it, same unit.
    pub spread: f64,
    /// When, by the clock on the wall beside the tank.
    pub taken_at: DateTime,
    /// The kit, if said.
    pub kit: Option<&'static Kit>,
}

impl Reading {
    /// A reading with the usual spread of the analyte's first kit.
    pub fn usual(analyte: &'static Analyte, value: f64, taken_at: DateTime) -> Self {
        let kit = kit::first_for(analyte);
        Self { analyte, value, spread: kit.spread, taken_at, kit: Some(kit) }
    }

    /// Hour of the day at which it was taken, 0 to 24.
    pub fn hour_of_day(&self) -> f64 {
        hour_of_day(self.taken_at)
    }

    /// Value and spread as printed: "4.8 ± 0.5 mg/L".
    pub fn print(&self) -> String {
        let decimals = self.analyte.decimals;
        format!("{:.decimals$} ± {:.decimals$} {}", self.value, self.spread, self.analyte.unit).trim().to_owned()
    }
}

/// Hour of the day, 0 to 24.
pub fn hour_of_day(at: DateTime) -> f64 {
    f64::from(at.hour()) + f64::from(at.minute()) / 60.0
}

#[cfg(test)]
mod tests {
    use super::Analyte;

    #[test]
    fn a_typed_value_is_read_or_refused_with_the_reason() {
        assert_eq!(Analyte::OXYGEN.read("5,5 mg/L"), Ok(5.5));
        assert!((Analyte::TEMPERATURE.read("77 °F").expect("77 °F") - 25.0).abs() < 1e-9);
        for text in ["-3", "−3", "abc", "", "900", "NaN", "inf"] {
            let refusal = Analyte::OXYGEN.read(text).expect_err(text).to_string();
            assert!(refusal.contains("Oxygen") && refusal.ends_with("Give a number from 0 to 25 mg/L."), "{refusal}");
        }
    }
}
