//! A round jet into still water: its thrust stays, its speed falls as one over the distance.

use reed_flow::{Drain, Flow, Grid, Movers, Nozzle, Wall};

/// Mouth of the nozzle, m, and the speed there, m/s.
const BORE: f32 = 0.012;
const SPEED: f32 = 1.0;

const GRID: Grid = Grid { cells: [64, 20, 20], h: 0.025 };

/// Speed along the jet, averaged over ten seconds, once it has settled.
fn jet(shift: f32) -> (Vec<f32>, Nozzle) {
    let at = [0.1 + shift, 0.25 + shift, 0.25 + shift];
    let flow = SPEED * std::f32::consts::PI * BORE * BORE / 4.0;
    let nozzle = Nozzle { at, towards: [1.0, 0.0, 0.0], flow, speed: SPEED };
    let mut water = Flow::at_rest(GRID, [[Wall::Slip; 2]; 3], 1e-6, |_| false);
    let drains = vec![Drain { at: [1.55, 0.05, 0.05], flow, intake: 0 }];
    water.open(&Movers { nozzles: vec![nozzle], drains, ..Movers::default() }, 1.0);
    let (mut seconds, mut summed, mut mean) = (0.0, 0.0, GRID.zeros());
    while seconds < 30.0 {
        let dt = water.longest_step();
        water.step(dt);
        seconds += dt;
        if seconds > 20.0 {
            summed += dt;
            mean.iter_mut().zip(water.speed(0)).for_each(|(mean, u)| *mean += dt * u);
        }
    }
    mean.iter_mut().for_each(|mean| *mean /= summed);
    (mean, nozzle)
}

