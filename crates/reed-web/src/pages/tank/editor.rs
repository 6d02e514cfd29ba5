//! Changing a tank on the drawing and in the list beside it. The form is the whole state: the
//! drawing is made from what is typed, and a drag changes what is typed.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Form, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use jiff::ToSpan as _;
use jiff::civil::Date;
use reed_core::document::start;
use reed_core::field::{Described, differences, from_texts, keep_untouched, texts_of, tree};
use reed_core::tank::{Conflict, Tank, Weight};
use reed_core::units::{Length, Quantity, Refusal, Units};
use reed_store::{RevisionId, TankId, settings, tanks};
use serde_json::Value;

use super::commands::Command;
use super::fields::{SectionView, sections};
use crate::error::PageError;
use crate::forms::Carried;
use crate::pages::ids::Id;
use crate::state::App;
use crate::view::{Frame, NumberLine, Tab, Use, number_lines, sheet};

/// What every sent form holds besides the tank.
struct Sent {
    command: Command,
    /// Only the drawing is wanted: the list beside it is as it was.
    drawing_only: bool,
    note: String,
    /// The revision that was opened.
    base: Option<RevisionId>,
    /// The set-up a new tank started from.
    start: String,
    carried: Carried,
    texts: Value,
}

impl Sent {
    fn of(pairs: &[(String, String)]) -> Self {
        let get = |name: &str| {
            pairs
                .iter()
                .find(|(key, _)| key == name)
                .map_or("", |(_, value)| value.as_str())
        };
        Self {
            // A pressed button comes after every field.
            command: Command::read(
                pairs
                    .iter()
                    .rev()
                    .find(|(key, _)| key == "do")
                    .map_or("show", |(_, value)| value),
                get("kind"),
            ),
            drawing_only: get("part") == "drawing",
            note: get("note").trim().chars().take(200).collect(),
            base: get("base").parse().ok().map(RevisionId),
            start: get("start").to_owned(),
            carried: Carried {
                units: get("units").to_owned(),
                zone: String::new(),
            },
            texts: tree(
                pairs
                    .iter()
                    .map(|(key, value)| (key.as_str(), value.as_str())),
                Tank::FIELDS,
            ),
        }
    }
}

/// The tank that texts describe, when they were made from the tank `before`; what they date has
/// happened by today.
fn parse(texts: &Value, before: &Tank, units: &Units, today: Date) -> Result<Tank, Vec<Refusal>> {
    let mut value = from_texts(texts, Tank::FIELDS, units)?;
    keep_untouched(&mut value, &before.to_value(), Tank::FIELDS, units);
    let mut tank: Tank = serde_json::from_value(value).map_err(|error| {
        vec![Refusal::new(
            "",
            "The tank",
            &error.to_string(),
            "Fill in what is missing.",
        )]
    })?;
    tank.name = tank.name.trim().to_owned();
    let mut refusals = tank.refusals(units);
    // Where the keeper lives it may be tomorrow already.
    refusals.extend(tank.days_after(today.saturating_add(1.day())));
    if refusals.is_empty() {
        Ok(tank)
    } else {
        Err(refusals)
    }
}

/// The drawing with what goes with it.
#[derive(Template)]
#[template(path = "parts/tank_drawing.html")]
struct DrawingPart {
    /// Absent while something typed makes no sense: the drawing on the page stays as it is.
    drawing: Option<String>,
    refusals: Vec<Refusal>,
    conflicts: Vec<Conflict>,
    impossible: usize,
    numbers: Vec<NumberLine>,
}

impl DrawingPart {
    fn of(parsed: &Result<Tank, Vec<Refusal>>, units: &Units) -> Self {
        match parsed {
            Ok(tank) => {
                let conflicts = tank.conflicts(units);
                Self {
                    drawing: Some(sheet(tank, units, &conflicts, Use::Changing)),
                    refusals: Vec::new(),
                    impossible: conflicts
                        .iter()
                        .filter(|conflict| conflict.weight == Weight::Impossible)
                        .count(),
                    conflicts,
                    numbers: number_lines(tank, units),
                }
            }
            Err(refusals) => Self {
                drawing: None,
                refusals: refusals.clone(),
                conflicts: Vec::new(),
                impossible: 0,
                numbers: Vec::new(),
            },
        }
    }
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/tank_edit.html")]
struct EditPage {
    frame: Frame,
    title: String,
    action: String,
    base: Option<RevisionId>,
    start: String,
    note: String,
    /// What happened to the tank since it was opened for changing.
    meanwhile: Option<Vec<String>>,
    refused: usize,
    part: DrawingPart,
    sections: Vec<SectionView>,
    /// [`Units::code`] of the units it is shown in.
    units: String,
    unit: &'static str,
    /// Centimetres in one of the keeper's units of length.
    factor: f64,
    fresh: String,
}

/// A page before anything is typed on it.
struct Opening<'a> {
    title: String,
    action: String,
    /// The tank, if it stands.
    id: Option<TankId>,
    base: Option<RevisionId>,
    start: &'a str,
    note: String,
    /// What stood there before anything was typed.
    before: Tank,
}

