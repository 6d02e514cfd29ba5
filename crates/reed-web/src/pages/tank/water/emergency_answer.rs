//! What to do about poisoned water: the steps of an emergency change, in words.

use reed_core::outlook::ahead::emergency::{Emergency, EmergencyStep, Water, emergency};
use reed_core::tank::{Analyte, Tank, UNIONISED};
use reed_core::units::{Quantity, Temperature, Units, Volume};
use reed_core::water::chemistry::{NITROGEN_PER_CHLORAMINE, conditioner_ml};
use reed_core::water::mixing::{mixed_celsius, share_of_hot, total_gas_percent};
use reed_core::water::oxygen::atmosphere;

use super::emergency_form::Waters;

/// What to do.
pub(super) struct Answer {
    pub(super) headline: String,
    pub(super) lines: Vec<String>,
    pub(super) alarming: bool,
}

/// What to do in this tank with these waters.
pub(super) fn answer(waters: &Waters, tank: &Tank, units: &Units) -> Answer {
    let left = waters.chloramine.unwrap_or(0.0) * NITROGEN_PER_CHLORAMINE;
    let tap = Water {
        tan: waters.tap.tan + left,
        ..waters.tap
    };
    match emergency(&waters.here, &tap, tank.water_temperature(), tank.salinity) {
        Emergency::NotNeeded { nh3 } => Answer {
            headline: "No emergency change is needed".to_owned(),
            lines: vec![format!(
                "Un-ionised ammonia is {}, nitrite {}: both under their limits. Find out why they are there at all.",
                units.print(nh3, UNIONISED, 3),
                Analyte::NITRITE.print(waters.here.nitrite, units)
            )],
            alarming: false,
        },
        Emergency::Refused(why) => Answer {
            headline: "Do not change water now".to_owned(),
            lines: vec![why],
            alarming: true,
        },
        Emergency::Change(steps) => Answer {
            headline: format!("Change {:.0} % now", steps[0].fraction * 100.0),
            lines: in_steps(&steps, waters, left, tank, units),
            alarming: false,
        },
    }
}

/// The changes one after the other, the refill, what the tap does, and the conditioner.
fn in_steps(
    steps: &[EmergencyStep],
    waters: &Waters,
    left: f64,
    tank: &Tank,
    units: &Units,
) -> Vec<String> {
    let litres = tank.net_volume().as_litres();
    let first = steps[0].fraction;
    let mut lines: Vec<String> = steps
        .iter()
        .enumerate()
        .map(|(index, step)| change(index, step, litres, units))
        .collect();
    lines.extend(of_the_taps(waters, first, tank, units));
    lines.push(conditioned(waters.conditioner, first, litres, units));
    if left > 0.0 {
        lines.push(format!(
            "One that says chloramine on it: it leaves {} of ammonia in the refill, which is reckoned with here. A kit reads it, bound or not.",
            Analyte::AMMONIA.print(left, units)
        ));
    }
    if steps.len() > 1 {
        lines.push("Some hours apart: pH and hardness may only move slowly.".to_owned());
    }
    lines
}

fn change(index: usize, step: &EmergencyStep, litres: f64, units: &Units) -> String {
    format!(
        "Change {}: {:.0} %, {}. It leaves ammonia {} (un-ionised {}), nitrite {}, pH {:.1} at the most, {}.",
        index + 1,
        step.fraction * 100.0,
        units.print(step.fraction * litres, Volume::UNITS, 0),
        Analyte::AMMONIA.print(step.after.tan, units),
        units.print(step.nh3, UNIONISED, 3),
        Analyte::NITRITE.print(step.after.nitrite, units),
        step.after.ph,
        Analyte::KH.print(step.after.kh, units)
    )
}

/// How to mix the refill, and what it does when it comes from the cold tap alone.
fn of_the_taps(waters: &Waters, fraction: f64, tank: &Tank, units: &Units) -> Vec<String> {
    let temperature = tank.water_temperature();
    let mixed = share_of_hot(
        waters.cold.as_celsius(),
        waters.hot.as_celsius(),
        temperature.as_celsius(),
    );
    let refill = mixed.map_or_else(
        || "The two taps cannot give the tank's temperature: let the refill stand, or warm it.".to_owned(),
        |share| {
            format!(
                "Refill at {}: {:.0} parts of hot to {:.0} of cold. Measure before and during: stored hot water runs out.",
                units.print(temperature.as_celsius(), Temperature::UNITS, 1),
                (share * 10.0).round(),
                10.0 - (share * 10.0).round()
            )
        },
    );
    let pressure = atmosphere::pressure_at(tank.altitude);
    let gas = total_gas_percent(temperature, waters.cold, fraction, tank.salinity, pressure);
    let bubbles = gas.filter(|gas| *gas > MOST_GAS_PERCENT).map(|gas| {
        format!("Straight from the cold tap it would carry {gas:.0} % of the gas that this water can hold: bubbles on panes and in fish.")
    });
    [refill]
        .into_iter()
        .chain(step_of_temperature(
            temperature,
            waters.cold,
            fraction,
            units,
        ))
        .chain(bubbles)
        .collect()
}

/// More gas than this makes bubbles in fish, percent of saturation. From memory.
const MOST_GAS_PERCENT: f64 = 103.0;

fn conditioned(label: Option<f64>, fraction: f64, litres: f64, units: &Units) -> String {
    let dose = |litres: f64| {
        let volume = units.print(litres, Volume::UNITS, 0);
        label.map_or_else(
            || format!("for {volume}, by its label"),
            |label| format!("{:.1} mL for {volume}", conditioner_ml(litres, label)),
        )
    };
    format!(
        "Conditioner: {} into the refill before it goes in; filled straight from the hose, {}.",
        dose(fraction * litres),
        dose(litres)
    )
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
