//! The time, from one place, so that a test can set it.

use jiff::civil::DateTime;
use jiff::tz::TimeZone;
use jiff::{Timestamp, Zoned};

use crate::visit;

/// Where the time comes from.
#[derive(Clone, Debug)]
pub enum Clock {
    /// The machine's clock and time zone.
    System,
    /// Stands still; for tests.
    Fixed(Box<Zoned>),
}

/// A moment, both ways it is used.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Moment {
    /// By the clock on the wall beside the tank: what keepers type and what the hour of the day
    /// means.
    pub wall: DateTime,
    /// Absolute: when something was entered.
    pub utc: Timestamp,
}

impl Clock {
    /// Now; for what a page kept while the network was away, when it was typed.
    pub fn now(&self) -> Moment {
        let zoned = self.zoned();
        let typed_at = visit::current(|visit| visit.kept.as_ref().map(|kept| kept.typed_at));
        let zoned = match typed_at.flatten() {
            Some(typed_at) => typed_at.to_zoned(zoned.time_zone().clone()),
            None => zoned,
        };
        Moment {
            wall: zoned.datetime(),
            utc: zoned.timestamp(),
        }
    }

    /// What the clock on the wall showed at a moment.
    pub fn wall_at(&self, utc: Timestamp) -> DateTime {
        utc.to_zoned(self.zone()).datetime()
    }

    /// The zone of the clock on the wall.
    pub(crate) fn zone(&self) -> TimeZone {
        self.zoned().time_zone().clone()
    }

    fn zoned(&self) -> Zoned {
        match self {
            Self::System => Zoned::now(),
            Self::Fixed(zoned) => (**zoned).clone(),
        }
    }
}
