//! What was measured: a value with its spread, when, and with which kit.

use jiff::civil::DateTime;

use super::kit::{self, Kit};
use crate::units::masses::{
    AMMONIA_PER_NITROGEN, AMMONIUM_PER_NITROGEN, CALCIUM_CARBONATE_PER_DEGREE,
    CALCIUM_CARBONATE_PER_MEQ, NITRATE_PER_NITROGEN, NITRITE_PER_NITROGEN,
};
use crate::units::{
    FlowRate, Quantity, Refusal, Temperature, Unit, Units, accepted_amount, read_amount,
};

/// Something that is measured. A card; the list is [`Analyte::ALL`].
#[derive(Debug, PartialEq)]
pub struct Analyte {
    /// Id as in the catalogue, the document and the forms.
    pub id: &'static str,
    /// In the keeper's words.
    pub label: &'static str,
    /// Units it can be given in; the first is that of the stored value.
    pub units: &'static [Unit],
    /// Smallest value that can be.
    pub low: f64,
    /// Largest value that is believed.
    pub high: f64,
    /// Decimals worth printing.
    pub decimals: usize,
}

macro_rules! analytes {
    ($($(#[$doc:meta])* $name:ident = ($id:literal, $label:literal, $units:expr, $low:expr, $high:expr, $decimals:expr);)+) => {
        impl Analyte {
            $($(#[$doc])* pub const $name: &'static Analyte = &Analyte {
                id: $id, label: $label, units: $units, low: $low, high: $high, decimals: $decimals,
            };)+
            /// Everything that can be entered.
            pub const ALL: &'static [&'static Analyte] = &[$(Self::$name),+];
        }
    };
}

const fn unit(symbol: &'static str, factor: f64) -> Unit {
    Unit {
        symbol,
        also: &[],
        factor,
        offset: 0.0,
    }
}

const MG_PER_L: &[Unit] = &[Unit {
    also: &["ppm", "mgl"],
    ..unit("mg/L", 1.0)
}];
/// As its nitrogen and as the ion.
const AMMONIA: &[Unit] = &[
    Unit {
        also: &["mg/l"],
        ..unit("mg/L N", 1.0)
    },
    unit("mg/L NH₄", 1.0 / AMMONIUM_PER_NITROGEN),
];
/// The poisonous part of ammonia, which is computed and never read.
pub const UNIONISED: &[Unit] = &[
    unit("mg/L N", 1.0),
    unit("mg/L NH₃", 1.0 / AMMONIA_PER_NITROGEN),
];
/// As its nitrogen and as the ion.
const NITRITE: &[Unit] = &[
    Unit {
        also: &["mg/l"],
        ..unit("mg/L N", 1.0)
    },
    unit("mg/L NO₂", 1.0 / NITRITE_PER_NITROGEN),
];
/// As its nitrogen and as the ion.
const NITRATE: &[Unit] = &[
    Unit {
        also: &["mg/l"],
        ..unit("mg/L N", 1.0)
    },
    unit("mg/L NO₃", 1.0 / NITRATE_PER_NITROGEN),
];
/// One degree of general hardness is as much calcium and magnesium as one of carbonate hardness is
/// carbonate.
const GENERAL_HARDNESS: &[Unit] = &[
    Unit {
        also: &["dh", "°dh", "gh"],
        ..unit("dGH", 1.0)
    },
    unit("mg/L CaCO₃", 1.0 / CALCIUM_CARBONATE_PER_DEGREE),
    unit(
        "meq/L",
        CALCIUM_CARBONATE_PER_MEQ / CALCIUM_CARBONATE_PER_DEGREE,
    ),
];
/// In degrees, as calcium carbonate and in milliequivalents.
const HARDNESS: &[Unit] = &[
    Unit {
        also: &["dh", "°dh", "kh"],
        ..unit("dKH", 1.0)
    },
    unit("mg/L CaCO₃", 1.0 / CALCIUM_CARBONATE_PER_DEGREE),
    unit(
        "meq/L",
        CALCIUM_CARBONATE_PER_MEQ / CALCIUM_CARBONATE_PER_DEGREE,
    ),
];

analytes! {
    /// Dissolved oxygen. Cold water in full light, half as much again as saturated, holds 20 mg/L.
    OXYGEN = ("do", "Oxygen", MG_PER_L, 0.0, 20.0, 1);
    /// Water temperature.
    TEMPERATURE = ("temperature", "Water temperature", Temperature::UNITS, 0.0, 45.0, 1);
    /// Total ammonia, as N.
    AMMONIA = ("tan", "Ammonia", AMMONIA, 0.0, 20.0, 2);
    /// Nitrite, as N.
    NITRITE = ("nitrite", "Nitrite", NITRITE, 0.0, 20.0, 2);
    /// pH.
    PH = ("ph", "pH", &[unit("", 1.0)], 4.0, 10.0, 1);
    /// Carbonate hardness.
    KH = ("kh", "Carbonate hardness", HARDNESS, 0.0, 40.0, 1);
    /// General hardness.
    GH = ("gh", "General hardness", GENERAL_HARDNESS, 0.0, 60.0, 1);
    /// Water through all filters together.
    FLOW = ("flow", "Flow", FlowRate::UNITS, 0.0, 100_000.0, 0);
    /// Nitrate, as N.
    NITRATE = ("nitrate", "Nitrate", NITRATE, 0.0, 150.0, 1);
    /// Phosphate, as the ion.
    PHOSPHATE = ("phosphate", "Phosphate", MG_PER_L, 0.0, 50.0, 2);
    /// Copper.
    COPPER = ("copper", "Copper", MG_PER_L, 0.0, 10.0, 2);
    /// Total ammonia of the tap, as N.
    TAP_AMMONIA = ("tap-tan", "Ammonia of the tap water", AMMONIA, 0.0, 20.0, 2);
    /// Nitrate of the tap, as N.
    TAP_NITRATE = ("tap-nitrate", "Nitrate of the tap water", NITRATE, 0.0, 150.0, 1);
    /// pH of the tap.
    TAP_PH = ("tap-ph", "pH of the tap water", &[unit("", 1.0)], 4.0, 10.0, 1);
    /// Carbonate hardness of the tap.
    TAP_KH = ("tap-kh", "Carbonate hardness of the tap water", HARDNESS, 0.0, 40.0, 1);
    /// General hardness of the tap.
    TAP_GH = ("tap-gh", "General hardness of the tap water", GENERAL_HARDNESS, 0.0, 60.0, 1);
}

impl Analyte {
    /// Reads a typed value of this analyte, in any of its units; without one, in the keeper's.
    ///
    /// # Errors
    /// When it is no number or lies outside what can be.
    pub fn read(&self, text: &str, units: &Units) -> Result<f64, Refusal> {
        let usual = units.of(self.units);
        let value = read_amount(text, self.units, usual).filter(|value| self.holds(*value));
        value.ok_or_else(|| {
            Refusal::new(
                "value",
                self.label,
                text,
                accepted_amount(self.low, self.high, self.units, usual),
            )
        })
    }

    /// It is read of the water that goes in, and not of the tank.
    pub fn is_of_tap(&self) -> bool {
        [
            Self::TAP_AMMONIA,
            Self::TAP_NITRATE,
            Self::TAP_PH,
            Self::TAP_KH,
            Self::TAP_GH,
        ]
        .contains(&self)
    }

    /// Kits report it as the ion or as its nitrogen.
    pub fn is_nitrogen(&self) -> bool {
        [
            Self::AMMONIA,
            Self::NITRITE,
            Self::NITRATE,
            Self::TAP_AMMONIA,
            Self::TAP_NITRATE,
        ]
        .contains(&self)
    }

    /// Whether a value can be.
    pub fn holds(&self, value: f64) -> bool {
        value.is_finite() && value >= self.low && value <= self.high
    }

    /// A value as it is printed, with its unit.
    pub fn print(&self, value: f64, units: &Units) -> String {
        units.print(value, self.units, self.decimals)
    }
}

/// The analyte with this id.
pub fn analyte(id: &str) -> Option<&'static Analyte> {
    Analyte::ALL
        .iter()
        .find(|analyte| analyte.id == id)
        .copied()
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
        Self {
            analyte,
            value,
            spread: kit.spread,
            taken_at,
            kit: Some(kit),
        }
    }

    /// Hour of the day at which it was taken, 0 to 24.
    pub fn hour_of_day(&self) -> f64 {
        hour_of_day(self.taken_at)
    }

    /// Value and spread as printed: "4.8 ± 0.5 mg/L".
    pub fn print(&self, units: &Units) -> String {
        let unit = units.of(self.analyte.units);
        let (value, spread) = (unit.from_base(self.value), self.spread / unit.factor);
        let decimals = self.analyte.decimals;
        format!("{value:.decimals$} ± {spread:.decimals$} {}", unit.symbol)
            .trim()
            .to_owned()
    }
}

