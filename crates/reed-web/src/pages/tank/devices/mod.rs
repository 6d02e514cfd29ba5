//! Devices of a tank: letting one in, what each sends now, whether it can be believed, and from where
//! on it calls for somebody.

mod calls;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use axum_extra::extract::Form;
use jiff::civil::DateTime;
use reed_core::alarm::Quiet;
use reed_core::sensor::{Point, trouble};
use reed_core::tank::{Analyte, Tank, hour_of_day};
use reed_core::twin::Stirring;
use reed_core::units::Units;
use reed_store::devices::{self, Device};
use reed_store::watches;
use reed_store::{Connection, DeviceId, StoreError, TankId, settings, tanks};
use serde::Deserialize;

use self::calls::BoundsLine;
use crate::alarms::{AlarmLine, Telling};
use crate::error::PageError;
use crate::flows;
use crate::pages::ids::{Id, Ids};
use crate::pages::now::key;
use crate::state::App;
use crate::view::{Frame, Mood, Tab, since};

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/tanks/{tank}/devices", get(show).post(let_in))
        .route("/tanks/{tank}/devices/bounds", post(calls::set_bounds))
        .route("/tanks/{tank}/devices/quiet", post(calls::set_quiet))
        .route("/tanks/{tank}/devices/whole", post(set_whole))
        .route("/tanks/{tank}/devices/{device}/drop", post(drop))
}

/// Readings of one thing that are looked at: two days of minutes.
const LOOKED_AT: usize = 2 * 24 * 60;

/// A thing that a device reads.
struct Value {
    /// By which the script finds its place when it is read anew.
    key: String,
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
    alarms: Vec<AlarmLine>,
    bounds: Vec<BoundsLine>,
    /// For how long every reading is kept: days, in words, whether it is so now.
    whole: Vec<(String, String, bool)>,
    typed: Typed,
    /// What a device that was just let in shows from now on: told this once.
    token: Option<(String, String)>,
}

/// What was typed into the forms and refused, with why; empty elsewhere. Hours of quiet as they stand
/// where none were refused.
#[derive(Clone, Debug, Default)]
struct Typed {
    name: String,
    name_refused: String,
    /// Of what the bounds are.
    analyte: String,
    low: String,
    high: String,
    bounds_refused: String,
    from: String,
    until: String,
    quiet_refused: String,
}

impl Typed {
    fn or_quiet(self, quiet: Option<Quiet>) -> Self {
        match quiet {
            Some(quiet) if self.quiet_refused.is_empty() => Self {
                from: quiet.from.strftime("%H:%M").to_string(),
                until: quiet.until.strftime("%H:%M").to_string(),
                ..self
            },
            _ => self,
        }
    }
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
                key: key(device.id, analyte),
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
    typed: Typed,
) -> Result<DevicesPage, PageError> {
    let (memory, clock, known) = (app.follows(), app.clock.clone(), app.bounds());
    let moment = app.clock.now();
    let now = moment.wall;
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
        let telling = Telling {
            clock: &clock,
            units: &units,
            quiet: settings::quiet(db)?,
            now: moment,
        };
        let watched = watches::all(db, Some(id))?;
        let frame = Frame::new("devices", format!("Devices of {}", looking.tank.name));
        Ok(DevicesPage {
            frame: frame
                .with_part("alarms")
                .of_tank(id, &looking.tank.name, Tab::Tank),
            id,
            devices,
            alarms: telling.alarms(db, &known, &watched)?,
            bounds: BoundsLine::all(db, id, &known, &units, &typed, &watched)?,
            whole: whole_choices(settings::whole_days(db)?),
            typed: typed.or_quiet(telling.quiet),
            token,
        })
    })
    .await
}

async fn show(State(app): State<App>, Id(id): Id<TankId>) -> Result<DevicesPage, PageError> {
    page(&app, id, None, Typed::default()).await
}

/// The page again, with what was typed and why it was not taken.
async fn refused(app: &App, id: TankId, typed: Typed) -> Result<Response, PageError> {
    let page = page(app, id, None, typed).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}

#[derive(Deserialize)]
struct Wanted {
    #[serde(default)]
    name: String,
}

/// For how many days every reading may be kept; none: for ever.
const WHOLE_DAYS: [Option<u32>; 4] = [Some(30), Some(90), Some(365), None];

fn whole_choices(chosen: Option<u32>) -> Vec<(String, String, bool)> {
    let choice = |days: &Option<u32>| {
        let (value, words) = days.map_or_else(
            || (String::new(), "for ever".to_owned()),
            |days| (days.to_string(), format!("for {days} days")),
        );
        (value, words, *days == chosen)
    };
    WHOLE_DAYS.iter().map(choice).collect()
}

#[derive(Deserialize)]
struct Whole {
    #[serde(default)]
    days: String,
}

async fn set_whole(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(input): Form<Whole>,
) -> Result<Redirect, PageError> {
    let mut choices = WHOLE_DAYS.into_iter();
    let chosen =
        choices.find(|days| days.map_or_else(String::new, |days| days.to_string()) == input.days);
    let days = chosen.ok_or_else(|| {
        PageError::Refused(format!(
            "Keep every reading: “{}” days are no choice. Choose 30, 90, 365, or for ever.",
            input.days
        ))
    })?;
    app.write(move |db| settings::choose_whole_days(db, days))
        .await?;
    Ok(Redirect::to(&format!("/tanks/{id}/devices#whole")))
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
        let typed = Typed {
            name_refused: format!(
                "Name: it has {letters} letters; give 1 to {LONGEST_NAME}, such as “Probe by the outlet”."
            ),
            name,
            ..Typed::default()
        };
        return refused(&app, id, typed).await;
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
    let page = page(&app, id, Some((name, token)), Typed::default()).await?;
    Ok(page.into_response())
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
