//! Whole cases of filters: bubbles, weak flow, drips. What must come out is common practice among
//! keepers, no source.

use crate::cases::Told;
use reed_core::diagnosis::Answer::{No, Yes};
use reed_core::document::start;
use reed_core::tank::Tank;
use reed_core::tank::thing::{Cover, ThingKind};

fn tank(id: &str) -> Tank {
    start::by_id(id).expect("listed").tank()
}

/// A planted tank with one canister that is not known to purge itself.
fn canister() -> Tank {
    tank("planted-canister")
}

const DAYS: i64 = 24;

#[test]
fn fine_media_clogged_at_a_flow_that_looks_full_with_bubbles_in_bursts() {
    Told::of(canister())
        .yes("outlet-bubbles-bursts")
        .no("flow-weak")
        .no("stops-and-restarts")
        .answer("filter-cleaned", Yes, 100 * DAYS)
        .no("bubbles-only-in-light")
        .yes("fine-media-clogged")
        .comes_out_as("clogged-fine-media", "replace-floss");
}

#[test]
fn bubbles_within_hours_of_a_cleaning_are_trapped_air() {
    Told::of(canister())
        .yes("outlet-bubbles-constant")
        .answer("filter-cleaned", Yes, 2)
        .answer("filter-or-media-new", No, 0)
        .no("bubbles-only-in-light")
        .comes_out_as("trapped-air-cleaned", "wait-and-tilt");
}

#[test]
fn bubbles_in_the_first_week_of_a_new_filter_are_trapped_air() {
    Told::of(canister())
        .yes("outlet-bubbles-constant")
        .answer("filter-or-media-new", Yes, 3 * DAYS)
        .answer("filter-cleaned", No, 0)
        .no("bubbles-only-in-light")
        .comes_out_as("trapped-air-new", "wait-and-tilt");
}

#[test]
fn a_canister_that_stops_and_restarts_purges_itself() {
    let mut tank = canister();
    tank.filters[0].purges_every = Some(reed_core::units::Hours::of(12.0));
    Told::of(tank)
        .yes("stops-and-restarts")
        .yes("outlet-bubbles-bursts")
        .no("flow-weak")
        .comes_out_as("self-purge", "none-needed");
}

#[test]
fn a_loose_motor_cover_drips_after_the_impeller_was_out() {
    Told::of(canister())
        .yes("damp-or-drip")
        .answer("impeller-serviced", Yes, 10 * DAYS)
        .yes("motor-cover-damp")
        .no("outlet-bubbles-constant")
        .comes_out_as("motor-cover-leak", "reseat-motor-cover");
}

#[test]
fn bubbles_that_cleaning_did_not_cure_and_a_flat_seal() {
    Told::of(canister())
        .yes("outlet-bubbles-constant")
        .yes("cleaning-did-not-cure")
        .answer("filter-cleaned", Yes, 3 * DAYS)
        .no("joint-loose")
        .no("intake-fitting-above-water")
        .yes("lid-seal-bad")
        .comes_out_as("seal-leak", "renew-seals");
}

#[test]
fn a_hair_crack_in_an_old_hose_leaks_inward_only() {
    Told::of(canister())
        .yes("outlet-bubbles-constant")
        .yes("cleaning-did-not-cure")
        .no("damp-or-drip")
        .no("lid-seal-bad")
        .no("joint-loose")
        .yes("hose-old")
        .yes("hose-cracked")
        .comes_out_as("hose-crack", "replace-hose");
}

#[test]
fn an_intake_left_dry_by_evaporation() {
    Told::of(canister())
        .yes("outlet-bubbles-constant")
        .yes("water-level-low")
        .yes("intake-fitting-above-water")
        .comes_out_as("intake-fitting-exposed", "lower-intake");
}

#[test]
fn an_air_stone_beside_the_intake() {
    Told::of(canister())
        .yes("outlet-bubbles-constant")
        .yes("air-source-near-intake")
        .no("bubbles-only-in-light")
        .comes_out_as("air-source-near-intake", "move-air-source");
}

#[test]
fn plants_that_pearl_at_the_intake_are_no_fault_of_the_filter() {
    Told::of(canister())
        .yes("outlet-bubbles-constant")
        .yes("bubbles-only-in-light")
        .yes("plants-pearling-near-intake")
        .comes_out_as("plant-gas-at-intake", "accept");
}

