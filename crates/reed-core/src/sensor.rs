//! Whether what a device sends can be believed: silent, stuck, or off from what the tank can do.

use jiff::civil::DateTime;

use crate::tank::Analyte;
use crate::units::days_of;

/// What is wrong with what a device sends of one thing.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Trouble {
    /// It has sent nothing for so many minutes.
    Silent {
        /// Since its last reading.
        minutes: f64,
    },
    /// It has sent the same value for so many hours, while the tank cannot have stood so still.
    Stuck {
        /// How long.
        hours: f64,
    },
    /// By the model it is off by so much, in the first unit of what is read; above it where positive.
    Off {
        /// The middle of how far it was from what was expected.
        by: f64,
    },
}

/// Something that was read.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Point {
    /// When.
    pub at: DateTime,
    /// How much.
    pub value: f64,
    /// What was expected, and its spread as one standard deviation; none where no model knows.
    pub expected: Option<(f64, f64)>,
}

/// It is silent after so many of its usual gaps, and after so many minutes at least. Judgements.
const GAPS: f64 = 5.0;
const SILENT_MINUTES: f64 = 10.0;
/// Stuck after so many hours of one value, and so many readings. Where the model knows, the tank has
/// to have moved by more than its spread meanwhile; where none does, it takes four times as long.
/// Judgements.
const STUCK_HOURS: f64 = 6.0;
const STUCK_POINTS: usize = 30;
const STUCK_BLIND: f64 = 4.0;
/// Off beyond so many spreads in the middle of the last hours. Judgements.
const OFF_SPREADS: f64 = 3.0;
const OFF_HOURS: f64 = 6.0;
const OFF_POINTS: usize = 12;

fn hours(from: DateTime, to: DateTime) -> f64 {
    days_of(to.duration_since(from)) * 24.0
}

/// The middle of some numbers; none of none.
fn middle(mut numbers: Vec<f64>) -> Option<f64> {
    numbers.sort_by(f64::total_cmp);
    numbers.get(numbers.len() / 2).copied()
}

/// Whether a device that sends something every so many minutes is silent after so many without. What
/// came only once, as the report of a laboratory, has no rhythm to miss.
pub fn is_silent(usual: Option<f64>, minutes: f64) -> bool {
    usual.is_some_and(|usual| minutes > (GAPS * usual).max(SILENT_MINUTES))
}

/// What is wrong with the readings of a device, oldest first, at a moment: the gravest of it.
pub fn trouble(points: &[Point], now: DateTime) -> Option<Trouble> {
    let last = points.last()?;
    let gaps: Vec<f64> = points
        .windows(2)
        .map(|pair| hours(pair[0].at, pair[1].at) * 60.0)
        .collect();
    let silent = hours(last.at, now) * 60.0;
    if is_silent(middle(gaps), silent) {
        return Some(Trouble::Silent { minutes: silent });
    }
    stuck(points).or_else(|| off(points))
}

fn stuck(points: &[Point]) -> Option<Trouble> {
    let last = points.last()?;
    let same = points
        .iter()
        .rev()
        .take_while(|point| (point.value - last.value).abs() <= f64::EPSILON * last.value.abs());
    let same: Vec<&Point> = same.collect();
    let first = same.last()?;
    let hours = hours(first.at, last.at);
    let expected: Vec<(f64, f64)> = same.iter().filter_map(|point| point.expected).collect();
    let span = |of: fn(f64, f64) -> f64, start: f64| {
        expected.iter().map(|(value, _)| *value).fold(start, of)
    };
    let moved = span(f64::max, f64::NEG_INFINITY) - span(f64::min, f64::INFINITY);
    let spread = middle(expected.iter().map(|(_, spread)| *spread).collect());
    let is_long = match spread {
        Some(spread) => hours >= STUCK_HOURS && moved > spread,
        None => hours >= STUCK_BLIND * STUCK_HOURS,
    };
    (is_long && same.len() >= STUCK_POINTS).then_some(Trouble::Stuck { hours })
}

