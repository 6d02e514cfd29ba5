//! What is forecast, on made-up tanks whose truth is known.

use jiff::SignedDuration;
use jiff::civil::{DateTime, date};

use super::belief::{NitrogenBelief, normal};
use super::course::{begin, beginning, dkh, run};
use super::cycling::{self, CycleStage, Source};
use super::event::{Event, is_masked, with_habit};
use super::guess::Guess;
use super::{Bands, NitrogenOutlook, Setting, Tap};
use crate::document::start;
use crate::log::Effect;
use crate::outlook::acidity::Acidity;
use crate::tank::{Analyte, PerSpecies, Reading, Species, kit};
use crate::twin::Stirring;
use crate::units::Salinity;
use crate::units::Units;
use crate::units::span_of_days;
use crate::water::nitrogen::cycle::State;

const NOW: DateTime = date(2026, 3, 10).at(9, 0, 0, 0);

const TAP: Tap = Tap {
    ammonia: None,
    nitrate: Some(2.0),
    dkh: Some(5.0),
};

fn setting() -> Setting {
    let tank = start::by_id("planted-canister").expect("listed").tank();
    Setting {
        uptake: 0.1,
        load: 0.3,
        ..Setting::of(&tank, Stirring::AS_IT_LOOKS, NOW, &TAP)
    }
}

fn acidity() -> Acidity {
    Acidity::of(
        &start::by_id("planted-canister").expect("listed").tank(),
        Stirring::AS_IT_LOOKS,
        &[],
        NOW,
    )
}

fn outlook(
    setting: &Setting,
    belief: &NitrogenBelief,
    known: &[Event],
    days: usize,
) -> NitrogenOutlook {
    NitrogenOutlook::of(
        setting,
        belief,
        known,
        days,
        &acidity(),
        Salinity::default(),
    )
}

/// A tank as a guess would have it: its readings before now, and what it will be.
struct Truth {
    readings: Vec<Reading>,
    ahead: Vec<State>,
}

const ASKED: [f64; 4] = [3.0, 7.0, 14.0, 28.0];

fn truth(setting: &Setting, known: &[Event], rng: &mut fastrand::Rng, read_on: &[f64]) -> Truth {
    let guess = Guess::from_array(std::array::from_fn(|_| normal(rng)));
    let from = beginning(setting, read_on[0]);
    let events = with_habit(known, setting, from, 30.0);
    let asked: Vec<f64> = read_on.iter().chain(&ASKED).copied().collect();
    let mut place = begin(setting, &guess, from);
    let mut states = Vec::new();
    run(
        setting,
        &guess,
        &mut place,
        (from, 30.0),
        &events,
        &asked,
        |_, state| states.push(*state),
    );
    let ahead = states.split_off(read_on.len());
    let mut readings = Vec::new();
    for (day, state) in read_on.iter().zip(&states) {
        let at = NOW + span_of_days(*day).expect("some days");
        for (analyte, value, spread) in [
            (Analyte::AMMONIA, state.tan, 0.1),
            (Analyte::NITRITE, state.nitrite, 0.05),
            (Analyte::NITRATE, state.nitrate, 1.0),
            (Analyte::KH, dkh(state), 0.5),
        ] {
            let read = (value + spread * normal(rng)).max(0.0);
            readings.push(Reading {
                spread,
                ..Reading::usual(analyte, read, at)
            });
        }
    }
    Truth { readings, ahead }
}

/// Share of all values ahead that the nine-tenths bands hold, over many tanks, where guesses and not
/// the kit make the band.
fn coverage(setting: &Setting, known: &[Event], read_on: &[f64]) -> (f64, usize) {
    let (mut held, mut all) = (0, 0);
    for seed in 0..60 {
        let mut rng = fastrand::Rng::with_seed(1000 + seed);
        let truth = truth(setting, known, &mut rng, read_on);
        let belief = NitrogenBelief::learned(setting, known, &truth.readings, NOW);
        let outlook = outlook(setting, &belief, known, 30);
        for (day, state) in ASKED.iter().zip(&truth.ahead) {
            #[expect(
                clippy::cast_possible_truncation,
                clippy::cast_sign_loss,
                reason = "a day of a month"
            )]
            let at = *day as usize;
            let holds = |bands: &Bands, value: f64| {
                bands.low[at] - 1e-9 <= value && value <= bands.high[at] + 1e-9
            };
            for (bands, value, analyte) in [
                (&outlook.tan, state.tan, Analyte::AMMONIA),
                (&outlook.nitrite, state.nitrite, Analyte::NITRITE),
                (&outlook.nitrate, state.nitrate, Analyte::NITRATE),
                (&outlook.kh, dkh(state), Analyte::KH),
            ] {
                // What is as thin as a kit reads is so by definition.
                let kit = kit::first_for(analyte).spread;
                let is_drawn = bands.high[at] - bands.likely[at] > 1.01 * kit;
                held += usize::from(is_drawn && holds(bands, value));
                all += usize::from(is_drawn);
            }
        }
    }
    (held as f64 / all as f64, all)
}

