//! Devices of a tank: letting one in, what each sends now, and whether it can be believed.

use std::convert::Infallible;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::State;
use axum::response::sse::{Event, KeepAlive};
use axum::response::{IntoResponse, Redirect, Response, Sse};
use axum::routing::{get, post};
use axum_extra::extract::Form;
use futures_util::Stream;
use jiff::civil::DateTime;
use reed_core::sensor::{Point, trouble};
use reed_core::tank::{Analyte, Tank, hour_of_day};
use reed_core::twin::Stirring;
use reed_core::units::Units;
use reed_store::devices::{self, Device};
use reed_store::{Connection, DeviceId, StoreError, TankId, settings, tanks};
use serde::Deserialize;
use tokio::sync::broadcast::error::RecvError;

use crate::error::PageError;
use crate::flows;
use crate::pages::ids::{Id, Ids};
use crate::state::App;
use crate::view::{Frame, Mood, Tab, since};

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/tanks/{tank}/devices", get(show).post(let_in))
        .route("/tanks/{tank}/devices/{device}/drop", post(drop))
        .route("/tanks/{tank}/devices/live", get(live))
}

/// Readings of one thing that are looked at: two days of minutes.
const LOOKED_AT: usize = 2 * 24 * 60;

/// A thing that a device reads.
struct Value {
    /// Id of what is read, for the script that keeps it up to date.
    id: &'static str,
    label: &'static str,
    shown: String,
    at: String,
    /// What is wrong with it; empty where nothing is.
    trouble: String,
}

struct DeviceLine {
    id: DeviceId,
    name: String,
    heard: String,
    values: Vec<Value>,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/devices.html")]
struct DevicesPage {
    frame: Frame,
    id: TankId,
    devices: Vec<DeviceLine>,
    /// What a device that was just let in shows from now on: told this once.
    token: Option<(String, String)>,
}

/// What is known when devices are looked at.
struct Looking<'a> {
    tank: &'a Tank,
    units: &'a Units,
    now: DateTime,
    /// Oxygen at an hour, by the twin: its mean and spread, mg/L.
    oxygen: &'a dyn Fn(f64) -> (f64, f64),
}

impl Looking<'_> {
    fn line(
        &self,
        db: &Connection,
        device: Device,
        heard: String,
    ) -> Result<DeviceLine, StoreError> {
        let mut values = Vec::new();
        for analyte in Analyte::ALL {
            let latest = devices::latest(db, device.id, analyte, LOOKED_AT)?;
            let Some(last) = latest.last() else { continue };
            let points: Vec<Point> = latest
                .iter()
                .map(|reading| Point {
                    at: reading.taken_at,
                    value: reading.value,
                    expected: (**analyte == *Analyte::OXYGEN)
                        .then(|| (self.oxygen)(hour_of_day(reading.taken_at))),
                })
                .collect();
            let wrong = trouble(&points, self.now);
            values.push(Value {
                id: analyte.id,
                label: analyte.label,
                shown: analyte.print(last.value, self.units),
                at: since(last.taken_at, self.now),
                trouble: wrong.map_or_else(String::new, |wrong| {
                    wrong.words(analyte, |by| analyte.print(by, self.units))
                }),
            });
        }
        Ok(DeviceLine {
            id: device.id,
            name: device.name,
            heard,
            values,
        })
    }
}

async fn page(
    app: &App,
    id: TankId,
    token: Option<(String, String)>,
) -> Result<DevicesPage, PageError> {
    let (memory, clock, now) = (app.follows(), app.clock.clone(), app.clock.now().wall);
    app.read(move |db| {
        let revision = tanks::latest(db, id)?;
        let units = settings::units(db)?;
        let flow = flows::kept(db, id, &revision.tank)?;
        let stirring = Stirring::of(&revision.tank, flow.as_ref());
        let follows = memory.of(&revision, Mood::AtEase, stirring);
        let looking = Looking {
            tank: &revision.tank,
            units: &units,
            now,
            oxygen: &|hour| follows.forecast.at(hour),
        };
        let lines = devices::of_tank(db, id)?.into_iter().map(|device| {
            let heard = device.heard_at.map_or_else(
                || "It has sent nothing yet.".to_owned(),
                |at| format!("Sent something {}.", since(clock.wall_at(at), now)),
            );
            looking.line(db, device, heard)
        });
        let devices = lines.collect::<Result<_, _>>()?;
        Ok(DevicesPage {
            frame: Frame::new("devices", format!("Devices of {}", looking.tank.name)).of_tank(
                id,
                &looking.tank.name,
                Tab::Tank,
            ),
            id,
            devices,
            token,
        })
    })
    .await
}

async fn show(State(app): State<App>, Id(id): Id<TankId>) -> Result<DevicesPage, PageError> {
    page(&app, id, None).await
}

#[derive(Deserialize)]
struct Wanted {
    #[serde(default)]
    name: String,
}

/// Letters of a device's name at most.
const LONGEST_NAME: usize = 60;

async fn let_in(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(wanted): Form<Wanted>,
) -> Result<Response, PageError> {
    let name = wanted.name.trim().to_owned();
    let letters = name.chars().count();
    if letters == 0 || letters > LONGEST_NAME {
        return Err(PageError::Refused(format!(
            "Name: it has {letters} letters; give 1 to {LONGEST_NAME}, such as “Probe by the outlet”."
        )));
    }
    let now = app.clock.now().utc;
    let called = name.clone();
    let token = app
        .write(move |db| {
            tanks::latest(db, id)?;
            devices::let_in(db, id, &called, now)
        })
        .await?;
    // Shown once, in the answer itself: it is nowhere kept.
    Ok(page(&app, id, Some((name, token))).await?.into_response())
}

async fn drop(
    State(app): State<App>,
    Ids(id, device): Ids<TankId, DeviceId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().utc;
    app.write(move |db| devices::drop(db, id, device, now))
        .await?;
    Ok(Redirect::to(&format!("/tanks/{id}/devices")))
}

/// What the devices of a tank send, as it comes.
async fn live(
    State(app): State<App>,
    Id(id): Id<TankId>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, PageError> {
    let units = app.read(settings::units).await?;
    let heard = app.heard().subscribe();
    let stream = futures_util::stream::unfold(heard, move |mut heard| async move {
        loop {
            match heard.recv().await {
                Ok((tank, reading)) if tank == id => {
                    let data = serde_json::json!({
                        "analyte": reading.analyte.id,
                        "shown": reading.analyte.print(reading.value, &units),
                    });
                    let event = Event::default().event("reading").data(data.to_string());
                    return Some((Ok(event), heard));
                }
                // Another tank's, or more than a slow listener could follow: the next one will do.
                Ok(_) | Err(RecvError::Lagged(_)) => {}
                Err(RecvError::Closed) => return None,
            }
        }
    });
    Ok(Sse::new(stream).keep_alive(KeepAlive::default()))
}
