//! Whole tanks, as keepers know them: which way the loop turns, where the muck lies, what the
//! intakes catch.

use std::ops::ControlFlow;

use reed_flow::measure::{self, Deposit, Muck};
use reed_flow::{Field, Scene, Settings};

use crate::cases::tanks::{
    ASSUMPTIONS, BOTH_ENDS, BOTH_LEFT, LOW_AT_LEFT_END, LOW_AT_RIGHT_END, Paired, RIGHT,
    SURFACE_OF_LEFT_END, blown_from_the_middle, caught, deposits, facing, flows, outlet, settled,
    tank, two_outlets_at_the_left_end, with_rock,
};

#[test]
fn an_outlet_along_the_surface_of_one_end_brings_the_muck_back_to_that_end_where_the_intake_belongs()
 {
    let with = |intake| tank(vec![outlet(SURFACE_OF_LEFT_END, RIGHT)], [intake]);
    let (near, far) = (with(LOW_AT_LEFT_END), with(LOW_AT_RIGHT_END));
    let (near_flows, far_flows) = (flows(&near), flows(&far));
    for flow in near_flows.iter().chain(&far_flows) {
        let turns = measure::loop_turns(flow);
        assert!(turns > 0.5, "with the clock, seen from the front: {turns}");
        let bed = measure::bed_current(flow);
        let middle = bed
            .iter()
            .flat_map(|row| &row[2..5])
            .map(|part| part.mean[0])
            .sum::<f32>()
            / 9.0;
        assert!(
            middle < -0.01,
            "over the bed towards the outlet's end: {middle} m/s"
        );
    }
    let pair = Paired {
        one: deposits(&near, &near_flows),
        other: deposits(&far, &far_flows),
    };
    assert_eq!(pair.one.len(), ASSUMPTIONS);
    for deposit in &pair.one {
        assert!(
            deposit.share_between(0.0, 0.5) > 0.7,
            "in the outlet's half: {:?}",
            deposit.rests
        );
    }
    assert!(pair.each().all(|(near, far)| caught(near) > caught(far)));
    let mean = |deposits: &[Deposit]| deposits.iter().map(caught).sum::<f32>() / ASSUMPTIONS as f32;
    assert!(
        mean(&pair.one) > 3.0 * mean(&pair.other),
        "{} is caught near the outlet, {} far from it",
        mean(&pair.one),
        mean(&pair.other)
    );
}

/// The best place for an intake, of hundreds along the walls.
#[test]
fn the_best_place_for_an_intake_is_low_at_the_outlets_end_with_few_bubbles() {
    let scene = tank(vec![outlet(SURFACE_OF_LEFT_END, RIGHT)], [LOW_AT_RIGHT_END]);
    let flow = settled(&scene, &Settings::of(&scene)).mean;
    let muck = Muck::SINKS.map(|sinks| Muck {
        sinks,
        lifted_at: Muck::LIFTED_AT[0],
    });
    let places = measure::Places::scored(&flow, &muck, &scene.movers.bubble_sources(), &[], 600);
    assert!(places.all.len() >= 600, "{}", places.all.len());
    let best = places.best(3, 0.1);
    for place in &best {
        assert!(
            place.at[0] < 0.5 && place.at[2] < 0.15 && place.bubbles < 0.05,
            "{best:?}"
        );
    }
    let there = |at: [f32; 3]| {
        places
            .all
            .iter()
            .min_by(|a, b| apart(a.at, at).total_cmp(&apart(b.at, at)))
            .expect("there are places")
            .score()
    };
    assert!(
        best[0].score() > 2.0 * there(LOW_AT_RIGHT_END),
        "{best:?} against {}",
        there(LOW_AT_RIGHT_END)
    );
}

fn apart(one: [f32; 3], other: [f32; 3]) -> f32 {
    (0..3).map(|axis| (one[axis] - other[axis]).powi(2)).sum()
}

