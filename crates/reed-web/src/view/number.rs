//! Numbers and times as a keeper reads them.

use jiff::civil::DateTime;
use reed_core::log::When;
use reed_core::water::oxygen::Reaches;

/// A probability: never quite none, never quite all.
pub(crate) fn percent(probability: f64) -> String {
    let percent = probability * 100.0;
    if percent < 1.0 {
        "under 1 %".to_owned()
    } else if percent > 99.0 {
        "over 99 %".to_owned()
    } else {
        format!("{percent:.0} %")
    }
}

/// How long ago something was, roughly.
pub(crate) fn since(then: DateTime, now: DateTime) -> String {
    let minutes = now.duration_since(then).as_mins();
    match minutes {
        ..2 => "just now".to_owned(),
        2..90 => format!("{minutes} minutes ago"),
        90..2160 => format!("{} hours ago", (minutes + 30) / 60),
        _ => format!("{} days ago", (minutes + 720) / 1440),
    }
}

/// A moment: the hour alone today, else with its date.
pub(crate) fn when(at: DateTime, now: DateTime) -> String {
    if at.date() == now.date() {
        at.strftime("today %H:%M").to_string()
    } else {
        at.strftime("%-d %b %H:%M").to_string()
    }
}

/// How large a file is, roughly.
pub(crate) fn bytes(many: u64) -> String {
    const UNITS: [&str; 4] = ["kB", "MB", "GB", "TB"];
    let mut size = many as f64 / 1000.0;
    let mut unit = UNITS[0];
    for larger in &UNITS[1..] {
        if size < 999.5 {
            break;
        }
        size /= 1000.0;
        unit = larger;
    }
    if size < 9.95 {
        format!("{size:.1} {unit}")
    } else {
        format!("{size:.0} {unit}")
    }
}

/// When something happened, as exactly as that is known.
pub(crate) fn when_of(known: &When, now: DateTime) -> String {
    if known.is_exact() && (known.from.year() == now.year() || known.from > now) {
        when(known.from, now)
    } else if known.to.date() == now.date() && known.from.date() == now.date() {
        "today".to_owned()
    } else {
        known.words()
    }
}

/// When a level is reached in a power cut.
pub(crate) fn hours(reaches: Reaches) -> String {
    match reaches {
        Reaches::Never => "never".to_owned(),
        Reaches::After(hours) if hours < 0.05 => "at once".to_owned(),
        Reaches::After(hours) if hours < 10.0 => format!("after {hours:.1} h"),
        Reaches::After(hours) => format!("after {hours:.0} h"),
    }
}

#[cfg(test)]
mod tests {
    use super::{bytes, percent, since, when};
    use jiff::civil::date;

    #[test]
    fn sizes_are_rounded_to_what_is_worth_telling() {
        for (many, words) in [
            (0, "0.0 kB"),
            (1234, "1.2 kB"),
            (999_499, "999 kB"),
            (999_500, "1.0 MB"),
            (12_345_678, "12 MB"),
            (7_000_000_000, "7.0 GB"),
        ] {
            assert_eq!(bytes(many), words);
        }
    }

    #[test]
    fn nothing_is_ever_certain() {
        assert_eq!(
            [0.0004, 0.5, 0.9999].map(percent),
            ["under 1 %", "50 %", "over 99 %"]
        );
    }

    #[test]
    fn times_are_as_coarse_as_they_are_far() {
        let now = date(2026, 3, 10).at(9, 0, 0, 0);
        let ago = |minutes| since(now - jiff::SignedDuration::from_mins(minutes), now);
        assert_eq!(
            [0, 45, 180, 60 * 24 * 5].map(ago),
            ["just now", "45 minutes ago", "3 hours ago", "5 days ago"]
        );
        assert_eq!(when(date(2026, 3, 10).at(7, 5, 0, 0), now), "today 07:05");
        assert_eq!(when(date(2026, 3, 9).at(19, 0, 0, 0), now), "9 Mar 19:00");
    }
}
