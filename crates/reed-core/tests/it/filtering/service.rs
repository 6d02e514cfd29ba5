//! Air, sumps, hoses, the service sheet, kinds to choose from.

use reed_core::filter::air::{evaporation_mm_day, margin_kpa};
use reed_core::filter::cut::{by_bore, cuts, enough};
use reed_core::filter::sump_levels::{over_the_weir_cm, sump_levels};
use reed_core::filter::{Plumbing, State};
use reed_core::remedy::choosing::choices;
use reed_core::remedy::service::{share_in_sponges, sheet};
use reed_core::tank::{Filter, FilterKind, Medium, RinseSchool, Sump, SumpRole, Tank};
use reed_core::units::{FlowRate, Length, Mass, Volume};

use jiff::ToSpan as _;
use reed_core::log::Entry;

use super::{NOW, canister_tank, entry, tray};

/// Hydrostatics by hand: a canister a metre down starts with 9.8 kPa; a hand's breadth over the rim
/// lies below the air's pressure; ten percent of gas too much take as many percent of the air's.
#[test]
fn pressure_on_the_way_is_hydrostatics_less_losses() {
    let mut tank = canister_tank();
    tank.filters[0].pump_depth = Some(Length::cm(100.0));
    let plumbing = Plumbing::of(&tank, &tank.filters[0]);
    let still = plumbing.suction_side(1e-6, None, 0.0);
    let kpa = |name: &str| {
        still
            .iter()
            .find(|place| place.place.contains(name))
            .expect("there")
            .kpa
    };
    let head = plumbing.water.density * 9.80665 / 1000.0;
    assert!((kpa("pump") - head).abs() < 1e-3 && (9.7..9.9).contains(&kpa("pump")));
    assert!((kpa("rim") + head * plumbing.rim_height).abs() < 1e-3 && kpa("rim") < 0.0);
    assert!((kpa("strainer") - head * plumbing.intake_depth).abs() < 1e-3);
    assert!((margin_kpa(9.8, 110.0, 101.325) - (9.8 - 10.1325)).abs() < 1e-9);
}

/// By hand: 120 by 50 cm sink by 4 cm, that is 24 L, and 6 L are in box and pipes; 3 chambers of 25
/// by 35 cm have 13 cm of room each, that is 34.1 L.
#[test]
fn what_runs_down_into_a_sump_is_what_a_ruler_says() {
    let mut tank = Tank::plain("t", Length::cm(120.0), Length::cm(50.0), Length::cm(45.0));
    let sump = Sump {
        siphon_break: Some(Length::cm(4.0)),
        pipes: Some(Volume::litres(6.0)),
        ..Sump::default()
    };
    let filter = Filter {
        kind: FilterKind::Sump,
        sump: Some(sump.clone()),
        rated: FlowRate::litres_per_hour(2000.0),
        trays: Vec::new(),
        ..Filter::default()
    };
    tank.add_filter(filter);
    let levels = sump_levels(&tank, &tank.filters[0]).expect("a sump");
    assert!((levels.drains_l - 30.0).abs() < 1e-9 && levels.break_is_told);
    assert!((levels.free_l - 3.0 * 25.0 * 35.0 * 13.0 / 1000.0).abs() < 1e-9);
    let room = levels.headroom_l();
    let highest = levels.highest_cm.expect("it fits");
    assert!((highest - (22.0 + room * 1000.0 / (25.0 * 35.0))).abs() < 1e-9);
    let overfull = Sump {
        siphon_break: Some(Length::cm(10.0)),
        ..sump
    };
    tank.filters[0].sump = Some(overfull);
    let levels = sump_levels(&tank, &tank.filters[0]).expect("a sump");
    assert!(levels.headroom_l() < 0.0, "60 L do not fit into 34 L");
    assert!(levels.highest_cm.is_none());
    // Francis 1855: 2000 L/h over 20 cm of weir stand 1.3 cm above its sill.
    let over = over_the_weir_cm(2000.0, 20.0);
    assert!(
        (over - 100.0 * (2.0 / 3600.0 / 0.2 / 1.84_f64).powf(2.0 / 3.0)).abs() < 1e-9
            && (1.0..1.6).contains(&over)
    );
    assert_eq!(
        tank.filters[0].sump.as_ref().expect("there").chambers[2].role,
        SumpRole::Return
    );
    // An open tank loses some millimetres a day. Common practice, no source.
    assert!((2.0..6.0).contains(&evaporation_mm_day(25.0, 21.0)));
}

