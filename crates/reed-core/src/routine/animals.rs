//! Looks at what lives in the tank.

use super::interval::Interval;
use super::task::{DoneBy, Raised, Stake, Task};
use crate::tank::Planting;

pub(super) const LOOKS: &[&Task] = &[&SURFACE, &COUNT, &PLANTS];

static SURFACE: Task = Task {
    id: "look-at-surface",
    words: "Look at the surface: does it move, is there a film, do mouths stay quiet?",
    minutes: 1.0,
    stake: Stake::Lives,
    done_by: DoneBy::Entry("surface-looked-at"),
    raised: |known| {
        let why = "What stirs the surface slips and stops unseen; a glance at feeding finds it before the fish do.";
        if known.tank.stock.iter().all(|group| group.count == 0) {
            return Vec::new();
        }
        vec![Raised::of_tank(Interval::usual(7.0, why))]
    },
    ..Task::BLANK
};

static COUNT: Task = Task {
    id: "count-animals",
    words: "Count the animals",
    minutes: 5.0,
    stake: Stake::Lives,
    done_by: DoneBy::Entry("animals-counted"),
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
    ..Task::BLANK
};

static PLANTS: Task = Task {
    id: "cut-plants",
    words: "Cut the plants, take dead leaves out",
    minutes: 15.0,
    stake: Stake::Looks,
    done_by: DoneBy::Entry("plants-cut"),
    cautions: &["No open cuts on the hands: gloves."],
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
    ..Task::BLANK
};
