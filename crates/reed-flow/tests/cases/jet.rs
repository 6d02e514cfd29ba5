//! A round jet into still water: its thrust stays, and its speed falls as 6 U₀ d / x (Fischer et
//! al. 1979, *Mixing in Inland and Coastal Waters*, from memory: 6 to 6.4).

use reed_flow::{Drain, Flow, Grid, Movers, Nozzle};

use super::SLIP;

/// Mouth of the nozzle, m, and the speed there, m/s.
const BORE: f32 = 0.012;
const SPEED: f32 = 1.0;

const GRID: Grid = Grid {
    cells: [64, 20, 20],
    h: 0.025,
};

/// A jet at several distances.
pub(crate) struct Jet {
    /// Distance in bores, thrust over that of the nozzle.
    pub(crate) thrust: Vec<(f32, f32)>,
    /// Distance in bores, speed on the axis over what is published.
    pub(crate) axis: Vec<(f32, f32)>,
}

/// A jet along the grid, its nozzle moved by so much in its cell; thrust up to ten bores, before
/// the box sends water back.
pub(crate) fn straight(shift: f32) -> Jet {
    let at = [0.1 + shift, 0.25 + shift, 0.25 + shift];
    let nozzle = nozzle(at, [1.0, 0.0, 0.0]);
    let [u, _, _] = mean(GRID, nozzle, [1.55, 0.05, 0.05], [20.0, 30.0]);
    let away = |i: usize| (i as f32 * GRID.h - nozzle.at[0]) / BORE;
    let face = |bores: f32| {
        (5..60)
            .find(|i| away(*i) >= bores)
            .expect("the box is long enough")
    };
    let thrusts = [6.0, 8.0, 10.0].map(|bores| (bores, thrust(&u, face(bores)) / nozzle.thrust()));
    let axis = [20.0, 25.0, 30.0, 35.0, 38.0].map(|bores| {
        (
            bores,
            on_axis(&u, face(bores)) * away(face(bores)) / (6.0 * SPEED),
        )
    });
    Jet {
        thrust: thrusts.to_vec(),
        axis: axis.to_vec(),
    }
}

/// Distance in bores, speed on the axis over what is published, of a jet at any angle to the grid.
pub(crate) fn oblique(towards: [f32; 3]) -> Vec<(f32, f32)> {
    let nozzle = nozzle([0.15, 0.2, 0.2], towards);
    let grid = Grid {
        cells: [36, 34, 26],
        h: 0.025,
    };
    let mean = mean(grid, nozzle, [0.85, 0.05, 0.05], [17.0, 25.0]);
    let at = |bores: f32| {
        (
            bores,
            on_oblique_axis(&mean, &grid, nozzle.at, unit(towards), bores * BORE) * bores
                / (6.0 * SPEED),
        )
    };
    [30.0, 35.0].map(at).to_vec()
}

/// Headings that are tried.
pub(crate) const HEADINGS: [[f32; 3]; 6] = [
    [1.0, 0.0, 0.0],
    [1.0, 0.1, 0.0],
    [1.0, 0.3, 0.0],
    [1.0, 1.0, 0.0],
    [1.0, 0.5, 0.25],
    [1.0, 1.0, 0.6],
];

fn nozzle(at: [f32; 3], towards: [f32; 3]) -> Nozzle {
    Nozzle {
        at,
        towards,
        flow: SPEED * std::f32::consts::PI * BORE * BORE / 4.0,
        speed: SPEED,
    }
}

/// Mean speeds of a jet into still water, between two times.
fn mean(grid: Grid, nozzle: Nozzle, drain: [f32; 3], [from, until]: [f32; 2]) -> [Vec<f32>; 3] {
    let mut water = Flow::at_rest(grid, SLIP, 1e-6, |_| false);
    let drains = vec![Drain {
        at: drain,
        flow: nozzle.flow,
        intake: 0,
    }];
    water.open(
        &Movers {
            nozzles: vec![nozzle],
            drains,
            ..Movers::default()
        },
        1.0,
    );
    let (mut seconds, mut summed) = (0.0, 0.0);
    let mut mean: [Vec<f32>; 3] = std::array::from_fn(|_| grid.zeros());
    while seconds < until {
        let dt = water.longest_step();
        water.step(dt);
        seconds += dt;
        if seconds > from {
            summed += dt;
            for (axis, mean) in mean.iter_mut().enumerate() {
                mean.iter_mut()
                    .zip(water.speed(axis))
                    .for_each(|(mean, speed)| *mean += dt * speed);
            }
        }
    }
    mean.iter_mut().flatten().for_each(|mean| *mean /= summed);
    mean
}

