//! What is due as a calendar (RFC 5545): a file, and a feed with an address that nobody can guess.
//!
//! Tasks fall on days, which are days wherever the calendar is looked at; what a case left to be
//! read at an hour stands in UTC, from the clock beside the tank.

use std::fmt::Write as _;

use axum::extract::{Path, State};
use axum::http::{HeaderMap, HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use chrono::{DateTime, NaiveDate, TimeDelta, Utc};
use icalendar::{Alarm, Calendar, Component as _, Event, EventLike as _, Property, Trigger};
use jiff::Timestamp;
use jiff::civil::Date;
use reed_core::routine::{Because, Standing};
use reed_store::TankId;
use serde::Deserialize;

use super::{Asking, Walk};
use crate::error::PageError;
use crate::state::App;

/// How the path of the feed begins and ends.
const FEED: (&str, &str) = ("/calendar/", ".ics");
/// Alarms of a day come at nine in the morning: hours from its midnight.
const AT_NINE_H: i64 = 9;

/// A path that is let in without a passphrase: its address is the key.
pub(crate) fn is_feed(path: &str) -> bool {
    path.strip_prefix(FEED.0)
        .is_some_and(|rest| rest.ends_with(FEED.1) && !rest.contains('/'))
}

/// The path of the feed, where there is one.
pub(super) async fn address(app: &App) -> Result<Option<String>, PageError> {
    let access = app.access();
    let feed = app.blocking(move |_| access.feed()).await?;
    let host = app.reach().addresses.first().cloned();
    Ok(feed.map(|drawn| {
        let host = host.unwrap_or_default();
        format!("{}{}{drawn}{}", host.trim_end_matches('/'), FEED.0, FEED.1)
    }))
}

#[derive(Deserialize)]
pub(super) struct Wanted {
    /// `new` draws another address, anything else takes it away.
    want: String,
}

pub(super) async fn draw(
    State(app): State<App>,
    Form(wanted): Form<Wanted>,
) -> Result<Redirect, PageError> {
    let access = app.access();
    app.blocking(move |_| access.set_feed(wanted.want == "new"))
        .await?;
    Ok(Redirect::to("/visit#calendar"))
}

/// The calendar as a file.
pub(super) async fn file(State(app): State<App>) -> Result<Response, PageError> {
    Ok(as_calendar(made(&app).await?))
}

/// The feed: nothing is told to whoever does not know its address, not even that there is one.
pub(super) async fn feed(
    State(app): State<App>,
    Path(asked): Path<String>,
) -> Result<Response, PageError> {
    let access = app.access();
    let known = app.blocking(move |_| access.feed()).await?;
    let asked = asked.strip_suffix(FEED.1).unwrap_or_default();
    match known {
        Some(known) if is_same(&known, asked) => Ok(as_calendar(made(&app).await?)),
        _ => Ok(StatusCode::NOT_FOUND.into_response()),
    }
}

/// Whether two texts are the same, in a time that does not tell how far they are.
fn is_same(known: &str, asked: &str) -> bool {
    let differs = known
        .bytes()
        .zip(asked.bytes())
        .fold(known.len() ^ asked.len(), |differs, (one, other)| {
            differs | usize::from(one ^ other)
        });
    differs == 0
}

fn as_calendar(text: String) -> Response {
    let mut headers = HeaderMap::new();
    headers.insert(
        header::CONTENT_TYPE,
        HeaderValue::from_static("text/calendar; charset=utf-8"),
    );
    headers.insert(header::CACHE_CONTROL, HeaderValue::from_static("no-cache"));
    (headers, text).into_response()
}

async fn made(app: &App) -> Result<String, PageError> {
    let asking = Asking::of(app);
    let clock = asking.clone();
    let walk = app.read(move |db| Walk::read(db, &asking, None)).await?;
    let mut calendar = Calendar::new();
    calendar
        .append_property(("PRODID", "-//Zesty Reed//what is due//EN"))
        .name("Zesty Reed: what is due");
    for job in &walk.jobs {
        let revision = &walk.tanks[job.tank];
        let of_tank = (revision.tank_id, revision.tank.name.as_str());
        let event = event(&job.task, of_tank, &clock);
        calendar.push(event.map_err(|why| PageError::Failed(why.into()))?);
    }
    Ok(calendar.to_string())
}

/// A task as an event: what is late falls on today.
fn event(
    task: &Standing,
    (tank, name): (TankId, &str),
    asking: &Asking,
) -> Result<Event, &'static str> {
    let today = asking.now.wall.date();
    let mut event = Event::new();
    let uid = format!("{}.tank-{tank}@zesty-reed", task.key());
    event
        .uid(&uid)
        .timestamp(moment(asking.now.utc)?)
        .summary(&format!("{name}: {}", task.words))
        .description(&described(task));
    if let Some(at) = task.at {
        // An hour that a clock skips or shows twice is taken as the calendar's rule has it: the
        // first, or the one after the gap.
        let zoned = at
            .to_zoned(asking.clock.zone())
            .map_err(|_| "a moment that no zone has")?;
        event.starts(moment(zoned.timestamp().max(asking.now.utc))?);
        event.ends(moment(zoned.timestamp().max(asking.now.utc))? + TimeDelta::minutes(10));
        event.alarm(alarm(task, &uid, Trigger::before_start(TimeDelta::zero())));
        return Ok(event.done());
    }
    event.starts(day(task.due.max(today))?);
    if let Some(rule) = rule(task) {
        event.append_property(Property::new("RRULE", &rule));
    }
    event.alarm(alarm(
        task,
        &uid,
        Trigger::after_start(TimeDelta::hours(AT_NINE_H)),
    ));
    Ok(event.done())
}