#[test]
fn hazy_panes_after_a_cold_refill() {
    Told::of(canister())
        .yes("bubbles-on-panes")
        .answer("water-changed", Yes, 3)
        .answer("refill-colder", Yes, 3)
        .no("outlet-bubbles-constant")
        .comes_out_as("cold-refill-gas", "match-refill-temperature");
}

#[test]
fn a_hang_on_filter_whose_media_are_lifted_out() {
    Told::of(tank("planted-hang-on"))
        .yes("flow-weak")
        .yes("lid-lifted-media-exposed")
        .comes_out_as("exposed-hob-media", "clean-mechanical");
}

#[test]
fn a_full_intake_sponge_starves_the_filter() {
    let mut tank = canister();
    if let ThingKind::Intake(intake) = &mut tank.things[1].what {
        intake.cover = Cover::Sponge;
    }
    Told::of(tank)
        .yes("flow-weak")
        .yes("prefilter-dirty")
        .no("hose-kinked")
        .comes_out_as("clogged-prefilter", "rinse-prefilter");
}

#[test]
fn a_tap_forgotten_after_the_cleaning() {
    Told::of(canister())
        .yes("flow-weak")
        .answer("filter-cleaned", Yes, 3)
        .yes("taps-not-open")
        .comes_out_as("taps-or-coupling", "seat-coupling-open-taps");
}

#[test]
fn nothing_comes_and_it_gurgles_after_the_cleaning() {
    Told::of(canister())
        .yes("flow-stopped")
        .yes("gurgle-or-rattle")
        .answer("filter-cleaned", Yes, 3)
        .no("taps-not-open")
        .yes("air-under-lid")
        .comes_out_as("air-lock", "prime-and-purge");
}

#[test]
fn a_rattling_pump_with_a_worn_impeller() {
    Told::of(canister())
        .yes("gurgle-or-rattle")
        .yes("flow-weak")
        .answer("impeller-serviced", No, 0)
        .yes("impeller-dirty")
        .comes_out_as("impeller-dirty-or-worn", "service-impeller");
}

#[test]
fn large_bubbles_on_tilting_are_gas_that_collected() {
    Told::of(canister())
        .yes("gas-on-tilting")
        .yes("air-under-lid")
        .yes("flow-weak")
        .answer("filter-cleaned", No, 0)
        .no("flow-stopped")
        .comes_out_as("gas-collected", "prime-and-purge");
}

#[test]
fn a_sponge_left_for_years() {
    Told::of(tank("sponge-cube"))
        .yes("flow-weak")
        .yes("sponge-old")
        .yes("sponge-choked")
        .comes_out_as("clogged-biological-media", "replace-sponge-in-halves");
}

#[test]
fn a_sump_whose_return_chamber_has_evaporated() {
    Told::of(tank("reef-sump"))
        .yes("bubbles-in-water")
        .yes("return-chamber-low")
        .yes("gurgle-or-rattle")
        .comes_out_as("return-chamber-low", "top-up");
}

#[test]
fn a_full_sock_lets_particles_by() {
    Told::of(tank("large-sump"))
        .yes("particles-drifting")
        .yes("sock-overflowing")
        .comes_out_as("sock-bypass", "change-sock");
}

#[test]
fn a_sump_that_would_run_over() {
    Told::of(tank("large-sump"))
        .yes("sump-level-high")
        .comes_out_as("sump-overfull", "mark-max-level");
}

#[test]
fn fry_in_the_filter() {
    Told::of(canister())
        .answer("animal-missing", Yes, 2 * DAYS)
        .yes("animals-in-filter")
        .comes_out_as("animals-drawn-in", "fit-prefilter");
}

/// The bubbles at the outlet are those in the water: to say both must not count twice.
#[test]
fn bubbles_seen_twice_count_once() {
    let at_outlet = || Told::of(canister()).yes("outlet-bubbles-constant");
    let both = at_outlet().yes("bubbles-in-water").differential();
    let once = at_outlet().differential();
    assert!((both.first().probability - once.first().probability).abs() < 1e-12);
}

#[test]
fn no_filter_that_was_opened_within_a_week_is_to_be_opened_again() {
    let asked = |days: i64| {
        let case = Told::of(canister())
            .yes("flow-weak")
            .yes("outlet-bubbles-bursts")
            .answer("filter-cleaned", Yes, days * DAYS);
        case.outlook()
            .proposals
            .into_iter()
            .filter(|proposal| proposal.check.opens_filter)
            .count()
    };
    assert_eq!(asked(3), 0);
    assert!(asked(100) > 0);
}
