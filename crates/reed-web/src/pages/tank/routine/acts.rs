//! What a keeper says of a task: it is read, ticked, put off, skipped, or wanted at another interval.

use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use jiff::ToSpan;
use reed_core::log::{Details, Entry, Happening, LONGEST_NOTE, On, When};
use reed_core::routine;
use reed_core::tank::{Serial, Tank};
use reed_core::units::Refusal;
use reed_store::{DutyId, TankId, duties, entries, tanks};
use serde::Deserialize;

use super::{Asking, RoutinePage, Typed};
use crate::error::PageError;
use crate::forms::{ReadingInput, store};
use crate::pages::ids::Id;
use crate::state::App;
use crate::view::Keeper;

/// To where a word was said.
fn back(id: TankId, page: &str) -> Redirect {
    match page {
        "today" => Redirect::to("/#today"),
        "visit" => Redirect::to("/visit"),
        _ => Redirect::to(&format!("/tanks/{id}/routine")),
    }
}

/// A reading that a task waits for.
#[derive(Deserialize)]
pub(super) struct Read {
    /// The task it is for.
    #[serde(default)]
    key: String,
    #[serde(default)]
    back: String,
    #[serde(flatten)]
    input: ReadingInput,
}

pub(super) async fn read(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(read): Form<Read>,
) -> Result<Response, PageError> {
    let now = app.clock.now();
    let keeper = app.read(Keeper::load).await?;
    let Read {
        key,
        back: page,
        input,
    } = read;
    match input.parse(&now, &keeper.units) {
        Ok(reading) => {
            app.write(move |db| store(db, id, &input, &reading, now.utc))
                .await?;
            Ok(back(id, &page).into_response())
        }
        Err(refusals) => {
            let asking = Asking::of(&app);
            let typed = Typed {
                key,
                input,
                refusals,
            };
            let page = app
                .read(move |db| RoutinePage::read(db, id, &asking, Some(&typed)))
                .await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

/// Something that a closed case left to be watched was done.
#[derive(Deserialize)]
pub(super) struct Ticked {
    duty: i64,
    #[serde(default)]
    back: String,
}

pub(super) async fn watched(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(ticked): Form<Ticked>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now();
    let at = now.wall.with().second(0).subsec_nanosecond(0).build();
    let at = at.unwrap_or(now.wall);
    app.write(move |db| duties::tick(db, id, DutyId(ticked.duty), at))
        .await?;
    Ok(back(id, &ticked.back))
}

/// What is said of a task.
#[derive(Default, Deserialize)]
#[serde(default)]
pub(super) struct Word {
    /// Id of the task.
    task: String,
    /// `filter-2`, or nothing for the tank.
    on: String,
    /// `later`, `skip` or `every`.
    say: String,
    /// Of `later` in how many days, of `every` the interval; nothing gives the keeper's interval up.
    days: String,
    reason: String,
    back: String,
}

/// Furthest that a task is put off, days; and the longest interval, as its kind of entry has it.
const FURTHEST_DAYS: i64 = 365;

impl Word {
    /// The entry that says it.
    fn entry(&self, tank: &Tank, now: jiff::civil::DateTime) -> Result<Entry, Refusal> {
        let refuse = |field: &'static str, label: &str, value: &str, accepted: String| {
            Refusal::new(field, label, value, accepted)
        };
        let task = routine::by_id(&self.task).ok_or_else(|| {
            let accepted = "It is no task of this program; open Routine again.".to_owned();
            refuse("task", "Task", &self.task, accepted)
        })?;
        let on = match self.on.strip_prefix("filter-") {
            None => On::Tank,
            Some(number) => {
                let number = number.parse().map(Serial).ok();
                let filter =
                    number.filter(|number| tank.filters.iter().any(|one| one.number == *number));
                On::Filter(filter.ok_or_else(|| {
                    let accepted =
                        "The tank has no such filter any more; open Routine again.".to_owned();
                    refuse("on", "Filter", &self.on, accepted)
                })?)
            }
        };
        if self.reason.chars().count() > LONGEST_NOTE {
            let accepted = format!("Give at most {LONGEST_NOTE} letters.");
            return Err(refuse("reason", "Reason", "so long a text", accepted));
        }
        let whole_days = |most: i64| {
            let days = self.days.trim().parse::<i64>().ok();
            days.filter(|days| (1..=most).contains(days))
                .ok_or_else(|| {
                    let accepted = format!("Give whole days, from 1 to {most}.");
                    refuse("days", "Days", &self.days, accepted)
                })
        };
        let (kind, amount, until) = match self.say.as_str() {
            "later" => {
                let until = now.date().saturating_add(whole_days(FURTHEST_DAYS)?.days());
                ("task-put-off", None, Some(until))
            }
            "skip" => ("task-skipped", None, None),
            "every" if self.days.trim().is_empty() => ("task-every", None, None),
            "every" => (
                "task-every",
                Some(whole_days(2 * FURTHEST_DAYS)? as f64),
                None,
            ),
            other => {
                let accepted = "A task is put off, skipped, or given an interval.".to_owned();
                return Err(refuse("say", "What is said", other, accepted));
            }
        };
        let kind = Happening::by_id(kind).expect("kinds of the routine are listed");
        Ok(Entry {
            on,
            amount,
            note: self.reason.trim().to_owned(),
            details: Details {
                task: task.id.to_owned(),
                until,
                ..Details::default()
            },
            ..Entry::of(kind, When::minute(now))
        })
    }
}

pub(super) async fn word(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(word): Form<Word>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now();
    let tank = app.read(move |db| Ok(tanks::latest(db, id)?.tank)).await?;
    let entry = word
        .entry(&tank, now.wall)
        .map_err(|refusal| PageError::Refused(refusal.to_string()))?;
    app.write(move |db| entries::add(db, id, &entry, now.utc))
        .await?;
    Ok(back(id, &word.back))
}