/// Bands of nine tenths hold the truth nine times in ten at least (less is left above than below, and
/// they reach no less far down than a kit), in settled tanks, in new ones, and
/// after a crash.
#[test]
fn bands_hold_the_truth_nine_times_in_ten_at_least() {
    let settled = setting();
    let young = Setting {
        young_days: Some(20.0),
        ..setting()
    };
    let crash = [Event {
        day: -4.0,
        effect: Effect::NewMedia(0.9),
    }];
    for (what, setting, known, read_on) in [
        ("unread", &settled, &[][..], &[-0.5][..]),
        (
            "settled",
            &settled,
            &[][..],
            &[-20.0, -13.0, -6.0, -1.0][..],
        ),
        (
            "young",
            &young,
            &[][..],
            &[-15.0, -10.0, -6.0, -3.0, -1.0][..],
        ),
        (
            "crashed",
            &settled,
            &crash[..],
            &[-8.0, -3.0, -2.0, -1.0][..],
        ),
    ] {
        let (share, all) = coverage(setting, known, read_on);
        assert!(
            (0.88..=0.995).contains(&share),
            "{what}: the bands hold {share} of {all}"
        );
    }
}

/// Readings narrow the bands, a medium that masks them does not, and the same readings say the same
/// twice.
#[test]
fn readings_tighten_the_bands_unless_they_are_masked() {
    let setting = setting();
    let mut rng = fastrand::Rng::with_seed(7);
    let truth = truth(&setting, &[], &mut rng, &[-21.0, -14.0, -7.0, -1.0]);
    let width = |belief: &NitrogenBelief| {
        let bands = outlook(&setting, belief, &[], 14).nitrate;
        bands.high[14] - bands.low[14]
    };
    let assumed = NitrogenBelief::learned(&setting, &[], &[], NOW);
    let read = NitrogenBelief::learned(&setting, &[], &truth.readings, NOW);
    assert!(
        width(&read) < 0.5 * width(&assumed),
        "{} from {}",
        width(&read),
        width(&assumed)
    );
    assert_eq!((assumed.readings, read.readings), (0, 16));
    let share = |belief: &NitrogenBelief| belief.learned_of(&setting)[0].share;
    assert!(
        share(&read) > 0.4 && share(&assumed) < 0.3,
        "{} and {}",
        share(&read),
        share(&assumed)
    );
    let masked = Setting {
        masked: PerSpecies::of(|_| Some(f64::NEG_INFINITY)),
        ..setting.clone()
    };
    assert_eq!(
        NitrogenBelief::learned(&masked, &[], &truth.readings, NOW).readings,
        8
    );
    assert_eq!(
        outlook(&setting, &read, &[], 14),
        outlook(
            &setting,
            &NitrogenBelief::learned(&setting, &[], &truth.readings, NOW),
            &[],
            14
        )
    );
}

/// Ammonia read today, where the outlook has none, is told; an old reading, or one within its
/// spread, is not.
#[test]
fn a_fresh_reading_that_nothing_explains_is_told() {
    let setting = setting();
    let outlook = outlook(
        &setting,
        &NitrogenBelief::learned(&setting, &[], &[], NOW),
        &[],
        10,
    );
    let read = |value: f64, hours: i64| {
        Reading::usual(
            Analyte::AMMONIA,
            value,
            NOW - SignedDuration::from_hours(hours),
        )
    };
    assert_eq!(outlook.unexplained(&[read(2.0, 5)], NOW), [&read(2.0, 5)]);
    let hardness = |value: f64| [Reading::usual(Analyte::KH, value, NOW)];
    assert_eq!(
        outlook.unexplained(&hardness(0.5), NOW).len(),
        1,
        "hardness surprises from below too"
    );
    assert!(outlook.unexplained(&hardness(5.0), NOW).is_empty());
    assert!(
        outlook.unexplained(&[read(0.1, 5)], NOW).is_empty()
            && outlook.unexplained(&[read(2.0, 24 * 9)], NOW).is_empty()
    );
}

