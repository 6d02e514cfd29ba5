//! Heaters, lids, air stones, spares.

use super::interval::Interval;
use super::task::{DoneBy, Raised, Stake, Task};

pub(super) const ALL: &[&Task] = &[&HEATERS, &STONE, &SPARES];

static HEATERS: Task = Task {
    id: "look-at-heaters",
    words: "Look at heaters, leads and lids",
    minutes: 5.0,
    stake: Stake::Lives,
    done_by: DoneBy::Entry("heaters-looked-at"),
    cautions: &[
        "Unplug before hands get wet. A cracked heater or a damaged lead: stop, and a licensed electrician.",
    ],
    raised: |known| {
        let has = !known.tank.things.is_empty() || !known.tank.filters.is_empty();
        let why = "A heater that sticks cooks a tank in a night, one that died cools it; drip loops slip, lids crack.";
        if has {
            vec![Raised::of_tank(Interval::usual(30.0, why))]
        } else {
            Vec::new()
        }
    },
    ..Task::BLANK
};

static STONE: Task = Task {
    id: "renew-air-stone",
    words: "New air stone, or boil the old one out",
    minutes: 5.0,
    stake: Stake::Lives,
    done_by: DoneBy::Entry("air-stone-new"),
    cautions: &["The air pump above the water level, or a check valve in its line."],
    supplies: &["air stone"],
    raised: |known| {
        let has = known
            .tank
            .things
            .iter()
            .any(|thing| thing.what.form().air().is_some());
        let why = "Pores close within months: the bubbles grow, the air pump wears out.";
        if has {
            vec![Raised::of_tank(Interval::usual(90.0, why))]
        } else {
            Vec::new()
        }
    },
    ..Task::BLANK
};

static SPARES: Task = Task {
    id: "look-at-spares",
    words: "Look what is at hand: impeller, seals, hose, air stone, a battery air pump",
    minutes: 5.0,
    stake: Stake::Gear,
    done_by: DoneBy::Entry("spares-looked-at"),
    raised: |known| {
        if known.tank.filters.is_empty() {
            return Vec::new();
        }
        let why =
            "What fails fails on a holiday; a battery air pump is the difference in a power cut.";
        vec![Raised::of_tank(Interval::usual(180.0, why))]
    },
    ..Task::BLANK
};
