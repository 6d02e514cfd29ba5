//! A tank: entering it, correcting it, what its twin says, its revisions and cases.

mod form;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use axum_extra::extract::Form;
use reed_core::forecast::{Ensemble, Grade};
use reed_core::tank::{Activity, Bubbles, Planting, Running, Surface, Tank};
use reed_core::twin::Twin;
use reed_store::tanks::Revision;
use reed_store::{CaseId, TankId, cases, tanks};

use self::form::TankForm;
use super::number::Number;
use crate::clock::Moment;
use crate::error::PageError;
use crate::forms::Refusals;
use crate::state::App;
use crate::view::{Chart, ChartSize, Frame, Mood, draw, hours, percent, when};

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/tanks/new", get(blank))
        .route("/tanks", post(create))
        .route("/tanks/{tank}", get(show).post(revise))
        .route("/tanks/{tank}/put-away", post(put_away))
        .route("/tanks/{tank}/take-back", post(take_back))
        .route("/tanks/{tank}/cases", post(open_case))
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/tank.html")]
struct TankPage {
    frame: Frame,
    form: TankForm,
    refusals: Refusals,
    /// Absent while the tank is being entered for the first time.
    standing: Option<StandingView>,
}

/// What is known of a tank that is stored.
struct StandingView {
    id: TankId,
    name: String,
    removed: bool,
    drawing: String,
    twin: TwinView,
    revisions: Vec<(String, String)>,
    cases: Vec<CaseLine>,
    open_case: Option<CaseId>,
}

struct CaseLine {
    id: CaseId,
    opened: String,
    ended: String,
}

/// What the twin says, ready to print.
pub(super) struct TwinView {
    saturation: String,
    pressure: String,
    lowest: String,
    grade: &'static str,
    chart: String,
    budget: Vec<BudgetLine>,
    to_4: String,
    to_2: String,
}

struct BudgetLine {
    name: &'static str,
    mg_per_h: String,
    /// Width of its bar, percent of the largest.
    share: f64,
    gains: bool,
    formula: &'static str,
    source: &'static str,
}

impl TwinView {
    fn of(tank: &Tank) -> Self {
        let twin = Twin::of(tank);
        let forecast = Ensemble::of_tank(tank).forecast(Tank::clone);
        let budget = twin.budget(tank);
        let largest = budget.iter().map(|term| term.mg_per_h.abs()).fold(1e-9, f64::max);
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
            grade: Grade::of(forecast.lowest, forecast.saturation).words(),
            chart: Chart { now: &forecast, after: None, plants: tank.plants, dots: &[], size: ChartSize::Full, id: "day" }.draw(),
            budget: budget
                .iter()
                .map(|term| BudgetLine {
                    name: term.name,
                    mg_per_h: format!("{:+.0} mg/h", term.mg_per_h).replace('-', "−"),
                    share: (100.0 * term.mg_per_h.abs() / largest).round(),
                    gains: term.mg_per_h > 0.0,
                    formula: term.formula,
                    source: term.source,
                })
                .collect(),
            to_4: hours(twin.outage.reaches(4.0)),
            to_2: hours(twin.outage.reaches(2.0)),
        }
    }
}

impl StandingView {
    async fn load(app: &App, id: TankId) -> Result<(Self, Tank), PageError> {
        let clock = app.clock.clone();
        app.read(move |db| {
            let revisions = tanks::revisions(db, id)?;
            let latest = tanks::latest(db, id)?;
            let cases = cases::of_tank(db, id)?;
            let now = clock.now();
            let wall = |at| when(clock.wall_at(at), now.wall);
            let view = Self {
                id,
                name: latest.tank.name.clone(),
                removed: latest.removed,
                drawing: draw(&latest.tank, Mood::AtEase),
                twin: TwinView::of(&latest.tank),
                revisions: revisions.iter().map(|revision: &Revision| (wall(revision.made_at), revision.why.clone())).collect(),
                open_case: cases.iter().find(|case| case.closed.is_none()).map(|case| case.id),
                cases: cases
                    .into_iter()
                    .map(|case| CaseLine {
                        id: case.id,
                        opened: wall(case.opened_at),
                        ended: case.closed.map_or_else(|| "open".to_owned(), |(at, words)| format!("closed {}: {words}", wall(at))),
                    })
                    .collect(),
            };
            Ok((view, latest.tank))
        })
        .await
    }
}

async fn blank() -> TankPage {
    TankPage { frame: Frame::new("New tank"), form: TankForm::starting_point(), refusals: Refusals::default(), standing: None }
}

async fn create(State(app): State<App>, Form(form): Form<TankForm>) -> Result<Response, PageError> {
    match form.parse() {
        Ok(tank) => {
            let now = app.clock.now();
            let id = app.write(move |db| tanks::create(db, &tank, now.utc)).await?;
            Ok(Redirect::to(&format!("/tanks/{id}")).into_response())
        }
        Err(refusals) => {
            let page = TankPage { frame: Frame::new("New tank"), form: form.with_blank_rows(), refusals, standing: None };
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

async fn show(State(app): State<App>, Number(id): Number) -> Result<TankPage, PageError> {
    let (standing, tank) = StandingView::load(&app, TankId(id)).await?;
    let frame = Frame::new(standing.name.clone());
    Ok(TankPage { frame, form: TankForm::of(&tank), refusals: Refusals::default(), standing: Some(standing) })
}

async fn revise(State(app): State<App>, Number(id): Number, Form(form): Form<TankForm>) -> Result<Response, PageError> {
    let id = TankId(id);
    let (standing, before) = StandingView::load(&app, id).await?;
    match form.parse() {
        Ok(tank) => {
            let now = app.clock.now();
            // What the form does not show stays as it was.
            let tank = Tank { temperature_now: before.temperature_now, rotting: before.rotting, ..tank };
            if tank != before {
                app.write(move |db| tanks::revise(db, id, &tank, "Changed by hand", now.utc)).await?;
            }
            Ok(Redirect::to(&format!("/tanks/{id}")).into_response())
        }
        Err(refusals) => {
            let page =
                TankPage { frame: Frame::new(standing.name.clone()), form: form.with_blank_rows(), refusals, standing: Some(standing) };
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

async fn put_away(State(app): State<App>, Number(id): Number) -> Result<Redirect, PageError> {
    let Moment { utc, .. } = app.clock.now();
    app.write(move |db| tanks::set_removed(db, TankId(id), Some(utc))).await?;
    Ok(Redirect::to(&format!("/tanks/{id}")))
}

async fn take_back(State(app): State<App>, Number(id): Number) -> Result<Redirect, PageError> {
    app.write(move |db| tanks::set_removed(db, TankId(id), None)).await?;
    Ok(Redirect::to(&format!("/tanks/{id}")))
}

/// Opens a case, or leads to the one that is open already: two open cases on one tank would share their evidence.
async fn open_case(State(app): State<App>, Number(id): Number) -> Result<Redirect, PageError> {
    let now = app.clock.now();
    let case = app
        .write(move |db| {
            let open = cases::of_tank(db, TankId(id))?.into_iter().find(|case| case.closed.is_none());
            open.map_or_else(|| cases::open(db, TankId(id), now.utc), |case| Ok(case.id))
        })
        .await?;
    Ok(Redirect::to(&format!("/cases/{case}")))
}
