//! The log: one line of time of a tank, and of all tanks together; entered, corrected, withdrawn.

pub(crate) mod bring;
mod entry;
mod form;
mod line;
mod often;
pub(crate) mod photos;
mod quick;
mod timeline;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use axum_extra::extract::Form;
use reed_core::log::{Entry, Family, Happening, How, Layer, OnWhat, WORST_GRADE, WaterInside};
use reed_core::tank::{Serial, Tank};
use reed_core::units::Units;
use reed_store::{
    EntryId, PhotoId, ReadingId, StoreError, TankId, Transaction, entries, photos as kept_photos,
    readings, settings, tanks, watches,
};

use self::timeline::{Asked, Day, Timeline};
use super::water::days;
use crate::alarms::is_live;
use crate::clock::Moment;
use crate::error::PageError;
use crate::forms::{Carried, Refusals};
use crate::pages::ids::{Id, Ids};
use crate::state::App;
use crate::view::{Frame, Tab};

pub(in crate::pages::tank) use form::{EntryInput, kind_and_amount, moment};
pub(in crate::pages) use often::Often;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .merge(bring::routes())
        .merge(photos::routes())
        .route("/log", get(show_all))
        .route("/tanks/{tank}/log", get(show).post(add))
        .route("/tanks/{tank}/log/quick", post(quick::preview))
        .route("/tanks/{tank}/log/quick/enter", post(quick::enter_all))
        .route(
            "/tanks/{tank}/log/{entry}",
            get(entry::edit).post(entry::revise),
        )
        .route("/tanks/{tank}/log/{entry}/move", post(move_to))
        .route("/tanks/{tank}/log/{entry}/strike", post(strike))
        .route("/tanks/{tank}/log/{entry}/restore", post(restore))
        .route(
            "/tanks/{tank}/readings/{reading}/strike",
            post(strike_reading),
        )
        .route(
            "/tanks/{tank}/readings/{reading}/restore",
            post(restore_reading),
        )
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/log.html")]
struct LogPage {
    frame: Frame,
    /// The tank; all of them without one.
    tank: Option<TankId>,
    days: Vec<Day>,
    /// What is wrong with rows that would stand here and cannot be read.
    unreadable: Vec<String>,
    asked: Asked,
    /// What can be shown alone: id and words.
    kinds: Vec<(&'static str, &'static str)>,
    /// A device reads so often that what it read stands apart.
    has_live: bool,
    /// Filters of the tank: as the form names them, and their names.
    filters: Vec<(String, String)>,
    /// The address of the lines before these, where there are any.
    earlier: Option<String>,
    /// What is entered most often: what was said last time.
    often: Vec<Often>,
    form: Option<EntryForm>,
}

