//! The log of a tank as a sheet: taken away, and brought in from a file.

use std::sync::Arc;
use std::sync::atomic::Ordering;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Multipart, Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use axum_extra::extract::Form;
use jiff::civil::DateTime;
use reed_core::log::sheet::{DateOrder, Mapping, Read, Refused, Role, Row, Sheet, Writer};
use reed_core::tank::Tank;
use reed_core::units::Units;
use reed_store::{BatchId, StoreError, TankId, batches, entries, readings};

use super::{back, line, tank_and_units};
use crate::error::PageError;
use crate::imports::{Import, Progress};
use crate::pages::ids::{Id, Ids};
use crate::pages::tank::files::attachment;
use crate::state::App;
use crate::view::{Frame, Tab, when, when_of};

/// Bytes of a file at most: years of a probe that reads every minute.
pub(crate) const LARGEST_SHEET: usize = 64 * 1024 * 1024;

/// Refused rows that are told one by one.
const TOLD: usize = 20;
/// Rows that are shown as they are understood.
const SHOWN: usize = 12;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/tanks/{tank}/log.csv", get(take_away))
        .route("/tanks/{tank}/bring", get(blank))
        .route("/tanks/{tank}/bring/{file}", get(show).post(map))
        .route("/tanks/{tank}/bring/{file}/take", post(take))
        .route("/tanks/{tank}/bring/{file}/stop", post(stop))
        .route("/tanks/{tank}/batches/{batch}/undo", post(undo))
}

/// The page that takes large files.
pub(crate) fn uploads() -> Router<App> {
    Router::new().route("/tanks/{tank}/bring/file", post(receive))
}

/// Everything that was read and happened, as a sheet.
async fn take_away(
    State(app): State<App>,
    Id(id): Id<TankId>,
) -> Result<impl IntoResponse, PageError> {
    let (tank, units) = tank_and_units(&app, id).await?;
    let text = app
        .read(move |db| {
            let mut writer = Writer::new(units);
            for stored in readings::since(db, id, DateTime::MIN)? {
                writer.reading(&stored.reading, stored.is_struck());
            }
            for kept in entries::since(db, id, DateTime::MIN)? {
                writer.entry(&kept.entry, kept.is_struck());
            }
            Ok(writer.finish())
        })
        .await?;
    let kind = "text/csv; charset=utf-8; header=present";
    Ok(attachment(kind, &tank.name, "csv", text))
}

/// A file that was brought in before and can be taken back.
struct Before {
    id: BatchId,
    words: String,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/log_bring.html")]
struct BringPage {
    frame: Frame,
    id: TankId,
    refused: String,
    before: Vec<Before>,
    file: Option<FileView>,
}

/// A file that is being brought in.
struct FileView {
    number: u64,
    name: String,
    rows: usize,
    progress: Step,
}

/// How far it is, with what is shown then.
enum Step {
    Looking(Box<Look>),
    Running {
        looked_at: usize,
        percent: usize,
    },
    Done {
        stored: usize,
        known: usize,
        refused: Vec<Refused>,
        more: usize,
        batch: BatchId,
    },
    Ended(String),
}

/// What a file is taken for.
struct Look {
    columns: Vec<Column>,
    roles: Vec<(&'static str, &'static str)>,
    dates: Vec<(&'static str, &'static str, bool)>,
    /// The order of dates has to be said first.
    is_open: bool,
    /// What would be stored, the first of it.
    rows: Vec<(String, String)>,
    readings: usize,
    entries: usize,
    refused: Vec<Refused>,
    more: usize,
}

struct Column {
    name: String,
    first: String,
    role: &'static str,
}

async fn page(
    app: &App,
    id: TankId,
    refused: String,
    file: Option<Arc<Import>>,
) -> Result<BringPage, PageError> {
    let (tank, units) = tank_and_units(app, id).await?;
    let (clock, now) = (app.clock.clone(), app.clock.now());
    app.read(move |db| {
        let before = batches::of_tank(db, id)?
            .into_iter()
            .map(|batch| Before {
                id: batch.id,
                words: format!(
                    "{}: {} rows, {}",
                    batch.name,
                    batch.rows,
                    when(clock.wall_at(batch.made_at), now.wall)
                ),
            })
            .collect();
        let frame = Frame::new("log", format!("{}: bring in a file", tank.name)).of_tank(
            id,
            &tank.name,
            Tab::Log,
        );
        let read = Read {
            tank: &tank,
            now: now.wall,
            zone: clock.zone(),
            units: &units,
        };
        Ok(BringPage {
            frame,
            id,
            refused,
            before,
            file: file.map(|file| FileView::of(&file, &read)),
        })
    })
    .await
}

impl FileView {
    fn of(file: &Import, read: &Read<'_>) -> Self {
        let looked_at = file.looked_at.load(Ordering::Relaxed);
        let rows = file.sheet.rows;
        Self {
            number: file.number,
            name: file.name.clone(),
            rows,
            progress: match file.progress() {
                Progress::Waiting => Step::Looking(Box::new(Look::of(file, read))),
                Progress::Running => Step::Running {
                    looked_at,
                    percent: (100 * looked_at / rows.max(1)).min(100),
                },
                Progress::Done(taken, refused) => Step::Done {
                    stored: taken.stored,
                    known: taken.known,
                    more: refused.len().saturating_sub(TOLD),
                    refused: refused.into_iter().take(TOLD).collect(),
                    batch: taken.batch,
                },
                Progress::Ended(why) => Step::Ended(why),
            },
        }
    }
}

impl Look {
    fn of(file: &Import, read: &Read<'_>) -> Self {
        let mapping = file.mapping();
        let needs_order = mapping.roles.contains(&Role::When) && mapping.dates.is_none();
        let mut look = Self {
            columns: file
                .sheet
                .header
                .iter()
                .zip(&mapping.roles)
                .enumerate()
                .map(|(place, (name, role))| Column {
                    name: name.clone(),
                    first: file.sheet.samples[0]
                        .get(place)
                        .unwrap_or_default()
                        .chars()
                        .take(40)
                        .collect(),
                    role: role.id(),
                })
                .collect(),
            roles: Role::all().map(|role| (role.id(), role.words())).collect(),
            dates: DateOrder::ALL
                .iter()
                .map(|order| (order.id(), order.words(), mapping.dates == Some(*order)))
                .collect(),
            is_open: needs_order,
            rows: Vec::new(),
            readings: 0,
            entries: 0,
            refused: Vec::new(),
            more: 0,
        };
        if needs_order {
            return look;
        }
        for row in file.sheet.read(&mapping, read) {
            match row {
                Ok(rows) => rows.iter().for_each(|row| look.count(row, read)),
                Err(_) if look.refused.len() == TOLD => look.more += 1,
                Err(refused) => look.refused.push(refused),
            }
        }
        look
    }

