//! What the twin says of a tank, ready to print.

use reed_core::outlook::forecast::Ensemble;
use reed_core::tank::Tank;
use reed_core::twin::{Stirring, Twin};

use crate::view::{Chart, Dot, hours, percent};

/// What the twin says.
pub(super) struct TwinView {
    pub(super) saturation: String,
    pub(super) pressure: String,
    pub(super) lowest: String,
    pub(super) grade: &'static str,
    pub(super) chart: String,
    pub(super) budget: Vec<BudgetLine>,
    pub(super) to_4: String,
    pub(super) to_2: String,
}

/// A line of the oxygen budget.
pub(super) struct BudgetLine {
    pub(super) name: &'static str,
    pub(super) mg_per_h: String,
    /// Width of its bar, percent of the largest.
    pub(super) share: f64,
    pub(super) gains: bool,
    pub(super) formula: String,
    pub(super) source: &'static str,
}

impl TwinView {
    pub(super) fn of(tank: &Tank, stirring: Stirring, dots: &[Dot]) -> Self {
        let twin = Twin::stirred(tank, stirring);
        let forecast = Ensemble::of_tank(tank)
            .stirred(stirring)
            .forecast(Tank::clone);
        let budget = twin.budget(tank);
        let largest = budget
            .iter()
            .map(|term| term.mg_per_h.abs())
            .fold(1e-9, f64::max);
        Self {
            saturation: format!("{:.2} mg/L", twin.saturation.as_mg_l()),
            pressure: format!("{:.1} kPa", twin.pressure.as_kilopascals()),
            lowest: format!(
                "{:.1} ± {:.1} mg/L, {} of saturation, about {:02.0}:00",
                forecast.lowest,
                forecast.lowest_spread,
                percent(forecast.lowest / forecast.saturation),
                forecast.lowest_hour.round().rem_euclid(24.0)
            ),
            grade: forecast.grade().words(),
            chart: Chart {
                now: &forecast,
                after: None,
                plants: tank.plants,
                dots,
                id: "day",
            }
            .draw(),
            budget: budget
                .iter()
                .map(|term| BudgetLine {
                    name: term.name,
                    mg_per_h: format!("{:+.0} mg/h", term.mg_per_h).replace('-', "−"),
                    share: (100.0 * term.mg_per_h.abs() / largest).round(),
                    gains: term.mg_per_h > 0.0,
                    formula: (term.formula)(),
                    source: term.source,
                })
                .collect(),
            to_4: hours(twin.outage.reaches(4.0)),
            to_2: hours(twin.outage.reaches(2.0)),
        }
    }
}
