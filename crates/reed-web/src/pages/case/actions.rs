//! What a keeper can do on the page of a case. Each writes and leads back to it.

use std::sync::Arc;

use axum::extract::State;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use jiff::civil::DateTime;
use reed_core::diagnosis::Answer;
use reed_core::diagnosis::fault::Fault;
use reed_core::remedy::change::{self, Wanted};
use reed_core::remedy::plan::{MOST_CHANGES, go_together, stages};
use reed_core::remedy::proof::{self, Compared, Judgement, Verdict};
use reed_core::remedy::{Change, duties};
use reed_store::answers::Given;
use reed_store::choices::{Chosen, ProvedBy};
use reed_store::plans::KeptStage;
use reed_store::{
    CaseId, ChoiceId, Connection, DutyId, PlanId, ReadingId, StoreError, answers, cases, choices,
    duties, entries, plans, readings, tanks,
};
use serde::Deserialize;

use super::super::ids::{Id, Ids};
use super::{Refused, Weighed, mix, refused_page, weigh};
use crate::case_file::CaseFile;
use crate::controls;
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

/// One change, or several that are made together.
#[derive(Deserialize)]
pub(super) struct ChoiceInput {
    #[serde(default)]
    change: Vec<String>,
}

fn known_changes(ids: &[String]) -> Result<Vec<&'static Change>, PageError> {
    let known = |id: &String| {
        change::by_id(id)
            .ok_or_else(|| PageError::Refused(format!("“{id}” is no change of this program.")))
    };
    ids.iter().map(known).collect()
}

/// Faults that a choice is made against: at most so many, of those it meets; all likelier than
/// this, or the likeliest. Judgements.
const AGAINST: usize = 4;
const AGAINST_FROM: f64 = 0.15;

