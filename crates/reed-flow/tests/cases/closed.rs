//! Flows whose answer is a closed form.

use std::f32::consts::PI;

use reed_flow::{Flow, Grid, Wall};

use super::{SLIP, run};

/// Sum of the squared speeds in the box, without what pads it.
fn energy(flow: &Flow) -> f64 {
    let places = flow.grid().all().map(|[i, j, k]| flow.grid().at(i, j, k));
    places
        .flat_map(|at| (0..3).map(move |axis| f64::from(flow.speed(axis)[at]).powi(2)))
        .sum()
}

/// Two-dimensional vortices between slip walls keep their shape and lose energy as exp(−2 ν (kx² +
/// kz²) t): Taylor & Green 1937. Seconds, share of the energy found, share that should be.
pub(crate) fn vortices(n: usize) -> Vec<(f64, f64, f64)> {
    let viscosity = 1e-2;
    let mut flow = Flow::at_rest(
        Grid {
            cells: [n, 1, n],
            h: 1.0 / n as f32,
        },
        SLIP,
        viscosity,
        |_| false,
    );
    flow.stir(|axis, [x, _, z]| match axis {
        0 => (PI * x).sin() * (PI * z).cos(),
        2 => -(PI * x).cos() * (PI * z).sin(),
        _ => 0.0,
    });
    let before = energy(&flow);
    let mut seconds = 0.0;
    let mut at = |flow: &mut Flow| {
        seconds += f64::from(run(flow, 0.5));
        let closed =
            (-2.0 * f64::from(viscosity) * 2.0 * std::f64::consts::PI.powi(2) * seconds).exp();
        (seconds, energy(flow) / before, closed)
    };
    (0..4).map(|_| at(&mut flow)).collect()
}

/// In a long shallow box a slow lid drags water along and as much comes back below: the sum of
/// Couette's and Poiseuille's profiles without net flow, u = U (3 ζ² − 2 ζ), ζ the height over that
/// of the lid (lubrication theory). Height, speed over that of the lid found, speed that should be.
pub(crate) fn between_plates() -> Vec<(f32, f32, f32)> {
    let (length, n) = (96, 24);
    let h = 1.0 / n as f32;
    let stick = Wall::Stick([0.0; 3]);
    let walls = [
        [stick; 2],
        [Wall::Slip; 2],
        [stick, Wall::Stick([0.01, 0.0, 0.0])],
    ];
    let mut flow = Flow::at_rest(
        Grid {
            cells: [length, 1, n],
            h,
        },
        walls,
        1.0,
        |_| false,
    );
    run(&mut flow, 0.6);
    let at = |k: usize| {
        let height = (k as f32 + 0.5) * h;
        (
            height,
            flow.speed(0)[flow.grid().at(length / 2, 0, k)] / 0.01,
            3.0 * height * height - 2.0 * height,
        )
    };
    (0..n).map(at).collect()
}