fn off(points: &[Point]) -> Option<Trouble> {
    let last = points.last()?;
    let recent = points
        .iter()
        .filter(|point| hours(point.at, last.at) <= OFF_HOURS);
    let (mut by, mut in_spreads) = (Vec::new(), Vec::new());
    for point in recent {
        if let Some((expected, spread)) = point.expected {
            by.push(point.value - expected);
            in_spreads.push((point.value - expected) / spread);
        }
    }
    if by.len() < OFF_POINTS || middle(in_spreads)?.abs() < OFF_SPREADS {
        return None;
    }
    Some(Trouble::Off { by: middle(by)? })
}

impl Trouble {
    /// What is wrong, and what to do first, in sentences.
    pub fn words(self, analyte: &Analyte, print: impl Fn(f64) -> String) -> String {
        match self {
            Self::Silent { minutes } if minutes < 120.0 => format!(
                "Silent for {minutes:.0} minutes. Look whether it has power and reaches the network."
            ),
            Self::Silent { minutes } => format!(
                "Silent for {:.0} hours. Look whether it has power and reaches the network; until then read {} by hand.",
                minutes / 60.0,
                analyte.label.to_lowercase()
            ),
            Self::Stuck { hours } => format!(
                "The same value for {hours:.0} hours, which the tank cannot do. Wipe the probe, start it anew, and read by hand meanwhile."
            ),
            Self::Off { by } => format!(
                "About {} {} what the model expects, for hours. Read it by hand: if the kit agrees with the model the probe has to be calibrated, if with the probe something is wrong in the tank.",
                print(by.abs()),
                if by > 0.0 { "above" } else { "below" }
            ),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::{Point, Trouble, trouble};
    use jiff::SignedDuration;
    use jiff::civil::{DateTime, date};

    const START: DateTime = date(2026, 3, 9).at(0, 0, 0, 0);

    /// Every five minutes for so many hours: what the tank does, seen by a probe.
    fn seen(hours: i32, probe: impl Fn(f64, f64) -> f64) -> (Vec<Point>, DateTime) {
        let points: Vec<Point> = (0..hours * 12)
            .map(|step| {
                let at = START + SignedDuration::from_mins(5 * i64::from(step));
                let hour = f64::from(step) / 12.0;
                let truth = 7.0 + (hour / 24.0 * std::f64::consts::TAU).sin();
                // Noise that is the same each time.
                let noise = 0.05 * (f64::from(step) * 12.9898).sin();
                Point {
                    at,
                    value: probe(truth + noise, hour),
                    expected: Some((truth, 0.3)),
                }
            })
            .collect();
        let now = points[points.len() - 1].at + SignedDuration::from_mins(4);
        (points, now)
    }

    #[test]
    fn a_sound_probe_is_left_alone_and_a_faulty_one_is_named() {
        let (sound, now) = seen(48, |value, _| value);
        assert_eq!(trouble(&sound, now), None);
        let later = now + SignedDuration::from_mins(55);
        assert!(
            matches!(trouble(&sound, later), Some(Trouble::Silent { minutes }) if minutes > 50.0)
        );
        let (stuck, now) = seen(48, |value, hour| if hour > 36.0 { 6.21 } else { value });
        assert!(matches!(trouble(&stuck, now), Some(Trouble::Stuck { hours }) if hours > 10.0));
        let (drifts, now) = seen(96, |value, hour| value - 0.02 * hour);
        let Some(Trouble::Off { by }) = trouble(&drifts, now) else {
            panic!("{:?}", trouble(&drifts, now));
        };
        assert!((by + 1.9).abs() < 0.15, "{by}");
        assert_eq!(trouble(&[], now), None);
        let report = trouble(&drifts[..1], now);
        assert_eq!(report, None, "what came once is not missed");
    }

    /// A thermometer that reads to a tenth shows the same for hours in a heated tank: that is no
    /// fault until a day has passed.
    #[test]
    fn what_no_model_knows_may_stand_still_for_a_day() {
        let still = |hours: i32| {
            let (mut points, now) = seen(hours, |_, _| 24.5);
            points.iter_mut().for_each(|point| point.expected = None);
            trouble(&points, now)
        };
        assert_eq!(still(20), None);
        assert!(matches!(still(30), Some(Trouble::Stuck { .. })));
    }
}
