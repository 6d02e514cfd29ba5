//! The water in a box, moved on step by step.

use std::ops::Range;

use multiversion::multiversion;

use crate::advect::Fluxes;
use crate::grid::{Axis, Grid, ahead, behind};
use crate::lanes::{add, largest, most};
use crate::openings::{Movers, Openings};
use crate::pressure::Pressure;
use crate::turbulence;
use crate::walls::{Wall, Walls, add_drag, fill};

/// Speeds and pressure of the water in a box.
#[derive(Clone, Debug)]
pub struct Flow {
    grid: Grid,
    walls: Walls,
    /// By axis, m/s; see [`Grid`] for where they stand.
    speeds: [Vec<f32>; 3],
    /// Pressure over density, m²/s².
    pressure: Vec<f32>,
    /// Kinematic viscosity in the middle of each cell, m²/s; molecular and turbulent together.
    viscosity: Vec<f32>,
    /// The largest of it.
    thickest: f32,
    /// By axis, 1 where water may pass a face and 0 where not.
    open: [Vec<f32>; 3],
    /// Which cells are rock, by place.
    solid: Vec<bool>,
    openings: Openings,
    molecular: f32,
    solver: Pressure,
    /// The pressure is that of the step before, so that it only has to be corrected.
    pressure_is_known: bool,
    fluxes: Fluxes,
    change: [Vec<f32>; 3],
    scratch: Vec<f32>,
    correction: Vec<f32>,
}

/// Largest sum of |u|, |v| and |w| times dt over h: beyond 1 the limiter's promise not to overshoot
/// is off.
const COURANT: f32 = 0.9;
/// Largest share of the explicit limit of friction, h² / 6 ν.
const FRICTION_SHARE: f32 = 0.8;
/// So many times the water is pushed on by the pressure as it is known before what diverges is taken
/// out: the pressure changes slower than the speeds.
const PUSHED_ON: usize = 2;
/// Longest step where nothing moves, s.
const LONGEST_STEP_S: f32 = 1.0;
/// Most steps of conjugate gradients per step of time. The pressure is carried on, so that each
/// only corrects the last: one is mostly enough.
const SOLVER_STEPS: usize = 3;
/// Divergence that may be left while the water moves, as a share of its largest speed over the edge
/// of a cell.
const DIVERGENCE: f32 = 9e-4;

/// What was stirred diverges grossly. Single precision takes out some five digits at a time, so it
/// is done again from what is left.
const STIRRED_SOLVES: usize = 3;
const STIRRED_SOLVER_STEPS: usize = 6;

impl Flow {
    /// Water at rest in a box, of this kinematic viscosity, m²/s. `solid(cell)` says which cells
    /// are rock.
    ///
    /// # Panics
    /// If the grid has no cells, or an edge or viscosity that is not positive.
    pub fn at_rest(
        grid: Grid,
        walls: Walls,
        viscosity: f32,
        solid: impl Fn([usize; 3]) -> bool,
    ) -> Self {
        assert!(
            !grid.is_empty() && grid.h > 0.0 && viscosity > 0.0,
            "a box has cells, and water friction"
        );
        let mut rock = vec![false; grid.len()];
        for [i, j, k] in grid.all() {
            rock[grid.at(i, j, k)] = solid([i, j, k]);
        }
        let mut open: [Vec<f32>; 3] = std::array::from_fn(|_| grid.zeros());
        for (axis, down) in grid.strides().into_iter().enumerate() {
            for cell in grid.all().filter(|cell| cell[axis] > 0) {
                let at = grid.at(cell[0], cell[1], cell[2]);
                open[axis][at] = if rock[at] || rock[at - down] {
                    0.0
                } else {
                    1.0
                };
            }
        }
        let zeros = || std::array::from_fn(|_| grid.zeros());
        Self {
            solver: Pressure::new(grid, &open),
            speeds: zeros(),
            pressure: grid.zeros(),
            pressure_is_known: false,
            viscosity: vec![viscosity; grid.len()],
            thickest: viscosity,
            molecular: viscosity,
            solid: rock,
            openings: Openings::default(),
            fluxes: Fluxes::default(),
            change: zeros(),
            scratch: grid.zeros(),
            correction: grid.zeros(),
            grid,
            walls,
            open,
        }
    }

    /// Puts movers in place of those that were there, and the turbulence that goes with them, so
    /// many times as strong as it is thought to be. What enters more than leaves, or less, is taken
    /// out or put in evenly everywhere.
    pub fn open(&mut self, movers: &Movers, eddies: f32) {
        self.openings = Openings::of(&self.grid, &self.open, movers);
        self.viscosity = turbulence::viscosity(&self.grid, self.molecular, movers, eddies);
        self.thickest = largest(&self.viscosity);
        self.pressure_is_known = false;
    }

    /// Where its numbers stand.
    pub const fn grid(&self) -> &Grid {
        &self.grid
    }

    /// Speed along an axis on the lower faces of the cells, m/s.
    pub fn speed(&self, axis: Axis) -> &[f32] {
        &self.speeds[axis]
    }

