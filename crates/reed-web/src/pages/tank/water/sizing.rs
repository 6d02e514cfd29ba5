//! An emergency change, sized from readings.

use std::collections::HashMap;

use jiff::SignedDuration;
use jiff::civil::DateTime;
use reed_core::outlook::ahead::emergency::{
    Emergency, KH_STEP, LARGEST, PH_STEP, Water, emergency,
};
use reed_core::tank::{Analyte, Reading, Tank, UNIONISED};
use reed_core::units::{Quantity, Refusal, Temperature, Units, plain, read_amount};
use reed_core::water::chemistry::{
    NITRITE_LIMIT_MG_L, NITROGEN_PER_CHLORAMINE, conditioner_ml, eifac_words,
};
use reed_core::water::mixing::{mixed_celsius, share_of_hot, total_gas_percent};
use reed_core::water::oxygen::atmosphere;

use crate::forms::Refusals;
use crate::view::when;

/// What is asked, as typed; empty fields are filled from the latest readings.
#[derive(Clone, Default, serde::Deserialize)]
#[serde(default)]
pub(super) struct SizingInput {
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
pub(super) struct Sized {
    /// What nobody knows yet.
    pub(super) asked: Vec<Field>,
    /// What is known from readings, or taken as usual.
    pub(super) known: Vec<Field>,
    pub(super) refusals: Refusals,
    pub(super) answer: Option<Answer>,
    /// What it keeps to.
    pub(super) limits: String,
}

impl Sized {
    /// Something among what is folded away was refused.
    pub(super) fn folds_open(&self) -> bool {
        self.known
            .iter()
            .any(|field| !self.refusals.at(field.name).is_empty())
    }
}

/// What to do.
pub(super) struct Answer {
    pub(super) headline: String,
    pub(super) lines: Vec<String>,
    pub(super) alarming: bool,
}

impl SizingInput {
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

