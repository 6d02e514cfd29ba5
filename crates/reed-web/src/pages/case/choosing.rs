//! Choosing a change or a plan, and going on with it.

use std::sync::Arc;

use axum::extract::State;
use axum::response::Redirect;
use axum_extra::extract::Form;
use reed_core::remedy::Change;
use reed_core::remedy::change;
use reed_core::remedy::plan::{MOST_CHANGES, go_together, stages};
use reed_core::remedy::proof::against;
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

fn known_changes(ids: &[String]) -> Result<Vec<&'static Change>, PageError> {
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
    changes: Vec<&'static Change>,
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

/// A plan in stages; or why it is none, as a sentence.
fn staged(
    weighed: &Weighed,
    changes: &[&'static Change],
    budget: Option<f64>,
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
            changes: stage.changes,
        })
        .collect())
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
    let stages =
        staged(&weighed, &changes, budget).map_err(|why| PageError::Refused(why.to_owned()))?;
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
