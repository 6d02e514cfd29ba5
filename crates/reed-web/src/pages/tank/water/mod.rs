//! Water: oxygen through the day, nitrogen ahead, surfaces for bacteria, changes and their size.

mod ahead;
mod events;
mod sizing;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Query, State};
use axum::routing::{get, post};
use jiff::SignedDuration;
use reed_core::ahead::{What, areas};
use reed_core::numbers::{Numbers, SINTERED_KG_PER_L, capacity_ratio, surface_needed_m2};
use reed_core::tank::kit::{self, Kit};
use reed_core::tank::{Analyte, Tank};
use reed_core::trouble::{self, Trouble};
use reed_core::twin::Stirring;
use reed_core::units::{Salinity, Units};
use reed_core::water::nitrogen::changes::{fraction_to_hold, interval_to_hold, peak_between_changes};
use reed_core::water::nitrogen::{HALF_AT_TAN_MG_L, KIT_ZERO_MG_L, MOST_G_M2_DAY, NITRATE_PER_NITROGEN};
use reed_store::{TankId, readings, settings, tanks};

use self::events::EventInput;
use self::sizing::{Sized, SizingInput};
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
        .route("/tanks/{tank}/water/readings", post(events::add_reading))
}

/// Readings of oxygen that stand on the day's curve are no older, days.
const DOTS_DAYS: i64 = 14;
/// Nitrate that keepers mean to stay under, mg/L of the ion. Common practice.
const NITRATE_LIMIT_MG_L: f64 = 40.0;

#[derive(Template, WebTemplate)]
#[template(path = "pages/water.html")]
struct WaterPage {
    frame: Frame,
    id: TankId,
    name: String,
    twin: TwinView,
    /// What fails, and the lowest oxygen then.
    troubles: Vec<(&'static str, String)>,
    capacity: Capacity,
    changes: Changes,
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
        let salt = salinity.as_g_per_kg() > SALT_WATER;
        let guide = |kit: &&'static Kit| Self {
            id: kit.id,
            title: kit.title,
            steps: kit.steps.iter().map(|step| (step.text, if salt { step.seconds_in_salt } else { step.seconds })).collect(),
            is_colour: kit.steps.iter().any(|step| step.text.contains("card")),
        };
        kit::ALL.iter().map(guide).collect()
    }
}

/// From so much salt on it counts as salt water, g/kg.
const SALT_WATER: f64 = 5.0;

/// Surface there and surface needed.
struct Capacity {
    areas: Vec<(String, String, f64)>,
    have: String,
    need: String,
    words: String,
    short: bool,
}

impl Capacity {
    fn of(tank: &Tank) -> Self {
        let areas = areas(tank);
        let have: f64 = areas.iter().map(|area| area.m2).sum();
        let largest = areas.iter().map(|area| area.m2).fold(1e-9, f64::max);
        let ratio = capacity_ratio(tank);
        let need = surface_needed_m2(tank);
        let litres = |m2: f64| m2 / reed_core::tank::Medium::Sintered.surface_m2_per_l().value;
        let words = match ratio {
            None => "Nothing is fed: bacteria need nothing.".to_owned(),
            Some(ratio) if ratio < 1.0 => format!(
                "{:.1} m² are missing: {:.1} L of sintered media more, about {:.1} kg, or less feed. Ammonia then shows again and again.",
                need - have,
                litres(need - have),
                litres(need - have) * SINTERED_KG_PER_L.value
            ),
            Some(ratio) => format!(
                "{:.1} m² to spare: the surfaces carry {ratio:.1} times what is fed now. That is no leave to stock: oxygen, nitrate and room have limits of their own.",
                have - need
            ),
        };
        Self {
            areas: areas.into_iter().map(|area| (area.name, format!("{:.2} m²", area.m2), (100.0 * area.m2 / largest).round())).collect(),
            have: format!("{have:.1} m²"),
            need: format!("{need:.1} m²"),
            words,
            short: ratio.is_some_and(|ratio| ratio < 1.0),
        }
    }
}

/// What changing water does to nitrate, in closed forms.
struct Changes {
    habit: String,
    peak: String,
    gain: String,
    hold: String,
    interval: String,
    limit: String,
}

impl Changes {
    fn of(tank: &Tank, tap_nitrate: f64) -> Self {
        let (share, days) = (tank.practice.change_share.as_percent() / 100.0, f64::from(tank.practice.change_every_days));
        let tap = tap_nitrate * NITRATE_PER_NITROGEN;
        let daily = Numbers::of(tank).nitrogen_g_per_day * 1000.0 / tank.net_volume().as_litres() * NITRATE_PER_NITROGEN;
        let gain = daily * days;
        let never = || "no change of this tap water does".to_owned();
        Self {
            habit: format!("{:.0} % every {days:.0} days", share * 100.0),
            peak: format!("{:.0} mg/L", peak_between_changes(tap, gain, share)),
            limit: format!("{NITRATE_LIMIT_MG_L:.0} mg/L"),
            gain: format!("{daily:.2} mg/L a day"),
            hold: fraction_to_hold(NITRATE_LIMIT_MG_L, tap, gain)
                .map_or_else(never, |fraction| format!("{:.0} % every {days:.0} days", (fraction * 100.0).ceil().max(1.0))),
            interval: interval_to_hold(NITRATE_LIMIT_MG_L, tap, daily, share)
                .map_or_else(never, |interval| format!("{:.0} % every {:.0} days", share * 100.0, interval.floor().clamp(1.0, 365.0))),
        }
    }
}

async fn show(State(app): State<App>, Number(id): Number, Query(input): Query<SizingInput>) -> Result<WaterPage, PageError> {
    page(&app, TankId(id), input).await
}

async fn page(app: &App, id: TankId, input: SizingInput) -> Result<WaterPage, PageError> {
    let clock = app.clock.clone();
    app.read(move |db| {
        let now = clock.now();
        let (tank, units) = (tanks::latest(db, id)?.tank, settings::units(db)?);
        let flow = flows::kept(db, id, &tank)?;
        let latest = |analyte: &Analyte| readings::latest(db, id, analyte.id);
        let dots: Vec<Dot> = readings::since(db, id, now.wall - SignedDuration::from_hours(24 * DOTS_DAYS))?
            .iter()
            .filter(|stored| stored.reading.analyte == Analyte::OXYGEN && !stored.is_struck())
            .map(|stored| Dot::of(&stored.reading, false))
            .collect();
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
            twin: TwinView::of(&tank, Stirring::of(&tank, flow.as_ref()), &dots),
            troubles: troubles(&tank, Stirring::of(&tank, flow.as_ref())),
            capacity: Capacity::of(&tank),
            changes: Changes::of(&tank, tap_nitrate),
            sizing: Sized::of(&input, &tank, &values, &units),
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

fn troubles(tank: &Tank, stirring: Stirring) -> Vec<(&'static str, String)> {
    let line = |trouble: &Trouble| Some((trouble.name, format!("{:.1} mg/L", trouble.lowest_mg_l(tank, stirring)?)));
    trouble::ALL.iter().filter_map(line).collect()
}

fn reading_form(id: TankId, now: jiff::civil::DateTime, units: &Units) -> ReadingForm {
    ReadingForm::blank("reading", format!("/tanks/{id}/water/readings"), kit::first_for(Analyte::AMMONIA).id, now, units)
}