/// How long a new tank takes: common practice has four weeks at least without seeding, two to three
/// with a good start, about one with mature media.
#[test]
fn a_new_tank_takes_as_long_as_keepers_say() {
    let new = Setting {
        young_days: Some(0.0),
        load: 0.25,
        uptake: 0.02,
        ..setting()
    };
    let done = |events: &[Event]| {
        outlook(
            &new,
            &NitrogenBelief::learned(&new, events, &[], NOW),
            events,
            90,
        )
        .cycled[1]
            .expect("within three months")
    };
    let seeded = |share: f64| {
        done(&[Event {
            day: 0.5,
            effect: Effect::Seed(share),
        }])
    };
    let (plain, good, mature) = (done(&[]), seeded(0.01), seeded(0.3));
    assert!((26.0..60.0).contains(&plain), "unseeded: {plain} days");
    assert!((10.0..24.0).contains(&good), "a good start: {good} days");
    assert!((3.0..12.0).contains(&mature), "mature media: {mature} days");
    // Without animals, on doses alone: it is cycled too.
    let empty = Setting {
        load: 0.0,
        ..new.clone()
    };
    let doses: Vec<Event> = (0..40)
        .map(|dose| Event {
            day: 0.1 + 1.5 * f64::from(dose),
            effect: Effect::Dose(0.5),
        })
        .collect();
    let outlook = outlook(
        &empty,
        &NitrogenBelief::learned(&empty, &doses, &[], NOW),
        &doses,
        60,
    );
    assert!(
        outlook.nitrite.peak() > 1.0 && outlook.nitrite.likely[59] < 0.3,
        "{:?}",
        outlook.nitrite.likely
    );
}

/// Without food and dose there is no cycle to end, whatever is brought in. Ammonia that is read all
/// the same came from somewhere: it is believed, and the cycle ends when it is gone.
#[test]
fn an_unfed_tank_has_no_cycle_to_end() {
    let empty = Setting {
        load: 0.0,
        young_days: Some(21.0),
        ..setting()
    };
    let seed = [Event {
        day: 0.02,
        effect: Effect::Seed(0.3),
    }];
    for events in [&[][..], &seed] {
        let belief = NitrogenBelief::learned(&empty, events, &[], NOW);
        let ahead = outlook(&empty, &belief, events, 60);
        assert!(!ahead.is_fed && ahead.cycled == [None; 3]);
        assert_eq!(CycleStage::of(&ahead), CycleStage::Unfed);
    }
    let readings: Vec<Reading> = [-20.0, -13.0, -6.0, 0.0]
        .into_iter()
        .map(|day| {
            let at = NOW + span_of_days(day).expect("some days");
            Reading::usual(Analyte::AMMONIA, 1.0, at)
        })
        .collect();
    let belief = NitrogenBelief::learned(&empty, &[], &readings, NOW);
    let ahead = outlook(&empty, &belief, &[], 60);
    assert!(
        ahead.is_fed && (0.6..1.6).contains(&ahead.tan.likely[0]),
        "{:?}",
        ahead.tan.likely
    );
    assert_eq!(CycleStage::of(&ahead), CycleStage::Ammonia);
    let ends = ahead.cycled[1].is_none_or(|day| day > 3.0);
    assert!(ends, "{:?}", ahead.cycled);
}

/// A dose on the day on which a tank was set up counts at whatever hour of it.
#[test]
fn a_dose_on_the_day_of_setting_up_counts() {
    let new = Setting {
        load: 0.0,
        young_days: Some(5.0),
        ..setting()
    };
    for day in [-5.3, -5.0, -4.6] {
        let dose = [Event {
            day,
            effect: Effect::Dose(2.0),
        }];
        let belief = NitrogenBelief::learned(&new, &dose, &[], NOW);
        let now = outlook(&new, &belief, &dose, 1).tan.likely[0];
        assert!((1.5..2.5).contains(&now), "dosed on day {day}: {now}");
    }
}

