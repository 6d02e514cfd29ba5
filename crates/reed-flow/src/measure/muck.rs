//! Where muck goes: caught by an intake, or at rest where the bed is slow.
//!
//! Muck settles, rests where the water over the bed is too slow to lift it, and is lifted a few
//! centimetres elsewhere, again and again. One pass alone spreads it nearly evenly and says little;
//! after a dozen hops it lies where keepers find it. The mean flow lifts by chance, as the square
//! of its speed over the one that always lifts: gusts and fish do the rest.

use crate::field::Field;
use crate::measure::drifting::{Drifter, Met, scattered};
use crate::openings::{Drain, Movers};

/// What muck is like.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Muck {
    /// How fast it sinks, m/s. Fish droppings and leftovers: 0.002 to 0.02, from memory.
    pub sinks: f32,
    /// Mean speed of the water over the bed at which it never stays, m/s. Gusts lift loose muck at
    /// 0.01 to 0.06, from memory; the mean speed of water that gusts so is lower.
    pub lifted_at: f32,
}

impl Muck {
    /// The kinds that are followed: each lifting speed with a slow and a fast sort.
    pub const SINKS: [f32; 2] = [0.004, 0.01];
    /// The lifting speeds that are tried, slowest first.
    pub const LIFTED_AT: [f32; 3] = [0.01, 0.016, 0.03];
}

/// Parts of the bed in a map: along the length, along the depth.
pub const BINS: [usize; 2] = [6, 3];

/// What became of muck that began everywhere in the water.
#[derive(Clone, Debug, PartialEq)]
pub struct Deposit {
    /// Share that rests in each part of the bed, left to right and then front to back; with
    /// `caught` it sums to one.
    pub rests: [[f32; BINS[0]]; BINS[1]],
    /// Share caught by each intake.
    pub caught: Vec<f32>,
    /// Share that rests beside rock: within a hand's breadth of it.
    pub beside_rock: f32,
    /// Share of the open bed that lies as near to rock.
    pub bed_beside_rock: f32,
}

/// How often muck is lifted before it counts as lying where it lies.
const HOPS: usize = 12;
/// Between these heights it is lifted, m.
pub(crate) const LIFTED_BY: [f32; 2] = [0.01, 0.05];
/// Longest time between two landings, s: what floats longer is dust.
const LONGEST_FLIGHT: f32 = 300.0;
/// What comes this near to a drain is caught, m.
pub(crate) const CAUGHT_WITHIN: f32 = 0.03;
/// A hand's breadth, m.
const BESIDE: f32 = 0.08;

/// Where a piece of muck ended.
pub(crate) enum End {
    /// On the ground at this place.
    Rest([f32; 3]),
    /// At this place, by the intakes that draw there.
    Caught([f32; 3]),
}

/// Follows one piece to its end; `passed` is told every place that it passes.
pub(crate) fn follow(
    field: &Field,
    seed: u64,
    from: [f32; 3],
    muck: Muck,
    drains: &[Drain],
    mut passed: impl FnMut([f32; 3]),
) -> End {
    let mut drifter = Drifter::new(field, seed, from, -muck.sinks);
    for _ in 0..HOPS {
        let mut aloft = 0.0;
        loop {
            let (met, dt) = drifter.step();
            aloft += dt;
            passed(drifter.at);
            if drawing_at(drains, drifter.at).next().is_some() {
                return End::Caught(drifter.at);
            }
            if met == Met::Ground || aloft > LONGEST_FLIGHT {
                break;
            }
        }
        if !drifter.chance((field.speed_over(drifter.at) / muck.lifted_at).powi(2)) {
            break;
        }
        drifter.lift(LIFTED_BY);
    }
    End::Rest(drifter.at)
}

/// The drains that take what comes to a place; one through which nothing flows takes nothing.
pub(crate) fn drawing_at(drains: &[Drain], at: [f32; 3]) -> impl Iterator<Item = &Drain> {
    drains
        .iter()
        .filter(move |drain| drain.flow > 0.0 && near(at, drain.at, CAUGHT_WITHIN))
}

/// Adds what was taken in at a place to the intakes that draw there: several at one opening share
/// by their flow.
pub(crate) fn book(taken: &mut [f32], drains: &[Drain], at: [f32; 3], what: f32) {
    let all: f32 = drawing_at(drains, at).map(|drain| drain.flow).sum();
    for drain in drawing_at(drains, at) {
        taken[drain.intake] += what * drain.flow / all;
    }
}

pub(crate) fn near(one: [f32; 3], other: [f32; 3], within: f32) -> bool {
    (0..3)
        .map(|axis| (one[axis] - other[axis]).powi(2))
        .sum::<f32>()
        < within * within
}

