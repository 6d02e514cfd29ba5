//! Days as numbers, of spans of time.

use jiff::SignedDuration;

/// Seconds of a day. A judgement.
const DAY_S: f64 = 86_400.0;

/// How many days a span is.
pub fn days_of(span: SignedDuration) -> f64 {
    span.as_secs_f64() / DAY_S
}

/// A span of so many days; `None` where no span is so long.
pub fn span_of_days(days: f64) -> Option<SignedDuration> {
    SignedDuration::try_from_secs_f64(days * DAY_S).ok()
}
