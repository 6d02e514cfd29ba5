//! A round jet into still water: its thrust stays, its speed falls as one over the distance.

use reed_flow::{Drain, Field, Flow, Grid, Movers, Nozzle, Wall};

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

/// Thrust of a jet that points anywhere: what pushes, and how fast its axis is, must not depend on the angle to the grid.
///
/// Reached at 2.5 cm: within a quarter from 30 bores on for four headings, three tenths from 20.
#[test]
fn an_oblique_jet_slows_like_a_straight_one() {
    for towards in [[1.0, 1.0, 0.0], [1.0, 0.5, 0.25], [1.0, 0.3, 0.0], [1.0, 1.0, 0.6]] {
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
        let field = Field::new(&grid, &mean, water.viscosity(), water.solid());
        for (bores, within) in [(20.0, 0.3), (25.0, 0.3), (30.0, 0.25), (35.0, 0.25)] {
            let share = fastest_across(&field, nozzle.at, direction, bores * BORE) * bores / (6.0 * SPEED);
            assert!((share - 1.0).abs() < within, "{share} of what is published after {bores} bores towards {towards:?}");
        }
    }
}

/// Largest speed along the direction within 4 cm of the axis, so far from the nozzle.
fn fastest_across(field: &Field, from: [f32; 3], direction: [f32; 3], away: f32) -> f32 {
    let steps = -4_i8..=4;
    let mut most = 0.0_f32;
    for a in steps.clone() {
        for b in steps.clone() {
            for c in steps.clone() {
                let offset = [a, b, c].map(|step| 0.01 * f32::from(step));
                let along: f32 = (0..3).map(|axis| offset[axis] * direction[axis]).sum();
                // Only what lies across the axis.
                let at = std::array::from_fn(|axis| from[axis] + away * direction[axis] + offset[axis] - along * direction[axis]);
                let speed = field.at(at).speed.iter().zip(direction).map(|(speed, part)| speed * part).sum();
                most = most.max(speed);
            }
        }
    }
    most
}
