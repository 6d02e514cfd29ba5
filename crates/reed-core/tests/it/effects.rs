//! What changes do, line by line, by every model that holds what they act on.

use jiff::civil::{DateTime, date};
use reed_core::diagnosis::Case;
use reed_core::document::start;
use reed_core::filter::State;
use reed_core::remedy::change::{self, Acts};
use reed_core::remedy::effect::{About, Effects};
use reed_core::tank::{Analyte, Filter, FilterKind, Medium, Portion, Reading, Sump, Tank, Tray};
use reed_core::twin::numbers::capacity_ratio;
use reed_core::units::{FlowRate, Length, Mass, Volume};

const NOW: DateTime = date(2026, 6, 1).at(9, 0, 0, 0);

/// Tanks that have, together, whatever a change may act on.
fn tanks() -> Vec<Tank> {
    let mut all: Vec<Tank> = start::ALL.iter().map(|start| start.tank()).collect();
    let mut worn = start::by_id("planted-canister").expect("a set-up").tank();
    worn.filters[0].opened = Some(date(2026, 1, 1));
    worn.filters[0].clean = Some(FlowRate::litres_per_hour(600.0));
    worn.filters[0].measured = Some(FlowRate::litres_per_hour(400.0));
    let portion = |medium| Portion {
        medium,
        litres: Volume::litres(1.0),
        ..Portion::default()
    };
    worn.filters[0].trays = vec![Tray {
        holds: Some(Volume::litres(3.0)),
        media: [
            Medium::AmmoniaResin,
            Medium::Floss,
            Medium::FoamCoarse,
            Medium::Sintered,
        ]
        .map(portion)
        .to_vec(),
        ..Tray::default()
    }];
    worn.feed = Mass::grams(2.0);
    let mut overfull = worn.clone();
    overfull.add_filter(Filter {
        kind: FilterKind::Sump,
        sump: Some(Sump {
            siphon_break: Some(Length::cm(12.0)),
            ..Sump::default()
        }),
        trays: Vec::new(),
        ..Filter::default()
    });
    let mut cartridge = worn.clone();
    cartridge.filters[0].kind = FilterKind::HangOnBack;
    cartridge.filters[0].trays = vec![Tray {
        media: vec![portion(Medium::Floss)],
        ..Tray::default()
    }];
    let aired = worn.with_air_stone("Stone", 60.0, reed_core::tank::Running::Always);
    all.extend([worn, overfull, cartridge, aired]);
    all
}

fn case(tank: &Tank) -> Case {
    let mut case = Case::new(tank.clone(), NOW);
    for (analyte, value) in [(Analyte::NITRATE, 20.0), (Analyte::AMMONIA, 0.5)] {
        case.observed
            .readings
            .push(Reading::usual(analyte, value, NOW));
    }
    case
}

/// Every change moves a number in some tank, or says in words what no model here holds: a new card
/// cannot be forgotten.
#[test]
fn every_change_has_a_number_somewhere_or_says_why_not() {
    let tanks = tanks();
    let mut numbers = 0;
    for change in change::all() {
        let moves = |tank: &Tank| !Effects::of(&[change], &case(tank), &[]).lines.is_empty();
        let faults = || change.cures.iter().chain(change.eases);
        let seen = tanks
            .iter()
            .any(|tank| moves(tank) || faults().any(|fault| moves(&fault.put_into(tank))));
        match change.acts {
            // In the water: tried by the flow model.
            Acts::Moves(_) => {}
            Acts::Unseen(why) => {
                assert!(why.ends_with('.') && why.len() > 40, "{}: {why}", change.id);
            }
            Acts::InTheModel | Acts::Makes(_) | Acts::Cleans => {
                assert!(seen, "{} moves nothing anywhere", change.id);
                numbers += usize::from(seen);
            }
        }
    }
    assert!(numbers >= 40, "{numbers} changes have a number");
}

fn effects(id: &str, tank: &Tank) -> Effects {
    Effects::of(&[change::by_id(id).expect("listed")], &case(tank), &[])
}

fn line(effects: &Effects, wanted: impl Fn(&About) -> bool) -> &reed_core::remedy::effect::Line {
    let found = effects.lines.iter().find(|line| wanted(&line.about));
    found.unwrap_or_else(|| panic!("{effects:?}"))
}

/// Against arithmetic by hand, not against the code that draws the lines.
#[test]
fn lines_say_what_arithmetic_says() {
    let tank = &tanks()[start::ALL.len()];
    // A third of the water: two thirds of what was read are left.
    let changed = effects("water-change", tank);
    let nitrate = line(&changed, |about| *about == About::Reading(Analyte::NITRATE));
    assert!((nitrate.before - 20.0).abs() < 1e-9 && (nitrate.after - 20.0 * 0.67).abs() < 1e-9);
    assert_eq!(nitrate.is_better(), Some(true));
    // Changes half as large again: peak = gain / share.
    let larger = effects("bigger-changes", tank);
    let peak = line(&larger, |about| *about == About::NitratePeak);
    assert!((peak.before / peak.after - 1.5).abs() < 1e-6, "{peak:?}");
    // A third more feed: so much less capacity, and as many days fewer.
    let fed = effects("feed-up", tank);
    let capacity = line(&fed, |about| *about == About::Capacity);
    assert!((capacity.before - capacity_ratio(tank).expect("it is fed")).abs() < 1e-9);
    // More is fed, and at night there is a little less oxygen for the bacteria as well.
    assert!(
        capacity.before / capacity.after > 1.29 && capacity.before / capacity.after < 1.45,
        "{capacity:?}"
    );
    let lasts = line(&fed, |about| matches!(about, About::Lasts(_)));
    assert!((lasts.before / lasts.after - 1.3).abs() < 0.05, "{lasts:?}");
    // Cleaned it moves again what it was measured to move clean.
    let cleaned = effects("clean-mechanical", tank);
    let flow = line(&cleaned, |about| matches!(about, About::Flow(_)));
    assert!(
        (flow.before - 400.0).abs() < 1e-6 && (flow.after - 600.0).abs() < 1e-6,
        "{flow:?}"
    );
    let filled = line(&cleaned, |about| matches!(about, About::Filled(_)));
    let state = State::of(tank, &tank.filters[0], &[], None, NOW);
    let share = state
        .clogging
        .and_then(|clogging| clogging.share)
        .expect("opened")
        .middle;
    assert!((filled.before - share).abs() < 1e-9 && filled.after.abs() < 1e-9);
    // “About twice as long”: common practice, no source.
    let sponge = effects("fit-prefilter", tank);
    let lasts = line(&sponge, |about| matches!(about, About::Lasts(_)));
    assert!(
        (1.8..2.2).contains(&(lasts.after / lasts.before)),
        "{lasts:?}"
    );
    // An overfull sump has room again at its mark.
    let overfull = &tanks()[start::ALL.len() + 1];
    let marked = effects("mark-max-level", overfull);
    let room = line(&marked, |about| matches!(about, About::Headroom(_)));
    assert!(room.before < 0.0 && room.after > room.before, "{room:?}");
}

#[test]
fn what_no_model_holds_says_so_and_what_does_nothing_here_too() {
    let tank = &tanks()[start::ALL.len()];
    let seals = effects("renew-seals", tank);
    assert!(seals.lines.is_empty() && seals.unseen.is_some_and(|why| why.contains("bucket test")));
    let mut ordered = tank.clone();
    ordered.filters[0] = ordered.filters[0].in_order();
    assert_eq!(
        effects("reorder-media", &ordered).unseen,
        Some("By the models nothing moves here.")
    );
}
