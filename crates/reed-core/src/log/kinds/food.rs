//! What is fed.

use crate::log::Entry;
use crate::log::effect::Effect;
use crate::log::happening::{Family, Happening, Measure, Tells, tells};
use crate::tank::{FeedingSchool, Tank};

const BLANK: Happening = Happening::blank(Family::Food);

/// So many times as much feed is more. A judgement.
const FED_MORE: f64 = 1.15;

/// They are fed on so many days of each week, where a plan does so.
fn fed_on_days(tank: &Tank, entry: &Entry) -> Option<Tank> {
    let feeding = FeedingSchool::of_days(entry.amount?)?;
    let mut after = tank.clone();
    after.practice.feeding = feeding;
    Some(after)
}

pub(super) static ALL: &[Happening] = &[
    Happening {
        id: "feed",
        label: "Fed from then on",
        words: &["feed more", "feeding more", "fed from now on", "feeding"],
        amount: Some(Measure::fixed("times as much", 0.0, 20.0)),
        tells: &[Tells {
            finding: "feeding-raised",
            at_least: FED_MORE,
        }],
        does: Some(Effect::Feed),
        ..BLANK
    },
    Happening {
        id: "feeding-days",
        label: "Fed from then on, with fasting days",
        words: &["feeding days", "fasting days kept", "fed on"],
        amount: Some(Measure::fixed("days of seven", 1.0, 7.0)),
        does: Some(Effect::FeedDays),
        makes: Some(fed_on_days),
        ..BLANK
    },
    Happening {
        id: "fed",
        label: "Fed",
        words: &["fed"],
        completes: &["feed-day"],
        ..BLANK
    },
    Happening {
        id: "fasted",
        label: "Not fed",
        words: &["not fed", "fasted", "fasting", "no food"],
        completes: &["fast-day"],
        ..BLANK
    },
    Happening {
        id: "fed-by-stand-in",
        label: "Fed by someone else",
        words: &[
            "fed by neighbour",
            "fed by stand-in",
            "stand-in fed",
            "someone else fed",
        ],
        tells: &[tells("fed-by-stand-in")],
        ..BLANK
    },
    Happening {
        id: "food-changed",
        label: "Another food",
        words: &["new food", "changed food", "other food"],
        tells: &[tells("food-changed")],
        ..BLANK
    },
];
