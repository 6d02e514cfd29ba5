//! What calls for somebody now and what devices read last, as it comes: of one tank, or of all.

use std::convert::Infallible;
use std::pin::Pin;
use std::sync::Arc;
use std::time::Duration;

use askama::Template;
use axum::Router;
use axum::extract::{Path, State};
use axum::http::HeaderMap;
use axum::response::sse::{Event, KeepAlive, KeepAliveStream};
use axum::response::{Redirect, Sse};
use axum::routing::{get, post};
use futures_util::Stream;
use reed_core::tank::{Analyte, Reading, analyte};
use reed_core::units::Units;
use reed_store::watches::{self, Watched};
use reed_store::{Connection, DeviceId, StoreError, TankId, settings};
use tokio::sync::broadcast::Receiver;
use tokio::sync::broadcast::error::RecvError;
use tokio::time::{Interval, MissedTickBehavior, interval};

use crate::alarms::{AlarmLine, Heard, KnownBounds, Telling};
use crate::clock::Clock;
use crate::error::PageError;
use crate::pages::ids::Id;
use crate::state::App;
use crate::view::since;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/now", get(of_all))
        .route("/tanks/{tank}/now", get(of_one))
        .route("/tanks/{tank}/alarms/{device}/{analyte}/seen", post(seen))
}

/// Something that a device reads now.
pub(crate) struct LiveValue {
    /// By which the script finds its place when it is read anew.
    pub(crate) key: String,
    pub(crate) label: &'static str,
    pub(crate) shown: String,
    pub(crate) at: String,
}

/// The key of something that a device reads.
pub(crate) fn key(device: DeviceId, analyte: &Analyte) -> String {
    format!("{device}-{}", analyte.id)
}

impl LiveValue {
    /// The latest of each thing that the devices of one tank read, but for what is read seldom or no more.
    pub(crate) fn all(watched: &[Watched], telling: &Telling<'_>) -> Vec<Self> {
        let latest = |analyte: &Analyte| {
            let of_it = watched
                .iter()
                .filter(|one| one.analyte == analyte && telling.is_live(one));
            of_it.max_by_key(|one| one.at)
        };
        let all = Analyte::ALL.iter().filter_map(|analyte| latest(analyte));
        all.map(|one| Self {
            key: key(one.device, one.analyte),
            label: one.analyte.label,
            shown: one.analyte.print(one.value, telling.units),
            at: since(telling.clock.wall_at(one.at), telling.now.wall),
        })
        .collect()
    }
}

/// What stands now.
#[derive(Template)]
#[template(path = "parts/now.html")]
struct NowPart {
    alarms: Vec<AlarmLine>,
    values: Vec<LiveValue>,
    /// Devices that are silent: what each is called, and since when.
    silent: Vec<(String, String)>,
    /// Of which tank it is; none of all, whose values stand elsewhere.
    tank: Option<TankId>,
}

/// What is needed to read what stands now, on whatever thread.
#[derive(Clone)]
pub(in crate::pages) struct Watching {
    clock: Clock,
    known: Arc<KnownBounds>,
}

impl Watching {
    pub(in crate::pages) fn of(app: &App) -> Self {
        Self {
            clock: app.clock.clone(),
            known: app.bounds(),
        }
    }

    /// What stands now in a tank, or in all, as a part of a page.
    pub(in crate::pages) fn part(
        &self,
        db: &Connection,
        tank: Option<TankId>,
    ) -> Result<String, StoreError> {
        let units = settings::units(db)?;
        let telling = Telling {
            clock: &self.clock,
            units: &units,
            quiet: settings::quiet(db)?,
            now: self.clock.now(),
        };
        let watched = watches::all(db, tank)?;
        let alarms = telling.alarms(db, &self.known, &watched)?;
        let (values, silent) = match tank {
            Some(_) => (LiveValue::all(&watched, &telling), telling.silent(&watched)),
            None => (Vec::new(), Vec::new()),
        };
        let part = NowPart {
            alarms,
            values,
            silent,
            tank,
        };
        // Writing into text does not fail.
        Ok(part.render().unwrap_or_default())
    }
}

