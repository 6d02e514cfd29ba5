//! Water: oxygen through the day, nitrogen ahead, surfaces for bacteria, changes and their size.

mod acid_day;
mod ahead;
mod cycle;
mod events;
mod loaded;
mod media;
mod sizing;
mod sums;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Query, State};
use axum::routing::{get, post};
use jiff::{SignedDuration, ToSpan};
use reed_core::acidity::{Acidity, BAND};
use reed_core::ahead::{Setting, Tap, What, parts};
use reed_core::forecast::Ensemble;
use reed_core::tank::kit::{self, Kit};
use reed_core::tank::{Analyte, Reading, Tank};
use reed_core::trouble::{self, Trouble};
use reed_core::twin::Stirring;
use reed_core::units::{Salinity, Temperature, Units};
use reed_core::water::oxygen::demand::catalyst_days;
use reed_store::{TankId, readings, settings, tanks};

use self::acid_day::AcidDay;
use self::events::EventInput;
use self::media::MediaView;
use self::sizing::{Sized, SizingInput};
use self::sums::{CapacityView, ChangesView};
use super::twin::TwinView;
use crate::error::PageError;
use crate::flows;
use crate::pages::number::Number;
use crate::state::App;
use crate::view::{Dot, Frame, ReadingForm, chart_table};

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/tanks/{tank}/water", get(show))
        .route("/tanks/{tank}/water/ahead", get(ahead::show))
        .route("/tanks/{tank}/water/events", post(events::add))
        .route("/tanks/{tank}/water/events/{event}/move", post(events::move_to))
        .route("/tanks/{tank}/water/events/{event}/strike", post(events::strike))
        .route("/tanks/{tank}/water/events/{event}/restore", post(events::restore))
        .route("/tanks/{tank}/water/habit", post(events::move_habit))
        .route("/tanks/{tank}/water/cycle", post(cycle::plan))
        .route("/tanks/{tank}/water/planned/strike", post(cycle::withdraw))
        .route("/tanks/{tank}/water/readings", post(events::add_reading))
}

/// Readings that stand on the day's curves are no older, days; hardness is looked for as far back as it counts.
const DOTS_DAYS: i64 = 14;
const RECENT_DAYS: i64 = 30;

#[derive(Template, WebTemplate)]
#[template(path = "pages/water.html")]
struct WaterPage {
    frame: Frame,
    id: TankId,
    name: String,
    twin: TwinView,
    /// What fails, and what becomes of the oxygen.
    troubles: Vec<[String; 5]>,
    peroxide: Option<String>,
    acid: AcidDay,
    media: MediaView,
    capacity: CapacityView,
    changes: ChangesView,
    /// The curves of the day in numbers: hour, oxygen, carbon dioxide, pH.
    hours: Vec<[String; 4]>,
    /// Media that can be rinsed or replaced one by one: what, and its share of all media in percent.
    parts: Vec<(String, String)>,
    sizing: Sized,
    kinds: Vec<(&'static str, &'static str, &'static str)>,
    reading_form: ReadingForm,
    guides: Vec<Guide>,
    /// The event form as typed, and why it was refused; empty when it was not.
    event: EventInput,
    event_refused: String,
}

/// A test step by step.
struct Guide {
    id: &'static str,
    title: &'static str,
    /// Text, and seconds by the clock.
    steps: Vec<(&'static str, u32)>,
    /// It is read against a card of colours.
    is_colour: bool,
}

impl Guide {
    fn all(salinity: Salinity) -> Vec<Self> {
        let salt = salinity.is_salt_water();
        let guide = |kit: &&'static Kit| Self {
            id: kit.id,
            title: kit.title,
            steps: kit.steps.iter().map(|step| (step.text, if salt { step.seconds_in_salt } else { step.seconds })).collect(),
            is_colour: kit.steps.iter().any(|step| step.text.contains("card")),
        };
        kit::ALL.iter().map(guide).collect()
    }
}

async fn show(State(app): State<App>, Number(id): Number, Query(input): Query<Asked>) -> Result<WaterPage, PageError> {
    page(&app, TankId(id), input).await
}

/// What the page was asked for besides itself.
#[derive(Default, serde::Deserialize)]
#[serde(default)]
struct Asked {
    /// A problem that a chemical medium is used against.
    problem: String,
    /// Nitrate to stay under.
    target: String,
    #[serde(flatten)]
    sizing: SizingInput,
}

async fn page(app: &App, id: TankId, asked: Asked) -> Result<WaterPage, PageError> {
    let clock = app.clock.clone();
    app.read(move |db| {
        let now = clock.now();
        let (tank, units) = (tanks::latest(db, id)?.tank, settings::units(db)?);
        let flow = flows::kept(db, id, &tank)?;
        let stirring = Stirring::of(&tank, flow.as_ref());
        let latest = |analyte: &Analyte| readings::latest(db, id, analyte.id);
        let recent: Vec<Reading> = readings::since(db, id, now.wall - SignedDuration::from_hours(24 * RECENT_DAYS))?
            .into_iter()
            .filter(|stored| !stored.is_struck())
            .map(|stored| stored.reading)
            .collect();
        let dots_of = |analyte: &'static Analyte| {
            let since = now.wall - SignedDuration::from_hours(24 * DOTS_DAYS);
            recent.iter().filter(move |reading| reading.analyte == analyte && reading.taken_at >= since)
        };
        let dots: Vec<Dot> = dots_of(Analyte::OXYGEN).map(|reading| Dot::of(reading, false)).collect();
        let acidity = Acidity::of(&tank, stirring, &recent, now.wall);
        let mut values = std::collections::HashMap::new();
        for analyte in SizingInput::ANALYTES {
            if let Some(stored) = latest(analyte)? {
                values.insert(analyte.id, stored.reading.value);
            }
        }
        let tap_nitrate = latest(Analyte::TAP_NITRATE)?.map_or(0.0, |stored| stored.reading.value);
        Ok(WaterPage {
            frame: Frame::new(format!("Water, {}", tank.name)),
            id,
            twin: TwinView::of(&tank, stirring, &dots),
            troubles: trouble::ALL.iter().filter_map(|trouble| told(trouble, &tank, stirring, &units)).collect(),
            peroxide: peroxide(&tank),
            acid: AcidDay::of(&tank, &acidity, &dots_of(Analyte::PH).collect::<Vec<_>>(), &units),
            media: MediaView::of(&asked.problem, &tank, &Setting::of(&tank, stirring, now.wall, &Tap::default()), now.wall.date(), &units),
            capacity: CapacityView::of(&tank),
            changes: ChangesView::of(&asked.target, &tank, tap_nitrate, &units),
            hours: hours(&tank, stirring, &acidity),
            parts: parts(&tank).into_iter().map(|(name, share)| (name, format!("{:.0}", (100.0 * share).max(1.0)))).collect(),
            sizing: Sized::of(&asked.sizing, &tank, &values, &units),
            kinds: What::KINDS.to_vec(),
            reading_form: reading_form(id, now.wall, &units),
            guides: Guide::all(tank.salinity),
            event: EventInput::blank(now.wall),
            event_refused: String::new(),
            name: tank.name,
        })
    })
    .await
}

