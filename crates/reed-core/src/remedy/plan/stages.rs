//! What is done when: what keeps animals alive first and at once; the rest one thing at a time,
//! where it is safe to wait, so that each can be proved; and nothing together that takes too much of
//! the colony.

use super::reckoner::Reckoner;
use super::search::is_urgent;
use crate::remedy::change::{Change, Disturbs, Phase};

/// When a stage has its place.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Visit {
    /// At once.
    Now,
    /// Within seven days.
    ThisWeek,
    /// Later.
    Later,
}

/// Changes that are made together.
#[derive(Clone, Debug, PartialEq)]
pub struct Stage {
    /// When.
    pub visit: Visit,
    /// Not before so many days from the beginning.
    pub from_day: f64,
    /// The changes.
    pub changes: Vec<&'static Change>,
    /// Minutes of work.
    pub minutes: f64,
    /// Why not earlier; empty of the first.
    pub why: &'static str,
}

impl Stage {
    /// When, in words.
    pub fn when(&self) -> String {
        let from = self.from_day.ceil();
        match self.visit {
            Visit::Now => "Now".to_owned(),
            Visit::ThisWeek if from <= 1.0 => "This week, from tomorrow on".to_owned(),
            Visit::ThisWeek => format!("This week, from day {from:.0} on"),
            Visit::Later => format!("Later, from day {from:.0} on"),
        }
    }
}

/// Days between two disturbances of the colony. Common practice, no source.
const COLONY_REST_DAYS: f64 = 14.0;
/// Days between two visits. Common practice, no source.
const VISIT_DAYS: f64 = 7.0;

const UNPROVED: &str = "One at a time: only then its proof tells what helped.";
const COLONY: &str =
    "Not within two weeks of the other opening: the colony has to grow again in between.";
const FED: &str = "Last, and only once ammonia and nitrite have read zero for a week.";
const BUDGET: &str = "The time of the visit before is used up.";
const RANK: &str = "What goes before it is given time to show itself.";

/// Days that a change needs until its proof is due.
fn proof_days(change: &Change) -> f64 {
    change.proof.after_hours / 24.0
}

/// The changes in stages. `budget` is how long one visit may take, minutes, where somebody said so.
pub fn stages(
    reckoner: &Reckoner<'_>,
    changes: &[&'static Change],
    budget: Option<f64>,
) -> Vec<Stage> {
    let urgent = is_urgent(reckoner);
    let mut stages: Vec<Stage> = Vec::new();
    for change in reckoner.in_order(changes) {
        let minutes = reckoner.price(change).minutes;
        let (from_day, why) = earliest(change, &stages, urgent);
        let joins = stages.last().is_some_and(|last| {
            from_day <= last.from_day
                && budget.is_none_or(|budget| last.minutes + minutes <= budget)
        });
        if joins && let Some(last) = stages.last_mut() {
            last.changes.push(change);
            last.minutes += minutes;
            continue;
        }
        // No stage comes before the one in front of it.
        let (from_day, why) = match stages.last() {
            Some(last) if from_day <= last.from_day => (last.from_day + VISIT_DAYS, BUDGET),
            _ => (from_day, why),
        };
        let visit = match from_day {
            day if day <= 0.0 => Visit::Now,
            day if day <= VISIT_DAYS => Visit::ThisWeek,
            _ => Visit::Later,
        };
        stages.push(Stage {
            visit,
            from_day,
            changes: vec![change],
            minutes,
            why: if stages.is_empty() { "" } else { why },
        });
    }
    stages
}

/// From which day on a change may be made after those of these stages, and why not earlier.
fn earliest(change: &Change, stages: &[Stage], urgent: bool) -> (f64, &'static str) {
    let mut from = (0.0, "");
    let mut not_before = |day: f64, why| {
        if day > from.0 {
            from = (day, why);
        }
    };
    for stage in stages {
        for earlier in &stage.changes {
            let both_keep_alive = earlier.phase <= Phase::Alive && change.phase <= Phase::Alive;
            let at_one_opening =
                earlier.disturbs == Disturbs::Filter && change.disturbs == Disturbs::Filter;
            if change.phase == Phase::Feed {
                // Not before what makes room for it has shown itself, and never before a visit.
                let wait = proof_days(earlier).max(VISIT_DAYS);
                not_before(stage.from_day + wait, FED);
            } else if change.disturbs.max(earlier.disturbs) == Disturbs::Colony
                && change.disturbs.min(earlier.disturbs) > Disturbs::Nothing
            {
                not_before(stage.from_day + COLONY_REST_DAYS, COLONY);
            } else if !(at_one_opening || both_keep_alive && urgent) {
                // A proof that takes weeks holds nothing else up for longer than to the next visit.
                let why = if earlier.phase == change.phase {
                    UNPROVED
                } else {
                    RANK
                };
                not_before(stage.from_day + until_next(earlier), why);
            }
        }
    }
    from
}

/// Days until the next change: until its proof, at least until tomorrow, at most until the next
/// visit.
fn until_next(change: &Change) -> f64 {
    proof_days(change).clamp(1.0, VISIT_DAYS)
}