impl EditPage {
    fn of(
        opening: Opening<'_>,
        texts: &Value,
        parsed: &Result<Tank, Vec<Refusal>>,
        fresh: Option<&str>,
        units: &Units,
    ) -> Self {
        let refusals = parsed.as_ref().err().map_or(&[][..], Vec::as_slice);
        let unit = units.of(Length::UNITS);
        let mut part = DrawingPart::of(parsed, units);
        // A whole page needs a drawing to go on from, if only of what was there before.
        part.drawing
            .get_or_insert_with(|| sheet(&opening.before, units, &[], Use::Changing));
        Self {
            frame: match opening.id {
                Some(id) => Frame::new("tank-edit", opening.title.clone()).of_tank(
                    id,
                    &opening.before.name,
                    Tab::Tank,
                ),
                None => Frame::new("tank-edit", opening.title.clone()),
            },
            title: opening.title,
            action: opening.action,
            base: opening.base,
            start: opening.start.to_owned(),
            note: opening.note,
            meanwhile: None,
            refused: refusals.len(),
            part,
            sections: sections(texts, refusals, units, fresh),
            units: units.code(),
            unit: unit.symbol,
            factor: unit.factor,
            fresh: fresh.unwrap_or_default().to_owned(),
        }
    }

    /// The page of a tank from which nothing was sent yet.
    fn opened(opening: Opening<'_>, units: &Units) -> Self {
        let texts = texts_of(&opening.before.to_value(), Tank::FIELDS, units);
        let parsed = Ok(opening.before.clone());
        Self::of(opening, &texts, &parsed, None, units)
    }
}

fn new_tank(start: &str) -> Opening<'_> {
    Opening {
        title: start::by_id(start).map_or_else(
            || "New tank".to_owned(),
            |start| format!("New tank: {}", start.title),
        ),
        action: "/tanks".to_owned(),
        id: None,
        base: None,
        start,
        note: String::new(),
        before: start::by_id(start)
            .map(start::Start::tank)
            .unwrap_or_default(),
    }
}

/// The drawing of a new tank as far as it was told on the short form: from here every detail can be
/// given.
pub(super) fn going_on(start: &str, tank: Tank, units: &Units) -> Response {
    EditPage::opened(
        Opening {
            before: tank,
            ..new_tank(start)
        },
        units,
    )
    .into_response()
}

/// The form of a tank that stands.
pub(super) async fn edit(
    State(app): State<App>,
    Id(id): Id<TankId>,
) -> Result<Response, PageError> {
    let page = app
        .read(move |db| {
            let revision = tanks::latest(db, id)?;
            Ok(EditPage::opened(
                standing(id, &revision),
                &settings::units(db)?,
            ))
        })
        .await?;
    Ok(page.into_response())
}

fn standing(id: TankId, revision: &tanks::Revision) -> Opening<'static> {
    Opening {
        title: format!("Change {}", revision.tank.name),
        action: format!("/tanks/{id}"),
        id: Some(id),
        base: Some(revision.id),
        start: "",
        note: String::new(),
        before: revision.tank.clone(),
    }
}

