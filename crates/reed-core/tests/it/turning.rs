//! What the differential says about itself: what it cannot explain, what does not go together, what
//! it hangs on.

use crate::cases::Told;
use reed_core::diagnosis::{Account, Grasp};
use reed_core::document::start;
use reed_core::tank::Analyte;

fn case(id: &str) -> Told {
    Told::of(start::by_id(id).expect("listed").tank())
}

#[test]
fn a_sign_that_nothing_here_can_bring_about_is_called_unexplained() {
    // Water below a cube whose only filter is a sponge: no hose, no housing, no seal.
    let alone = case("sponge-cube").yes("motor-cover-damp").account();
    assert!(
        alone
            .unexplained
            .iter()
            .any(|unexplained| unexplained.chance > 0.9),
        "{:?}",
        alone.unexplained
    );
    let explained = case("planted-canister").yes("motor-cover-damp").account();
    assert!(
        explained.unexplained.is_empty(),
        "{:?}",
        explained.unexplained
    );
}

#[test]
fn what_hardly_goes_together_is_named_and_what_goes_together_is_not() {
    let names = |account: &Account, word: &str| {
        account
            .contradictions
            .iter()
            .any(|contradiction| contradiction.pieces.iter().any(|says| says.contains(word)))
    };
    // What everything else says is a choked pad, the open filter denies.
    let signs = || {
        case("planted-canister")
            .yes("outlet-bubbles-bursts")
            .yes("bubbles-in-water")
            .yes("flow-weak")
            .yes("gas-on-tilting")
    };
    let against = signs().no("air-under-lid").account();
    assert!(
        names(&against, "No air under"),
        "{:?}",
        against.contradictions
    );
    let with = signs().yes("air-under-lid").account();
    assert!(with.contradictions.is_empty(), "{:?}", with.contradictions);
}

/// The short way, taking a piece out of the belief, against the long one, the whole case without
/// that answer.
#[test]
fn a_hinge_is_what_the_whole_differential_says_without_that_answer() {
    let full = case("planted-canister")
        .yes("flow-weak")
        .yes("hose-kinked")
        .yes("prefilter-dirty")
        .yes("surface-film");
    let first = full.differential().first().fault.id;
    let mut hinges = 0;
    for id in [
        "flow-weak",
        "hose-kinked",
        "prefilter-dirty",
        "surface-film",
    ] {
        let without = full.without(id).differential();
        let says = reed_core::diagnosis::finding::by_id(id)
            .expect("listed")
            .says;
        let hinge = full
            .account()
            .hinges
            .into_iter()
            .find(|hinge| hinge.says == says);
        assert_eq!(
            hinge.as_ref().map_or(first, |hinge| hinge.then_first.id),
            without.first().fault.id,
            "{id}"
        );
        hinges += usize::from(hinge.is_some());
    }
    assert!(hinges > 0, "nothing turned");
}

#[test]
fn a_plain_case_does_not_hang_on_a_strength_a_vague_one_does() {
    let plain = case("planted-canister")
        .yes("hose-kinked")
        .yes("flow-weak")
        .account();
    assert_eq!(plain.turns_at, None);
    let vague = case("planted-canister")
        .yes("flow-weak")
        .yes("bubbles-in-water")
        .account();
    assert!(
        vague.turns_at.is_some_and(|factor| factor <= 2.0),
        "{:?}",
        vague.turns_at
    );
}

#[test]
fn with_every_question_answered_and_nothing_that_fits_the_program_says_that_it_does_not_know() {
    let mut lost = case("sponge-cube")
        .yes("motor-cover-damp")
        .yes("gurgle-or-rattle");
    for finding in reed_core::diagnosis::finding::all().filter(|finding| !finding.asks.is_empty()) {
        if !lost.has_answer(finding.id) {
            lost = lost.no(finding.id);
        }
    }
    for (analyte, value) in [
        (Analyte::NITRITE, 0.0),
        (Analyte::AMMONIA, 0.0),
        (Analyte::KH, 6.0),
        (Analyte::NITRATE, 3.0),
        (Analyte::TEMPERATURE, 24.0),
        (Analyte::OXYGEN, 8.0),
        (Analyte::FLOW, 100.0),
    ] {
        lost = lost.read(analyte, value, 8);
    }
    let differential = lost.differential();
    let (first, healthy) = (differential.first(), differential.healthy);
    assert_eq!(
        lost.grasp(),
        Grasp::Lost,
        "{} {:.2} healthy {healthy:.2}",
        first.fault.id,
        first.probability
    );
    assert_eq!(
        case("planted-canister")
            .yes("hose-kinked")
            .yes("flow-weak")
            .grasp(),
        Grasp::Clear
    );
}