/// The form for an entry, with what was typed and refused.
pub(super) struct EntryForm {
    action: String,
    /// Of a new entry: what it makes true can go into the tank file. A corrected one has done so, or
    /// was not meant to.
    is_new: bool,
    input: EntryInput,
    refusals: Refusals,
    /// Kinds by family: its words, and of each kind id, label, unit and what more of it is asked.
    families: Vec<(&'static str, Vec<KindOption>)>,
    /// Photos that were taken in for it: their numbers.
    photos: Vec<PhotoId>,
    /// Where photos for it are sent.
    photos_to: String,
    /// On what: as the form names it, its name, and whether it is a filter or a group.
    targets: Vec<(String, String, &'static str)>,
    layers: &'static [Layer],
    grades: Vec<u8>,
    insides: &'static [WaterInside],
    hows: &'static [How],
    /// Most trays of a filter of this tank.
    trays: Vec<usize>,
    /// The unit of a temperature.
    degrees: &'static str,
    /// [`Units::code`] of the units it is shown in.
    units: String,
}

struct KindOption {
    id: &'static str,
    label: &'static str,
    unit: &'static str,
    /// `filter`, `group` or nothing.
    on: &'static str,
    /// What it makes true can go into the tank file.
    makes: bool,
}

impl EntryForm {
    fn of(
        id: TankId,
        tank: &Tank,
        units: &Units,
        action: String,
        input: EntryInput,
        refusals: Refusals,
    ) -> Self {
        let option = |kind: &'static Happening| KindOption {
            id: kind.id,
            label: kind.label,
            unit: kind.amount.map_or("", |measure| {
                measure
                    .unit_for(units)
                    .map_or(measure.unit, |own| own.symbol)
            }),
            on: match kind.on {
                OnWhat::Tank => "",
                OnWhat::Filter => "filter",
                OnWhat::Group => "group",
            },
            makes: kind.makes.is_some(),
        };
        let of_family = |family: &Family| {
            let kinds = Happening::all().filter(|kind| kind.family == *family);
            (family.words(), kinds.map(option).collect())
        };
        let filters = tank.filters.iter().map(|filter| {
            (
                format!("filter-{}", filter.number),
                filter.name.clone(),
                "filter",
            )
        });
        let groups = tank
            .stock
            .iter()
            .map(|group| (format!("group-{}", group.name), group.name.clone(), "group"));
        let trays = tank.filters.iter().map(|filter| filter.trays.len()).max();
        Self {
            action,
            is_new: true,
            photos: input.photos(),
            photos_to: format!("/tanks/{id}/photos"),
            input,
            refusals,
            // What is said of tasks is said on Routine, which knows them.
            families: Family::ALL
                .iter()
                .filter(|family| **family != Family::Routine)
                .map(of_family)
                .collect(),
            targets: filters.chain(groups).collect(),
            layers: Layer::ALL,
            grades: (0..=WORST_GRADE).collect(),
            insides: WaterInside::ALL,
            hows: How::ALL,
            trays: (1..=trays.unwrap_or(0)).collect(),
            degrees: units.of(reed_core::tank::Analyte::TEMPERATURE.units).symbol,
            units: units.code(),
        }
    }

    /// A choice of a field that the form carries beyond its own, as it was typed.
    fn chosen(&self, field: &str, id: &str, value: &str) -> bool {
        self.input
            .more
            .get(&format!("{field}-{id}"))
            .map(String::as_str)
            == Some(value)
    }
}

impl LogPage {
    fn read(
        db: &reed_store::Connection,
        id: TankId,
        asked: Asked,
        input: Option<(EntryInput, Refusals)>,
        app: &App,
    ) -> Result<Self, StoreError> {
        let now = app.clock.now();
        let units = settings::units(db)?;
        let tank = tanks::latest(db, id)?.tank;
        let mut timeline = Timeline::of_tank(db, id, &tank, &asked, &app.clock, &units)?;
        let has_live = watches::ever(db, id)?.iter().any(is_live);
        let often = Often::read(db, id, &tank, now.wall, &units)?;
        let (input, refusals) = input.unwrap_or_default();
        let form = EntryForm::of(
            id,
            &tank,
            &units,
            format!("/tanks/{id}/log"),
            input,
            refusals,
        );
        Ok(Self {
            frame: Frame::new("log", format!("{}: log", tank.name)).of_tank(
                id,
                &tank.name,
                Tab::Log,
            ),
            tank: Some(id),
            earlier: timeline.earlier(&asked),
            unreadable: std::mem::take(&mut timeline.unreadable),
            days: timeline.days(now.wall),
            kinds: timeline::Kind::CHOICES
                .iter()
                .map(|kind| (kind.id, kind.words))
                .collect(),
            filters: tank
                .filters
                .iter()
                .map(|filter| (format!("filter-{}", filter.number), filter.name.clone()))
                .collect(),
            asked,
            has_live,
            often,
            form: Some(form),
        })
    }
}

async fn show(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Query(asked): Query<Asked>,
) -> Result<LogPage, PageError> {
    let inner = app.clone();
    app.read(move |db| LogPage::read(db, id, asked, None, &inner))
        .await
}

async fn show_all(
    State(app): State<App>,
    Query(asked): Query<Asked>,
) -> Result<LogPage, PageError> {
    let inner = app.clone();
    app.read(move |db| {
        let now = inner.clock.now();
        let units = settings::units(db)?;
        let mut timeline = Timeline::of_all(db, &asked, &inner.clock, &units)?;
        Ok(LogPage {
            frame: Frame::new("log", "Log of all tanks"),
            tank: None,
            earlier: timeline.earlier(&asked),
            unreadable: std::mem::take(&mut timeline.unreadable),
            days: timeline.days(now.wall),
            kinds: timeline::Kind::CHOICES
                .iter()
                .map(|kind| (kind.id, kind.words))
                .collect(),
            filters: Vec::new(),
            asked,
            has_live: false,
            often: Vec::new(),
            form: None,
        })
    })
    .await
}

/// To where an entry was sent from.
fn back(id: TankId, page: &str) -> Redirect {
    Redirect::to(&match page {
        "water" => format!("/tanks/{id}/water#ahead"),
        "rounds" => format!("/#tank-{id}"),
        "today" => "/#today".to_owned(),
        "visit" => "/visit".to_owned(),
        "routine" => format!("/tanks/{id}/routine"),
        filter if filter.starts_with("filter-") => {
            let number: u32 = filter["filter-".len()..].parse().unwrap_or_default();
            format!("/tanks/{id}/filter?f={number}#record")
        }
        _ => format!("/tanks/{id}/log"),
    })
}

/// The form for the opening of a filter, which goes back to that filter's page.
pub(in crate::pages::tank) fn opening_form(
    id: TankId,
    tank: &Tank,
    units: &Units,
    filter: Serial,
) -> Result<String, askama::Error> {
    let input = EntryInput {
        what: "filter-opened".to_owned(),
        on: format!("filter-{filter}"),
        in_tank: "yes".to_owned(),
        back: format!("filter-{filter}"),
        ..EntryInput::default()
    };
    let action = format!("/tanks/{id}/log");
    let form = EntryForm::of(id, tank, units, action, input, Refusals::default());
    OpeningForm { form: &form }.render()
}

#[derive(Template)]
#[template(path = "parts/entry_form.html")]
struct OpeningForm<'a> {
    form: &'a EntryForm,
}

