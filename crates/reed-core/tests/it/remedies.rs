//! Changes as a family, forecasts and proofs: laws that hold for every card.

use jiff::civil::{DateTime, date};
use proptest::prelude::{prop_assert, proptest};
use reed_core::diagnosis::finding::{Finding, Kind};
use reed_core::diagnosis::{Answer, Answered, Case, Differential, Observed, fault, finding};
use reed_core::document::Document;
use reed_core::document::start;
use reed_core::outlook::forecast::Ensemble;
use reed_core::remedy::change::{self, Wanted};
use reed_core::remedy::proof::{Compared, Verdict, judge};
use reed_core::remedy::{Change, first_aid, offers};
use reed_core::tank::thing::{Cover, ThingKind};
use reed_core::tank::{
    Activity, Analyte, Build, Filter, FilterKind, Planting, Reading, Running, StockGroup, Surface,
    Tank,
};
use reed_core::twin::Twin;
use reed_core::units::{Length, Mass, Temperature, Units};
use reed_fixtures::{example, examples, tanks};

const MORNING: DateTime = date(2026, 3, 10).at(8, 30, 0, 0);

/// Everything that any fault or change needs.
fn full_tank() -> Tank {
    let mut tank = Document::read(&example("reading-room"))
        .expect("an example")
        .document
        .tank;
    tank = tanks::with_hang_on(
        tank.with_air_stone("Stone", 120.0, Running::Always),
        300.0,
        3.0,
    )
    .with_surface_powerhead();
    tank.add_filter(Filter {
        name: "Sump".to_owned(),
        kind: FilterKind::Sump,
        ..Filter::default()
    });
    tank.surface = Surface::Rippled;
    tank.plants.planting = Planting::Moderate;
    tank.co2_dosed = true;
    let surface_kind = StockGroup::weighing("surface kind", 2, Mass::grams(2.0), Activity::Calm);
    tank.stock.push(StockGroup {
        breathes_air: true,
        ..surface_kind
    });
    tank
}

/// What the other faults need: a background, sponges over the intakes, every stream at half height,
/// little flow.
fn with_weak_low_streams_and_intake_sponges(mut tank: Tank) -> Tank {
    tank.things
        .retain(|thing| !matches!(thing.what, ThingKind::Powerhead(_)));
    tank.filters.truncate(1);
    tank.things.push(
        start::by_id("background-two-canisters")
            .expect("listed")
            .tank()
            .things
            .swap_remove(0),
    );
    let half = Length::cm(tank.water_depth.as_cm() / 2.0);
    for thing in &mut tank.things {
        match &mut thing.what {
            ThingKind::Intake(intake) => intake.cover = Cover::Sponge,
            ThingKind::Outlet(_) | ThingKind::Powerhead(_) => thing.z = half,
            _ => {}
        }
    }
    tank
}

fn yes(id: &str) -> Answered {
    Answered::new(finding::by_id(id).expect("listed"), Answer::Yes, MORNING)
}

#[test]
fn every_change_makes_a_sound_tank_of_every_tank_it_fits_faulty_or_not() {
    let tanks = examples()
        .into_iter()
        .map(|(_, text)| Document::read(&text).expect("an example").document.tank)
        .chain([full_tank()]);
    let mut made = 0;
    for tank in tanks {
        let faulty = fault::all()
            .filter(|fault| fault.needs.as_ref().is_none_or(|need| (need.met)(&tank)))
            .map(|fault| fault.put_into(&tank));
        for tank in faulty.chain([tank.clone()]) {
            assert!(
                tank.refusals(&Units::BASE).is_empty(),
                "{:?}",
                tank.refusals(&Units::BASE)
            );
            for change in change::all().filter(|change| change.suits(&tank).is_ok()) {
                let after = change.apply(&tank);
                assert!(
                    after.refusals(&Units::BASE).is_empty(),
                    "{}: {:?}",
                    change.id,
                    after.refusals(&Units::BASE)
                );
                made += 1;
            }
        }
    }
    assert!(made > 500, "{made}");
}