    fn count(&mut self, row: &Row, read: &Read<'_>) {
        match row {
            Row::Reading(..) => self.readings += 1,
            Row::Entry(..) => self.entries += 1,
        }
        if self.rows.len() < SHOWN {
            self.rows.push(words(row, read.tank, read.now, read.units));
        }
    }
}

/// When, and what, of a row.
fn words(row: &Row, tank: &Tank, now: DateTime, units: &Units) -> (String, String) {
    match row {
        Row::Reading(reading, _) => (
            when(reading.taken_at, now),
            format!("{} {}", reading.analyte.label, reading.print(units)),
        ),
        Row::Entry(entry, _) => {
            let more = [line::on_words(entry, tank), entry.note.clone()];
            let words = more
                .iter()
                .filter(|text| !text.is_empty())
                .fold(entry.words(units), |words, more| format!("{words}: {more}"));
            (when_of(&entry.when, now), words)
        }
    }
}

async fn blank(State(app): State<App>, Id(id): Id<TankId>) -> Result<BringPage, PageError> {
    page(&app, id, String::new(), None).await
}

/// Looks at a file; nothing of it is stored.
async fn receive(
    State(app): State<App>,
    Id(id): Id<TankId>,
    mut form: Multipart,
) -> Result<Response, PageError> {
    let mut given = None;
    let mut arrived = Ok(());
    loop {
        match form.next_field().await {
            Ok(Some(field)) => {
                let name = field.file_name().unwrap_or("file.csv").to_owned();
                match field.bytes().await {
                    Ok(bytes) if !bytes.is_empty() => given = Some((name, bytes)),
                    Ok(_) => {}
                    Err(error) => arrived = Err(error),
                }
            }
            Ok(None) => break,
            Err(error) => {
                arrived = Err(error);
                break;
            }
        }
    }
    let opened = match (arrived, given) {
        (Err(error), _) if error.status() == StatusCode::PAYLOAD_TOO_LARGE => Err(format!(
            "The file is too large; at most {} MB are read. Bring it in parts.",
            LARGEST_SHEET / 1024 / 1024
        )),
        (Err(_), _) => Err("The file did not arrive whole. Choose it again.".to_owned()),
        (Ok(()), None) => Err("Choose a file first.".to_owned()),
        (Ok(()), Some((name, bytes))) => Sheet::open(&bytes).map(|sheet| (name, sheet)),
    };
    match opened {
        Ok((name, sheet)) => {
            let number = app.imports().add(id, name, sheet);
            Ok(Redirect::to(&format!("/tanks/{id}/bring/{number}")).into_response())
        }
        Err(why) => {
            let page = page(&app, id, why, None).await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

fn find(app: &App, id: TankId, number: u64) -> Result<Arc<Import>, PageError> {
    app.imports().find(id, number).ok_or_else(|| {
        PageError::NotFound("this file is no longer being brought in; choose it again".to_owned())
    })
}

async fn show(
    State(app): State<App>,
    Path((id, number)): Path<(i64, u64)>,
) -> Result<BringPage, PageError> {
    let id = TankId(id);
    let file = find(&app, id, number)?;
    page(&app, id, String::new(), Some(file)).await
}

/// What the columns hold, as the keeper says it.
fn mapping_of(fields: &[(String, String)], before: &Mapping) -> Mapping {
    let said: Vec<Role> = fields
        .iter()
        .filter(|(name, _)| name == "role")
        .map(|(_, id)| Role::by_id(id).unwrap_or(Role::Ignore))
        .collect();
    let dates = fields
        .iter()
        .find(|(name, _)| name == "dates")
        .and_then(|(_, id)| DateOrder::by_id(id));
    Mapping {
        roles: if said.len() == before.roles.len() {
            said
        } else {
            before.roles.clone()
        },
        dates: dates.or(before.dates),
    }
}

async fn map(
    State(app): State<App>,
    Path((id, number)): Path<(i64, u64)>,
    Form(fields): Form<Vec<(String, String)>>,
) -> Result<Redirect, PageError> {
    let id = TankId(id);
    let file = find(&app, id, number)?;
    set_mapping(&file, &fields);
    Ok(Redirect::to(&format!("/tanks/{id}/bring/{number}")))
}

fn set_mapping(file: &Import, fields: &[(String, String)]) {
    let mapping = mapping_of(fields, &file.mapping());
    *file
        .mapping
        .lock()
        .unwrap_or_else(std::sync::PoisonError::into_inner) = mapping;
}

/// Takes the file in, in the background.
async fn take(
    State(app): State<App>,
    Path((id, number)): Path<(i64, u64)>,
    Form(fields): Form<Vec<(String, String)>>,
) -> Result<Redirect, PageError> {
    let id = TankId(id);
    let file = find(&app, id, number)?;
    set_mapping(&file, &fields);
    let mapping = file.mapping();
    let is_open = mapping.roles.contains(&Role::When) && mapping.dates.is_none();
    // Read first: a file that has begun must come to an end.
    let (tank, units) = tank_and_units(&app, id).await?;
    if !is_open && file.begin() {
        let background = app.clone();
        tokio::spawn(async move { run(&background, file, tank, units).await });
    }
    Ok(Redirect::to(&format!("/tanks/{id}/bring/{number}")))
}

async fn run(app: &App, file: Arc<Import>, tank: Tank, units: Units) {
    let (now, zone) = (app.clock.now(), app.clock.zone());
    let job = Arc::clone(&file);
    let outcome = app
        .write(move |db| {
            let read = Read {
                tank: &tank,
                now: now.wall,
                zone,
                units: &units,
            };
            let mapping = job.mapping();
            let mut refused = Vec::new();
            let rows = job.sheet.read(&mapping, &read).flat_map(|row| match row {
                Ok(rows) => rows,
                Err(why) => {
                    refused.push(why);
                    Vec::new()
                }
            });
            let go_on = |looked_at: usize| {
                job.looked_at.store(looked_at, Ordering::Relaxed);
                !job.is_stopped.load(Ordering::Relaxed)
            };
            let taken = batches::take(db, job.tank, &job.name, rows, now.utc, &go_on)?;
            Ok::<_, StoreError>((taken, refused))
        })
        .await;
    file.set(match outcome {
        Ok((taken, refused)) => Progress::Done(taken, refused),
        Err(PageError::Refused(why)) => Progress::Ended(why),
        Err(error) => {
            tracing::error!(?error, "a file was not taken in");
            Progress::Ended(
                "It could not be stored; nothing of it was. The program’s log says why.".to_owned(),
            )
        }
    });
}

async fn stop(
    State(app): State<App>,
    Path((id, number)): Path<(i64, u64)>,
) -> Result<Redirect, PageError> {
    let id = TankId(id);
    let file = find(&app, id, number)?;
    file.is_stopped.store(true, Ordering::Relaxed);
    if matches!(file.progress(), Progress::Waiting) {
        return Ok(Redirect::to(&format!("/tanks/{id}/bring")));
    }
    Ok(Redirect::to(&format!("/tanks/{id}/bring/{number}")))
}

/// Takes back all that came from a file.
async fn undo(
    State(app): State<App>,
    Ids(id, batch): Ids<TankId, BatchId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().utc;
    app.write(move |db| batches::undo(db, id, batch, now))
        .await?;
    Ok(back(id, "log"))
}