#[test]
fn hoses_are_cut_by_where_things_are_and_never_in_half() {
    let mut tank = canister_tank();
    let number = tank.filters[0].number;
    tank.filters[0].stands = Some(Length::cm(10.0));
    let plumbing = Plumbing::of(&tank, &tank.filters[0]);
    let runs = cuts(&tank, &tank.filters[0], &plumbing).expect("its pipes are drawn");
    assert!(runs.stands_is_told && runs.runs.len() >= 2);
    let ends: Vec<f64> = tank
        .things
        .iter()
        .filter(|thing| thing.what.id() == "outlet" || thing.what.id() == "intake")
        .filter(|thing| {
            thing
                .what
                .form()
                .filter()
                .is_some_and(|owner| owner.0 == number.0)
        })
        .map(|thing| (thing.x.as_cm() - 10.0).abs())
        .collect();
    for (run, across) in runs.runs.iter().zip(&ends) {
        let straight = 100.0 * (plumbing.rim_height + plumbing.pump_depth) + across;
        assert!((run.way_cm - straight).abs() < 1e-9 && run.cut_cm >= 1.1 * straight);
    }
    assert!(runs.short_if_equal_cm() >= 0.0);
    assert_eq!(runs.offcut_cm(runs.all_cm + 25.0), Some(25.0));
    assert_eq!(runs.offcut_cm(runs.all_cm - 1.0), None);
    let bores = by_bore(&plumbing);
    assert!(
        bores.windows(2).all(|pair| pair[1].1 >= pair[0].1),
        "wider lets more through"
    );
    let enough = enough(&bores).expect("one of them");
    assert!((12.0..=32.0).contains(&enough));
}

/// Every kind has a sheet of its own: nobody is sent to taps that are not there; electricity stands
/// beside the plug; what is rinsed where follows the school and what the colony stands.
#[test]
fn each_kind_has_its_own_sheet() {
    let tank = canister_tank();
    for kind in FilterKind::ALL {
        let filter = Filter {
            kind: *kind,
            trays: vec![tray(&[
                (Medium::FoamMedium, 1.0),
                (Medium::Floss, 0.2),
                (Medium::Sintered, 1.0),
            ])],
            ..tank.filters[0].clone()
        };
        let state = State::of(&tank, &filter, &[], None, NOW);
        let sheet = sheet(&tank, &filter, &state, NOW.date(), None);
        let ids: Vec<&str> = sheet.steps.iter().map(|step| step.id).collect();
        let distinct: std::collections::BTreeSet<&str> = ids.iter().copied().collect();
        assert_eq!(distinct.len(), ids.len(), "{kind:?}: {ids:?}");
        let is_canister = kind.design().is_canister;
        for only in ["taps-shut", "couple", "seals", "dry"] {
            assert_eq!(ids.contains(&only), is_canister, "{kind:?}: {only}");
        }
        if let Some(unplug) = sheet.steps.iter().find(|step| step.id == "unplug") {
            assert!(unplug.caution.is_some());
        }
        let place = |id: &str| ids.iter().position(|own| *own == id);
        assert!(place("grade") < place("rinse-sponges") && place("rinse-sponges") < place("floss"));
        assert!(place("heaters-off") < place("siphon"));
        assert!(
            sheet.with_change && ids.contains(&"refill"),
            "nobody has changed water"
        );
    }
}

/// Every second time, by the log; and seals that were renewed are as young as the log says.
#[test]
fn the_impeller_and_the_seals_go_by_the_log() {
    let tank = canister_tank();
    let filter = &tank.filters[0];
    let due = |log: &[Entry]| {
        let state = State::of(&tank, filter, log, None, NOW);
        sheet(&tank, filter, &state, NOW.date(), None).impeller_due
    };
    let opened = |days| entry("filter-opened", filter, days);
    let out = |days| entry("impeller-serviced", filter, days);
    assert!(due(&[]), "nobody knows when it was out last");
    assert!(!due(&[opened(90.0), out(90.0)]), "it was out the last time");
    assert!(due(&[opened(180.0), out(180.0), opened(90.0)]));
    let renewed = entry("seals-renewed", filter, 3.0)
        .makes(&tank)
        .expect("they are new");
    assert_eq!(
        renewed.filters[0].seals_renewed,
        Some(NOW.date().saturating_sub(3.days()))
    );
}

