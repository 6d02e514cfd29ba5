//! What is fed and when: the plan of a week, held against what the animals usually take and what the
//! bacteria carry, and the days that it asks for.

use super::interval::{Because, Interval};
use super::task::{DoneBy, Raised, Stake, Task};
use crate::figure::Figure;
use crate::tank::{FeedingSchool, Purpose, Tank, Week};
use crate::twin::numbers::capacity_ratio;
use crate::units::Mass;
use crate::water::oxygen::demand::dry_feed_g;

pub(super) const ALL: &[&Task] = &[&BELLIES, &FAST, &FEED];

/// Up to so many days of a week are told one by one, common practice without a source: of more
/// fasting days those with feed are told instead.
const FEW_DAYS: u32 = 3;

static BELLIES: Task = Task {
    id: "look-at-bellies",
    words: "Look at bellies while they eat: neither hollow nor round, each portion gone within half a minute",
    minutes: 2.0,
    stake: Stake::Lives,
    done_by: DoneBy::Entry("bellies-looked-at"),
    raised: |known| {
        /// After the feed or the stock was changed one looks oftener, and for so long, days. Common
        /// practice.
        const SOONER_DAYS: f64 = 4.0;
        const FOR_DAYS: f64 = 28.0;
        if known.tank.stock.iter().all(|group| group.count == 0) {
            return Vec::new();
        }
        let why = "Hollow bellies want more, round ones less, and what is left after half a minute rots. Only the animals say whether the plan is right.";
        let usual = Interval::usual(14.0, why);
        let changed = known.days_since(&CHANGED, |_| true);
        vec![Raised::of_tank(
            match changed.filter(|days| *days <= FOR_DAYS) {
                Some(days) => usual.moved_to(
                    SOONER_DAYS,
                    Because::Practice,
                    format!(
                        "what the log has of {}: the feed, the food or the stock is another",
                        ago(days)
                    ),
                ),
                None => usual,
            },
        )]
    },
    ..Task::BLANK
};

/// Kinds of entries after which bellies say something new.
pub(super) const CHANGED: [&str; 4] = ["feed", "feeding-days", "food-changed", "animals"];

fn ago(days: f64) -> String {
    if days < 1.0 {
        "today".to_owned()
    } else {
        format!("{} ago", super::interval::days(days))
    }
}

static FAST: Task = Task {
    id: "fast-day",
    words: "A day without feed",
    minutes: 0.0,
    stake: Stake::Looks,
    done_by: DoneBy::Entry("fasted"),
    cautions: &["Not for fry, nor for what has to be fattened up."],
    raised: |known| {
        let school = known.tank.practice.feeding;
        let fasting = school.fed().others();
        // Young ones and those that spawn are fed every day, unless their keeper says otherwise.
        let is_spared = match known.tank.purpose {
            Purpose::GrowingOn | Purpose::Breeding => school == FeedingSchool::Unsaid,
            Purpose::Transport => true,
            Purpose::Display | Purpose::Quarantine | Purpose::Treatment => false,
        };
        let is_fed = known.tank.feed.as_grams() > 0.0;
        if !is_fed || is_spared || school == FeedingSchool::Daily {
            return Vec::new();
        }
        if school == FeedingSchool::Unsaid {
            let why = "Five to six feeding days of seven keep bellies neither hollow nor round, and the filter lasts longer. Say in the tank file on which days they are fed, and the arithmetic follows.";
            return vec![Raised::of_tank(Interval::usual(7.0, why)).others_say(DAILY)];
        }
        if fasting.count() > FEW_DAYS {
            return Vec::new();
        }
        let why = format!("Nothing on {}, as you keep it.", fasting.words());
        vec![on_days(fasting, why).others_say(DAILY)]
    },
    ..Task::BLANK
};

const DAILY: &str = "Others feed a little every day: what counts is the sum, each portion gone within half a minute.";