/// Plants give by day and take by night: more or fewer of them may go either way, and the forecast
/// says which.
#[test]
fn no_change_that_is_meant_for_oxygen_lowers_its_lowest_point() {
    let mut warm = full_tank();
    warm.temperature_now = Some(Temperature::celsius(29.0));
    for tank in [
        full_tank(),
        warm,
        fault::oxygen::AERATION_STOPPED.put_into(&full_tank()),
    ] {
        let before = Twin::of(&tank).day.lowest().1;
        let meant = |change: &&Change| {
            change.in_the_model.is_some()
                && !change.id.ends_with("-plants")
                && change.suits(&tank).is_ok()
        };
        for change in change::all().filter(meant) {
            let after = Twin::of(&change.apply(&tank)).day.lowest().1;
            assert!(
                after >= before - 1e-9,
                "{}: {before:.2} → {after:.2}",
                change.id
            );
        }
    }
}

#[test]
fn what_a_fault_stopped_its_cure_brings_back() {
    let tank = full_tank();
    let lowest = |tank: &Tank| Twin::of(tank).day.lowest().1;
    for (fault, cure) in [
        ("aeration-stopped", "restore-air"),
        ("oxygen-demand-high", "remove-waste"),
        ("too-warm", "fix-heater-or-room"),
        ("night-plant-demand", "night-aeration"),
        ("still-surface", "raise-or-aim-outlet"),
        ("surface-film", "break-film"),
    ] {
        let faulty = fault::by_id(fault).expect("listed").put_into(&tank);
        let cured = change::by_id(cure).expect("listed").apply(&faulty);
        assert!(
            lowest(&cured) >= lowest(&tank) - 0.05 || fault == "night-plant-demand",
            "{cure}: {} of {}",
            lowest(&cured),
            lowest(&tank)
        );
        assert!(lowest(&cured) >= lowest(&faulty), "{cure}");
    }
}

/// Each fault, with the findings it usually shows, what usually precedes it, and the oxygen it
/// would make, comes out among the first three: none is unreachable.
#[test]
fn every_fault_is_found_by_its_own_signs() {
    for fault in fault::all().filter(|fault| !fault.is_misread()) {
        let mut tank = full_tank();
        if fault.needs.as_ref().is_some_and(|need| !(need.met)(&tank)) {
            tank = with_weak_low_streams_and_intake_sponges(tank);
        }
        assert!(
            fault.needs.as_ref().is_none_or(|need| (need.met)(&tank)),
            "{} is ruled out here",
            fault.id
        );
        let mut observed = Observed::nothing(&tank, MORNING);
        let shown = fault
            .signs
            .iter()
            .filter(|(sign, strength)| strength.chance() > 0.6 && !sign.asks.is_empty())
            .map(|(sign, _)| *sign);
        let preceded = fault
            .events
            .iter()
            .filter(|link| link.strength.chance() > 0.3)
            .map(|link| link.event);
        observed
            .answers
            .extend(shown.chain(preceded).map(|finding| yes(finding.id)));
        observed.answers.push(yes("keeps-to-top"));
        if fault.id == "night-plant-demand" {
            tank.plants.planting = Planting::Dense;
        }
        if fault.id == "underfed" {
            tank.feed = Mass::grams(tank.stock_mass().as_grams() * 0.001);
        }
        let faulty = Twin::of(&fault.put_into(&tank));
        observed.readings.push(Reading::usual(
            Analyte::OXYGEN,
            (faulty.day.at(8.5) * 10.0).round() / 10.0,
            MORNING,
        ));
        if fault.id == "night-plant-demand" {
            let dusk = MORNING.with().hour(19).build().expect("an hour");
            observed.readings.push(Reading::usual(
                Analyte::OXYGEN,
                (faulty.day.at(19.0) * 10.0).round() / 10.0,
                dusk,
            ));
        }
        if fault.id == "too-warm" {
            observed
                .readings
                .push(Reading::usual(Analyte::TEMPERATURE, 29.0, MORNING));
        }
        let shows = |finding: &Finding| fault.signs.iter().any(|(sign, _)| *sign == finding);
        if shows(&finding::computed::NITROGEN_MEASURABLE)
            || shows(&finding::computed::TOXIC_NITROGEN)
        {
            observed
                .readings
                .push(Reading::usual(Analyte::NITRITE, 0.6, MORNING));
        }
        for sign in finding::limits::ALL.iter().filter(|sign| shows(sign)) {
            if let Kind::Read(limit) = sign.kind {
                let beyond = if limit.above {
                    limit.value * 2.0
                } else {
                    limit.value / 2.0
                };
                let value = if limit.less.is_some() { 8.0 } else { beyond };
                observed
                    .readings
                    .push(Reading::usual(limit.analyte, value, MORNING));
                observed
                    .readings
                    .extend(limit.less.map(|less| Reading::usual(less, 6.5, MORNING)));
            }
        }
        let differential = Differential::of(&Case { tank, observed });
        let first: Vec<_> = differential
            .suspects
            .iter()
            .take(3)
            .map(|suspect| suspect.fault.id)
            .collect();
        assert!(first.contains(&fault.id), "{} not in {first:?}", fault.id);
    }
}

