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
        let running: Vec<_> =
            all.chunks(2).map(|half| scope.spawn(|| half.iter().map(|one| settled(scene, one).mean).collect::<Vec<_>>())).collect();
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

/// Pairs of what comes of two scenes under the same assumptions.
fn paired<'a>(one: &'a [Deposit], other: &'a [Deposit]) -> impl Iterator<Item = (&'a Deposit, &'a Deposit)> {
    one.iter().zip(other)
}

/// What is held in every flow: eddies as thought, half, twice, coarse grid; six sorts of muck in each.
const ASSUMPTIONS: usize = 24;

#[test]
fn an_outlet_along_the_surface_of_one_end_brings_the_muck_back_to_that_end_where_the_intake_belongs() {
    let with = |intake| tank(vec![outlet(SURFACE_OF_LEFT_END, RIGHT)], [intake]);
    let (near, far) = (with(LOW_AT_LEFT_END), with(LOW_AT_RIGHT_END));
    let (near_flows, far_flows) = (flows(&near), flows(&far));
    for flow in near_flows.iter().chain(&far_flows) {
        let turns = measure::loop_turns(flow);
        assert!(turns > 0.5, "with the clock, seen from the front: {turns}");
        let bed = measure::bed_current(flow);
        let middle = bed.iter().flat_map(|row| &row[2..5]).map(|part| part.mean[0]).sum::<f32>() / 9.0;
        assert!(middle < -0.01, "over the bed towards the outlet's end: {middle} m/s");
    }
    let (near, far) = (deposits(&near, &near_flows), deposits(&far, &far_flows));
    assert_eq!(near.len(), ASSUMPTIONS);
    for deposit in &near {
        assert!(deposit.share_between(0.0, 0.5) > 0.7, "in the outlet's half: {:?}", deposit.rests);
    }
    let quarter = |deposits: &[Deposit]| deposits.iter().filter(|deposit| deposit.share_between(0.0, 0.25) > 0.9).count();
    assert!(quarter(&near) >= 6, "nine tenths in the outlet's quarter in {} of {ASSUMPTIONS}", quarter(&near));
    assert!(paired(&near, &far).all(|(near, far)| caught(near) > 1.25 * caught(far)));
    let fivefold = paired(&near, &far).filter(|(near, far)| caught(near) > 5.0 * caught(far)).count();
    assert!(fivefold >= 6, "five times as much is caught near the outlet in {fivefold} of {ASSUMPTIONS}");
}

/// The best place for an intake, of hundreds along the walls.
#[test]
fn the_best_place_for_an_intake_is_low_at_the_outlets_end_with_few_bubbles() {
    let scene = tank(vec![outlet(SURFACE_OF_LEFT_END, RIGHT)], [LOW_AT_RIGHT_END]);
    let flow = settled(&scene, &Settings::of(&scene)).mean;
    let muck = Muck::SINKS.map(|sinks| Muck { sinks, lifted_at: Muck::LIFTED_AT[0] });
    let places = measure::Places::scored(&flow, &muck, &scene.movers.bubble_sources(), &[], 600);
    assert!(places.all.len() >= 600, "{}", places.all.len());
    let best = places.best(3, 0.1);
    for place in &best {
        assert!(place.at[0] < 0.4 && place.at[2] < 0.15 && place.bubbles < 0.05, "{best:?}");
    }
    let there =
        |at: [f32; 3]| places.all.iter().min_by(|a, b| apart(a.at, at).total_cmp(&apart(b.at, at))).expect("there are places").score();
    assert!(best[0].score() > 2.0 * there(LOW_AT_RIGHT_END), "{best:?} against {}", there(LOW_AT_RIGHT_END));
}

fn apart(one: [f32; 3], other: [f32; 3]) -> f32 {
    (0..3).map(|axis| (one[axis] - other[axis]).powi(2)).sum()
}

fn two_outlets_at_the_left_end() -> Vec<Nozzle> {
    vec![outlet([0.03, 0.15, 0.47], RIGHT), outlet([0.03, 0.35, 0.47], RIGHT)]
}

const BOTH_LEFT: [[f32; 3]; 2] = [[0.05, 0.15, 0.06], [0.05, 0.35, 0.06]];
const BOTH_ENDS: [[f32; 3]; 2] = [LOW_AT_LEFT_END, LOW_AT_RIGHT_END];

