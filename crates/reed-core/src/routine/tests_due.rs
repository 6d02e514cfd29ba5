//! What is to be read: while a tank cycles, after animals came or the colony was hurt, and in quiet
//! times.

use super::interval::{Because, Interval};
use super::known::{ADDED, HURT, Known, OPENED};
use super::task::{DoneBy, Help, Raised, Stake, Task};
use crate::log::Entry;
use crate::outlook::ahead::cycling::LEAST_DKH;
use crate::outlook::forecast::Grade;
use crate::tank::Analyte;

pub(super) const ALL: &[&Task] = &[&AMMONIA, &NITRITE, &NITRATE, &HARDNESS, &OXYGEN];

/// A new tank cycles so long, days; after animals came, and after the colony was hurt, it is watched
/// so long; after an opening so long. Common practice, no source.
const CYCLES_DAYS: f64 = 42.0;
const WATCHED_DAYS: f64 = 7.0;
const AFTER_OPENING_DAYS: f64 = 3.0;

const fn test(
    id: &'static str,
    words: &'static str,
    analyte: &'static Analyte,
    stake: Stake,
    raised: fn(&Known<'_>) -> Vec<Raised>,
) -> Task {
    Task {
        id,
        words,
        minutes: 5.0,
        stake,
        done_by: DoneBy::Reading(analyte),
        helped_by: Some(Help::GuidedTests),
        raised,
        ..Task::BLANK
    }
}

static AMMONIA: Task = test(
    "test-ammonia",
    "Test ammonia",
    Analyte::AMMONIA,
    Stake::Lives,
    |known| vec![Raised::of_tank(nitrogen_interval(known, 60.0))],
);
static NITRITE: Task = test(
    "test-nitrite",
    "Test nitrite",
    Analyte::NITRITE,
    Stake::Lives,
    |known| vec![Raised::of_tank(nitrogen_interval(known, 60.0))],
);
static NITRATE: Task = test(
    "test-nitrate",
    "Test nitrate, before the water change",
    Analyte::NITRATE,
    Stake::Water,
    |known| {
        let limit =
            known.tank.limits().nitrate_ion_mg_l.value / crate::units::masses::NITRATE_PER_NITROGEN;
        let why = "Only the peaks show whether the changes are large enough.";
        let usual = Interval::usual(28.0, why);
        let over = known
            .latest(Analyte::NITRATE)
            .filter(|reading| reading.value > limit);
        vec![Raised::of_tank(match over {
            Some(reading) => usual.moved_to(
                7.0,
                Because::Learned,
                format!(
                    "the reading of {}, which was over the limit",
                    reading.taken_at.strftime("%-d %B")
                ),
            ),
            None => usual,
        })]
    },
);
static HARDNESS: Task = test(
    "test-kh",
    "Test carbonate hardness",
    Analyte::KH,
    Stake::Water,
    |known| vec![Raised::of_tank(hardness_interval(known))],
);
static OXYGEN: Task = test(
    "test-oxygen",
    "Read oxygen before lights-on",
    Analyte::OXYGEN,
    Stake::Lives,
    |known| {
        let why = "Oxygen is lowest before lights-on; the twin says what to expect, a reading whether it is right.";
        let usual = Interval::usual(60.0, why);
        vec![Raised::of_tank(match known.oxygen {
            Grade::Good => usual,
            Grade::Watch => usual.moved_to(
                14.0,
                Because::Model,
                "what the twin expects tonight: to be watched",
            ),
            Grade::Act | Grade::Distress => usual.moved_to(
                3.0,
                Because::Model,
                "what the twin expects tonight: too little",
            ),
        })]
    },
);

/// Ammonia and nitrite go together.
fn nitrogen_interval(known: &Known<'_>, quiet: f64) -> Interval {
    let within = |days: Option<f64>, most: f64| days.is_some_and(|days| days <= most);
    // By the log, or by the tank file.
    let opened = super::filters::days_open(known)
        .into_iter()
        .chain(known.days_since(&[OPENED], |_| true))
        .reduce(f64::min);
    let usual = Interval::usual(
        quiet,
        "In a settled tank both read zero; a test now and then finds what nobody saw.",
    );
    let young = known.tank.set_up.map(|day| {
        f64::from(
            known
                .now
                .date()
                .since(day)
                .map_or(0, |span| span.get_days()),
        )
    });
    if within(young, CYCLES_DAYS) {
        usual.moved_to(
            2.0,
            Because::Model,
            "the age of the tank: it cycles for about six weeks",
        )
    } else if within(known.days_since(&[ADDED], |_| true), WATCHED_DAYS) {
        usual.moved_to(
            1.0,
            Because::Practice,
            "the animals that came in: bacteria take a week to follow",
        )
    } else if within(known.days_since(&HURT, is_more_than_floss), WATCHED_DAYS) {
        usual.moved_to(
            1.0,
            Because::Practice,
            "what was done to the colony: it takes a week to grow again",
        )
    } else if within(opened, AFTER_OPENING_DAYS) {
        usual.moved_to(
            1.0,
            Because::Practice,
            "the opening of the filter: each disturbs the colony a little",
        )
    } else {
        usual
    }
}

/// New floss carries no colony, and is entered without a share or with a small one.
fn is_more_than_floss(entry: &Entry) -> bool {
    /// Percent of all media. A judgement.
    const MUCH: f64 = 20.0;
    entry.happening != "new-media" || entry.amount.is_some_and(|percent| percent >= MUCH)
}

/// Half of the days until it would fall to where bacteria falter, as fast as it was read to fall.
fn hardness_interval(known: &Known<'_>) -> Interval {
    let usual = Interval::usual(
        28.0,
        "Bacteria use it up; where it is gone they stop and the pH falls.",
    );
    let (Some(last), Some((growth, pairs))) = (
        known.latest(Analyte::KH),
        known.growth(Analyte::KH, "change"),
    ) else {
        return usual;
    };
    if growth >= 0.0 {
        return usual;
    }
    let left = ((last.value - LEAST_DKH) / -growth).max(0.0);
    let days = (left / 2.0).clamp(3.0, 60.0);
    if (days - usual.days).abs() < 3.0 {
        return usual;
    }
    let from = format!(
        "{pairs} {} of readings: it falls by {:.2} °dH a day and stands at {:.1}",
        if pairs == 1 { "pair" } else { "pairs" },
        -growth,
        last.value
    );
    usual.moved_to(days, Because::Learned, from)
}
