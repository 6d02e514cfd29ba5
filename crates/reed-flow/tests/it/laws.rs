//! What must hold whatever the water does: it neither comes nor goes, decays as it should, and knows no left from right.

use std::f32::consts::PI;

use reed_flow::{Drain, Flow, Grid, Movers, Nozzle, Wall};

const SLIP: [[Wall; 2]; 3] = [[Wall::Slip; 2]; 3];

fn run(flow: &mut Flow, seconds: f32) -> f32 {
    let mut done = 0.0;
    while done < seconds {
        let dt = flow.longest_step().min(seconds - done);
        flow.step(dt);
        done += dt;
    }
    done
}

/// Sum of the squared speeds in the box, without what pads it.
fn energy(flow: &Flow) -> f64 {
    let [x, y, z] = flow.grid().cells;
    let places = (0..z).flat_map(|k| (0..y).flat_map(move |j| (0..x).map(move |i| flow.grid().at(i, j, k))));
    places.flat_map(|at| (0..3).map(move |axis| f64::from(flow.speed(axis)[at]).powi(2))).sum()
}

/// Two-dimensional Taylor–Green vortices between slip walls keep their shape and lose energy as exp(−2 ν (kx² + kz²) t):
/// Taylor & Green 1937, the closed form.
#[test]
fn vortices_between_slip_walls_decay_as_the_closed_form_says() {
    let (n, viscosity) = (64, 1e-2);
    let h = 1.0 / n as f32;
    let mut flow = Flow::at_rest(Grid { cells: [n, 1, n], h }, SLIP, viscosity, |_| false);
    flow.stir(|axis, [x, _, z]| match axis {
        0 => (PI * x).sin() * (PI * z).cos(),
        2 => -(PI * x).cos() * (PI * z).sin(),
        _ => 0.0,
    });
    let before = energy(&flow);
    let seconds = f64::from(run(&mut flow, 2.0));
    let expected = (-2.0 * f64::from(viscosity) * 2.0 * std::f64::consts::PI.powi(2) * seconds).exp();
    let left = energy(&flow) / before;
    assert!((left / expected - 1.0).abs() < 0.02, "{left} of the energy is left, {expected} should be");
}

#[test]
fn water_neither_comes_nor_goes_even_around_a_rock() {
    let rock = |[i, j, k]: [usize; 3]| (10..16).contains(&i) && (4..9).contains(&j) && k < 6;
    let mut flow = Flow::at_rest(Grid { cells: [30, 13, 13], h: 0.04 }, SLIP, 1e-4, rock);
    flow.stir(|axis, [x, _, z]| if axis == 0 { 0.2 * (PI * x / 1.2).sin() * (PI * z / 0.52).cos() } else { 0.0 });
    assert!(flow.divergence() < 1e-4, "stirred: {}", flow.divergence());
    for _ in 0..100 {
        flow.step(flow.longest_step());
        assert!(flow.divergence() < 1e-3, "moving: {}", flow.divergence());
    }
    let at = flow.grid().at(12, 6, 3);
    assert!((0..3).all(|axis| flow.speed(axis)[at] == 0.0), "nothing moves in the rock");
}

/// Upside down the same water does the same upside down.
#[test]
fn mirrored_water_flows_mirrored() {
    let swirl = |mirrored: bool| {
        let mut flow = Flow::at_rest(Grid { cells: [24, 1, 12], h: 0.05 }, SLIP, 1e-3, |_| false);
        flow.stir(|axis, [x, _, z]| {
            let x = if mirrored { 1.2 - x } else { x };
            let sign = if mirrored { -1.0 } else { 1.0 };
            if axis == 0 { sign * 0.1 * (PI * x / 1.2).sin() * (2.0 * x + z) } else { 0.0 }
        });
        run(&mut flow, 3.0);
        flow
    };
    let (one, other) = (swirl(false), swirl(true));
    let (mut most, mut fastest) = (0.0_f32, 0.0_f32);
    for k in 0..12 {
        for i in 1..24 {
            let (here, there) = (one.speed(0)[one.grid().at(i, 0, k)], other.speed(0)[other.grid().at(24 - i, 0, k)]);
            most = most.max((here + there).abs());
            fastest = fastest.max(here.abs());
        }
    }
    assert!(fastest > 0.01 && most < 2e-3 * fastest, "{most} of {fastest}");
}

/// In a long shallow box a slow lid drags water along and as much comes back below: between plates the sum of Couette's and
/// Poiseuille's profiles without net flow, u = U (3 ζ² − 2 ζ), ζ the height over that of the lid (lubrication theory, the closed
/// form).
#[test]
fn a_slow_lid_over_a_shallow_box_gives_couettes_and_poiseuilles_profile() {
    let (length, n) = (96, 24);
    let h = 1.0 / n as f32;
    let stick = Wall::Stick([0.0; 3]);
    let walls = [[stick; 2], [Wall::Slip; 2], [stick, Wall::Stick([0.01, 0.0, 0.0])]];
    let mut flow = Flow::at_rest(Grid { cells: [length, 1, n], h }, walls, 1.0, |_| false);
    run(&mut flow, 0.6);
    for k in 0..n {
        let height = (k as f32 + 0.5) * h;
        let (found, closed) = (flow.speed(0)[flow.grid().at(length / 2, 0, k)] / 0.01, 3.0 * height * height - 2.0 * height);
        assert!((found - closed).abs() < 0.01, "{found} where {closed} belongs, {height} up");
    }
}

/// What enters at one end goes through every cross-section and leaves at the other, to a hundred-thousandth.
#[test]
fn what_enters_goes_through_and_leaves() {
    let mut flow = Flow::at_rest(Grid { cells: [32, 12, 12], h: 0.025 }, SLIP, 1e-6, |_| false);
    let through = 2e-4;
    let nozzle = Nozzle { at: [0.06, 0.15, 0.15], towards: [1.0, 0.3, 0.2], flow: through, speed: 0.8 };
    let drains = vec![Drain { at: [0.74, 0.1, 0.1], flow: through, intake: 0 }];
    flow.open(&Movers { nozzles: vec![nozzle], drains, ..Movers::default() }, 1.0);
    run(&mut flow, 10.0);
    assert!(flow.divergence() < 1e-3, "moving: {}", flow.divergence());
    flow.clean();
    assert!(flow.divergence() < 1e-5, "at rest: {}", flow.divergence());
    let grid = *flow.grid();
    for i in [10, 16, 22] {
        let across = (0..12).flat_map(|k| (0..12).map(move |j| grid.at(i, j, k)));
        let sum: f64 = across.map(|at| f64::from(flow.speed(0)[at] * grid.h * grid.h)).sum();
        assert!((sum / f64::from(through) - 1.0).abs() < 1e-5, "{sum} of {through} m³/s");
    }
}
