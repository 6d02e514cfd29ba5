//! What happened to the water and what is planned: entered, moved, withdrawn.

use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use jiff::ToSpan;
use jiff::civil::DateTime;
use reed_core::outlook::ahead::What;
use reed_core::tank::Analyte;
use reed_core::units::span_of_days;
use reed_core::units::{Lies, Refusal, Units, plain, read_amount};
use reed_store::{EventId, TankId, events};

use super::days::page;
use crate::clock::Moment;
use crate::error::PageError;
use crate::forms::{Carried, WHEN_ACCEPTED, for_date_field};
use crate::pages::ids::{Id, Ids};
use crate::state::App;

/// An event as typed.
#[derive(Clone, Default, serde::Deserialize)]
pub(super) struct EventInput {
    #[serde(default)]
    pub(super) what: String,
    #[serde(default)]
    pub(super) amount: String,
    /// When, in words or as a date; nothing is now.
    #[serde(default)]
    pub(super) at: String,
    #[serde(flatten)]
    pub(super) carried: Carried,
}

/// Planned no further ahead, days.
const FURTHEST_DAYS: i64 = 366;

fn moment(text: &str, now: &Moment, carried: &Carried) -> Result<DateTime, Refusal> {
    let at = carried
        .moment(text, now, Lies::Either)
        .ok_or_else(|| Refusal::new("at", "When", text, WHEN_ACCEPTED))?;
    let far = at.duration_since(now.wall).as_hours().abs() > 24 * FURTHEST_DAYS;
    if far {
        Err(Refusal::new(
            "at",
            "When",
            text,
            "Give a day and an hour, no more than a year away.",
        ))
    } else {
        Ok(at)
    }
}

impl EventInput {
    /// A change of a fifth, now.
    pub(super) fn blank() -> Self {
        Self {
            what: "change".to_owned(),
            amount: "20".to_owned(),
            ..Self::default()
        }
    }

    fn parse(&self, now: &Moment, units: &Units) -> Result<(What, DateTime), Refusal> {
        Ok((
            what_of(&self.what, &self.amount, units)?,
            moment(&self.at, now, &self.carried)?,
        ))
    }
}

/// What is meant, from its id and the amount as typed.
pub(super) fn what_of(id: &str, amount: &str, units: &Units) -> Result<What, Refusal> {
    let unknown = || Refusal::new("what", "What", id, "Choose one from the list.");
    let (_, words, unit) = What::KINDS
        .into_iter()
        .find(|(known, ..)| *known == id)
        .ok_or_else(unknown)?;
    let value = match What::accepts(id) {
        None => 0.0,
        Some((low, high)) => {
            let own = What::amount_unit(id, units);
            let value = match own {
                Some(own) => read_amount(amount, Analyte::AMMONIA.units, own),
                None => amount.trim().replace(',', ".").parse::<f64>().ok(),
            };
            let value = value.filter(|value| (low..=high).contains(value));
            let [least, most] = [low, high].map(|limit| {
                plain((own.map_or(limit, |own| own.from_base(limit)) * 100.0).round() / 100.0)
            });
            let accepted = format!(
                "Give a number from {least} to {most} {}.",
                own.map_or(unit, |own| own.symbol)
            );
            value.ok_or_else(|| Refusal::new("amount", words, amount, accepted))?
        }
    };
    Ok(What::by_id(id, value).expect("it is listed"))
}

pub(super) fn back(id: TankId) -> Redirect {
    Redirect::to(&format!("/tanks/{id}/water#ahead"))
}

pub(super) async fn add(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(input): Form<EventInput>,
) -> Result<Response, PageError> {
    let now = app.clock.now();
    let (tank, chosen) = app
        .read(move |db| {
            Ok((
                reed_store::tanks::latest(db, id)?.tank,
                reed_store::settings::units(db)?,
            ))
        })
        .await?;
    let parsed = input
        .parse(&now, &input.carried.units(chosen))
        .map_err(|refusal| refusal.to_string());
    let fitting = parsed.and_then(|(what, at)| {
        what.idle_in(&tank)
            .map_or(Ok((what, at)), |why| Err(why.to_owned()))
    });
    match fitting {
        Ok((what, at)) => {
            app.write(move |db| events::add(db, id, what, at, now.utc))
                .await?;
            Ok(back(id).into_response())
        }
        Err(refused) => {
            let page = page(&app, id, input, refused).await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

#[derive(serde::Deserialize)]
pub(super) struct Moved {
    /// To when.
    to: String,
}

/// Moves an event to another day.
pub(super) async fn move_to(
    State(app): State<App>,
    Ids(id, event): Ids<TankId, EventId>,
    Form(moved): Form<Moved>,
) -> Result<Redirect, PageError> {
    let to = moment(&moved.to, &app.clock.now(), &Carried::default())
        .map_err(|refusal| PageError::Refused(refusal.to_string()))?;
    app.write(move |db| events::move_to(db, id, event, to))
        .await?;
    Ok(back(id))
}

#[derive(serde::Deserialize)]
pub(super) struct HabitMoved {
    from: String,
    to: String,
}

/// Moves one change that habit would make: it is left out there, and planned here.
pub(super) async fn move_habit(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(moved): Form<HabitMoved>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now();
    let read = |text: &str| {
        moment(text, &now, &Carried::default())
            .map_err(|refusal| PageError::Refused(refusal.to_string()))
    };
    let (from, to) = (read(&moved.from)?, read(&moved.to)?);
    app.write(move |db| {
        let share = reed_store::tanks::latest(db, id)?
            .tank
            .practice
            .change_share
            .as_percent();
        events::add(db, id, What::Skip, from, now.utc)?;
        events::add(db, id, What::Change(share / 100.0), to, now.utc)
    })
    .await?;
    Ok(back(id))
}

pub(super) async fn strike(
    State(app): State<App>,
    Ids(id, event): Ids<TankId, EventId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().utc;
    set_struck(&app, id, event, Some(now)).await
}

pub(super) async fn restore(
    State(app): State<App>,
    Ids(id, event): Ids<TankId, EventId>,
) -> Result<Redirect, PageError> {
    set_struck(&app, id, event, None).await
}

async fn set_struck(
    app: &App,
    id: TankId,
    event: EventId,
    struck: Option<jiff::Timestamp>,
) -> Result<Redirect, PageError> {
    app.write(move |db| events::set_struck(db, id, event, struck))
        .await?;
    Ok(back(id))
}

/// The wall clock so many days from a moment, for a date field.
pub(super) fn days_from(now: DateTime, days: f64) -> String {
    let later = now
        .checked_add(span_of_days(days).unwrap_or_default())
        .unwrap_or_else(|_| now.saturating_add(0.days()));
    for_date_field(later)
}
