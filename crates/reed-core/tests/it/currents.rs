//! Whole cases of the current: what lies where, and what floats on top. What must come out is
//! common practice among keepers, no source.

use crate::cases::Told;
use reed_core::diagnosis::Answer::{No, Yes};
use reed_core::document::start;
use reed_core::tank::Tank;
use reed_core::tank::thing::ThingKind;
use reed_core::units::Length;

fn tank(id: &str) -> Tank {
    start::by_id(id).expect("listed").tank()
}

const DAYS: i64 = 24;

#[test]
fn a_heap_between_two_filters_that_face_each_other() {
    Told::of(tank("background-two-canisters"))
        .yes("muck-one-pile")
        .answer("second-filter-added", Yes, 20 * DAYS)
        .yes("food-rests-between-intakes")
        .comes_out_as("opposed-flow", "intakes-same-end");
}

#[test]
fn food_that_drifts_past_the_intake() {
    Told::of(tank("planted-canister"))
        .yes("food-passes-intake")
        .yes("muck-one-pile")
        .no("muck-behind-structure")
        .comes_out_as("intake-misplaced", "intake-low-at-outlets-end");
}

#[test]
fn muck_in_the_lee_of_a_rock() {
    Told::of(tank("rocks-two-filters"))
        .yes("muck-behind-structure")
        .no("food-passes-intake")
        .comes_out_as("structure-shadow", "outlet-to-end-middle");
}

#[test]
fn muck_everywhere_in_a_tank_whose_clean_filter_is_too_small() {
    let mut tank = tank("planted-canister");
    tank.water_depth = Length::cm(60.0);
    tank.glass.height = Length::cm(65.0);
    tank.glass.length = Length::cm(200.0);
    Told::of(tank)
        .yes("muck-everywhere")
        .no("flow-weak")
        .no("leftover-food")
        .no("smell-musty")
        .yes("food-passes-intake")
        .comes_out_as("flow-too-low", "add-circulation");
}

#[test]
fn dirt_behind_a_background_whose_filters_draw_from_the_front() {
    let mut tank = tank("background-two-canisters");
    for thing in &mut tank.things {
        if matches!(thing.what, ThingKind::Intake(_)) {
            thing.y = Length::cm(30.0);
        }
    }
    Told::of(tank)
        .yes("behind-background-dirty")
        .comes_out_as("stagnant-behind-background", "siphon-behind-background");
}

#[test]
fn long_fins_pushed_about_by_a_strong_filter() {
    Told::of(tank("planted-hang-on"))
        .yes("pushed-by-current")
        .no("surface-flat")
        .comes_out_as("current-too-strong", "diffuse-outlet");
}

#[test]
fn leftovers_on_a_bed_that_nobody_siphons() {
    Told::of(tank("community-internal"))
        .yes("leftover-food")
        .yes("bed-not-siphoned")
        .yes("smell-musty")
        .comes_out_as("bed-waste", "vacuum-bed");
}

#[test]
fn foam_that_stays_after_oily_food() {
    Told::of(tank("community-internal"))
        .yes("foam-stays")
        .yes("oily-food")
        .no("soap-near-tank")
        .no("bubble-nest")
        .comes_out_as("waste-foam", "better-food");
}

#[test]
fn foam_and_sick_fish_after_a_bucket_was_washed() {
    Told::of(tank("community-internal"))
        .yes("foam-stays")
        .answer("soap-near-tank", Yes, 12)
        .yes("irritated")
        .yes("sudden-onset")
        .answer("water-changed", No, 0)
        .comes_out_as("soap-contamination", "large-water-change");
}

#[test]
fn a_raft_of_bubbles_with_a_father_below_is_left_alone() {
    Told::of(tank("sponge-cube"))
        .yes("foam-stays")
        .yes("bubble-nest")
        .comes_out_as("bubble-nest-normal", "none-needed");
}
