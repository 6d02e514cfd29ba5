//! The charts of the days ahead: bands day by day, limits, readings; and the events on them, which
//! the page's script moves.

use jiff::SignedDuration;
use reed_core::log::{Effect, Entry, Happening, When};
use reed_core::outlook::ahead::{Bands, Event, NitrogenOutlook, events_of};
use reed_core::outlook::limits::Limit;
use reed_core::tank::{Analyte, UNIONISED};
use reed_core::units::{Unit, days_of};
use reed_core::water::chemistry::EIFAC_NH3_N_MG_L;
use reed_store::EntryId;
use serde_json::{Value, json};

use super::habit::days_from;
use super::inputs::WaterInputs;
use crate::view::{Course, HALF, Layer, Level, Of, Span};

/// Readings stand on a chart for so many days.
const DOTS_DAYS: i64 = 14;

/// A chart.
pub(super) struct Figure {
    /// What it shows, with its unit and its limit.
    pub(super) words: String,
    pub(super) svg: String,
    /// Where now lies and how wide a day is, in hundredths of the width.
    pub(super) first: f64,
    pub(super) day: f64,
}

/// One quantity of the outlook.
struct Series<'a> {
    name: &'static str,
    /// Whose readings stand on it.
    analyte: Option<&'static Analyte>,
    bands: &'a Bands,
    /// Units it is printed in; the first is that of the bands.
    units: &'static [Unit],
    limit: Option<Limit>,
    /// The axis reaches at least so far from zero, in the printed unit; `None` where it need not
    /// begin there.
    reach: Option<f64>,
}

fn round(value: f64) -> f64 {
    (value * 1e4).round() / 1e4
}

impl Series<'_> {
    fn draw(&self, index: usize, loaded: &WaterInputs, outlook: &NitrogenOutlook) -> Figure {
        let unit = loaded.units.of(self.units);
        let from = loaded.now - SignedDuration::from_hours(24 * DOTS_DAYS);
        let span = Span {
            from,
            days: days_of(loaded.now.duration_since(from)) + outlook.days.last().unwrap_or(&0.0),
        };
        let dots = loaded
            .readings
            .iter()
            .filter(|reading| self.analyte == Some(reading.analyte) && reading.taken_at > from)
            .map(|reading| {
                let value = unit.from_base(reading.value);
                let spread = unit.from_base(reading.value + reading.spread) - value;
                (span.day_of(reading.taken_at), value, spread)
            })
            .collect();
        let now = span.day_of(loaded.now);
        let level = self.limit.map(|limit| Level {
            value: unit.from_base(limit.value),
            words: limit.words.to_owned(),
        });
        let mut words = self.name.to_owned();
        if !unit.symbol.is_empty() {
            words += &format!(", {}", unit.symbol);
        }
        if let Some(level) = &level {
            words += &format!("; dashed: {} {}", level.words, two_digits(level.value));
        }
        let course = Course {
            id: format!("ahead-{index}"),
            title: words.clone(),
            unit: "",
            span,
            now: loaded.now,
            size: HALF,
            reach: self.reach,
            layers: vec![
                Layer::Ahead(ahead(self.bands, &outlook.days, now, unit)),
                Layer::Dots(dots, Of::Own),
            ],
            levels: level.into_iter().collect(),
        };
        let (first, day) = course.shares();
        Figure {
            words,
            svg: course.draw(),
            first: round(100.0 * (first + day * now)),
            day: round(100.0 * day),
        }
    }
}

/// The bands of an outlook as they are drawn: `now` is its first day on the drawing.
pub(in crate::pages::tank) fn ahead(
    bands: &Bands,
    days: &[f64],
    now: f64,
    unit: &Unit,
) -> Vec<(f64, [f64; 3])> {
    let values = bands.low.iter().zip(&bands.likely).zip(&bands.high);
    days.iter()
        .zip(values)
        .map(|(day, ((low, likely), high))| {
            (
                now + day,
                [*low, *likely, *high].map(|value| unit.from_base(value)),
            )
        })
        .collect()
}

/// A level as people say it: to two digits.
fn two_digits(value: f64) -> String {
    let power = 10_f64.powf(value.abs().max(1e-9).log10().floor() - 1.0);
    reed_core::units::plain((value / power).round() * power)
}

/// Every quantity that the outlook of nitrogen gives, by what is read of it.
pub(in crate::pages::tank) fn bands_of<'a>(
    outlook: &'a NitrogenOutlook,
    analyte: &Analyte,
) -> Option<&'a Bands> {
    [
        (Analyte::AMMONIA, &outlook.tan),
        (Analyte::NITRITE, &outlook.nitrite),
        (Analyte::NITRATE, &outlook.nitrate),
        (Analyte::KH, &outlook.kh),
        (Analyte::PH, &outlook.ph),
    ]
    .into_iter()
    .find(|(of, _)| **of == *analyte)
    .map(|(_, bands)| bands)
}

/// The charts.
pub(super) fn figures(loaded: &WaterInputs, outlook: &NitrogenOutlook) -> Vec<Figure> {
    let read = |name, analyte: &'static Analyte, bands, reach| Series {
        name,
        analyte: Some(analyte),
        bands,
        units: analyte.units,
        limit: Limit::of(analyte, &loaded.tank),
        reach,
    };
    let poison = Series {
        name: "Poisonous part of the ammonia",
        analyte: None,
        bands: &outlook.nh3,
        units: UNIONISED,
        limit: Some(Limit {
            words: "harms from",
            value: EIFAC_NH3_N_MG_L,
            is_floor: false,
        }),
        reach: Some(0.01),
    };
    let series = [
        read("Ammonia", Analyte::AMMONIA, &outlook.tan, Some(0.2)),
        read("Nitrite", Analyte::NITRITE, &outlook.nitrite, Some(0.2)),
        read("Nitrate", Analyte::NITRATE, &outlook.nitrate, Some(0.2)),
        read("Carbonate hardness", Analyte::KH, &outlook.kh, Some(4.0)),
        poison,
        read("pH, mean of a day", Analyte::PH, &outlook.ph, None),
    ];
    series
        .iter()
        .enumerate()
        .map(|(index, series)| series.draw(index, loaded, outlook))
        .collect()
}

/// Events ahead, as JSON; those that were entered have a number, those by habit none.
pub(super) fn marks(loaded: &WaterInputs, outlook: &NitrogenOutlook) -> String {
    let own: Vec<(EntryId, Event)> = loaded
        .kept
        .iter()
        .filter(|kept| !kept.is_struck() && kept.entry.when.from > loaded.now)
        .flat_map(|kept| {
            let events = events_of(std::slice::from_ref(&kept.entry), &loaded.tank, loaded.now);
            events.into_iter().map(|event| (kept.id, event))
        })
        .collect();
    let words = |event: &Event| {
        let (id, amount) = event.effect.happening();
        let at = When::minute(loaded.now);
        let entry = Happening::by_id(id).map(|kind| Entry::of(kind, at));
        entry.map_or_else(String::new, |entry| {
            Entry { amount, ..entry }.words(&loaded.units)
        })
    };
    let mark = |event: &Event| {
        let id = own
            .iter()
            .find(|(_, kept)| (kept.day - event.day).abs() < 1e-6 && kept.effect == event.effect)
            .map(|(id, _)| id.0);
        json!({ "day": round(event.day), "words": words(event), "id": id, "at": days_from(loaded.now, event.day) })
    };
    let all: Value = outlook
        .events
        .iter()
        .filter(|event| event.effect != Effect::Skip)
        .map(mark)
        .collect();
    all.to_string()
}
