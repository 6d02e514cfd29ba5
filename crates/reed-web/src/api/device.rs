//! What a device may ask of itself.

use axum::Json;
use axum::extract::State;
use axum::http::HeaderMap;
use axum::response::{IntoResponse, Response};
use reed_store::{tanks, watches};
use serde::Serialize;

use super::{device, unknown_token};
use crate::error::PageError;
use crate::state::App;

/// A device as it is known here.
#[derive(Debug, Serialize, utoipa::ToSchema)]
pub(super) struct Known {
    /// What the keeper calls it.
    #[schema(example = "probe")]
    name: String,
    /// What the keeper calls the tank that it reads.
    #[schema(example = "Reading room")]
    tank: String,
    /// The moment here: what is sent from more than two minutes later is refused.
    #[schema(example = "2026-03-10T08:30:00Z")]
    now: String,
    /// The latest of each thing that is kept of it: after an outage, send what is later.
    latest: Vec<Latest>,
}

/// The latest reading of one thing.
#[derive(Debug, Serialize, utoipa::ToSchema)]
struct Latest {
    /// Its id.
    #[schema(example = "do")]
    analyte: &'static str,
    /// How much, in the unit that is named.
    #[schema(example = 7.4)]
    value: f64,
    /// The unit; empty for what has none.
    #[schema(example = "mg/L")]
    unit: &'static str,
    /// When it was read.
    #[schema(example = "2026-03-10T08:29:00Z")]
    at: String,
}

/// Tells a device who it is here, the time, and what is kept of it last.
///
/// Asked before it begins, and after an outage: it need not send again what is kept.
#[utoipa::path(
    get,
    path = "/api/v1/device",
    security(("device" = [])),
    responses(
        (status = 200, description = "As it is known here.", body = Known),
        (status = 401, description = "No device shows such a token.", body = super::Problem),
    )
)]
pub(super) async fn show(
    State(app): State<App>,
    headers: HeaderMap,
) -> Result<Response, PageError> {
    let Some(device) = device(&app, &headers).await? else {
        return Ok(unknown_token());
    };
    let now = app.clock.now().utc;
    let known = app
        .read(move |db| {
            let read = watches::all(db, Some(device.tank))?;
            let latest = read.into_iter().filter(|one| one.device == device.id);
            Ok(Known {
                name: device.name,
                tank: tanks::latest(db, device.tank)?.tank.name,
                now: now.to_string(),
                latest: latest
                    .map(|one| Latest {
                        analyte: one.analyte.id,
                        value: one.value,
                        unit: one.analyte.units[0].symbol,
                        at: one.at.to_string(),
                    })
                    .collect(),
            })
        })
        .await?;
    Ok(Json(known).into_response())
}