/// An alarm that is the same one whenever the calendar is fetched.
fn alarm(task: &Standing, uid: &str, trigger: Trigger) -> Alarm {
    let mut alarm = Alarm::display(&task.words, trigger);
    alarm.uid(&format!("alarm.{uid}"));
    alarm
}

/// How it comes again, as far as anybody knows.
fn rule(task: &Standing) -> Option<String> {
    if let Some(week) = task.week {
        // The calendar's own names of days are the first two letters of ours.
        let days: Vec<String> = week
            .days()
            .map(|day| format!("{day:?}")[..2].to_uppercase())
            .collect();
        return Some(format!("FREQ=WEEKLY;BYDAY={}", days.join(",")));
    }
    is_regular(task).then(|| format!("FREQ=DAILY;INTERVAL={:.0}", task.interval.days.round()))
}

/// It comes again after as many days each time, as far as anybody knows: what is more frequent for
/// a while, after animals came, does not go on so.
fn is_regular(task: &Standing) -> bool {
    match task.interval.because {
        Because::Own => true,
        Because::Practice | Because::School => task.interval.moved.is_none(),
        Because::Model | Because::Learned | Because::Duty => false,
    }
}

fn described(task: &Standing) -> String {
    let mut text = format!(
        "{}, {}. {}",
        task.rhythm(),
        task.interval.because.words(),
        task.interval.why
    );
    for caution in task.cautions {
        // Writing into a String cannot fail.
        let _ = write!(text, "\n{caution}");
    }
    text
}

fn moment(at: Timestamp) -> Result<DateTime<Utc>, &'static str> {
    DateTime::from_timestamp(at.as_second(), 0).ok_or("a moment too far away")
}

fn day(day: Date) -> Result<NaiveDate, &'static str> {
    let part = |part: i8| u32::try_from(part).unwrap_or_default();
    NaiveDate::from_ymd_opt(day.year().into(), part(day.month()), part(day.day()))
        .ok_or("a day too far away")
}

#[cfg(test)]
mod tests {
    use super::{is_feed, is_same};

    #[test]
    fn only_the_whole_address_is_the_address() {
        assert!(is_same("abc", "abc"));
        for other in ["", "ab", "abcd", "abd", "ABC"] {
            assert!(!is_same("abc", other), "{other}");
        }
        assert!(is_feed("/calendar/0af3.ics"));
        for other in [
            "/calendar/",
            "/calendar/x",
            "/calendar/../tanks/1.ics",
            "/tanks/1.ics",
        ] {
            assert!(!is_feed(other), "{other}");
        }
    }
}
