//! A task as a line, with what is needed to do it there and then.

use jiff::civil::Date;
use reed_core::log::{Happening, On};
use reed_core::routine::{DoneBy, Help, Standing, State};
use reed_core::tank::{Analyte, Tank, kit};
use reed_core::units::{Units, plain};
use reed_store::TankId;

use crate::forms::{ReadingInput, Refusals};

/// A task of a tank.
pub(in crate::pages) struct TaskLine {
    pub(in crate::pages) tank: TankId,
    /// Known by this within its tank.
    pub(in crate::pages) key: String,
    /// The task's id, and on what, as forms say it.
    pub(in crate::pages) task: String,
    pub(in crate::pages) on: String,
    pub(in crate::pages) words: String,
    /// “late by 9 days”, “due today”, “in 5 days”.
    pub(in crate::pages) when: String,
    pub(in crate::pages) due: Date,
    pub(in crate::pages) is_late: bool,
    /// `late`, `due`, `soon` or `ahead`: its mark.
    pub(in crate::pages) mark: &'static str,
    /// “every 4 weeks”.
    pub(in crate::pages) every: String,
    /// Days of the interval, for the form that sets it.
    pub(in crate::pages) days: String,
    /// What the interval rests on, in a word.
    pub(in crate::pages) because: &'static str,
    /// When it was done last, in words.
    pub(in crate::pages) last: String,
    pub(in crate::pages) why: String,
    /// How evidence moved the interval, in a sentence; empty where it did not.
    pub(in crate::pages) moved: String,
    /// Skipped or put off, with the reason; empty where it is not.
    pub(in crate::pages) put_off: String,
    pub(in crate::pages) other_school: &'static str,
    /// What suffers.
    pub(in crate::pages) stake: &'static str,
    pub(in crate::pages) minutes: f64,
    pub(in crate::pages) cautions: &'static [&'static str],
    /// A page that helps with it: its address, and what it is called.
    pub(in crate::pages) helps: Option<(String, &'static str)>,
    pub(in crate::pages) doing: Doing,
    /// The interval is the keeper's own.
    pub(in crate::pages) is_own: bool,
    /// It is what to do next: its button stands out.
    pub(in crate::pages) is_next: bool,
    /// It can be skipped, put off and set otherwise: it is no duty that a case left.
    pub(in crate::pages) is_ours: bool,
}

/// How a task is done on the page.
pub(in crate::pages) enum Doing {
    /// By an entry of this kind.
    Entry {
        /// Id of the kind.
        what: &'static str,
        /// Its amount: the unit, and what stands there at first.
        amount: Option<(&'static str, String)>,
    },
    /// By a reading with this kit.
    Reading {
        /// Id of the kit.
        kit: &'static str,
        /// What it is called, and the unit.
        what: &'static str,
        unit: &'static str,
        /// What was typed and refused, and why.
        value: String,
        refused: String,
    },
    /// It is ticked: the number of what a case left.
    Tick(String),
}

impl TaskLine {
    pub(in crate::pages) fn of(
        task: &Standing,
        tank_id: TankId,
        tank: &Tank,
        units: &Units,
        today: Date,
    ) -> Self {
        let state = task.state(today);
        let put_off = task.put_off.as_ref().map_or_else(String::new, |put_off| {
            let what = if put_off.is_skipped {
                "Skipped this time".to_owned()
            } else {
                format!("Put off until {}", day(put_off.until, today))
            };
            if put_off.reason.is_empty() {
                format!("{what}.")
            } else {
                format!("{what}: {}.", put_off.reason.trim_end_matches('.'))
            }
        });
        Self {
            tank: tank_id,
            key: task.key(),
            task: task.task.clone(),
            on: match &task.on {
                On::Filter(number) => format!("filter-{number}"),
                On::Tank | On::Group(_) => String::new(),
            },
            words: task.words.clone(),
            when: nearness(task, state, today),
            due: task.due,
            is_late: state == State::Late,
            mark: match state {
                State::Late => "late",
                State::Due => "due",
                State::Soon => "soon",
                State::Ahead => "ahead",
            },
            every: task.rhythm(),
            days: plain(task.interval.days.round()),
            because: task.interval.because.words(),
            last: task.last.map_or_else(
                || "not on record".to_owned(),
                |at| format!("last {}", day(at.date(), today)),
            ),
            why: task.interval.why.clone(),
            moved: task
                .interval
                .moved
                .as_ref()
                .map_or_else(String::new, |moved| moved.words()),
            put_off,
            other_school: task.other_school.unwrap_or_default(),
            stake: task.stake.words(),
            minutes: task.minutes,
            cautions: task.cautions,
            helps: helps(task, tank_id),
            doing: doing(task, tank, units),
            // What the tank file has is the keeper's too; what was set here stands in place of it.
            is_own: task.interval.because == reed_core::routine::Because::Own
                && task.interval.moved.is_some(),
            is_next: false,
            is_ours: task.duty().is_none(),
        }
    }

