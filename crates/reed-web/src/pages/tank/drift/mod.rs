//! Drift: the water of a tank to watch, things to try elsewhere, better places to search for, and a
//! test in real water.

mod better;
mod kept;
mod live;
mod trial;
mod tries;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::State;
use axum::http::header;
use axum::response::IntoResponse;
use axum::routing::{get, post};
use reed_core::flow::{FoodRelease, TankScene};
use reed_core::tank::{Tank, Thing};
use reed_core::units::{Length, Quantity};
use reed_flow::measure::{Muck, Rise};
use reed_store::{TankId, drift_trials};

use self::trial::{TestInput, TestLine};
use super::flow::{self, FlowView};
use crate::error::PageError;
use crate::flows::{self, Flow};
use crate::forms::Refusals;
use crate::pages::ids::Id;
use crate::state::App;
use crate::view::{Frame, Tab, Use, drift_sheet, sheet};

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/tanks/{tank}/drift", get(show))
        .route("/tanks/{tank}/flow.bin", get(field))
        .route("/tanks/{tank}/live", get(live::open))
        .route("/tanks/{tank}/try", get(tries::show).post(tries::keep))
        .route("/tanks/{tank}/try.bin", get(tries::field))
        .route("/tanks/{tank}/tries", post(kept::add))
        .route("/tanks/{tank}/tries/{try}", get(kept::show))
        .route("/tanks/{tank}/tries/{try}/flow.bin", get(kept::field))
        .route("/tanks/{tank}/tries/{try}/discard", post(kept::discard))
        .route("/tanks/{tank}/tries/{try}/take-back", post(kept::take_back))
        .route("/tanks/{tank}/tries/{try}/adopt", post(kept::adopt))
        .route("/tanks/{tank}/better", get(better::listen))
        .route("/tanks/{tank}/drift-tests", post(trial::add))
        .route(
            "/tanks/{tank}/drift-tests/{test}/strike",
            post(trial::strike),
        )
        .route(
            "/tanks/{tank}/drift-tests/{test}/restore",
            post(trial::restore),
        )
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/drift.html")]
struct DriftPage {
    frame: Frame,
    id: TankId,
    name: String,
    flow: FlowView,
    drawing: String,
    /// Height of the bed's surface and of the rim, and width of the tank, cm: where the field lies
    /// on the drawing.
    bed: f64,
    height: f64,
    width: f64,
    /// Places from which bubbles come, m from the bed: "x y z rise;…".
    bubbles: String,
    /// Where things stand, cm, with their heading if they have one: "number:x,y,z[,around,up];…".
    things: String,
    /// Sinking and lifting speed of the muck that is shown, m/s.
    sinks: f32,
    lifts: f32,
    /// [`Units::code`] of the units it is shown in.
    units: String,
    /// The keeper's unit of length, and how many cm it has.
    unit: &'static str,
    unit_cm: f64,
    tries: Vec<reed_store::tries::KeptTry>,
    /// Things for which better places can be looked for: number, name.
    searchable: Vec<(u32, String)>,
    goals: Vec<(&'static str, &'static str, u8)>,
    pinches: [FoodRelease; 2],
    test: TestInput,
    refused: Refusals,
    tests: Vec<TestLine>,
}

async fn show(State(app): State<App>, Id(id): Id<TankId>) -> Result<DriftPage, PageError> {
    page(&app, id, TestInput::blank(), Refusals::default()).await
}

/// The page, with a drift test as far as it was typed.
async fn page(
    app: &App,
    id: TankId,
    test: TestInput,
    refused: Refusals,
) -> Result<DriftPage, PageError> {
    let (tank, flow, chosen) = flow::of(app, id).await?;
    let units = test.carried.units(chosen);
    let (tries, tests) = app
        .read(move |db| {
            Ok((
                reed_store::tries::of_tank(db, id)?,
                drift_trials::of_tank(db, id)?,
            ))
        })
        .await?;
    let drawing = match &flow {
        Flow::Known(facts) => drift_sheet(&tank, &units, facts),
        _ => sheet(&tank, &units, &[], Use::Watching),
    };
    let unit = units.of(Length::UNITS);
    let now = app.clock.now();
    let searchable = tank
        .things
        .iter()
        .filter(|thing| thing.what.form().search().is_some() && !thing.locked);
    Ok(DriftPage {
        frame: Frame::new("drift", format!("Drift in {}", tank.name)).of_tank(
            id,
            &tank.name,
            Tab::Drift,
        ),
        id,
        flow: FlowView::of(flow, &units),
        drawing,
        bed: tank.bed_level_cm(),
        height: tank.glass.height.as_cm(),
        width: tank.glass.width.as_cm(),
        bubbles: bubbles(&tank),
        things: things(&tank),
        sinks: Muck::SINKS[0],
        lifts: Muck::LIFTED_AT[1],
        units: units.code(),
        unit: unit.symbol,
        unit_cm: unit.factor,
        tries,
        searchable: searchable
            .map(|thing| (thing.number.0, thing.name.clone()))
            .collect(),
        goals: better::goals(),
        pinches: FoodRelease::ALL,
        test,
        refused,
        tests: tests
            .iter()
            .map(|kept| TestLine::of(kept, &app.clock, &now, &units))
            .collect(),
        name: tank.name,
    })
}

fn things(tank: &Tank) -> String {
    let line = |thing: &Thing| {
        let place = format!(
            "{}:{},{},{}",
            thing.number,
            thing.x.as_cm(),
            thing.y.as_cm(),
            thing.z.as_cm()
        );
        let heading = thing
            .what
            .form()
            .heading()
            .filter(|_| thing.what.can_be_turned());
        heading.map_or(place.clone(), |heading| {
            format!(
                "{place},{},{}",
                heading.around.as_degrees(),
                heading.up.as_degrees()
            )
        })
    };
    tank.things.iter().map(line).collect::<Vec<_>>().join(";")
}

/// Air stones let coarse bubbles up; outlets may spit small ones.
fn bubbles(tank: &Tank) -> String {
    let movers = TankScene::of(tank).scene.movers;
    let stones = movers.plumes.iter().map(|plume| (plume.foot, Rise::Coarse));
    let outlets = movers.nozzles.iter().map(|nozzle| (nozzle.at, Rise::Micro));
    let line =
        |([x, y, z], rise): ([f32; 3], Rise)| format!("{x:.3} {y:.3} {z:.3} {:.3}", rise.speed());
    stones
        .chain(outlets)
        .map(line)
        .collect::<Vec<_>>()
        .join(";")
}

/// The flow of the tank as it stands.
async fn field(State(app): State<App>, Id(id): Id<TankId>) -> Result<impl IntoResponse, PageError> {
    let tank = tries::standing(&app, id).await?;
    packed(&app, tank).await
}

/// The flow of a tank with its maps, packed for the page's script.
async fn packed(app: &App, tank: Tank) -> Result<impl IntoResponse + use<>, PageError> {
    let field = app.read(move |db| flows::kept_field(db, &tank)).await?;
    let field =
        field.ok_or_else(|| PageError::NotFound("This flow is not computed yet.".to_owned()))?;
    Ok(([(header::CONTENT_TYPE, "application/octet-stream")], field))
}