/// A new tank: a button of its form, or saving it.
pub(super) async fn create(
    State(app): State<App>,
    Form(pairs): Form<Vec<(String, String)>>,
) -> Result<Response, PageError> {
    let mut sent = Sent::of(&pairs);
    let units = sent.carried.units(app.units().await?);
    let fresh = sent.command.apply(&mut sent.texts, &units);
    let opening = Opening {
        note: sent.note.clone(),
        ..new_tank(&sent.start)
    };
    let parsed = parse(
        &sent.texts,
        &opening.before,
        &units,
        app.clock.now().wall.date(),
    );
    match parsed {
        parsed if sent.drawing_only => Ok(drawing_of(&parsed, &units)),
        Ok(tank) if sent.command == Command::Save => {
            let now = app.clock.now();
            let why = if sent.note.is_empty() {
                "First entry".to_owned()
            } else {
                sent.note
            };
            let id = app
                .write(move |db| tanks::create(db, &tank, &why, now.utc))
                .await?;
            Ok(Redirect::to(&format!("/tanks/{id}")).into_response())
        }
        parsed => Ok((
            status(&parsed),
            EditPage::of(opening, &sent.texts, &parsed, fresh.as_deref(), &units),
        )
            .into_response()),
    }
}

/// A tank that stands: a button of its form, or saving it as a new revision.
pub(super) async fn revise(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(pairs): Form<Vec<(String, String)>>,
) -> Result<Response, PageError> {
    let mut sent = Sent::of(&pairs);
    let (latest, chosen) = app
        .read(move |db| Ok((tanks::latest(db, id)?, settings::units(db)?)))
        .await?;
    let units = sent.carried.units(chosen);
    let fresh = sent.command.apply(&mut sent.texts, &units);
    let parsed = parse(
        &sent.texts,
        &latest.tank,
        &units,
        app.clock.now().wall.date(),
    );
    let opening = Opening {
        base: sent.base,
        note: sent.note.clone(),
        ..standing(id, &latest)
    };
    match parsed {
        parsed if sent.drawing_only => Ok(drawing_of(&parsed, &units)),
        Ok(tank) if matches!(sent.command, Command::Save | Command::SaveOver) => {
            // What a file said that no form shows stays with the tank.
            let tank = Tank {
                unknown: latest.tank.unknown.clone(),
                ..tank
            }
            .confirmed_against(&latest.tank);
            let changed = differences(
                &latest.tank.to_value(),
                &tank.to_value(),
                Tank::FIELDS,
                "",
                &units,
            );
            let overtaken = sent.base.filter(|base| {
                *base != latest.id && sent.command == Command::Save && !changed.is_empty()
            });
            if let Some(base) = overtaken {
                let page = EditPage::of(opening, &sent.texts, &Ok(tank), None, &units);
                return conflict(&app, (id, base), &latest.tank, page, &units).await;
            }
            if !changed.is_empty() {
                let now = app.clock.now();
                let why = if sent.note.is_empty() {
                    summary(&changed)
                } else {
                    sent.note
                };
                app.write(move |db| tanks::revise(db, id, &tank, &why, now.utc))
                    .await?;
            }
            Ok(Redirect::to(&format!("/tanks/{id}")).into_response())
        }
        parsed => Ok((
            status(&parsed),
            EditPage::of(opening, &sent.texts, &parsed, fresh.as_deref(), &units),
        )
            .into_response()),
    }
}

/// Somebody saved the tank meanwhile: the same page with what that changed.
async fn conflict(
    app: &App,
    (id, base): (TankId, RevisionId),
    latest: &Tank,
    page: EditPage,
    units: &Units,
) -> Result<Response, PageError> {
    let opened = app.read(move |db| tanks::revision(db, id, base)).await?;
    let meanwhile = differences(
        &opened.tank.to_value(),
        &latest.to_value(),
        Tank::FIELDS,
        "",
        units,
    );
    let page = EditPage {
        meanwhile: Some(meanwhile),
        ..page
    };
    Ok((StatusCode::CONFLICT, page).into_response())
}

/// What to call a revision that the keeper gave no note.
fn summary(changed: &[String]) -> String {
    match changed {
        [one] => one.clone(),
        [first, rest @ ..] => format!("{first}, and {} more", rest.len()),
        [] => String::new(),
    }
}

const fn status(parsed: &Result<Tank, Vec<Refusal>>) -> StatusCode {
    if parsed.is_ok() {
        StatusCode::OK
    } else {
        StatusCode::UNPROCESSABLE_ENTITY
    }
}

/// Only the drawing and what goes with it: what follows a drag.
fn drawing_of(parsed: &Result<Tank, Vec<Refusal>>, units: &Units) -> Response {
    match DrawingPart::of(parsed, units).render() {
        Ok(html) => (status(parsed), Html(html)).into_response(),
        Err(error) => PageError::Failed(error.into()).into_response(),
    }
}
