//! Nitrogen ahead: the part of the page that takes a moment to compute.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State};
use jiff::SignedDuration;
use jiff::civil::DateTime;
use reed_core::ahead::emergency::NITRITE_LIMIT_MG_L;
use reed_core::ahead::{Bands, Belief, Event, Learned, Outlook, Setting, What};
use reed_core::tank::{Analyte, Reading};
use reed_core::twin::Stirring;
use reed_core::units::{Concentration, Unit, Units};
use reed_core::water::chemistry::{EIFAC_NH3_N_MG_L, from_ph_and_kh};
use reed_store::events::Kept;
use reed_store::{EventId, TankId, events, readings, settings, tanks};
use serde_json::json;

use super::events::{days_from, what_of};
use crate::error::PageError;
use crate::flows;
use crate::pages::number::Number;
use crate::state::App;
use crate::view::when;

/// Days shown.
const DAYS: usize = 60;
/// How far back readings and events are looked at, days.
const BACK_DAYS: i64 = 120;
/// Readings that are learned from at most, the newest.
const MOST_READINGS: usize = 400;
/// Ways to start a tank, with the share of a settled colony that comes with each now. Common practice has two to three weeks for the
/// second and about one for the third; the shares are chosen to give that.
const STARTS: [(&str, Option<f64>); 3] = [
    ("As it is", None),
    ("With good media and a pinch from a mature tank now", Some(0.01)),
    ("With a piece of mature media now", Some(0.3)),
];
/// What is supposed to happen now happens so soon, days.
const SOON_DAYS: f64 = 0.02;
/// Carbon dioxide where pH or hardness was not read, mg/L. From memory: a stocked tank with a moving surface.
const USUAL_CO2_MG_L: f64 = 3.0;

