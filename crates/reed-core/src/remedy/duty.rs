//! What a cured case leaves to be watched: duties for the weeks after it, so that it stays cured.
//! Common practice, no source.

use super::change::{Change, Disturbs};
use crate::diagnosis::fault::{Fault, biology, current, filter, oxygen, water};
use crate::diagnosis::{Case, Distress};
use crate::tank::Analyte;

/// What is done for a duty.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Deed {
    /// It is read; done by any reading of it.
    Read(&'static Analyte),
    /// It is looked at, or done; ticked by hand.
    Do,
}

/// A duty.
#[derive(Clone, Debug, PartialEq)]
pub struct Duty {
    /// What to do, in words.
    pub words: &'static str,
    /// How it counts as done.
    pub deed: Deed,
    /// Hours from one time to the next.
    pub every_hours: u32,
    /// For so many days.
    pub for_days: u32,
    /// Why.
    pub why: &'static str,
}

/// When a duty is left behind.
struct Rule {
    due: fn(&[&Change], &[&Fault], &Case) -> bool,
    duty: Duty,
}

const DAY: u32 = 24;
const WEEK: u32 = 7 * 24;

fn has_change(changes: &[&Change], ids: &[&str]) -> bool {
    changes.iter().any(|change| ids.contains(&change.id))
}

fn has_fault(faults: &[&Fault], those: &[&Fault]) -> bool {
    faults.iter().any(|fault| those.contains(fault))
}

const RULES: &[Rule] = &[
    Rule {
        due: |_, faults, _| has_fault(faults, &[&biology::LOAD_JUMP]),
        duty: Duty {
            words: "Read ammonia, morning and evening",
            deed: Deed::Read(Analyte::AMMONIA),
            every_hours: 12,
            for_days: 7,
            why: "Many animals or much feed came at once: bacteria take a week to follow.",
        },
    },
    Rule {
        due: |_, faults, case| {
            Distress::worst_of(&case.observed.answers).is_some()
                || faults.iter().any(|fault| fault.in_the_model.is_some())
        },
        duty: Duty {
            words: "Read ammonia",
            deed: Deed::Read(Analyte::AMMONIA),
            every_hours: DAY,
            for_days: 7,
            why: "Where oxygen was low, bacteria suffered too: ammonia shows it within days.",
        },
    },
    Rule {
        due: |changes, faults, _| {
            changes
                .iter()
                .any(|change| change.disturbs == Disturbs::Colony)
                || has_fault(
                    faults,
                    &[
                        &biology::COLONY_HURT_BY_CLEANING,
                        &biology::COLONY_HURT_BY_MEDICINE,
                        &biology::COLONY_STARVED,
                        &biology::COLONY_SUFFOCATED,
                        &biology::NOT_CYCLED,
                    ],
                )
        },
        duty: Duty {
            words: "Read ammonia",
            deed: Deed::Read(Analyte::AMMONIA),
            every_hours: DAY,
            for_days: 7,
            why: "The colony was disturbed: until it has grown again its food piles up.",
        },
    },
    Rule {
        due: |changes, _, _| {
            changes
                .iter()
                .any(|change| change.disturbs == Disturbs::Filter)
        },
        duty: Duty {
            words: "Read ammonia",
            deed: Deed::Read(Analyte::AMMONIA),
            every_hours: DAY,
            for_days: 3,
            why: "Every opening disturbs the colony a little.",
        },
    },
    Rule {
        due: |_, faults, case| {
            has_fault(
                faults,
                &[
                    &oxygen::STILL_SURFACE,
                    &oxygen::OUTLET_SLIPPED,
                    &oxygen::AERATION_STOPPED,
                ],
            ) || Distress::worst_of(&case.observed.answers).is_some()
        },
        duty: Duty {
            words: "Glance at the surface when you feed: does it move, do mouths stay quiet?",
            deed: Deed::Do,
            every_hours: DAY,
            for_days: 28,
            why: "What stirs the surface slips and stops unseen.",
        },
    },
    Rule {
        due: |changes, _, _| has_change(changes, &["raise-kh", "raise-gh", "small-changes-often"]),
        duty: Duty {
            words: "Read the carbonate hardness",
            deed: Deed::Read(Analyte::KH),
            every_hours: WEEK,
            for_days: 28,
            why: "Nitrification eats it again; how fast, four readings show.",
        },
    },
    Rule {
        due: |_, faults, _| {
            has_fault(
                faults,
                &[&water::NITRATE_BUILD_UP, &water::OLD_TANK_DECLINE],
            )
        },
        duty: Duty {
            words: "Read nitrate before the water change",
            deed: Deed::Read(Analyte::NITRATE),
            every_hours: WEEK,
            for_days: 28,
            why: "Only the peaks show whether the changes are large enough.",
        },
    },
    Rule {
        due: |_, faults, _| {
            has_fault(
                faults,
                &[
                    &filter::CLOGGED_FINE_MEDIA,
                    &filter::CLOGGED_BIOLOGICAL_MEDIA,
                    &filter::CLOGGED_PREFILTER,
                    &filter::EXPOSED_HOB_MEDIA,
                ],
            )
        },
        duty: Duty {
            words: "Bucket test of the filter",
            deed: Deed::Read(Analyte::FLOW),
            every_hours: 2 * WEEK,
            for_days: 56,
            why: "It was opened too late: Filter learns from each reading when the next opening is due, and brings it forward.",
        },
    },
    Rule {
        due: |_, faults, _| {
            has_fault(
                faults,
                &[
                    &current::OPPOSED_FLOW,
                    &current::STRUCTURE_SHADOW,
                    &current::INTAKE_MISPLACED,
                    &current::FLOW_TOO_LOW,
                    &current::STAGNANT_BEHIND_BACKGROUND,
                ],
            )
        },
        duty: Duty {
            words: "Look along the bed: does a heap come back?",
            deed: Deed::Do,
            every_hours: WEEK,
            for_days: 28,
            why: "A heap takes two weeks to show again.",
        },
    },
    Rule {
        due: |_, faults, _| {
            has_fault(
                faults,
                &[
                    &filter::JOINT_LOOSE,
                    &filter::SEAL_LEAK,
                    &filter::MOTOR_COVER_LEAK,
                    &filter::HOSE_CRACK,
                    &filter::BODY_CRACK,
                ],
            )
        },
        duty: Duty {
            words: "Feel below the filter with dry paper",
            deed: Deed::Do,
            every_hours: DAY,
            for_days: 3,
            why: "A seal that drips again does so within days.",
        },
    },
];

/// What these changes, made for these faults in this case, leave to be watched. Of several that
/// read the same, the one that asks oftenest, and of those the longest.
pub fn duties(changes: &[&Change], faults: &[&Fault], case: &Case) -> Vec<Duty> {
    let mut due: Vec<&Duty> = RULES
        .iter()
        .filter(|rule| (rule.due)(changes, faults, case))
        .map(|rule| &rule.duty)
        .collect();
    due.sort_by_key(|duty| (duty.every_hours, std::cmp::Reverse(duty.for_days)));
    let mut duties: Vec<Duty> = Vec::new();
    for duty in due {
        let is_same = |known: &Duty| match duty.deed {
            Deed::Read(_) => known.deed == duty.deed,
            Deed::Do => known.words == duty.words,
        };
        if !duties.iter().any(is_same) {
            duties.push(duty.clone());
        }
    }
    duties
}
