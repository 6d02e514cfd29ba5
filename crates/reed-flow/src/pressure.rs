//! How water stays incompressible: the pressure that takes the divergence out.

use crate::grid::{Axis, Grid};
use crate::lanes::{add, blend, dot, largest};
use crate::multigrid::{Level, Multigrid};

/// Solves for pressure by conjugate gradients, each step preconditioned by a V-cycle.
#[derive(Clone, Debug)]
pub(crate) struct Pressure {
    grid: Grid,
    multigrid: Multigrid,
    /// 1 in cells that hold water, 0 elsewhere.
    wet: Vec<f32>,
    left: Vec<f32>,
    direction: Vec<f32>,
    applied: Vec<f32>,
}

impl Pressure {
    /// For a box with these faces open (1) or closed (0).
    pub(crate) fn new(grid: Grid, open: &[Vec<f32>; 3]) -> Self {
        let multigrid = Multigrid::new(Level::new(grid, |axis: Axis, [i, j, k]| {
            open[axis][grid.at(i, j, k)]
        }));
        let wet = multigrid.finest().wet();
        Self {
            grid,
            multigrid,
            wet,
            left: grid.zeros(),
            direction: grid.zeros(),
            applied: grid.zeros(),
        }
    }

    /// The pressure, in units of h² times those of `wanted`, whose Laplacian over the open faces is
    /// as wanted in every cell; at most so many steps of conjugate gradients from nothing, or until
    /// no cell is further off than `enough`.
    ///
    /// The mean of `wanted` is left out, since no pressure can make water.
    pub(crate) fn solve(
        &mut self,
        wanted: &[f32],
        steps: usize,
        enough: f32,
        solution: &mut [f32],
    ) {
        let grid = self.grid;
        self.gather(wanted);
        solution.fill(0.0);
        let mut before = 0.0_f64;
        for step in 0..steps {
            let smoothed = self.multigrid.cycle(&self.left);
            let now: f64 = grid
                .layers()
                .map(|layer| dot(&self.left[layer.clone()], &smoothed[layer]))
                .sum();
            // Below a millionth of where it began single precision has nothing left to gain;
            // whoever wants less asks again with what then diverges.
            if now <= f64::MIN_POSITIVE {
                break;
            }
            #[expect(
                clippy::cast_possible_truncation,
                reason = "the fields are single precision"
            )]
            let keep = if step == 0 {
                0.0
            } else {
                (now / before) as f32
            };
            grid.layers().for_each(|layer| {
                blend(&mut self.direction[layer.clone()], keep, &smoothed[layer]);
            });
            let along: f64 = grid
                .layers()
                .map(|layer| {
                    self.multigrid.finest().apply(
                        layer.clone(),
                        &self.direction,
                        &mut self.applied,
                    );
                    dot(&self.direction[layer.clone()], &self.applied[layer])
                })
                .sum();
            if along <= f64::MIN_POSITIVE {
                break;
            }
            #[expect(
                clippy::cast_possible_truncation,
                reason = "the fields are single precision"
            )]
            let far = (now / along) as f32;
            let mut most = 0.0_f32;
            for layer in grid.layers() {
                add(
                    &mut solution[layer.clone()],
                    far,
                    &self.direction[layer.clone()],
                );
                add(
                    &mut self.left[layer.clone()],
                    -far,
                    &self.applied[layer.clone()],
                );
                most = most.max(largest(&self.left[layer]));
            }
            before = now;
            if most <= enough {
                break;
            }
        }
    }

    /// The right side of the solve: what is wanted, with its sign turned (the operator is minus the
    /// Laplacian) and without its mean over the cells that hold water.
    fn gather(&mut self, wanted: &[f32]) {
        let (mut sum, mut wet) = (0.0_f64, 0.0_f64);
        for layer in self.grid.layers() {
            sum += dot(&wanted[layer.clone()], &self.wet[layer.clone()]);
            wet += dot(&self.wet[layer.clone()], &self.wet[layer]);
        }
        #[expect(
            clippy::cast_possible_truncation,
            reason = "the fields are single precision"
        )]
        let mean = (sum / wet.max(1.0)) as f32;
        for layer in self.grid.layers() {
            let cells = self.left[layer.clone()]
                .iter_mut()
                .zip(&wanted[layer.clone()])
                .zip(&self.wet[layer]);
            cells.for_each(|((left, wanted), wet)| *left = wet * (mean - wanted));
        }
    }
}
