//! Water ahead, through what other crates see of it: what must hold for any input, and what keepers
//! know.

use jiff::civil::{DateTime, date};
use proptest::prelude::{Strategy, any, prop_assert, proptest};
use reed_core::document::start;
use reed_core::log::Effect;
use reed_core::outlook::acidity::Acidity;
use reed_core::outlook::ahead::emergency::{
    Emergency, KH_STEP, LARGEST, PH_STEP, Water, emergency,
};
use reed_core::outlook::ahead::{Event, Setting, Tap, is_masked, parts, with_habit};
use reed_core::outlook::chemical::hours_until_full;
use reed_core::outlook::failures;
use reed_core::tank::{Analyte, Medium, PerSpecies, Reading, Species, StockGroup, Surface, Tank};
use reed_core::twin::Stirring;
use reed_core::units::{Length, Mass, Percent, Salinity, Temperature};
use reed_core::water::carbon;
use reed_core::water::chemistry::{
    EIFAC_NH3_N_MG_L, NITRITE_LIMIT_MG_L, from_ph_and_kh, ph_from, un_ionised_share_in,
};
use reed_core::water::nitrogen::capture::{Grains, share_of_bacteria};
use reed_core::water::nitrogen::cycle::{ALKALINITY_OF_WASTE, Conditions, Kinetics, State};

const NOW: DateTime = date(2026, 3, 10).at(9, 0, 0, 0);

fn setting_of(tank: &Tank) -> Setting {
    Setting::of(tank, Stirring::AS_IT_LOOKS, NOW, &Tap::default())
}

fn waters() -> impl Strategy<Value = Water> {
    (0.0..8.0_f64, 0.0..3.0_f64, 5.5..9.0_f64, 0.3..20.0_f64).prop_map(|(tan, nitrite, ph, kh)| {
        Water {
            tan,
            nitrite,
            ph,
            kh,
        }
    })
}

