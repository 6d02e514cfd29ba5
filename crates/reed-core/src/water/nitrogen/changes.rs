//! What changing water does to what is dissolved in it: closed forms.
//!
//! One level `c`, tap water with so much of the same, a fraction `f` of the water replaced. Any one
//! unit throughout.

/// Just after a change: `(1 − f)·c + f·tap`.
pub fn after_change(level: f64, tap: f64, fraction: f64) -> f64 {
    (1.0 - fraction) * level + fraction * tap
}

/// Where a level ends up just before each change, when so much is gained between changes and each
/// replaces a fraction: the geometric series `tap + gain / f`.
pub fn peak_between_changes(tap: f64, gain: f64, fraction: f64) -> f64 {
    tap + gain / fraction.max(1e-6)
}

/// The fraction of every change that keeps the level before it at a target, `gain / (target −
/// tap)`; `None` where no change can: the tap holds as much, or more than all the water would have
/// to go.
pub fn fraction_to_hold(target: f64, tap: f64, gain: f64) -> Option<f64> {
    let fraction = gain / (target - tap);
    (target > tap && fraction <= 1.0).then_some(fraction)
}

/// The longest time between changes of a fraction that keeps the level at a target, in the time in
/// which so much is gained: `f·(target − tap) / gain`; `None` where the tap holds as much.
pub fn interval_to_hold(target: f64, tap: f64, gain_per_time: f64, fraction: f64) -> Option<f64> {
    (target > tap && gain_per_time > 0.0).then(|| fraction * (target - tap) / gain_per_time)
}

/// The one change that brings a level down to a target: `(c − target) / (c − tap)`, 0 when it is
/// there already; `None` where the tap holds as much as the target.
pub fn fraction_to_reach(level: f64, target: f64, tap: f64) -> Option<f64> {
    if level <= target {
        Some(0.0)
    } else {
        (tap < target).then(|| (level - target) / (level - tap))
    }
}

/// How many changes of one fraction bring a level to a target, with nothing gained between them;
/// `None` where none can.
pub fn changes_to_reach(level: f64, target: f64, tap: f64, fraction: f64) -> Option<u32> {
    if level <= target {
        return Some(0);
    }
    (tap < target && fraction > 0.0).then(|| {
        if fraction >= 1.0 {
            return 1;
        }
        let exact = ((target - tap) / (level - tap)).ln() / (1.0 - fraction).ln();
        // A hair above a whole number is that number: the level then stands at the target.
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "a count of changes"
        )]
        let count = (exact - 1e-9).ceil().max(1.0) as u32;
        count
    })
}

#[cfg(test)]
mod tests {
    use super::{after_change, fraction_to_hold, interval_to_hold, peak_between_changes};

    /// The series against playing the changes one by one.
    #[test]
    fn the_peak_is_where_two_hundred_changes_end() {
        let (tap, gain, fraction) = (5.0, 8.0, 0.2);
        let peak = (0..200).fold(tap, |after: f64, _| {
            after_change(after + gain, tap, fraction)
        }) + gain;
        assert!((peak - peak_between_changes(tap, gain, fraction)).abs() < 1e-9);
        assert!(
            (fraction_to_hold(peak, tap, gain).expect("it can be held") - fraction).abs() < 1e-9
        );
        assert!(
            (interval_to_hold(peak, tap, gain / 7.0, fraction).expect("it can be held") - 7.0)
                .abs()
                < 1e-9
        );
        assert_eq!(fraction_to_hold(5.0, 5.0, 1.0), None);
        assert_eq!(fraction_to_hold(6.0, 5.0, 2.0), None);
        assert_eq!(interval_to_hold(4.0, 5.0, 1.0, 0.2), None);
    }
}
