//! When a filter is to be opened next, what that rests on, and what would change it.

use reed_core::filter::clogging::{FIXED_DAYS, HARD_LIMIT_DAYS, Next, OPEN_AT_FLOW, SetBy, WhatIf};
use reed_core::filter::{Clogging, State};
use reed_core::tank::IntervalSchool;

use super::Seen;

/// When it is to be opened next.
pub(super) struct Due {
    pub(super) says: String,
    pub(super) why: String,
    /// What is known of its dirt, where the keeper opens it by another rule.
    pub(super) by_dirt: Option<String>,
    pub(super) is_late: bool,
}

impl Due {
    pub(super) fn of(seen: &Seen, state: &State) -> Self {
        let Some(next) = &state.next else {
            return Self {
                says: "Enter when you opened it last, and what it looked like: from then on the next opening is reckoned.".to_owned(),
                why: String::new(),
                by_dirt: None,
                is_late: false,
            };
        };
        let today = seen.now.date();
        let day = |day: jiff::civil::Date| day.strftime("%-d %B").to_string();
        let is_past = next.likely <= today;
        // A fixed day that has passed is no alarm while its dirt gives it time.
        let left = state.clogging.as_ref().zip(state.history.since_days);
        let dirt_gives_time =
            left.is_some_and(|(clogging, since)| clogging.lasts_days.middle > since);
        let is_fixed = matches!(next.by, SetBy::Fixed | SetBy::WaterChange);
        let is_late = is_past && !(is_fixed && dirt_gives_time);
        let says = if is_past && !is_late {
            format!(
                "By a fixed interval it has been due since {}.",
                day(next.likely)
            )
        } else if next.to <= today {
            "Open it now: it is due.".to_owned()
        } else if is_past {
            "It may be due: open it this week.".to_owned()
        } else if next.from == next.to {
            format!("Open it about {}.", day(next.likely))
        } else {
            format!(
                "Open it between {} and {}, most likely about {}.",
                day(next.from.max(today)),
                day(next.to),
                day(next.likely)
            )
        };
        Self {
            says,
            why: why(seen, state, next),
            by_dirt: by_dirt(state, next),
            is_late,
        }
    }
}

/// When its dirt alone would ask for it.
fn by_dirt(state: &State, next: &Next) -> Option<String> {
    if !matches!(next.by, SetBy::Fixed | SetBy::WaterChange) {
        return None;
    }
    let (clogging, since) = (state.clogging.as_ref()?, state.history.since_days?);
    let left = clogging.lasts_days.middle - since;
    Some(if left > 0.0 {
        format!(
            "By its dirt it has about {left:.0} days left ({:.0} to {:.0}): opening it sooner disturbs it for nothing.",
            (clogging.lasts_days.low - since).max(0.0),
            (clogging.lasts_days.high - since).max(0.0)
        )
    } else {
        format!("By its dirt it has been due for about {:.0} days.", -left)
    })
}

/// What the day of the next opening rests on.
fn why(seen: &Seen, state: &State, next: &Next) -> String {
    let learned = state
        .clogging
        .as_ref()
        .map_or(0, |clogging| clogging.learned_from + clogging.measured);
    let by = match next.by {
        SetBy::HardLimit => format!("No filter is left longer than {HARD_LIMIT_DAYS:.0} days here, however clean it seems."),
        SetBy::Fixed => format!(
            "You keep a fixed interval; {FIXED_DAYS:.0} days are taken for it (common practice, no source)."
        ),
        SetBy::WaterChange => "Its sponge is squeezed at each water change, as you keep it.".to_owned(),
        SetBy::Dirt if learned == 0 => "Reckoned from feed, media and what the intake catches, right to a factor of two. Each graded opening and each bucket test narrows it down.".to_owned(),
        SetBy::Dirt => format!("Learned from {learned} graded openings and bucket tests, and from what is fed."),
    };
    if seen.tank.practice.interval == IntervalSchool::OnFlow && next.by == SetBy::Dirt {
        return format!(
            "When its flow should have fallen to {:.0} %. {by}",
            100.0 * OPEN_AT_FLOW
        );
    }
    by
}

pub(super) fn if_words(what: &WhatIf, clogging: Option<&Clogging>) -> String {
    let days = clogging.map_or(0.0, |clogging| clogging.lasts_days.middle) * what.factor;
    format!(
        "{}: {:.1} times as long, about {days:.0} days between openings",
        what.words, what.factor
    )
}
