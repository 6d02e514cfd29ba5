//! What a plan has to reach: the limits of the tank's purpose, each with how sure that has to be.

use super::Outcome;
use crate::diagnosis::{Case, Distress};
use crate::figure::Figure;
use crate::filter::clogging::OPEN_AT_FLOW;
use crate::statistics::normal_below;
use crate::tank::Analyte;

/// What a goal is about.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Aim {
    /// Oxygen at its lowest stays above the level to act on.
    Oxygen,
    /// Bacteria carry what is fed, with ammonia at a kit's zero.
    Capacity,
    /// Nitrate just before a water change stays below the limit.
    Nitrate,
    /// Filters whose flow was measured move enough of what they move clean.
    Flow,
}

impl Aim {
    /// In the keeper's words.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Oxygen => "Oxygen stays out of danger",
            Self::Capacity => "Bacteria carry what is fed",
            Self::Nitrate => "Nitrate stays below its limit",
            Self::Flow => "Filters move enough water",
        }
    }
}

/// A goal.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Goal {
    /// What it is about.
    pub aim: Aim,
    /// The limit, in the unit of what is compared with it: mg/L, times, share.
    pub limit: f64,
    /// How sure it has to be.
    pub wanted: f64,
    /// What full safety in it is worth against meeting the cause, which counts 1.
    pub weight: f64,
    /// How sure it is as things stand.
    pub now: f64,
}

/// Confidence that is asked for where life hangs on it, and elsewhere. Judgements.
const SURE_OF_LIFE: f64 = 0.9;
const SURE: f64 = 0.8;

/// What each aim counts for against the cause where something speaks of it: fish or a kit of
/// oxygen, ammonia or nitrite of capacity, a reading of nitrate. Judgements.
const OXYGEN_WEIGHS: f64 = 1.0;
const CAPACITY_WEIGHS: f64 = 0.3;
const NITRATE_WEIGHS: f64 = 0.15;
const FLOW_WEIGHS: f64 = 0.2;
/// Where nothing speaks of it, so many times as much: oxygen may be short all the same, but a case
/// about dirt is no reason to feed less for nitrate. Judgements.
const OXYGEN_UNASKED: f64 = 0.3;
const UNASKED: f64 = 0.0;

/// Standard deviation of the logarithm of how much surfaces carry.
const CAPACITY_SPREAD: Figure = Figure::from_memory(0.4);
/// The same of nitrate before a change: within half and double in nine of ten tanks.
const NITRATE_SPREAD: Figure = Figure::common_practice(0.42);
/// Standard deviation of a share of the clean flow by bucket.
const FLOW_SPREAD: Figure = Figure::from_memory(0.05);

impl Goal {
    /// Every goal of this case but the cause; `now` is what the models say of the tank as it
    /// stands.
    pub(super) fn all(case: &Case, now: &Outcome) -> Vec<Self> {
        let Case { tank, observed } = case;
        let is_read = |analyte| observed.latest(analyte).is_some();
        let fish_speak = Distress::worst_of(&observed.answers).is_some();
        let weight = |speaks: bool, weight: f64, unasked: f64| {
            if speaks { weight } else { weight * unasked }
        };
        let oxygen = weight(
            fish_speak || is_read(Analyte::OXYGEN),
            OXYGEN_WEIGHS,
            OXYGEN_UNASKED,
        );
        let capacity = weight(
            is_read(Analyte::AMMONIA) || is_read(Analyte::NITRITE),
            CAPACITY_WEIGHS,
            UNASKED,
        );
        let nitrate = weight(is_read(Analyte::NITRATE), NITRATE_WEIGHS, UNASKED);
        let goal = |aim, limit, wanted, weight| {
            let chance = chance(aim, limit, now)?;
            Some(Self {
                aim,
                limit,
                wanted,
                weight,
                now: chance,
            })
        };
        [
            goal(Aim::Oxygen, now.day.act_below(), SURE_OF_LIFE, oxygen),
            goal(Aim::Capacity, 1.0, SURE, capacity),
            goal(
                Aim::Nitrate,
                tank.limits().nitrate_ion_mg_l.value,
                SURE,
                nitrate,
            ),
            goal(Aim::Flow, OPEN_AT_FLOW, SURE, FLOW_WEIGHS),
        ]
        .into_iter()
        .flatten()
        .collect()
    }

    /// How sure it is with what a plan comes to.
    pub(super) fn after(&self, outcome: &Outcome) -> f64 {
        chance(self.aim, self.limit, outcome).unwrap_or(self.now)
    }
}

/// How sure it is that the aim is reached; `None` where nothing says so.
fn chance(aim: Aim, limit: f64, outcome: &Outcome) -> Option<f64> {
    Some(match aim {
        Aim::Oxygen => outcome.day.chance_lowest_above(limit),
        Aim::Capacity => normal_below((outcome.capacity? / limit).ln() / CAPACITY_SPREAD.value),
        Aim::Nitrate => {
            normal_below((limit / outcome.nitrate_mg_l.max(1e-6)).ln() / NITRATE_SPREAD.value)
        }
        Aim::Flow => normal_below((outcome.flow_left? - limit) / FLOW_SPREAD.value),
    })
}
