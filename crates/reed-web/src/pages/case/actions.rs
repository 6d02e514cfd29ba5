//! What a keeper can do on the page of a case. Each writes and leads back to it.

use axum::extract::State;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use jiff::civil::DateTime;
use reed_core::diagnosis::Answer;
use reed_core::remedy::Change;
use reed_core::remedy::change::{self, Wanted};
use reed_core::remedy::proof;
use reed_store::answers::Given;
use reed_store::choices::{Chosen, ProvedBy};
use reed_store::{
    CaseId, ChoiceId, Connection, ReadingId, StoreError, answers, cases, choices, entries,
    readings, tanks,
};
use serde::Deserialize;

use super::super::ids::{Id, Ids};
use super::changes::proved_by;
use super::{Refused, refused_page, weigh};
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
pub(super) struct ChoiceInput {
    change: String,
}

/// Chooses a change and keeps what is promised of it now.
pub(super) async fn choose(
    State(app): State<App>,
    Id(case): Id<CaseId>,
    Form(input): Form<ChoiceInput>,
) -> Result<Redirect, PageError> {
    let change = change::by_id(&input.change).ok_or_else(|| {
        PageError::Refused(format!("“{}” is no change of this program.", input.change))
    })?;
    let weighed = weigh(&app, case, None).await?;
    if weighed.file.choice().is_some() {
        return Err(PageError::Refused(
            "A change is under way in this case. Finish or drop it first: one at a time tells what helped.".to_owned(),
        ));
    }
    let plan = weighed.plans.iter().find(|plan| plan.change == change);
    let plan = plan
        .cloned()
        .ok_or_else(|| PageError::Refused(format!("“{}” does not fit this tank.", change.title)))?;
    let now = app.clock.now().utc;
    app.write(move |db| {
        let chosen = Chosen {
            change,
            moves: None,
            without: &weighed.now,
            after: plan.after.as_ref(),
        };
        choices::choose(db, case, chosen, now)
    })
    .await?;
    Ok(back_to(case, "doing"))
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
        if input.step >= choice.change.steps.len() {
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
fn of_case(
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
        let choice = of_case(db, case, choice)?;
        choices::drop_open(db, case, choice.id, now)
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

/// The change was made: the tank stands differently from now on.
pub(super) async fn done(
    State(app): State<App>,
    Ids(case, choice): Ids<CaseId, ChoiceId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now();
    app.write(move |db| {
        let choice = of_case(db, case, choice)?;
        choices::done(db, case, choice.id, to_the_minute(now.wall), now.utc)?;
        let tank_id = cases::find_open(db, case)?.tank_id;
        let before = tanks::latest(db, tank_id)?.tank;
        // As it was tried, if it was; what no longer can be is left to the keeper's hand.
        let tried = choice
            .moves
            .as_ref()
            .and_then(|moves| moves.applied_to(&before).ok());
        let after = tried.unwrap_or_else(|| choice.change.apply(&before));
        if after != before {
            tanks::revise(db, tank_id, &after, choice.change.title, now.utc)?;
        }
        let note = log_note(case, choice.change);
        if let Some(entry) = choice.change.entry(to_the_minute(now.wall), note) {
            entries::add(db, tank_id, &entry, now.utc)?;
        }
        Ok(())
    })
    .await?;
    Ok(back_to(case, "doing"))
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
        entries::strike_noted(db, tank_id, &log_note(case, choice.change), now)?;
        // The newest revision is the change's own, unless it changed nothing or the tank was edited
        // since.
        if let [latest, before, ..] = tanks::revisions(db, tank_id)?.as_slice()
            && latest.why == choice.change.title
            && latest.made_at >= choice.chosen_at
        {
            tanks::revise(
                db,
                tank_id,
                &before.tank,
                &format!("Taken back: {}", choice.change.title),
                now,
            )?;
        }
        Ok(())
    })
    .await?;
    Ok(back_to(case, "doing"))
}

/// The answer to the question that proves a change without a reading.
#[derive(Deserialize)]
pub(super) struct LookInput {
    answer: String,
}

/// A second look is judged, and counts as seen.
pub(super) async fn prove_by_look(
    State(app): State<App>,
    Ids(case, choice): Ids<CaseId, ChoiceId>,
    Form(input): Form<LookInput>,
) -> Result<Redirect, PageError> {
    let answer = Answer::by_id(&input.answer).ok_or_else(|| {
        PageError::Refused(format!("“{}” is no answer: yes and no are.", input.answer))
    })?;
    let (now, clock) = (app.clock.now(), app.clock.clone());
    let outcome = app
        .write(move |db| {
            cases::find_open(db, case)?;
            let choice = of_case(db, case, choice)?;
            let file = CaseFile::load(db, case, &clock)?;
            let (Wanted::Gone(finding), true) = (file.wanted(&choice, now.wall), choice.is_done())
            else {
                return Ok(false);
            };
            let judgement =
                proof::judge_look(finding, answer, &file.before(&choice, now.wall).observed);
            answers::add(
                db,
                case,
                &Given::at(finding.id, Some(answer), now.wall),
                now.utc,
            )?;
            choices::prove(db, choice.id, ProvedBy::Look(now.wall), &judgement, now.utc)?;
            Ok(true)
        })
        .await?;
    if outcome {
        Ok(back_to(case, "next"))
    } else {
        Err(PageError::Refused(
            "This change is not proved by looking, or not done yet.".to_owned(),
        ))
    }
}

/// A reading is judged against what was promised.
pub(super) async fn prove(
    State(app): State<App>,
    Ids(case, choice): Ids<CaseId, ChoiceId>,
    Form(input): Form<ReadingInput>,
) -> Result<Response, PageError> {
    let now = app.clock.now();
    let units = app.units().await?;
    let reading = match input.parse(&now, &units) {
        Ok(reading) => reading,
        Err(refusals) => return refused_page(&app, case, Refused::Proof(input, refusals)).await,
    };
    let (sent, clock) = (input.clone(), app.clock.clone());
    let outcome = app
        .write(move |db| {
            let choice = of_case(db, case, choice)?;
            let Some(done) = choice.done_wall.filter(|done| reading.taken_at >= *done) else {
                return Ok(Err(
                    "This reading was taken before the change was done; enter it under “Noticed”, or take a new one.".to_owned()
                ));
            };
            let file = CaseFile::load(db, case, &clock)?;
            let wanted = file.wanted(&choice, now.wall);
            if wanted.analyte() != Some(reading.analyte) {
                return Ok(Err(format!("This change is proved by {}, not by {}.", proved_by(wanted), reading.analyte.label)));
            }
            let tank_id = cases::find_open(db, case)?.tank_id;
            let tank = tanks::latest(db, tank_id)?.tank;
            let of_case = file.before(&choice, now.wall).observed.latest(reading.analyte).cloned();
            let longer_ago = || readings::last_before(db, tank_id, reading.analyte.id, done);
            let before = of_case.map_or_else(|| Ok::<_, StoreError>(longer_ago()?.map(|stored| stored.reading)), |read| Ok(Some(read)))?;
            let judgement = proof::judge(wanted, &tank, &reading, before.as_ref(), &choice.now, choice.after.as_ref(), &units);
            let reading = store(db, tank_id, &sent, &reading, now.utc)?;
            choices::prove(db, choice.id, ProvedBy::Reading(reading), &judgement, now.utc)?;
            Ok(Ok(()))
        })
        .await?;
    match outcome {
        Ok(()) => Ok(back_to(case, "next").into_response()),
        Err(why) => {
            refused_page(
                &app,
                case,
                Refused::Proof(input, crate::forms::Refusals::single("taken_at", why)),
            )
            .await
        }
    }
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

pub(super) async fn close(
    State(app): State<App>,
    Id(case): Id<CaseId>,
    Form(words): Form<Words>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().utc;
    app.write(move |db| cases::close(db, case, &words.or("Closed without a note"), now))
        .await?;
    Ok(back_to(case, "next"))
}

pub(super) async fn reopen(
    State(app): State<App>,
    Id(case): Id<CaseId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().utc;
    app.write(move |db| cases::reopen(db, case, "Opened again", now))
        .await?;
    Ok(back_to(case, "next"))
}
