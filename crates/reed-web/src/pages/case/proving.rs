//! Proving a change: by a second look, by a reading, or not at all.

use axum::extract::State;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use reed_core::diagnosis::Answer;
use reed_core::remedy::change::Wanted;
use reed_core::remedy::proof::{self, Compared, Judgement, Verdict};
use reed_store::answers::Given;
use reed_store::choices::ProvedBy;
use reed_store::{CaseId, ChoiceId, StoreError, answers, cases, choices, readings, tanks};
use serde::Deserialize;

use super::super::ids::Ids;
use super::actions::{back_to, of_case};
use super::{Refused, refused_page};
use crate::case_file::CaseFile;
use crate::controls;
use crate::error::PageError;
use crate::forms::{ReadingInput, store};
use crate::state::App;

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
        Err(refusals) => {
            return refused_page(&app, case, Refused::Proof(choice, input, refusals)).await;
        }
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
            let of_case = proof::read_before(&file.before(&choice), reading.analyte);
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
            refused_page(&app, case, Refused::Proof(choice, input, refusals)).await
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
