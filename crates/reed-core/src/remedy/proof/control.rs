//! A control: the same thing read in water that was left alone, before and after. What moved there
//! too was not the change.

use jiff::SignedDuration;

use super::REAL;
use crate::tank::{Analyte, Reading};
use crate::units::Units;

/// Readings of a sister tank, or of the tap.
#[derive(Clone, Debug, PartialEq)]
pub struct Control {
    name: String,
    before: Reading,
    after: Reading,
}

/// A reading of the control belongs to a proof reading taken within so many hours of it. A
/// judgement.
pub const TOGETHER: SignedDuration = SignedDuration::from_hours(6);

/// What rises and falls with the light is compared at the same hour of the day, give or take so many
/// hours. A judgement.
const SAME_HOUR: f64 = 3.0;

/// These rise and fall with the light.
const DAILY: [&Analyte; 3] = [Analyte::OXYGEN, Analyte::PH, Analyte::TEMPERATURE];

impl Control {
    /// Of what was read before the change, in order of time, and about when the proof was taken. The
    /// last one before counts; of what rises and falls with the light the last at the same hour.
    ///
    /// # Errors
    /// Why the two do not make a control, as a sentence.
    pub fn of(
        name: String,
        before: &[Reading],
        after: Option<Reading>,
        proof: &Reading,
    ) -> Result<Self, String> {
        let what = proof.analyte.label;
        let Some(last) = before.last() else {
            return Err(format!(
                "Beside: {what} of {name} was not read before the change, so there is nothing to compare."
            ));
        };
        let is_near =
            |reading: &Reading| reading.taken_at.duration_since(proof.taken_at).abs() <= TOGETHER;
        let Some(after) = after.filter(is_near) else {
            return Err(format!(
                "Beside: read {what} of {name} now, too, within {} hours of this reading, and enter it there first.",
                TOGETHER.as_hours()
            ));
        };
        let is_comparable = |before: &&Reading| {
            let hours = (after.hour_of_day() - before.hour_of_day()).rem_euclid(24.0);
            !DAILY.contains(&proof.analyte) || hours.min(24.0 - hours) <= SAME_HOUR
        };
        let Some(before) = before.iter().rfind(is_comparable) else {
            return Err(format!(
                "Beside: {what} of {name} was read at {} before the change and at {} after it; what rises and falls with the light is compared at the same hour, give or take {SAME_HOUR:.0} hours.",
                last.taken_at.strftime("%H:%M"),
                after.taken_at.strftime("%H:%M")
            ));
        };
        Ok(Self {
            name,
            before: before.clone(),
            after,
        })
    }

    /// How far it moved, with the standard deviation, in the analyte's unit.
    fn moved(&self) -> (f64, f64) {
        (
            self.after.value - self.before.value,
            self.after.spread.hypot(self.before.spread),
        )
    }

    /// What is left of a difference once that of the control is taken off (a difference in
    /// differences), with its standard deviation.
    pub(super) fn taken_off(&self, (difference, spread): (f64, f64)) -> (f64, f64) {
        let (moved, moved_spread) = self.moved();
        (difference - moved, spread.hypot(moved_spread))
    }

    /// What it shows, as a sentence.
    pub(super) fn words(&self, units: &Units) -> String {
        let (moved, spread) = self.moved();
        let so = if moved.abs() > REAL * spread {
            "it moved by itself"
        } else {
            "it stayed"
        };
        format!(
            "Beside it {}, left alone: {} before, {} now; {so}.",
            self.name,
            self.before.print(units),
            self.after.print(units)
        )
    }
}