/// Of two filters that blow one way from one end, intakes both at that end catch more than one at either end; outlets that face
/// each other from both ends leave more slow water and catch least.
#[test]
fn two_filters_work_with_each_other_from_one_end_and_against_each_other_from_both() {
    let together = tank(two_outlets_at_the_left_end(), BOTH_LEFT);
    let split = tank(two_outlets_at_the_left_end(), BOTH_ENDS);
    let facing = tank(vec![outlet(SURFACE_OF_LEFT_END, RIGHT), outlet([1.17, 0.25, 0.47], [-1.0, 0.0, 0.0])], BOTH_ENDS);
    assert!(measure::facing(&facing.movers) > 0.99 && measure::facing(&together.movers) < 0.01);
    let [of_together, of_split, of_facing] = [&together, &split, &facing].map(flows);
    let caught_by = |scene: &Scene, flows: &[Field]| deposits(scene, flows);
    let (by_together, by_split, by_facing) =
        (caught_by(&together, &of_together), caught_by(&split, &of_split), caught_by(&facing, &of_facing));
    let more = paired(&by_together, &by_split).filter(|(together, split)| caught(together) > caught(split)).count();
    let gain = paired(&by_together, &by_split).map(|(together, split)| caught(together) - caught(split)).sum::<f32>() / ASSUMPTIONS as f32;
    assert!(more >= 19 && gain > 0.05, "more is caught in {more} of {ASSUMPTIONS}, by {gain} on average");
    assert!(paired(&by_together, &by_facing).all(|(together, facing)| caught(facing) < caught(together)));
    for (together, facing) in of_together.iter().zip(&of_facing) {
        let slow = |flow| measure::slow_share(flow, 0.0, 1.0);
        assert!(slow(facing) > 2.0 * slow(together), "{} against {}", slow(facing), slow(together));
    }
}

#[test]
fn a_wave_maker_that_pushes_with_the_stream_wakes_slow_water() {
    let outlets = vec![outlet([0.55, 0.05, 0.45], RIGHT), outlet([0.65, 0.05, 0.45], RIGHT)];
    let without = tank(outlets, BOTH_ENDS);
    let mut with = without.clone();
    with.movers.pushes.push(Push { at: [0.05, 0.25, 0.42], towards: RIGHT, thrust: 4e-4, reach: 0.05 });
    let slow = |scene: &Scene| flows(scene)[..3].iter().map(|flow| measure::slow_share(flow, 0.0, 1.0)).collect::<Vec<_>>();
    for (with, without) in slow(&with).into_iter().zip(slow(&without)) {
        assert!(with < 0.65 * without, "{with} of the water is slow, {without} without");
    }
}

/// An outlet in a back corner lets muck lie around a rock in the middle; from the middle of the end wall it is washed to the
/// intake's end.
#[test]
fn an_outlet_at_the_middle_of_the_end_sweeps_the_muck_from_behind_a_rock() {
    let around = |y: f32| {
        let mut scene = tank(vec![outlet([0.03, y, 0.45], RIGHT)], [LOW_AT_LEFT_END]);
        scene.solids.push(Solid::between([0.5, 0.15, 0.0], [0.7, 0.35, 0.2]));
        scene
    };
    let (corner, middle) = (around(0.46), around(0.25));
    let (by_corner, by_middle) = (deposits(&corner, &flows(&corner)), deposits(&middle, &flows(&middle)));
    for (corner, middle) in paired(&by_corner, &by_middle) {
        assert!(middle.beside_rock < 0.8 * corner.beside_rock, "{} against {}", middle.beside_rock, corner.beside_rock);
        let quarter = |deposit: &Deposit| deposit.share_between(0.0, 0.25);
        assert!(quarter(middle) > 1.1 * quarter(corner), "{} against {}", quarter(middle), quarter(corner));
    }
    let sum = |deposits: &[Deposit]| deposits.iter().map(caught).sum::<f32>() / ASSUMPTIONS as f32;
    assert!(sum(&by_middle) > 1.05 * sum(&by_corner), "{} is caught against {}", sum(&by_middle), sum(&by_corner));
}

#[test]
fn settling_can_be_broken_off_and_tells_how_far_it_is() {
    let scene = tank(vec![outlet(SURFACE_OF_LEFT_END, RIGHT)], [LOW_AT_LEFT_END]);
    let mut told = Vec::new();
    let broken_off = scene.settle(&Settings { coarse_seconds: 20.0, ..Settings::of(&scene) }, |share| {
        told.push(share);
        if share > 0.2 { ControlFlow::Break(()) } else { ControlFlow::Continue(()) }
    });
    assert!(broken_off.is_none() && told.is_sorted() && told[0] < 0.1 && told[told.len() - 1] > 0.2);
}

/// Bands hold what is thought likely, and no thread changes a bit of it.
#[test]
fn a_survey_is_the_same_on_one_thread_and_on_two() {
    let scene = tank(vec![outlet(SURFACE_OF_LEFT_END, RIGHT)], [LOW_AT_LEFT_END]);
    let quick = Settings { coarse_seconds: 40.0, ..Settings::of(&scene).coarsely() };
    let survey = |threads| scene.survey(quick, threads, &|_| ControlFlow::Continue(())).expect("nobody breaks it off");
    let (one, two) = (survey(1), survey(2));
    for (a, b) in
        [(one.surface_speed, two.surface_speed), (one.slow, two.slow), (one.muck_rests, two.muck_rests), (one.caught[0], two.caught[0])]
    {
        assert!(a == b && a.low <= a.likely && a.likely <= a.high && a.low < a.high, "{a:?} {b:?}");
    }
    assert_eq!(one.field.nodes(), two.field.nodes());
    let whole = one.muck_rests.likely + one.caught[0].likely;
    assert!((whole - 1.0).abs() < 1e-4, "all muck is somewhere: {whole}");
    assert!(scene.survey(quick, 2, &|share| if share > 0.1 { ControlFlow::Break(()) } else { ControlFlow::Continue(()) }).is_none());
}
