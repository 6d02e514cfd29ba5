//! Whole tanks, as keepers know them: which way the loop turns. Common practice, no source.

use std::ops::{ControlFlow, Range};

use reed_flow::{Drain, Grid, Nozzle, Scene, Settings, Settled, Solid};

/// A tank of 1.20 × 0.50 × 0.50 m; 600 L/h through a bore of 14.6 mm.
fn tank(outlet: [f32; 3], towards: [f32; 3], intake: [f32; 3]) -> Scene {
    Scene {
        size: [1.2, 0.5, 0.5],
        solids: Vec::new(),
        nozzles: vec![Nozzle { at: outlet, towards, flow: 1.67e-4, speed: 1.0 }],
        drains: vec![Drain { at: intake, flow: 1.67e-4 }],
    }
}

fn settled(scene: &Scene) -> Settled {
    scene.settle(&Settings::default(), |_| ControlFlow::Continue(())).expect("nobody breaks it off")
}

/// Mean over a part of the tank, over its whole depth from front to back.
fn mean(grid: &Grid, speed: &[f32], across: Range<usize>, up: Range<usize>) -> f32 {
    let mut sum = 0.0;
    for k in up.clone() {
        for j in 0..grid.cells[1] {
            sum += across.clone().map(|i| speed[grid.at(i, j, k)]).sum::<f32>();
        }
    }
    sum / (across.len() * up.len() * grid.cells[1]) as f32
}

#[test]
fn an_outlet_along_the_surface_of_one_end_brings_the_bed_current_back_to_that_end() {
    let Settled { grid, speeds: [u, _, w], drift } = settled(&tank([0.03, 0.25, 0.47], [1.0, 0.0, 0.0], [0.05, 0.1, 0.1]));
    assert_eq!(grid.cells, [48, 20, 20]);
    let (surface, bed) = (mean(&grid, &u, 12..36, 18..20), mean(&grid, &u, 12..36, 0..4));
    assert!(surface > 0.01 && bed < -0.005, "along the surface {surface}, along the bed {bed} m/s, drift {drift}");
    let far_end = mean(&grid, &w, 44..48, 6..16);
    assert!(far_end < -0.005, "down at the far end: {far_end} m/s");
    assert!(drift < 0.5, "{drift}");
}

#[test]
fn settling_can_be_broken_off_and_tells_how_far_it_is() {
    let mut scene = tank([0.03, 0.25, 0.47], [1.0, 0.0, 0.0], [0.05, 0.1, 0.1]);
    scene.solids.push(Solid::Box { from: [0.5, 0.2, 0.0], to: [0.7, 0.4, 0.2] });
    let mut told = Vec::new();
    let broken_off = scene.settle(&Settings { coarse_seconds: 20.0, ..Settings::default() }, |share| {
        told.push(share);
        if share > 0.2 { ControlFlow::Break(()) } else { ControlFlow::Continue(()) }
    });
    assert!(broken_off.is_none() && told.is_sorted() && told[0] < 0.1 && told[told.len() - 1] > 0.2);
}