/// What fails: its name, the lowest oxygen, hours to distress and to death, the temperature where it rises.
fn told(trouble: &Trouble, tank: &Tank, stirring: Stirring, units: &Units) -> Option<[String; 5]> {
    let fall = trouble.fall(tank, stirring)?;
    let (lowest, after) = fall.lowest;
    let hours = |hours: Option<f64>| hours.map_or_else(|| "over 72 h".to_owned(), |hours| format!("{hours:.0} h"));
    let warmer = fall.celsius > tank.water_temperature().as_celsius() + 0.5;
    let print = |celsius: f64| units.print(celsius, <Temperature as reed_core::units::Quantity>::UNITS, 0);
    Some([
        trouble.name.to_owned(),
        format!("{lowest:.1} mg/L, {after:.0} h"),
        hours(fall.hours_to[0]),
        hours(fall.hours_to[1]),
        if warmer { print(fall.celsius) } else { "–".to_owned() },
    ])
}

/// The day in numbers, every three hours.
fn hours(tank: &Tank, stirring: Stirring, acidity: &Acidity) -> Vec<[String; 4]> {
    let forecast = Ensemble::of_tank(tank).stirred(stirring).forecast(Tank::clone);
    let oxygen = chart_table(&forecast, None);
    let line = |[hour, oxygen, _]: [String; 3], at: f64| {
        let band = |value: &dyn Fn(f64) -> f64| format!("{:.1} ({:.1}–{:.1})", value(0.0), value(-BAND), value(BAND));
        [hour, oxygen, band(&|off| acidity.carbon_dioxide_at(at, off).as_mg_l()), band(&|off| acidity.ph_at(at, off))]
    };
    oxygen.into_iter().zip((0..8).map(|index| 3.0 * f64::from(index))).map(|(row, at)| line(row, at)).collect()
}

/// When the catalysts run out, as far as it was written down.
fn peroxide(tank: &Tank) -> Option<String> {
    let (each, filled) = (tank.peroxide_each?, tank.peroxide_filled?);
    let days = catalyst_days(each);
    #[expect(clippy::cast_possible_truncation, reason = "some weeks")]
    let out = filled.saturating_add((days as i64).days());
    (tank.peroxide_catalysts > 0)
        .then(|| format!("Filled on {}, the peroxide lasts {days:.0} days: until {}.", filled.strftime("%-d %B"), out.strftime("%-d %B")))
}

fn reading_form(id: TankId, now: jiff::civil::DateTime, units: &Units) -> ReadingForm {
    ReadingForm::blank("reading", format!("/tanks/{id}/water/readings"), kit::first_for(Analyte::AMMONIA).id, now, units)
}
