//! What a change does beside the day of oxygen, as lines of a page.

use reed_core::remedy::Effects;
use reed_core::remedy::effect::{About, Line};
use reed_core::tank::Analyte;
use reed_core::units::masses::NITRATE_PER_NITROGEN;
use reed_core::units::{FlowRate, Quantity as _, Units, Volume};

use super::percent;

/// A line: what it is of, the number before and after, and whether that is better.
pub(crate) struct EffectLine {
    pub(crate) label: String,
    pub(crate) before: String,
    pub(crate) after: String,
    /// `effect-better`, `effect-worse`, or nothing where that depends on the tank.
    pub(crate) tone: &'static str,
}

/// Every line; without that of oxygen where a forecast of it with its band stands above.
pub(crate) fn effect_lines(
    effects: &Effects,
    has_forecast: bool,
    units: &Units,
) -> Vec<EffectLine> {
    let lines = effects.lines.iter();
    lines
        .filter(|line| !has_forecast || line.about != About::LowestOxygen)
        .map(|line| EffectLine::of(line, units))
        .collect()
}

impl EffectLine {
    fn of(line: &Line, units: &Units) -> Self {
        let litres = |value: f64| units.print(value, Volume::UNITS, 0);
        let flow = |value: f64| units.print(value, FlowRate::UNITS, 0);
        let nitrate = |ion: f64| Analyte::NITRATE.print(ion / NITRATE_PER_NITROGEN, units);
        let (label, print): (String, Box<dyn Fn(f64) -> String>) = match &line.about {
            About::LowestOxygen => (
                "Lowest oxygen".to_owned(),
                Box::new(|value| format!("{value:.1} mg/L")),
            ),
            About::CarbonDioxide => (
                "Carbon dioxide at most".to_owned(),
                Box::new(|value| format!("{value:.1} mg/L")),
            ),
            About::Capacity => (
                "Bacteria carry".to_owned(),
                Box::new(|value| format!("{value:.1} × the feed")),
            ),
            About::NitratePeak => ("Nitrate before a change".to_owned(), Box::new(nitrate)),
            About::Reading(analyte) => {
                let analyte: &'static Analyte = analyte;
                (
                    analyte.label.to_owned(),
                    Box::new(|value| analyte.print(value, units)),
                )
            }
            About::Turnover => (
                "Through the filters".to_owned(),
                Box::new(|value| format!("{value:.1} × an hour")),
            ),
            About::Flow(name) => (format!("{name}, flow"), Box::new(flow)),
            About::Filled(name) => (format!("{name}, ways filled"), Box::new(percent)),
            About::Lasts(name) => (
                format!("{name}, between openings"),
                Box::new(|value| format!("{value:.0} days")),
            ),
            About::Headroom(name) => (
                format!("{name}, room when its pump stops"),
                Box::new(litres),
            ),
        };
        Self {
            before: print(line.before),
            after: print(line.after),
            tone: match line.is_better() {
                Some(true) => "effect-better",
                Some(false) => "effect-worse",
                None => "",
            },
            label,
        }
    }
}
