//! How full of dirt a filter is, and when to open it next.
//!
//! Dirt fills the ways of the bed that is full first, evenly with what is fed. How many days it
//! takes is reckoned from feed, media and what the intake catches, to a factor of two; every
//! opening that was graded and every bucket test narrows that down, by Bayes on a grid. How dirt
//! that fills its ways holds the water back is computed, so a flow speaks as far as it can: it
//! stays full long after a bed is half full.

use jiff::civil::{Date, DateTime};

use super::history::History;
use super::{Load, Plumbing};
use crate::statistics::normal_density;
use crate::tank::{Filter, IntervalSchool, Tank};
use crate::units::span_of_days;

/// Spread of the logarithm of the days that are reckoned before anything was seen: a factor of two
/// either way. A judgement.
const RECKONED_LOG_SPREAD: f64 = 0.7;
/// Spread of the logarithm of the days from one interval to the next, of the same filter with the
/// same feed. A judgement.
const INTERVALS_LOG_SPREAD: f64 = 0.25;
/// The same where stock or feed have changed since. A judgement.
const OTHER_LOAD_LOG_SPREAD: f64 = 0.6;
/// What share of its ways dirt fills by how a stage looks, from 0, as new, to 5, closed. A judgement.
const SHARE_OF_GRADE: [f64; 6] = [0.03, 0.15, 0.35, 0.55, 0.75, 0.92];
/// How far such a look is off, as a share. A judgement.
const LOOK_SPREAD: f64 = 0.13;
/// How far a bucket test is off, beside the one of the clean filter, as a share of it. A judgement.
const BUCKET_SPREAD: f64 = 0.05;
/// The same where the clean flow is computed and was never measured. From memory: pumps give 50 to
/// 70 % of their label.
const COMPUTED_CLEAN_SPREAD: f64 = 0.2;
/// Flow that has fallen to this share of the clean one: time to open. By eye a loss of a quarter
/// goes unnoticed; from memory.
pub const OPEN_AT_FLOW: f64 = 0.75;
/// Ways filled so far are too full whatever the flow says. A judgement.
const OPEN_AT_SHARE: f64 = 0.85;
/// Days after which a filter is opened whatever was learned. A judgement.
pub const HARD_LIMIT_DAYS: f64 = 180.0;
/// Days between openings where they are fixed and nobody has set any. Common practice, no source.
pub const FIXED_DAYS: f64 = 60.0;

/// Least, middle and most; four in five should lie between.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Spread {
    /// One in ten lies below.
    pub low: f64,
    /// As many above as below.
    pub middle: f64,
    /// One in ten lies above.
    pub high: f64,
}

/// How full a filter is and what follows.
#[derive(Clone, Debug, PartialEq)]
pub struct Clogging {
    /// Share of the ways of the bed that is full first which dirt fills now, 0 to 1; none where it
    /// is not known when it was opened.
    pub share: Option<Spread>,
    /// Days from clean to where it should be opened.
    pub lasts_days: Spread,
    /// The middle of the same as it is reckoned before anything is learned.
    pub reckoned_days: f64,
    /// Share at which it should be opened.
    pub open_at: f64,
    /// Which bed is full first.
    pub bed: usize,
    /// Openings that were learned from.
    pub learned_from: usize,
    /// Bucket tests that were.
    pub measured: usize,
    /// What flows through it now over what flows through it clean, by the middle share.
    pub flow_left: f64,
}

/// When to open next.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Next {
    /// From this day on it may be due.
    pub from: Date,
    /// As likely before as after.
    pub likely: Date,
    /// By this day it is due.
    pub to: Date,
    /// What sets it.
    pub by: SetBy,
}

/// What sets the day of the next opening.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum SetBy {
    /// What is known of its dirt.
    Dirt,
    /// The longest that any filter is left.
    HardLimit,
    /// A fixed interval, as the keeper has it.
    Fixed,
    /// The water change, at which its sponge is squeezed.
    WaterChange,
}

/// Points of the grid over the days that a clean filter lasts.
const POINTS: usize = 161;
/// It reaches so many spreads to either side, numeric.
const REACH: f64 = 4.0;

/// Flow over clean flow by share filled, in equal steps from clean.
struct FlowTable(Vec<f64>);

impl FlowTable {
    const STEPS: usize = 40;

    fn of(plumbing: &Plumbing, bed: usize) -> Self {
        let clean = plumbing.clean().map_or(1.0, |clean| clean.flow);
        let at = |step: usize| {
            let share = step as f64 / Self::STEPS as f64;
            plumbing.flow(Some(bed), share).map_or(0.0, |met| met.flow) / clean
        };
        Self((0..=Self::STEPS).map(at).collect())
    }