#[test]
fn a_reading_draws_the_believed_day_towards_itself_and_narrows_it() {
    let tank = full_tank();
    let day = |value: Option<f64>| {
        let mut case = Case::new(tank.clone(), MORNING);
        case.observed
            .readings
            .extend(value.map(|value| Reading::usual(Analyte::OXYGEN, value, MORNING)));
        Differential::of(&case)
            .believed
            .forecast(Tank::clone)
            .at(8.5)
    };
    let (unread, low, high) = (day(None), day(Some(6.0)), day(Some(8.0)));
    assert!(
        low.0 < unread.0 && (low.0 - 6.0).abs() < (unread.0 - 6.0).abs(),
        "{low:?} {unread:?}"
    );
    assert!(high.0 > low.0 && high.1 < unread.1, "{high:?} {unread:?}");
}

/// Gulping, soap and chlorine come before the diagnosis; what is long past does not.
#[test]
fn first_aid_stands_first_while_it_is_urgent() {
    let due = |id: &str, hours_ago: i64| {
        let at = MORNING - jiff::SignedDuration::from_hours(hours_ago);
        let observed = Observed {
            answers: vec![Answered { at, ..yes(id) }],
            ..Observed::nothing(&full_tank(), MORNING)
        };
        first_aid::due(&Case {
            tank: full_tank(),
            observed,
        })
        .into_iter()
        .map(|aid| aid.title)
        .collect::<Vec<_>>()
    };
    assert_eq!(due("gasping", 1), ["First, help them breathe"]);
    assert_eq!(due("soap-near-tank", 12), ["First, thin out the soap"]);
    assert_eq!(
        due("conditioner-forgotten", 12),
        ["First, bind the chlorine"]
    );
    assert!(due("soap-near-tank", 24 * 20).is_empty() && due("pumping-gills", 1).is_empty());
    assert_eq!(
        due("smell-rotten-egg", 1),
        ["First, air: rotten eggs are hydrogen sulphide"]
    );
}

