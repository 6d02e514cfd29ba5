//! Dates and hours as other programs write them.

use jiff::civil::{Date, DateTime, Time};
use jiff::tz::{Offset, TimeZone};

closed_set! {
    DateOrder:
    Year = "year", "Year, month, day";
    Day = "day", "Day, month, year";
    Month = "month", "Month, day, year";
}

/// In which order a date is written in figures.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum DateOrder {
    /// 2026-03-10.
    Year,
    /// 10.03.2026.
    Day,
    /// 03/10/2026.
    Month,
}

/// The three figures of a date, and what stands between them.
fn figures(date: &str) -> Option<([i16; 3], char)> {
    let sign = date
        .chars()
        .find(|letter| matches!(letter, '-' | '.' | '/'))?;
    let mut parts = date.split(sign);
    let mut next = || parts.next()?.trim().parse::<i16>().ok();
    let figures = [next()?, next()?, next()?];
    parts.next().is_none().then_some((figures, sign))
}

/// The date of a moment, and the rest of it.
fn split(text: &str) -> (&str, &str) {
    let text = text.trim();
    text.split_once([' ', 'T'])
        .map_or((text, ""), |(date, rest)| (date, rest.trim()))
}

impl DateOrder {
    /// What dates like these are written in; `None` where they could be either, or there are none
    /// to go by.
    pub(super) fn guess<'a>(dates: impl Iterator<Item = &'a str>) -> Option<Self> {
        let (mut first_is_day, mut second_is_day, mut dotted, mut any) =
            (false, false, true, false);
        for date in dates {
            let Some(([first, second, _], sign)) = figures(split(date).0) else {
                continue;
            };
            if first > 31 {
                return Some(Self::Year);
            }
            any = true;
            first_is_day |= first > 12;
            second_is_day |= second > 12;
            dotted &= sign == '.';
        }
        match (first_is_day, second_is_day) {
            (true, false) => Some(Self::Day),
            (false, true) => Some(Self::Month),
            // Nobody writes the month first with dots.
            _ if any && dotted => Some(Self::Day),
            _ => None,
        }
    }

    fn date(self, text: &str) -> Option<Date> {
        let ([first, second, third], _) = figures(text)?;
        let (year, month, day) = match self {
            _ if first > 31 => (first, second, third),
            Self::Year => (first, second, third),
            Self::Day => (third, second, first),
            Self::Month => (third, first, second),
        };
        let year = if year < 100 { 2000 + year } else { year };
        Date::new(year, i8::try_from(month).ok()?, i8::try_from(day).ok()?).ok()
    }
}

/// A moment in a cell, by the clock beside the tank; whether it has an hour. An hour with an offset
/// is turned into that clock's.
pub(super) fn read(
    text: &str,
    time: &str,
    order: DateOrder,
    zone: &TimeZone,
) -> Option<(DateTime, bool)> {
    let (date, rest) = split(text);
    let date = order.date(date)?;
    let hour = if rest.is_empty() { time.trim() } else { rest };
    if hour.is_empty() {
        return Some((date.at(0, 0, 0, 0), false));
    }
    let (clock, offset) = offset_of(hour);
    let at = date.to_datetime(hour_of(clock)?);
    let at = match offset {
        None => at,
        Some(seconds) => {
            let there = Offset::from_seconds(seconds).ok()?.to_timestamp(at).ok()?;
            there.to_zoned(zone.clone()).datetime()
        }
    };
    Some((at, true))
}

/// The hour, and the seconds it is ahead of UTC where that is said.
fn offset_of(hour: &str) -> (&str, Option<i32>) {
    if let Some(clock) = hour.strip_suffix(['Z', 'z']) {
        return (clock.trim(), Some(0));
    }
    let Some(place) = hour.rfind(['+', '-']) else {
        return (hour, None);
    };
    let (clock, offset) = hour.split_at(place);
    let digits: String = offset[1..].chars().filter(char::is_ascii_digit).collect();
    let minutes = match digits.len() {
        2 => digits.parse::<i32>().ok().map(|hours| hours * 60),
        4 => digits
            .parse::<i32>()
            .ok()
            .map(|both| both / 100 * 60 + both % 100),
        _ => None,
    };
    let sign = if offset.starts_with('-') { -60 } else { 60 };
    (clock.trim(), minutes.map(|minutes| minutes * sign))
}

/// “8:30”, “08:30:15.2”, “8:30 pm”.
fn hour_of(text: &str) -> Option<Time> {
    let small = text.trim().to_lowercase();
    let (clock, shift) = if let Some(clock) = small.strip_suffix("pm") {
        (clock.trim(), Some(12))
    } else if let Some(clock) = small.strip_suffix("am") {
        (clock.trim(), Some(0))
    } else {
        (small.as_str(), None)
    };
    let mut parts = clock.split(':');
    let hour: i8 = parts.next()?.parse().ok()?;
    let minute: i8 = parts.next().map_or(Some(0), |part| part.parse().ok())?;
    let second: i8 = parts
        .next()
        .map_or(Some(0), |part| part.split(['.', ',']).next()?.parse().ok())?;
    let hour = match shift {
        Some(shift) => hour % 12 + shift,
        None => hour,
    };
    Time::new(hour, minute, second, 0).ok()
}