/// Speed on the axis of the jet across face `i`, between the cells: three-point Gaussian peak, as
/// in particle imaging.
fn on_axis(u: &[f32], i: usize) -> f32 {
    let across = (1..19).flat_map(|k| (1..19).map(move |j| (j, k)));
    let (j, k) = across
        .max_by(|a, b| u[GRID.at(i, a.0, a.1)].total_cmp(&u[GRID.at(i, b.0, b.1)]))
        .expect("the box has cells");
    let gain = |lower: f32, middle: f32, upper: f32| {
        let [lower, middle, upper] = [lower, middle, upper].map(|speed| speed.max(1e-6).ln());
        -(lower - upper).powi(2) / (8.0 * (lower - 2.0 * middle + upper))
    };
    let middle = u[GRID.at(i, j, k)];
    let along_y = gain(u[GRID.at(i, j - 1, k)], middle, u[GRID.at(i, j + 1, k)]);
    let along_z = gain(u[GRID.at(i, j, k - 1)], middle, u[GRID.at(i, j, k + 1)]);
    middle * (along_y + along_z).exp()
}

fn thrust(u: &[f32], i: usize) -> f32 {
    let across = (0..20).flat_map(|k| (0..20).map(move |j| GRID.at(i, j, k)));
    across.map(|at| u[at] * u[at].abs() * GRID.h * GRID.h).sum()
}

/// Speed on the axis so far from the nozzle, as that of the Gaussian jet with the same thrust and
/// flow across the axis: 2 M / Q, both over what is faster than a tenth of the fastest, with the
/// closed-form share that this leaves out. It does not depend on where the faces of the grid lie.
fn on_oblique_axis(
    mean: &[Vec<f32>; 3],
    grid: &Grid,
    from: [f32; 3],
    direction: [f32; 3],
    away: f32,
) -> f32 {
    const CUT: f32 = 0.1;
    let aside = if direction[2].abs() < 0.9 {
        [0.0, 0.0, 1.0]
    } else {
        [1.0, 0.0, 0.0]
    };
    let one = unit(cross(direction, aside));
    let other = cross(direction, one);
    let mut speeds = Vec::new();
    for a in -24_i8..=24 {
        for b in -24_i8..=24 {
            let (a, b) = (0.005 * f32::from(a), 0.005 * f32::from(b));
            let at = std::array::from_fn(|axis| {
                from[axis] + away * direction[axis] + a * one[axis] + b * other[axis]
            });
            speeds.push(
                (0..3)
                    .map(|axis| between_faces(&mean[axis], grid, axis, at) * direction[axis])
                    .sum::<f32>(),
            );
        }
    }
    let fastest = speeds.iter().fold(0.0_f32, |most, speed| most.max(*speed));
    speeds.retain(|speed| *speed > CUT * fastest);
    let (flow, thrust) = (
        speeds.iter().sum::<f32>(),
        speeds.iter().map(|speed| speed * speed).sum::<f32>(),
    );
    2.0 * thrust / (flow * (1.0 + CUT))
}

/// Linear between the faces across one axis.
fn between_faces(speed: &[f32], grid: &Grid, across: usize, at: [f32; 3]) -> f32 {
    let near: [[(usize, f32); 2]; 3] = std::array::from_fn(|axis| {
        let half = if axis == across { 0.0 } else { 0.5 };
        let along = (at[axis] / grid.h - half).clamp(0.0, (grid.cells[axis] - 1) as f32);
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "clamped to the box"
        )]
        let below = along as usize;
        [
            (below, 1.0 - along.fract()),
            ((below + 1).min(grid.cells[axis] - 1), along.fract()),
        ]
    });
    let mut sum = 0.0;
    for (i, x) in near[0] {
        for (j, y) in near[1] {
            for (k, z) in near[2] {
                sum += x * y * z * speed[grid.at(i, j, k)];
            }
        }
    }
    sum
}

fn cross(a: [f32; 3], b: [f32; 3]) -> [f32; 3] {
    [
        a[1] * b[2] - a[2] * b[1],
        a[2] * b[0] - a[0] * b[2],
        a[0] * b[1] - a[1] * b[0],
    ]
}

fn unit(a: [f32; 3]) -> [f32; 3] {
    let length = a.iter().map(|part| part * part).sum::<f32>().sqrt();
    a.map(|part| part / length)
}
