//! Water changes, what evaporates, and the bed.

use super::interval::{Because, Interval, days};
use super::known::Known;
use super::task::{DoneBy, Help, Raised, Stake, Task};
use crate::filter::air::{evaporates_mm_day, exposed_in_days};
use crate::tank::{Analyte, BedSchool, Substrate};
use crate::twin::numbers::Numbers;
use crate::units::masses::NITRATE_PER_NITROGEN;
use crate::water::nitrogen::changes::interval_to_hold;

pub(super) const BED: &[&Task] = &[&SIPHON];
pub(super) const ALL: &[&Task] = &[&CHANGE, &TOP_UP];

static CHANGE: Task = Task {
    id: "water-change",
    words: "Change some of the water",
    minutes: 25.0,
    stake: Stake::Water,
    done_by: DoneBy::Entry("change"),
    helped_by: Some(Help::WaterChanges),
    cautions: &[
        "Heaters off and cooled before the level drops.",
        "Start a siphon by bulb or by filling the tube, never by mouth.",
        "Refill of tank temperature, conditioned for the whole volume that needs it.",
    ],
    supplies: &["water conditioner"],
    raised: |known| {
        let tank = known.tank;
        let share = tank.practice.change_share.as_percent();
        let litres = tank.net_volume().as_litres() * share / 100.0;
        vec![
            Raised::of_tank(change_interval(known))
                .saying(format!("Change {share:.0} % of the water, {litres:.0} L")),
        ]
    },
    ..Task::BLANK
};

/// What the keeper does, unless nitrate would pass its limit: by the feed, and better by what was
/// read between changes.
fn change_interval(known: &Known<'_>) -> Interval {
    let tank = known.tank;
    let habit = f64::from(tank.practice.change_every_days);
    let share = tank.practice.change_share.as_percent() / 100.0;
    let limit = tank.limits().nitrate_ion_mg_l.value;
    let tap = known
        .latest(Analyte::TAP_NITRATE)
        .map_or(0.0, |reading| reading.value * NITRATE_PER_NITROGEN);
    let by_feed = Numbers::of(tank).nitrogen_g_per_day * 1000.0 / tank.net_volume().as_litres()
        * NITRATE_PER_NITROGEN;
    let read = known
        .growth(Analyte::NITRATE, "change")
        .map(|(gain, pairs)| ((gain * NITRATE_PER_NITROGEN).max(0.0), pairs));
    let held = |gain: f64| {
        let days = interval_to_hold(limit, tap, gain, share)?;
        // Beyond this other things than nitrate ask for fresh water. A judgement.
        Some(days.clamp(1.0, MOST_DAYS))
    };
    let percent = 100.0 * share;
    let Some(model) = held(read.map_or(by_feed, |(gain, _)| gain)) else {
        return Interval::every(
            habit,
            Because::Own,
            format!(
                "As the tank file has it. Tap water holds {tap:.0} mg/L nitrate, so that no change of it holds {limit:.0}."
            ),
        );
    };
    let from = read.map_or_else(
        || "by the feed".to_owned(),
        |(_, pairs)| format!("by {} between changes", pairs_of_readings(pairs)),
    );
    let by_readings = read.and_then(|(gain, pairs)| {
        let before = held(by_feed)?;
        let after = held(gain)?;
        ((before - after).abs() >= 1.0).then(|| super::Moved {
            before,
            after,
            from: format!("{}: nitrate grew by {gain:.1} mg/L a day, where the feed alone would give {by_feed:.1}", pairs_of_readings(pairs)),
        })
    });
    if habit <= model {
        return Interval {
            moved: None,
            ..Interval::every(
                habit,
                Because::Own,
                format!(
                    "As the tank file has it. Nitrate stays under {limit:.0} mg/L with {percent:.0} % every {} too, {from}.",
                    days(model)
                ),
            )
        };
    }
    Interval {
        moved: Some(by_readings.unwrap_or_else(|| super::Moved {
            before: habit,
            after: model,
            from: "the nitrogen of the feed".to_owned(),
        })),
        ..Interval::every(
            model,
            Because::Model,
            format!(
                "{percent:.0} % every {} would let nitrate pass {limit:.0} mg/L, {from}; this holds it.",
                days(habit)
            ),
        )
    }
}

/// Longest between two changes, days. A judgement.
const MOST_DAYS: f64 = 42.0;

fn pairs_of_readings(pairs: usize) -> String {
    if pairs == 1 {
        "one pair of readings".to_owned()
    } else {
        format!("{pairs} pairs of readings")
    }
}

static TOP_UP: Task = Task {
    id: "top-up",
    words: "Top up what has evaporated",
    minutes: 5.0,
    stake: Stake::Gear,
    done_by: DoneBy::Entry("top-up"),
    cautions: &["With water without salts: what evaporates leaves them behind."],
    raised: |known| {
        let tank = known.tank;
        let sinks = evaporates_mm_day(tank);
        let bared = tank
            .filters
            .iter()
            .filter_map(|filter| exposed_in_days(tank, filter))
            .min_by(f64::total_cmp);
        let by_level = SUNK_MM / sinks.max(1e-3);
        let days_left = bared
            .map_or(by_level, |bared| by_level.min(bared / 2.0))
            .max(1.0);
        if days_left > MOST_DAYS {
            return Vec::new();
        }
        let why = match bared.filter(|bared| *bared < 2.0 * by_level) {
            Some(bared) => format!(
                "The level sinks by about {sinks:.1} mm a day and bares an intake after {}; half of that is kept in hand.",
                days(bared)
            ),
            None => format!(
                "The level sinks by about {sinks:.1} mm a day; two centimetres are enough for heaters, lips and salts."
            ),
        };
        vec![Raised::of_tank(Interval::every(
            days_left,
            Because::Model,
            why,
        ))]
    },
    ..Task::BLANK
};

/// So far the level may sink, mm. A judgement.
const SUNK_MM: f64 = 20.0;

static SIPHON: Task = Task {
    id: "siphon-bed",
    words: "Siphon the bed",
    minutes: 15.0,
    stake: Stake::Water,
    done_by: DoneBy::Entry("bed-siphoned"),
    cautions: &[
        "Start a siphon by bulb or by filling the tube, never by mouth. A fish in the tube: let air in, the flow stops.",
        "A smell of rotten eggs: stop, ventilate, air stone in, move the animals. No smell is no proof.",
    ],
    raised: |known| {
        let tank = known.tank;
        if tank.practice.bed != BedSchool::Siphoned || tank.bed.substrate == Substrate::None {
            return Vec::new();
        }
        let is_deep = tank.bed.depth.as_cm() >= DEEP_CM;
        let words = if is_deep {
            "A hand’s breadth of the bed, the disturbed sand siphoned straight out"
        } else {
            "Siphon the bed, half of it each time"
        };
        let change = change_interval(known);
        let why = "With the water change, as you keep it: leftovers are found there even under careful feeding.";
        vec![
            Raised::of_tank(Interval::every(change.days, Because::School, why))
                .saying(words)
                .others_say("Others never siphon and let the loop carry all to the intakes; dirt that stays uses oxygen."),
        ]
    },
    ..Task::BLANK
};

/// From here on a bed stays without oxygen below, cm. Common practice.
const DEEP_CM: f64 = 5.0;
