//! What the log says of a filter: when it was opened and what it looked like, what a bucket test
//! read, when more or fewer mouths were fed.

use jiff::civil::DateTime;

use crate::log::{Effect, Entry, Layer};
use crate::tank::{Filter, Medium, Tank};
use crate::units::days_of;

/// Kinds of entries after which the dirt is out.
const OPENINGS: [&str; 4] = ["filter-opened", "tap-rinse", "new-media", "floss-new"];

/// Every kind of entry that speaks of filters or of what is fed.
pub const KINDS: [&str; 8] = [
    "filter-opened",
    "tap-rinse",
    "new-media",
    "floss-new",
    BUCKET,
    IMPELLER,
    "feed",
    "animals",
];

/// The kind of an impeller that was taken out.
const IMPELLER: &str = "impeller-serviced";

/// A bucket test's kind.
pub const BUCKET: &str = "bucket-test";

/// Feeding that changed by this factor either way changes what a filter takes in enough that what
/// was learned before counts less. A judgement.
const ANOTHER_LOAD: f64 = 1.2;

/// An opening of the filter and how long it had run by then.
#[derive(Clone, Debug, PartialEq)]
pub struct Opening {
    /// When.
    pub at: DateTime,
    /// Days since the one before, weighed by what was fed: a day of double feed counts twice. None
    /// where the one before is not on record.
    pub after_days: Option<f64>,
    /// The worst grade of the stage that fills first, or of all where that was not graded, 0 to 5.
    pub grade: Option<u8>,
    /// The stock or the feed has changed since, so that it says less about now.
    pub is_of_another_load: bool,
}

/// A bucket test.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Measured {
    /// When.
    pub at: DateTime,
    /// L/h.
    pub flow: f64,
    /// Days since the opening before it, weighed by what was fed; none where that is not on record.
    pub after_days: Option<f64>,
}

/// What is on record of a filter, oldest first.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct History {
    /// Each time it was opened.
    pub openings: Vec<Opening>,
    /// Each bucket test.
    pub measured: Vec<Measured>,
    /// Days since it was last opened, as days of the present feed; none where that is unknown.
    pub since_days: Option<f64>,
    /// The day it was last opened.
    pub opened: Option<DateTime>,
    /// When its impeller was last out.
    pub impeller: Option<DateTime>,
}

/// The layer of the log that a medium is graded as.
pub fn layer(medium: Medium) -> Layer {
    match medium {
        Medium::FoamCoarse => Layer::Coarse,
        Medium::FoamMedium => Layer::Medium,
        Medium::FoamFine => Layer::Fine,
        Medium::Floss | Medium::Sock | Medium::AdsorbentPad => Layer::Floss,
        Medium::CeramicRings
        | Medium::Sintered
        | Medium::PlasticBalls
        | Medium::Carrier
        | Medium::Lava
        | Medium::Gravel
        | Medium::LiveRock
        | Medium::Carbon
        | Medium::AmmoniaResin
        | Medium::NitrateResin
        | Medium::PhosphateRemover => Layer::Biological,
    }
}

impl History {
    /// Of a filter of a tank, from the log and the tank file; `first_full` is the medium that fills
    /// first.
    pub fn of(
        tank: &Tank,
        filter: &Filter,
        log: &[Entry],
        first_full: Option<Medium>,
        now: DateTime,
    ) -> Self {
        let mut own: Vec<&Entry> = log
            .iter()
            .filter(|entry| entry.when.likely() <= now)
            .filter(|entry| entry.on.is_filter(tank, filter.number))
            .collect();
        own.sort_by_key(|entry| entry.when.likely());
        let feeding = Feeding::of(tank, log, now);
        let mut history = Self::default();
        let on_file = filter
            .opened
            .map(|day| day.at(12, 0, 0, 0))
            .filter(|at| *at <= now);
        let mut before: Option<DateTime> = None;
        for entry in own {
            let at = entry.when.likely();
            let begun = before.max(on_file.filter(|opened| *opened < at));
            let after_days = begun.map(|begun| feeding.days(begun, at));
            if OPENINGS.contains(&entry.happening.as_str()) {
                history.openings.push(Opening {
                    at,
                    after_days,
                    grade: grade(entry, first_full),
                    is_of_another_load: feeding.changed_after(at),
                });
                before = Some(at);
            } else if let (BUCKET, Some(flow)) = (entry.happening.as_str(), entry.amount) {
                history.measured.push(Measured {
                    at,
                    flow,
                    after_days,
                });
            } else if entry.happening == IMPELLER {
                history.impeller = Some(at);
            }
        }
        history.opened = history
            .openings
            .last()
            .map(|opening| opening.at)
            .max(on_file);
        history.since_days = history.opened.map(|opened| feeding.days(opened, now));
        history
    }
}

fn grade(entry: &Entry, first_full: Option<Medium>) -> Option<u8> {
    let grades = &entry.details.grades;
    let own = first_full.and_then(|medium| grades.get(&layer(medium)));
    own.or_else(|| grades.values().max()).copied()
}

/// How much was fed in the past, against now.
struct Feeding {
    /// From when on so many times as much as before.
    changes: Vec<(DateTime, f64)>,
}

impl Feeding {
    fn of(tank: &Tank, log: &[Entry], now: DateTime) -> Self {
        let mouths: f64 = tank.stock.iter().map(|group| f64::from(group.count)).sum();
        let factor = |effect: &Effect| match effect {
            Effect::Feed(factor) => Some(factor.max(0.01)),
            // Those that were added are among those that stand in the tank file now.
            Effect::Animals(count) if mouths > *count => Some(mouths / (mouths - count)),
            _ => None,
        };
        // What is only planned has changed nothing yet.
        let happened = log.iter().filter(|entry| entry.when.likely() <= now);
        let changes = happened.flat_map(|entry| {
            let at = entry.when.likely();
            let effects = entry.effects(tank);
            effects
                .iter()
                .filter_map(factor)
                .map(|factor| (at, factor))
                .collect::<Vec<_>>()
        });
        Self {
            changes: changes.collect(),
        }
    }

    /// What was fed at a moment over what is fed now.
    fn against_now(&self, at: DateTime) -> f64 {
        let since = self.changes.iter().filter(|(from, _)| *from > at);
        1.0 / since.map(|(_, factor)| factor).product::<f64>()
    }

    fn changed_after(&self, at: DateTime) -> bool {
        let against = self.against_now(at);
        against.max(1.0 / against) >= ANOTHER_LOAD
    }

    /// Days from one moment to another, each weighed by what was fed.
    fn days(&self, from: DateTime, to: DateTime) -> f64 {
        let mut turns: Vec<DateTime> = self
            .changes
            .iter()
            .map(|(at, _)| *at)
            .filter(|at| (from..to).contains(at))
            .collect();
        turns.push(to);
        turns.sort();
        let mut begin = from;
        let mut days = 0.0;
        for turn in turns {
            days += days_of(turn.duration_since(begin)).max(0.0) * self.against_now(begin);
            begin = turn;
        }
        days
    }
}
