//! What is believed of a tank's nitrogen: a crowd of guesses that agree with what was read.
//!
//! A sequential Monte Carlo sampler (Del Moral, Doucet & Jasra 2006): guesses are drawn from what
//! is assumed; the readings are let in by degrees, each time so far that half of the crowd stays
//! alive, which then is drawn anew and moved about by Metropolis steps, until the readings count in
//! full. A Kalman filter would be quicker and wrong: a colony that is growing or gone makes the
//! courses anything but Gaussian. A bootstrap particle filter would starve: what is not known here
//! are constants, not noise.

use jiff::civil::DateTime;

use super::course::{begin, beginning, dkh, run};
use super::event::{Event, is_masked, with_habit};
use super::guess::{Guess, UNKNOWN};
use super::reached::Reached;
use super::setting::Setting;
use crate::tank::{Analyte, Reading, Species};
use crate::units::days_of;
use crate::water::nitrogen::cycle::State;

/// Guesses in the crowd.
const CROWD: usize = 128;
/// Share of the crowd that letting in readings leaves alive, counted by weights. Common practice of
/// such samplers.
const ALIVE: f64 = 0.5;
/// A move is worth this much of the crowd's own spread: 2.38 over the root of the dimensions
/// (Roberts, Gelman & Gilks 1997).
const STRIDE: f64 = 0.75;
/// Each guess is to have moved so many times after a stage, on average, or been tried so many
/// times.
const MOVED: f64 = 1.2;
const TRIED: usize = 8;
/// A model this simple is off by as much of a value, one standard deviation. A judgement.
pub(super) const MODEL_SPREAD: f64 = 0.12;

/// Share of readings that are mistaken: a wrong bottle, a wrong card, a slip of the pen. A judgement.
const MISTAKEN: f64 = 0.07;

/// One of the things that are not known.
type Unknown = fn(&Guess) -> f64;

/// A guess with where it has come to; each as likely as the other.
#[derive(Clone, Copy, Debug)]
pub(super) struct Member {
    pub(super) guess: Guess,
    pub(super) now: Reached,
    /// Logarithm of the likelihood of all readings.
    log: f64,
}

/// What is believed now.
#[derive(Clone, Debug)]
pub struct NitrogenBelief {
    pub(super) members: Vec<Member>,
    /// How many readings counted.
    pub readings: usize,
}

/// How much of what is believed comes from readings.
#[derive(Clone, Debug, PartialEq)]
pub struct Learned {
    /// What it is about.
    pub what: &'static str,
    /// Factor on what was assumed, likeliest.
    pub factor: f64,
    /// Share of the doubt that the readings took, 0 to 1.
    pub share: f64,
}

/// A reading that counts: the day from now, and how it compares with a state.
struct Seen {
    day: f64,
    value: f64,
    spread: f64,
    of: fn(&State) -> f64,
}

impl Seen {
    fn log_likelihood(&self, state: &State) -> f64 {
        let there = (self.of)(state).max(0.0);
        let spread = self.spread.hypot(MODEL_SPREAD * there);
        let off = (self.value - there) / spread;
        // Tails heavier than Gaussian, and a share of readings that are simply mistaken: one bad
        // reading does not decide.
        let sound = (1.0 + off * off / 4.0).powf(-2.5) / spread;
        let wide = spread.hypot(there.max(self.value));
        let far = (self.value - there) / wide;
        let mistaken = (-far * far / 2.0).exp() / wide;
        ((1.0 - MISTAKEN) * sound + MISTAKEN * mistaken).ln()
    }
}

