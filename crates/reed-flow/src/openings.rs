//! Where water enters with a thrust, and where it leaves.

use crate::grid::{Axis, Grid};

/// A nozzle, smaller than a cell: water enters at a speed that the grid cannot show.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Nozzle {
    /// Its mouth, m from the corner of the box.
    pub at: [f32; 3],
    /// Where it points; need not be of length one.
    pub towards: [f32; 3],
    /// Volume that enters, m³/s.
    pub flow: f32,
    /// Speed at the mouth, m/s.
    pub speed: f32,
}

/// A place where water is taken out.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Drain {
    /// Its middle, m from the corner of the box.
    pub at: [f32; 3],
    /// Volume that leaves, m³/s.
    pub flow: f32,
}

impl Nozzle {
    /// Thrust over density: flow times speed, m⁴/s².
    pub fn thrust(&self) -> f32 {
        self.flow * self.speed
    }

    fn direction(&self) -> [f32; 3] {
        let length = self.towards.iter().map(|part| part * part).sum::<f32>().sqrt();
        self.towards.map(|part| part / length.max(f32::MIN_POSITIVE))
    }
}

/// What nozzles and drains do to the cells and faces around them.
#[derive(Clone, Debug, Default)]
pub(crate) struct Openings {
    /// Place of a cell and what it gains, 1/s.
    pub(crate) gains: Vec<(usize, f32)>,
    /// By axis: place of a face and the push there, m/s².
    pub(crate) pushes: [Vec<(usize, f32)>; 3],
    /// By axis: place of a face and the share of its water that a drain takes with it, 1/s.
    pub(crate) takes: [Vec<(usize, f32)>; 3],
}

/// Cells downstream of the mouth at which the thrust acts. Nearer, the wall behind the nozzle sucks a part of it back.
const THRUST_AHEAD_CELLS: f32 = 1.5;

impl Openings {
    /// The openings of a box whose faces are open (1) or closed (0).
    pub(crate) fn of(grid: &Grid, open: &[Vec<f32>; 3], nozzles: &[Nozzle], drains: &[Drain]) -> Self {
        let mut openings = Self::default();
        let volume = grid.h.powi(3);
        let strides = grid.strides();
        let wet = |at: usize| (0..3).any(|axis| open[axis][at] > 0.0 || open[axis][at + strides[axis]] > 0.0);
        for nozzle in nozzles {
            let in_cells = spread(grid, nozzle.at, None, wet);
            openings.gains.extend(in_cells.into_iter().map(|(at, share)| (at, share * nozzle.flow / volume)));
            let direction = nozzle.direction();
            let ahead = std::array::from_fn(|axis| nozzle.at[axis] + THRUST_AHEAD_CELLS * grid.h * direction[axis]);
            for axis in (0..3).filter(|axis| direction[*axis] != 0.0) {
                let push = nozzle.thrust() * direction[axis] / volume;
                let on_faces = spread(grid, ahead, Some(axis), |at| open[axis][at] > 0.0);
                openings.pushes[axis].extend(on_faces.into_iter().map(|(at, share)| (at, share * push)));
            }
        }
        for drain in drains {
            for (at, share) in spread(grid, drain.at, None, wet) {
                let rate = share * drain.flow / volume;
                openings.gains.push((at, -rate));
                for (takes, up) in openings.takes.iter_mut().zip(strides) {
                    // A face lies between two cells: each takes its half.
                    takes.extend([(at, rate / 2.0), (at + up, rate / 2.0)]);
                }
            }
        }
        openings
    }
}

/// Shares of the cells around a place, or of the faces across an axis, by cubic B-splines along each axis; those that hold no
/// water leave their share to the others.
///
/// B-splines keep their mean and their spread (a third of h²) wherever in its cell the place lies, so that a jet hardly changes
/// when its nozzle is dragged by half a cell.
fn spread(grid: &Grid, place: [f32; 3], across: Option<Axis>, wet: impl Fn(usize) -> bool) -> Vec<(usize, f32)> {
    let mut shares = vec![(0, 1.0_f32)];
    let strides = grid.strides();
    for axis in 0..3 {
        // Faces stand half a cell lower than middles.
        let half = if across == Some(axis) { 0.0 } else { 0.5 };
        let along = (place[axis] / grid.h - half).clamp(0.0, (grid.cells[axis] - 1) as f32);
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "clamped to the box")]
        let below = along.floor() as usize;
        let t = along - along.floor();
        let four = [
            (below.wrapping_sub(1), (1.0 - t).powi(3) / 6.0),
            (below, (4.0 - 6.0 * t * t + 3.0 * t.powi(3)) / 6.0),
            (below + 1, (1.0 + 3.0 * t + 3.0 * t * t - 3.0 * t.powi(3)) / 6.0),
            (below + 2, t.powi(3) / 6.0),
        ];
        shares = four
            .into_iter()
            .filter(|(index, share)| *share > 0.0 && *index < grid.cells[axis])
            .flat_map(|(index, share)| shares.iter().map(move |(at, so_far)| (at + index * strides[axis], so_far * share)))
            .collect();
    }
    let first = grid.at(0, 0, 0);
    shares.iter_mut().for_each(|(at, _)| *at += first);
    shares.retain(|(at, _)| wet(*at));
    let sum: f32 = shares.iter().map(|(_, share)| share).sum();
    shares.iter_mut().for_each(|(_, share)| *share /= sum);
    shares
}

#[cfg(test)]
mod tests {
    use super::spread;
    use crate::grid::Grid;

    #[test]
    fn shares_sum_to_one_and_balance_around_the_place() {
        let grid = Grid { cells: [8, 6, 5], h: 0.1 };
        for place in [[0.33, 0.21, 0.4], [0.0, 0.0, 0.0], [0.8, 0.6, 0.5]] {
            let shares = spread(&grid, place, None, |_| true);
            assert!((shares.iter().map(|(_, share)| share).sum::<f32>() - 1.0).abs() < 1e-6, "{place:?}");
        }
        // Wherever in its cell the place lies, mean and spread are the same.
        for step in 0_u8..10 {
            let place = 0.35 + 0.01 * f32::from(step);
            let shares = spread(&grid, [place, 0.25, 0.25], None, |_| true);
            let along = |at: usize| {
                (0..8).find(|i| (0..6).any(|j| (0..5).any(|k| grid.at(*i, j, k) == at))).expect("in the box") as f32 * 0.1 + 0.05
            };
            let mean: f32 = shares.iter().map(|(at, share)| share * along(*at)).sum();
            let spread: f32 = shares.iter().map(|(at, share)| share * (along(*at) - place).powi(2)).sum();
            assert!((mean - place).abs() < 1e-6 && (spread - 0.01 / 3.0).abs() < 1e-6, "{place}: {mean} {spread}");
        }
    }
}
