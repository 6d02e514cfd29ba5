//! How often something is done, and why so often.

/// From one time to the next.
#[derive(Clone, Debug, PartialEq)]
pub struct Interval {
    /// Days.
    pub days: f64,
    /// Days after which it may be done without being too early.
    pub least: f64,
    /// Days after which it is late.
    pub most: f64,
    /// What it rests on.
    pub because: Because,
    /// The same in a sentence, with its numbers.
    pub why: String,
    /// How it moved, where evidence moved it.
    pub moved: Option<Moved>,
}

/// What an interval rests on.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Because {
    /// Reckoned from the model of the tank.
    Model,
    /// Learned from what was found or read.
    Learned,
    /// As the keeper set it.
    Own,
    /// The keeper's school, among several.
    School,
    /// A case that was closed left it.
    Duty,
    /// Common practice, no source.
    Practice,
}

impl Because {
    /// In a word or two.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Model => "reckoned",
            Self::Learned => "learned",
            Self::Own => "your own",
            Self::School => "your school",
            Self::Duty => "after a case",
            Self::Practice => "common practice",
        }
    }
}

/// How evidence moved an interval.
#[derive(Clone, Debug, PartialEq)]
pub struct Moved {
    /// Days before.
    pub before: f64,
    /// Days now.
    pub after: f64,
    /// From what.
    pub from: String,
}

impl Moved {
    /// The same in a sentence.
    pub fn words(&self) -> String {
        format!(
            "It was {}, and is {} from {}.",
            days(self.before),
            days(self.after),
            self.from
        )
    }
}

/// What is done at a share of its interval already is not too early, and is late beyond the other.
/// Judgements.
const EARLY: f64 = 0.75;
const LATE: f64 = 1.4;

impl Interval {
    /// So many days, with the usual room before and after.
    pub(super) fn every(days: f64, because: Because, why: impl Into<String>) -> Self {
        Self {
            days,
            least: EARLY * days,
            most: (LATE * days).max(days + 1.0),
            because,
            why: why.into(),
            moved: None,
        }
    }

    /// As most keepers have it.
    pub(super) fn usual(days: f64, why: &str) -> Self {
        Self::every(days, Because::Practice, why)
    }

    /// Moved by evidence to so many days.
    pub(super) fn moved_to(self, days: f64, because: Because, from: impl Into<String>) -> Self {
        let moved = Moved {
            before: self.days,
            after: days,
            from: from.into(),
        };
        Self {
            moved: Some(moved),
            ..Self::every(days, because, self.why)
        }
    }
}

/// Days in words: “one day”, “12 days”, “5 weeks”, “4 months”, as exact as is useful.
pub(super) fn days(days: f64) -> String {
    /// By definition.
    const WEEK: f64 = 7.0;
    /// A month, by definition of the year of 365.25 days.
    const MONTH: f64 = 30.44;
    let counted = |count: f64, what: &str| {
        let count = count.round().max(1.0);
        if count < 1.5 {
            format!("one {what}")
        } else {
            format!("{count:.0} {what}s")
        }
    };
    let is_in_weeks = (days / WEEK).fract() < 0.01 && days >= 2.0 * WEEK;
    if days >= 3.0 * MONTH {
        counted(days / MONTH, "month")
    } else if is_in_weeks {
        counted(days / WEEK, "week")
    } else {
        counted(days, "day")
    }
}

impl Interval {
    /// In words: “every 12 days”.
    pub fn words(&self) -> String {
        let told = days(self.days);
        told.strip_prefix("one ").map_or_else(
            || format!("every {told}"),
            |single| format!("every {single}"),
        )
    }
}