fn seen(setting: &Setting, known: &[Event], readings: &[Reading], now: DateTime) -> Vec<Seen> {
    let mut all: Vec<Seen> = readings
        .iter()
        .filter_map(|reading| {
            let day = -days_of(now.duration_since(reading.taken_at));
            let of: fn(&State) -> f64 = match reading.analyte {
                analyte
                    if analyte == Analyte::AMMONIA
                        && !is_masked(setting, known, Species::Ammonia, day) =>
                {
                    |state| state.tan
                }
                analyte if analyte == Analyte::NITRITE => |state| state.nitrite,
                analyte
                    if analyte == Analyte::NITRATE
                        && !is_masked(setting, known, Species::Nitrate, day) =>
                {
                    |state| state.nitrate
                }
                analyte if analyte == Analyte::KH => dkh,
                _ => return None,
            };
            Some(Seen {
                day,
                value: reading.value,
                spread: reading.spread.max(1e-3),
                of,
            })
        })
        .filter(|seen| seen.day <= 0.0 && seen.day > -LONGEST_MEMORY_DAYS)
        .collect();
    all.sort_by(|one, other| one.day.total_cmp(&other.day));
    all
}

/// Readings older than this are forgotten: stock and habits have changed. A judgement.
const LONGEST_MEMORY_DAYS: f64 = 120.0;

impl NitrogenBelief {
    /// What the readings leave of what was assumed. The same readings give the same belief.
    pub fn learned(
        setting: &Setting,
        known: &[Event],
        readings: &[Reading],
        now: DateTime,
    ) -> Self {
        let seen = seen(setting, known, readings, now);
        let first = seen.first().map_or(0.0, |seen| seen.day);
        let from = beginning(setting, first);
        let events = with_habit(known, setting, from, 0.0);
        let days: Vec<f64> = seen.iter().map(|seen| seen.day).collect();
        let follow = |guess: &Guess| {
            let mut reached = begin(setting, guess, from);
            let mut log = 0.0;
            run(
                setting,
                guess,
                &mut reached,
                (from, 0.0),
                &events,
                &days,
                |index, state| log += seen[index].log_likelihood(state),
            );
            (reached, log)
        };
        let follow = |guess: Guess| {
            let (now, log) = follow(&guess);
            Member { guess, now, log }
        };
        let mut rng = fastrand::Rng::with_seed(seen.len() as u64);
        let mut members: Vec<Member> = (0..CROWD)
            .map(|_| follow(Guess::from_array(std::array::from_fn(|_| normal(&mut rng)))))
            .collect();
        let mut power = if seen.is_empty() { 1.0 } else { 0.0 };
        while power < 1.0 {
            let next = let_in(&members, power);
            let weights = weighed(&members, next - power);
            let stride = strides(&members, &weights);
            members = drawn(&members, &weights, CROWD);
            let (mut moved, mut tried) = (0, 0);
            while tried < TRIED && moved < moves_wanted() {
                for member in &mut members {
                    let other = follow(stepped(&member.guess, &stride, &mut rng));
                    let gain = next * (other.log - member.log) + other.guess.log_prior()
                        - member.guess.log_prior();
                    if gain.is_finite() && rng.f64().max(1e-300).ln() < gain {
                        *member = other;
                        moved += 1;
                    }
                }
                tried += 1;
            }
            power = next;
        }
        Self {
            members,
            readings: seen.len(),
        }
    }

    /// What was learned of what sets the course: load, surface, colony, what plants take.
    pub fn learned_of(&self, setting: &Setting) -> Vec<Learned> {
        let colony = if setting.young_days.is_some() {
            "Bacteria at the start"
        } else {
            "Colony"
        };
        let unknowns: [(Unknown, &'static str); 4] = [
            (|guess| guess.load, "Load"),
            (|guess| guess.surface, "Surface"),
            (|guess| guess.colony, colony),
            (|guess| guess.uptake, "Taken by plants"),
        ];
        unknowns
            .into_iter()
            .map(|(of, what)| {
                let count = self.members.len() as f64;
                let mean = self
                    .members
                    .iter()
                    .map(|member| of(&member.guess))
                    .sum::<f64>()
                    / count;
                let variance = self
                    .members
                    .iter()
                    .map(|member| (of(&member.guess) - mean).powi(2))
                    .sum::<f64>()
                    / count;
                Learned {
                    what,
                    factor: Guess::from_array([mean; UNKNOWN]).factor(of),
                    share: (1.0 - variance).clamp(0.0, 1.0),
                }
            })
            .collect()
    }
}

/// Moves that a stage wants of the whole crowd.
const fn moves_wanted() -> usize {
    #[expect(
        clippy::cast_possible_truncation,
        clippy::cast_sign_loss,
        reason = "some hundreds"
    )]
    let wanted = (MOVED * CROWD as f64) as usize;
    wanted
}