/// How often what stands is told anew: what was read grows old, and what was read is missed.
const ANEW: Duration = Duration::from_secs(20);

/// What a listener knows.
struct Listening {
    app: App,
    tank: Option<TankId>,
    units: Units,
    heard: Receiver<Heard>,
    anew: Interval,
    /// What stood when it was told last.
    told: String,
}

impl Listening {
    /// The next thing to tell; none when nothing comes any more.
    async fn next(&mut self) -> Option<Event> {
        loop {
            tokio::select! {
                heard = self.heard.recv() => match heard {
                    Ok(Heard::Read { tank, device, reading }) if self.is_of(tank) => {
                        return Some(self.read(device, &reading));
                    }
                    Ok(Heard::Rings(tank)) if self.is_of(tank) => {
                        if let Some(event) = self.stands().await {
                            return Some(event);
                        }
                    }
                    // Another tank's, or more than a slow listener could follow: the next one will do.
                    Ok(_) | Err(RecvError::Lagged(_)) => {}
                    Err(RecvError::Closed) => return None,
                },
                _ = self.anew.tick() => {
                    if let Some(event) = self.stands().await {
                        return Some(event);
                    }
                }
            }
        }
    }

    fn is_of(&self, tank: TankId) -> bool {
        self.tank.is_none_or(|own| own == tank)
    }

    fn read(&self, device: DeviceId, reading: &Reading) -> Event {
        let data = serde_json::json!({
            "key": key(device, reading.analyte),
            "shown": reading.analyte.print(reading.value, &self.units),
        });
        Event::default().event("reading").data(data.to_string())
    }

    /// What stands now, if it is not what was told.
    async fn stands(&mut self) -> Option<Event> {
        let (watching, tank) = (Watching::of(&self.app), self.tank);
        // Records that cannot be read now may be the next time.
        let stands = self
            .app
            .read(move |db| watching.part(db, tank))
            .await
            .ok()?;
        if stands == self.told {
            return None;
        }
        self.told.clone_from(&stands);
        Some(Event::default().event("now").data(stands))
    }
}

/// What is told, event by event.
type Events = Pin<Box<dyn Stream<Item = Result<Event, Infallible>> + Send>>;
type Told = Sse<KeepAliveStream<Events>>;

async fn listen(app: App, tank: Option<TankId>) -> Result<Told, PageError> {
    let units = app.read(settings::units).await?;
    let mut anew = interval(ANEW);
    anew.set_missed_tick_behavior(MissedTickBehavior::Delay);
    let listening = Listening {
        heard: app.heard().subscribe(),
        app,
        tank,
        units,
        anew,
        told: String::new(),
    };
    let stream = futures_util::stream::unfold(listening, |mut listening| async move {
        let event = listening.next().await?;
        Some((Ok(event), listening))
    });
    let events: Events = Box::pin(stream);
    Ok(Sse::new(events).keep_alive(KeepAlive::default()))
}

async fn of_all(State(app): State<App>) -> Result<Told, PageError> {
    listen(app, None).await
}

async fn of_one(State(app): State<App>, Id(tank): Id<TankId>) -> Result<Told, PageError> {
    listen(app, Some(tank)).await
}

/// Somebody sees to an alarm: it stands, and is heard no more until it ends.
async fn seen(
    State(app): State<App>,
    Path((tank, device, id)): Path<(i64, i64, String)>,
    headers: HeaderMap,
) -> Result<Redirect, PageError> {
    let analyte = analyte(&id)
        .ok_or_else(|| PageError::NotFound(format!("nothing is read that is called “{id}”")))?;
    let (tank, device) = (TankId(tank), DeviceId(device));
    let now = app.clock.now().utc;
    app.write(move |db| watches::seen(db, tank, device, analyte, now))
        .await?;
    let _ = app.heard().send(Heard::Rings(tank));
    // Back to where it was said.
    let from_rounds = headers
        .get("referer")
        .and_then(|from| from.to_str().ok())
        .and_then(|from| from.parse::<axum::http::Uri>().ok())
        .is_some_and(|from| from.path() == "/");
    Ok(Redirect::to(&if from_rounds {
        "/".to_owned()
    } else {
        format!("/tanks/{tank}/devices")
    }))
}
