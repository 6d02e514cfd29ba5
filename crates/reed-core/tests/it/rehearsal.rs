//! The rehearsal itself: the same cases every time, and a world as believed is judged as it is.

use reed_core::document::start;
use reed_core::rehearsal::water::{ANALYTES, of_all, water_ahead};
use reed_core::rehearsal::{Order, Rehearsal};

fn rehearsal(factor: f64, mistaken: f64) -> Rehearsal {
    Rehearsal {
        cases: 4,
        seed: 7,
        factor,
        mistaken,
    }
}

#[test]
fn the_same_seed_gives_the_same_cases_and_every_statement_is_counted_once() {
    let tanks = [start::by_id("sponge-cube").expect("listed").tank()];
    let (one, other) = (
        rehearsal(1.0, 0.0).play(&tanks),
        rehearsal(1.0, 0.0).play(&tanks),
    );
    assert_eq!(format!("{one:?}"), format!("{other:?}"));
    assert_eq!(one.cases, 4);
    for bins in &one.reliability {
        for bin in bins {
            assert!(
                bin.edges[0] <= bin.stated && bin.stated <= bin.edges[1] + 1e-9,
                "{bin:?}"
            );
            assert!((0.0..=1.0).contains(&bin.came_true));
        }
    }
    // Nobody gains by looking less: what is right at the end is at least as often right as at the
    // beginning, in these cases.
    assert!(one.top_3[2] >= one.top_3[0], "{one:?}");
    let fixed = one
        .until_certain
        .iter()
        .find(|race| race.order == Order::Fixed)
        .expect("it was played");
    assert!((0.0..=1.0).contains(&fixed.certain));
}

/// What is learned from a world whose answers are thrown at random must be less than from one that
/// answers truly.
#[test]
fn answers_at_random_teach_less_than_true_ones() {
    let tanks = [start::by_id("sponge-cube").expect("listed").tank()];
    let (truly, at_random) = (
        rehearsal(1.0, 0.0).play(&tanks),
        rehearsal(1.0, 0.5).play(&tanks),
    );
    assert!(
        truly.brier < at_random.brier,
        "{} {}",
        truly.brier,
        at_random.brier
    );
}

/// The bands of the days ahead hold what a simulator makes of tanks whose every constant, load,
/// warmth and oxygen is off, with kits that scatter and readings that are mistaken: of each analyte,
/// of each story, and of what is truly over its limit, where it matters most.
#[test]
fn the_days_ahead_hold_the_tanks_of_another_simulator() {
    let stories = water_ahead(14, 11);
    let all = of_all(&stories);
    for (held, (analyte, _)) in all.iter().zip(ANALYTES) {
        assert!(
            held.all >= 290 && held.share() >= 0.88,
            "{}: {held:?}",
            analyte.id
        );
        assert!(
            held.over < 20 || held.share_over() >= 0.85,
            "{}: {held:?}",
            analyte.id
        );
    }
    assert!(all[0].over > 30 && all[1].over > 30, "{all:?}");
    for (story, held) in &stories {
        for (held, (analyte, _)) in held.iter().zip(ANALYTES) {
            assert!(held.share() >= 0.75, "{story}, {}: {held:?}", analyte.id);
        }
    }
}