proptest! {
    /// Whatever the waters: no step is larger or moves more than it may, each leaves less poison
    /// than was there, and the last leaves none over its limit; or no change is made, with words.
    #[test]
    fn an_emergency_change_never_makes_things_worse(tank in waters(), tap in waters(), celsius in 10.0..32.0_f64, salt in 0.0..36.0_f64) {
        let (temperature, salinity) = (Temperature::celsius(celsius), Salinity::g_per_kg(salt));
        let nh3 = |water: &Water| water.tan * un_ionised_share_in(temperature, water.ph, salinity);
        let poison = |water: &Water| (nh3(water) / EIFAC_NH3_N_MG_L).max(water.nitrite / NITRITE_LIMIT_MG_L);
        match emergency(&tank, &tap, temperature, salinity) {
            Emergency::NotNeeded { nh3 } => prop_assert!(nh3 <= EIFAC_NH3_N_MG_L && poison(&tank) <= 1.0),
            Emergency::Refused(why) => prop_assert!(why.ends_with('.') && poison(&tank) > 1.0),
            Emergency::Change(steps) => {
                let mut here = tank;
                for step in &steps {
                    prop_assert!(step.fraction > 0.0 && step.fraction <= LARGEST + 1e-12);
                    prop_assert!((step.after.ph - here.ph).abs() <= PH_STEP + 1e-9 && (step.after.kh - here.kh).abs() <= KH_STEP + 1e-9);
                    prop_assert!(poison(&step.after) < poison(&here));
                    here = step.after;
                }
                prop_assert!(poison(&here) <= 1.0 + 1e-9, "{:?}", steps);
            }
        }
    }

    /// Nitrogen is neither made nor lost, and nothing falls below zero, with any media in any
    /// order.
    #[test]
    fn nitrogen_is_kept_whatever_takes_it(
        load in 0.0..3.0_f64, days in 0.1..30.0_f64, passes in 1.0..150.0_f64, share in 0.0..0.95_f64, holds in 0.1..60.0_f64,
        is_first in any::<bool>(), in_filters in 0.0..1.0_f64, colony in 0.0..1.0_f64, celsius in 10.0..32.0_f64,
    ) {
        let grains = Some(Grains { passes_per_day: passes, per_pass: share, holds, is_first });
        let conditions = Conditions {
            temperature: Temperature::celsius(celsius),
            oxygen: 7.0,
            load,
            alkalinity_of_load: ALKALINITY_OF_WASTE,
            most: [5.0, 2.0],
            media: PerSpecies::of(|_| grains),
            in_filters,
        };
        let mut state = State { tan: 0.5, nitrate: 3.0, colonies: [colony, colony / 3.0], alkalinity: 3.0, ..State::default() };
        let before = state.nitrogen();
        state.advance(&Kinetics::default(), &conditions, days);
        prop_assert!((state.nitrogen() - before - load * days).abs() < 1e-6 * (1.0 + load * days), "{:?}", state);
        for part in [state.tan, state.nitrite, state.nitrate, state.colonies[0], state.colonies[1], state.taken.ammonia, state.taken.nitrate] {
            prop_assert!(part > -1e-3, "{:?}", state);
        }
        prop_assert!(state.taken.both().iter().all(|taken| *taken <= holds + 1e-6), "{:?}", state);
    }

    /// The bacteria's share lies between none and all, is never better for them when the medium
    /// comes first, and falls with what it takes.
    #[test]
    fn the_share_of_bacteria_is_a_share(bacteria in 0.001..0.999_f64, medium in 0.0..0.999_f64) {
        let (last, first) = (share_of_bacteria(bacteria, medium, false), share_of_bacteria(bacteria, medium, true));
        prop_assert!((0.0..=1.0 + 1e-12).contains(&last) && first <= last + 1e-12);
        prop_assert!(share_of_bacteria(bacteria, (medium + 0.0005).min(1.0), false) <= last + 1e-12);
    }

    /// Changes by habit lie in the days asked for, in order, none where one was left out, and every
    /// known event is still there once.
    #[test]
    fn habit_adds_changes_and_loses_nothing(every in 1_u32..30, share in 5.0..60.0_f64, known in proptest::collection::vec((-20.0..40.0_f64, 0_u8..4), 0..8)) {
        let mut tank = start::by_id("planted-canister").expect("listed").tank();
        (tank.practice.change_every_days, tank.practice.change_share) = (every, Percent::of(share));
        let what = |kind: u8| [Effect::Change(0.3), Effect::Skip, Effect::Medicine, Effect::Feed(2.0)][usize::from(kind)];
        let known: Vec<Event> = known.into_iter().map(|(day, kind)| Event { day, effect: what(kind) }).collect();
        let all = with_habit(&known, &setting_of(&tank), -20.0, 40.0);
        prop_assert!(all.is_sorted_by(|one, other| one.day <= other.day));
        for event in &known {
            prop_assert!(all.contains(event));
        }
        let added: Vec<&Event> = all.iter().filter(|event| !known.contains(event)).collect();
        prop_assert!(added.len() as f64 <= 2.0 + 60.0 / f64::from(every));
        for event in added {
            prop_assert!((event.effect == Effect::Change(share / 100.0)) && (-20.0..=40.0).contains(&event.day));
            let skipped = known.iter().any(|other| other.effect == Effect::Skip && (other.day - event.day).abs() < 0.6);
            prop_assert!(!skipped, "{:?}", event);
        }
    }
    /// pH from carbon dioxide and hardness, and back.
    #[test]
    fn ph_and_carbon_dioxide_are_one_relation(ph in 5.0..9.0_f64, kh in 0.5..25.0_f64) {
        let co2 = from_ph_and_kh(ph, kh);
        prop_assert!((ph_from(co2, kh) - ph).abs() < 1e-9);
    }

    /// A day of carbon dioxide is periodic and never below nothing; more breath, more of it; more
    /// exchange, less.
    #[test]
    fn carbon_dioxide_follows_breath_and_surface(
        exchange in 0.02..2.0_f64, given in 0.0..2.0_f64, plants in 0.0..6.0_f64, on in 0.0..24.0_f64, hours in 1.0..20.0_f64,
    ) {
        let course = carbon::CarbonCourse { exchange_per_h: [exchange; 2], given_mg_l_h: given, taken_peak_mg_l_h: plants, dosed_mg_l_h: 0.0, lights: (on, hours) };
        let day = course.settled();
        prop_assert!(day.0.iter().all(|level| level.is_finite() && *level >= 0.0));
        let busier = carbon::CarbonCourse { given_mg_l_h: given + 0.5, ..course }.settled().mean();
        prop_assert!(busier > day.mean());
        // Without plants, which may bring it below what room air leaves.
        let dark = carbon::CarbonCourse { taken_peak_mg_l_h: 0.0, ..course };
        let brisker = carbon::CarbonCourse { exchange_per_h: [2.0 * exchange; 2], ..dark };
        prop_assert!(brisker.settled().mean() <= dark.settled().mean() + 1e-6);
    }
}

