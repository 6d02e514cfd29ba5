//! The plan that is followed, and what a closed case left to be watched, ready to print.

use jiff::SignedDuration;
use reed_store::DutyId;
use reed_store::duties::KeptDuty;

use crate::case_file::{CaseFile, CaseStage};
use crate::clock::Moment;
use crate::view::when;

/// The plan that is followed.
pub(super) struct PlannedView {
    pub(super) stages: Vec<StandingStage>,
    /// The next stage may be begun.
    pub(super) may_go_on: bool,
    /// Why it had better wait, if so.
    pub(super) waits: String,
    /// What speaks against the next stage for now.
    pub(super) not_now: Vec<&'static str>,
}

/// A stage of it.
pub(super) struct StandingStage {
    pub(super) titles: Vec<&'static str>,
    /// `made`, `here` or `ahead`.
    pub(super) state: &'static str,
    pub(super) words: String,
}

impl PlannedView {
    pub(super) fn of(file: &CaseFile, moment: &Moment) -> Option<Self> {
        let plan = file.plan.as_ref()?;
        let to_come = file.stages_to_come();
        let begun = file
            .choices
            .iter()
            .filter(|choice| choice.plan == Some(plan.id))
            .find_map(|choice| choice.done_wall);
        let from = |days: f64| {
            let seconds = SignedDuration::try_from_secs_f64(days * 86_400.0).unwrap_or_default();
            begun.map(|begun| begun + seconds)
        };
        let stages =
            plan.stages
                .iter()
                .map(|stage| {
                    let choice = file.choices.iter().find(|choice| {
                        choice.plan == Some(plan.id) && choice.changes == stage.changes
                    });
                    let (state, words) = match choice {
                        Some(choice) if choice.is_done() => ("made", "made".to_owned()),
                        Some(_) => ("here", "under way".to_owned()),
                        None => (
                            "ahead",
                            match from(stage.from_day) {
                                Some(day) if day > moment.wall => {
                                    format!("from {}", when(day, moment.wall))
                                }
                                Some(_) => "due".to_owned(),
                                None if stage.from_day <= 0.0 => "now".to_owned(),
                                None => format!("from day {:.0} on", stage.from_day.ceil()),
                            },
                        ),
                    };
                    StandingStage {
                        titles: stage.changes.iter().map(|change| change.title).collect(),
                        state,
                        words,
                    }
                })
                .collect();
        let next = to_come.first();
        let busy = file.choice().is_some_and(|choice| !choice.is_done());
        let early = next
            .and_then(|stage| from(stage.from_day))
            .filter(|day| *day > moment.wall);
        let is_open = file.stage() != CaseStage::Closed;
        Some(Self {
            stages,
            not_now: next
                .iter()
                .flat_map(|stage| &stage.changes)
                .filter_map(|change| change.blocked_by(&file.observed(moment.wall)))
                .collect(),
            may_go_on: next.is_some() && !busy && is_open,
            waits: early.map_or_else(String::new, |day| {
                format!(
                    "Better not before {}: so that what was made first can show itself.",
                    when(day, moment.wall)
                )
            }),
        })
    }
}

/// What is watched after a case.
pub(super) struct DutyLine {
    pub(super) id: DutyId,
    pub(super) words: String,
    pub(super) why: String,
    /// How often it is done of how often it should be.
    pub(super) done: String,
    pub(super) due: String,
    /// It is done by hand, and due.
    pub(super) may_tick: bool,
}

impl DutyLine {
    pub(super) fn of(duty: &KeptDuty, moment: &Moment) -> Self {
        let due = duty.due();
        let is_due = due.is_some_and(|due| due <= moment.wall);
        Self {
            id: duty.id,
            words: duty.words.clone(),
            why: duty.why.clone(),
            done: format!("{} of {}", duty.done.len(), duty.times()),
            due: match due {
                _ if duty.until < moment.wall => "over".to_owned(),
                None => "done".to_owned(),
                Some(_) if is_due => "due now".to_owned(),
                Some(due) => format!("next {}", when(due, moment.wall)),
            },
            may_tick: duty.analyte.is_none() && is_due && duty.until >= moment.wall,
        }
    }
}
