//! Moments as keepers say them: "now", "8 pm", "yesterday 19:30", "3 hours ago", "10 Mar", or a
//! date in full.

use jiff::civil::{Date, DateTime, Time, Weekday};
use jiff::{SignedDuration, ToSpan};

/// On which side of now a moment lies when its words leave that open.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Lies {
    /// Something that happened: "8 pm" in the morning is that of yesterday, "Monday" the last one.
    Before,
    /// Something that happened or is planned: "8 pm" is that of today, "Monday" the next one.
    Either,
}

/// Reads a moment as it is said, against what the clock on the wall shows; nothing at all is now.
///
/// A day without an hour is its noon, or now where that has not come yet. `None` for what makes no
/// sense.
pub fn read_moment(text: &str, now: DateTime, lies: Lies) -> Option<DateTime> {
    let text = text.trim().to_lowercase().replace(',', " ");
    if text.is_empty() || text == "now" {
        return Some(now);
    }
    if let Ok(at) = text
        .to_uppercase()
        .replacen(' ', "T", 1)
        .parse::<DateTime>()
        && text.len() > "2026-03-10".len()
    {
        return Some(at);
    }
    let words: Vec<&str> = text
        .split_whitespace()
        .filter(|word| !matches!(*word, "at" | "on" | "last" | "the" | "about"))
        .collect();
    if let Some(at) = relative(&words, now) {
        return Some(at);
    }
    // The longest beginning that is a day; the rest is an hour.
    let (day, rest) = (0..=words.len().min(3))
        .rev()
        .find_map(|count| Some((day(&words[..count], now, lies)?, &words[count..])))?;
    let hour = if rest.is_empty() {
        None
    } else {
        Some(hour(&rest.concat())?)
    };
    match (day, hour) {
        (Some(day), Some(hour)) => Some(day.to_datetime(hour)),
        (Some(day), None) if day == now.date() => Some(now),
        (Some(day), None) => Some(day.at(12, 0, 0, 0)),
        (None, Some(hour)) => {
            let today = now.date().to_datetime(hour);
            let is_ahead = today > now + SignedDuration::from_mins(2);
            if is_ahead && lies == Lies::Before {
                today.checked_sub(1.day()).ok()
            } else {
                Some(today)
            }
        }
        (None, None) => None,
    }
}

/// Reads a day that is said without an hour, such as “yesterday” or “10 Mar”; `None` for anything
/// else.
pub fn read_day(text: &str, now: DateTime, lies: Lies) -> Option<Date> {
    let text = text.trim().to_lowercase().replace(',', " ");
    let words: Vec<&str> = text
        .split_whitespace()
        .filter(|word| !matches!(*word, "at" | "on" | "last" | "the"))
        .collect();
    day(&words, now, lies).flatten()
}

/// "3 hours ago", "in 2 days", "40 min ago".
fn relative(words: &[&str], now: DateTime) -> Option<DateTime> {
    let (amount, sign) = match words {
        [amount @ .., "ago"] => (amount.concat(), -1.0),
        ["in", amount @ ..] => (amount.concat(), 1.0),
        _ => return None,
    };
    let end = amount
        .find(|letter: char| !(letter.is_ascii_digit() || letter == '.'))
        .unwrap_or(amount.len());
    let (count, unit) = amount.split_at(end);
    let count = match count {
        "" => 1.0,
        count => count.parse::<f64>().ok()?,
    };
    let seconds = match unit.trim_start_matches('a') {
        "m" | "min" | "mins" | "minute" | "minutes" | "nminute" => 60.0,
        "h" | "hour" | "hours" | "nhour" | "hr" | "hrs" => 3600.0,
        "d" | "day" | "days" => 86_400.0,
        "week" | "weeks" | "w" => 7.0 * 86_400.0,
        "month" | "months" => 30.0 * 86_400.0,
        _ => return None,
    };
    now.checked_add(SignedDuration::try_from_secs_f64(sign * count * seconds).ok()?)
        .ok()
}

