//! A control: the same thing read in water that was left alone, before and after. What moved there
//! too was not the change.

use super::REAL;
use crate::tank::Reading;
use crate::units::Units;

/// Readings of a sister tank, or of the tap.
#[derive(Clone, Debug, PartialEq)]
pub struct Control {
    /// What it is, in words: “Clinic's waiting room”, “the tap”.
    pub name: String,
    /// Before the change.
    pub before: Reading,
    /// After it.
    pub after: Reading,
}

impl Control {
    /// How far it moved, with the standard deviation, in the analyte's unit.
    pub fn moved(&self) -> (f64, f64) {
        (
            self.after.value - self.before.value,
            self.after.spread.hypot(self.before.spread),
        )
    }

    /// What is left of a difference once that of the control is taken off (a difference in
    /// differences), with its standard deviation.
    pub fn taken_off(&self, (difference, spread): (f64, f64)) -> (f64, f64) {
        let (moved, moved_spread) = self.moved();
        (difference - moved, spread.hypot(moved_spread))
    }

    /// What it shows, as a sentence.
    pub fn words(&self, units: &Units) -> String {
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