static FEED: Task = Task {
    id: "feed-day",
    words: "Feed them",
    minutes: 2.0,
    stake: Stake::Looks,
    done_by: DoneBy::Entry("fed"),
    raised: |known| {
        let school = known.tank.practice.feeding;
        let fed = school.fed();
        let travels = known.tank.purpose == Purpose::Transport;
        if known.tank.feed.as_grams() <= 0.0 || fed.count() > FEW_DAYS || travels {
            return Vec::new();
        }
        let why = format!("Fed on {} alone, as you keep it.", fed.words());
        let task = format!("Feed them: {}", Plan::of(known.tank).portions_words());
        vec![on_days(fed, why).saying(task).others_say(
            "Small animals starve on so few days; others feed them a little every day.",
        )]
    },
    ..Task::BLANK
};

/// On these days of each week.
fn on_days(week: Week, why: String) -> Raised {
    let days = 7.0 / f64::from(week.count().max(1));
    Raised {
        week: Some(week),
        ..Raised::of_tank(Interval::every(days, Because::School, why))
    }
}

/// What is fed in a week, and what stands against it.
#[derive(Clone, Debug, PartialEq)]
pub struct Plan {
    /// The days on which they are fed.
    pub fed: Week,
    /// On such a day, as fed, g.
    pub on_a_day_g: f64,
    /// In so many portions.
    pub portions: u32,
    /// They travel: nothing is fed, so that nothing fouls their water.
    pub travels: bool,
    /// What animals of this size usually take on such a day, as fed, g: from, to. None without
    /// animals.
    pub usual_g: Option<(f64, f64)>,
}

/// How a plan stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Stands {
    /// There is nobody to feed.
    Nobody,
    /// They travel, unfed.
    Travels,
    /// Nothing is fed by the tank file.
    Unfed,
    /// More than the bacteria carry.
    OverCarried,
    /// More than animals of this size usually take.
    Much,
    /// Less than they usually take, and the bacteria carry more.
    LittleAndCarried,
    /// Less than they usually take, and the bacteria carry no more.
    LittleAndNotCarried,
    /// As usual.
    Usual,
}

/// A fish of a gram takes such a share of its mass a day in dry feed, at 25 °C; with its mass to
/// this power less; within these bounds. From memory: 0.5 to 3 % of the mass by size and
/// temperature is what is published for small warm-water fish.
const OF_A_GRAM: Figure = Figure::from_memory(0.03);
const WITH_MASS: Figure = Figure::from_memory(-0.25);
const SHARES: [Figure; 2] = [Figure::from_memory(0.005), Figure::from_memory(0.03)];
/// Ten degrees double it. From memory.
const PER_TEN_DEGREES: Figure = Figure::from_memory(2.0);
/// What is usual is known to these factors. A judgement: kinds differ, and grazers feed themselves.
const KNOWN_TO: (f64, f64) = (0.5, 1.6);

impl Plan {
    /// Of a tank, by its file.
    pub fn of(tank: &Tank) -> Self {
        let fed = tank.practice.feeding.fed();
        let on_a_day_g = tank.feed.as_grams();
        let mean_to_a_day = 7.0 / f64::from(fed.count().max(1));
        let dry_g: f64 = tank
            .stock
            .iter()
            .map(|group| {
                let each = group.mass_each().as_grams();
                let of_mass = OF_A_GRAM.value * each.max(1e-3).powf(WITH_MASS.value);
                f64::from(group.count) * each * of_mass.clamp(SHARES[0].value, SHARES[1].value)
            })
            .sum();
        let warmth = PER_TEN_DEGREES
            .value
            .powf((tank.water_temperature().as_celsius() - 25.0) / 10.0);
        // What is mostly water is fed in larger portions.
        let dry_share = dry_feed_g(Mass::grams(1.0), tank.feed_protein).max(0.01);
        let usual = dry_g * warmth * mean_to_a_day / dry_share;
        Self {
            fed,
            on_a_day_g,
            // Small animals little and often, those fed seldom at once. Common practice.
            travels: tank.purpose == Purpose::Transport,
            portions: if fed.count() > FEW_DAYS { 2 } else { 1 },
            usual_g: (usual > 0.0).then_some((KNOWN_TO.0 * usual, KNOWN_TO.1 * usual)),
        }
    }