impl Deposit {
    /// Follows so many pieces of muck, from everywhere in the water.
    pub fn of(field: &Field, muck: Muck, movers: &Movers, pieces: usize) -> Self {
        let caught = vec![0.0; movers.intakes()];
        let mut deposit = Self {
            rests: [[0.0; BINS[0]]; BINS[1]],
            caught,
            beside_rock: 0.0,
            bed_beside_rock: bed_beside(field),
        };
        let starts = scattered(field, pieces);
        let each = 1.0 / starts.len().max(1) as f32;
        let size = field.size();
        for (seed, from) in starts.into_iter().enumerate() {
            match follow(field, seed as u64, from, muck, &movers.drains, |_| ()) {
                End::Caught(at) => book(&mut deposit.caught, &movers.drains, at, each),
                End::Rest(place) => {
                    #[expect(
                        clippy::cast_possible_truncation,
                        clippy::cast_sign_loss,
                        reason = "a bin of a few"
                    )]
                    let bin = |axis: usize| {
                        ((place[axis] / size[axis] * BINS[axis] as f32) as usize)
                            .min(BINS[axis] - 1)
                    };
                    deposit.rests[bin(1)][bin(0)] += each;
                    if is_beside_rock(field, place) {
                        deposit.beside_rock += each;
                    }
                }
            }
        }
        deposit
    }

    /// Half of this and half of another.
    #[must_use]
    pub fn mixed(&self, other: &Self) -> Self {
        let half = |one: f32, other: f32| (one + other) / 2.0;
        Self {
            rests: std::array::from_fn(|row| {
                std::array::from_fn(|column| {
                    half(self.rests[row][column], other.rests[row][column])
                })
            }),
            caught: self
                .caught
                .iter()
                .zip(&other.caught)
                .map(|(one, other)| half(*one, *other))
                .collect(),
            beside_rock: half(self.beside_rock, other.beside_rock),
            bed_beside_rock: half(self.bed_beside_rock, other.bed_beside_rock),
        }
    }

    /// Share that rests anywhere on the bed.
    pub fn resting(&self) -> f32 {
        self.rests.iter().flatten().sum()
    }

    /// Share of what rests that lies between two shares of the length, 0 to 1.
    pub fn share_between(&self, from: f32, to: f32) -> f32 {
        let within = |index: usize| {
            let (lower, upper) = (
                index as f32 / BINS[0] as f32,
                (index + 1) as f32 / BINS[0] as f32,
            );
            ((upper.min(to) - lower.max(from)) * BINS[0] as f32).max(0.0)
        };
        let there: f32 = self
            .rests
            .iter()
            .flat_map(|row| row.iter().enumerate())
            .map(|(index, share)| share * within(index))
            .sum();
        there / self.resting().max(f32::MIN_POSITIVE)
    }
}

/// A place on the ground within a hand's breadth of rock at its own height or above.
fn is_beside_rock(field: &Field, place: [f32; 3]) -> bool {
    let h = field.grid().h;
    let [i, j, k] = field.cell([place[0], place[1], place[2] + 0.5 * h]);
    #[expect(
        clippy::cast_possible_truncation,
        clippy::cast_sign_loss,
        reason = "a few cells"
    )]
    let reach = (BESIDE / h).round().max(1.0) as usize;
    let [x, y, _] = field.grid().cells;
    let (columns, rows) = (
        i.saturating_sub(reach)..(i + reach + 1).min(x),
        j.saturating_sub(reach)..(j + reach + 1).min(y),
    );
    rows.into_iter()
        .any(|b| columns.clone().any(|a| field.is_solid([a, b, k])))
}

/// Share of the open bed within a hand's breadth of rock.
fn bed_beside(field: &Field) -> f32 {
    let grid = *field.grid();
    let open = grid
        .all()
        .take_while(|cell| cell[2] == 0)
        .filter(|cell| !field.is_solid(*cell));
    let (mut beside, mut all) = (0.0_f32, 0.0_f32);
    for cell in open {
        let [x, y, _] = grid.middle(cell);
        all += 1.0;
        beside += if is_beside_rock(field, [x, y, 0.0]) {
            1.0
        } else {
            0.0
        };
    }
    beside / all.max(1.0)
}

#[cfg(test)]
mod tests {
    use super::book;
    use crate::openings::Drain;

    #[test]
    fn what_comes_to_one_opening_is_shared_by_the_flow_of_its_intakes() {
        let drain = |x: f32, flow: f32, intake: usize| Drain {
            at: [x, 0.1, 0.1],
            flow,
            intake,
        };
        let drains = [
            drain(0.1, 3.0, 0),
            drain(0.1, 1.0, 1),
            drain(0.1, 0.0, 2),
            drain(0.5, 4.0, 3),
        ];
        let mut taken = vec![0.0; 4];
        book(&mut taken, &drains, [0.11, 0.1, 0.1], 1.0);
        assert_eq!(taken, [0.75, 0.25, 0.0, 0.0]);
    }
}