/// Of two filters that blow one way from one end, intakes both at that end catch more than one at
/// either end under most assumptions (a general flow package does not have it so: no rule); outlets that face each other from both ends leave more slow water and catch least.
#[test]
fn two_filters_work_with_each_other_from_one_end_and_against_each_other_from_both() {
    let together = tank(two_outlets_at_the_left_end(), BOTH_LEFT);
    let split = tank(two_outlets_at_the_left_end(), BOTH_ENDS);
    let facing = facing();
    assert!(measure::facing(&facing.movers) > 0.99 && measure::facing(&together.movers) < 0.01);
    let [of_together, of_split, of_facing] = [&together, &split, &facing].map(flows);
    let (by_together, by_split, by_facing) = (
        deposits(&together, &of_together),
        deposits(&split, &of_split),
        deposits(&facing, &of_facing),
    );
    let more = by_together
        .iter()
        .zip(&by_split)
        .filter(|(together, split)| caught(together) > caught(split))
        .count();
    let gain = by_together
        .iter()
        .zip(&by_split)
        .map(|(together, split)| caught(together) - caught(split))
        .sum::<f32>()
        / ASSUMPTIONS as f32;
    assert!(
        2 * more > ASSUMPTIONS && gain > 0.0,
        "more is caught in {more} of {ASSUMPTIONS}, by {gain} on average"
    );
    assert!(
        by_together
            .iter()
            .zip(&by_facing)
            .all(|(together, facing)| caught(facing) < caught(together))
    );
    let slow = |flow: &Field| measure::slow_share(flow, 0.0, 1.0);
    let slower = of_together
        .iter()
        .zip(&of_facing)
        .filter(|(together, facing)| slow(facing) > slow(together))
        .count();
    assert!(slower >= 3, "more is slow under {slower} of four flows");
}

#[test]
fn a_wave_maker_that_pushes_with_the_stream_wakes_slow_water() {
    let (without, with) = (blown_from_the_middle(false), blown_from_the_middle(true));
    let slow = |scene: &Scene| {
        flows(scene)[..3]
            .iter()
            .map(|flow| measure::slow_share(flow, 0.0, 1.0))
            .collect::<Vec<_>>()
    };
    let (with, without) = (slow(&with), slow(&without));
    let mean = |slow: &[f32]| slow.iter().sum::<f32>() / slow.len() as f32;
    assert!(
        mean(&with) < 0.9 * mean(&without),
        "{with:?} of the water is slow, {without:?} without"
    );
}

/// An outlet in a back corner lets muck lie around a rock in the middle; from the middle of the end
/// wall it is washed to the intake's end.
#[test]
fn an_outlet_at_the_middle_of_the_end_sweeps_the_muck_from_behind_a_rock() {
    let (corner, middle) = (with_rock(0.46), with_rock(0.25));
    let pair = Paired::of(&corner, &middle);
    for (corner, middle) in pair.each() {
        assert!(
            middle.beside_rock < 0.8 * corner.beside_rock,
            "{} against {}",
            middle.beside_rock,
            corner.beside_rock
        );
        let quarter = |deposit: &Deposit| deposit.share_between(0.0, 0.25);
        assert!(
            quarter(middle) > 1.1 * quarter(corner),
            "{} against {}",
            quarter(middle),
            quarter(corner)
        );
    }
    let sum = |deposits: &[Deposit]| deposits.iter().map(caught).sum::<f32>() / ASSUMPTIONS as f32;
    assert!(
        sum(&pair.other) > 0.9 * sum(&pair.one),
        "{} is caught against {}",
        sum(&pair.other),
        sum(&pair.one)
    );
}

