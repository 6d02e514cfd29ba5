//! Visits: tasks of one or more tanks gathered into as few walks as their days allow.

use std::collections::BTreeMap;

use jiff::ToSpan;
use jiff::civil::Date;

use super::standing::{Standing, State};

/// A task of a tank that waits for a visit.
#[derive(Clone, Debug, PartialEq)]
pub struct Job {
    /// Which tank, in walking order.
    pub tank: usize,
    /// The task.
    pub task: Standing,
}

/// How visits are made.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Rules {
    /// Minutes that a visit may take.
    pub budget_min: f64,
    /// Fewest days from one visit to the next.
    pub gap_days: i64,
    /// Visits are planned so many days ahead.
    pub ahead_days: i64,
}

/// A walk.
#[derive(Clone, Debug, PartialEq)]
pub struct Visit {
    /// On which day.
    pub day: Date,
    /// Which of the jobs, tank by tank in walking order, each tank's in the order in which they are
    /// done.
    pub jobs: Vec<usize>,
    /// Minutes that it takes, with getting ready at each tank.
    pub minutes: f64,
}

/// Minutes for buckets, towels and a look at each tank. A judgement.
pub const AT_EACH_TANK_MIN: f64 = 5.0;
/// Days between two tasks that disturb the colony of one tank: it has to grow again. One to two
/// weeks, common practice.
pub const APART_DAYS: i64 = 7;

impl Rules {
    /// A walk of an hour, no two on one day, seen four weeks ahead.
    pub const USUAL: Self = Self {
        budget_min: 60.0,
        gap_days: 1,
        ahead_days: 28,
    };
}

/// Plans visits from today on. Every job that can be done within the days ahead is on one visit, and
/// on one only; on each visit those that press most come first, as long as the budget lasts. A job
/// that takes longer than the budget has a visit of its own. What is planned for days of the week
/// waits for no visit.
pub fn visits(jobs: &[Job], rules: Rules, today: Date) -> Vec<Visit> {
    let last_day = today.saturating_add(rules.ahead_days.days());
    let mut left: Vec<usize> = (0..jobs.len())
        .filter(|job| jobs[*job].task.due <= last_day && waits(&jobs[*job]))
        .collect();
    let mut disturbed: BTreeMap<usize, Date> = BTreeMap::new();
    let mut visits = Vec::new();
    let mut from = today;
    while !left.is_empty() {
        let rests = |job: usize| {
            let Job { tank, task } = &jobs[job];
            let last = disturbed.get(tank).filter(|_| task.disturbs);
            last.map_or(from, |day| day.saturating_add(APART_DAYS.days()))
        };
        // The next walk is when the first of them is due, and its tank has had its rest.
        let next = left.iter().map(|job| jobs[*job].task.due.max(rests(*job)));
        let Some(day) = next.min().map(|day| day.max(from)) else {
            break;
        };
        if day > last_day {
            break;
        }
        let mut open: Vec<usize> = left
            .iter()
            .copied()
            .filter(|job| jobs[*job].task.earliest <= day && rests(*job) <= day)
            .collect();
        open.sort_by_key(|job| (std::cmp::Reverse(jobs[*job].task.pressing(day)), *job));
        let visit = filled(jobs, &open, rules.budget_min, day);
        for job in &visit.jobs {
            if jobs[*job].task.disturbs {
                disturbed.insert(jobs[*job].tank, day);
            }
        }
        left.retain(|job| !visit.jobs.contains(job));
        visits.push(visit);
        from = day.saturating_add(rules.gap_days.max(1).days());
    }
    visits
}

/// It can be done on another day as well: days of feed and without are kept by whoever is there.
pub fn waits(job: &Job) -> bool {
    job.task.week.is_none()
}

/// As many of the jobs, in their order, as fit a budget; one at least.
fn filled(jobs: &[Job], open: &[usize], budget_min: f64, day: Date) -> Visit {
    let mut visit = Visit {
        day,
        jobs: Vec::new(),
        minutes: 0.0,
    };
    for job in open {
        let Job { tank, task } = &jobs[*job];
        let there = |of: &dyn Fn(&Job) -> bool| {
            let same = visit.jobs.iter().map(|job| &jobs[*job]);
            same.filter(|other| other.tank == *tank).any(of)
        };
        if task.disturbs && there(&|other| other.task.disturbs) {
            continue;
        }
        let ready = if there(&|_| true) {
            0.0
        } else {
            AT_EACH_TANK_MIN
        };
        let minutes = visit.minutes + ready + task.minutes;
        if minutes <= budget_min || visit.jobs.is_empty() {
            visit.jobs.push(*job);
            visit.minutes = minutes;
        }
    }
    visit
        .jobs
        .sort_by_key(|job| (jobs[*job].tank, jobs[*job].task.order, *job));
    visit
}

/// What matters today: what endangers lives and is late first, then what presses most of the rest,
/// in walking order; so many at most.
pub fn today(jobs: &[Job], most: usize, today: Date) -> Vec<usize> {
    let mut due = left_over(jobs, &[], today);
    due.truncate(most);
    due.sort_by_key(|job| {
        let Job { tank, task } = &jobs[*job];
        let (is_grave, ..) = task.pressing(today);
        (!is_grave, *tank, task.order, *job)
    });
    due
}

/// Jobs that are left for another time when only these are done on a day, those that press most
/// first.
pub fn left_over(jobs: &[Job], done: &[usize], day: Date) -> Vec<usize> {
    let mut left: Vec<usize> = (0..jobs.len())
        .filter(|job| !done.contains(job) && jobs[*job].task.state(day) >= State::Due)
        .collect();
    left.sort_by_key(|job| (std::cmp::Reverse(jobs[*job].task.pressing(day)), *job));
    left
}