/// Hour of the day, 0 to 24.
pub fn hour_of_day(at: DateTime) -> f64 {
    f64::from(at.hour()) + f64::from(at.minute()) / 60.0
}

#[cfg(test)]
mod tests {
    use super::{Analyte, Reading};
    use crate::units::masses::NITRITE_PER_NITROGEN;
    use crate::units::{NitrogenForm, Units};

    const AS_STORED: Units = Units::BASE;

    #[test]
    fn a_typed_value_is_read_or_refused_with_the_reason() {
        assert_eq!(Analyte::OXYGEN.read("5,5 mg/L", &AS_STORED), Ok(5.5));
        assert!(
            (Analyte::TEMPERATURE
                .read("77 °F", &AS_STORED)
                .expect("77 °F")
                - 25.0)
                .abs()
                < 1e-9
        );
        for text in ["-3", "−3", "abc", "", "900", "NaN", "inf"] {
            let refusal = Analyte::OXYGEN
                .read(text, &AS_STORED)
                .expect_err(text)
                .to_string();
            assert!(
                refusal.contains("Oxygen") && refusal.ends_with("Give a number from 0 to 20 mg/L."),
                "{refusal}"
            );
        }
    }

    /// A kit that reports the ion: 1.0 mg/L of nitrite is 0.3045 mg/L of its nitrogen.
    #[test]
    fn a_kit_that_reports_the_ion_is_stored_as_nitrogen_and_printed_as_the_ion() {
        let ion = Units {
            nitrogen: NitrogenForm::Ion,
            ..AS_STORED
        };
        let stored = Analyte::NITRITE.read("1.0", &ion).expect("sound");
        assert!((stored - 0.3045).abs() < 1e-4);
        assert!(
            (Analyte::NITRITE
                .read("1 mg/L N", &ion)
                .expect("says its unit")
                - 1.0)
                .abs()
                < 1e-12
        );
        let reading = Reading {
            spread: 0.1 / NITRITE_PER_NITROGEN,
            ..Reading::usual(
                Analyte::NITRITE,
                stored,
                jiff::civil::date(2026, 3, 1).at(9, 0, 0, 0),
            )
        };
        assert_eq!(reading.print(&ion), "1.00 ± 0.10 mg/L NO₂");
    }
}