/// A keeper's proof of carbon dioxide: bubble a sample with room air for an hour. A pH that rises
/// by 1 held ten times what room air leaves, by 1.5 about thirty times. Common practice; the
/// relation is Plummer & Busenberg 1982.
#[test]
fn the_bubbled_glass_tells_how_much_there_was() {
    let room = carbon::ROOM_MG_L.value;
    for kh in [3.0, 8.0, 15.0] {
        let at_rest = ph_from(reed_core::units::Concentration::mg_l(room), kh);
        assert!((from_ph_and_kh(at_rest - 1.0, kh).as_mg_l() / room - 10.0).abs() < 1e-6);
        let much = from_ph_and_kh(at_rest - 1.5, kh).as_mg_l() / room;
        assert!((30.0..33.0).contains(&much), "{much}");
    }
}

/// Tanks without gas hold between water at rest, 0.5 to 1.5 mg/L, and the 15 below which nobody is
/// concerned; a crowd under a film holds more (common practice).
#[test]
fn carbon_dioxide_stands_where_keepers_find_it() {
    let mut crowd = Tank::plain(
        "crowd",
        Length::cm(60.0),
        Length::cm(30.0),
        Length::cm(35.0),
    );
    crowd.stock.push(StockGroup {
        count: 60,
        length: Some(Length::cm(5.0)),
        ..StockGroup::default()
    });
    crowd.feed = Mass::grams(3.0);
    let mean = |surface: Surface| {
        Acidity::of(
            &Tank {
                surface,
                ..crowd.clone()
            },
            Stirring::AS_IT_LOOKS,
            &[],
            NOW,
        )
        .mean(0.0)
        .as_mg_l()
    };
    let (broken, still, filmed) = (
        mean(Surface::Broken),
        mean(Surface::Still),
        mean(Surface::Filmed),
    );
    assert!(
        (0.8..15.0).contains(&broken) && still > 2.0 * broken && filmed > 1.5 * still,
        "{broken} {still} {filmed}"
    );
    let empty = Tank {
        stock: Vec::new(),
        feed: Mass::default(),
        ..crowd.clone()
    };
    let rest = Acidity::of(&empty, Stirring::AS_IT_LOOKS, &[], NOW)
        .mean(0.0)
        .as_mg_l();
    assert!((0.5..1.6).contains(&rest), "{rest}");
}

