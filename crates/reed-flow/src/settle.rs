//! From rest to a mean flow: long on a coarse grid, then on a fine one until two means in a row
//! agree.

use std::ops::ControlFlow;

use crate::field::Field;
use crate::flow::Flow;
use crate::grid::Grid;
use crate::lanes::add;
use crate::scene::Scene;

/// How to settle. Raising a time costs in proportion; halving the fine spacing sixteenfold.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Settings {
    /// Spacing of the coarse grid, m.
    pub coarse: f32,
    /// Time on the coarse grid, s: long enough for the loop to find its way.
    pub coarse_seconds: f32,
    /// Spacing of the fine grid, m. The same as the coarse one: there is no fine one.
    pub fine: f32,
    /// Time on the fine grid before the first mean is taken, s.
    pub fine_seconds: f32,
    /// Time over which a mean is taken, s.
    pub mean_seconds: f32,
    /// Most means that are taken while they do not agree; two at least.
    pub means: usize,
    /// How many times as strong eddies are as they are thought to be.
    pub eddies: f32,
}

/// Cells of the fine grid: about what 2.5 cm make of 300 litres.
const FINE_CELLS: f32 = 19_200.0;
/// Rounds of the water on the coarse grid, before the first fine mean, and in a mean: see
/// [`Scene::round_seconds`].
const ROUNDS: [f32; 3] = [8.0, 0.5, 0.35];
/// Longest times of the same, s: a tank where hardly anything moves is not waited for.
const LONGEST_S: [f32; 3] = [400.0, 30.0, 20.0];

impl Settings {
    /// What suits a scene: some 19,000 cells, and times by how fast its water goes round.
    pub fn of(scene: &Scene) -> Self {
        let fine = (scene.size.iter().product::<f32>() / FINE_CELLS).cbrt();
        let round = scene.round_seconds();
        let [coarse_seconds, fine_seconds, mean_seconds] =
            std::array::from_fn(|stage| (ROUNDS[stage] * round).min(LONGEST_S[stage]));
        Self {
            coarse: 2.0 * fine,
            coarse_seconds,
            fine,
            fine_seconds,
            mean_seconds,
            means: 6,
            eddies: 1.0,
        }
    }

    /// The same on the coarse grid alone: a tenth of the cost.
    #[must_use]
    pub fn coarsely(self) -> Self {
        Self {
            fine: self.coarse,
            ..self
        }
    }
}

/// A mean flow.
#[derive(Clone, Debug)]
pub struct Settled {
    /// The mean of the last two means.
    pub mean: Field,
    /// All means that were taken, in order: one after the other where the flow does not choose its
    /// way.
    pub means: Vec<Field>,
    /// How far the last two means differ: the root of the mean squared difference over that of the
    /// mean speed.
    pub drift: f32,
}

/// Two means in a row that differ by less are one flow.
pub const STEADY: f32 = 0.15;

impl Settled {
    /// The flow did not come to rest: what is told of it is told of all its means.
    pub fn is_unsteady(&self) -> bool {
        self.drift > STEADY
    }
}

impl Scene {
    /// Settles its water. `progress` is told the share of tank time done, 0 to 1, now and then, and
    /// may break off.
    ///
    /// Returns `None` when it was broken off.
    pub fn settle(
        &self,
        settings: &Settings,
        mut progress: impl FnMut(f32) -> ControlFlow<()>,
    ) -> Option<Settled> {
        let Settings {
            coarse_seconds,
            fine_seconds,
            mean_seconds,
            eddies,
            ..
        } = *settings;
        let total = coarse_seconds + fine_seconds + mean_seconds * settings.means.max(2) as f32;
        let mut flow = self.at_rest(settings.coarse, eddies);
        run(&mut flow, coarse_seconds, |seconds, _, _| {
            progress(seconds / total)
        })?;
        let mut before = coarse_seconds;
        if settings.fine < settings.coarse {
            let mut fine = self.at_rest(settings.fine, eddies);
            fine.begin_as(&flow);
            flow = fine;
            run(&mut flow, fine_seconds, |seconds, _, _| {
                progress((before + seconds) / total)
            })?;
            before += fine_seconds;
        }
        let mut sums: Vec<[Vec<f32>; 3]> = Vec::new();
        let drift = loop {
            let grid = *flow.grid();
            let mut sum: [Vec<f32>; 3] = std::array::from_fn(|_| grid.zeros());
            run(&mut flow, mean_seconds, |seconds, dt, flow| {
                for (axis, sum) in sum.iter_mut().enumerate() {
                    grid.layers().for_each(|layer| {
                        add(
                            &mut sum[layer.clone()],
                            dt / mean_seconds,
                            &flow.speed(axis)[layer],
                        );
                    });
                }
                progress((before + seconds) / total)
            })?;
            before += mean_seconds;
            let drift = sums.last().map(|last| apart(&grid, last, &sum));
            sums.push(sum);
            if let Some(drift) =
                drift.filter(|drift| *drift < STEADY || sums.len() >= settings.means)
            {
                break drift;
            }
        };
        let [.., one, other] = sums.as_slice() else {
            unreachable!("there are two means at least")
        };
        let mean: [Vec<f32>; 3] = std::array::from_fn(|axis| {
            let pairs = one[axis].iter().zip(&other[axis]);
            pairs.map(|(one, other)| (one + other) / 2.0).collect()
        });
        let field = |speeds: &[Vec<f32>; 3], flow: &Flow| {
            Field::new(flow.grid(), speeds, flow.viscosity(), flow.solid())
        };
        let means = sums.iter().map(|sum| field(sum, &flow)).collect();
        let mean = flow.cleaned(mean).clone();
        Some(Settled {
            mean: field(&mean, &flow),
            means,
            drift,
        })
    }
}

/// Root of the mean squared difference of two flows over that of their mean.
fn apart(grid: &Grid, one: &[Vec<f32>; 3], other: &[Vec<f32>; 3]) -> f32 {
    let (mut apart, mut together) = (0.0_f64, 0.0_f64);
    for row in grid.rows() {
        for (one, other) in one.iter().zip(other) {
            for (one, other) in one[row.clone()].iter().zip(&other[row.clone()]) {
                apart += f64::from(one - other).powi(2);
                together += f64::from((one + other) / 2.0).powi(2);
            }
        }
    }
    #[expect(clippy::cast_possible_truncation, reason = "a share")]
    let drift = (apart / together.max(f64::MIN_POSITIVE)).sqrt() as f32;
    drift
}

/// Moves the water on by so many seconds; after each step `then(seconds done, step, flow)`.
fn run(
    flow: &mut Flow,
    seconds: f32,
    mut then: impl FnMut(f32, f32, &Flow) -> ControlFlow<()>,
) -> Option<()> {
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
