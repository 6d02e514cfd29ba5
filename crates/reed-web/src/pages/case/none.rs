//! The Case tab of a tank: the open case, or what there is to say without one.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect, Response};
use reed_store::{CaseId, TankId, cases, tanks};

use super::super::ids::Id;
use crate::error::PageError;
use crate::state::App;
use crate::view::{Frame, Mood, Tab, draw, when};

#[derive(Template, WebTemplate)]
#[template(path = "pages/case_none.html")]
struct NoCasePage {
    frame: Frame,
    tank: TankId,
    drawing: String,
    /// Closed cases, newest first: which, when it was opened, how it ended.
    past: Vec<(CaseId, String, String)>,
}

pub(super) async fn show(
    State(app): State<App>,
    Id(id): Id<TankId>,
) -> Result<Response, PageError> {
    let (tank, clock) = (id, app.clock.clone());
    let (revision, of_tank) = app
        .read(move |db| Ok((tanks::latest(db, tank)?, cases::of_tank(db, tank)?)))
        .await?;
    if let Some(open) = of_tank.iter().find(|case| case.closed.is_none()) {
        return Ok(Redirect::to(&format!("/cases/{}", open.id)).into_response());
    }
    let wall = |at| when(clock.wall_at(at), clock.now().wall);
    let ended = |case: &cases::KeptCase| {
        case.closed
            .as_ref()
            .map_or_else(String::new, |(at, words)| {
                format!("closed {}: {words}", wall(*at))
            })
    };
    let name = &revision.tank.name;
    Ok(NoCasePage {
        frame: Frame::new("case-none", format!("Cases of {name}")).of_tank(tank, name, Tab::Case),
        tank,
        drawing: draw(&revision.tank, Mood::AtEase),
        past: of_tank
            .iter()
            .map(|case| (case.id, wall(case.opened_at), ended(case)))
            .collect(),
    }
    .into_response())
}