/// What harms the colony brings ammonia back; a change moved elsewhere moves the nitrate; habit
/// goes on from the last known change.
#[test]
fn events_do_what_keepers_fear_and_habit_goes_on() {
    let setting = setting();
    let belief = NitrogenBelief::learned(&setting, &[], &[], NOW);
    let peak = |what: Effect| {
        outlook(
            &setting,
            &belief,
            &[Event {
                day: 2.0,
                effect: what,
            }],
            30,
        )
        .tan
        .peak()
    };
    let quiet = outlook(&setting, &belief, &[], 30);
    for what in [
        Effect::NewMedia(1.0),
        Effect::Medicine,
        Effect::Feed(6.0),
        Effect::Dose(2.0),
    ] {
        assert!(
            peak(what) > 1.5 * quiet.tan.peak(),
            "{what:?}: {} from {}",
            peak(what),
            quiet.tan.peak()
        );
    }
    assert!(
        peak(Effect::Stop(3.0)) < 1.05 * quiet.tan.peak(),
        "a short stop does nothing"
    );
    let days = |events: &[Event]| events.iter().map(|event| event.day).collect::<Vec<_>>();
    let (_, every) = setting.habit;
    let near = |one: f64, other: f64| (one - other).abs() < 1e-9;
    assert!(near(days(&quiet.events)[0], every / 2.0));
    let known = [
        Event {
            day: -2.0,
            effect: Effect::Change(0.3),
        },
        Event {
            day: 2.0 * every - 2.0,
            effect: Effect::Skip,
        },
    ];
    let planned = with_habit(&known, &setting, -30.0, 30.0);
    assert_eq!(
        planned.iter().filter(|event| event.day < 0.0).count(),
        1,
        "the past is known"
    );
    assert!(days(&planned).iter().any(|day| near(*day, every - 2.0)));
    assert!(
        !planned
            .iter()
            .any(|event| near(event.day, 2.0 * every - 2.0)
                && matches!(event.effect, Effect::Change(_))),
        "it was left out"
    );
}

/// A small tank is in danger several times sooner than a large one stocked as densely, when both
/// lose their colony and a fish dies.
#[test]
fn a_small_tank_reaches_danger_sooner() {
    let large = setting();
    // A tenth of the water with as much rotting in it, a dead fish of a gram or two: 300 mg of
    // nitrogen.
    let danger = |litres: f64| {
        let setting = Setting {
            litres,
            load: large.load + 300.0 / 7.0 / litres,
            ..large.clone()
        };
        let crash = [
            Event {
                day: 0.1,
                effect: Effect::NewMedia(1.0),
            },
            Event {
                day: 0.1,
                effect: Effect::Medicine,
            },
        ];
        let outlook = outlook(
            &Setting {
                in_filters: 1.0,
                ..setting.clone()
            },
            &NitrogenBelief::learned(&setting, &[], &[], NOW),
            &crash,
            20,
        );
        outlook.tan.likely.iter().position(|tan| *tan > 1.0)
    };
    let (small, large) = (danger(30.0).expect("it comes"), danger(300.0));
    assert!(
        large.is_none_or(|large| large >= 2 * small),
        "{small} and {large:?} days"
    );
}

fn new_tank() -> Setting {
    Setting {
        young_days: Some(0.0),
        load: 0.25,
        uptake: 0.02,
        ..setting()
    }
}

/// A plan doses when the last dose is gone, ends with one that is gone within a day, then changes
/// water and feeds in thirds; with mature media it is shorter.
#[test]
fn a_cycle_is_planned_by_its_own_outlook() {
    let new = new_tank();
    let belief = NitrogenBelief::learned(&new, &[], &[], NOW);
    let plan = |start: usize, source| {
        cycling::plan(
            &new,
            &belief,
            &[],
            (cycling::STARTS[start], source),
            (&acidity(), Salinity::default()),
        )
    };
    let plain = plan(0, Source::Doses);
    let changed = |plan: &[Event]| {
        plan.iter()
            .rfind(|event| matches!(event.effect, Effect::Change(_)))
            .map(|event| event.day)
            .expect("it ends")
    };
    let doses = plain
        .iter()
        .filter(|event| matches!(event.effect, Effect::Dose(_)))
        .count();
    assert!(
        (4..30).contains(&doses) && (25.0..75.0).contains(&changed(&plain)),
        "{plain:?}"
    );
    assert_eq!(
        plain.last().expect("some").effect,
        Effect::Feed(1.0),
        "the animals' whole feed, in the end"
    );
    let piece = plan(2, Source::Doses);
    assert!(changed(&piece) < 0.4 * changed(&plain), "{piece:?}");
    let outlook = outlook(&new, &belief, &piece, 60);
    assert!(
        outlook.tan.likely[10..].iter().all(|tan| *tan < 0.35),
        "animals come to bacteria that are there: {:?}",
        outlook.tan.likely
    );
    let fed = plan(1, Source::Feed);
    assert_eq!(
        fed.iter()
            .filter(|event| event.effect != Effect::Skip)
            .count(),
        2,
        "food needs no doses: {fed:?}"
    );
    let all = with_habit(&piece, &new, 0.0, changed(&piece) - 1.0);
    let by_habit = all
        .iter()
        .filter(|event| event.day > 0.0 && event.effect == Effect::Change(new.habit.0));
    assert_eq!(
        by_habit.count(),
        0,
        "no change by habit before it is through"
    );
}

