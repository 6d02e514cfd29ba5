//! Your data: the copies that are kept, putting one back, everything in one file, and looking
//! through all of it.

use std::io::{self, Write};
use std::path::{Path, PathBuf};
use std::time::Duration;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::body::{Body, Bytes};
use axum::extract::{Multipart, Query, State};
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use axum_extra::extract::Form;
use futures_util::stream;
use reed_store::copies::{self, KeptCopy, Origin};
use reed_store::{Store, StoreError, archive, backup, settings, tanks};
use serde::Deserialize;
use tokio::io::AsyncWriteExt as _;
use tokio::runtime::Handle;
use tokio::sync::mpsc;

use crate::error::PageError;
use crate::everything::write_everything;
use crate::state::App;
use crate::view::{Frame, bytes, since, when};

/// Bytes of a file with everything at most: decades, with photos. Small machines count no further
/// than four.
pub(crate) const LARGEST_ARCHIVE: usize = 3 * 1024 * 1024 * 1024;

/// Pages about all records, which may take minutes.
pub(crate) fn routes() -> Router<App> {
    Router::new()
        .route("/data", get(show))
        .route("/data/copy", post(copy_now))
        .route("/data/copies", post(choose_copies))
        .route("/data/copies/{name}", get(download))
        .route("/data/restore", post(restore))
        .route("/data/check", post(check))
        .route("/data/everything", post(take_away))
}

/// The page that takes a file with everything.
pub(crate) fn uploads() -> Router<App> {
    Router::new().route("/data/take-in", post(take_in))
}

/// A copy as it is listed.
struct Line {
    name: String,
    what: String,
    when: String,
    size: String,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/data.html")]
struct DataPage {
    frame: Frame,
    /// Where the records lie, how large they are, and what is in them.
    file: String,
    size: String,
    counts: Vec<String>,
    copies: Vec<Line>,
    /// A copy is made of each day on which the program runs.
    copies_each_day: bool,
    /// It was started so that none are made by themselves.
    never_copies: bool,
    is_empty: bool,
    /// What is wrong with the file.
    damage: Vec<String>,
    /// What was just done.
    said: String,
    /// Why something was not done.
    refused: String,
}

/// What was just done, by the name of the message.
#[derive(Default, Deserialize)]
struct Asked {
    #[serde(default)]
    did: String,
}

impl Asked {
    fn words(&self) -> &'static str {
        match self.did.as_str() {
            "copied" => "A copy was made, and it is sound.",
            "restored" => {
                "The copy was put back. What stood there before is the first in the list below."
            }
            "taken-in" => "Everything was taken in.",
            "sound" => "Every page of the file and every link in it is sound.",
            "chosen" => "Kept.",
            _ => "",
        }
    }
}

impl DataPage {
    async fn load(app: &App, said: String, refused: String) -> Result<Self, PageError> {
        let (clock, now) = (app.clock.clone(), app.clock.now());
        let never_copies = !app.copies_each_day();
        app.blocking(move |store| {
            let file = store.path().to_owned();
            let damage = store.damage();
            // A damaged file may not even say how much is in it; the copies are there all the same.
            let read = store.read(|db| {
                Ok::<_, StoreError>((
                    counts(db)?,
                    settings::makes_copies(db)?,
                    tanks::count(db)? == 0,
                ))
            });
            let (counts, copies_each_day, is_empty) = match read {
                Err(_) if !damage.is_empty() => (Vec::new(), true, false),
                read => read?,
            };
            let line = |copy: KeptCopy| Line {
                what: what(copy.origin),
                when: {
                    let at = clock.wall_at(copy.made_at);
                    format!("{}, {}", when(at, now.wall), since(at, now.wall))
                },
                size: bytes(copy.bytes),
                name: copy.name(),
            };
            Ok(Self {
                frame: Frame::new("data", "Your data"),
                size: bytes(store.bytes()),
                file: file.display().to_string(),
                counts,
                copies: copies::all(&file).into_iter().map(line).collect(),
                copies_each_day,
                never_copies,
                is_empty,
                damage,
                said,
                refused,
            })
        })
        .await
    }

    async fn refusing(app: &App, why: String) -> Result<Response, PageError> {
        let page = Self::load(app, String::new(), why).await?;
        Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
    }
}

fn what(origin: Origin) -> String {
    match origin {
        Origin::Day(day) => format!("of the {}", day.strftime("%-d %B %Y")),
        Origin::ByHand => "made by hand".to_owned(),
        Origin::BeforeUpdate => "before an update of the program".to_owned(),
        Origin::BeforeRestore => "what stood there before a copy was put back".to_owned(),
    }
}

