//! What a keeper can do on the page of a case. Each writes and leads back to it.

use axum::extract::State;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use jiff::civil::DateTime;
use reed_core::diagnosis::fault::Fault;
use reed_core::remedy::{Change, duties};
use reed_core::tank::Tank;
use reed_store::{
    CaseId, ChoiceId, Connection, DutyId, ReadingId, StoreError, cases, choices, duties, entries,
    plans, readings, tanks,
};
use serde::Deserialize;

use super::super::ids::{Id, Ids};
use super::{Refused, refused_page};
use crate::case_file::CaseFile;
use crate::error::PageError;
use crate::forms::{ReadingInput, store};
use crate::state::App;

pub(super) fn back_to(case: CaseId, anchor: &str) -> Redirect {
    Redirect::to(&format!("/cases/{case}#{anchor}"))
}

pub(super) async fn add_reading(
    State(app): State<App>,
    Id(case): Id<CaseId>,
    Form(input): Form<ReadingInput>,
) -> Result<Response, PageError> {
    let now = app.clock.now();
    match input.parse(&now, &app.units().await?) {
        Ok(reading) => {
            app.write(move |db| {
                let tank = cases::find_open(db, case)?.tank_id;
                store(db, tank, &input, &reading, now.utc)
            })
            .await?;
            Ok(back_to(case, "next").into_response())
        }
        Err(refusals) => refused_page(&app, case, Refused::Reading(input, refusals)).await,
    }
}

pub(super) async fn strike(
    State(app): State<App>,
    Ids(case, reading): Ids<CaseId, ReadingId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().utc;
    set_struck(&app, case, reading, Some(now)).await
}

pub(super) async fn restore(
    State(app): State<App>,
    Ids(case, reading): Ids<CaseId, ReadingId>,
) -> Result<Redirect, PageError> {
    set_struck(&app, case, reading, None).await
}

async fn set_struck(
    app: &App,
    case: CaseId,
    reading: ReadingId,
    struck: Option<jiff::Timestamp>,
) -> Result<Redirect, PageError> {
    app.write(move |db| {
        let tank = cases::find_open(db, case)?.tank_id;
        readings::set_struck(db, tank, reading, struck)
    })
    .await?;
    Ok(back_to(case, "noticed"))
}

#[derive(Deserialize)]
pub(super) struct TickInput {
    step: usize,
    /// `yes` when the step is done.
    done: String,
}

pub(super) async fn tick(
    State(app): State<App>,
    Ids(case, choice): Ids<CaseId, ChoiceId>,
    Form(input): Form<TickInput>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().utc;
    app.write(move |db| {
        let choice = of_case(db, case, choice)?;
        if input.step >= choice.steps().count() {
            return Err(StoreError::NotFound {
                what: "step",
                id: i64::try_from(input.step).unwrap_or(i64::MAX),
            });
        }
        choices::tick(db, choice.id, input.step, input.done == "yes", now)
    })
    .await?;
    Ok(back_to(case, "doing"))
}

/// A choice of a case that is open.
pub(super) fn of_case(
    db: &Connection,
    case: CaseId,
    choice: ChoiceId,
) -> Result<choices::ChosenChange, StoreError> {
    cases::find_open(db, case)?;
    let found = choices::of_case(db, case)?
        .into_iter()
        .find(|known| known.id == choice);
    found.ok_or(StoreError::NotFound {
        what: "chosen change",
        id: choice.0,
    })
}

pub(super) async fn drop_choice(
    State(app): State<App>,
    Ids(case, choice): Ids<CaseId, ChoiceId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().utc;
    app.write(move |db| {
        let dropped = of_case(db, case, choice)?;
        choices::drop_open(db, case, dropped.id, now)?;
        // A plan of which nothing was made goes with its first stage.
        let is_begun = |choice: &choices::ChosenChange| choice.plan == dropped.plan;
        if dropped.plan.is_some() && !choices::of_case(db, case)?.iter().any(is_begun) {
            plans::drop_open(db, case, now)?;
        }
        Ok(())
    })
    .await?;
    Ok(back_to(case, "changes"))
}

/// Readings are entered to the minute: one taken in the minute of the change belongs to the new
/// state.
fn to_the_minute(at: DateTime) -> DateTime {
    at.with()
        .second(0)
        .subsec_nanosecond(0)
        .build()
        .unwrap_or(at)
}