#[test]
fn the_tap_is_for_sponges_only_where_the_rest_carries_the_feed() {
    let words = |tank: &Tank| {
        let state = State::of(tank, &tank.filters[0], &[], None, NOW);
        let sheet = sheet(tank, &tank.filters[0], &state, NOW.date(), Some(NOW.date()));
        let step = sheet
            .steps
            .into_iter()
            .find(|step| step.id == "rinse-sponges");
        step.expect("it has sponges").words
    };
    let mut tank = canister_tank();
    tank.practice.rinse = RinseSchool::TapForLoaded;
    tank.filters[0].trays = vec![
        tray(&[(Medium::FoamMedium, 1.0)]),
        tray(&[(Medium::Sintered, 4.0)]),
    ];
    tank.feed = Mass::grams(0.2);
    assert!(
        words(&tank).contains("Rinse loaded sponges under the tap"),
        "{}",
        words(&tank)
    );
    tank.feed = Mass::grams(60.0);
    assert!(
        words(&tank).contains("Not under the tap this time"),
        "{}",
        words(&tank)
    );
    tank.practice.rinse = RinseSchool::TankWater;
    assert!(words(&tank).contains("tank water"));
    assert!(share_in_sponges(&tank, &tank.filters[0]) > 0.0);
}

#[test]
fn kinds_to_choose_from_differ_as_the_trade_says() {
    let tank = canister_tank();
    let all = choices(&tank);
    assert!(all.len() >= 6 && all[0].stands_here);
    let of = |kind: FilterKind| {
        all.iter()
            .find(|choice| choice.kind == kind)
            .expect("listed")
    };
    let (canister, hang_on) = (
        of(FilterKind::RisingBasketCanister),
        of(FilterKind::HangOnBack),
    );
    // A canister takes longest to open; a sump and a canister carry most. Common practice.
    assert!(canister.catches > hang_on.catches);
    let carries =
        |choice: &reed_core::remedy::choosing::Choice| choice.capacity.expect("it is fed");
    assert!(
        carries(canister) > carries(hang_on) && carries(of(FilterKind::Sump)) > carries(hang_on)
    );
    for choice in &all {
        assert!(
            choice.minutes_a_month > 0.0 && choice.kwh_a_year > 0.0,
            "{choice:?}"
        );
        assert!(!choice.said.noise.is_empty() && choice.rated_l_per_h > choice.clean_l_per_h * 0.5);
    }
}

/// Trade cases, common practice, no source: steady bubbles 150 days after the last opening → the
/// choked pad before seals, joints and hose; just opened → the cleaning's air first.
#[test]
fn where_to_look_for_bubbles_follows_the_trade() {
    let tank = canister_tank();
    let filter = tank.filters[0].clone();
    let long_ago = State::of(
        &tank,
        &filter,
        &[entry("filter-opened", &filter, 150.0)],
        None,
        NOW,
    );
    let possible: Vec<&str> = long_ago
        .suspects
        .iter()
        .filter(|suspect| suspect.is_possible)
        .map(|suspect| suspect.fault)
        .collect();
    assert_eq!(
        possible.first(),
        Some(&"clogged-fine-media"),
        "{possible:?}"
    );
    let order: Vec<&str> = long_ago
        .suspects
        .iter()
        .map(|suspect| suspect.fault)
        .collect();
    let place = |fault: &str| order.iter().position(|own| *own == fault).expect("listed");
    assert!(
        place("clogged-fine-media") < place("seal-leak")
            && place("seal-leak") < place("joint-loose")
    );
    assert!(
        place("joint-loose") < place("hose-crack")
            && place("hose-crack") < place("plant-gas-at-intake")
    );
    let just = State::of(
        &tank,
        &filter,
        &[entry("filter-opened", &filter, 0.05)],
        None,
        NOW,
    );
    assert!(just.suspects[0].is_possible && just.suspects[0].fault == "trapped-air-cleaned");
    for suspect in &long_ago.suspects {
        assert!(
            reed_core::diagnosis::fault::by_id(suspect.fault).is_some(),
            "{}",
            suspect.fault
        );
    }
}
