//! From rest to a mean flow: long on a coarse grid, then shortly on a fine one.

use std::ops::ControlFlow;

use crate::flow::Flow;
use crate::grid::{Axis, Grid};
use crate::scene::Scene;

/// How to settle. Raising a time or halving a spacing costs in proportion; halving the fine spacing sixteenfold.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Settings {
    /// Spacing of the coarse grid, m.
    pub coarse: f32,
    /// Time on the coarse grid, s: long enough for the loop to find its way.
    pub coarse_seconds: f32,
    /// Spacing of the fine grid, m.
    pub fine: f32,
    /// Time on the fine grid before the mean is taken, s.
    pub fine_seconds: f32,
    /// Time over which the mean is taken, s, in two halves that are compared.
    pub mean_seconds: f32,
}

impl Default for Settings {
    fn default() -> Self {
        Self { coarse: 0.05, coarse_seconds: 300.0, fine: 0.025, fine_seconds: 30.0, mean_seconds: 30.0 }
    }
}

/// A mean flow.
#[derive(Clone, Debug)]
pub struct Settled {
    /// Where its numbers stand.
    pub grid: Grid,
    /// Mean speeds by axis, m/s, on the lower faces of the cells.
    pub speeds: [Vec<f32>; 3],
    /// How far the two halves of the mean differ: the root of the mean squared difference over that of the mean speed. Above
    /// some tenths the flow has not chosen its way, and may not.
    pub drift: f32,
}

impl Scene {
    /// Settles its water. `progress` is told the share of tank time done, 0 to 1, now and then, and may break off.
    ///
    /// Returns `None` when it was broken off.
    pub fn settle(&self, settings: &Settings, mut progress: impl FnMut(f32) -> ControlFlow<()>) -> Option<Settled> {
        let total = settings.coarse_seconds + settings.fine_seconds + settings.mean_seconds;
        let mut coarse = self.at_rest(settings.coarse);
        run(&mut coarse, settings.coarse_seconds, |seconds, _, _| progress(seconds / total))?;
        let mut fine = self.at_rest(settings.fine);
        fine.begin_as(&coarse);
        let before = settings.coarse_seconds;
        run(&mut fine, settings.fine_seconds, |seconds, _, _| progress((before + seconds) / total))?;
        let before = before + settings.fine_seconds;
        let half = settings.mean_seconds / 2.0;
        let mut halves: [[Vec<f32>; 3]; 2] = std::array::from_fn(|_| std::array::from_fn(|_| fine.grid().zeros()));
        for (index, sums) in halves.iter_mut().enumerate() {
            let before = before + half * index as f32;
            run(&mut fine, half, |seconds, dt, flow| {
                for (axis, sum) in sums.iter_mut().enumerate() {
                    sum.iter_mut().zip(flow.speed(axis)).for_each(|(sum, speed)| *sum += speed * dt / half);
                }
                progress((before + seconds) / total)
            })?;
        }
        let [first, second] = halves;
        let (mut apart, mut together) = (0.0_f64, 0.0_f64);
        for row in fine.grid().rows() {
            for (one, other) in first.iter().zip(&second) {
                for (one, other) in one[row.clone()].iter().zip(&other[row.clone()]) {
                    apart += f64::from(one - other).powi(2);
                    together += f64::from((one + other) / 2.0).powi(2);
                }
            }
        }
        let speeds: [Vec<f32>; 3] =
            std::array::from_fn(|axis: Axis| first[axis].iter().zip(&second[axis]).map(|(one, other)| (one + other) / 2.0).collect());
        #[expect(clippy::cast_possible_truncation, reason = "a share")]
        let drift = (apart / together.max(f64::MIN_POSITIVE)).sqrt() as f32;
        Some(Settled { grid: *fine.grid(), speeds, drift })
    }
}

/// Moves the water on by so many seconds; after each step `then(seconds done, step, flow)`.
fn run(flow: &mut Flow, seconds: f32, mut then: impl FnMut(f32, f32, &Flow) -> ControlFlow<()>) -> Option<()> {
    let mut done = 0.0;
    while done < seconds {
        let dt = flow.longest_step().min(seconds - done);
        flow.step(dt);
        done += dt;
        if then(done, dt, flow).is_break() {
            return None;
        }
    }
    Some(())
}
