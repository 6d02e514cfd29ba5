//! How water stays incompressible: the pressure that takes the divergence out.

use crate::grid::{Axis, Grid, largest};
use crate::multigrid::{Level, Multigrid};

/// Solves for pressure by conjugate gradients, each step preconditioned by a V-cycle.
#[derive(Clone, Debug)]
pub(crate) struct Pressure {
    grid: Grid,
    multigrid: Multigrid,
    left: Vec<f32>,
    direction: Vec<f32>,
    applied: Vec<f32>,
    solution: Vec<f32>,
}

impl Pressure {
    /// For a box with these faces open (1) or closed (0).
    pub(crate) fn new(grid: Grid, open: &[Vec<f32>; 3]) -> Self {
        let level = Level::new(grid.cells, |axis: Axis, [i, j, k]| open[axis][grid.at(i, j, k)]);
        let multigrid = Multigrid::new(level);
        let len = multigrid.finest().len();
        Self { grid, multigrid, left: vec![0.0; len], direction: vec![0.0; len], applied: vec![0.0; len], solution: vec![0.0; len] }
    }

    /// The pressure, in units of h² times those of `wanted`, whose Laplacian over the open faces is as wanted in every cell;
    /// at most so many steps of conjugate gradients from nothing, or until no cell is further off than `enough`. `wanted` is a field of the grid; its mean is left out, since no
    /// pressure can make water.
    pub(crate) fn solve(&mut self, wanted: &[f32], steps: usize, enough: f32, into: &mut [f32]) {
        let grid = self.grid;
        self.gather(wanted);
        self.solution.fill(0.0);
        let mut before = 0.0_f64;
        for step in 0..steps {
            let smoothed = self.multigrid.cycle(&self.left);
            let now = dot(&self.left, smoothed);
            // Below a millionth of where it began single precision has nothing left to gain; whoever wants less asks again with
            // what then diverges.
            if now <= f64::MIN_POSITIVE {
                break;
            }
            #[expect(clippy::cast_possible_truncation, reason = "the fields are single precision")]
            let keep = if step == 0 { 0.0 } else { (now / before) as f32 };
            self.direction.iter_mut().zip(smoothed).for_each(|(direction, smoothed)| *direction = smoothed + keep * *direction);
            self.multigrid.finest().apply(&self.direction, &mut self.applied);
            let along = dot(&self.direction, &self.applied);
            if along <= f64::MIN_POSITIVE {
                break;
            }
            #[expect(clippy::cast_possible_truncation, reason = "the fields are single precision")]
            let far = (now / along) as f32;
            self.solution.iter_mut().zip(&self.direction).for_each(|(value, direction)| *value += far * direction);
            self.left.iter_mut().zip(&self.applied).for_each(|(left, applied)| *left -= far * applied);
            before = now;
            if largest(&self.left) <= enough {
                break;
            }
        }
        for k in 0..grid.cells[2] {
            for j in 0..grid.cells[1] {
                let (from, to) = (self.multigrid.finest().at([0, j, k]), grid.at(0, j, k));
                into[to..to + grid.cells[0]].copy_from_slice(&self.solution[from..from + grid.cells[0]]);
            }
        }
    }

    /// The right side of the solve: what is wanted, with its sign turned (the operator is minus the Laplacian) and without its
    /// mean over the cells that hold water.
    fn gather(&mut self, wanted: &[f32]) {
        let grid = self.grid;
        let level = self.multigrid.finest();
        let (mut sum, mut wet) = (0.0_f64, 0.0_f64);
        for cell in level.wet() {
            sum += f64::from(wanted[grid.at(cell[0], cell[1], cell[2])]);
            wet += 1.0;
        }
        #[expect(clippy::cast_possible_truncation, reason = "the fields are single precision")]
        let mean = (sum / wet.max(1.0)) as f32;
        self.left.fill(0.0);
        for cell in level.wet() {
            self.left[level.at(cell)] = mean - wanted[grid.at(cell[0], cell[1], cell[2])];
        }
    }
}

fn dot(one: &[f32], other: &[f32]) -> f64 {
    // Partial sums in single precision over short runs are exact enough, and vectorise.
    one.chunks(64).zip(other.chunks(64)).map(|(one, other)| f64::from(one.iter().zip(other).map(|(a, b)| a * b).sum::<f32>())).sum()
}