/// What is added swings a small tank: in a power cut one dead fish costs 30 L several times the
/// oxygen that it costs 300 L (common practice).
#[test]
fn a_dead_fish_weighs_more_in_a_small_tank() {
    let stocked = |side: f64, count: u32, rotting: f64| {
        let mut tank = Tank::plain("cube", Length::cm(side), Length::cm(side), Length::cm(side));
        let litres = tank.net_volume().as_litres();
        let fish = StockGroup {
            count,
            length: Some(Length::cm(4.0)),
            ..StockGroup::default()
        };
        (tank.stock, tank.feed, tank.surface, tank.rotting) = (
            vec![fish],
            Mass::grams(0.004 * litres),
            Surface::Broken,
            Mass::grams(rotting),
        );
        tank
    };
    let lowest = |side: f64, count: u32, rotting: f64| {
        failures::ALL[0]
            .fall(&stocked(side, count, rotting), Stirring::AS_IT_LOOKS)
            .expect("the power can fail")
            .lowest
            .0
    };
    // One fish to six litres.
    let loss = |side: f64, count: u32| lowest(side, count, 0.0) - lowest(side, count, 0.2);
    let (small, large) = (loss(31.0, 5), loss(67.0, 50));
    assert!(
        small > 4.0 * large && small > 0.1,
        "{small} and {large} mg/L"
    );
}

/// A medium wins time in proportion to its litres, and less the more is fed.
#[test]
fn a_medium_wins_hours_only() {
    for medium in Medium::ALL
        .iter()
        .copied()
        .filter(|medium| medium.takes().is_some())
    {
        let hours =
            |litres: f64, load: f64| hours_until_full(medium, litres, load).expect("it fills");
        assert!(
            (hours(1.0, 0.2) / hours(0.5, 0.2) - 2.0).abs() < 1e-12
                && (hours(1.0, 0.1) / hours(1.0, 0.2) - 2.0).abs() < 1e-12
        );
    }
}

/// Of a tank's media each tray has its share, all of them one; a medium in the file masks readings
/// from the day it went in.
#[test]
fn a_tanks_file_tells_shares_and_masks() {
    let mut tank = start::by_id("planted-canister").expect("listed").tank();
    let shares = parts(&tank);
    assert!((shares[0].1 - 1.0).abs() < 1e-12 && shares[0].0 == "All media");
    let trays: f64 = shares[1..].iter().map(|(_, share)| share).sum();
    assert!(
        shares.len() == 1 || (trays - 1.0).abs() < 1e-9,
        "{shares:?}"
    );
    let masked = |tank: &Tank, day: f64| is_masked(&setting_of(tank), &[], Species::Ammonia, day);
    assert!(!masked(&tank, 0.0));
    let portion = |put_in| reed_core::tank::Portion {
        medium: Medium::AmmoniaResin,
        put_in,
        litres: reed_core::units::Volume::litres(0.3),
        ..Default::default()
    };
    tank.filters[0].trays[0]
        .media
        .push(portion(Some(date(2026, 3, 5))));
    assert!(masked(&tank, 0.0) && !masked(&tank, -8.0), "five days ago");
    let setting = setting_of(&tank);
    let (grains, since) = setting.media.ammonia.expect("it takes ammonia");
    assert!(grains.holds > 0.0 && grains.per_pass > 0.0 && since == Some(-5.0));
    assert!(
        !is_masked(
            &setting,
            &[Event {
                day: -1.0,
                effect: Effect::MediaOut
            }],
            Species::Ammonia,
            0.0
        ),
        "it came out"
    );
}

/// Readings of pH count only with a hardness near to them; many that agree leave less doubt than
/// one.
#[test]
fn readings_of_ph_add_up() {
    let tank = start::by_id("planted-canister").expect("listed").tank();
    let day = |days: i8| date(2026, 3, 10 - days).at(9, 0, 0, 0);
    let with = |count: i8| {
        let readings: Vec<Reading> = std::iter::once(Reading::usual(Analyte::KH, 5.0, day(1)))
            .chain((1..=count).map(|days| Reading::usual(Analyte::PH, 7.1, day(days))))
            .collect();
        Acidity::of(&tank, Stirring::AS_IT_LOOKS, &readings, NOW)
    };
    let spreads: Vec<f64> = (0..6).map(|count| with(count).log_spread).collect();
    assert!(
        spreads.is_sorted_by(|one, other| one > other),
        "{spreads:?}"
    );
    assert!((with(6).ph_at(9.0, 0.0) - 7.1).abs() < (with(1).ph_at(9.0, 0.0) - 7.1).abs());
}
