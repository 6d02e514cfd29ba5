//! Which media the water meets first, and what a filter cannot be.

use proptest::prelude::{Just, Strategy, prop, prop_assert, prop_assert_eq, proptest};
use reed_core::filter::Plumbing;
use reed_core::filter::judged::consequence;
use reed_core::tank::{At, CurvePoint, Filter, FilterKind, Medium, Sump, Tray, TrayPlace, Wrong};
use reed_core::units::{FlowRate, Length, Units, Volume};

use super::{canister_tank, tray, with_trays};

#[test]
fn water_meets_chambers_before_trays_before_chambers_after() {
    let place = |place, medium| Tray {
        place,
        ..tray(&[(medium, 1.0)])
    };
    let filter = with_trays(
        FilterKind::RisingBasketCanister,
        vec![
            place(TrayPlace::After, Medium::Carbon),
            place(TrayPlace::Inside, Medium::Sintered),
            place(TrayPlace::Before, Medium::FoamCoarse),
        ],
    );
    let met: Vec<Medium> = filter.media().map(|portion| portion.medium).collect();
    assert_eq!(met, [Medium::FoamCoarse, Medium::Sintered, Medium::Carbon]);
    assert_eq!(
        filter
            .misplaced()
            .iter()
            .filter(|found| found.wrong.is_mended_by_order())
            .count(),
        0
    );
}

#[test]
fn each_wrong_is_found_and_told_apart_from_what_only_looks_like_it() {
    use Medium::{AmmoniaResin, Carbon, Floss, FoamCoarse, Sintered, Sock};
    let found = |kind, trays: Vec<Tray>| {
        let filter = with_trays(kind, trays);
        filter
            .misplaced()
            .into_iter()
            .map(|found| found.wrong)
            .collect::<Vec<_>>()
    };
    let canister = FilterKind::RisingBasketCanister;
    let one = |medium| tray(&[(medium, 1.0)]);
    assert_eq!(
        found(
            canister,
            vec![
                one(FoamCoarse),
                one(Floss),
                one(AmmoniaResin),
                one(Sintered)
            ]
        ),
        [Wrong::ChemicalFirst(AmmoniaResin)]
    );
    assert_eq!(
        found(canister, vec![one(Floss), one(FoamCoarse), one(Sintered)]),
        [Wrong::FineFirst]
    );
    // A sock is changed every few days: before coarse foam it is none.
    assert_eq!(
        found(
            FilterKind::Sump,
            vec![one(Sock), one(FoamCoarse), one(Sintered)]
        ),
        []
    );
    assert_eq!(
        found(canister, vec![one(FoamCoarse), one(Sintered), one(Carbon)]),
        [Wrong::NoFine]
    );
    assert_eq!(
        found(FilterKind::HangOnBack, vec![one(Floss)]),
        [Wrong::CartridgeOnly]
    );
    assert_eq!(
        found(FilterKind::SpongeOnAir, vec![one(Medium::FoamFine)]),
        []
    );
    let packed = Tray {
        holds: Some(Volume::litres(2.0)),
        ..tray(&[(FoamCoarse, 1.5), (Floss, 1.0)])
    };
    assert_eq!(found(canister, vec![packed]), [Wrong::Packed(1.25)]);
    let loose = Tray {
        holds: Some(Volume::litres(5.0)),
        ..one(Floss)
    };
    assert_eq!(
        found(canister, vec![one(FoamCoarse), loose]),
        [Wrong::Bypassed]
    );
    let mut sump = Sump::default();
    sump.chambers[1].media = tray(&[(Floss, 1.0), (Sintered, 60.0)]).media;
    let filter = Filter {
        sump: Some(sump),
        ..with_trays(FilterKind::Sump, Vec::new())
    };
    let wrong: Vec<Wrong> = filter
        .misplaced()
        .into_iter()
        .map(|found| found.wrong)
        .collect();
    assert!(wrong.contains(&Wrong::InAir), "{wrong:?}");
}

/// The formula of who gets the ammonia by hand: last is better by 1/(1 − η).
#[test]
fn what_a_wrong_order_costs_is_computed() {
    let mut tank = canister_tank();
    tank.filters[0].trays = vec![
        tray(&[(Medium::AmmoniaResin, 0.5)]),
        tray(&[(Medium::Sintered, 2.0)]),
        tray(&[(Medium::Floss, 0.2)]),
    ];
    let filter = &tank.filters[0];
    let says =
        consequence(&tank, filter, Wrong::ChemicalFirst(Medium::AmmoniaResin)).expect("computed");
    let numbers: Vec<f64> = says
        .split(|c: char| !c.is_ascii_digit())
        .filter_map(|word| word.parse().ok())
        .collect();
    let eta = 1.0 - (-0.5 / filter.flow().as_litres_per_hour() * 3600.0 / 10.0_f64).exp();
    assert!(
        (numbers[1] / numbers[0] - 1.0 / (1.0 - eta)).abs() < 0.1,
        "{says}"
    );
    let mut fine = tank.clone();
    fine.filters[0].trays = vec![
        tray(&[(Medium::Floss, 0.3)]),
        tray(&[(Medium::FoamCoarse, 1.0)]),
        tray(&[(Medium::Sintered, 2.0)]),
    ];
    assert!(consequence(&fine, &fine.filters[0], Wrong::FineFirst).is_some());
}