/// A day from these words: `Some(None)` where there are none, `None` where they are no day.
fn day(words: &[&str], now: DateTime, lies: Lies) -> Option<Option<Date>> {
    let today = now.date();
    let day = match words {
        [] => return Some(None),
        ["today" | "tonight"] => today,
        ["yesterday"] => today.yesterday().ok()?,
        ["tomorrow"] => today.tomorrow().ok()?,
        [one] => {
            if let Some(weekday) = weekday(one) {
                let step = if lies == Lies::Before { -1 } else { 1 };
                today.nth_weekday(step, weekday).ok()?
            } else if let Ok(date) = one.parse::<Date>() {
                date
            } else {
                dotted(one, today, lies)?
            }
        }
        [one, other] | [one, other, _] => {
            let (number, month) = if let Some(month) = month(other) {
                (*one, month)
            } else {
                (*other, month(one)?)
            };
            let number: i8 = number
                .trim_end_matches(|letter: char| !letter.is_ascii_digit())
                .parse()
                .ok()?;
            let year = words.get(2).map_or(Some(None), |year| {
                (year.len() == 4)
                    .then(|| year.parse::<i16>().ok())
                    .map(Some)
            });
            match year? {
                Some(year) => Date::new(year?, month, number).ok()?,
                None => of_this_year(month, number, today, lies)?,
            }
        }
        _ => return None,
    };
    Some(Some(day))
}

/// "10.3.", "10.3.2026".
fn dotted(word: &str, today: Date, lies: Lies) -> Option<Date> {
    let mut parts = word.trim_end_matches('.').split('.');
    let (number, month) = (parts.next()?.parse().ok()?, parts.next()?.parse().ok()?);
    match (parts.next(), word.ends_with('.')) {
        (Some(year), _) => Date::new(year.parse().ok()?, month, number).ok(),
        // Without the last dot it is an hour.
        (None, true) => of_this_year(month, number, today, lies),
        (None, false) => None,
    }
}

/// A day without its year: the latest that has come, unless it may lie ahead.
fn of_this_year(month: i8, day: i8, today: Date, lies: Lies) -> Option<Date> {
    let of = |year: i16| Date::new(year, month, day).ok();
    match of(today.year()) {
        Some(date) if date > today && lies == Lies::Before => of(today.year() - 1),
        found => found,
    }
}

/// A word in small letters that names a day of the week or a month, or begins so.
pub fn names_a_day(word: &str) -> bool {
    weekday(word).is_some() || month(word).is_some()
}

fn weekday(word: &str) -> Option<Weekday> {
    const DAYS: [(&str, Weekday); 7] = [
        ("monday", Weekday::Monday),
        ("tuesday", Weekday::Tuesday),
        ("wednesday", Weekday::Wednesday),
        ("thursday", Weekday::Thursday),
        ("friday", Weekday::Friday),
        ("saturday", Weekday::Saturday),
        ("sunday", Weekday::Sunday),
    ];
    DAYS.into_iter()
        .find(|(name, _)| word.len() >= 3 && name.starts_with(word))
        .map(|(_, day)| day)
}

fn month(word: &str) -> Option<i8> {
    const MONTHS: [&str; 12] = [
        "january",
        "february",
        "march",
        "april",
        "may",
        "june",
        "july",
        "august",
        "september",
        "october",
        "november",
        "december",
    ];
    let found = MONTHS
        .iter()
        .position(|name| word.len() >= 3 && name.starts_with(word.trim_end_matches('.')))?;
    i8::try_from(found + 1).ok()
}

/// "8 pm", "20:15", "8.30", "20h", "noon".
fn hour(word: &str) -> Option<Time> {
    match word {
        "noon" => return Some(Time::constant(12, 0, 0, 0)),
        "midnight" => return Some(Time::constant(0, 0, 0, 0)),
        "morning" | "themorning" | "inthemorning" => return Some(Time::constant(8, 0, 0, 0)),
        "evening" | "intheevening" => return Some(Time::constant(19, 0, 0, 0)),
        _ => {}
    }
    let (digits, half) = match word
        .strip_suffix("pm")
        .or_else(|| word.strip_suffix("p.m."))
    {
        Some(digits) => (digits, Some(12)),
        None => match word
            .strip_suffix("am")
            .or_else(|| word.strip_suffix("a.m."))
        {
            Some(digits) => (digits, Some(0)),
            None => (word, None),
        },
    };
    let digits = digits.trim_end_matches("o'clock").trim_end_matches('h');
    let mut parts = digits.split([':', '.', 'h']);
    let hour: i8 = parts.next()?.parse().ok()?;
    let minute: i8 = parts.next().map_or(Some(0), |minute| minute.parse().ok())?;
    // A bare number is an hour only where something says so: "10" may be anything.
    let says_so = half.is_some() || digits.len() != word.len() || digits.contains([':', '.', 'h']);
    let hour = match half {
        Some(half) if (1..=12).contains(&hour) => hour % 12 + half,
        None if says_so => hour,
        _ => return None,
    };
    if parts.next().is_some() {
        None
    } else {
        Time::new(hour, minute, 0, 0).ok()
    }
}

