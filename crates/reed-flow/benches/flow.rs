//! What the flow costs. Run: `cargo bench -p reed-flow`.

use std::ops::ControlFlow;

use divan::{Bencher, black_box};
use reed_flow::{Drain, Flow, Grid, Nozzle, Scene, Settings, Wall};

fn main() {
    divan::main();
}

/// A tank of 1.20 × 0.50 × 0.50 m with water that turns slowly; so many cells along its length, a multiple of twelve.
fn turning(length: usize) -> Flow {
    let cells = [length, length * 5 / 12, length * 5 / 12];
    let h = 1.2 / length as f32;
    let mut flow = Flow::at_rest(Grid { cells, h }, [[Wall::Slip; 2]; 3], 1e-4, |_, _, _| false);
    flow.stir(|axis, [x, _, z]| match axis {
        0 => 0.1 * (std::f32::consts::PI * x / 1.2).sin() * (std::f32::consts::PI * z / 0.5).cos(),
        2 => -0.1 * 0.5 / 1.2 * (std::f32::consts::PI * x / 1.2).cos() * (std::f32::consts::PI * z / 0.5).sin(),
        _ => 0.0,
    });
    flow
}

/// One step of time in cells of 5, 2.5, 1.67 and 1.25 cm: 2,400, 19,200, 64,800 and 153,600 of them.
#[divan::bench(args = [24, 48, 72, 96], sample_count = 50)]
fn step(bencher: Bencher, length: usize) {
    let mut flow = turning(length);
    let dt = flow.longest_step();
    bencher.bench_local(|| black_box(&mut flow).step(dt));
}

/// From rest to a mean flow at 2.5 cm: one nozzle along the surface.
#[divan::bench(sample_count = 3, sample_size = 1)]
fn settled_from_rest(bencher: Bencher) {
    let scene = Scene {
        size: [1.2, 0.5, 0.5],
        solids: Vec::new(),
        nozzles: vec![Nozzle { at: [0.03, 0.25, 0.47], towards: [1.0, 0.0, 0.0], flow: 1.67e-4, speed: 1.0 }],
        drains: vec![Drain { at: [0.05, 0.1, 0.1], flow: 1.67e-4 }],
    };
    bencher.bench(|| black_box(&scene).settle(&Settings::default(), |_| ControlFlow::Continue(())));
}
