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
    /// The water is given a push aside at first: 1 to the side to which the scene leans, −1 to the
    /// other, 0 none. A symmetric tank first stands in a symmetric state, which does not last.
    pub hand: f32,
}

/// Cells of the fine grid: about what 2.5 cm make of 300 litres.
const FINE_CELLS: f32 = 19_200.0;
/// Rounds of the water on the coarse grid, before the first fine mean, and in a mean: see
/// [`Scene::round_seconds`].
const ROUNDS: [f32; 3] = [12.0, 0.5, 0.2];
/// Longest times of the same, s: a tank where hardly anything moves is not waited for.
const LONGEST_S: [f32; 3] = [600.0, 30.0, 20.0];

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
            hand: 1.0,
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
    /// The mean of the last three means.
    pub mean: Field,
    /// All means that were taken, in order: one after the other where the flow does not choose its
    /// way.
    pub means: Vec<Field>,
    /// How far the last mean differs from either of the two before it: the root of the mean squared
    /// difference over that of the mean speed.
    pub drift: f32,
}

/// Means that differ by less are one flow.
pub const STEADY: f32 = 0.2;
/// Fewest means: the last is held against each of the two before it.
const FEWEST_MEANS: usize = 3;
/// The first push aside, m/s: small against any stream, large against rounding.
const PUSH_ASIDE: f32 = 0.02;
/// The last quarter of the coarse time is held against the one before it, some three rounds each:
/// where they differ by more than this the water is still on its way, and is given as long again, at
/// most so many times. Judgements.
const ON_ITS_WAY: f32 = 0.2;
const MOST_EXTENSIONS: usize = 2;

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
        let means = settings.means.max(FEWEST_MEANS);
        let total = coarse_seconds + fine_seconds + mean_seconds * means as f32;
        let mut flow = self.at_rest(settings.coarse, eddies);
        push_aside(&mut flow, settings.hand * self.leans());
        found_its_way(&mut flow, coarse_seconds, |seconds| {
            progress(seconds.min(coarse_seconds) / total)
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
        let mut sums: Vec<Speeds> = Vec::new();
        let drift = loop {
            let grid = *flow.grid();
            let sum = mean_of(&mut flow, mean_seconds, |seconds| {
                progress((before + seconds) / total)
            })?;
            before += mean_seconds;
            let last_two = sums.iter().rev().take(FEWEST_MEANS - 1);
            let drift = last_two
                .map(|last| apart(&grid, last, &sum))
                .fold(0.0, f32::max);
            sums.push(sum);
            if sums.len() >= FEWEST_MEANS && (drift < STEADY || sums.len() >= means) {
                break drift;
            }
        };
        let last = &sums[sums.len() - FEWEST_MEANS..];
        let mean: Speeds = std::array::from_fn(|axis| {
            let mut mean = flow.grid().zeros();
            for sum in last {
                add(&mut mean, 1.0 / FEWEST_MEANS as f32, &sum[axis]);
            }
            mean
        });
        let field = |speeds: &Speeds, flow: &Flow| {
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

/// Speeds by axis, summed up or averaged.
type Speeds = [Vec<f32>; 3];

/// Gives water at rest a push to one side at both ends, and to the other in the middle: the same for
/// a tank that is mirrored end to end.
fn push_aside(flow: &mut Flow, hand: f32) {
    if hand == 0.0 {
        return;
    }
    let length = flow.grid().cells[0] as f32 * flow.grid().h;
    flow.stir(|axis, [x, _, _]| {
        if axis == 1 {
            hand * PUSH_ASIDE * (std::f32::consts::TAU * x / length).cos()
        } else {
            0.0
        }
    });
}

/// Moves the water on for so many seconds, and on until two quarters of that in a row agree, or it
/// was given as long again several times.
fn found_its_way(
    flow: &mut Flow,
    seconds: f32,
    mut progress: impl FnMut(f32) -> ControlFlow<()>,
) -> Option<()> {
    let quarter = seconds / 4.0;
    run(flow, 2.0 * quarter, |done, _, _| progress(done))?;
    let mut last: Option<Speeds> = None;
    for quarters in 0..2 + 4 * MOST_EXTENSIONS {
        let grid = *flow.grid();
        let mean = mean_of(flow, quarter, |done| {
            progress((2.0 + quarters as f32) * quarter + done)
        })?;
        let agrees = last
            .as_ref()
            .is_some_and(|last| apart(&grid, last, &mean) < ON_ITS_WAY);
        if quarters >= 1 && agrees {
            break;
        }
        last = Some(mean);
    }
    Some(())
}

/// Moves the water on by so many seconds, and takes the mean over them.
fn mean_of(
    flow: &mut Flow,
    seconds: f32,
    mut progress: impl FnMut(f32) -> ControlFlow<()>,
) -> Option<Speeds> {
    let grid = *flow.grid();
    let mut sum: Speeds = std::array::from_fn(|_| grid.zeros());
    run(flow, seconds, |done, dt, flow| {
        for (axis, sum) in sum.iter_mut().enumerate() {
            grid.layers().for_each(|layer| {
                let speed = &flow.speed(axis)[layer.clone()];
                add(&mut sum[layer], dt / seconds, speed);
            });
        }
        progress(done)
    })?;
    Some(sum)
}

/// Root of the mean squared difference of two flows over that of their mean.
fn apart(grid: &Grid, one: &Speeds, other: &Speeds) -> f32 {
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
