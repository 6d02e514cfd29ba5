//! Water: oxygen through the day, nitrogen ahead, surfaces for bacteria, changes and their size.

mod acid_day;
mod ahead;
mod ahead_chart;
mod cycle;
mod events;
mod failures;
mod loaded;
mod media;
mod sizing;
mod sums;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Query, State};
use axum::routing::{get, post};
use jiff::SignedDuration;
use reed_core::acidity::Acidity;
use reed_core::ahead::{Setting, Tap, What, parts};
use reed_core::tank::kit::{self, Kit};
use reed_core::tank::{Analyte, Reading};
use reed_core::twin::Stirring;
use reed_core::units::{Salinity, Units};
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
use crate::view::{Dot, Frame, ReadingForm};

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
            troubles: failures::all(&tank, stirring, &units),
            peroxide: failures::peroxide(&tank, now.wall.date()),
            acid: AcidDay::of(&tank, &acidity, &dots_of(Analyte::PH).collect::<Vec<_>>(), &units),
            media: MediaView::of(&asked.problem, &tank, &Setting::of(&tank, stirring, now.wall, &Tap::default()), now.wall.date(), &units),
            capacity: CapacityView::of(&tank),
            changes: ChangesView::of(&asked.target, &tank, tap_nitrate, &units),
            hours: acid_day::hours(&tank, stirring, &acidity),
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

fn reading_form(id: TankId, now: jiff::civil::DateTime, units: &Units) -> ReadingForm {
    ReadingForm::blank("reading", format!("/tanks/{id}/water/readings"), kit::first_for(Analyte::AMMONIA).id, now, units)
}