/// How far readings can be let in, from this power of their likelihood, up to 1.
fn let_in(members: &[Member], from: f64) -> f64 {
    let alive = |to: f64| {
        1.0 / weighed(members, to - from)
            .iter()
            .map(|weight| weight * weight)
            .sum::<f64>()
    };
    let enough = ALIVE * members.len() as f64;
    if alive(1.0) >= enough {
        return 1.0;
    }
    let (mut low, mut high) = (from, 1.0);
    for _ in 0..30 {
        let middle = f64::midpoint(low, high);
        if alive(middle) >= enough {
            low = middle;
        } else {
            high = middle;
        }
    }
    // However sharp the readings, it goes on.
    high.max(from + 1e-6)
}

/// Weights by a power of the likelihood; they sum to one.
fn weighed(members: &[Member], power: f64) -> Vec<f64> {
    let most = members
        .iter()
        .map(|member| member.log)
        .filter(|log| log.is_finite())
        .fold(f64::NEG_INFINITY, f64::max);
    let weight = |member: &Member| {
        if member.log.is_finite() {
            (power * (member.log - most)).exp()
        } else {
            0.0
        }
    };
    let weights: Vec<f64> = members.iter().map(weight).collect();
    let sum = weights.iter().sum::<f64>().max(f64::MIN_POSITIVE);
    weights.into_iter().map(|weight| weight / sum).collect()
}

/// So many of them, each as often as its weight has it: systematic resampling.
fn drawn(members: &[Member], weights: &[f64], count: usize) -> Vec<Member> {
    let (mut sum, mut member) = (0.0, 0);
    (0..count)
        .map(|index| {
            let at = (index as f64 + 0.5) / count as f64;
            while member + 1 < members.len() && sum + weights[member] < at {
                sum += weights[member];
                member += 1;
            }
            members[member]
        })
        .collect()
}

type Square = [[f64; UNKNOWN]; UNKNOWN];

/// The triangular root of the crowd's covariance, by the length of a stride.
fn strides(members: &[Member], weights: &[f64]) -> Square {
    let pairs = || {
        members
            .iter()
            .map(|member| member.guess.to_array())
            .zip(weights)
    };
    let mean: [f64; UNKNOWN] =
        std::array::from_fn(|index| pairs().map(|(guess, weight)| weight * guess[index]).sum());
    let mut root: Square = [[0.0; UNKNOWN]; UNKNOWN];
    for row in 0..UNKNOWN {
        for column in 0..=row {
            let together: f64 = pairs()
                .map(|(guess, weight)| {
                    weight * (guess[row] - mean[row]) * (guess[column] - mean[column])
                })
                .sum();
            let before: f64 = (0..column)
                .map(|index| root[row][index] * root[column][index])
                .sum();
            root[row][column] = if row == column {
                // A crowd that has come together still takes small strides.
                (together - before).max(1e-4).sqrt()
            } else {
                (together - before) / root[column][column]
            };
        }
    }
    root.map(|row| row.map(|part| STRIDE * part))
}

fn stepped(guess: &Guess, stride: &Square, rng: &mut fastrand::Rng) -> Guess {
    let throw: [f64; UNKNOWN] = std::array::from_fn(|_| normal(rng));
    let step = |row: usize| {
        (0..=row)
            .map(|column| stride[row][column] * throw[column])
            .sum::<f64>()
    };
    let from = guess.to_array();
    Guess::from_array(std::array::from_fn(|row| from[row] + step(row)))
}

/// A standard normal draw: Box & Muller 1958.
pub(super) fn normal(rng: &mut fastrand::Rng) -> f64 {
    let (one, other) = (rng.f64().max(1e-12), rng.f64());
    (-2.0 * one.ln()).sqrt() * (std::f64::consts::TAU * other).cos()
}