    /// Viscosity in the middle of each cell, m²/s.
    pub fn viscosity(&self) -> &[f32] {
        &self.viscosity
    }

    /// Which cells are rock, by place.
    pub fn solid(&self) -> &[bool] {
        &self.solid
    }

    /// Sets the speeds on open faces from a function of the axis and the place of the face, in m
    /// from the corner of the box; what then diverges is taken out.
    pub fn stir(&mut self, speed: impl Fn(Axis, [f32; 3]) -> f32) {
        for axis in 0..3 {
            for [i, j, k] in self.grid.all() {
                let at = self.grid.at(i, j, k);
                let mut place = self.grid.middle([i, j, k]);
                place[axis] -= 0.5 * self.grid.h;
                self.speeds[axis][at] = self.open[axis][at] * speed(axis, place);
            }
        }
        self.clean();
    }

    /// Begins with the speeds of another flow of the same box, on whatever grid; what then diverges
    /// is taken out.
    pub fn begin_as(&mut self, other: &Self) {
        let from = other.grid;
        self.stir(|axis, place| {
            // Of the eight faces around the place each by its nearness along each axis.
            let mut sum = 0.0;
            let near: [[(usize, f32); 2]; 3] = std::array::from_fn(|along| {
                let half = if along == axis { 0.0 } else { 0.5 };
                let most = if along == axis {
                    from.cells[along]
                } else {
                    from.cells[along] - 1
                };
                let at = (place[along] / from.h - half).clamp(0.0, most as f32);
                #[expect(
                    clippy::cast_possible_truncation,
                    clippy::cast_sign_loss,
                    reason = "clamped to the box"
                )]
                let lower = (at as usize).min(most.saturating_sub(1));
                [
                    (lower, 1.0 - (at - lower as f32)),
                    (lower + 1, at - lower as f32),
                ]
            });
            for (i, x) in near[0] {
                for (j, y) in near[1] {
                    for (k, z) in near[2] {
                        sum += x * y * z * other.speeds[axis][from.at(i, j, k)];
                    }
                }
            }
            sum
        });
    }

    /// The step of time that the present speeds allow, s.
    pub fn longest_step(&self) -> f32 {
        let fastest = self.fastest();
        let by_speed = COURANT * self.grid.h / fastest.max(1e-9);
        let by_friction = FRICTION_SHARE * self.grid.h * self.grid.h / (6.0 * self.thickest);
        (PUSHED_ON as f32 * by_speed.min(by_friction)).min(LONGEST_STEP_S)
    }

    /// Largest sum of the three speeds at a cell or of a wall, m/s.
    fn fastest(&self) -> f32 {
        let [u, v, w] = &self.speeds;
        let of_water = self
            .grid
            .layers()
            .map(|layer| largest_sum(&u[layer.clone()], &v[layer.clone()], &w[layer]));
        of_water.chain(self.wall_speeds()).fold(0.0, f32::max)
    }

    fn wall_speeds(&self) -> impl Iterator<Item = f32> {
        self.walls.iter().flatten().map(|wall| match wall {
            Wall::Slip | Wall::Rough(_) => 0.0,
            Wall::Stick(own) => own.iter().map(|speed| speed.abs()).sum(),
        })
    }

    /// Moves the water on by `dt` seconds, at most [`Flow::longest_step`].
    pub fn step(&mut self, dt: f32) {
        for _ in 0..PUSHED_ON {
            self.push_on(dt / PUSHED_ON as f32);
        }
        let solver_steps = if self.pressure_is_known {
            SOLVER_STEPS
        } else {
            STIRRED_SOLVER_STEPS
        };
        self.project(dt, solver_steps, DIVERGENCE * self.fastest());
        self.pressure_is_known = true;
    }

    /// Moves the water on by what it carries, friction, movers and the pressure as it is known.
    fn push_on(&mut self, dt: f32) {
        for axis in 0..3 {
            fill(&self.grid, &self.walls, axis, &mut self.speeds[axis]);
        }
        for component in 0..3 {
            let (speed, change) = (&self.speeds[component], &mut self.change[component]);
            change.fill(0.0);
            self.fluxes
                .add(&self.grid, &self.speeds, &self.viscosity, component, change);
            add_drag(&self.grid, &self.walls, component, speed, change);
            self.openings.pushes[component]
                .iter()
                .for_each(|(at, push)| change[*at] += push);
            // Water that is taken out takes its momentum along.
            self.openings.takes[component]
                .iter()
                .for_each(|(at, rate)| change[*at] -= rate * speed[*at]);
        }
        for (component, down) in self.grid.strides().into_iter().enumerate() {
            let (speed, change, open) = (
                &mut self.speeds[component],
                &self.change[component],
                &self.open[component],
            );
            for layer in self.grid.layers() {
                let (open, change) = (&open[layer.clone()], &change[layer.clone()]);
                change_and_push_along(
                    &mut speed[layer.clone()],
                    open,
                    (change, dt),
                    &self.pressure,
                    layer,
                    (down, dt / self.grid.h),
                );
            }
        }
    }

    /// Takes out what diverges, by a pressure that acts for `dt` seconds, until no cell gains more
    /// than `enough`, in m/s.
    fn project(&mut self, dt: f32, solver_steps: usize, enough: f32) {
        let grid = self.grid;
        self.gains();
        self.solver
            .solve(&self.scratch, solver_steps, enough, &mut self.correction);
        let to_pressure = grid.h / dt;
        for layer in grid.layers() {
            for (axis, down) in grid.strides().into_iter().enumerate() {
                let (speed, open) = (
                    &mut self.speeds[axis][layer.clone()],
                    &self.open[axis][layer.clone()],
                );
                push_along(speed, open, &self.correction, layer.clone(), down, 1.0);
            }
            add(
                &mut self.pressure[layer.clone()],
                to_pressure,
                &self.correction[layer],
            );
        }
    }

    /// Takes out what still diverges, down to what single precision can do.
    pub fn clean(&mut self) {
        for _ in 0..STIRRED_SOLVES {
            self.project(1.0, STIRRED_SOLVER_STEPS, 0.0);
        }
        // What took the divergence out was no pressure that the water is under.
        self.pressure.fill(0.0);
        self.pressure_is_known = false;
    }

    /// These speeds, in place of its own, without what diverges.
    pub(crate) fn cleaned(&mut self, speeds: [Vec<f32>; 3]) -> &[Vec<f32>; 3] {
        self.speeds = speeds;
        self.clean();
        &self.speeds
    }

    /// Fills `scratch` with what each cell would gain through its six faces beyond what enters it,
    /// in m/s: h times the divergence that should not be.
    fn gains(&mut self) {
        for layer in self.grid.layers() {
            outflow(
                &mut self.scratch[layer.clone()],
                &self.speeds,
                &layer,
                self.grid.strides(),
            );
        }
        for (at, gain) in &self.openings.gains {
            self.scratch[*at] -= gain * self.grid.h;
        }
    }

    /// Largest divergence that should not be over the largest speed, as a number: `h · |div u −
    /// gains| / max |u|`.
    pub fn divergence(&mut self) -> f32 {
        self.gains();
        self.grid
            .rows()
            .map(|row| largest(&self.scratch[row]))
            .fold(0.0, f32::max)
            / self.fastest().max(f32::MIN_POSITIVE)
    }
}

