//! A plan tried in the water, while the page listens.

use askama::Template;
use axum::extract::State;
use axum_extra::extract::Query;
use reed_core::flow::{Facts, Verdict, compared};
use reed_core::remedy::plan::{Currents, Helps, Step, Tried, go_together, try_in_water};
use reed_core::tank::Tank;
use reed_core::units::Units;
use reed_store::CaseId;

use super::super::ids::Id;
use super::choosing::known_changes;
use super::weigh;
use crate::error::PageError;
use crate::state::App;
use crate::telling::{self, Heard};

/// The changes of a plan, and the form that follows it.
#[derive(serde::Deserialize)]
pub(super) struct Wish {
    #[serde(default)]
    change: Vec<String>,
    #[serde(default)]
    form: String,
}

/// What came out, as the card shows it.
#[derive(Template)]
#[template(path = "parts/currents.html")]
struct CurrentsPart {
    /// The form that takes the places along.
    form: String,
    verdict: &'static str,
    /// `effect-better`, `effect-worse` or nothing.
    tone: &'static str,
    moves: String,
    /// Where the things stand then.
    words: Vec<String>,
    looked_at: usize,
    /// What would be otherwise: what, now, tried, so.
    differences: Vec<(String, String, String, &'static str)>,
    /// It does not settle: two states or a wander.
    unsteady: bool,
    /// Drift tests in this tank speak against the model.
    doubted: bool,
}

const SAME: &str = "Nothing in this plan alters where the water goes.";
const NO_ROOM: &str =
    "By the drawing there is no room where it would go: put it on Drift where it can stand.";

impl CurrentsPart {
    fn of(tried: Tried, now: &Facts, tank: &Tank, units: &Units, form: &str) -> Self {
        let nothing = |verdict: &'static str| Self {
            form: form.to_owned(),
            verdict,
            tone: "",
            moves: String::new(),
            words: Vec::new(),
            looked_at: 0,
            differences: Vec::new(),
            unsteady: false,
            doubted: false,
        };
        match tried {
            Tried::Same => nothing(SAME),
            Tried::NoRoom => nothing(NO_ROOM),
            Tried::Solved(currents) => {
                let (verdict, tone) = says(&currents);
                Self {
                    words: currents.moves.words(tank, units),
                    moves: currents.moves.to_string(),
                    looked_at: currents.looked_at,
                    differences: compared(now, &currents.facts)
                        .into_iter()
                        .filter(|row| row.verdict != Verdict::Same)
                        .map(|row| (row.what, row.now, row.tried, row.verdict.words()))
                        .collect(),
                    unsteady: now.unsteady || currents.facts.unsteady,
                    doubted: now.trust.is_doubted(),
                    ..Self {
                        tone,
                        ..nothing(verdict)
                    }
                }
            }
        }
    }
}

fn says(currents: &Currents) -> (&'static str, &'static str) {
    match currents.helps() {
        Helps::Yes => ("By this tank’s own flow it helps.", "effect-better"),
        Helps::NoClearDifference => ("By this tank’s own flow it makes no clear difference.", ""),
        Helps::No => (
            "By this tank’s own flow it would make things worse: take another plan, or look for a place on Drift.",
            "effect-worse",
        ),
    }
}

/// Share done before a place is looked at, or the best is solved.
fn share(step: Step) -> f32 {
    #[expect(clippy::cast_precision_loss, reason = "a handful of places")]
    match step {
        Step::Looking(place, of) => LOOKED_AT * (place - 1) as f32 / of as f32,
        Step::Solving => LOOKED_AT,
    }
}

/// Share of the work that looking at the places takes, as a rule.
const LOOKED_AT: f32 = 0.3;

fn words(step: Step) -> String {
    match step {
        Step::Looking(place, of) => format!("Looking at place {place} of {of}"),
        Step::Solving => "Solving the flow".to_owned(),
    }
}

pub(super) async fn listen(
    State(app): State<App>,
    Id(case): Id<CaseId>,
    Query(wish): Query<Wish>,
) -> Result<Heard, PageError> {
    let changes = known_changes(&wish.change)?;
    if changes.is_empty() || !go_together(&changes) {
        return Err(PageError::Refused(
            "These changes are no plan: one to four that do not undo each other.".to_owned(),
        ));
    }
    let flows = app
        .flows()
        .ok_or_else(|| PageError::Refused("The program runs without its flow model.".to_owned()))?;
    let weighed = weigh(&app, case, None).await?;
    Ok(telling::search(&app, move |telling| {
        let (tank, units) = (weighed.file.tank_now(), &weighed.file.units);
        let go_on = || telling.go_on();
        let _ = telling.progress(0.0, "Solving the flow as the tank stands");
        let solved = flows.solve(tank, &go_on)?;
        // Trust is of the tank: what its drift tests say is known from the case.
        let now = match &weighed.case.observed.flow {
            Some(known) => Facts {
                trust: known.trust,
                ..solved
            },
            None => solved,
        };
        let tried = try_in_water(
            &changes,
            tank,
            &now,
            |tried| flows.solve(tried, &go_on),
            |step| telling.progress(share(step), &words(step)),
        )?;
        CurrentsPart::of(tried, &now, tank, units, &wish.form)
            .render()
            .ok()
    }))
}