    fn at(&self, share: f64) -> f64 {
        let place = share.clamp(0.0, 1.0) * Self::STEPS as f64;
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "a place in a short table"
        )]
        let below = (place as usize).min(Self::STEPS - 1);
        let part = place - below as f64;
        self.0[below] * (1.0 - part) + self.0[below + 1] * part
    }
}

/// Share at which a filter should be opened: its flow has fallen too far, gas comes out of the water
/// at its pump, or its ways are simply full.
fn open_at(plumbing: &Plumbing, bed: usize, flows: &FlowTable) -> f64 {
    let clean = plumbing.clean().map_or(0.0, |clean| clean.flow);
    let is_due = |share: f64| {
        let flow = flows.at(share);
        let at_pump = plumbing.suction_side(clean * flow, Some(bed), share).pop();
        flow <= OPEN_AT_FLOW || at_pump.is_some_and(|pump| pump.kpa <= 0.0)
    };
    let shares = (1..FlowTable::STEPS).map(|step| step as f64 / FlowTable::STEPS as f64);
    shares
        .take_while(|share| *share < OPEN_AT_SHARE)
        .find(|share| is_due(*share))
        .unwrap_or(OPEN_AT_SHARE)
}

impl Clogging {
    /// Of a filter, by its load and its history; `None` where it holds no medium that could fill.
    pub fn of(
        plumbing: &Plumbing,
        load: &Load,
        history: &History,
        filter: &Filter,
    ) -> Option<Self> {
        let (bed, reckoned_days) = load.first_full()?;
        let flows = FlowTable::of(plumbing, bed);
        let open_at = open_at(plumbing, bed, &flows);
        // Whoever feeds nothing fills nothing: a century stands for never.
        let reckoned = reckoned_days.clamp(1.0, 36_500.0).ln();
        let days: Vec<f64> = (0..POINTS)
            .map(|point| {
                let z = REACH * (2.0 * point as f64 / (POINTS - 1) as f64 - 1.0);
                (reckoned + z * RECKONED_LOG_SPREAD).exp()
            })
            .collect();
        let mut weights: Vec<f64> = days
            .iter()
            .map(|days| normal_density(days.ln(), reckoned, RECKONED_LOG_SPREAD))
            .collect();
        let mut learned_from = 0;
        for opening in &history.openings {
            let (Some(after), Some(grade)) = (opening.after_days, opening.grade) else {
                continue;
            };
            learned_from += 1;
            let seen = SHARE_OF_GRADE[usize::from(grade).min(5)];
            let log_spread = if opening.is_of_another_load {
                OTHER_LOAD_LOG_SPREAD
            } else {
                INTERVALS_LOG_SPREAD
            };
            for (weight, days) in weights.iter_mut().zip(&days) {
                let share = (after / days).min(1.0);
                *weight *= normal_density(seen, share, LOOK_SPREAD.hypot(log_spread * share));
            }
        }
        let clean_spread = if filter.clean.is_some() {
            BUCKET_SPREAD
        } else {
            COMPUTED_CLEAN_SPREAD
        };
        let clean = filter
            .clean
            .map(|clean| clean.as_litres_per_hour())
            .or_else(|| plumbing.clean().map(|clean| clean.flow));
        let mut measured = 0;
        for test in &history.measured {
            let (Some(after), Some(clean)) = (test.after_days, clean) else {
                continue;
            };
            measured += 1;
            let ratio = test.flow / clean;
            for (weight, days) in weights.iter_mut().zip(&days) {
                let expected = flows.at(after / days);
                *weight *=
                    normal_density(ratio, expected, BUCKET_SPREAD.hypot(clean_spread)).max(1e-12);
            }
        }
        // What is asked for is the present interval, which differs from those that were seen.
        let lasts = quantiles(&days, &scattered(&weights));
        let times = |factor: f64| Spread {
            low: lasts.low * factor,
            middle: lasts.middle * factor,
            high: lasts.high * factor,
        };
        let share = history.since_days.map(|since| Spread {
            low: (since / lasts.high).min(1.0),
            middle: (since / lasts.middle).min(1.0),
            high: (since / lasts.low).min(1.0),
        });
        Some(Self {
            flow_left: flows.at(share.map_or(0.0, |share| share.middle)),
            share,
            lasts_days: times(open_at),
            reckoned_days: reckoned.exp() * open_at,
            open_at,
            bed,
            learned_from,
            measured,
        })
    }

