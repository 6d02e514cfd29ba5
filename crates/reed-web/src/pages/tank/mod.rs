//! A tank: how it stands, changing it on the drawing, its history, its file.

mod charts;
mod commands;
mod devices;
mod drift;
mod editor;
mod fields;
mod files;
mod filter;
mod flow;
mod history;
pub(crate) mod log;
mod overview;
mod routine;
mod start;
mod told;
mod twin;
mod water;

use axum::Router;
use axum::extract::State;
use axum::response::Redirect;
use axum::routing::{get, post};
use reed_core::tank::{Assumed, Tank};
use reed_store::{TankId, cases, tanks};

pub(in crate::pages) use log::Often;
pub(in crate::pages) use routine::{Asking, Doing, TaskLine, day};

use super::ids::Id;
use crate::clock::Moment;
use crate::error::PageError;
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .merge(charts::routes())
        .merge(devices::routes())
        .merge(drift::routes())
        .merge(filter::routes())
        .merge(log::routes())
        .merge(routine::routes())
        .merge(water::routes())
        .route("/tanks/new", get(start::choose))
        .route("/tanks/new/{start}", get(start::show).post(start::create))
        .route("/tanks/{tank}/confirm", post(confirm))
        .route("/tanks", post(editor::create))
        .route("/tanks/{tank}", get(overview::show).post(editor::revise))
        .route("/tanks/{tank}/edit", get(editor::edit))
        .route("/tanks/{tank}/revisions/{revision}", get(history::show))
        .route(
            "/tanks/{tank}/revisions/{revision}/restore",
            post(history::restore),
        )
        .route("/tanks/{tank}/tank.reed.json", get(files::tank_file))
        .route("/tanks/{tank}/flow", get(flow::part))
        .route("/tanks/{tank}/drawing.svg", get(files::drawing))
        .route("/tanks/{tank}/put-away", post(put_away))
        .route("/tanks/{tank}/take-back", post(take_back))
        .route("/tanks/{tank}/cases", post(open_case))
}

/// What was assumed is right.
async fn confirm(State(app): State<App>, Id(id): Id<TankId>) -> Result<Redirect, PageError> {
    let Moment { utc, .. } = app.clock.now();
    app.write(move |db| {
        let latest = tanks::latest(db, id)?.tank;
        if latest.assumed.is_empty() {
            return Ok(());
        }
        let tank = Tank {
            assumed: Assumed::default(),
            ..latest
        };
        tanks::revise(db, id, &tank, "What was assumed is right", utc).map(drop)
    })
    .await?;
    Ok(Redirect::to(&format!("/tanks/{id}")))
}

async fn put_away(State(app): State<App>, Id(id): Id<TankId>) -> Result<Redirect, PageError> {
    let Moment { utc, .. } = app.clock.now();
    app.write(move |db| tanks::set_removed(db, id, Some(utc)))
        .await?;
    Ok(Redirect::to(&format!("/tanks/{id}")))
}

async fn take_back(State(app): State<App>, Id(id): Id<TankId>) -> Result<Redirect, PageError> {
    app.write(move |db| tanks::set_removed(db, id, None))
        .await?;
    Ok(Redirect::to(&format!("/tanks/{id}")))
}

/// Opens a case, or leads to the one that is open already: two open cases on one tank would share
/// their evidence.
async fn open_case(State(app): State<App>, Id(id): Id<TankId>) -> Result<Redirect, PageError> {
    let now = app.clock.now();
    let case = app
        .write(move |db| {
            let open = cases::of_tank(db, id)?
                .into_iter()
                .find(|case| case.closed.is_none());
            open.map_or_else(|| cases::open(db, id, now.utc), |case| Ok(case.id))
        })
        .await?;
    Ok(Redirect::to(&format!("/cases/{case}")))
}
