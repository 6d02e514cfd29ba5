//! Plans side by side on one scale, ready to print.

use reed_core::remedy::plan::{
    Goal, Plan, Reckoned, Reckoner, Stage, after, alters_flow, unsolved,
};
use reed_core::remedy::{Effects, Shopping};
use reed_store::RevisionId;

use super::Weighed;
use super::changes::money;
use crate::view::{EffectLine, Mood, draw, effect_lines, percent};

/// Plans, and what was passed over.
pub(super) struct PlansView {
    pub(super) plans: Vec<PlanCard>,
    /// Changes that stand in none, with why.
    pub(super) lost: Vec<(&'static str, String)>,
    /// Sets of changes that were reckoned, and those left out since they could not be good enough.
    pub(super) reckoned: usize,
    pub(super) left_out: usize,
    /// There were more of them than a page waits for.
    pub(super) broken_off: bool,
    /// The revision of the tank that they were reckoned for.
    pub(super) revision: RevisionId,
}

/// A plan.
pub(super) struct PlanCard {
    /// In what it is the best; empty of a mere alternative.
    pub(super) ways: String,
    /// Ids of the changes.
    pub(super) changes: Vec<&'static str>,
    pub(super) drawing: String,
    pub(super) goals: Vec<GoalLine>,
    pub(super) euros: String,
    pub(super) minutes: String,
    pub(super) stages: Vec<StageLine>,
    pub(super) unsolved: Vec<String>,
    /// What it does, by every model that holds what it acts on.
    pub(super) effects: Vec<EffectLine>,
    pub(super) buys: Vec<(&'static str, String)>,
    pub(super) look_after: Vec<&'static str>,
    /// It alters where the water goes: the flow model can try it.
    pub(super) in_water: bool,
    /// Id of the form that follows it.
    pub(super) form: String,
}

/// A goal on its scale from never to certain.
pub(super) struct GoalLine {
    pub(super) label: &'static str,
    pub(super) now: String,
    pub(super) after: String,
    pub(super) wanted: String,
    /// The same in percent of the scale.
    pub(super) at: [String; 3],
    pub(super) reached: bool,
}

/// What is made when.
pub(super) struct StageLine {
    pub(super) when: String,
    pub(super) titles: Vec<&'static str>,
    pub(super) minutes: String,
    pub(super) why: &'static str,
}

impl PlansView {
    pub(super) fn of(weighed: &Weighed) -> Self {
        let revision = weighed.file.revision();
        let nothing = Self {
            plans: Vec::new(),
            lost: Vec::new(),
            reckoned: 0,
            left_out: 0,
            broken_off: false,
            revision,
        };
        if !weighed.is_choosing() {
            return nothing;
        }
        let found = weighed.found();
        let reckoner = weighed.reckoner();
        let card = |plan: &Plan| PlanCard {
            ways: ways(plan),
            ..PlanCard::of(&plan.reckoned, &plan.stages, &reckoner, weighed)
        };
        let mut plans: Vec<PlanCard> = found.plans.iter().map(card).collect();
        for (place, card) in plans.iter_mut().enumerate() {
            card.form = format!("plan-form-{}", place + 1);
        }
        draw_each_once(&mut plans);
        Self {
            plans,
            lost: found
                .lost
                .iter()
                .map(|lost| (lost.change.title, lost.why.clone()))
                .collect(),
            reckoned: found.progress.reckoned,
            left_out: found.progress.left_out,
            broken_off: found.broken_off,
            revision,
        }
    }
}

/// What is drawn alike is drawn once on the page, and shown again where it stands again.
fn draw_each_once(plans: &mut [PlanCard]) {
    let drawings: Vec<String> = plans.iter().map(|card| card.drawing.clone()).collect();
    for (place, card) in plans.iter_mut().enumerate() {
        let first = drawings.iter().position(|drawing| *drawing == card.drawing);
        let first = first.unwrap_or(place);
        card.drawing = if first == place {
            card.drawing
                .replacen("<svg ", &format!("<svg id=\"plan-drawing-{place}\" "), 1)
        } else {
            let size = card.drawing.split('"').nth(3).unwrap_or_default();
            let size: Vec<&str> = size.split(' ').skip(2).collect();
            format!(
                "<svg class=\"tank\" viewBox=\"0 0 {}\"><use href=\"#plan-drawing-{first}\"/></svg>",
                size.join(" ")
            )
        };
    }
}

fn ways(plan: &Plan) -> String {
    let words: Vec<&str> = plan.ways.iter().map(|way| way.words()).collect();
    match words.split_first() {
        None => "Another way".to_owned(),
        Some((first, rest)) => {
            let rest = rest
                .iter()
                .map(|words| format!(", {}", words.to_lowercase()));
            rest.fold((*first).to_owned(), |all, words| all + &words)
        }
    }
}

impl PlanCard {
    /// Of any set of changes.
    pub(super) fn of(
        reckoned: &Reckoned,
        stages: &[Stage],
        reckoner: &Reckoner<'_>,
        weighed: &Weighed,
    ) -> Self {
        let (changes, case) = (&reckoned.changes, &weighed.case);
        let believed = weighed.differential.believed.likeliest();
        let effects = Effects::of(changes, case, &weighed.file.filter_log());
        let none = reckoner.reckon_nothing();
        let cause = GoalLine::new(CAUSE, [none, reckoned.meets_cause, WANTED_OF_CAUSE]);
        let goal = |(goal, chance): (&Goal, &f64)| {
            GoalLine::new(goal.aim.words(), [goal.now, *chance, goal.wanted])
        };
        // A goal that nothing speaks of, and that stays as it is, is no news.
        let goals = reckoner
            .goals()
            .iter()
            .zip(&reckoned.chances)
            .filter(|(goal, chance)| {
                goal.weight > 0.0 || (**chance - goal.now).abs() > HALF_A_POINT
            });
        Self {
            ways: String::new(),
            changes: changes.iter().map(|change| change.id).collect(),
            drawing: draw(&after(changes, believed), Mood::AtEase),
            goals: std::iter::once(cause).chain(goals.map(goal)).collect(),
            euros: money(reckoned.price.euros),
            minutes: format!("{:.0} min", reckoned.price.minutes),
            stages: stages.iter().map(StageLine::of).collect(),
            unsolved: unsolved(reckoner, reckoned),
            effects: effect_lines(&effects, false, &case.observed.units),
            buys: Shopping::of(changes, &case.tank, &weighed.file.prices)
                .items
                .iter()
                .map(|item| (item.what, item.amount_words()))
                .collect(),
            look_after: changes
                .iter()
                .map(|change| change.look_after)
                .filter(|words| !words.is_empty())
                .collect(),
            in_water: alters_flow(changes, weighed.file.tank_now()),
            form: "plan-form".to_owned(),
        }
    }
}

/// What stands before the goals of the tank.
const CAUSE: &str = "Meets what is wrong";

/// How sure it should be that what is wrong is met; as sure as one is to act. By definition.
const WANTED_OF_CAUSE: f64 = reed_core::diagnosis::CLEAR;

/// What is printed alike counts alike. By definition.
const HALF_A_POINT: f64 = 0.005;

impl GoalLine {
    fn new(label: &'static str, chances: [f64; 3]) -> Self {
        let [now, after, wanted] = chances;
        Self {
            label,
            now: percent(now),
            after: percent(after),
            wanted: percent(wanted),
            at: chances.map(|chance| format!("{:.1}", 100.0 * chance)),
            reached: after >= wanted - HALF_A_POINT,
        }
    }
}

impl StageLine {
    pub(super) fn of(stage: &Stage) -> Self {
        Self {
            when: stage.when(),
            titles: stage.changes.iter().map(|change| change.title).collect(),
            minutes: format!("{:.0} min", stage.minutes),
            why: stage.why,
        }
    }
}