/// How much is kept.
fn counts(db: &reed_store::Connection) -> Result<Vec<String>, StoreError> {
    let several = |many: i64, one: &str, more: &str| match many {
        1 => format!("1 {one}"),
        many => format!("{many} {more}"),
    };
    let kept = reed_store::kept(db)?;
    Ok(vec![
        several(kept.tanks, "tank", "tanks"),
        several(kept.cases, "case", "cases"),
        several(kept.readings, "reading", "readings"),
        several(kept.entries, "entry of the log", "entries of the log"),
        several(kept.photos, "photo", "photos"),
    ])
}

async fn show(State(app): State<App>, Query(asked): Query<Asked>) -> Result<DataPage, PageError> {
    DataPage::load(&app, asked.words().to_owned(), String::new()).await
}

fn did(what: &str) -> Redirect {
    Redirect::to(&format!("/data?did={what}"))
}

async fn copy_now(State(app): State<App>) -> Result<Redirect, PageError> {
    let now = app.clock.now().wall;
    app.blocking(move |store| copies::by_hand(store.path(), now).map(drop))
        .await?;
    Ok(did("copied"))
}

#[derive(Deserialize)]
struct Copies {
    /// `on`, or nothing.
    #[serde(default)]
    each_day: String,
}

async fn choose_copies(
    State(app): State<App>,
    Form(copies): Form<Copies>,
) -> Result<Redirect, PageError> {
    app.write(move |db| settings::choose_copies(db, copies.each_day == "on"))
        .await?;
    Ok(did("chosen"))
}

/// The copy of this name; only what is listed can be asked for.
fn find(store: &Store, name: &str) -> Result<PathBuf, PageError> {
    copies::all(store.path())
        .into_iter()
        .find(|copy| copy.name() == name)
        .map(|copy| copy.file)
        .ok_or_else(|| PageError::NotFound(format!("there is no copy “{name}”")))
}

async fn download(
    State(app): State<App>,
    axum::extract::Path(name): axum::extract::Path<String>,
) -> Result<Response, PageError> {
    let file = find(&app.store(), &name)?;
    let file = tokio::fs::File::open(file)
        .await
        .map_err(|error| PageError::Failed(error.into()))?;
    let stream = tokio_util::io::ReaderStream::new(file);
    Ok(attachment(
        "application/vnd.sqlite3",
        &name,
        Body::from_stream(stream),
    ))
}

fn attachment(kind: &str, name: &str, body: Body) -> Response {
    let disposition = format!("attachment; filename=\"{name}\"");
    let headers = [
        (header::CONTENT_TYPE, kind.to_owned()),
        (header::CONTENT_DISPOSITION, disposition),
    ];
    (headers, body).into_response()
}

#[derive(Deserialize)]
struct Restored {
    copy: String,
}

async fn restore(
    State(app): State<App>,
    Form(restored): Form<Restored>,
) -> Result<Response, PageError> {
    let copy = find(&app.store(), &restored.copy)?;
    let put_back = app.blocking(move |store| Ok(store.restore(&copy))).await?;
    match put_back {
        Ok(_) => Ok(did("restored").into_response()),
        Err(error) => {
            let why = error.in_full();
            tracing::error!("a copy was not put back: {why}");
            let name = &restored.copy;
            let words = format!("“{name}” was not put back, and nothing was changed: {why}.");
            DataPage::refusing(&app, words).await
        }
    }
}

async fn check(State(app): State<App>) -> Result<Response, PageError> {
    let (problems, unreadable) = app
        .blocking(|store| {
            Ok((
                backup::problems(store.path())?,
                store.read(reed_store::unreadable)?,
            ))
        })
        .await?;
    if problems.is_empty() && unreadable.is_empty() {
        return Ok(did("sound").into_response());
    }
    let mut words: Vec<String> = Vec::new();
    if !problems.is_empty() {
        words.push(format!(
            "The file is damaged ({}). Put a copy back.",
            problems.join("; ")
        ));
    }
    if !unreadable.is_empty() {
        const SHOWN: usize = 20;
        let shown = unreadable.iter().take(SHOWN).cloned().collect::<Vec<_>>();
        words.push(format!(
            "{} rows cannot be read by this version of the program, and are kept as they are: {}.",
            unreadable.len(),
            shown.join("; ")
        ));
    }
    DataPage::refusing(&app, words.join(" ")).await
}