fn any_media() -> impl Strategy<Value = Vec<Tray>> {
    let portion = (prop::sample::select(Medium::ALL), 0.1..3.0_f64);
    prop::collection::vec(prop::collection::vec(portion, 0..4), 1..6)
        .prop_map(|trays| trays.iter().map(|media| tray(media)).collect())
}

proptest! {
    /// One tap mends every order: nothing is lost, nothing is added, no tray holds more than it did,
    /// and what order can mend is mended. A second tap changes nothing.
    #[test]
    fn the_corrected_order_mends_what_order_can(trays in any_media(), kind in prop::sample::select(FilterKind::ALL)) {
        let filter = with_trays(kind, trays);
        let ordered = filter.in_order();
        let litres = |filter: &Filter, medium: Medium| filter
            .media()
            .filter(|portion| portion.medium == medium)
            .map(|portion| portion.litres.as_litres())
            .sum::<f64>();
        for medium in Medium::ALL {
            prop_assert!((litres(&filter, *medium) - litres(&ordered, *medium)).abs() < 1e-9);
        }
        let rooms = |filter: &Filter| filter.path().iter().map(|stop| stop.litres()).collect::<Vec<_>>();
        for (before, after) in rooms(&filter).into_iter().zip(rooms(&ordered)).rev().skip(1) {
            prop_assert!(after <= before + 0.02, "{before} {after}");
        }
        prop_assert!(ordered.misplaced().iter().all(|found| !found.wrong.is_mended_by_order()));
        prop_assert_eq!(ordered.in_order(), ordered);
    }

    /// More dirt on the way never lets more through, and the pressure at the pump only falls.
    #[test]
    fn dirt_only_ever_holds_back(shares in prop::collection::vec(0.0..0.97_f64, 2), _unit in Just(())) {
        let tank = canister_tank();
        let plumbing = Plumbing::of(&tank, &tank.filters[0]);
        let (less, more) = (shares[0].min(shares[1]), shares[0].max(shares[1]));
        let flow = |share: f64| plumbing.flow(Some(0), share).map_or(0.0, |met| met.flow);
        prop_assert!(flow(more) <= flow(less) + 1e-6);
        let at_pump = |share: f64| plumbing.suction_side(flow(share), Some(0), share).pop().map_or(0.0, |pump| pump.kpa);
        let at_full_flow = |share: f64| plumbing.suction_side(400.0, Some(0), share).pop().map_or(0.0, |pump| pump.kpa);
        prop_assert!(at_full_flow(more) <= at_full_flow(less) + 1e-9);
        prop_assert!(at_pump(0.0) < 9.81 * plumbing.pump_depth + 0.01);
    }
}

/// Every way in which a filter's numbers cannot be has its sentence: field, value, what is accepted.
#[test]
fn what_a_filter_cannot_be_is_said_in_words() {
    let said = |change: &dyn Fn(&mut Filter)| {
        let mut tank = canister_tank();
        change(&mut tank.filters[0]);
        let refusals = tank.refusals(&Units::BASE);
        let said: Vec<String> = refusals.iter().map(ToString::to_string).collect();
        said.join(" ")
    };
    let point = |flow: f64, head: f64| CurvePoint {
        flow: FlowRate::litres_per_hour(flow),
        head: Length::cm(head),
    };
    assert_eq!(said(&|_| {}), "");
    for (change, words) in [
        (
            &(|filter: &mut Filter| filter.suction_hose = Some(Length::cm(3100.0)))
                as &dyn Fn(&mut Filter),
            "“3100 cm” is not accepted",
        ),
        (
            &|filter| filter.head = Some(Length::cm(-5.0)),
            "“-5 cm” is not accepted",
        ),
        (
            &|filter| filter.curve = vec![point(0.0, 100.0), point(200.0, 120.0)],
            "rising flow and falling head",
        ),
        (
            &|filter| filter.curve = vec![point(0.0, 100.0)],
            "One point makes no curve",
        ),
        (
            &|filter| filter.trays[0].holds = Some(Volume::litres(0.0)),
            "“0 L” is not accepted",
        ),
    ] {
        assert!(said(change).contains(words), "{words}: {}", said(change));
    }
    let mut tank = canister_tank();
    tank.filters[0].trays[0].holds = Some(Volume::litres(0.1));
    let conflicts = tank.conflicts(&Units::BASE);
    assert!(
        conflicts
            .iter()
            .any(|conflict| conflict.words.contains("is said to have")),
        "{conflicts:?}"
    );
}

/// A medium that is moved is where it was put, and nothing else has changed.
#[test]
fn media_move_along_the_path() {
    let mut filter = with_trays(
        FilterKind::RisingBasketCanister,
        vec![
            tray(&[(Medium::Floss, 0.2)]),
            tray(&[(Medium::FoamCoarse, 1.0), (Medium::Sintered, 1.0)]),
        ],
    );
    filter
        .move_medium((At::Tray(0), 0), (At::Tray(1), 1))
        .expect("there");
    let met: Vec<Medium> = filter.media().map(|portion| portion.medium).collect();
    assert_eq!(met, [Medium::FoamCoarse, Medium::Floss, Medium::Sintered]);
    assert!(
        filter
            .move_medium((At::Tray(0), 0), (At::Tray(1), 0))
            .is_err(),
        "nothing is left there"
    );
    assert!(
        filter
            .move_medium((At::Tray(1), 0), (At::Chamber(0), 0))
            .is_err(),
        "it has no sump"
    );
}