/// Speed on the axis of the jet across face `i`, between the cells: three-point Gaussian peak, as in particle imaging.
fn on_axis(u: &[f32], i: usize) -> f32 {
    let across = (1..19).flat_map(|k| (1..19).map(move |j| (j, k)));
    let (j, k) = across.max_by(|a, b| u[GRID.at(i, a.0, a.1)].total_cmp(&u[GRID.at(i, b.0, b.1)])).expect("the box has cells");
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

/// The thrust of a free jet is the same at every distance; it is read up to ten bores, before the box sends water back. The
/// speed on its axis falls as 6 U₀ d / x (Fischer et al. 1979, *Mixing in Inland and Coastal Waters*, from memory: 6 to 6.4).
///
/// Reached at 2.5 cm, two bores to a cell: within a fifth from 30 bores on wherever in its cell the nozzle sits, and within
/// three tenths from 20. A nozzle on the corner of eight cells comes out weakest.
#[test]
fn a_jet_keeps_its_thrust_and_slows_as_one_over_the_distance_wherever_its_nozzle_sits() {
    for shift in [0.0, 0.003, 0.006, 0.009, 0.0125] {
        let (u, nozzle) = jet(shift);
        let away = |i: usize| (i as f32 * GRID.h - nozzle.at[0]) / BORE;
        let face = |bores: f32| (5..60).find(|i| away(*i) >= bores).expect("the box is long enough");
        for bores in [6.0, 8.0, 10.0] {
            let kept = thrust(&u, face(bores)) / nozzle.thrust();
            assert!((0.95..1.03).contains(&kept), "{kept} of the thrust is left after {bores} bores, nozzle shifted by {shift} m");
        }
        for (bores, within) in [(20.0, 0.3), (25.0, 0.3), (30.0, 0.2), (35.0, 0.2), (38.0, 0.2)] {
            let i = face(bores);
            let share = on_axis(&u, i) * away(i) / (6.0 * SPEED);
            assert!((share - 1.0).abs() < within, "{share} of what is published after {bores} bores, nozzle shifted by {shift} m");
        }
    }
}

/// How fast a jet is must not hang on its angle to the grid, since nozzles are turned.
///
/// Reached at 2.5 cm, from the place in a cell where jets come out weakest: 0.70 to 0.90 of what is published from 30 bores on, for
/// six headings, the straight one among them. (Thrust and flow across the axis read lower than its peak: 0.72 where that is 0.86.)
#[test]
fn an_oblique_jet_slows_like_a_straight_one() {
    for towards in [[1.0, 0.0, 0.0], [1.0, 0.1, 0.0], [1.0, 1.0, 0.0], [1.0, 0.5, 0.25], [1.0, 0.3, 0.0], [1.0, 1.0, 0.6]] {
        let length = towards.iter().map(|part: &f32| part * part).sum::<f32>().sqrt();
        let direction = towards.map(|part| part / length);
        let flow = SPEED * std::f32::consts::PI * BORE * BORE / 4.0;
        let nozzle = Nozzle { at: [0.15, 0.2, 0.2], towards, flow, speed: SPEED };
        let grid = Grid { cells: [36, 34, 26], h: 0.025 };
        let mut water = Flow::at_rest(grid, [[Wall::Slip; 2]; 3], 1e-6, |_| false);
        let drains = vec![Drain { at: [0.85, 0.05, 0.05], flow, intake: 0 }];
        water.open(&Movers { nozzles: vec![nozzle], drains, ..Movers::default() }, 1.0);
        let (mut seconds, mut summed) = (0.0, 0.0);
        let mut mean: [Vec<f32>; 3] = std::array::from_fn(|_| grid.zeros());
        while seconds < 25.0 {
            let dt = water.longest_step();
            water.step(dt);
            seconds += dt;
            if seconds > 17.0 {
                summed += dt;
                for (axis, mean) in mean.iter_mut().enumerate() {
                    mean.iter_mut().zip(water.speed(axis)).for_each(|(mean, speed)| *mean += dt * speed);
                }
            }
        }
        mean.iter_mut().flatten().for_each(|mean| *mean /= summed);
        for bores in [30.0, 35.0] {
            let share = on_oblique_axis(&mean, &grid, nozzle.at, direction, bores * BORE) * bores / (6.0 * SPEED);
            assert!((0.70..0.90).contains(&share), "{share} of what is published after {bores} bores towards {towards:?}");
        }
    }
}

/// Speed on the axis so far from the nozzle, as that of the Gaussian jet with the same thrust and flow across the axis: 2 M / Q,
/// both over what is faster than a tenth of the fastest, with the closed-form share that this leaves out. It does not depend on
/// where the faces of the grid lie.
fn on_oblique_axis(mean: &[Vec<f32>; 3], grid: &Grid, from: [f32; 3], direction: [f32; 3], away: f32) -> f32 {
    const CUT: f32 = 0.1;
    let aside = if direction[2].abs() < 0.9 { [0.0, 0.0, 1.0] } else { [1.0, 0.0, 0.0] };
    let one = unit(cross(direction, aside));
    let other = cross(direction, one);
    let mut speeds = Vec::new();
    for a in -24_i8..=24 {
        for b in -24_i8..=24 {
            let (a, b) = (0.005 * f32::from(a), 0.005 * f32::from(b));
            let at = std::array::from_fn(|axis| from[axis] + away * direction[axis] + a * one[axis] + b * other[axis]);
            speeds.push((0..3).map(|axis| between_faces(&mean[axis], grid, axis, at) * direction[axis]).sum::<f32>());
        }
    }
    let fastest = speeds.iter().fold(0.0_f32, |most, speed| most.max(*speed));
    speeds.retain(|speed| *speed > CUT * fastest);
    let (flow, thrust) = (speeds.iter().sum::<f32>(), speeds.iter().map(|speed| speed * speed).sum::<f32>());
    2.0 * thrust / (flow * (1.0 + CUT))
}

/// Linear between the faces across one axis.
fn between_faces(speed: &[f32], grid: &Grid, across: usize, at: [f32; 3]) -> f32 {
    let near: [[(usize, f32); 2]; 3] = std::array::from_fn(|axis| {
        let half = if axis == across { 0.0 } else { 0.5 };
        let along = (at[axis] / grid.h - half).clamp(0.0, (grid.cells[axis] - 1) as f32);
        [(along as usize, 1.0 - along.fract()), ((along as usize + 1).min(grid.cells[axis] - 1), along.fract())]
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
    [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]
}

fn unit(a: [f32; 3]) -> [f32; 3] {
    let length = a.iter().map(|part| part * part).sum::<f32>().sqrt();
    a.map(|part| part / length)
}
