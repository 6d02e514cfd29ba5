//! An entry of the log by itself: looked at, corrected, with its photos and what it said before.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use axum_extra::extract::Form;
use jiff::civil::DateTime;
use reed_core::log::When;
use reed_core::units::Units;
use reed_store::entries::{self, KeptEntry};
use reed_store::{Connection, EntryId, StoreError, TankId, photos, settings, tanks};

use super::photos::PhotoView;
use super::{EntryForm, EntryInput, back, tank_and_units, understood};
use crate::error::PageError;
use crate::forms::Refusals;
use crate::pages::ids::Ids;
use crate::state::App;
use crate::view::{Frame, Tab, when_of};

#[derive(Template, WebTemplate)]
#[template(path = "pages/log_entry.html")]
pub(super) struct EntryPage {
    frame: Frame,
    id: TankId,
    entry: EntryId,
    /// What it says now.
    words: String,
    /// When it happened, and more of it.
    when: String,
    lines: Vec<String>,
    is_struck: bool,
    /// What it said before: when that was entered, when it happened, what.
    versions: Vec<(String, String, String)>,
    form: EntryForm,
    /// Its photos.
    photos: Vec<PhotoView>,
    /// Why a picture was not taken.
    refused_photo: String,
    /// The entry of the same kind before it that has photos.
    before: Option<Before>,
}

/// What was seen the time before.
struct Before {
    entry: EntryId,
    when: String,
    lines: Vec<String>,
    photos: Vec<PhotoView>,
}

impl Before {
    fn read(
        db: &Connection,
        kept: &KeptEntry,
        now: DateTime,
        units: &Units,
    ) -> Result<Option<Self>, StoreError> {
        let Some(before) = photos::entry_before(db, kept)? else {
            return Ok(None);
        };
        Ok(Some(Self {
            entry: before.id,
            when: when_of(&before.entry.when, now),
            lines: before.entry.details.lines(units),
            photos: standing_photos(db, &before)?,
        }))
    }
}

/// The photos of an entry that are not withdrawn.
pub(super) fn standing_photos(
    db: &Connection,
    kept: &KeptEntry,
) -> Result<Vec<PhotoView>, StoreError> {
    let all = photos::of_entry(db, kept.tank, kept.id)?;
    let standing = all.into_iter().filter(|photo| !photo.is_struck());
    Ok(standing.map(PhotoView::from).collect())
}

impl EntryPage {
    pub(super) fn read(
        db: &Connection,
        id: TankId,
        entry: EntryId,
        typed: Option<(EntryInput, Refusals)>,
        app: &App,
    ) -> Result<Self, StoreError> {
        let now = app.clock.now().wall;
        let units = settings::units(db)?;
        let tank = tanks::latest(db, id)?.tank;
        let kept = entries::find(db, id, entry)?;
        let version = |older: KeptEntry| {
            (
                when_of(&When::minute(app.clock.wall_at(older.made_at)), now),
                when_of(&older.entry.when, now),
                older.entry.words(&units),
            )
        };
        let versions = entries::versions(db, id, entry)?;
        let photos = photos::of_entry(db, id, entry)?;
        let before = if photos.is_empty() {
            None
        } else {
            Before::read(db, &kept, now, &units)?
        };
        let (input, refusals) = typed.unwrap_or_else(|| {
            (
                EntryInput::of_entry(&kept.entry, &units),
                Refusals::default(),
            )
        });
        Ok(Self {
            frame: Frame::new("log", format!("{}: an entry", tank.name)).of_tank(
                id,
                &tank.name,
                Tab::Log,
            ),
            id,
            entry,
            words: kept.entry.words(&units),
            is_struck: kept.is_struck(),
            when: when_of(&kept.entry.when, now),
            lines: kept.entry.details.lines(&units),
            versions: versions.into_iter().map(version).collect(),
            photos: photos.into_iter().map(PhotoView::from).collect(),
            refused_photo: String::new(),
            before,
            form: EntryForm {
                is_new: false,
                ..EntryForm::of(
                    id,
                    &tank,
                    &units,
                    format!("/tanks/{id}/log/{entry}"),
                    input,
                    refusals,
                )
            },
        })
    }

    /// The same, with why a picture was not taken.
    pub(super) fn with_refused_photo(self, why: String) -> Self {
        Self {
            refused_photo: why,
            ..self
        }
    }
}

pub(super) async fn edit(
    State(app): State<App>,
    Ids(id, entry): Ids<TankId, EntryId>,
) -> Result<EntryPage, PageError> {
    let inner = app.clone();
    app.read(move |db| EntryPage::read(db, id, entry, None, &inner))
        .await
}

/// Corrects an entry; a time that was left as it was stays as rough as it was.
pub(super) async fn revise(
    State(app): State<App>,
    Ids(id, entry): Ids<TankId, EntryId>,
    Form(input): Form<EntryInput>,
) -> Result<Response, PageError> {
    let now = app.clock.now();
    let (tank, units) = tank_and_units(&app, id).await?;
    match understood(&input, &now, &units, &tank) {
        Ok(mut corrected) => {
            app.write(move |db| {
                let old = entries::find(db, id, entry)?.entry;
                // What a form does not show stays as it was: what an alarm heard, the runs of a bucket
                // test.
                corrected.details.alarm.clone_from(&old.details.alarm);
                if old.amount == corrected.amount {
                    corrected.details.runs.clone_from(&old.details.runs);
                }
                if EntryInput::of_entry(&old, &units).at == input.at {
                    corrected.when = old.when;
                }
                entries::revise(db, id, entry, &corrected, now.utc)
            })
            .await?;
            Ok(back(id, "log").into_response())
        }
        Err(refusals) => {
            let inner = app.clone();
            let page = app
                .read(move |db| EntryPage::read(db, id, entry, Some((input, refusals)), &inner))
                .await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}