/// Everything as one file, sent while it is being written.
async fn take_away(State(app): State<App>) -> Result<Response, PageError> {
    /// Parts that wait for a slow reader.
    const AHEAD: usize = 4;
    let Ok(turn) = app.everything().try_acquire_owned() else {
        return Err(PageError::Refused(
            "everything is being written for somebody already; ask again when that is done"
                .to_owned(),
        ));
    };
    let (parts, written) = mpsc::channel::<io::Result<Bytes>>(AHEAD);
    let (store, clock) = (app.store(), app.clock.clone());
    let name = format!(
        "zesty-reed-{}.zip",
        app.clock.now().wall.strftime("%Y-%m-%d")
    );
    tokio::task::spawn_blocking(move || {
        let mut out = Parts::to(parts);
        let wrote = write_everything(&store, &clock, &mut out);
        if let Err(error) = wrote {
            tracing::error!("not everything was written: {}", error.in_full());
            out.fail();
        } else if out.flush().is_ok() {
            // Of damaged records, which nothing is written to, it is not kept.
            let now = clock.now().utc;
            let _ = store.write(|db| settings::set_taken_away(db, now));
        }
        drop(turn);
    });
    let stream = stream::unfold(written, async |mut written| {
        written.recv().await.map(|part| (part, written))
    });
    Ok(attachment(
        "application/zip",
        &name,
        Body::from_stream(stream),
    ))
}

/// Writes into a connection, part by part; whoever stops reading stops it.
struct Parts {
    to: mpsc::Sender<io::Result<Bytes>>,
    part: Vec<u8>,
}

impl Parts {
    /// Bytes of a part.
    const SIZE: usize = 64 * 1024;
    /// A reader that takes nothing for so long has gone.
    const PATIENCE: Duration = Duration::from_secs(60);

    fn to(to: mpsc::Sender<io::Result<Bytes>>) -> Self {
        Self {
            to,
            part: Vec::with_capacity(Self::SIZE),
        }
    }

    fn send(&self, part: io::Result<Bytes>) -> io::Result<()> {
        Handle::current()
            .block_on(self.to.send_timeout(part, Self::PATIENCE))
            .map_err(|_| io::ErrorKind::BrokenPipe.into())
    }

    /// Has the reader know that this is not all.
    fn fail(&self) {
        let _ = self.send(Err(io::ErrorKind::Other.into()));
    }
}

impl Write for Parts {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        self.part.extend_from_slice(bytes);
        if self.part.len() >= Self::SIZE {
            self.flush()?;
        }
        Ok(bytes.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        if self.part.is_empty() {
            return Ok(());
        }
        let part = std::mem::replace(&mut self.part, Vec::with_capacity(Self::SIZE));
        self.send(Ok(part.into()))
    }
}

/// A file that is being received; gone afterwards, whatever happens.
struct Incoming(PathBuf);

impl Drop for Incoming {
    fn drop(&mut self) {
        let _ = std::fs::remove_file(&self.0);
    }
}

async fn take_in(State(app): State<App>, mut form: Multipart) -> Result<Response, PageError> {
    let Ok(_turn) = app.everything().try_acquire_owned() else {
        return DataPage::refusing(
            &app,
            "Somebody writes everything or takes it in already; try again when that is done."
                .to_owned(),
        )
        .await;
    };
    let incoming = Incoming(app.store().path().with_extension("incoming.zip"));
    match received(&mut form, &incoming.0).await {
        Ok(true) => {}
        Ok(false) => {
            let why = "No file came. Choose the file that “everything in one file” wrote.";
            return DataPage::refusing(&app, why.to_owned()).await;
        }
        Err(error) => {
            tracing::warn!(%error, "a file did not arrive");
            let why = format!("The file did not arrive whole ({error}). Choose it again.");
            return DataPage::refusing(&app, why).await;
        }
    }
    let taken = app
        .blocking(move |store| Ok(archive::take_in(store, &incoming.0)))
        .await?;
    match taken {
        Ok(_) => Ok(did("taken-in").into_response()),
        Err(StoreError::NotTaken(why)) => DataPage::refusing(&app, why).await,
        Err(error) => Err(error.into()),
    }
}

/// Writes the file of a form where it is to lie; whether there was one.
async fn received(
    form: &mut Multipart,
    to: &Path,
) -> Result<bool, Box<dyn std::error::Error + Send + Sync>> {
    while let Some(mut field) = form.next_field().await? {
        if field.name() != Some("file") {
            continue;
        }
        let mut file = tokio::fs::File::create(to).await?;
        let mut any = false;
        while let Some(chunk) = field.chunk().await? {
            any |= !chunk.is_empty();
            file.write_all(&chunk).await?;
        }
        file.flush().await?;
        return Ok(any);
    }
    Ok(false)
}