    /// Name, label, analyte, what was typed.
    fn waters(&self) -> [(&'static str, &'static str, &'static Analyte, &str); 7] {
        [
            ("tan", "Ammonia", Analyte::AMMONIA, &self.tan),
            ("nitrite", "Nitrite", Analyte::NITRITE, &self.nitrite),
            ("ph", "pH", Analyte::PH, &self.ph),
            ("kh", "Carbonate hardness", Analyte::KH, &self.kh),
            (
                "tap_tan",
                "Tap: ammonia",
                Analyte::TAP_AMMONIA,
                &self.tap_tan,
            ),
            ("tap_ph", "Tap: pH", Analyte::TAP_PH, &self.tap_ph),
            (
                "tap_kh",
                "Tap: carbonate hardness",
                Analyte::TAP_KH,
                &self.tap_kh,
            ),
        ]
    }
}

/// Usual temperatures of the taps, °C. From memory.
const TAPS_CELSIUS: [f64; 2] = [55.0, 12.0];

/// Readings of the tank that are older are asked for again: an emergency is not sized by last
/// week's water. Those of the tap last.
const FRESH: SignedDuration = SignedDuration::from_hours(48);

impl Sized {
    /// The form, and the answer: where it was asked for, or where nothing is missing.
    pub(super) fn of(
        input: &SizingInput,
        tank: &Tank,
        latest: &HashMap<&'static str, Reading>,
        now: DateTime,
        units: &Units,
    ) -> Self {
        let was_sent = !input.size.is_empty();
        let temperature = units.of(Temperature::UNITS);
        let mut refused: Vec<Refusal> = Vec::new();
        let (mut asked, mut known) = (Vec::new(), Vec::new());
        let mut values = Vec::new();
        for (name, label, analyte, typed) in input.waters() {
            let unit = units.of(analyte.units);
            let read = latest.get(analyte.id);
            let fresh = read.filter(|reading| {
                name.starts_with("tap_") || now.duration_since(reading.taken_at) <= FRESH
            });
            let usual = fresh.map(|reading| plain(unit.from_base(reading.value)));
            let assumed = (fresh.is_none() && name == "tap_tan").then(|| "0".to_owned());
            let from = match (fresh, read) {
                (Some(reading), _) => format!("read {}", when(reading.taken_at, now)),
                (None, _) if assumed.is_some() => "assumed".to_owned(),
                (None, Some(old)) => format!("last read {}: test it now", when(old.taken_at, now)),
                (None, None) => "never read".to_owned(),
            };
            let is_known = usual.is_some() || assumed.is_some();
            let value = if was_sent {
                typed.to_owned()
            } else {
                usual.or(assumed).unwrap_or_default()
            };
            let number = analyte.read(&value, units).map_err(|refusal| Refusal {
                field: name.to_owned(),
                label: label.to_owned(),
                ..refusal
            });
            values.push(number.unwrap_or_else(|refusal| {
                refused.push(refusal);
                f64::NAN
            }));
            let field = Field {
                name,
                label,
                unit: unit.symbol,
                value,
                from,
            };
            if is_known {
                known.push(field)
            } else {
                asked.push(field)
            }
        }
        for ((name, label, typed), usual) in [
            ("hot", "Hot tap", &input.hot),
            ("cold", "Cold tap", &input.cold),
        ]
        .into_iter()
        .zip(TAPS_CELSIUS)
        {
            let value = if was_sent {
                typed.clone()
            } else {
                plain(temperature.from_base(usual).round())
            };
            let read = read_amount(&value, Temperature::UNITS, temperature)
                .filter(|celsius| (0.0..=90.0).contains(celsius));
            values.push(read.unwrap_or_else(|| {
                let [low, high] =
                    [0.0, 90.0].map(|celsius| units.print(celsius, Temperature::UNITS, 0));
                refused.push(Refusal::new(
                    name,
                    label,
                    &value,
                    format!("Give a temperature from {low} to {high}."),
                ));
                f64::NAN
            }));
            known.push(Field {
                name,
                label,
                unit: temperature.symbol,
                value,
                from: "assumed".to_owned(),
            });
        }
        for (name, label, typed, unit, most) in [
            (
                "chloramine",
                "Tap: chloramine, if any",
                &input.chloramine,
                "mg/L Cl₂",
                10.0,
            ),
            (
                "conditioner",
                "Conditioner, by its label",
                &input.conditioner,
                "mL/100 L",
                500.0,
            ),
        ] {
            let value = typed.trim().replace(',', ".");
            let read = if value.is_empty() {
                Some(f64::NAN)
            } else {
                value
                    .parse()
                    .ok()
                    .filter(|amount| (0.0..=most).contains(amount))
            };
            values.push(read.unwrap_or_else(|| {
                refused.push(Refusal::new(
                    name,
                    label,
                    typed,
                    format!("Give a number from 0 to {}, or nothing.", plain(most)),
                ));
                f64::NAN
            }));
            known.push(Field {
                name,
                label,
                unit,
                value: typed.clone(),
                from: "may stay empty".to_owned(),
            });
        }
        let answer = (refused.is_empty() && (was_sent || asked.is_empty()))
            .then(|| answer(&values, tank, units));
        let limits = format!(
            "Limits: un-ionised ammonia {} (EIFAC), nitrite {} (soft water, from memory). No change moves pH by more than {PH_STEP} or hardness \
             by more than {}, nor takes more than {:.0} %. The tap is taken as free of nitrite.",
            eifac_words(units.nitrogen),
            units.print(NITRITE_LIMIT_MG_L, Analyte::NITRITE.units, 1),
            Analyte::KH.print(KH_STEP, units),
            LARGEST * 100.0
        );
        Self {
            asked,
            known,
            refusals: if was_sent {
                Refusals::of(refused)
            } else {
                Refusals::default()
            },
            answer,
            limits,
        }
    }
}

fn answer(values: &[f64], tank: &Tank, units: &Units) -> Answer {
    let [
        tan,
        nitrite,
        ph,
        kh,
        tap_tan,
        tap_ph,
        tap_kh,
        hot,
        cold,
        chloramine,
        conditioner,
    ] = values
    else {
        unreachable!("eleven fields")
    };
    let here = Water {
        tan: *tan,
        nitrite: *nitrite,
        ph: *ph,
        kh: *kh,
    };
    // What was not given is not a number, which `max` passes over.
    let left = chloramine.max(0.0) * NITROGEN_PER_CHLORAMINE;
    let tap = Water {
        tan: tap_tan + left,
        nitrite: 0.0,
        ph: *tap_ph,
        kh: *tap_kh,
    };
    let temperature = tank.water_temperature();
    let litres = tank.net_volume().as_litres();
    let ammonia = |nitrogen: f64| Analyte::AMMONIA.print(nitrogen, units);
    let poison = |nitrogen: f64| units.print(nitrogen, UNIONISED, 3);
    let nitrites = |nitrogen: f64| Analyte::NITRITE.print(nitrogen, units);
    let volume = |litres: f64| units.print(litres, reed_core::units::Volume::UNITS, 0);
    match emergency(&here, &tap, temperature, tank.salinity) {
        Emergency::NotNeeded { nh3 } => Answer {
            headline: "No emergency change is needed".to_owned(),
            lines: vec![format!(
                "Un-ionised ammonia is {}, nitrite {}: both under their limits. Find out why they are there at all.",
                poison(nh3),
                nitrites(*nitrite)
            )],
            alarming: false,
        },
        Emergency::Refused(why) => Answer {
            headline: "Do not change water now".to_owned(),
            lines: vec![why],
            alarming: true,
        },
        Emergency::Change(steps) => {
            let mut lines: Vec<String> = steps
                .iter()
                .enumerate()
                .map(|(index, step)| {
                    format!(
                        "Change {}: {:.0} %, {}. It leaves ammonia {} (un-ionised {}), nitrite {}, pH {:.1} at the most, {}.",
                        index + 1,
                        step.fraction * 100.0,
                        volume(step.fraction * litres),
                        ammonia(step.after.tan),
                        poison(step.nh3),
                        nitrites(step.after.nitrite),
                        step.after.ph,
                        Analyte::KH.print(step.after.kh, units)
                    )
                })
                .collect();
            lines.push(share_of_hot(*cold, *hot, temperature.as_celsius()).map_or_else(
                || "The two taps cannot give the tank's temperature: let the refill stand, or warm it.".to_owned(),
                |share| {
                    format!(
                        "Refill at {}: {:.0} parts of hot to {:.0} of cold. Measure before and during: stored hot water runs out.",
                        units.print(temperature.as_celsius(), Temperature::UNITS, 1),
                        (share * 10.0).round(),
                        10.0 - (share * 10.0).round()
                    )
                },
            ));
            lines.extend(step_of_temperature(
                temperature,
                Temperature::celsius(*cold),
                steps[0].fraction,
                units,
            ));
            let pressure = atmosphere::pressure_at(tank.altitude);
            let first = steps[0].fraction;
            if let Some(gas) = total_gas_percent(
                temperature,
                Temperature::celsius(*cold),
                first,
                tank.salinity,
                pressure,
            )
            .filter(|gas| *gas > 103.0)
            {
                lines.push(format!("Straight from the cold tap it would carry {gas:.0} % of the gas that this water can hold: bubbles on panes and in fish."));
            }
            let dose = |litres: f64| {
                if conditioner.is_nan() {
                    format!("for {}, by its label", volume(litres))
                } else {
                    format!(
                        "{:.1} mL for {}",
                        conditioner_ml(litres, *conditioner),
                        volume(litres)
                    )
                }
            };
            lines.push(format!(
                "Conditioner: {} into the refill before it goes in; filled straight from the hose, {}.",
                dose(first * litres),
                dose(litres)
            ));
            if left > 0.0 {
                lines.push(format!(
                    "One that says chloramine on it: it leaves {} of ammonia in the refill, which is reckoned with here. A kit reads it, bound or not.",
                    ammonia(left)
                ));
            }
            if steps.len() > 1 {
                lines.push("Some hours apart: pH and hardness may only move slowly.".to_owned());
            }
            Answer {
                headline: format!("Change {:.0} % now", first * 100.0),
                lines,
                alarming: false,
            }
        }
    }
}

/// Refills are matched to within so much, °C: the step itself stresses or kills. From memory.
const MATCHED_CELSIUS: f64 = 2.0;

/// What the cold tap alone would do to the temperature, where it is more than animals should bear.
fn step_of_temperature(
    tank: Temperature,
    cold: Temperature,
    fraction: f64,
    units: &Units,
) -> Option<String> {
    let after = mixed_celsius(tank.as_celsius(), cold.as_celsius(), fraction);
    let step = tank.as_celsius() - after;
    (step.abs() > MATCHED_CELSIUS).then(|| {
        format!(
            "With the cold tap alone the tank would go to {}: that step by itself stresses or kills. Match the refill to within 1 to 2 °C.",
            units.print(after, Temperature::UNITS, 1)
        )
    })
}
