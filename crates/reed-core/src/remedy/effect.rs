//! What a change does, by every model that holds what it acts on: the same computation before and
//! after, line by line. No card says what it achieves.

use super::change::{Acts, Change};
use crate::diagnosis::Case;
use crate::filter::State;
use crate::filter::sump_levels::sump_levels;
use crate::log::{Effect, Entry};
use crate::tank::{Analyte, Filter, Tank};
use crate::twin::Twin;
use crate::twin::numbers::{Numbers, capacity_ratio, nitrate_peak_mg_l};
use crate::water::nitrogen::changes::after_change;

/// What a line is about.
#[derive(Clone, Debug, PartialEq)]
pub enum About {
    /// Lowest oxygen of a settled day, mg/L.
    LowestOxygen,
    /// Highest carbon dioxide of a settled day, mg/L.
    CarbonDioxide,
    /// How many times bacteria carry what is fed.
    Capacity,
    /// Nitrate just before a water change, once settled, mg/L of the ion.
    NitratePeak,
    /// A reading once the water is changed, in the analyte's unit.
    Reading(&'static Analyte),
    /// Times the water passes the filters an hour.
    Turnover,
    /// Flow of the filter of this name, L/h.
    Flow(String),
    /// Share of the fine ways of the filter of this name that dirt fills.
    Filled(String),
    /// Days from one opening to the next of the filter of this name.
    Lasts(String),
    /// Room in the sump of this name for what runs down, L.
    Headroom(String),
}

/// One number before and after.
#[derive(Clone, Debug, PartialEq)]
pub struct Line {
    /// What it is of.
    pub about: About,
    /// Without the change.
    pub before: f64,
    /// With it.
    pub after: f64,
}

/// What a change does.
#[derive(Clone, Debug, PartialEq)]
pub struct Effects {
    /// Every number that moves.
    pub lines: Vec<Line>,
    /// Why there is no number, where none moves.
    pub unseen: Option<&'static str>,
}

/// A number that moves by less than this share has not moved. A judgement.
const MOVED: f64 = 0.01;

/// What is said where only the flow model holds what a change acts on.
const IN_THE_WATER: &str =
    "Where the water goes is computed apart, in some seconds: try it in the water.";

/// What is said where a model holds what a change acts on and nothing moves.
const NOTHING_MOVES: &str = "By the models nothing moves here.";

impl Effects {
    /// Of changes to the tank of a case as it is described, made together; `log` holds what is on
    /// record of its filters.
    pub fn of(changes: &[&Change], case: &Case, log: &[Entry]) -> Self {
        let tank = &case.tank;
        let after = changes
            .iter()
            .fold(tank.clone(), |tank, change| change.makes_of(&tank));
        let cleans = changes
            .iter()
            .any(|change| matches!(change.acts, Acts::Cleans));
        let mut lines = of_tank(tank, &after);
        lines.extend(of_filters(case, &after, cleans, log));
        for change in changes {
            lines.extend(of_readings(change, case));
        }
        lines.retain(|line| (line.after - line.before).abs() > MOVED * line.before.abs().max(1e-6));
        let why = match changes {
            [
                Change {
                    acts: Acts::Unseen(why),
                    ..
                },
            ] => why,
            moved
                if moved
                    .iter()
                    .any(|change| matches!(change.acts, Acts::Moves(_))) =>
            {
                IN_THE_WATER
            }
            _ => NOTHING_MOVES,
        };
        let unseen = lines.is_empty().then_some(why);
        Self { lines, unseen }
    }
}

fn of_tank(before: &Tank, after: &Tank) -> Vec<Line> {
    if before == after {
        return Vec::new();
    }
    let [twin, twin_after] = [before, after].map(Twin::of);
    let mut lines = Vec::new();
    let mut line = |about, before, after| {
        lines.push(Line {
            about,
            before,
            after,
        });
    };
    line(
        About::LowestOxygen,
        twin.day.lowest().1,
        twin_after.day.lowest().1,
    );
    let highest =
        |twin: &Twin, tank: &Tank| twin.carbon_dioxide(tank).0.into_iter().fold(0.0, f64::max);
    line(
        About::CarbonDioxide,
        highest(&twin, before),
        highest(&twin_after, after),
    );
    if let (Some(ratio), Some(ratio_after)) = (capacity_ratio(before), capacity_ratio(after)) {
        line(About::Capacity, ratio, ratio_after);
    }
    let peak = |tank: &Tank| nitrate_peak_mg_l(tank, 0.0);
    line(About::NitratePeak, peak(before), peak(after));
    let turnover = |tank: &Tank| Numbers::of(tank).turnover_per_h;
    line(About::Turnover, turnover(before), turnover(after));
    lines
}

/// The filters that stand there before and after, each learned from the same record.
fn of_filters(case: &Case, after: &Tank, cleans: bool, log: &[Entry]) -> Vec<Line> {
    let before = &case.tank;
    if before == after && !cleans {
        return Vec::new();
    }
    let flow = case.observed.flow.as_ref();
    let state = |tank: &Tank, filter: &Filter| {
        // Nothing is moved here: what an intake catches it catches afterwards too.
        let caught = flow.and_then(|facts| facts.caught_by_filter(before, filter.number));
        State::of(tank, filter, log, caught, case.observed.now)
    };
    let mut lines = Vec::new();
    for filter in &before.filters {
        let Some(other) = after
            .filters
            .iter()
            .find(|other| other.number == filter.number)
        else {
            continue;
        };
        let (was, is) = (state(before, filter), state(after, other));
        let mut line = |about, before, after| {
            lines.push(Line {
                about,
                before,
                after,
            });
        };
        let name = || filter.name.clone();
        if let (Some(was), Some(is)) = (&was.clogging, &is.clogging) {
            line(
                About::Lasts(name()),
                was.lasts_days.middle,
                is.lasts_days.middle,
            );
            if let (true, Some(share)) = (cleans, was.share) {
                line(About::Filled(name()), share.middle, 0.0);
            }
        }
        if cleans {
            // Measured, or by how full it is reckoned to be.
            let left = filter
                .flow_left()
                .or(was.clogging.as_ref().map(|clogging| clogging.flow_left));
            if let Some(left) = left {
                line(About::Flow(name()), left * was.clean, was.clean);
            }
        } else {
            line(About::Flow(name()), was.clean, is.clean);
        }
        if let (Some(was), Some(is)) = (sump_levels(before, filter), sump_levels(after, other)) {
            line(About::Headroom(name()), was.headroom_l(), is.headroom_l());
        }
    }
    lines
}

/// What was read last of what a water change dilutes, and what it leaves of it.
fn of_readings(change: &Change, case: &Case) -> Vec<Line> {
    let Some(entry) = change.entry(case.observed.now, String::new()) else {
        return Vec::new();
    };
    let share = entry
        .effects(&case.tank)
        .into_iter()
        .find_map(|effect| match effect {
            Effect::Change(share) => Some(share),
            _ => None,
        });
    let Some(share) = share else {
        return Vec::new();
    };
    let diluted = [Analyte::AMMONIA, Analyte::NITRITE, Analyte::NITRATE];
    let lines = diluted.into_iter().filter_map(|analyte| {
        let read = case.observed.latest(analyte)?;
        Some(Line {
            about: About::Reading(analyte),
            before: read.value,
            after: after_change(read.value, 0.0, share),
        })
    });
    lines.collect()
}

impl Line {
    /// It is better so; none where that depends on the tank.
    pub fn is_better(&self) -> Option<bool> {
        let more = self.after > self.before;
        match self.about {
            About::LowestOxygen
            | About::Capacity
            | About::Lasts(_)
            | About::Headroom(_)
            | About::Flow(_) => Some(more),
            About::CarbonDioxide | About::NitratePeak | About::Reading(_) | About::Filled(_) => {
                Some(!more)
            }
            About::Turnover => None,
        }
    }
}
