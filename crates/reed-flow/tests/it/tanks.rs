//! Whole tanks, as keepers know them: which way the loop turns. Common practice, no source.

use std::ops::Range;

use reed_flow::{Drain, Flow, Grid, Nozzle, Wall};

/// A tank of 1.20 × 0.50 × 0.50 m.
const GRID: Grid = Grid { cells: [24, 10, 10], h: 0.05 };

/// The mean speed from the 200th to the 300th second, by axis.
fn settled(outlet: [f32; 3], towards: [f32; 3], intake: [f32; 3]) -> [Vec<f32>; 3] {
    let glass = [Wall::Rough(0.005); 2];
    let mut water = Flow::at_rest(GRID, [glass, glass, [Wall::Rough(0.005), Wall::Slip]], 1e-6, |_, _, _| false);
    // 600 L/h through a bore of 14.6 mm.
    water.open(&[Nozzle { at: outlet, towards, flow: 1.67e-4, speed: 1.0 }], &[Drain { at: intake, flow: 1.67e-4 }]);
    let mut mean: [Vec<f32>; 3] = std::array::from_fn(|_| GRID.zeros());
    let mut seconds = 0.0;
    while seconds < 300.0 {
        let dt = water.longest_step();
        water.step(dt);
        seconds += dt;
        if seconds > 200.0 {
            for (axis, mean) in mean.iter_mut().enumerate() {
                mean.iter_mut().zip(water.speed(axis)).for_each(|(mean, speed)| *mean += speed * dt / 100.0);
            }
        }
    }
    mean
}

/// Mean over a part of the tank, over its whole depth from front to back.
fn mean(speed: &[f32], across: Range<usize>, up: Range<usize>) -> f32 {
    let mut sum = 0.0;
    for k in up.clone() {
        for j in 0..GRID.cells[1] {
            sum += across.clone().map(|i| speed[GRID.at(i, j, k)]).sum::<f32>();
        }
    }
    sum / (across.len() * up.len() * GRID.cells[1]) as f32
}

#[test]
fn an_outlet_along_the_surface_of_one_end_brings_the_bed_current_back_to_that_end() {
    let [u, _, w] = settled([0.03, 0.25, 0.47], [1.0, 0.0, 0.0], [0.05, 0.1, 0.1]);
    let (surface, bed) = (mean(&u, 6..18, 9..10), mean(&u, 6..18, 0..2));
    assert!(surface > 0.01 && bed < -0.005, "along the surface {surface}, along the bed {bed} m/s");
    let far_end = mean(&w, 22..24, 3..8);
    assert!(far_end < -0.005, "down at the far end: {far_end} m/s");
}
