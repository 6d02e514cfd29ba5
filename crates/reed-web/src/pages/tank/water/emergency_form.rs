//! The form for an emergency change: filled from readings, read, and answered.

use std::collections::HashMap;

use jiff::SignedDuration;
use jiff::civil::DateTime;
use reed_core::outlook::ahead::emergency::{KH_STEP, LARGEST, PH_STEP, Water};
use reed_core::tank::{Analyte, Reading, Tank};
use reed_core::units::{Quantity, Refusal, Temperature, Unit, Units, plain, read_amount};
use reed_core::water::chemistry::{NITRITE_LIMIT_MG_L, eifac_words};

use super::emergency_answer::{Answer, answer};
use crate::forms::Refusals;
use crate::view::when;

/// What is asked, as typed; empty fields are filled from the latest readings.
#[derive(Clone, Default, serde::Deserialize)]
#[serde(default)]
pub(super) struct EmergencyInput {
    /// Anything, when the form was sent.
    size: String,
    tan: String,
    nitrite: String,
    ph: String,
    kh: String,
    tap_tan: String,
    tap_ph: String,
    tap_kh: String,
    hot: String,
    cold: String,
    /// May stay empty: the tap holds none, or nobody knows.
    chloramine: String,
    /// May stay empty: by its label.
    conditioner: String,
}

/// A field with what stands in it.
pub(super) struct Field {
    pub(super) name: &'static str,
    pub(super) label: &'static str,
    pub(super) unit: &'static str,
    pub(super) value: String,
    /// Where the value is from, or why it is asked for.
    pub(super) from: String,
}

/// The form with its answer.
pub(super) struct EmergencyForm {
    /// What nobody knows yet.
    pub(super) asked: Vec<Field>,
    /// What is known from readings, or taken as usual.
    pub(super) known: Vec<Field>,
    pub(super) refusals: Refusals,
    pub(super) answer: Option<Answer>,
    /// What it keeps to.
    pub(super) limits: String,
}

impl EmergencyForm {
    /// Something among what is folded away was refused.
    pub(super) fn folds_open(&self) -> bool {
        self.known
            .iter()
            .any(|field| !self.refusals.at(field.name).is_empty())
    }
}

impl EmergencyInput {
    /// Whose latest readings fill the form.
    pub(super) const ANALYTES: [&'static Analyte; 7] = [
        Analyte::AMMONIA,
        Analyte::NITRITE,
        Analyte::PH,
        Analyte::KH,
        Analyte::TAP_AMMONIA,
        Analyte::TAP_PH,
        Analyte::TAP_KH,
    ];
}

/// What the form says, read.
pub(super) struct Waters {
    /// What is in the tank.
    pub(super) here: Water,
    /// What comes out of the tap, chloramine apart.
    pub(super) tap: Water,
    /// The hot tap.
    pub(super) hot: Temperature,
    /// The cold tap.
    pub(super) cold: Temperature,
    /// Of the tap, mg/L of chlorine, if there is any.
    pub(super) chloramine: Option<f64>,
    /// By its label, mL to 100 L, if that was given.
    pub(super) conditioner: Option<f64>,
}

/// Usual temperatures of the taps, °C. From memory.
const HOT_CELSIUS: f64 = 55.0;
const COLD_CELSIUS: f64 = 12.0;

/// Readings of the tank that are older are asked for again: an emergency is not sized by last
/// week's water. Those of the tap last.
const FRESH: SignedDuration = SignedDuration::from_hours(48);

impl EmergencyForm {
    /// The form, and the answer: where it was asked for, or where nothing is missing.
    pub(super) fn of(
        input: &EmergencyInput,
        tank: &Tank,
        latest: &HashMap<&'static str, Reading>,
        now: DateTime,
        units: &Units,
    ) -> Self {
        let was_sent = !input.size.is_empty();
        let mut reader = Reader {
            was_sent,
            latest,
            now,
            units,
            asked: Vec::new(),
            known: Vec::new(),
            refused: Vec::new(),
        };
        let waters = reader.read(input);
        let Reader {
            asked,
            known,
            refused,
            ..
        } = reader;
        let answer = (refused.is_empty() && (was_sent || asked.is_empty()))
            .then(|| answer(&waters, tank, units));
        Self {
            asked,
            known,
            refusals: if was_sent {
                Refusals::of(refused)
            } else {
                Refusals::default()
            },
            answer,
            limits: limits(units),
        }
    }
}

/// What it keeps to, in words.
fn limits(units: &Units) -> String {
    format!(
        "Limits: un-ionised ammonia {} (EIFAC), nitrite {} (soft water, from memory). No change moves pH by more than {PH_STEP} or hardness \
         by more than {}, nor takes more than {:.0} %. The tap is taken as free of nitrite.",
        eifac_words(units.nitrogen),
        units.print(NITRITE_LIMIT_MG_L, Analyte::NITRITE.units, 1),
        Analyte::KH.print(KH_STEP, units),
        LARGEST * 100.0
    )
}

/// Reads the form field by field; what is refused is not a number, and then nothing is answered.
struct Reader<'a> {
    was_sent: bool,
    latest: &'a HashMap<&'static str, Reading>,
    now: DateTime,
    units: &'a Units,
    asked: Vec<Field>,
    known: Vec<Field>,
    refused: Vec<Refusal>,
}

