//! What the flow costs. Run: `cargo bench -p reed-flow`.

use std::ops::ControlFlow;

use divan::{Bencher, black_box};
use reed_flow::measure::{Deposit, Muck, Places};
use reed_flow::{Drain, Flow, Grid, Live, Movers, Nozzle, Scene, Settings, Wall};

fn main() {
    divan::main();
}

/// A tank of 1.20 × 0.50 × 0.50 m with water that turns slowly; so many cells along its length, a
/// multiple of twelve.
fn turning(length: usize) -> Flow {
    let cells = [length, length * 5 / 12, length * 5 / 12];
    let h = 1.2 / length as f32;
    let mut flow = Flow::at_rest(Grid { cells, h }, [[Wall::Slip; 2]; 3], 1e-4, |_| false);
    flow.stir(|axis, [x, _, z]| match axis {
        0 => 0.1 * (std::f32::consts::PI * x / 1.2).sin() * (std::f32::consts::PI * z / 0.5).cos(),
        2 => {
            -0.1 * 0.5 / 1.2
                * (std::f32::consts::PI * x / 1.2).cos()
                * (std::f32::consts::PI * z / 0.5).sin()
        }
        _ => 0.0,
    });
    flow
}

/// One step of time in cells of 5, 2.5, 1.67 and 1.25 cm: 2,400, 19,200, 64,800 and 153,600 of
/// them.
#[divan::bench(args = [24, 48, 72, 96], sample_count = 50)]
fn step(bencher: Bencher, length: usize) {
    let mut flow = turning(length);
    let dt = flow.longest_step();
    bencher.bench_local(|| black_box(&mut flow).step(dt));
}

/// 300 litres with an outlet along the surface of one end, and with a second one that faces it.
fn tank(facing: bool) -> Scene {
    let nozzle = Nozzle {
        at: [0.03, 0.25, 0.47],
        towards: [1.0, 0.0, 0.0],
        flow: 1.67e-4,
        speed: 1.0,
    };
    let other = Nozzle {
        at: [1.17, 0.25, 0.47],
        towards: [-1.0, 0.0, 0.0],
        ..nozzle
    };
    let drain = Drain {
        at: [0.05, 0.1, 0.1],
        flow: 1.67e-4,
        intake: 0,
    };
    let other_drain = Drain {
        at: [1.15, 0.1, 0.1],
        intake: 1,
        ..drain
    };
    let mut movers = Movers {
        nozzles: vec![nozzle],
        drains: vec![drain],
        ..Movers::default()
    };
    if facing {
        movers.nozzles.push(other);
        movers.drains.push(other_drain);
    }
    Scene {
        size: [1.2, 0.5, 0.5],
        movers,
        ..Scene::default()
    }
}

/// From rest to a mean flow at 2.5 cm.
#[divan::bench(args = [false, true], sample_count = 3, sample_size = 1)]
fn settled_from_rest(bencher: Bencher, facing: bool) {
    let scene = tank(facing);
    let settings = Settings::of(&scene);
    bencher.bench(|| black_box(&scene).settle(&settings, |_| ControlFlow::Continue(())));
}

/// The same in cells of 2.5 cm for a tank of 2.00 × 0.60 × 0.60 m: 46,000 of them.
#[divan::bench(sample_count = 3, sample_size = 1)]
fn settled_large(bencher: Bencher) {
    let scene = Scene {
        size: [2.0, 0.6, 0.6],
        ..tank(false)
    };
    let settings = Settings {
        coarse: 0.05,
        fine: 0.025,
        ..Settings::of(&scene)
    };
    bencher.bench(|| black_box(&scene).settle(&settings, |_| ControlFlow::Continue(())));
}

/// From rest to a mean flow in cells of 1.25 cm, beginning from those of 5 cm.
#[divan::bench(sample_count = 1, sample_size = 1)]
fn settled_finely(bencher: Bencher) {
    let scene = tank(false);
    let settings = Settings {
        fine: 0.0125,
        fine_seconds: 10.0,
        mean_seconds: 8.0,
        means: 2,
        ..Settings::of(&scene)
    };
    bencher.bench(|| black_box(&scene).settle(&settings, |_| ControlFlow::Continue(())));
}

/// All measures under all assumptions, on one thread.
#[divan::bench(sample_count = 1, sample_size = 1)]
fn survey(bencher: Bencher) {
    let scene = tank(false);
    bencher.bench(|| {
        black_box(&scene).survey(Settings::of(&scene), 1, &|_| ControlFlow::Continue(()))
    });
}

/// A look at one arrangement of many, when better places are searched for.
#[divan::bench(sample_count = 5, sample_size = 1)]
fn glance(bencher: Bencher) {
    let scene = tank(false);
    bencher.bench(|| black_box(&scene).glance(Settings::of(&scene), |_| ControlFlow::Continue(())));
}

/// A second of tank time of water that is watched, in cells of 5 and 2.5 cm, with the field that is
/// drawn.
#[divan::bench(args = [5.0, 2.5], sample_count = 20)]
fn live_second(bencher: Bencher, centimetres: f32) {
    let mut live = Live::at_rest(tank(false), centimetres / 100.0);
    live.advance(30.0);
    bencher.bench_local(|| {
        live.advance(1.0);
        black_box(live.field())
    });
}

/// A thousand pieces of muck to their end.
#[divan::bench(sample_count = 5, sample_size = 1)]
fn muck(bencher: Bencher) {
    let scene = tank(false);
    let field = scene
        .settle(&Settings::of(&scene).coarsely(), |_| {
            ControlFlow::Continue(())
        })
        .expect("nobody breaks it off")
        .mean;
    bencher.bench(|| {
        Deposit::of(
            &field,
            Muck {
                sinks: 0.004,
                lifted_at: 0.016,
            },
            &scene.movers,
            1000,
        )
    });
}

/// Some 600 places along the walls, by 600 pieces of muck and 150 bubbles.
#[divan::bench(sample_count = 5, sample_size = 1)]
fn places(bencher: Bencher) {
    let scene = tank(false);
    let field = scene
        .settle(&Settings::of(&scene), |_| ControlFlow::Continue(()))
        .expect("nobody breaks it off")
        .mean;
    let muck = Muck::SINKS.map(|sinks| Muck {
        sinks,
        lifted_at: 0.016,
    });
    bencher.bench(|| {
        Places::scored(
            &field,
            &muck,
            &scene.movers.bubble_sources(),
            &scene.movers.drains,
            600,
        )
    });
}
