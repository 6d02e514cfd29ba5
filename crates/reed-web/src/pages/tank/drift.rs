//! Drift: the water of a tank to watch, with what the flow model says of it in words.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use axum::http::header;
use axum::response::IntoResponse;
use reed_core::tank::{Tank, Thing};
use reed_flow::measure::{Muck, Rise};
use reed_store::{TankId, tanks};

use super::flow::{self, FlowView};
use crate::error::PageError;
use crate::flows::{self, Flow};
use crate::pages::number::Number;
use crate::state::App;
use crate::view::{Frame, Use, drift_sheet, sheet};

#[derive(Template, WebTemplate)]
#[template(path = "pages/drift.html")]
pub(super) struct DriftPage {
    frame: Frame,
    id: TankId,
    name: String,
    flow: FlowView,
    drawing: String,
    /// Height of the bed's surface and of the rim, and width of the tank, cm: where the field lies on the drawing.
    bed: f64,
    height: f64,
    width: f64,
    /// Places from which bubbles come, m from the bed: "x y z rise;…".
    bubbles: String,
    /// Where things stand, cm: "number:x,y,z;…".
    things: String,
    /// Sinking and lifting speed of the muck that is shown, m/s.
    sinks: f32,
    lifts: f32,
}

pub(super) async fn show(State(app): State<App>, Number(id): Number) -> Result<DriftPage, PageError> {
    let id = TankId(id);
    let (tank, flow, units) = flow::of(&app, id).await?;
    let drawing = match &flow {
        Flow::Known(facts) => drift_sheet(&tank, &units, facts),
        _ => sheet(&tank, &units, &[], Use::Watching),
    };
    Ok(DriftPage {
        frame: Frame::new(format!("Drift, {}", tank.name)),
        id,
        flow: FlowView::of(flow, &units),
        drawing,
        bed: tank.bed.depth.as_cm().min(tank.water_depth.as_cm()),
        height: tank.glass.height.as_cm(),
        width: tank.glass.width.as_cm(),
        bubbles: bubbles(&tank),
        things: things(&tank),
        sinks: Muck::SINKS[0],
        lifts: Muck::LIFTED_AT[1],
        name: tank.name,
    })
}

fn things(tank: &Tank) -> String {
    let line = |thing: &Thing| format!("{}:{},{},{}", thing.number, thing.x.as_cm(), thing.y.as_cm(), thing.z.as_cm());
    tank.things.iter().map(line).collect::<Vec<_>>().join(";")
}

/// Air stones let coarse bubbles up; outlets may spit small ones.
fn bubbles(tank: &Tank) -> String {
    let movers = reed_core::flow::Drawn::of(tank).scene.movers;
    let stones = movers.plumes.iter().map(|plume| (plume.foot, Rise::Coarse));
    let outlets = movers.nozzles.iter().map(|nozzle| (nozzle.at, Rise::Micro));
    let line = |([x, y, z], rise): ([f32; 3], Rise)| format!("{x:.3} {y:.3} {z:.3} {:.3}", rise.speed());
    stones.chain(outlets).map(line).collect::<Vec<_>>().join(";")
}

/// The packed speeds, for the page's script.
pub(super) async fn field(State(app): State<App>, Number(id): Number) -> Result<impl IntoResponse, PageError> {
    let field = app.read(move |db| flows::kept_field(db, &tanks::latest(db, TankId(id))?.tank)).await?;
    let field = field.ok_or_else(|| PageError::NotFound("The flow of this tank is not computed yet.".to_owned()))?;
    Ok(([(header::CONTENT_TYPE, "application/octet-stream")], field))
}
