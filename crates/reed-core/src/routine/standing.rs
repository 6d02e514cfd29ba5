//! A task of a tank as it stands today.

use jiff::ToSpan;
use jiff::civil::{Date, DateTime};

use super::interval::{Because, Interval, Moved, days};
use super::known::{EVERY, Known, PUT_OFF, SKIPPED, Watched};
use super::task::{DoneBy, Help, Raised, Stake, Task};
use crate::log::On;
use crate::tank::Week;
use crate::units::days_of;

/// A task of a tank as it stands.
#[derive(Clone, Debug, PartialEq)]
pub struct Standing {
    /// The task's id; of what a case left `duty-` and its number.
    pub task: String,
    /// On what.
    pub on: On,
    /// What to do.
    pub words: String,
    /// How often, and why.
    pub interval: Interval,
    /// When it was done last; none where that is not on record.
    pub last: Option<DateTime>,
    /// From this day on it may be done.
    pub earliest: Date,
    /// The day it is due.
    pub due: Date,
    /// After this day it is late.
    pub latest: Date,
    /// The minute at which it is due, where it comes more often than once a day.
    pub at: Option<DateTime>,
    /// On which days of a week alone, where that is planned.
    pub week: Option<Week>,
    /// What stands against it, by the keeper's word.
    pub put_off: Option<PutOff>,
    /// What keepers of another school do.
    pub other_school: Option<&'static str>,
    /// Minutes that it takes.
    pub minutes: f64,
    /// What suffers when it is left.
    pub stake: Stake,
    /// No two such tasks of one tank fall on one visit.
    pub disturbs: bool,
    /// What to mind.
    pub cautions: &'static [&'static str],
    /// What is used up.
    pub supplies: &'static [&'static str],
    /// How it counts as done; none for what is ticked by hand.
    pub done_by: Option<DoneBy>,
    /// What knows more of it.
    pub helped_by: Option<Help>,
    /// Its place in the order of a visit.
    pub order: usize,
}

/// That a task was skipped or put off.
#[derive(Clone, Debug, PartialEq)]
pub struct PutOff {
    /// The day from which it counts again.
    pub until: Date,
    /// Why, in the keeper's words.
    pub reason: String,
    /// This time it was skipped; else it is only later.
    pub is_skipped: bool,
}

/// How near a task is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum State {
    /// Not yet.
    Ahead,
    /// It may be done along with others.
    Soon,
    /// Due.
    Due,
    /// Late.
    Late,
}

/// What the id of a task begins with that a closed case left.
const DUTY: &str = "duty-";

impl Standing {
    /// The number of the duty that it is, where a closed case left it.
    pub fn duty(&self) -> Option<&str> {
        self.task.strip_prefix(DUTY)
    }

    /// How often, in words: “every 12 days”, “on Wednesday and Sunday”.
    pub fn rhythm(&self) -> String {
        match self.week {
            Some(week) => format!("on {}", week.words()),
            None => self.interval.words(),
        }
    }

    /// How near it is on a day.
    pub fn state(&self, today: Date) -> State {
        if today > self.latest {
            State::Late
        } else if today >= self.due {
            State::Due
        } else if today >= self.earliest {
            State::Soon
        } else {
            State::Ahead
        }
    }

    /// How pressing it is on a day, to be sorted by: what endangers lives and is late comes first.
    pub fn pressing(&self, today: Date) -> (bool, State, Stake, i32) {
        let state = self.state(today);
        let is_grave = self.stake == Stake::Lives && state == State::Late;
        let late = today.since(self.due).map_or(0, |span| span.get_days());
        (is_grave, state, self.stake, late)
    }

    /// What it is known by within its tank: task and on what.
    pub fn key(&self) -> String {
        match &self.on {
            On::Filter(number) => format!("{}.{number}", self.task),
            On::Tank | On::Group(_) => self.task.clone(),
        }
    }
}

/// Every task of a tank, in the order of a visit.
pub fn standing(known: &Known<'_>) -> Vec<Standing> {
    let tasks = super::all().enumerate().flat_map(|(order, task)| {
        (task.raised)(known)
            .into_iter()
            .map(move |raised| of_task(known, task, order, raised))
    });
    let watched = known.watched.iter().map(of_case);
    tasks.chain(watched).collect()
}

/// A day so many days after another.
fn after(day: Date, days: f64) -> Date {
    #[expect(clippy::cast_possible_truncation, reason = "some years at most")]
    let days = days.round().clamp(0.0, 36_500.0) as i64;
    day.saturating_add(days.days())
}