/// Enters it, and with the keeper's word what it makes true into the tank file.
pub(in crate::pages::tank) fn enter(
    db: &Transaction<'_>,
    id: TankId,
    entry: &Entry,
    photos: &[PhotoId],
    for_the_tank: bool,
    now: &Moment,
) -> Result<(), StoreError> {
    let entered = entries::add(db, id, entry, now.utc)?;
    kept_photos::attach(db, id, entered, photos)?;
    if for_the_tank && let Some(after) = entry.makes(&tanks::latest(db, id)?.tank) {
        let why = entry.kind().map_or("Log", |kind| kind.label);
        tanks::revise(db, id, &after, why, now.utc)?;
    }
    Ok(())
}

async fn add(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(input): Form<EntryInput>,
) -> Result<Response, PageError> {
    let now = app.clock.now();
    let (tank, units) = tank_and_units(&app, id).await?;
    match understood(&input, &now, &units, &tank) {
        Ok(entry) => {
            let (page, for_the_tank) = (input.back.clone(), input.is_for_the_tank());
            let photos = input.photos();
            app.write(move |db| enter(db, id, &entry, &photos, for_the_tank, &now))
                .await?;
            Ok(back(id, &page).into_response())
        }
        Err(refusals) if input.back == "water" => {
            let page = days::page(&app, id, input, refusals.all()).await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
        Err(refusals) => {
            let inner = app.clone();
            let page = app
                .read(move |db| {
                    let typed = Some((input, refusals));
                    LogPage::read(db, id, Asked::default(), typed, &inner)
                })
                .await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

async fn tank_and_units(app: &App, id: TankId) -> Result<(Tank, Units), PageError> {
    app.read(move |db| Ok((tanks::latest(db, id)?.tank, settings::units(db)?)))
        .await
}

/// The entry that was typed, where it can do something in this tank.
fn understood(
    input: &EntryInput,
    now: &Moment,
    units: &Units,
    tank: &Tank,
) -> Result<Entry, Refusals> {
    let entry = input.parse(now, units, tank)?;
    match entry.idle_in(tank) {
        Some(why) => Err(Refusals::single("what", why.to_owned())),
        None => Ok(entry),
    }
}

#[derive(serde::Deserialize)]
struct Moved {
    /// To when.
    to: String,
    #[serde(default)]
    back: String,
}

/// Moves an entry to another time.
async fn move_to(
    State(app): State<App>,
    Ids(id, entry): Ids<TankId, EntryId>,
    Form(moved): Form<Moved>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now();
    let when = moment(&moved.to, &now, &Carried::default())
        .map_err(|refusal| PageError::Refused(refusal.to_string()))?;
    app.write(move |db| {
        let old = entries::find(db, id, entry)?.entry;
        entries::revise(db, id, entry, &Entry { when, ..old }, now.utc)
    })
    .await?;
    Ok(back(id, &moved.back))
}

#[derive(Default, serde::Deserialize)]
struct From {
    #[serde(default)]
    back: String,
}

async fn strike(
    State(app): State<App>,
    Ids(id, entry): Ids<TankId, EntryId>,
    Form(from): Form<From>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().utc;
    app.write(move |db| entries::set_struck(db, id, entry, Some(now)))
        .await?;
    Ok(back(id, &from.back))
}

async fn restore(
    State(app): State<App>,
    Ids(id, entry): Ids<TankId, EntryId>,
    Form(from): Form<From>,
) -> Result<Redirect, PageError> {
    app.write(move |db| entries::set_struck(db, id, entry, None))
        .await?;
    Ok(back(id, &from.back))
}

async fn strike_reading(
    State(app): State<App>,
    Ids(id, reading): Ids<TankId, ReadingId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().utc;
    app.write(move |db| readings::set_struck(db, id, reading, Some(now)))
        .await?;
    Ok(back(id, "log"))
}

async fn restore_reading(
    State(app): State<App>,
    Ids(id, reading): Ids<TankId, ReadingId>,
) -> Result<Redirect, PageError> {
    app.write(move |db| readings::set_struck(db, id, reading, None))
        .await?;
    Ok(back(id, "log"))
}
