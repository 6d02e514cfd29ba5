//! Photos of entries: taken in while a form is filled in, added to an entry that is there, shown.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Multipart, State};
use axum::http::{StatusCode, header};
use axum::response::{Html, IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use reed_store::photos::{self, Photo, Picture, Size};
use reed_store::{EntryId, PhotoId, StoreError, TankId, entries};

use super::entry::EntryPage;
use crate::error::PageError;
use crate::pages::ids::{Id, Ids};
use crate::picture;
use crate::state::App;

/// Pictures that are sent at once at most.
const MOST_AT_ONCE: usize = 6;

/// Bytes of a request with pictures at most: room for one more than may be sent, so that the answer
/// can say what is wrong.
pub(crate) const LARGEST_UPLOAD: usize = 3 * picture::LARGEST_BYTES;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/tanks/{tank}/photos/{photo}", get(full))
        .route("/tanks/{tank}/photos/{photo}/small", get(small))
        .route("/tanks/{tank}/photos/{photo}/strike", post(strike))
        .route("/tanks/{tank}/photos/{photo}/restore", post(restore))
}

/// The addresses that take pictures.
pub(crate) fn uploads() -> Router<App> {
    Router::new()
        .route("/tanks/{tank}/photos", post(take_in))
        .route("/tanks/{tank}/log/{entry}/photos", post(add))
}

/// A photo as it stands on a page.
pub(super) struct PhotoView {
    pub(super) tank: TankId,
    pub(super) id: PhotoId,
    pub(super) is_struck: bool,
    /// Of the picture, px.
    pub(super) width: u32,
    pub(super) height: u32,
}

impl From<Photo> for PhotoView {
    fn from(photo: Photo) -> Self {
        Self {
            tank: photo.tank,
            id: photo.id,
            is_struck: photo.is_struck(),
            width: photo.width,
            height: photo.height,
        }
    }
}

/// What is put into the form for which the photos were taken in.
#[derive(Template, WebTemplate)]
#[template(path = "parts/photos_taken.html")]
struct Taken {
    /// The address of photos of the tank.
    to: String,
    photos: Vec<PhotoId>,
}

/// The pictures of a request, made ready.
async fn pictures(app: &App, mut form: Multipart) -> Result<Vec<Picture>, String> {
    let mut sent = Vec::new();
    let arrived = loop {
        match form.next_field().await {
            Ok(Some(field)) => match field.bytes().await {
                Ok(bytes) if !bytes.is_empty() => sent.push(bytes),
                Ok(_) => {}
                Err(error) => break Err(error),
            },
            Ok(None) => break Ok(()),
            Err(error) => break Err(error),
        }
    };
    match arrived {
        Err(error) if error.status() == StatusCode::PAYLOAD_TOO_LARGE => {
            return Err(format!(
                "That is too much at once; at most {} MB are taken, {} MB of each picture.",
                LARGEST_UPLOAD / 1024 / 1024,
                picture::LARGEST_BYTES / 1024 / 1024
            ));
        }
        Err(_) => return Err("The pictures did not arrive whole. Choose them again.".to_owned()),
        Ok(()) if sent.is_empty() => return Err("Choose a picture first.".to_owned()),
        Ok(()) if sent.len() > MOST_AT_ONCE => {
            return Err(format!(
                "At most {MOST_AT_ONCE} pictures are taken at once."
            ));
        }
        Ok(()) => {}
    }
    // One picture of fifty megapixels at a time: each takes some hundred MB while it is read.
    let _turn = app.pictures().acquire_owned().await;
    let ready = tokio::task::spawn_blocking(move || {
        sent.iter().map(|bytes| picture::prepare(bytes)).collect()
    });
    ready
        .await
        .unwrap_or_else(|_| Err("The picture is broken. Take another one.".to_owned()))
}