    /// When to open it next, by the keeper's school; `None` where it is not known when it was
    /// opened.
    pub fn next(&self, tank: &Tank, history: &History, now: DateTime) -> Option<Next> {
        let opened = history.opened?;
        // Of the same feed as now: what has passed already counts as it was fed.
        let passed = history.since_days?;
        let in_days = |lasts: f64| day_after(now, lasts - passed);
        let limit = day_after(opened, HARD_LIMIT_DAYS);
        match tank.practice.interval {
            IntervalSchool::Learned | IntervalSchool::OnFlow => {
                let [from, likely, to] = [
                    self.lasts_days.low,
                    self.lasts_days.middle,
                    self.lasts_days.high,
                ]
                .map(in_days);
                let by = if likely > limit {
                    SetBy::HardLimit
                } else {
                    SetBy::Dirt
                };
                Some(Next {
                    from: from.min(limit),
                    likely: likely.min(limit),
                    to: to.min(limit),
                    by,
                })
            }
            IntervalSchool::Fixed => Some(one_day(day_after(opened, FIXED_DAYS), SetBy::Fixed)),
            IntervalSchool::EachWaterChange => {
                let every = f64::from(tank.practice.change_every_days);
                Some(one_day(day_after(opened, every), SetBy::WaterChange))
            }
        }
    }
}

const fn one_day(day: Date, by: SetBy) -> Next {
    Next {
        from: day,
        likely: day,
        to: day,
        by,
    }
}

/// The day so many days after a moment; a hundred years at most.
fn day_after(at: DateTime, days: f64) -> Date {
    let span = span_of_days(days.clamp(-36_500.0, 36_500.0)).unwrap_or_default();
    at.checked_add(span).unwrap_or(at).date()
}

/// The weights of the days that the next interval takes, from those of the days that intervals take
/// in the middle: each spread over its neighbours.
fn scattered(weights: &[f64]) -> Vec<f64> {
    let step = 2.0 * REACH * RECKONED_LOG_SPREAD / (POINTS - 1) as f64;
    let nearness: Vec<f64> = (0..weights.len())
        .map(|apart| normal_density(apart as f64 * step, 0.0, INTERVALS_LOG_SPREAD))
        .collect();
    (0..weights.len())
        .map(|to| {
            let from = weights.iter().enumerate();
            from.map(|(from, weight)| weight * nearness[from.abs_diff(to)])
                .sum()
        })
        .collect()
}

/// Where a tenth, a half and nine tenths of the weight lie below.
fn quantiles(values: &[f64], weights: &[f64]) -> Spread {
    let total: f64 = weights.iter().sum();
    let at = |share: f64| {
        let mut sum = 0.0;
        for (value, weight) in values.iter().zip(weights) {
            sum += weight;
            if sum >= share * total {
                return *value;
            }
        }
        values.last().copied().unwrap_or_default()
    };
    Spread {
        low: at(0.1),
        middle: at(0.5),
        high: at(0.9),
    }
}

/// What would change how long a filter lasts.
#[derive(Clone, Debug, PartialEq)]
pub struct WhatIf {
    /// What is done.
    pub words: &'static str,
    /// So many times as many days.
    pub factor: f64,
}

/// What a pre-filter, a coarser first stage, more of the medium that fills first, or more mouths
/// would do to the days that a filter lasts: the same reckoning of the changed tank.
pub fn what_if(tank: &Tank, filter: &Filter, caught: f64) -> Vec<WhatIf> {
    let days = |tank: &Tank, filter: &Filter| {
        let plumbing = Plumbing::of(tank, filter);
        let load = Load::of(tank, filter, &plumbing, caught);
        load.first_full().map(|(_, days)| days)
    };
    let Some(now) = days(tank, filter) else {
        return Vec::new();
    };
    let mut found = Vec::new();
    let mut tried = |words, changed: Option<f64>| {
        found.extend(changed.map(|then| WhatIf {
            words,
            factor: then / now,
        }));
    };
    if !super::load::has_prefilter(tank, filter) {
        // Behind a sponge on the intake the same share comes to each bed, of so much less.
        tried(
            "With a sponge on the intake",
            days(tank, filter).map(|days| days / (1.0 - super::load::PREFILTER_KEEPS)),
        );
    }
    let mut coarser = filter.clone();
    if let Some(tray) = coarser.trays.first_mut() {
        let litres = tray
            .media
            .first()
            .map_or(0.5, |first| first.litres.as_litres());
        tray.media.insert(
            0,
            crate::tank::Portion {
                medium: crate::tank::Medium::FoamCoarse,
                litres: crate::units::Volume::litres(litres),
                ..crate::tank::Portion::default()
            },
        );
        tried(
            "With as much coarse foam before the first stage",
            days(tank, &coarser),
        );
    }
    let mut fed = tank.clone();
    fed.feed = crate::units::Mass::grams(1.5 * tank.feed.as_grams());
    tried("With half as much fed again", days(&fed, filter));
    found
}
