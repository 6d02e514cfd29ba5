//! When something happened, and how exactly that is known.

use jiff::civil::{Date, DateTime, Time};
use jiff::{SignedDuration, ToSpan};

use crate::units::{Lies, read_day, read_moment};

/// A span in which it happened, by the clock on the wall beside the tank; from and to are equal
/// where the minute is known.
#[derive(Clone, Copy, Debug, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct When {
    /// No earlier than this.
    pub from: DateTime,
    /// No later than this.
    pub to: DateTime,
}

impl When {
    /// To the minute.
    pub const fn minute(at: DateTime) -> Self {
        Self { from: at, to: at }
    }

    /// Some time of a day.
    pub fn day(day: Date) -> Self {
        Self {
            from: day.at(0, 0, 0, 0),
            to: day.to_datetime(
                Time::MAX
                    .with()
                    .subsec_nanosecond(0)
                    .build()
                    .unwrap_or(Time::MAX),
            ),
        }
    }

    /// Reads when something happened or is planned, as it is said: a minute, a day, or one of the
    /// rough times of [`ROUGHLY`]; nothing at all is now. `None` for what makes no sense.
    pub fn read(text: &str, now: DateTime, lies: Lies) -> Option<Self> {
        let said = text.trim().to_lowercase();
        if let Some(rough) = ROUGHLY.iter().find(|rough| rough.is_said(&said)) {
            return Some(rough.before(now));
        }
        match read_day(&said, now, lies) {
            Some(day) if !said.is_empty() && day == now.date() => {
                // Of today what has come of it.
                Some(Self {
                    from: day.at(0, 0, 0, 0),
                    to: now,
                })
            }
            Some(day) if !said.is_empty() => Some(Self::day(day)),
            _ => read_moment(&said, now, lies).map(Self::minute),
        }
    }

    /// The moment that stands for it where a model wants one: the middle.
    pub fn likely(&self) -> DateTime {
        self.from
            .checked_add(self.to.duration_since(self.from) / 2)
            .unwrap_or(self.to)
    }

    /// The same as long after `to` as this is after `from`.
    pub fn moved(&self, by: SignedDuration) -> Self {
        let moved = |at: DateTime| at.checked_add(by).unwrap_or(at);
        Self {
            from: moved(self.from),
            to: moved(self.to),
        }
    }

    /// The minute is known.
    pub fn is_exact(&self) -> bool {
        self.from == self.to
    }

    /// No more than a day is known.
    pub fn is_a_day(&self) -> bool {
        *self == Self::day(self.from.date())
    }

    /// As a keeper says it: “10 March 2026, 08:30”, “on 10 March 2026”, “between … and …”.
    pub fn words(&self) -> String {
        const DAY: &str = "%-d %b %Y";
        if self.is_exact() {
            self.from.strftime("%-d %b %Y, %H:%M").to_string()
        } else if self.from.date() == self.to.date() {
            self.from.strftime(DAY).to_string()
        } else {
            format!("{} to {}", self.from.strftime(DAY), self.to.strftime(DAY))
        }
    }
}

/// Roughly when something happened, as people remember it.
#[derive(Clone, Copy, Debug)]
pub struct Rough {
    /// Id in forms.
    pub id: &'static str,
    /// As an answer.
    pub words: &'static str,
    /// Between so many hours ago …
    earliest_h: i64,
    /// … and so many.
    latest_h: i64,
}

const DAY_H: i64 = 24;

/// From the latest to the longest ago. How long each is, is a judgement.
pub const ROUGHLY: &[Rough] = &[
    Rough::new("today", "Today", 12, 0),
    Rough::new("week", "This week", 7 * DAY_H, DAY_H),
    Rough::new("month", "This month", 29 * DAY_H, 7 * DAY_H),
    Rough::new("two-months", "About 2 months", 75 * DAY_H, 45 * DAY_H),
    Rough::new("half-year", "About half a year", 240 * DAY_H, 120 * DAY_H),
    Rough::new("year", "About a year", 460 * DAY_H, 270 * DAY_H),
    Rough::new("years", "Several years", 2190 * DAY_H, 730 * DAY_H),
];

impl Rough {
    const fn new(id: &'static str, words: &'static str, earliest_h: i64, latest_h: i64) -> Self {
        Self {
            id,
            words,
            earliest_h,
            latest_h,
        }
    }

    /// The one with this id.
    pub fn by_id(id: &str) -> Option<&'static Self> {
        ROUGHLY.iter().find(|rough| rough.id == id)
    }

    /// Whether these small letters say it, with or without “about”.
    fn is_said(&self, said: &str) -> bool {
        let words = self.words.to_lowercase();
        // A day of its own is told from the words of a day.
        self.id != "today"
            && (said == words
                || words.strip_prefix("about ") == Some(said)
                || words
                    .strip_suffix(" ago")
                    .is_some_and(|words| words == said))
    }

    /// The span that is meant, as of now.
    pub fn before(&self, now: DateTime) -> When {
        let ago = |hours: i64| now.checked_sub(hours.hours()).unwrap_or(now);
        When {
            from: ago(self.earliest_h),
            to: ago(self.latest_h),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::{Lies, ROUGHLY, When};
    use jiff::civil::date;

    #[test]
    fn rough_times_lie_behind_each_other_and_their_middle_stands_for_them() {
        let now = date(2026, 3, 10).at(8, 30, 0, 0);
        let mut later = now;
        for rough in ROUGHLY {
            let when = rough.before(now);
            assert!(when.from < when.to && when.to <= now, "{}", rough.id);
            let likely = when.likely();
            assert!(when.from < likely && likely < when.to && likely < later);
            later = likely;
        }
        let week = ROUGHLY[1].before(now).likely();
        assert_eq!(week, date(2026, 3, 6).at(8, 30, 0, 0));
    }

    #[test]
    fn a_minute_a_day_and_a_rough_time_are_read_as_exactly_as_they_are_said() {
        let now = date(2026, 3, 10).at(8, 30, 0, 0);
        let read = |text: &str| When::read(text, now, Lies::Before);
        assert_eq!(read(""), Some(When::minute(now)));
        assert_eq!(
            read("7:00"),
            Some(When::minute(date(2026, 3, 10).at(7, 0, 0, 0)))
        );
        assert_eq!(read("Yesterday"), Some(When::day(date(2026, 3, 9))));
        assert_eq!(read("3 Mar"), Some(When::day(date(2026, 3, 3))));
        assert_eq!(read("this week"), Some(ROUGHLY[1].before(now)));
        assert_eq!(read("half a year"), Some(ROUGHLY[4].before(now)));
        assert_eq!(read("today").map(|when| when.to), Some(now));
        assert_eq!(read("someday"), None);
    }

    #[test]
    fn a_day_is_told_from_a_minute_and_from_a_span() {
        let day = When::day(date(2026, 3, 10));
        assert!(day.is_a_day() && !day.is_exact());
        assert_eq!(day.words(), "10 Mar 2026");
        let minute = When::minute(date(2026, 3, 10).at(8, 30, 0, 0));
        assert_eq!(minute.words(), "10 Mar 2026, 08:30");
        let span = When {
            from: date(2026, 1, 1).at(0, 0, 0, 0),
            ..minute
        };
        assert_eq!(span.words(), "1 Jan 2026 to 10 Mar 2026");
    }
}