async fn store(
    app: &App,
    id: TankId,
    entry: Option<EntryId>,
    pictures: Vec<Picture>,
) -> Result<Vec<PhotoId>, PageError> {
    let (folder, now) = (app.photos(), app.clock.now().utc);
    app.write(move |db| {
        let photos: Vec<PhotoId> = pictures
            .iter()
            .map(|picture| photos::add(db, &folder, id, picture, now))
            .collect::<Result<_, _>>()?;
        if let Some(entry) = entry {
            entries::find(db, id, entry)?;
            photos::attach(db, id, entry, &photos)?;
        }
        Ok(photos)
    })
    .await
}

/// Takes pictures in for an entry that is still being filled in.
async fn take_in(
    State(app): State<App>,
    Id(id): Id<TankId>,
    form: Multipart,
) -> Result<Response, PageError> {
    match pictures(&app, form).await {
        Ok(pictures) => {
            let photos = store(&app, id, None, pictures).await?;
            let to = format!("/tanks/{id}/photos");
            Ok(Taken { to, photos }.into_response())
        }
        Err(why) => Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(why)).into_response()),
    }
}

/// Adds pictures to an entry that is there.
async fn add(
    State(app): State<App>,
    Ids(id, entry): Ids<TankId, EntryId>,
    form: Multipart,
) -> Result<Response, PageError> {
    match pictures(&app, form).await {
        Ok(pictures) => {
            store(&app, id, Some(entry), pictures).await?;
            Ok(to_entry(id, entry).into_response())
        }
        Err(why) => {
            let inner = app.clone();
            let page = app
                .read(move |db| EntryPage::read(db, id, entry, None, &inner))
                .await?
                .with_refused_photo(why);
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

fn to_entry(id: TankId, entry: EntryId) -> Redirect {
    Redirect::to(&format!("/tanks/{id}/log/{entry}#photos"))
}

async fn full(state: State<App>, ids: Ids<TankId, PhotoId>) -> Result<Response, PageError> {
    send(state, ids, Size::Full).await
}

async fn small(state: State<App>, ids: Ids<TankId, PhotoId>) -> Result<Response, PageError> {
    send(state, ids, Size::Small).await
}

async fn send(
    State(app): State<App>,
    Ids(id, photo): Ids<TankId, PhotoId>,
    size: Size,
) -> Result<Response, PageError> {
    let folder = app.photos();
    let bytes = app
        .read(move |db| {
            let photo = photos::find(db, id, photo)?;
            match folder.read(&photo, size) {
                Err(StoreError::File { source, .. })
                    if source.kind() == std::io::ErrorKind::NotFound =>
                {
                    Err(StoreError::NotFound {
                        what: "picture of photo",
                        id: photo.id.0,
                    })
                }
                other => other,
            }
        })
        .await?;
    // A photo never changes; whoever may not see the tank shall not find it in a shared cache.
    let headers = [
        (header::CONTENT_TYPE, "image/jpeg"),
        (
            header::CACHE_CONTROL,
            "private, max-age=31536000, immutable",
        ),
    ];
    Ok((headers, bytes).into_response())
}

async fn set_struck(
    app: &App,
    id: TankId,
    photo: PhotoId,
    is_struck: bool,
) -> Result<Redirect, PageError> {
    let now = is_struck.then(|| app.clock.now().utc);
    let entry = app
        .write(move |db| {
            photos::set_struck(db, id, photo, now)?;
            Ok(photos::find(db, id, photo)?.entry)
        })
        .await?;
    Ok(entry.map_or_else(
        || Redirect::to(&format!("/tanks/{id}/log")),
        |entry| to_entry(id, entry),
    ))
}

async fn strike(
    State(app): State<App>,
    Ids(id, photo): Ids<TankId, PhotoId>,
) -> Result<Redirect, PageError> {
    set_struck(&app, id, photo, true).await
}

async fn restore(
    State(app): State<App>,
    Ids(id, photo): Ids<TankId, PhotoId>,
) -> Result<Redirect, PageError> {
    set_struck(&app, id, photo, false).await
}
