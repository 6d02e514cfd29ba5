//! Whole tanks, as keepers know them: which way the loop turns, where the muck lies, what the intakes catch. Common practice,
//! no source; compared in pairs and under every assumption of a survey, since no number of these was ever measured in a tank.

use std::ops::ControlFlow;

use reed_flow::measure::{self, Deposit, Muck};
use reed_flow::{Drain, Field, Movers, Nozzle, Push, Scene, Settings, Settled, Solid};

/// 600 L/h through a bore of 14.6 mm.
const FLOW: f32 = 1.67e-4;

fn outlet(at: [f32; 3], towards: [f32; 3]) -> Nozzle {
    Nozzle { at, towards, flow: FLOW, speed: 1.0 }
}

fn intakes<const N: usize>(at: [[f32; 3]; N]) -> Vec<Drain> {
    at.into_iter().enumerate().map(|(intake, at)| Drain { at, flow: FLOW, intake }).collect()
}

/// A tank of 1.20 × 0.50 × 0.50 m.
fn tank<const N: usize>(nozzles: Vec<Nozzle>, drains: [[f32; 3]; N]) -> Scene {
    Scene { size: [1.2, 0.5, 0.5], movers: Movers { nozzles, drains: intakes(drains), ..Movers::default() }, ..Scene::default() }
}

fn settled(scene: &Scene, settings: &Settings) -> Settled {
    scene.settle(settings, |_| ControlFlow::Continue(())).expect("nobody breaks it off")
}

/// The mean flows with eddies as they are thought to be, half and twice as strong, and on the coarse grid.
fn flows(scene: &Scene) -> Vec<Field> {
    let best = Settings::of(scene);
    let all = [best, Settings { eddies: 0.5, ..best }, Settings { eddies: 2.0, ..best }, best.coarsely()];
    std::thread::scope(|scope| {
        let running: Vec<_> = all.chunks(2).map(|half| scope.spawn(|| half.iter().map(|one| settled(scene, one).mean).collect::<Vec<_>>())).collect();
        running.into_iter().flat_map(|half| half.join().expect("it settles")).collect()
    })
}

/// Where muck of every sort goes in every flow.
fn deposits(scene: &Scene, flows: &[Field]) -> Vec<Deposit> {
    let sorts = Muck::SINKS.into_iter().flat_map(|sinks| Muck::LIFTED_AT.map(|lifted_at| Muck { sinks, lifted_at }));
    let pairs = flows.iter().flat_map(|flow| sorts.clone().map(move |muck| (flow, muck)));
    pairs.map(|(flow, muck)| Deposit::of(flow, muck, &scene.movers, 300)).collect()
}

fn caught(deposit: &Deposit) -> f32 {
    deposit.caught.iter().sum()
}

const SURFACE_OF_LEFT_END: [f32; 3] = [0.03, 0.25, 0.47];
const LOW_AT_LEFT_END: [f32; 3] = [0.05, 0.25, 0.06];
const LOW_AT_RIGHT_END: [f32; 3] = [1.15, 0.25, 0.06];
const RIGHT: [f32; 3] = [1.0, 0.0, 0.0];

#[test]
fn probe() {
    let table = |name: &str, scenes: &[(&str, Scene)]| {
        let all: Vec<_> = scenes.iter().map(|(label, scene)| { let flows = flows(scene); (label, deposits(scene, &flows), flows) }).collect();
        for index in 0..24 {
            let row: Vec<String> = all.iter().map(|(label, deposits, _)| { let d = &deposits[index]; format!("{label}: caught {:.3} quarter {:.2} half {:.2} rock {:.2}/{:.2}", caught(d), d.share_between(0.0, 0.25), d.share_between(0.0, 0.5), d.beside_rock, d.bed_beside_rock) }).collect();
            println!("{name} flow {} sort {}: {}", index / 6, index % 6, row.join(" | "));
        }
        for (label, _, flows) in &all { println!("{name} {label} slow {:?} thirds {:?}", flows.iter().map(|f| (measure::slow_share(f, 0.0, 1.0)*1000.0).round()/1000.0).collect::<Vec<_>>(), flows.iter().map(|f| [0.0,1.0,2.0].map(|t: f32| (measure::slow_share(f, t/3.0, (t+1.0)/3.0)*100.0).round())).collect::<Vec<_>>()); }
    };
    let one = || vec![outlet(SURFACE_OF_LEFT_END, RIGHT)];
    table("1", &[("near", tank(one(), [LOW_AT_LEFT_END])), ("far", tank(one(), [LOW_AT_RIGHT_END]))]);
    let two = || vec![outlet([0.03, 0.15, 0.47], RIGHT), outlet([0.03, 0.35, 0.47], RIGHT)];
    table("2a", &[("both", tank(two(), [[0.05, 0.15, 0.06], [0.05, 0.35, 0.06]])), ("split", tank(two(), [[0.05, 0.25, 0.06], LOW_AT_RIGHT_END]))]);
    let mid = || vec![outlet([0.55, 0.05, 0.45], RIGHT), outlet([0.65, 0.05, 0.45], RIGHT)];
    let ends = [[0.05, 0.25, 0.06], LOW_AT_RIGHT_END];
    let mut waved = tank(mid(), ends);
    waved.movers.pushes.push(Push { at: [0.05, 0.25, 0.42], towards: RIGHT, thrust: 4e-4, reach: 0.05 });
    table("2b", &[("none", tank(mid(), ends)), ("wave", waved)]);
    let facing = vec![outlet([0.03, 0.25, 0.47], RIGHT), outlet([1.17, 0.25, 0.47], [-1.0, 0.0, 0.0])];
    table("2c", &[("facing", tank(facing, ends)), ("same end", tank(two(), [[0.05, 0.15, 0.06], [0.05, 0.35, 0.06]]))]);
    let rock = Solid::between([0.45, 0.12, 0.0], [0.75, 0.38, 0.28]);
    let low = [[0.05, 0.25, 0.06]];
    let mut corner = tank(vec![outlet([0.03, 0.46, 0.45], RIGHT)], low);
    corner.solids.push(rock);
    let mut middle = tank(vec![outlet([0.03, 0.25, 0.45], RIGHT)], low);
    middle.solids.push(rock);
    table("3", &[("corner", corner), ("middle", middle)]);
}
