//! What the charts of the days ahead show, as JSON for the page's script: bands day by day, limits,
//! readings, events.

use reed_core::log::{Effect, Entry, Happening, When};
use reed_core::outlook::ahead::cycling::LEAST_DKH;
use reed_core::outlook::ahead::{Bands, Event, NitrogenOutlook, events_of};
use reed_core::tank::{Analyte, UNIONISED};
use reed_core::units::Unit;
use reed_core::units::days_of;
use reed_core::units::masses::NITRATE_PER_NITROGEN;
use reed_core::water::chemistry::{EIFAC_NH3_N_MG_L, NITRITE_LIMIT_MG_L};
use reed_store::EntryId;
use serde_json::{Value, json};

use super::habit::days_from;
use super::inputs::WaterInputs;

/// Readings stand on a chart for so many days.
const DOTS_DAYS: f64 = 14.0;

/// One quantity of the outlook.
struct Series<'a> {
    name: &'static str,
    /// Whose readings stand on it.
    analyte: Option<&'static Analyte>,
    bands: &'a Bands,
    unit: &'a Unit,
    /// A level with what it means, in the unit of the bands.
    limit: Option<(&'static str, f64)>,
    /// The axis reaches at least so far from zero, in the printed unit; `None` where it need not
    /// begin there.
    reach: Option<f64>,
}

fn round(value: f64) -> f64 {
    (value * 1e4).round() / 1e4
}

impl Series<'_> {
    fn json(&self, loaded: &WaterInputs) -> Value {
        let print = |value: f64| round(self.unit.from_base(value));
        let side = |side: &[f64]| side.iter().map(|value| print(*value)).collect::<Vec<_>>();
        let days_ago = |at: jiff::civil::DateTime| round(days_of(at.duration_since(loaded.now)));
        let dots: Vec<[f64; 2]> = loaded
            .readings
            .iter()
            .filter(|reading| self.analyte == Some(reading.analyte))
            .map(|reading| [days_ago(reading.taken_at), print(reading.value)])
            .filter(|[day, _]| *day > -DOTS_DAYS)
            .collect();
        json!({
            "name": self.name,
            "unit": self.unit.symbol,
            "low": side(&self.bands.low),
            "likely": side(&self.bands.likely),
            "high": side(&self.bands.high),
            "dots": dots,
            "limit": self.limit.map(|(_, value)| print(value)),
            "means": self.limit.map(|(words, _)| words),
            "reach": self.reach,
        })
    }
}

/// The charts; units are those of ammonia, nitrite, nitrate and hardness.
pub(super) fn chart(
    loaded: &WaterInputs,
    outlook: &NitrogenOutlook,
    [ammonia, nitrite, nitrate, hardness]: [&Unit; 4],
) -> String {
    let plain = Unit {
        symbol: "",
        also: &[],
        factor: 1.0,
        offset: 0.0,
    };
    let poison = loaded.units.of(UNIONISED);
    let nitrate_limit = loaded.tank.purpose.limits().nitrate_ion_mg_l.value / NITRATE_PER_NITROGEN;
    let series = |name, analyte, bands, unit, limit, reach| {
        Series {
            name,
            analyte,
            bands,
            unit,
            limit,
            reach,
        }
        .json(loaded)
    };
    json!({
        "now": loaded.now.to_string(),
        "days": outlook.days,
        "series": [
            series("Ammonia", Some(Analyte::AMMONIA), &outlook.tan, ammonia, None, Some(0.2)),
            series("Nitrite", Some(Analyte::NITRITE), &outlook.nitrite, nitrite, Some(("act from", NITRITE_LIMIT_MG_L)), Some(0.2)),
            series("Nitrate", Some(Analyte::NITRATE), &outlook.nitrate, nitrate, Some(("stay under", nitrate_limit)), Some(0.2)),
            series("Carbonate hardness", Some(Analyte::KH), &outlook.kh, hardness, Some(("bacteria falter below", LEAST_DKH)), Some(4.0)),
            series("Poisonous part of the ammonia", None, &outlook.nh3, poison, Some(("harms from", EIFAC_NH3_N_MG_L)), Some(0.01)),
            series("pH, mean of a day", Some(Analyte::PH), &outlook.ph, &plain, None, None),
        ],
        "events": marks(loaded, outlook),
    })
    .to_string()
}

/// Events ahead; those that were entered have a number, those by habit none.
fn marks(loaded: &WaterInputs, outlook: &NitrogenOutlook) -> Vec<Value> {
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
    outlook
        .events
        .iter()
        .filter(|event| event.effect != Effect::Skip)
        .map(mark)
        .collect()
}