/// Tests fall due by stage; what proves the end is asked of readings; a cycle that takes too long
/// is told where to look.
#[test]
fn a_cycle_is_followed_by_its_readings() {
    let new = Setting {
        young_days: Some(20.0),
        ..new_tank()
    };
    let at = |hours: i64| NOW - SignedDuration::from_hours(hours);
    let read = |analyte: &'static Analyte, value: f64, hours: i64| {
        Reading::usual(analyte, value, at(hours))
    };
    let due = cycling::due(
        CycleStage::Both,
        &[
            read(Analyte::AMMONIA, 1.0, 72),
            read(Analyte::NITRITE, 1.0, 12),
        ],
        NOW,
    );
    assert!(
        due[0].0 == Analyte::AMMONIA && (due[0].1 + 1.0).abs() < 1e-9,
        "a day overdue"
    );
    assert!(due[1] == (Analyte::KH, 0.0) && due[2].1 > 1.4);
    let dose = [Event {
        day: -1.0,
        effect: Effect::Dose(2.0),
    }];
    let met = |known: &[Event], readings: &[Reading]| {
        cycling::proof(&new, known, readings, NOW, &Units::BASE).map(|condition| condition.met)
    };
    let clean = [
        read(Analyte::AMMONIA, 0.0, 1),
        read(Analyte::NITRITE, 0.0, 1),
        read(Analyte::NITRATE, 9.0, 1),
    ];
    assert_eq!(met(&dose, &clean), [true; 4]);
    assert_eq!(
        met(&[], &clean),
        [false, false, true, true],
        "a zero without a dose proves nothing"
    );
    assert_eq!(met(&dose, &clean[..1]), [true, false, false, true]);
    let hidden = [
        dose[0],
        Event {
            day: -5.0,
            effect: Effect::AmmoniaMedium(0.5),
        },
    ];
    assert!(!met(&hidden, &clean)[3]);
    let old = Setting {
        young_days: Some(40.0),
        ..new.clone()
    };
    let readings: Vec<Reading> = [9, 5, 1]
        .map(|days| read(Analyte::AMMONIA, 2.0, 24 * days))
        .to_vec();
    let tank = start::by_id("planted-canister").expect("listed").tank();
    let stalled = |setting: &Setting| {
        let outlook = outlook(
            setting,
            &NitrogenBelief::learned(setting, &hidden, &readings, NOW),
            &hidden,
            5,
        );
        let outlook = NitrogenOutlook {
            tan: Bands {
                likely: vec![2.0; 6],
                ..outlook.tan
            },
            ..outlook
        };
        cycling::stalled(&tank, setting, &hidden, &outlook, &readings)
    };
    assert_eq!(stalled(&new), None);
    let causes = stalled(&old).expect("it takes too long");
    assert!(
        causes.iter().any(|cause| cause.contains("binder"))
            && causes.iter().any(|cause| cause.contains("not read")),
        "{causes:?}"
    );
}