#[cfg(test)]
mod tests {
    use super::{Lies, read_moment};
    use jiff::civil::{DateTime, date};

    /// A Tuesday morning.
    const NOW: DateTime = date(2026, 3, 10).at(8, 30, 0, 0);

    #[test]
    fn moments_are_understood_as_they_are_said() {
        for (said, before, either) in [
            ("", "2026-03-10T08:30", "2026-03-10T08:30"),
            ("now", "2026-03-10T08:30", "2026-03-10T08:30"),
            ("8 pm", "2026-03-09T20:00", "2026-03-10T20:00"),
            ("8pm", "2026-03-09T20:00", "2026-03-10T20:00"),
            ("7:15", "2026-03-10T07:15", "2026-03-10T07:15"),
            ("7.15", "2026-03-10T07:15", "2026-03-10T07:15"),
            ("12 am", "2026-03-10T00:00", "2026-03-10T00:00"),
            ("noon", "2026-03-09T12:00", "2026-03-10T12:00"),
            ("yesterday", "2026-03-09T12:00", "2026-03-09T12:00"),
            ("yesterday 19:30", "2026-03-09T19:30", "2026-03-09T19:30"),
            ("yesterday at 7 pm", "2026-03-09T19:00", "2026-03-09T19:00"),
            ("today", "2026-03-10T08:30", "2026-03-10T08:30"),
            ("monday", "2026-03-09T12:00", "2026-03-16T12:00"),
            ("3 hours ago", "2026-03-10T05:30", "2026-03-10T05:30"),
            ("40 min ago", "2026-03-10T07:50", "2026-03-10T07:50"),
            ("an hour ago", "2026-03-10T07:30", "2026-03-10T07:30"),
            ("2 days ago", "2026-03-08T08:30", "2026-03-08T08:30"),
            ("10 feb", "2026-02-10T12:00", "2026-02-10T12:00"),
            ("Feb 10 8 pm", "2026-02-10T20:00", "2026-02-10T20:00"),
            ("10 May", "2025-05-10T12:00", "2026-05-10T12:00"),
            ("10 May 2024 8:05", "2024-05-10T08:05", "2024-05-10T08:05"),
            ("10.2. 8:05", "2026-02-10T08:05", "2026-02-10T08:05"),
            ("10.2.2025", "2025-02-10T12:00", "2025-02-10T12:00"),
            ("2026-03-09", "2026-03-09T12:00", "2026-03-09T12:00"),
            ("2026-03-09T07:05", "2026-03-09T07:05", "2026-03-09T07:05"),
            ("2026-03-09 07:05", "2026-03-09T07:05", "2026-03-09T07:05"),
        ] {
            for (lies, wanted) in [(Lies::Before, before), (Lies::Either, either)] {
                assert_eq!(
                    read_moment(said, NOW, lies),
                    Some(wanted.parse().expect("a moment")),
                    "“{said}” {lies:?}"
                );
            }
        }
        assert_eq!(
            read_moment("in 3 days", NOW, Lies::Either),
            Some(date(2026, 3, 13).at(8, 30, 0, 0))
        );
        assert_eq!(
            read_moment("tomorrow 9:00", NOW, Lies::Either),
            Some(date(2026, 3, 11).at(9, 0, 0, 0))
        );
    }

    #[test]
    fn what_makes_no_sense_is_no_moment() {
        for said in [
            "soon",
            "10",
            "25:00",
            "8:75",
            "13 pm",
            "31 feb",
            "32 march",
            "ago",
            "in",
            "-1 days ago",
            "NaN days ago",
            "9e99 days ago",
            "🐟",
            "2026-02-30T25:61",
            "yesterday soon",
        ] {
            assert_eq!(read_moment(said, NOW, Lies::Before), None, "{said}");
        }
    }
}
