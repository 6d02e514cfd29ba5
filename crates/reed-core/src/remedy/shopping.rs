//! What has to be bought for a plan, summed up in pieces, litres and metres.

use super::change::{Change, Measure};
use super::plan::Prices;
use crate::tank::Tank;

/// A line of a shopping list.
#[derive(Clone, Debug, PartialEq)]
pub struct Item {
    /// What.
    pub what: &'static str,
    /// How much.
    pub amount: f64,
    /// In what that is.
    pub measure: Measure,
    /// What it is for: titles of changes.
    pub for_what: Vec<&'static str>,
}

impl Item {
    /// The amount in words.
    pub fn amount_words(&self) -> String {
        match self.measure {
            Measure::Pieces if self.amount < 1.5 => "1 piece".to_owned(),
            Measure::Pieces => format!("{:.0} pieces", self.amount),
            Measure::Litres => format!("{:.1} L", self.amount),
            Measure::Metres => format!("{:.1} m", self.amount),
        }
    }
}

/// What has to be bought, and what it costs together, euros.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Shopping {
    /// The lines.
    pub items: Vec<Item>,
    /// Money, euros.
    pub euros: f64,
}

impl Shopping {
    /// Of these changes to a tank. What two of them take is bought once for each, in one line.
    pub fn of(changes: &[&'static Change], tank: &Tank, prices: &Prices) -> Self {
        let mut items: Vec<Item> = Vec::new();
        for change in changes {
            for buy in change.buys {
                let amount = (buy.amount)(tank);
                match items.iter_mut().find(|item| item.what == buy.what) {
                    Some(item) => {
                        item.amount += amount;
                        item.for_what.push(change.title);
                    }
                    None => items.push(Item {
                        what: buy.what,
                        amount,
                        measure: buy.measure,
                        for_what: vec![change.title],
                    }),
                }
            }
        }
        let euros = changes.iter().map(|change| prices.of(change).euros).sum();
        Self { items, euros }
    }
}
