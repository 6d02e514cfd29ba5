//! What a task is.

use super::interval::Interval;
use super::known::Known;
use crate::log::On;
use crate::tank::{Analyte, Week};

/// Something that is done again and again.
pub struct Task {
    /// Stable id, in the log, in addresses and in calendars.
    pub id: &'static str,
    /// What to do.
    pub words: &'static str,
    /// Minutes that it takes.
    pub minutes: f64,
    /// What suffers when it is left.
    pub stake: Stake,
    /// Bacteria lose by it: no two such tasks of one tank fall on one visit.
    pub disturbs: bool,
    /// How it is done, and counts as done.
    pub done_by: DoneBy,
    /// What knows more of it than the routine does.
    pub helped_by: Option<Help>,
    /// What to mind, beside it.
    pub cautions: &'static [&'static str],
    /// What is used up by it.
    pub supplies: &'static [&'static str],
    /// Where it is a task of a tank: on what, and at what interval.
    pub raised: fn(&Known<'_>) -> Vec<Raised>,
}

impl Task {
    /// A card of which nothing is said yet.
    pub(super) const BLANK: Self = Self {
        id: "",
        words: "",
        minutes: 10.0,
        stake: Stake::Gear,
        disturbs: false,
        done_by: DoneBy::Entry(""),
        helped_by: None,
        cautions: &[],
        supplies: &[],
        raised: |_| Vec::new(),
    };
}

impl std::fmt::Debug for Task {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "Task({})", self.id)
    }
}

/// What suffers when a task is left, gravest last.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Stake {
    /// How it looks, or how much work the next time is.
    Looks,
    /// Pumps, seals and hoses.
    Gear,
    /// The water.
    Water,
    /// The animals, or whoever reaches into the tank.
    Lives,
}

impl Stake {
    /// In words, after “left too long, it costs”.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Looks => "looks and extra work",
            Self::Gear => "gear",
            Self::Water => "the water",
            Self::Lives => "lives",
        }
    }
}

/// Part of the tank's model that knows more of a task.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Help {
    /// What to clean of a filter, in which order and how.
    ServiceSheet,
    /// How much comes out of a filter.
    BucketTest,
    /// What its hoses cost.
    Hoses,
    /// Where air gets in.
    AirPaths,
    /// How large a water change has to be.
    WaterChanges,
    /// How a kit is used.
    GuidedTests,
}

/// How a task is done, and counts as done.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum DoneBy {
    /// By an entry of the kind with this id; those of other kinds that complete it count too,
    /// whoever wrote them.
    Entry(&'static str),
    /// By a reading of this, whoever took it.
    Reading(&'static Analyte),
}

/// A task of a tank.
#[derive(Clone, Debug, PartialEq)]
pub struct Raised {
    /// On what: the tank, or one of its filters.
    pub on: On,
    /// More exactly what to do, where the card cannot know.
    pub words: Option<String>,
    /// How often, and why.
    pub interval: Interval,
    /// The day from which it is reckoned, where the tank file says more than the log.
    pub since: Option<jiff::civil::Date>,
    /// On which days of a week alone, where that is planned and not reckoned from the last time.
    pub week: Option<Week>,
    /// What keepers of another school do.
    pub other_school: Option<&'static str>,
}

impl Raised {
    /// On the whole tank.
    pub(super) const fn of_tank(interval: Interval) -> Self {
        Self {
            on: On::Tank,
            words: None,
            interval,
            since: None,
            week: None,
            other_school: None,
        }
    }

    pub(super) fn saying(self, words: impl Into<String>) -> Self {
        Self {
            words: Some(words.into()),
            ..self
        }
    }

    pub(super) fn others_say(self, other_school: &'static str) -> Self {
        Self {
            other_school: Some(other_school),
            ..self
        }
    }
}
