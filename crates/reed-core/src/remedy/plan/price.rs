//! What changes cost: money and minutes. The cards give invented usual ones; a keeper's own go
//! before them.

use std::collections::HashMap;
use std::iter::Sum;

use super::super::change::Change;

/// What one change costs.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Price {
    /// Money, euros.
    pub euros: f64,
    /// Minutes of work.
    pub minutes: f64,
}

impl Sum for Price {
    fn sum<I: Iterator<Item = Self>>(prices: I) -> Self {
        let nothing = Self {
            euros: 0.0,
            minutes: 0.0,
        };
        prices.fold(nothing, |sum, price| Self {
            euros: sum.euros + price.euros,
            minutes: sum.minutes + price.minutes,
        })
    }
}

/// Most money that is accepted, euros. A judgement.
pub const MOST_EUROS: f64 = 10_000.0;
/// Longest work that is accepted, minutes: a day. A judgement.
pub const MOST_MINUTES: f64 = 1_440.0;

/// A keeper's own prices; of the rest what the card says.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Prices(HashMap<String, Price>);

impl Prices {
    /// These, by id of the change.
    pub fn new(own: impl IntoIterator<Item = (String, Price)>) -> Self {
        Self(own.into_iter().collect())
    }

    /// What a change costs here.
    pub fn of(&self, change: &Change) -> Price {
        self.0.get(change.id).copied().unwrap_or(Price {
            euros: change.euros,
            minutes: change.minutes,
        })
    }

    /// It is the keeper's own.
    pub fn is_own(&self, change: &Change) -> bool {
        self.0.contains_key(change.id)
    }
}
