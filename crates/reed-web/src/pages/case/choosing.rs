//! Choosing a change or a plan, and going on with it.

use std::sync::Arc;

use axum::extract::State;
use axum::response::Redirect;
use axum_extra::extract::Form;
use reed_core::remedy::Change;
use reed_core::remedy::change::{self, Acts};
use reed_core::remedy::plan::{MOST_CHANGES, after, go_together, stages};
use reed_core::remedy::proof::against;
use reed_core::tank::{Move, Moves, Tank};
use reed_store::choices::Chosen;
use reed_store::plans::KeptStage;
use reed_store::{CaseId, PlanId, cases, choices, plans};
use serde::Deserialize;

use super::super::ids::Id;
use super::actions::back_to;
use super::{Weighed, mix, weigh};
use crate::error::PageError;
use crate::state::App;

/// One change, or several that are made together.
#[derive(Deserialize)]
pub(super) struct ChoiceInput {
    #[serde(default)]
    change: Vec<String>,
}

pub(super) fn known_changes(ids: &[String]) -> Result<Vec<&'static Change>, PageError> {
    let known = |id: &String| {
        change::by_id(id)
            .ok_or_else(|| PageError::Refused(format!("“{id}” is no change of this program.")))
    };
    ids.iter().map(known).collect()
}

/// Chooses changes that are made together, and keeps what is promised of them now.
async fn choose_those(
    app: &App,
    case: CaseId,
    weighed: Arc<Weighed>,
    (changes, moves): (Vec<&'static Change>, Option<Moves>),
    plan: Option<Vec<KeptStage>>,
    of_plan: Option<PlanId>,
) -> Result<Redirect, PageError> {
    let tank = weighed.file.tank_now();
    for change in &changes {
        if let Err(why) = change.suits(tank) {
            return Err(PageError::Refused(format!(
                "“{}” does not fit this tank as it is in its file: {why} What you have changed of it already has to stand there.",
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
            against: &against(&changes, &weighed.differential),
            plan,
            moves: moves.as_ref(),
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
    choose_those(&app, case, weighed, (changes, None), None, None).await
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
    /// Where its things go, as they were tried in the water; empty where they were not.
    #[serde(default)]
    moves: String,
}

/// A plan in stages; or why it is none, as a sentence.
fn staged(
    weighed: &Weighed,
    changes: &[&'static Change],
    budget: Option<f64>,
    moves: &Moves,
) -> Result<Vec<KeptStage>, &'static str> {
    let reckoner = weighed.reckoner();
    if !changes.is_empty() && reckoner.reckon(changes).is_none() {
        return Err(
            "One of these changes does not fit this tank, or the one that the others make of it.",
        );
    }
    let stages = stages(&reckoner, changes, budget).into_iter();
    Ok(stages
        .map(|stage| KeptStage {
            from_day: stage.from_day,
            moves: of_stage(moves, &stage.changes, weighed.file.tank_now()),
            changes: stage.changes,
        })
        .collect())
}

/// The moves that these changes are done by; none where there are none.
fn of_stage(moves: &Moves, changes: &[&'static Change], tank: &Tank) -> Option<Moves> {
    let is_of = |one: &&Move| {
        tank.thing(one.thing).is_some_and(|thing| {
            let kind = thing.what.bare();
            changes.iter().any(|change| {
                matches!(change.acts, Acts::Moves(_)) && change.by_moving.contains(&kind)
            })
        })
    };
    let own: Vec<Move> = moves.0.iter().filter(is_of).cloned().collect();
    (!own.is_empty()).then_some(Moves(own))
}

/// Where the things of a plan go; or why they cannot, as a sentence.
fn places(typed: &str, changes: &[&'static Change], tank: &Tank) -> Result<Moves, PageError> {
    let moves: Moves = typed.parse()?;
    moves.applied_to(&after(changes, tank))?;
    let own = of_stage(&moves, changes, tank).unwrap_or_default();
    if own != moves {
        return Err(PageError::Refused(
            "These places are not of this plan: it does not move all of these things.".to_owned(),
        ));
    }
    Ok(moves)
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
    let moves = places(&input.moves, &changes, weighed.file.tank_now())?;
    let stages = staged(&weighed, &changes, budget, &moves)
        .map_err(|why| PageError::Refused(why.to_owned()))?;
    let Some(first) = stages.first().map(begun) else {
        return Err(PageError::Refused(
            "A plan of no change: pick one at least.".to_owned(),
        ));
    };
    choose_those(&app, case, weighed, first, Some(stages), None).await
}

/// What is made in a stage, and where its things go.
fn begun(stage: &KeptStage) -> (Vec<&'static Change>, Option<Moves>) {
    (stage.changes.clone(), stage.moves.clone())
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
    let next = file.stages_to_come().first().map(|stage| begun(stage));
    let (Some(next), Some(plan)) = (next, file.plan.as_ref().map(|plan| plan.id)) else {
        return Err(PageError::Refused(
            "No plan of this case has anything left to do.".to_owned(),
        ));
    };
    choose_those(&app, case, Arc::clone(&weighed), next, None, Some(plan)).await
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