    /// How it stands, where the bacteria carry so much ([`carried_g`]).
    pub fn stands(&self, carried_g: Option<f64>) -> Stands {
        if self.travels {
            return Stands::Travels;
        }
        let Some((low, high)) = self.usual_g else {
            return Stands::Nobody;
        };
        let fed = self.on_a_day_g;
        if fed <= 0.0 {
            return Stands::Unfed;
        }
        let carried = carried_g.unwrap_or(f64::INFINITY);
        if fed > carried {
            Stands::OverCarried
        } else if fed > high {
            Stands::Much
        } else if fed < low && low <= carried {
            Stands::LittleAndCarried
        } else if fed < low {
            Stands::LittleAndNotCarried
        } else {
            Stands::Usual
        }
    }

    /// “2 portions of 0.4 g”.
    pub fn portions_words(&self) -> String {
        let each = grams(self.on_a_day_g / f64::from(self.portions));
        if self.portions == 1 {
            format!("one portion of {each}")
        } else {
            format!("{} portions of {each}", self.portions)
        }
    }

    /// What is fed and when, in a sentence for whoever stands in; nothing where nothing is fed.
    pub fn words(&self) -> String {
        if self.travels {
            return Stands::Travels.advice().to_owned();
        }
        if self.on_a_day_g <= 0.0 {
            return String::new();
        }
        let fasting = self.fed.others();
        let none = if fasting.count() == 0 {
            String::new()
        } else {
            format!("; nothing on {}", fasting.words())
        };
        format!(
            "Feed {} a day{none}. No more: leftovers rot.",
            self.portions_words()
        )
    }
}

impl Stands {
    /// What to do, in a sentence or two.
    pub const fn advice(self) -> &'static str {
        match self {
            Stands::Nobody => {
                "There are no animals in the tank file, so nothing says how much they take."
            }
            Stands::Travels => {
                "They travel: no feed for a day before and on the way, since what they give off stays in their water."
            }
            Stands::Unfed => {
                "The tank file says that nothing is fed: enter what they get, or the load of the filter is unknown."
            }
            Stands::OverCarried => {
                "More than the bacteria carry at a kit’s zero: feed less, or give them more surface, before ammonia stays."
            }
            Stands::Much => {
                "More than animals of this size usually take. Leftovers rot; what is not gone within half a minute was too much."
            }
            Stands::LittleAndCarried => {
                "Less than animals of this size usually take, and the bacteria carry more: look at bellies, and where they are hollow feed a third more, with two tests of ammonia and nitrite in the first week."
            }
            Stands::LittleAndNotCarried => {
                "Less than animals of this size usually take, but the bacteria carry no more: more surface first, then more feed."
            }
            Stands::Usual => {
                "Within what animals of this size usually take, and within what the bacteria carry."
            }
        }
    }
}

/// The most that can be fed on a day of feed while the bacteria on all surfaces keep up at a kit's
/// zero, g as fed. More feed takes more oxygen, of which bacteria need their share, so that twice the
/// surface is less than twice the feed. None where nothing is fed.
pub fn carried_g(tank: &Tank) -> Option<f64> {
    /// Halvings until the second digit stands.
    const HALVINGS: usize = 9;
    let is_carried = |feed_g: f64| {
        let fed = Tank {
            feed: Mass::grams(feed_g),
            ..tank.clone()
        };
        capacity_ratio(&fed).is_some_and(|ratio| ratio >= 1.0)
    };
    let ratio = capacity_ratio(tank)?;
    let fed = tank.feed.as_grams();
    // The ratio falls with the feed: what it promises from here is too much from below, and too
    // little from above.
    let (mut low, mut high) = if ratio < 1.0 {
        (0.0, fed)
    } else {
        (fed, ratio * fed)
    };
    for _ in 0..HALVINGS {
        let middle = f64::midpoint(low, high);
        if is_carried(middle) {
            low = middle;
        } else {
            high = middle;
        }
    }
    Some(low)
}

/// A weight of feed, with two digits.
pub fn grams(grams: f64) -> String {
    if grams >= 10.0 {
        format!("{grams:.0} g")
    } else if grams >= 1.0 {
        format!("{grams:.1} g")
    } else {
        format!("{grams:.2} g")
    }
}