    /// With a reading that was refused.
    pub(super) fn with_typed(mut self, input: &ReadingInput, refusals: &Refusals) -> Self {
        if let Doing::Reading { value, refused, .. } = &mut self.doing {
            value.clone_from(&input.value);
            *refused = refusals.all();
        }
        self
    }

    /// The sheet that an opening is done by: what is graded there moves the next one.
    pub(in crate::pages) fn opens(&self) -> Option<&(String, &'static str)> {
        self.helps.as_ref().filter(|_| self.task == "open-filter")
    }

    /// “9 min”, or nothing where it takes none.
    pub(in crate::pages) fn takes(&self) -> String {
        if self.minutes < 1.0 {
            String::new()
        } else {
            format!("{:.0} min", self.minutes)
        }
    }
}

/// A day, as near as is useful.
pub(in crate::pages) fn day(day: Date, today: Date) -> String {
    let days = day.since(today).map_or(0, |span| span.get_days());
    match days {
        0 => "today".to_owned(),
        1 => "tomorrow".to_owned(),
        -1 => "yesterday".to_owned(),
        _ if day.year() == today.year() => day.strftime("%-d %B").to_string(),
        _ => day.strftime("%-d %B %Y").to_string(),
    }
}

fn nearness(task: &Standing, state: State, today: Date) -> String {
    let days = |from: Date, to: Date| to.since(from).map_or(0, |span| span.get_days());
    let counted = |days: i32| {
        if days == 1 {
            "1 day".to_owned()
        } else {
            format!("{days} days")
        }
    };
    match state {
        State::Late => format!("late by {}", counted(days(task.due, today))),
        State::Due if task.due == today => "due today".to_owned(),
        State::Due => format!("due since {}", day(task.due, today)),
        State::Soon | State::Ahead => format!("due in {}", counted(days(today, task.due))),
    }
}

/// The page that knows more of a task.
fn helps(task: &Standing, id: TankId) -> Option<(String, &'static str)> {
    let filter = match &task.on {
        On::Filter(number) => format!("?f={number}"),
        On::Tank | On::Group(_) => String::new(),
    };
    let (path, name) = match task.helped_by? {
        Help::ServiceSheet => (format!("/filter/service{filter}"), "Service sheet"),
        Help::BucketTest => (format!("/filter{filter}"), "Bucket test"),
        Help::Hoses => (format!("/filter/hoses{filter}"), "Hoses"),
        Help::AirPaths => (format!("/filter/air{filter}"), "Where air gets in"),
        Help::WaterChanges => ("/water/changes".to_owned(), "Size of the change"),
        Help::GuidedTests => ("/water/testing".to_owned(), "Guided tests"),
    };
    Some((format!("/tanks/{id}{path}"), name))
}

fn doing(task: &Standing, tank: &Tank, units: &Units) -> Doing {
    match task.done_by {
        Some(DoneBy::Reading(analyte)) => reading(analyte, units),
        None => Doing::Tick(task.duty().unwrap_or_default().to_owned()),
        Some(DoneBy::Entry(kind)) => {
            let kind = Happening::by_id(kind).expect("a task names a kind, as a test holds");
            let amount = match kind.id {
                "change" => Some(plain(tank.practice.change_share.as_percent())),
                "animals-counted" => {
                    let many: u32 = tank.stock.iter().map(|group| group.count).sum();
                    Some(many.to_string())
                }
                _ => None,
            };
            Doing::Entry {
                what: kind.id,
                amount: amount
                    .zip(kind.amount)
                    .map(|(at_first, measure)| (measure.unit, at_first)),
            }
        }
    }
}

fn reading(analyte: &'static Analyte, units: &Units) -> Doing {
    let kit = kit::first_for(analyte);
    Doing::Reading {
        kit: kit.id,
        what: analyte.label,
        unit: units.of(analyte.units).symbol,
        value: String::new(),
        refused: String::new(),
    }
}