/// A medium against ammonia makes zeros that say nothing, starves a new colony, and when it is full
/// the ammonia comes all the same.
#[test]
fn a_medium_hides_and_puts_off() {
    let new = Setting {
        flow_l_per_h: 500.0,
        ..new_tank()
    };
    let medium = [Event {
        day: 0.5,
        effect: Effect::AmmoniaMedium(0.3),
    }];
    let belief = NitrogenBelief::learned(&new, &[], &[], NOW);
    let (without, with) = (
        outlook(&new, &belief, &[], 90),
        outlook(&new, &belief, &medium, 90),
    );
    let first_above = |outlook: &NitrogenOutlook| {
        outlook
            .tan
            .likely
            .iter()
            .position(|tan| *tan > 0.5)
            .expect("once")
    };
    assert!(
        first_above(&with) > first_above(&without) + 2,
        "{} and {}",
        first_above(&with),
        first_above(&without)
    );
    assert!(with.cycled[1].expect("in the end") > without.cycled[1].expect("in the end") + 2.0);
    let out = [
        medium[0],
        Event {
            day: 3.0,
            effect: Effect::MediaOut,
        },
    ];
    assert!(
        [1.0, 20.0].map(|day| is_masked(&new, &medium, Species::Ammonia, day)) == [true, true]
            && !is_masked(&new, &medium, Species::Nitrate, 9.0)
    );
    assert!(
        is_masked(&new, &out, Species::Ammonia, 2.0)
            && !is_masked(&new, &out, Species::Ammonia, 4.0)
            && !is_masked(&new, &medium, Species::Ammonia, 0.2)
    );
    let bound = [Event {
        day: -1.0,
        effect: Effect::Binder,
    }];
    assert!(
        is_masked(&new, &bound, Species::Ammonia, 0.0)
            && !is_masked(&new, &bound, Species::Ammonia, 2.0)
    );
    let known = [Event {
        day: -9.0,
        effect: Effect::AmmoniaMedium(0.3),
    }];
    let readings = [
        Reading::usual(Analyte::AMMONIA, 0.0, NOW),
        Reading::usual(Analyte::NITRITE, 0.0, NOW),
    ];
    assert_eq!(
        NitrogenBelief::learned(&new, &known, &readings, NOW).readings,
        1,
        "the zero of ammonia is no evidence"
    );
}

/// Six more like those here are fed like them; a change planned near the habit's takes its place.
#[test]
fn more_animals_load_more_and_a_planned_change_is_the_habits() {
    let setting = Setting {
        animals: 12.0,
        habit: (0.2, 7.0),
        ..setting()
    };
    let belief = NitrogenBelief::learned(&setting, &[], &[], NOW);
    let last = |known: &[Event]| outlook(&setting, &belief, known, 60).nitrate.likely[60];
    let six = [Event {
        day: 0.1,
        effect: Effect::Animals(6.0),
    }];
    let half_more = [Event {
        day: 0.1,
        effect: Effect::Feed(1.5),
    }];
    assert!((last(&six) - last(&half_more)).abs() < 1e-9 && last(&six) > 1.2 * last(&[]));
    let changes = |planned: f64| {
        let known = [
            Event {
                day: -5.0,
                effect: Effect::Change(0.2),
            },
            Event {
                day: planned,
                effect: Effect::Change(0.5),
            },
        ];
        with_habit(&known, &setting, 0.0, 10.0)
            .iter()
            .filter(|event| event.day > 0.0)
            .count()
    };
    assert_eq!(
        (changes(3.0), changes(5.5)),
        (2, 3),
        "the habit's are on days 2 and 9"
    );
}

/// Readings that cannot all be true, and sharper than any kit: the crowd still comes to an end,
/// with bands that are numbers in order.
#[test]
fn contradictory_readings_leave_sound_bands() {
    let setting = setting();
    let on = |index: i64, analyte: &'static Analyte, value: f64| {
        let at = NOW - SignedDuration::from_hours(12 * (10 - index));
        Reading {
            spread: 1e-3,
            ..Reading::usual(analyte, value, at)
        }
    };
    let wild = |index: i64| {
        let high = index % 2 == 0;
        [
            (Analyte::AMMONIA, 18.0),
            (Analyte::NITRITE, 15.0),
            (Analyte::NITRATE, 120.0),
            (Analyte::KH, 30.0),
        ]
        .map(|(analyte, value)| on(index, analyte, if high { value } else { 0.0 }))
    };
    let readings: Vec<Reading> = (0..10).flat_map(wild).collect();
    let belief = NitrogenBelief::learned(&setting, &[], &readings, NOW);
    let outlook = outlook(&setting, &belief, &[], 20);
    for bands in [
        &outlook.tan,
        &outlook.nitrite,
        &outlook.nitrate,
        &outlook.kh,
        &outlook.ph,
        &outlook.nh3,
    ] {
        for ((low, likely), high) in bands.low.iter().zip(&bands.likely).zip(&bands.high) {
            assert!(
                low.is_finite() && high.is_finite() && low <= likely && likely <= high,
                "{low} {likely} {high}"
            );
        }
    }
    assert_eq!(belief.readings, 40);
}