#[multiversion(targets("x86_64+avx2"))]
fn largest_sum(u: &[f32], v: &[f32], w: &[f32]) -> f32 {
    let ((us, u), (vs, v), (ws, w)) = (u.as_chunks::<8>(), v.as_chunks::<8>(), w.as_chunks::<8>());
    let mut lanes = [0.0_f32; 8];
    for ((u, v), w) in us.iter().zip(vs).zip(ws) {
        for (i, lane) in lanes.iter_mut().enumerate() {
            *lane = most(*lane, u[i].abs() + v[i].abs() + w[i].abs());
        }
    }
    let rest = u
        .iter()
        .zip(v)
        .zip(w)
        .map(|((u, v), w)| u.abs() + v.abs() + w.abs());
    lanes.into_iter().chain(rest).fold(0.0, most)
}

/// Speeds a layer up by what pushes it from its lower neighbours' side, where its faces are open;
/// closed ones stand still.
#[multiversion(targets("x86_64+avx2"))]
fn push_along(
    speed: &mut [f32],
    open: &[f32],
    pressure: &[f32],
    layer: Range<usize>,
    down: usize,
    share: f32,
) {
    let (lower, upper) = (&pressure[behind(&layer, down)], &pressure[layer]);
    for (((speed, open), lower), upper) in speed.iter_mut().zip(open).zip(lower).zip(upper) {
        *speed = open * (*speed + share * (lower - upper));
    }
}

/// The same after a change of so much a second for `dt` seconds, in one go through the layer.
#[multiversion(targets("x86_64+avx2"))]
fn change_and_push_along(
    speed: &mut [f32],
    open: &[f32],
    (change, dt): (&[f32], f32),
    pressure: &[f32],
    layer: Range<usize>,
    (down, share): (usize, f32),
) {
    let n = speed.len();
    let (lower, upper) = (&pressure[behind(&layer, down)][..n], &pressure[layer][..n]);
    let (speed, open, change) = (&mut speed[..n], &open[..n], &change[..n]);
    for i in 0..n {
        speed[i] = open[i] * (speed[i] + dt * change[i] + share * (lower[i] - upper[i]));
    }
}

/// What leaves each cell of a layer through its six faces beyond what enters, m/s.
#[multiversion(targets("x86_64+avx2"))]
fn outflow(out: &mut [f32], speeds: &[Vec<f32>; 3], layer: &Range<usize>, strides: [usize; 3]) {
    out.fill(0.0);
    for (speed, up) in speeds.iter().zip(strides) {
        let (enters, leaves) = (&speed[layer.clone()], &speed[ahead(layer, up)]);
        for ((out, enters), leaves) in out.iter_mut().zip(enters).zip(leaves) {
            *out += leaves - enters;
        }
    }
}
