//! Against settled fields of another package; and a symmetric tank, which does not stay so.

use std::ops::ControlFlow;

use reed_flow::{Field, Settings, Survey, measure};

use crate::cases::boxes::{SET_BY, scene, surveyed, symmetric, table};

/// The bands hold the figures of another package: of the boxes by which widths were set, and of
/// those that only judge.
#[test]
fn bands_hold_what_another_package_found() {
    let (mut missed, mut judged, mut judged_missed) = (Vec::new(), 0, 0);
    let mut all = 0;
    for reference in table() {
        let scene = scene(reference.name);
        let survey = surveyed(&scene, Settings::of(&scene));
        let bands = [survey.mean_speed, survey.bed_speed, survey.slow];
        for ((band, figure), what) in bands
            .iter()
            .zip(reference.figures)
            .zip(["mean", "bed", "slow"])
        {
            let judges = !SET_BY.contains(&reference.name);
            let held = (band.low..=band.high).contains(&figure);
            println!("{} {what}: {figure} in {band:?}: {held}", reference.name);
            all += 1;
            judged += usize::from(judges);
            if !held {
                judged_missed += usize::from(judges);
                missed.push(format!(
                    "{} {what}: {figure} not in {band:?}",
                    reference.name
                ));
            }
        }
        // Nothing is told by making the bands so wide that they say nothing.
        let speed = survey.mean_speed;
        assert!(
            speed.high < 3.0 * speed.low,
            "{}: {speed:?}",
            reference.name
        );
    }
    assert_eq!((all, judged), (15, 6));
    assert!(missed.len() <= 1 && judged_missed <= 1, "{missed:#?}");
}

/// Speeds towards the right in the front and in the back half, over those of both: negative, it runs
/// faster in the back.
fn lean(field: &Field) -> f32 {
    let [length, width, depth] = field.size();
    let (mut front, mut back) = (0.0, 0.0);
    for i in 0..24 {
        for k in 0..10 {
            for j in 0..5 {
                let share = |n: i16, of: f32| (f32::from(n) + 0.5) / of;
                let [x, z] = [share(i, 24.0) * length, share(k, 10.0) * depth];
                let y = share(j, 10.0) * width;
                front += field.at([x, y, z]).speed[0].abs();
                back += field.at([x, width - y, z]).speed[0].abs();
            }
        }
    }
    (front - back) / (front + back)
}

/// The measures of a field lie in the bands of a survey.
fn hold(survey: &Survey, field: &Field, what: &str) {
    for (band, value) in [
        (survey.mean_speed, measure::mean_speed(field)),
        (survey.surface_speed, measure::surface_speed(field)),
        (survey.bed_speed, measure::bed_speed(field)),
        (survey.slow, measure::slow_share(field, 0.0, 1.0)),
        (survey.gentle, measure::gentle_share(field)),
    ] {
        let held = (band.low..=band.high).contains(&value);
        assert!(held, "{what}: {value} in {band:?}");
    }
}

/// A symmetric tank turns to one side and stays there, as it does when run four times longer; an
/// outlet 5 mm to either side moves no measure out of its band, and mirrors the flow.
#[test]
fn a_symmetric_tank_leans_and_a_nudge_moves_nothing_out_of_its_band() {
    let of = |aside: f32, longer: f32| {
        let scene = symmetric(aside);
        let usual = Settings::of(&scene);
        let settings = Settings {
            coarse_seconds: longer * usual.coarse_seconds,
            ..usual
        };
        scene
            .settle(&settings, |_| ControlFlow::Continue(()))
            .expect("nobody breaks it off")
            .mean
    };
    let scene = symmetric(0.0);
    let usual = surveyed(&scene, Settings::of(&scene));
    assert!(
        lean(&usual.field).abs() > 0.05,
        "it stands on the symmetric state: {}",
        lean(&usual.field)
    );
    let (longer, back, front) = (of(0.0, 4.0), of(0.005, 1.0), of(-0.005, 1.0));
    hold(&usual, &longer, "four times longer");
    hold(&usual, &back, "5 mm to the back");
    hold(&usual, &front, "5 mm to the front");
    let apart = (measure::mean_speed(&back) / measure::mean_speed(&front) - 1.0).abs();
    let mirrored = lean(&back) * lean(&front) < 0.0;
    assert!(mirrored && apart < 0.03, "{apart}");
}
