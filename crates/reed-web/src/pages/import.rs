//! Import: a file coming in; first what it would change, then the change.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::multipart::MultipartError;
use axum::extract::{Multipart, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use reed_core::document::{Document, LARGEST_FILE, Opened};
use reed_core::field::{Described, differences};
use reed_core::tank::Tank;
use reed_store::{TankId, documents, settings, tanks};

use crate::error::PageError;
use crate::state::App;
use crate::view::{Frame, Use, sheet};

/// The file and what multipart puts around it.
pub(crate) const LARGEST_UPLOAD: usize = LARGEST_FILE + 64 * 1024;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/import", get(blank).post(preview))
        .route("/import/take", post(take))
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/import.html")]
struct ImportPage {
    frame: Frame,
    /// Why the file was not taken.
    refused: Vec<String>,
    text: String,
    found: Option<Found>,
}

/// What a file holds and what it would change.
struct Found {
    name: String,
    /// The tank that became of the same file before.
    known: Option<TankId>,
    drawing: String,
    unknown: Vec<String>,
    answers: usize,
    readings: usize,
    /// Tanks that it could be a new revision of, the one of its name first.
    targets: Vec<Target>,
}

struct Target {
    id: TankId,
    name: String,
    same_name: bool,
    changes: Vec<String>,
}

async fn blank() -> ImportPage {
    ImportPage {
        frame: Frame::new("import", "Import a file"),
        refused: Vec::new(),
        text: String::new(),
        found: None,
    }
}

/// What came with a form that carries a file.
struct Upload {
    text: String,
    target: String,
    /// It is to be taken once more, as another tank.
    once_more: bool,
}

async fn receive(mut form: Multipart) -> Result<Upload, String> {
    let mut upload = Upload {
        text: String::new(),
        target: String::new(),
        once_more: false,
    };
    let too_large = |error: MultipartError| match error.status() {
        StatusCode::PAYLOAD_TOO_LARGE => format!(
            "The file is too large; at most {} kB are read.",
            LARGEST_FILE / 1024
        ),
        _ => "The file did not arrive whole. Choose it again.".to_owned(),
    };
    while let Some(field) = form.next_field().await.map_err(too_large)? {
        let name = field.name().unwrap_or_default().to_owned();
        let bytes = field.bytes().await.map_err(too_large)?;
        match name.as_str() {
            "file" | "text" if !bytes.is_empty() => {
                upload.text = String::from_utf8(bytes.to_vec()).map_err(|error| {
                    format!(
                        "This is no text file: byte {} is not UTF-8. Give a .reed.json file.",
                        error.utf8_error().valid_up_to()
                    )
                })?;
            }
            "once_more" => upload.once_more = !bytes.is_empty(),
            "target" => upload.target = String::from_utf8_lossy(&bytes).into_owned(),
            _ => {}
        }
    }
    Ok(upload)
}

fn refused(why: Vec<String>, text: String) -> Response {
    let page = ImportPage {
        frame: Frame::new("import", "Import a file"),
        refused: why,
        text,
        found: None,
    };
    (StatusCode::UNPROCESSABLE_ENTITY, page).into_response()
}

async fn preview(State(app): State<App>, form: Multipart) -> Result<Response, PageError> {
    let Upload { text, .. } = match receive(form).await {
        Ok(upload) => upload,
        Err(why) => return Ok(refused(vec![why], String::new())),
    };
    let Opened { document, unknown } = match Document::read(&text) {
        Ok(opened) => opened,
        Err(error) => return Ok(refused(error.0, text)),
    };
    let digest = documents::digest(&text);
    let (standing, units, known) = app
        .read(move |db| {
            let known = documents::known(db, &digest)?;
            Ok((tanks::all(db)?, settings::units(db)?, known))
        })
        .await?;
    let tank = &document.tank;
    let mut targets: Vec<Target> = standing
        .into_iter()
        .map(|revision| Target {
            id: revision.tank_id,
            same_name: revision.tank.name == tank.name,
            changes: differences(
                &revision.tank.to_value(),
                &tank.to_value(),
                Tank::FIELDS,
                "",
                &units,
            ),
            name: revision.tank.name,
        })
        .collect();
    targets.sort_by_key(|target| !target.same_name);
    let found = Found {
        name: tank.name.clone(),
        known,
        drawing: sheet(tank, &units, &tank.conflicts(&units), Use::Reading),
        unknown,
        answers: document.findings.len() + document.events.len(),
        readings: document.readings.len(),
        targets,
    };
    Ok(ImportPage {
        frame: Frame::new("import", "Import a file"),
        refused: Vec::new(),
        text,
        found: Some(found),
    }
    .into_response())
}

/// Takes a file that was looked at: as a new tank with everything in it, or as a new revision of a
/// tank that stands.
async fn take(State(app): State<App>, form: Multipart) -> Result<Response, PageError> {
    let Upload {
        text,
        target,
        once_more,
    } = match receive(form).await {
        Ok(upload) => upload,
        Err(why) => return Ok(refused(vec![why], String::new())),
    };
    let document = match Document::read(&text) {
        Ok(opened) => opened.document,
        Err(error) => return Ok(refused(error.0, text)),
    };
    let now = app.clock.now();
    let case = match document.case(now.wall) {
        Ok(case) => case,
        Err(error) => return Ok(refused(error.0, text)),
    };
    let (target, digest) = (target.parse().ok().map(TankId), documents::digest(&text));
    let (tank, case) = app
        .write(move |db| match target {
            Some(id) => {
                tanks::revise(db, id, &case.tank, "From a file", now.utc).map(|_| (id, None))
            }
            None => {
                // Sent twice, or tried again after an answer that never came, it is one tank.
                if let Some(known) = documents::known(db, &digest)?
                    && !once_more
                {
                    return Ok((known, None));
                }
                let added = documents::add(db, &case, &document.log, "From a file", now.utc)?;
                documents::remember(db, added.0, &digest)?;
                Ok(added)
            }
        })
        .await?;
    Ok(Redirect::to(
        &case.map_or_else(|| format!("/tanks/{tank}"), |case| format!("/cases/{case}")),
    )
    .into_response())
}