impl Reader<'_> {
    fn read(&mut self, input: &EmergencyInput) -> Waters {
        let here = Water {
            tan: self.water("tan", "Ammonia", Analyte::AMMONIA, &input.tan),
            nitrite: self.water("nitrite", "Nitrite", Analyte::NITRITE, &input.nitrite),
            ph: self.water("ph", "pH", Analyte::PH, &input.ph),
            kh: self.water("kh", "Carbonate hardness", Analyte::KH, &input.kh),
        };
        let tap = Water {
            tan: self.water(
                "tap_tan",
                "Tap: ammonia",
                Analyte::TAP_AMMONIA,
                &input.tap_tan,
            ),
            nitrite: 0.0,
            ph: self.water("tap_ph", "Tap: pH", Analyte::TAP_PH, &input.tap_ph),
            kh: self.water(
                "tap_kh",
                "Tap: carbonate hardness",
                Analyte::TAP_KH,
                &input.tap_kh,
            ),
        };
        Waters {
            here,
            tap,
            hot: self.temperature("hot", "Hot tap", &input.hot, HOT_CELSIUS),
            cold: self.temperature("cold", "Cold tap", &input.cold, COLD_CELSIUS),
            chloramine: self.amount(
                ("chloramine", "Tap: chloramine, if any"),
                &input.chloramine,
                ("mg/L Cl₂", 10.0),
            ),
            conditioner: self.amount(
                ("conditioner", "Conditioner, by its label"),
                &input.conditioner,
                ("mL/100 L", 500.0),
            ),
        }
    }

    /// A value of the water, filled from a fresh reading.
    fn water(
        &mut self,
        name: &'static str,
        label: &'static str,
        analyte: &'static Analyte,
        typed: &str,
    ) -> f64 {
        let unit: &Unit = self.units.of(analyte.units);
        let read = self.latest.get(analyte.id);
        let fresh = read.filter(|reading| {
            name.starts_with("tap_") || self.now.duration_since(reading.taken_at) <= FRESH
        });
        let usual = fresh.map(|reading| plain(unit.from_base(reading.value)));
        let assumed = (fresh.is_none() && analyte == Analyte::TAP_AMMONIA).then(|| "0".to_owned());
        let from = match (fresh, read) {
            (Some(reading), _) => format!("read {}", when(reading.taken_at, self.now)),
            (None, _) if assumed.is_some() => "assumed".to_owned(),
            (None, Some(old)) => format!("last read {}: test it now", when(old.taken_at, self.now)),
            (None, None) => "never read".to_owned(),
        };
        let is_known = usual.is_some() || assumed.is_some();
        let value = if self.was_sent {
            typed.to_owned()
        } else {
            usual.or(assumed).unwrap_or_default()
        };
        let number = analyte.read(&value, self.units).map_err(|refusal| Refusal {
            field: name.to_owned(),
            label: label.to_owned(),
            ..refusal
        });
        let field = Field {
            name,
            label,
            unit: unit.symbol,
            value,
            from,
        };
        if is_known {
            self.known.push(field);
        } else {
            self.asked.push(field);
        }
        self.taken(number)
    }

    /// Of a tap, else what is usual.
    fn temperature(
        &mut self,
        name: &'static str,
        label: &'static str,
        typed: &str,
        usual: f64,
    ) -> Temperature {
        let unit = self.units.of(Temperature::UNITS);
        let value = if self.was_sent {
            typed.to_owned()
        } else {
            plain(unit.from_base(usual).round())
        };
        let read = read_amount(&value, Temperature::UNITS, unit)
            .filter(|celsius| (0.0..=90.0).contains(celsius))
            .ok_or_else(|| {
                let [low, high] =
                    [0.0, 90.0].map(|celsius| self.units.print(celsius, Temperature::UNITS, 0));
                let accepted = format!("Give a temperature from {low} to {high}.");
                Refusal::new(name, label, &value, accepted)
            });
        self.known.push(Field {
            name,
            label,
            unit: unit.symbol,
            value,
            from: "assumed".to_owned(),
        });
        Temperature::celsius(self.taken(read))
    }

    /// What may stay empty.
    fn amount(
        &mut self,
        (name, label): (&'static str, &'static str),
        typed: &str,
        (unit, most): (&'static str, f64),
    ) -> Option<f64> {
        let value = typed.trim().replace(',', ".");
        self.known.push(Field {
            name,
            label,
            unit,
            value: typed.to_owned(),
            from: "may stay empty".to_owned(),
        });
        if value.is_empty() {
            return None;
        }
        let read = value
            .parse()
            .ok()
            .filter(|amount| (0.0..=most).contains(amount));
        let read = read.ok_or_else(|| {
            let accepted = format!("Give a number from 0 to {}, or nothing.", plain(most));
            Refusal::new(name, label, typed, accepted)
        });
        Some(self.taken(read))
    }

    fn taken(&mut self, read: Result<f64, Refusal>) -> f64 {
        read.unwrap_or_else(|refusal| {
            self.refused.push(refusal);
            f64::NAN
        })
    }
}
