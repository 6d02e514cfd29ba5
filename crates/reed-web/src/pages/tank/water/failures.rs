//! What becomes of the oxygen when something fails.

use jiff::ToSpan;
use jiff::civil::Date;
use reed_core::outlook::failures::{self, Failure};
use reed_core::tank::Tank;
use reed_core::twin::Stirring;
use reed_core::units::{Quantity, Temperature, Units};
use reed_core::water::oxygen::demand::catalyst_days;

/// A line for everything that can fail in a tank.
pub(super) fn all(tank: &Tank, stirring: Stirring, units: &Units) -> Vec<FailureRow> {
    failures::ALL
        .iter()
        .filter_map(|failure| told(failure, tank, stirring, units))
        .collect()
}

/// Warmer by so much is worth telling, °C.
const WARMER_CELSIUS: f64 = 0.5;

/// What fails, in words.
pub(super) struct FailureRow {
    pub(super) name: &'static str,
    /// Lowest oxygen, and after how long.
    pub(super) lowest: String,
    pub(super) to_distress: String,
    pub(super) to_death: String,
    /// Where it rises.
    pub(super) temperature: String,
}

fn told(failure: &Failure, tank: &Tank, stirring: Stirring, units: &Units) -> Option<FailureRow> {
    let fall = failure.fall(tank, stirring)?;
    let (lowest, after) = fall.lowest;
    let hours = |hours: Option<f64>| {
        hours.map_or_else(|| "over 72 h".to_owned(), |hours| format!("{hours:.0} h"))
    };
    let warmer = fall.celsius > tank.water_temperature().as_celsius() + WARMER_CELSIUS;
    let print = |celsius: f64| units.print(celsius, Temperature::UNITS, 0);
    let [to_distress, to_death] = fall.hours_to.map(hours);
    Some(FailureRow {
        name: failure.name,
        lowest: format!("{lowest:.1} mg/L, {after:.0} h"),
        to_distress,
        to_death,
        temperature: if warmer {
            print(fall.celsius)
        } else {
            "–".to_owned()
        },
    })
}

/// When the catalysts run out, as far as it was written down.
pub(super) fn peroxide(tank: &Tank, today: Date) -> Option<String> {
    let (each, filled) = (tank.peroxide_each?, tank.peroxide_filled?);
    let days = catalyst_days(each);
    #[expect(clippy::cast_possible_truncation, reason = "some weeks")]
    let out = filled.saturating_add((days as i64).days());
    let [filled, last] = [filled, out].map(|day| day.strftime("%-d %B").to_string());
    (tank.peroxide_catalysts > 0).then(|| {
        if out <= today {
            format!("Filled on {filled}, the peroxide has run out since {last}, but the oxygen above counts with it. Fill it and enter the day, or set the devices to none.")
        } else {
            format!("Filled on {filled}, the peroxide lasts {days:.0} days: until {last}.")
        }
    })
}