/// The changes were made: the tank stands differently from now on. Said twice, by two who share a
/// list, it holds once.
pub(super) async fn done(
    State(app): State<App>,
    Ids(case, choice): Ids<CaseId, ChoiceId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now();
    app.write(move |db| {
        let choice = of_case(db, case, choice)?;
        if choice.is_done() {
            return Ok(());
        }
        choices::done(db, case, choice.id, to_the_minute(now.wall), now.utc)?;
        let tank_id = cases::find_open(db, case)?.tank_id;
        let before = tanks::latest(db, tank_id)?.tank;
        let after = made(&choice, &before);
        if after != before {
            tanks::revise(db, tank_id, &after, &choice.title(), now.utc)?;
        }
        for change in &choice.changes {
            let note = log_note(case, change);
            if let Some(entry) = change.entry(to_the_minute(now.wall), note) {
                entries::add(db, tank_id, &entry, now.utc)?;
            }
        }
        Ok(())
    })
    .await?;
    Ok(back_to(case, "doing"))
}

/// The tank with what was chosen: as it was tried, if it was; places that no longer can be are left
/// to the keeper's hand.
fn made(choice: &choices::ChosenChange, before: &Tank) -> Tank {
    let with = |changes: &mut dyn Iterator<Item = &&'static Change>| {
        changes.fold(before.clone(), |tank, change| change.apply(&tank))
    };
    let tried = choice.moves.as_ref().and_then(|moves| {
        let others = &mut choice
            .changes
            .iter()
            .filter(|change| change.by_moving.is_empty());
        moves.applied_to(&with(others)).ok()
    });
    tried.unwrap_or_else(|| with(&mut choice.changes.iter()))
}

/// What the entry says that a change of a case leaves in the log.
fn log_note(case: CaseId, change: &Change) -> String {
    format!("{} (case {case})", change.title)
}

/// It was not done after all: the tank and its log stand as before.
pub(super) async fn undo_done(
    State(app): State<App>,
    Ids(case, choice): Ids<CaseId, ChoiceId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().utc;
    app.write(move |db| {
        let choice = of_case(db, case, choice)?;
        choices::undo_done(db, case, choice.id)?;
        let tank_id = cases::find_open(db, case)?.tank_id;
        for change in &choice.changes {
            entries::strike_noted(db, tank_id, &log_note(case, change), now)?;
        }
        // The newest revision is the change's own, unless it changed nothing or the tank was edited
        // since.
        if let [latest, before, ..] = tanks::revisions(db, tank_id)?.as_slice()
            && latest.why == choice.title()
            && latest.made_at >= choice.chosen_at
        {
            tanks::revise(
                db,
                tank_id,
                &before.tank,
                &format!("Taken back: {}", choice.title()),
                now,
            )?;
        }
        Ok(())
    })
    .await?;
    Ok(back_to(case, "doing"))
}

#[derive(Deserialize)]
pub(super) struct Words {
    #[serde(default)]
    words: String,
}

impl Words {
    fn or(self, otherwise: &str) -> String {
        let words = self.words.trim();
        if words.is_empty() {
            otherwise.to_owned()
        } else {
            words.chars().take(500).collect()
        }
    }
}

/// Closes the case; what its changes leave to be watched is written down.
pub(super) async fn close(
    State(app): State<App>,
    Id(case): Id<CaseId>,
    Form(words): Form<Words>,
) -> Result<Redirect, PageError> {
    let (now, clock) = (app.clock.now(), app.clock.clone());
    app.write(move |db| {
        let file = CaseFile::load(db, case, &clock)?;
        cases::close(db, case, &words.or("Closed without a note"), now.utc)?;
        let made: Vec<_> = file
            .choices
            .iter()
            .filter(|choice| choice.is_done())
            .collect();
        let Some(first) = made.first() else {
            return Ok(());
        };
        let changes: Vec<&Change> = made
            .iter()
            .flat_map(|choice| choice.changes.clone())
            .collect();
        let against: Vec<&Fault> = made
            .iter()
            .flat_map(|choice| choice.against.clone())
            .collect();
        let left = duties(&changes, &against, &file.before(first));
        duties::leave(
            db,
            (file.case.tank_id, case),
            &left,
            (to_the_minute(now.wall), now.utc),
        )
    })
    .await?;
    Ok(back_to(case, "next"))
}

/// The case is open again: what it left to be watched is watched no longer.
pub(super) async fn reopen(
    State(app): State<App>,
    Id(case): Id<CaseId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().utc;
    app.write(move |db| {
        cases::reopen(db, case, "Opened again", now)?;
        duties::drop_of_case(db, case, now)
    })
    .await?;
    Ok(back_to(case, "next"))
}

/// A duty was done by hand.
pub(super) async fn duty_done(
    State(app): State<App>,
    Ids(case, duty): Ids<CaseId, DutyId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now();
    app.write(move |db| {
        let tank = cases::find(db, case)?.tank_id;
        duties::tick(db, tank, duty, to_the_minute(now.wall))
    })
    .await?;
    Ok(back_to(case, "duties"))
}
