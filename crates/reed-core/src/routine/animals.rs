//! Looks at what lives in the tank, and what it is fed.

use super::interval::Interval;
use super::task::{DoneBy, Raised, Stake, Task};
use crate::tank::Planting;

pub(super) const LOOKS: &[&Task] = &[&SURFACE, &COUNT, &FAST, &PLANTS];

static SURFACE: Task = Task {
    id: "look-at-surface",
    words: "Look at the surface: does it move, is there a film, do mouths stay quiet?",
    minutes: 1.0,
    stake: Stake::Lives,
    disturbs: false,
    done_by: DoneBy::Entry,
    cautions: &[],
    supplies: &[],
    raised: |known| {
        let why = "What stirs the surface slips and stops unseen; a glance at feeding finds it before the fish do.";
        if known.tank.stock.iter().all(|group| group.count == 0) {
            return Vec::new();
        }
        vec![Raised::of_tank(Interval::usual(7.0, why))]
    },
};

static COUNT: Task = Task {
    id: "count-animals",
    words: "Count the animals",
    minutes: 5.0,
    stake: Stake::Lives,
    disturbs: false,
    done_by: DoneBy::Entry,
    cautions: &[],
    supplies: &[],
    raised: |known| {
        let many: u32 = known.tank.stock.iter().map(|group| group.count).sum();
        let why = "One that died behind a rock rots for days; who is missing is looked for.";
        if many == 0 {
            return Vec::new();
        }
        vec![
            Raised::of_tank(Interval::usual(14.0, why))
                .saying(format!("Count the animals: {many} should be there")),
        ]
    },
};

static FAST: Task = Task {
    id: "fast-day",
    words: "A day without feed",
    minutes: 0.0,
    stake: Stake::Looks,
    disturbs: false,
    done_by: DoneBy::Entry,
    cautions: &["Not for fry, nor for what has to be fattened up."],
    supplies: &[],
    raised: |known| {
        if known.tank.feed.as_grams() <= 0.0 {
            return Vec::new();
        }
        let why = "Five to six feeding days of seven keep bellies neither hollow nor round, and the filter lasts longer.";
        vec![
            Raised::of_tank(Interval::usual(7.0, why))
                .others_say("Others feed a little every day: what counts is the sum, each portion gone within half a minute."),
        ]
    },
};

static PLANTS: Task = Task {
    id: "cut-plants",
    words: "Cut the plants, take dead leaves out",
    minutes: 15.0,
    stake: Stake::Looks,
    disturbs: false,
    done_by: DoneBy::Entry,
    cautions: &["No open cuts on the hands: gloves."],
    supplies: &[],
    raised: |known| {
        let days = match known.tank.plants.planting {
            Planting::None => return Vec::new(),
            Planting::Sparse => 42.0,
            Planting::Moderate => 28.0,
            Planting::Dense | Planting::Overgrown => 14.0,
        };
        vec![Raised::of_tank(Interval::usual(
            days,
            "Plants that reach the surface still it and shade themselves; leaves that rot use oxygen.",
        ))]
    },
};