fn of_task(known: &Known<'_>, task: &Task, order: usize, raised: Raised) -> Standing {
    let done = known.done(task, &raised.on);
    let interval = own(known, task, &raised.on, by_rhythm(&done, raised.interval));
    let on_file = raised.since.map(|day| day.at(12, 0, 0, 0));
    let last = done.last().copied().max(on_file);
    // What is nowhere on record is reckoned from the day on which the tank was entered.
    let from = last.map_or(known.entered, |at| at.date());
    let skipped = known
        .said(SKIPPED, task.id, &raised.on)
        .filter(|((at, _), _)| at.date() >= from);
    let skipped_on = skipped.map(|((at, _), _)| at.date());
    let counts_from = skipped_on.filter(|_| !gathers(&interval)).unwrap_or(from);
    let (mut earliest, mut due) = (
        after(counts_from, interval.least),
        after(counts_from, interval.days),
    );
    let mut latest = after(counts_from, interval.most);
    if let Some(day) = skipped_on.filter(|_| gathers(&interval)) {
        // Left until it would be late, or for a while where it is late already.
        let until = latest.max(after(day, LEFT_FOR * interval.days));
        (earliest, due, latest) = (until, until, until);
    }
    // A day of the week that is planned is kept unless the log says otherwise, so that none is
    // late; what the keeper set instead counts in days again.
    let week = raised.week.filter(|_| interval.because != Because::Own);
    if let Some(day) = week.and_then(|week| week.first_from(after(from, 1.0).max(known.now.date())))
    {
        (earliest, due, latest) = (day, day, day);
    }
    // Of what was said the last word counts.
    let later = known
        .said(PUT_OFF, task.id, &raised.on)
        .filter(|(order, _)| order.0.date() >= from)
        .filter(|(order, _)| skipped.is_none_or(|(skipped, _)| *order > skipped))
        .and_then(|(_, entry)| {
            Some(PutOff {
                until: entry.details.until?,
                reason: entry.note.clone(),
                is_skipped: false,
            })
        });
    if let Some(later) = &later {
        (earliest, due) = (earliest.max(later.until), due.max(later.until));
    }
    let skipped = skipped.map(|(_, entry)| PutOff {
        until: due,
        reason: entry.note.clone(),
        is_skipped: true,
    });
    Standing {
        task: task.id.to_owned(),
        words: raised.words.unwrap_or_else(|| task.words.to_owned()),
        on: raised.on,
        interval,
        last,
        earliest,
        due,
        latest: latest.max(due),
        at: None,
        week,
        put_off: later.or(skipped),
        other_school: raised.other_school,
        minutes: task.minutes,
        stake: task.stake,
        disturbs: task.disturbs,
        cautions: task.cautions,
        supplies: task.supplies,
        done_by: Some(task.done_by),
        helped_by: task.helped_by,
        order,
    }
}

/// What it takes away goes on gathering when it is skipped: dirt, nitrate, what has evaporated.
fn gathers(interval: &Interval) -> bool {
    matches!(interval.because, Because::Model | Because::Learned)
}

/// The share of its interval for which what gathers is left when it is skipped. A judgement.
const LEFT_FOR: f64 = 0.25;

fn of_case(watched: &Watched) -> Standing {
    /// Minutes of a look or a test. A judgement.
    const MINUTES: f64 = 5.0;
    let due = watched.due.date();
    let interval = Interval::every(watched.every_days, Because::Duty, watched.why.clone());
    Standing {
        task: format!("{DUTY}{}", watched.number),
        on: On::Tank,
        words: watched.words.clone(),
        last: watched.last,
        earliest: due,
        due,
        latest: after(due, interval.most - interval.days),
        at: (watched.every_days < 1.0).then_some(watched.due),
        week: None,
        interval,
        put_off: None,
        other_school: None,
        minutes: MINUTES,
        stake: Stake::Lives,
        disturbs: false,
        cautions: &[],
        supplies: &[],
        done_by: watched.reads.map(DoneBy::Reading),
        helped_by: watched.reads.map(|_| Help::GuidedTests),
        order: 0,
    }
}

/// Times in a row from which a keeper's own rhythm is learned.
const RHYTHM: usize = 4;
/// It is followed from half of what is usual to twice of it. A judgement.
const FOLLOWED: f64 = 2.0;

/// Where nothing but common practice sets an interval, a keeper who does it steadily at another one
/// knows the tank better.
fn by_rhythm(done: &[DateTime], interval: Interval) -> Interval {
    if interval.because != Because::Practice || done.len() < RHYTHM {
        return interval;
    }
    let recent = &done[done.len().saturating_sub(RHYTHM + 2)..];
    let mut gaps: Vec<f64> = recent
        .windows(2)
        .map(|pair| days_of(pair[1].duration_since(pair[0])))
        .collect();
    gaps.sort_by(f64::total_cmp);
    let own = gaps[gaps.len() / 2].clamp(interval.days / FOLLOWED, interval.days * FOLLOWED);
    if (own - interval.days).abs() < 1.0 {
        return interval;
    }
    let from = format!("how you do it: the middle of the last {} times", gaps.len());
    interval.moved_to(own, Because::Learned, from)
}

/// What the keeper set stands above everything else, and says what it stands in place of.
fn own(known: &Known<'_>, task: &Task, on: &On, interval: Interval) -> Interval {
    let set = known.said(EVERY, task.id, on);
    let Some((entry, own)) = set.and_then(|(_, entry)| Some((entry, entry.amount?))) else {
        return interval;
    };
    let on_day = entry.when.likely().date().strftime("%-d %B %Y");
    Interval {
        moved: Some(Moved {
            before: interval.days,
            after: own,
            from: format!("what you set on {on_day}"),
        }),
        ..Interval::every(
            own,
            Because::Own,
            format!(
                "You set it on {on_day}. Otherwise it would be {}: {}",
                days(interval.days),
                interval.why
            ),
        )
    }
}