#[derive(Template, WebTemplate)]
#[template(path = "parts/ahead.html")]
pub(super) struct AheadPart {
    id: TankId,
    /// How a new tank would go, by how it is started: what, likely and latest day.
    starts: Vec<(&'static str, String, String)>,
    /// What is only supposed.
    supposed: Option<String>,
    sentences: Vec<String>,
    /// Latest readings that this outlook does not explain.
    misfits: Vec<String>,
    /// What the chart shows, as JSON.
    chart: String,
    /// Every tenth day in numbers.
    table: Vec<[String; 6]>,
    units: [&'static str; 4],
    learned: Vec<Learned>,
    readings: usize,
    masked: Vec<&'static str>,
    events: Vec<EventLine>,
}

/// An event that was entered.
struct EventLine {
    id: EventId,
    at: String,
    words: String,
    is_struck: bool,
    planned: bool,
}

/// Everything the part is made of.
struct Loaded {
    supposed: Option<What>,
    setting: Setting,
    readings: Vec<Reading>,
    kept: Vec<Kept>,
    units: Units,
    now: DateTime,
    co2: Concentration,
    salinity: reed_core::units::Salinity,
}

/// What if this happened now; nothing, where nothing is asked.
#[derive(serde::Deserialize)]
#[serde(default)]
#[derive(Default)]
pub(super) struct WhatIf {
    what: String,
    amount: String,
}

pub(super) async fn show(State(app): State<App>, Number(id): Number, Query(asked): Query<WhatIf>) -> Result<AheadPart, PageError> {
    let clock = app.clock.clone();
    let supposed = asked.parse()?;
    let id = TankId(id);
    app.read(move |db| {
        let now = clock.now().wall;
        let since = now - SignedDuration::from_hours(24 * BACK_DAYS);
        let tank = tanks::latest(db, id)?.tank;
        let flow = flows::kept(db, id, &tank)?;
        let stored = readings::since(db, id, since)?;
        let mut readings: Vec<Reading> = stored.into_iter().filter(|stored| !stored.is_struck()).map(|stored| stored.reading).collect();
        readings.drain(..readings.len().saturating_sub(MOST_READINGS));
        let latest =
            |analyte: &'static Analyte| readings.iter().rev().find(|reading| reading.analyte == analyte).map(|reading| reading.value);
        let tap =
            |analyte: &Analyte| Ok::<_, reed_store::StoreError>(readings::latest(db, id, analyte.id)?.map(|stored| stored.reading.value));
        let co2 =
            latest(Analyte::PH).zip(latest(Analyte::KH)).map_or(Concentration::mg_l(USUAL_CO2_MG_L), |(ph, kh)| from_ph_and_kh(ph, kh));
        let (ammonia, nitrate) = (tap(Analyte::TAP_AMMONIA)?.unwrap_or(0.0), tap(Analyte::TAP_NITRATE)?.unwrap_or(0.0));
        let setting = Setting::of(&tank, Stirring::of(&tank, flow.as_ref()), now, ammonia, nitrate, None);
        let kept = events::since(db, id, since)?;
        let loaded = Loaded { supposed, setting, readings, kept, units: settings::units(db)?, now, co2, salinity: tank.salinity };
        Ok(loaded.part(id))
    })
    .await
}

impl WhatIf {
    fn parse(&self) -> Result<Option<What>, PageError> {
        if self.what.is_empty() {
            return Ok(None);
        }
        let what = what_of(&self.what, &self.amount).map_err(|refusal| PageError::Refused(refusal.to_string()))?;
        Ok(Some(what))
    }
}

impl Loaded {
    fn part(&self, id: TankId) -> AheadPart {
        let day = |at: DateTime| at.duration_since(self.now).as_secs_f64() / 86_400.0;
        let known: Vec<Event> =
            self.kept.iter().filter(|kept| !kept.is_struck).map(|kept| Event { day: day(kept.at), what: kept.what }).collect();
        let belief = Belief::learned(&self.setting, &known, &self.readings, self.now);
        let supposed = self.supposed.map(|what| Event { day: SOON_DAYS, what });
        let known: Vec<Event> = known.into_iter().chain(supposed).collect();
        let outlook = Outlook::of(&self.setting, &belief, &known, DAYS, self.co2, self.salinity);
        let unit = |analyte: &'static Analyte| self.units.of(analyte.units);
        let units = [unit(Analyte::AMMONIA), unit(Analyte::NITRITE), unit(Analyte::NITRATE), unit(Analyte::KH)];
        AheadPart {
            id,
            starts: self.starts(&belief, &known),
            supposed: self.supposed.map(What::words),
            misfits: self.misfits(&outlook),
            sentences: self.sentences(&outlook, units),
            chart: self.chart(&outlook, units),
            table: (0..=DAYS).step_by(10).map(|at| self.row(&outlook, units, at)).collect(),
            units: units.map(|unit| unit.symbol),
            learned: belief.learned_of(&self.setting),
            readings: belief.readings,
            masked: [(self.setting.masked[0], "ammonia"), (self.setting.masked[1], "nitrate")]
                .into_iter()
                .filter_map(|(masked, what)| masked.then_some(what))
                .collect(),
            events: self
                .kept
                .iter()
                .map(|kept| EventLine {
                    id: kept.id,
                    at: when(kept.at, self.now),
                    words: kept.what.words(),
                    is_struck: kept.is_struck,
                    planned: kept.at > self.now,
                })
                .collect(),
        }
    }

    fn sentences(&self, outlook: &Outlook, [ammonia, nitrite, nitrate, hardness]: [&Unit; 4]) -> Vec<String> {
        let mut sentences = Vec::new();
        let peak = |bands: &Bands| bands.high.iter().copied().fold(0.0, f64::max);
        let worst = peak(&outlook.nh3);
        if worst > EIFAC_NH3_N_MG_L {
            let first = outlook.nh3.high.iter().position(|value| *value > EIFAC_NH3_N_MG_L).unwrap_or(0);
            sentences.push(format!(
                "Poisonous ammonia may pass its limit from {} on: up to {worst:.3} mg/L of NH₃ as N, limit {EIFAC_NH3_N_MG_L} (EIFAC). Read ammonia, and size a change below.",
                self.date(outlook.days[first])
            ));
        } else {
            sentences.push(format!("Ammonia stays harmless: at most {:.2} {}.", ammonia.from_base(peak(&outlook.tan)), ammonia.symbol));
        }
        let most = format!("{:.2} {}", nitrite.from_base(peak(&outlook.nitrite)), nitrite.symbol);
        sentences.push(match outlook.nitrite.high.iter().position(|value| *value > NITRITE_LIMIT_MG_L) {
            None => format!("Nitrite stays harmless: at most {most}."),
            Some(first) => format!(
                "Nitrite may pass the level to act on, {:.2} {}, from {} on: up to {most}. Read it, and size a change below.",
                nitrite.from_base(NITRITE_LIMIT_MG_L),
                nitrite.symbol,
                self.date(outlook.days[first])
            ),
        });
        let last = outlook.days.len() - 1;
        let say = |bands: &Bands, unit: &Unit, decimals: usize| {
            let [low, likely, high] = [&bands.low, &bands.likely, &bands.high].map(|side| unit.from_base(side[last]));
            format!("{likely:.decimals$} ({low:.decimals$}–{high:.decimals$}) {}", unit.symbol)
        };
        sentences.push(format!(
            "In {DAYS} days nitrate stands at {}, carbonate hardness at {}.",
            say(&outlook.nitrate, nitrate, 0),
            say(&outlook.kh, hardness, 1)
        ));
        if self.setting.young_days.is_some() {
            sentences.push(match outlook.cycled() {
                [Some(likely), Some(latest)] => {
                    format!("The cycle is likely through by {}, at the latest by {}.", self.date(likely), self.date(latest))
                }
                [Some(likely), None] => {
                    format!("The cycle is likely through by {}; it may take longer than this chart.", self.date(likely))
                }
                _ => format!("The cycle is not through within {DAYS} days."),
            });
            let first = |bands: &Bands| bands.likely.first().copied().unwrap_or(0.0);
            sentences.push(
                match (first(&outlook.tan) > 0.1, first(&outlook.nitrite) > 0.1) {
                    (true, false) => {
                        "Stage now: the first bacteria are growing, ammonia stands. Test ammonia every other day; no animals in."
                    }
                    (true, true) => "Stage now: ammonia is being taken, nitrite climbs. Test both every other day; no animals in.",
                    (false, true) => "Stage now: ammonia goes, nitrite still stands. Test nitrite every other day; no animals in.",
                    (false, false) => "Stage now: hardly anything stands; either it is through, or nothing feeds it yet.",
                }
                .to_owned(),
            );
            sentences.push(
                "Done when 2 mg/L N of ammonia are gone within a day, with the nitrite, nitrate has risen, and no medium or binder hides it. \
                 Then a water change, the filter left alone, and animals in steps."
                    .to_owned(),
            );
        }
        sentences
    }

    /// The ways to start that keepers argue over, side by side; none for a tank that is settled.
    fn starts(&self, belief: &Belief, known: &[Event]) -> Vec<(&'static str, String, String)> {
        if self.setting.young_days.is_none() {
            return Vec::new();
        }
        let start = |(words, share): (&'static str, Option<f64>)| {
            let seed = share.map(|share| Event { day: SOON_DAYS, what: What::Seed(share) });
            let events: Vec<Event> = known.iter().copied().chain(seed).collect();
            let outlook = Outlook::of(&self.setting, belief, &events, 2 * DAYS, self.co2, self.salinity);
            let say = |done: Option<f64>| done.map_or_else(|| "later than four months".to_owned(), |days| self.date(days));
            let [likely, latest] = outlook.cycled().map(say);
            (words, likely, latest)
        };
        STARTS.map(start).to_vec()
    }

    /// A fresh reading far outside of where the outlook begins is worth more than the outlook.
    fn misfits(&self, outlook: &Outlook) -> Vec<String> {
        let words = |reading: &Reading| {
            format!(
                "{} was read at {}, more than anything assumed here explains. Trust the reading and act on it; read again tomorrow, and \
                 enter what happened.",
                reading.analyte.label,
                reading.print(&self.units)
            )
        };
        outlook.unexplained(&self.readings, self.now).into_iter().map(words).collect()
    }

    fn date(&self, days: f64) -> String {
        let at = self.now.checked_add(SignedDuration::from_secs_f64(days * 86_400.0)).unwrap_or(self.now);
        at.strftime("%-d %B").to_string()
    }

    fn row(&self, outlook: &Outlook, [ammonia, nitrite, nitrate, hardness]: [&Unit; 4], at: usize) -> [String; 6] {
        let say = |bands: &Bands, unit: &Unit, decimals: usize| {
            let [low, likely, high] = [&bands.low, &bands.likely, &bands.high].map(|side| unit.from_base(side[at]));
            format!("{likely:.decimals$} ({low:.decimals$}–{high:.decimals$})")
        };
        let plain = Unit { symbol: "", also: &[], factor: 1.0, offset: 0.0 };
        [
            self.date(outlook.days[at]),
            say(&outlook.tan, ammonia, 2),
            say(&outlook.nitrite, nitrite, 2),
            say(&outlook.nitrate, nitrate, 0),
            say(&outlook.kh, hardness, 1),
            say(&outlook.ph, &plain, 1),
        ]
    }

    /// For the page's script: seconds of each day, three lines to each quantity, the readings, the events.
    fn chart(&self, outlook: &Outlook, [ammonia, nitrite, nitrate, hardness]: [&Unit; 4]) -> String {
        let round = |value: f64| (value * 1000.0).round() / 1000.0;
        let bands = |name: &str, analyte: &'static Analyte, bands: &Bands, unit: &Unit| {
            let side = |side: &[f64]| side.iter().map(|value| round(unit.from_base(*value))).collect::<Vec<_>>();
            let dots: Vec<[f64; 2]> = self
                .readings
                .iter()
                .filter(|reading| reading.analyte == analyte)
                .map(|reading| {
                    [round(reading.taken_at.duration_since(self.now).as_secs_f64() / 86_400.0), round(unit.from_base(reading.value))]
                })
                .filter(|[day, _]| *day > -14.0)
                .collect();
            json!({ "name": name, "unit": unit.symbol, "low": side(&bands.low), "likely": side(&bands.likely), "high": side(&bands.high), "dots": dots })
        };
        let own: Vec<(EventId, Event)> = self
            .kept
            .iter()
            .filter(|kept| !kept.is_struck && kept.at > self.now)
            .map(|kept| (kept.id, Event { day: kept.at.duration_since(self.now).as_secs_f64() / 86_400.0, what: kept.what }))
            .collect();
        let marks: Vec<serde_json::Value> = outlook
            .events
            .iter()
            .filter(|event| event.what != What::Skip)
            .map(|event| {
                let id = own.iter().find(|(_, kept)| (kept.day - event.day).abs() < 1e-6 && kept.what == event.what).map(|(id, _)| id.0);
                json!({ "day": round(event.day), "words": event.what.words(), "id": id, "at": days_from(self.now, event.day) })
            })
            .collect();
        json!({
            "now": self.now.to_string(),
            "days": outlook.days,
            "series": [
                bands("Ammonia", Analyte::AMMONIA, &outlook.tan, ammonia),
                bands("Nitrite", Analyte::NITRITE, &outlook.nitrite, nitrite),
                bands("Nitrate", Analyte::NITRATE, &outlook.nitrate, nitrate),
                bands("Carbonate hardness", Analyte::KH, &outlook.kh, hardness),
            ],
            "events": marks,
        })
        .to_string()
    }
}
