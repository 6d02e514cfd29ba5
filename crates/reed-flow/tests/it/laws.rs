//! What must hold whatever the water does: it neither comes nor goes, decays as it should, and
//! knows no left from right.

use std::f32::consts::PI;

use reed_flow::{Drain, Flow, Grid, Movers, Nozzle};

use crate::cases::closed::{between_plates, vortices};
use crate::cases::{SLIP, run};

#[test]
fn water_neither_comes_nor_goes_even_around_a_rock() {
    let rock = |[i, j, k]: [usize; 3]| (10..16).contains(&i) && (4..9).contains(&j) && k < 6;
    let mut flow = Flow::at_rest(
        Grid {
            cells: [30, 13, 13],
            h: 0.04,
        },
        SLIP,
        1e-4,
        rock,
    );
    flow.stir(|axis, [x, _, z]| {
        if axis == 0 {
            0.2 * (PI * x / 1.2).sin() * (PI * z / 0.52).cos()
        } else {
            0.0
        }
    });
    assert!(flow.divergence() < 1e-4, "stirred: {}", flow.divergence());
    for _ in 0..100 {
        flow.step(flow.longest_step());
        assert!(flow.divergence() < 1e-3, "moving: {}", flow.divergence());
    }
    let at = flow.grid().at(12, 6, 3);
    assert!(
        (0..3).all(|axis| flow.speed(axis)[at] == 0.0),
        "nothing moves in the rock"
    );
}

/// Upside down the same water does the same upside down.
#[test]
fn mirrored_water_flows_mirrored() {
    let swirl = |mirrored: bool| {
        let mut flow = Flow::at_rest(
            Grid {
                cells: [24, 1, 12],
                h: 0.05,
            },
            SLIP,
            1e-3,
            |_| false,
        );
        flow.stir(|axis, [x, _, z]| {
            let x = if mirrored { 1.2 - x } else { x };
            let sign = if mirrored { -1.0 } else { 1.0 };
            if axis == 0 {
                sign * 0.1 * (PI * x / 1.2).sin() * (2.0 * x + z)
            } else {
                0.0
            }
        });
        run(&mut flow, 3.0);
        flow
    };
    let (one, other) = (swirl(false), swirl(true));
    let (mut most, mut fastest) = (0.0_f32, 0.0_f32);
    for k in 0..12 {
        for i in 1..24 {
            let (here, there) = (
                one.speed(0)[one.grid().at(i, 0, k)],
                other.speed(0)[other.grid().at(24 - i, 0, k)],
            );
            most = most.max((here + there).abs());
            fastest = fastest.max(here.abs());
        }
    }
    assert!(
        fastest > 0.01 && most < 2e-3 * fastest,
        "{most} of {fastest}"
    );
}

#[test]
fn vortices_between_slip_walls_decay_as_the_closed_form_says() {
    for (seconds, left, closed) in vortices(64) {
        assert!(
            (left / closed - 1.0).abs() < 0.02,
            "{left} of the energy is left after {seconds} s, {closed} should be"
        );
    }
}

#[test]
fn a_slow_lid_over_a_shallow_box_gives_couettes_and_poiseuilles_profile() {
    for (height, found, closed) in between_plates() {
        assert!(
            (found - closed).abs() < 0.01,
            "{found} where {closed} belongs, {height} up"
        );
    }
}

/// What enters at one end goes through every cross-section and leaves at the other, to a
/// hundred-thousandth.
#[test]
fn what_enters_goes_through_and_leaves() {
    let mut flow = Flow::at_rest(
        Grid {
            cells: [32, 12, 12],
            h: 0.025,
        },
        SLIP,
        1e-6,
        |_| false,
    );
    let through = 2e-4;
    let nozzle = Nozzle {
        at: [0.06, 0.15, 0.15],
        towards: [1.0, 0.3, 0.2],
        flow: through,
        speed: 0.8,
    };
    let drains = vec![Drain {
        at: [0.74, 0.1, 0.1],
        flow: through,
        intake: 0,
    }];
    flow.open(
        &Movers {
            nozzles: vec![nozzle],
            drains,
            ..Movers::default()
        },
        1.0,
    );
    run(&mut flow, 10.0);
    assert!(flow.divergence() < 1e-3, "moving: {}", flow.divergence());
    flow.clean();
    assert!(flow.divergence() < 1e-5, "at rest: {}", flow.divergence());
    let grid = *flow.grid();
    for i in [10, 16, 22] {
        let across = (0..12).flat_map(|k| (0..12).map(move |j| grid.at(i, j, k)));
        let sum: f64 = across
            .map(|at| f64::from(flow.speed(0)[at] * grid.h * grid.h))
            .sum();
        assert!(
            (sum / f64::from(through) - 1.0).abs() < 1e-5,
            "{sum} of {through} m³/s"
        );
    }
}