/// The suspects that these changes meet, likeliest first.
fn against(weighed: &Weighed, changes: &[&'static Change]) -> Vec<&'static Fault> {
    let meets = |fault: &Fault| {
        changes.iter().any(|change| {
            change
                .cures
                .iter()
                .chain(change.eases)
                .any(|one| *one == fault)
        })
    };
    let mut met: Vec<(&'static Fault, f64)> = weighed
        .differential
        .of_this_case()
        .filter(|suspect| meets(suspect.fault))
        .map(|suspect| (suspect.fault, suspect.probability))
        .collect();
    met.sort_by(|one, other| other.1.total_cmp(&one.1));
    met.into_iter()
        .enumerate()
        .filter(|(place, (_, probability))| *place == 0 || *probability >= AGAINST_FROM)
        .map(|(_, (fault, _))| fault)
        .take(AGAINST)
        .collect()
}

/// Chooses changes that are made together, and keeps what is promised of them now.
async fn choose_those(
    app: &App,
    case: CaseId,
    weighed: Arc<Weighed>,
    changes: Vec<&'static Change>,
    plan: Option<Vec<KeptStage>>,
    of_plan: Option<PlanId>,
) -> Result<Redirect, PageError> {
    let tank = weighed.file.tank_now();
    for change in &changes {
        if let Err(why) = change.suits(tank) {
            return Err(PageError::Refused(format!(
                "“{}” does not fit this tank: {why}",
                change.title
            )));
        }
    }
    let now = app.clock.now().utc;
    app.write(move |db| {
        let in_the_model = changes.iter().any(|change| change.in_the_model.is_some());
        let after = in_the_model.then(|| weighed.reckoner().outcome(&changes).day.clone());
        let plan = match plan {
            Some(stages) => Some(plans::choose(db, case, &stages, now)?),
            None => of_plan,
        };
        let chosen = Chosen {
            changes: &changes,
            against: &against(&weighed, &changes),
            plan,
            moves: None,
            without: &weighed.now,
            after: after.as_ref(),
        };
        choices::choose(db, case, chosen, now)
    })
    .await?;
    Ok(back_to(case, "doing"))
}

const UNDER_WAY: &str =
    "A change is under way in this case. Finish or drop it first: one at a time tells what helped.";

pub(super) async fn choose(
    State(app): State<App>,
    Id(case): Id<CaseId>,
    Form(input): Form<ChoiceInput>,
) -> Result<Redirect, PageError> {
    let changes = known_changes(&input.change)?;
    if changes.is_empty() {
        return Err(PageError::Refused(
            "Which change? None was named.".to_owned(),
        ));
    }
    let weighed = weigh(&app, case, None).await?;
    if weighed.file.choice().is_some() {
        return Err(PageError::Refused(UNDER_WAY.to_owned()));
    }
    choose_those(&app, case, weighed, changes, None, None).await
}

/// A plan, as it stood on the page.
#[derive(Deserialize)]
pub(super) struct PlanInput {
    #[serde(default)]
    change: Vec<String>,
    /// The revision of the tank that it was reckoned for.
    revision: i64,
    /// How long a visit may take, minutes.
    #[serde(default)]
    budget: String,
}

/// Follows a plan: all of it is kept, its first stage is begun.
pub(super) async fn choose_plan(
    State(app): State<App>,
    Id(case): Id<CaseId>,
    Form(input): Form<PlanInput>,
) -> Result<Redirect, PageError> {
    let changes = known_changes(&input.change)?;
    let budget = mix::budget(&input.budget).map_err(PageError::Refused)?;
    let weighed = weigh(&app, case, None).await?;
    if weighed.file.choice().is_some() {
        return Err(PageError::Refused(UNDER_WAY.to_owned()));
    }
    if weighed.file.revision().0 != input.revision {
        return Err(PageError::Refused(
            "The tank was changed meanwhile, and the plan was reckoned for how it stood before. Go back to the case: its plans are reckoned anew."
                .to_owned(),
        ));
    }
    if !go_together(&changes) || changes.len() > MOST_CHANGES {
        return Err(PageError::Refused(format!(
            "A plan is of one to {MOST_CHANGES} changes that do not undo each other."
        )));
    }
    let stages: Vec<KeptStage> = stages(&weighed.reckoner(), &changes, budget)
        .into_iter()
        .map(|stage| KeptStage {
            from_day: stage.from_day,
            changes: stage.changes,
        })
        .collect();
    let Some(first) = stages.first().map(|stage| stage.changes.clone()) else {
        return Err(PageError::Refused(
            "A plan of no change: pick one at least.".to_owned(),
        ));
    };
    choose_those(&app, case, weighed, first, Some(stages), None).await
}

/// Goes on to the next stage of the plan.
pub(super) async fn next_stage(
    State(app): State<App>,
    Id(case): Id<CaseId>,
) -> Result<Redirect, PageError> {
    let weighed = weigh(&app, case, None).await?;
    let file = &weighed.file;
    if file.choice().is_some_and(|choice| !choice.is_done()) {
        return Err(PageError::Refused(UNDER_WAY.to_owned()));
    }
    let next = file
        .stages_to_come()
        .first()
        .map(|stage| stage.changes.clone());
    let (Some(changes), Some(plan)) = (next, file.plan.as_ref().map(|plan| plan.id)) else {
        return Err(PageError::Refused(
            "No plan of this case has anything left to do.".to_owned(),
        ));
    };
    choose_those(&app, case, Arc::clone(&weighed), changes, None, Some(plan)).await
}

/// The plan is followed no longer; what was made stays.
pub(super) async fn drop_plan(
    State(app): State<App>,
    Id(case): Id<CaseId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().utc;
    app.write(move |db| {
        cases::find_open(db, case)?;
        plans::drop_open(db, case, now)
    })
    .await?;
    Ok(back_to(case, "next"))
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
        // As it was tried, if it was; what no longer can be is left to the keeper's hand.
        let tried = choice
            .moves
            .as_ref()
            .and_then(|moves| moves.applied_to(&before).ok());
        let after = tried.unwrap_or_else(|| {
            let changes = choice.changes.iter();
            changes.fold(before.clone(), |tank, change| change.apply(&tank))
        });
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

/// The answer to the question that proves a change without a reading.
#[derive(Deserialize)]
pub(super) struct LookInput {
    answer: String,
    /// Id of the sign that was looked for; of the first that is, where it is not said.
    #[serde(default)]
    sign: String,
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
            let sign = file
                .proving(&choice)
                .parts
                .iter()
                .find_map(|part| match part.wanted {
                    Wanted::Gone(sign) if input.sign.is_empty() || input.sign == sign.id => {
                        Some(sign)
                    }
                    _ => None,
                });
            let (Some(sign), true) = (sign, choice.is_done()) else {
                return Ok(false);
            };
            let judgement = proof::judge_look(sign, answer, &file.before(&choice).observed);
            answers::add(
                db,
                case,
                &Given::at(sign.id, Some(answer), now.wall),
                now.utc,
            )?;
            let by = ProvedBy::Look(now.wall);
            choices::prove(db, (choice.id, sign.id), by, &judgement, now.utc)?;
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

/// A reading is judged against what was promised, and beside a control.
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
                return Ok(Err((
                    "taken_at",
                    "This reading was taken before the change was done; enter it under “Noticed”, or take a new one.".to_owned(),
                )));
            };
            let file = CaseFile::load(db, case, &clock)?;
            let parts = &file.proving(&choice).parts;
            let read: Vec<_> = parts.iter().filter_map(|part| part.wanted.analyte()).collect();
            let part = parts.iter().find(|part| part.wanted.analyte() == Some(reading.analyte));
            let Some(part) = part else {
                let wanted: Vec<&str> = match read[..] {
                    [] => vec!["a second look"],
                    _ => read.iter().map(|analyte| analyte.label).collect(),
                };
                return Ok(Err((
                    "kit",
                    format!(
                        "This change is proved by {}, not by {}.",
                        wanted.join(" and "),
                        reading.analyte.label
                    ),
                )));
            };
            let tank_id = cases::find_open(db, case)?.tank_id;
            let control = match controls::control(db, (tank_id, &sent.control), &reading, done)? {
                Ok(control) => control,
                Err(why) => return Ok(Err(("control", why))),
            };
            let tank = tanks::latest(db, tank_id)?.tank;
            let of_case = file.before(&choice).observed.latest(reading.analyte).cloned();
            let longer_ago = || readings::last_before(db, tank_id, reading.analyte.id, done);
            let before = of_case.map_or_else(
                || Ok::<_, StoreError>(longer_ago()?.map(|stored| stored.reading)),
                |read| Ok(Some(read)),
            )?;
            let compared = Compared {
                before: before.as_ref(),
                control: control.as_ref(),
                now: &choice.now,
                after: choice.after.as_ref(),
            };
            let judgement = proof::judge(part.wanted, &tank, &reading, &compared, &units);
            let reading = store(db, tank_id, &sent, &reading, now.utc)?;
            let by = ProvedBy::Reading(reading);
            choices::prove(db, (choice.id, part.wanted.id()), by, &judgement, now.utc)?;
            Ok(Ok(()))
        })
        .await?;
    match outcome {
        Ok(()) => Ok(back_to(case, "next").into_response()),
        Err((field, why)) => {
            let refusals = crate::forms::Refusals::single(field, why);
            refused_page(&app, case, Refused::Proof(input, refusals)).await
        }
    }
}

/// What cannot be told is left open, and the case looks on.
pub(super) async fn leave_unproved(
    State(app): State<App>,
    Ids(case, choice): Ids<CaseId, ChoiceId>,
) -> Result<Redirect, PageError> {
    let (now, clock) = (app.clock.now(), app.clock.clone());
    app.write(move |db| {
        cases::find_open(db, case)?;
        let choice = of_case(db, case, choice)?;
        let file = CaseFile::load(db, case, &clock)?;
        let judgement = Judgement {
            verdict: Verdict::Partly,
            rise: None,
            forecast: None,
            words: "Left open: it could not be told.".to_owned(),
        };
        for (place, part) in file.proving(&choice).parts.iter().enumerate() {
            let is_told = file
                .shown(&choice, place)
                .is_some_and(|shown| shown.judged.verdict != Verdict::CannotTell);
            if !is_told {
                let by = ProvedBy::Look(now.wall);
                choices::prove(db, (choice.id, part.wanted.id()), by, &judgement, now.utc)?;
            }
        }
        Ok(())
    })
    .await?;
    Ok(back_to(case, "next"))
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