#[test]
fn a_reading_can_be_urgent_too_and_only_where_it_harms() {
    let titles = |tank: &Tank, readings: &[(&'static Analyte, f64)]| {
        let readings = readings
            .iter()
            .map(|(analyte, value)| Reading::usual(analyte, *value, MORNING))
            .collect();
        let mut case = Case::new(tank.clone(), MORNING);
        case.observed.readings = readings;
        let due = first_aid::due(&case);
        due.into_iter().map(|aid| aid.title).collect::<Vec<_>>()
    };
    let tank = full_tank();
    let poison = ["First, thin out the poison"];
    assert_eq!(titles(&tank, &[(Analyte::NITRITE, 0.5)]), poison);
    assert!(titles(&tank, &[(Analyte::NITRITE, 0.1)]).is_empty());
    // The same ammonia harms at pH 8.2 and not at 6.5.
    assert_eq!(
        titles(&tank, &[(Analyte::AMMONIA, 1.0), (Analyte::PH, 8.2)]),
        poison
    );
    assert!(titles(&tank, &[(Analyte::AMMONIA, 1.0), (Analyte::PH, 6.5)]).is_empty());
    let usual = tank.temperature.as_celsius();
    assert_eq!(
        titles(&tank, &[(Analyte::TEMPERATURE, usual + 6.0)]),
        ["First, stop the heat"]
    );
    let mut shrimps = full_tank();
    shrimps.stock[0].build = Build::Shrimp;
    assert_eq!(
        titles(&shrimps, &[(Analyte::COPPER, 0.2)]),
        ["First, the animals without a backbone out of the copper"]
    );
    assert!(!tank.has_invertebrates() && titles(&tank, &[(Analyte::COPPER, 0.2)]).is_empty());
}

#[test]
fn plans_say_what_they_cannot_compute_and_never_invent_it() {
    let tank = full_tank();
    let mut case = Case::new(tank, MORNING);
    case.observed.answers = vec![yes("gasping")];
    let (now, offers) = offers(&Differential::of(&case), &case.observed);
    for offer in &offers {
        assert_eq!(
            offer.after.is_some(),
            offer.change.in_the_model.is_some(),
            "{}",
            offer.change.id
        );
        if offer.after.is_none() {
            assert!(
                offer.gain_mg_l.abs() < 1e-12 && (offer.safe_after - offer.safe_now).abs() < 1e-12,
                "{}",
                offer.change.id
            );
        }
        assert!(
            (0.0..=1.0).contains(&offer.safe_after) && (0.0..=1.0).contains(&offer.fits_cause),
            "{}",
            offer.change.id
        );
    }
    assert!(now.lowest < now.saturation);
}

proptest! {
    /// A better reading never has a worse verdict.
    #[test]
    fn a_proof_verdict_never_falls_as_the_reading_rises(one in 0.0..10.0_f64, more in 0.0..5.0_f64, hour in 0i8..24) {
        let change = change::by_id("raise-or-aim-outlet").expect("listed");
        let tank = fault::oxygen::STILL_SURFACE.put_into(&full_tank());
        let believed = Ensemble::of_tank(&tank);
        let (now, after) = (believed.forecast(Tank::clone), believed.forecast(|tank| change.apply(tank)));
        let at = MORNING.with().hour(hour).build().expect("an hour");
        let rank = |value: f64| match judge(change.proof.wanted, &tank, &Reading::usual(Analyte::OXYGEN, value, at), &Compared { before: None, control: None, now: &now, after: Some(&after) }, &Units::BASE).verdict {
            Verdict::NotProved => 0,
            Verdict::Partly | Verdict::CannotTell => 1,
            Verdict::Proved => 2,
        };
        prop_assert!(rank(one + more) >= rank(one));
    }
}

/// No success from no difference: read as before, or as it would have been without it, no change is
/// proved, whatever it wants to show; and oxygen that is good proves those alone that leave things
/// as they are.
#[test]
fn what_reads_as_before_proves_no_change() {
    let tank = full_tank();
    let mut tried = 0;
    for change in change::all().filter(|change| change.suits(&tank).is_ok()) {
        let Some(analyte) = change.proof.wanted.analyte() else {
            continue;
        };
        let believed = Ensemble::of_tank(&tank);
        let (now, after) = (
            believed.forecast(Tank::clone),
            believed.forecast(|tank| change.apply(tank)),
        );
        let verdict = |before: f64, value: f64| {
            let [before, reading] =
                [before, value].map(|value| Reading::usual(analyte, value, MORNING));
            judge(
                change.proof.wanted,
                &tank,
                &reading,
                &Compared {
                    before: Some(&before),
                    control: None,
                    now: &now,
                    after: Some(&after),
                },
                &Units::BASE,
            )
            .verdict
        };
        let as_before: Vec<f64> = match change.proof.wanted {
            Wanted::OxygenAsForecast => vec![now.at(8.5).0, now.at(8.5).0 + 0.5],
            Wanted::OxygenStaysGood => {
                assert!(
                    verdict(8.0, 8.0) == Verdict::Proved && verdict(8.0, 5.0) == Verdict::NotProved,
                    "{}",
                    change.id
                );
                continue;
            }
            Wanted::AtMost(_, limit) => vec![0.0, 0.5 * limit, 3.0 * limit],
            Wanted::RisenBy(..) => vec![6.5, 7.0],
            Wanted::IntendedTemperature => vec![
                tank.temperature.as_celsius(),
                tank.temperature.as_celsius() + 4.0,
            ],
            Wanted::FlowBack | Wanted::Gone(_) => unreachable!("no card asks for it"),
        };
        for value in as_before {
            assert_ne!(
                verdict(value, value),
                Verdict::Proved,
                "{} at {value}",
                change.id
            );
            tried += 1;
        }
    }
    assert!(tried > 60, "{tried}");
}

#[test]
fn proofs_of_other_things_than_oxygen_have_their_own_measure() {
    let tank = full_tank();
    let now = Ensemble::of_tank(&tank).forecast(Tank::clone);
    let verdict = |id: &str, before: Option<f64>, value: f64| {
        let wanted = change::by_id(id).expect("listed").proof.wanted;
        assert!(wanted != Wanted::OxygenAsForecast, "{id}");
        let read = |value| {
            Reading::usual(
                wanted.analyte().expect("proved by a reading"),
                value,
                MORNING,
            )
        };
        judge(
            wanted,
            &tank,
            &read(value),
            &Compared {
                before: before.map(read).as_ref(),
                control: None,
                now: &now,
                after: None,
            },
            &Units::BASE,
        )
        .verdict
    };
    let heater = |value| verdict("fix-heater-or-room", Some(30.0), value);
    assert_eq!(
        [25.5, 29.0, 30.0].map(heater),
        [Verdict::Proved, Verdict::Partly, Verdict::NotProved]
    );
    let co2 = change::by_id("reduce-co2").expect("listed");
    let ph = |value| Reading::usual(Analyte::PH, value, MORNING);
    let risen = |from: Option<f64>, to| {
        judge(
            co2.proof.wanted,
            &tank,
            &ph(to),
            &Compared {
                before: from.map(ph).as_ref(),
                control: None,
                now: &now,
                after: None,
            },
            &Units::BASE,
        )
        .verdict
    };
    assert_eq!(
        [
            risen(Some(6.2), 6.3),
            risen(Some(6.2), 6.6),
            risen(Some(6.2), 7.0),
            risen(None, 7.0)
        ],
        [
            Verdict::NotProved,
            Verdict::CannotTell,
            Verdict::Proved,
            Verdict::CannotTell
        ],
    );
    let changed = |before, value| verdict("water-change", before, value);
    assert_eq!(
        [0.05, 0.4, 1.0].map(|value| changed(Some(1.0), value)),
        [Verdict::Proved, Verdict::Partly, Verdict::NotProved],
        "what fell and not far enough helped"
    );
    assert_eq!(
        changed(None, 0.05),
        Verdict::CannotTell,
        "nothing to compare with"
    );
    let nitrite = |value| Reading {
        spread: 0.1,
        ..Reading::usual(Analyte::NITRITE, value, MORNING)
    };
    let wanted = change::by_id("water-change").expect("listed").proof.wanted;
    let chance = judge(
        wanted,
        &tank,
        &nitrite(0.15),
        &Compared {
            before: Some(&nitrite(0.25)),
            control: None,
            now: &now,
            after: None,
        },
        &Units::BASE,
    );
    assert_eq!(chance.verdict, Verdict::CannotTell, "no more than chance");
}