#[test]
fn settling_can_be_broken_off_and_tells_how_far_it_is() {
    let scene = tank(vec![outlet(SURFACE_OF_LEFT_END, RIGHT)], [LOW_AT_LEFT_END]);
    let mut told = Vec::new();
    let broken_off = scene.settle(
        &Settings {
            coarse_seconds: 20.0,
            ..Settings::of(&scene)
        },
        |share| {
            told.push(share);
            if share > 0.2 {
                ControlFlow::Break(())
            } else {
                ControlFlow::Continue(())
            }
        },
    );
    assert!(
        broken_off.is_none() && told.is_sorted() && told[0] < 0.1 && told[told.len() - 1] > 0.2
    );
}

/// Bands hold what is thought likely, and no thread changes a bit of it.
#[test]
fn a_survey_is_the_same_on_one_thread_and_on_two() {
    let scene = tank(vec![outlet(SURFACE_OF_LEFT_END, RIGHT)], [LOW_AT_LEFT_END]);
    let quick = Settings {
        coarse_seconds: 40.0,
        ..Settings::of(&scene).coarsely()
    };
    let survey = |threads| {
        scene
            .survey(quick, threads, &|_| ControlFlow::Continue(()))
            .expect("nobody breaks it off")
    };
    let (one, two) = (survey(1), survey(2));
    for (a, b) in [
        (one.surface_speed, two.surface_speed),
        (one.slow, two.slow),
        (one.muck_rests, two.muck_rests),
        (one.caught[0], two.caught[0]),
    ] {
        assert!(
            a == b && a.low <= a.likely && a.likely <= a.high && a.low < a.high,
            "{a:?} {b:?}"
        );
    }
    assert_eq!(one.field.nodes(), two.field.nodes());
    let whole = one.muck_rests.likely + one.caught[0].likely;
    assert!((whole - 1.0).abs() < 1e-4, "all muck is somewhere: {whole}");
    assert!(
        scene
            .survey(quick, 2, &|share| if share > 0.1 {
                ControlFlow::Break(())
            } else {
                ControlFlow::Continue(())
            })
            .is_none()
    );
}

/// What is kept of a survey gives its field again; a glance comes close to it.
#[test]
fn a_survey_is_kept_in_bytes_and_a_glance_sees_much_the_same() {
    let scene = tank(vec![outlet(SURFACE_OF_LEFT_END, RIGHT)], [LOW_AT_LEFT_END]);
    let quick = Settings {
        coarse_seconds: 40.0,
        ..Settings::of(&scene).coarsely()
    };
    let survey = scene
        .survey(quick, 2, &|_| ControlFlow::Continue(()))
        .expect("nobody breaks it off");
    let packed = survey.packed();
    let field = Field::unpacked(&packed).expect("what was packed is unpacked");
    let fastest = survey
        .field
        .nodes()
        .iter()
        .flat_map(|node| &node[..3])
        .fold(0.0_f32, |most, speed| most.max(speed.abs()));
    for (kept, node) in field.nodes().iter().zip(survey.field.nodes()) {
        assert!(
            (0..3).all(|axis| (kept[axis] - node[axis]).abs() < 1e-4 * fastest),
            "{kept:?} {node:?}"
        );
        assert!(
            (kept[3] - node[3]).abs() < 1e-4 * survey.field.thickest(),
            "{kept:?} {node:?}"
        );
    }
    let cells = field.grid().cells.iter().product::<usize>();
    let head = survey.field.packed().len() + 4 + 2 * field.nodes().len();
    assert_eq!(
        packed.len(),
        head + 4 * cells + 4 + 20 * survey.places.all.len()
    );
    assert!(Field::unpacked(&packed[..head / 2]).is_none() && Field::unpacked(&[]).is_none());
    let glance = scene
        .glance(quick, |_| ControlFlow::Continue(()))
        .expect("nobody breaks it off");
    let caught = survey.caught[0];
    assert!(
        (glance.caught[0].likely - caught.likely).abs() < 0.08,
        "{:?} and {caught:?}",
        glance.caught[0]
    );
    assert!(
        (glance.surface_speed.likely - survey.surface_speed.likely).abs()
            < 0.2 * survey.surface_speed.likely
    );
    assert!(glance.places.all.is_empty());
}
