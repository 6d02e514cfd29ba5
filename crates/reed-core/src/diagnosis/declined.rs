//! Checks that the keeper cannot do: a question may be unanswerable, a place out of reach, a kit
//! not in the house.

use jiff::civil::DateTime;

use super::check::{Check, Gives};
use super::observed::Observed;
use crate::document::Hindrance;

impl Hindrance {
    /// What may stand in the way of this check, the likeliest first.
    pub fn of(check: &Check) -> [Self; 2] {
        match check.gives {
            Gives::Answer(_) if check.recalled => [Self::DoNotKnow, Self::CannotLook],
            Gives::Answer(_) => [Self::CannotLook, Self::DoNotKnow],
            Gives::Reading(_) | Gives::Repeat => [Self::NoKit, Self::CannotLook],
        }
    }
}

/// A check that was not done when it was asked for.
#[derive(Clone, Debug, PartialEq)]
pub struct Declined {
    /// Which.
    pub check: &'static Check,
    /// Why.
    pub why: Hindrance,
    /// When, by the clock on the wall.
    pub at: DateTime,
}

/// Whoever cannot look now is asked again after so many hours. A judgement.
const ASKED_AGAIN_HOURS: f64 = 12.0;

impl Observed {
    /// Whether this check is not to be asked for now.
    pub fn is_declined(&self, check: &Check) -> bool {
        self.declined.iter().any(|declined| match declined.why {
            Hindrance::CannotLook => {
                declined.check == check
                    && self.now.duration_since(declined.at).as_secs_f64()
                        < ASKED_AGAIN_HOURS * 3600.0
            }
            Hindrance::DoNotKnow => declined.check == check,
            Hindrance::NoKit => {
                declined.check == check
                    || declined
                        .check
                        .reads()
                        .is_some_and(|analyte| check.reads() == Some(analyte))
            }
        })
    }
}
