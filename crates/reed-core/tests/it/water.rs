//! Water against independent libraries and published points. Tolerances are those the tables state.

use proptest::prelude::{prop_assert, prop_assume, proptest};
use reed_core::outlook::forecast::Ensemble;
use reed_core::tank::{Activity, Planting, Plants, StockGroup, Surface, Tank};
use reed_core::twin::Twin;
use reed_core::units::{
    Altitude, ClockHour, Hours, Length, Mass, Pressure, Salinity, Temperature, Units, Volume,
};
use reed_core::water::chemistry::un_ionised_share;
use reed_core::water::oxygen::exchange::temperature_factor;
use reed_core::water::oxygen::{CEILING, Course, Outage, Reaches, atmosphere, saturation};
use reed_fixtures::{reference, tanks};

fn held(celsius: f64, salinity: f64, kilopascals: f64) -> f64 {
    saturation(
        Temperature::celsius(celsius),
        Salinity::g_per_kg(salinity),
        Pressure::kilopascals(kilopascals),
    )
    .expect("inside the fit")
    .as_mg_l()
}

/// Standard Methods 4500-O, table of Benson & Krause 1984, fresh water at one atmosphere.
#[test]
fn saturation_meets_the_published_points() {
    for (celsius, mg_l) in [(0.0, 14.621), (20.0, 9.092), (25.0, 8.263), (30.0, 7.559)] {
        assert!(
            (held(celsius, 0.0, 101.325) - mg_l).abs() < 6e-4,
            "{celsius} °C"
        );
    }
}

#[test]
fn saturation_meets_its_own_formula_and_stands_close_to_another_fit() {
    let rows = reference::rows("oxygen_saturation.csv");
    assert!(rows.len() > 50);
    for row in rows {
        let ours = held(
            row.number("t_degC"),
            row.number("salinity"),
            row.number("pressure_kPa"),
        );
        let (same, other) = (row.number("do_bk_mg_L"), row.number("do_gg_mg_L"));
        assert!((ours / same - 1.0).abs() < 1e-8, "{ours} not {same}");
        // Garcia & Gordon 1992 by gsw: 0.0024 mg/L at most between the sources.
        assert!((ours - other).abs() < 0.0025, "{ours} not {other}");
    }
}

#[test]
fn saturation_follows_pressure_and_altitude() {
    for row in reference::rows("oxygen_pressure.csv") {
        let ours = held(
            row.number("t_degC"),
            row.number("salinity"),
            row.number("pressure_kPa"),
        );
        assert!(
            (ours / row.number("do_bk_mg_L") - 1.0).abs() < 1e-8,
            "{ours}"
        );
    }
    for row in reference::rows("oxygen_altitude.csv") {
        let pressure = atmosphere::pressure_at(Altitude::metres(row.number("altitude_m")));
        assert!((pressure.as_kilopascals() / row.number("pressure_kPa") - 1.0).abs() < 1e-8);
        let ours = held(row.number("t_degC"), 0.0, pressure.as_kilopascals());
        assert!(
            (ours / row.number("do_bk_mg_L") - 1.0).abs() < 1e-8,
            "{ours}"
        );
    }
}

#[test]
fn saturation_is_refused_outside_its_fit() {
    for (celsius, salinity, kilopascals) in [
        (-1.0, 0.0, 101.0),
        (41.0, 0.0, 101.0),
        (20.0, 60.0, 101.0),
        (20.0, 0.0, 20.0),
        (f64::NAN, 0.0, 101.0),
    ] {
        let error = saturation(
            Temperature::celsius(celsius),
            Salinity::g_per_kg(salinity),
            Pressure::kilopascals(kilopascals),
        );
        assert!(error.is_err(), "{celsius} {salinity} {kilopascals}");
    }
}

#[test]
fn the_day_meets_an_independent_integration_over_three_days() {
    let rows = reference::rows("gas_transfer.csv");
    assert!(rows.len() > 100);
    let mut start = 0.0;
    for row in rows {
        let per_hour = |column: &str| row.number(column) / 24.0;
        let warmth = temperature_factor(Temperature::celsius(row.number("T")));
        assert!((row.number("kLa_20") * warmth / row.number("kLa") - 1.0).abs() < 1e-9);
        let exchange = per_hour("kLa_20") * warmth;
        let course = Course::new(
            row.number("Cs"),
            per_hour("R"),
            per_hour("Pmax"),
            (row.number("on"), row.number("hours")),
            (exchange, exchange),
        );
        let hour = row.number("hour");
        if hour == 0.0 {
            start = row.number("do_ivp");
        }
        let (ours, theirs) = (course.after_midnight(start, hour), row.number("do_ivp"));
        // The table reports what the equation gives; ours stops at an empty tank.
        assert!(
            (ours - theirs.max(0.0)).abs() < 1e-6,
            "{} h {hour}: {ours} not {theirs}",
            row.text("scenario")
        );
    }
}

#[test]
fn a_power_cut_meets_the_closed_form() {
    let rows = reference::rows("gas_power_cut.csv");
    assert!(rows.len() > 30);
    for row in rows {
        let outage = Outage {
            start_mg_l: row.number("C0"),
            saturation_mg_l: row.number("Cs"),
            exchange_per_h: row.number("kLa") / 24.0,
            demand_mg_l_h: row.number("R") / 24.0,
        };
        for (level, column) in [(4.0, "hours_to_4"), (2.0, "hours_to_2")] {
            match outage.reaches(level) {
                Reaches::Never => assert_eq!(row.text(column), "never"),
                Reaches::After(hours) => assert!(
                    (hours / row.number(column) - 1.0).abs() < 1e-8,
                    "{hours} not {}",
                    row.text(column)
                ),
            }
        }
    }
}

/// Emerson et al. 1975, as tabulated; PHREEQC stands within 0.25 % of it for dilute water.
#[test]
fn the_un_ionised_share_meets_its_table() {
    for row in reference::rows("ammonia_fraction.csv") {
        let ours = un_ionised_share(Temperature::celsius(row.number("t_degC")), row.number("pH"));
        assert!((ours / row.number("f_emerson") - 1.0).abs() < 1e-8);
        assert!((ours / row.number("f_phreeqc_dilute") - 1.0).abs() < 0.0026);
    }
}

/// Common practice, no source: 8–9 mg/L in lightly stocked cubes with air-driven sponge filters,
/// about 6 in a hang-on-back cube to which fish and shrimp were added.
#[test]
fn the_budget_reproduces_what_keepers_read_in_two_cubes() {
    let sponge = Twin::of(&tanks::sponge_filtered()).day.lowest().1;
    let crowded = Twin::of(&tanks::crowded_hang_on_back()).day.lowest().1;
    assert!((7.75..=9.0).contains(&sponge), "sponge cube {sponge:.2}");
    assert!(
        (5.25..=6.75).contains(&crowded),
        "hang-on-back cube {crowded:.2}"
    );
}

#[test]
fn the_budget_balances_at_the_level_of_a_settled_night() {
    let tank = tanks::crowded_hang_on_back();
    let balance: f64 = Twin::of(&tank)
        .budget(&tank)
        .iter()
        .map(|term| term.mg_per_h)
        .sum();
    assert!(
        balance.abs() < 0.2,
        "without plants what comes in is what is used: {balance}"
    );
}

/// Common practice, no source: a small tank swings faster than a large one stocked as densely.
#[test]
fn the_same_density_runs_short_sooner_in_a_shallow_power_cut() {
    let mut tank = Tank::plain(
        "large",
        Length::cm(150.0),
        Length::cm(60.0),
        Length::cm(60.0),
    );
    tank.stock = tanks::crowded_hang_on_back().stock;
    let (large, small) = (Twin::of(&tank), Twin::of(&tanks::crowded_hang_on_back()));
    let hours = |twin: &Twin| {
        if let Reaches::After(hours) = twin.outage.reaches(2.0) {
            hours
        } else {
            f64::INFINITY
        }
    };
    assert!(
        hours(&small) < hours(&large),
        "{} {}",
        hours(&small),
        hours(&large)
    );
}

proptest! {
    /// Whatever passes the checks of a tank has a twin: no panic, no NaN, nothing below zero,
    /// nothing above what water keeps.
    #[test]
    fn every_tank_that_passes_its_checks_has_a_sound_twin(
        size in (10.0..1000.0_f64, 5.0..500.0_f64, 3.0..300.0_f64), fill in 0.05..1.0_f64, celsius in 0.0..40.0_f64,
        metres in -400.0..4000.0_f64, salt in 0.0..40.0_f64, surface in 0usize..4, planting in 0usize..5,
        light in (0.0..23.9_f64, 0.0..=24.0_f64), fish in (1u32..300, 0.01..500.0_f64), feed in 0.0..100.0_f64,
    ) {
        let mut tank = Tank::plain("any", Length::cm(size.0), Length::cm(size.1), Length::cm(size.2));
        tank.measured_volume = Some(Volume::litres((size.0 * size.1 * size.2 / 1000.0 * fill).clamp(1.0, 50_000.0)));
        tank.temperature = Temperature::celsius(celsius);
        tank.altitude = Altitude::metres(metres);
        tank.salinity = Salinity::g_per_kg(salt);
        tank.surface = Surface::ALL[surface];
        tank.plants = Plants { planting: Planting::ALL[planting], lights_on: ClockHour::hours(light.0), light: Hours::of(light.1) };
        tank.stock.push(StockGroup::weighing("fish", fish.0, Mass::grams(fish.1), Activity::Lively));
        tank.feed = Mass::grams(feed);
        prop_assume!(tank.refusals(&Units::BASE).is_empty());
        let twin = Twin::of(&tank);
        let held = twin.saturation.as_mg_l();
        prop_assert!((2.0..17.0).contains(&held), "{held}");
        let most = CEILING.value * held;
        for hour in 0..24 {
            let oxygen = twin.day.at(f64::from(hour));
            prop_assert!(oxygen >= 0.0 && oxygen <= most + 1e-6, "{oxygen} at {hour}");
        }
        prop_assert!(twin.day.lowest().1 <= twin.day.highest().1 + 1e-9);
        let forecast = Ensemble::of_tank(&tank).forecast(Tank::clone);
        prop_assert!(forecast.mean.iter().chain(&forecast.spread).all(|value| value.is_finite()));
        prop_assert!((0.0..=1.0 + 1e-6).contains(&forecast.chance_lowest_above(5.0)));
    }
}

#[test]
fn water_changes_meet_exact_arithmetic() {
    use reed_core::water::nitrogen::changes::{
        after_change, changes_to_reach, fraction_to_reach, peak_between_changes,
    };
    for row in reference::rows("water_change.csv") {
        let (fraction, tap) = (row.number("fraction"), row.number("tap"));
        let gain = row.number("p_per_day") * row.number("interval_d");
        if row.number("k") > 0.0 {
            assert!(
                (after_change(row.number("before"), tap, fraction) - row.number("after")).abs()
                    < 1e-6
            );
        }
        assert!(
            (peak_between_changes(tap, gain, fraction) - row.number("plateau_before")).abs() < 1e-6
        );
    }
    for row in reference::rows("water_change_to_target.csv") {
        let (level, target, tap) = (row.number("c0"), row.number("target"), row.number("tap"));
        let changes = changes_to_reach(level, target, tap, row.number("fraction"));
        if row.text("status") == "ok" {
            let count: u32 = row.text("n_changes").parse().expect("a count");
            assert_eq!(
                changes,
                Some(count),
                "{level} {target} {tap} {}",
                row.number("fraction")
            );
            let single = fraction_to_reach(level, target, tap).expect("it can");
            assert!((single - row.number("single_fraction")).abs() < 1e-9);
        } else if row.text("status").starts_with("impossible") {
            assert_eq!(changes, None);
        }
    }
}

#[test]
fn ammonia_criteria_and_its_share_in_the_sea_meet_their_tables() {
    use reed_core::water::chemistry::{epa_acute_mg_l, epa_chronic_mg_l, un_ionised_share_in};
    for row in reference::rows("epa_ammonia_2013.csv") {
        let (temperature, ph) = (Temperature::celsius(row.number("T")), row.number("pH"));
        for (ours, column) in [
            (epa_chronic_mg_l(temperature, ph), "ccc"),
            (
                epa_acute_mg_l(temperature, ph, false),
                "cmc_no_oncorhynchus",
            ),
            (epa_acute_mg_l(temperature, ph, true), "cmc_oncorhynchus"),
        ] {
            assert!(
                (ours / row.number(column) - 1.0).abs() < 1e-6,
                "{column} at pH {ph}: {ours}"
            );
        }
    }
    // As published: 17 and 1.9 mg/L at pH 7 and 20 °C.
    let at = Temperature::celsius(20.0);
    assert!(
        (epa_acute_mg_l(at, 7.0, false) - 17.0).abs() < 0.5
            && (epa_chronic_mg_l(at, 7.0) - 1.9).abs() < 0.05
    );
    let mut compared = 0;
    for row in reference::rows("ammonia_fraction_seawater.csv") {
        let (celsius, ph) = (row.number("t_degC"), row.number("pH"));
        if (20.0..=30.0).contains(&celsius) && (7.8..=8.5).contains(&ph) {
            let ours = un_ionised_share_in(
                Temperature::celsius(celsius),
                ph,
                Salinity::g_per_kg(row.number("salinity")),
            );
            assert!(
                (ours / row.number("f_nbs") - 1.0).abs() < 0.2,
                "{celsius} °C, pH {ph}: {ours}"
            );
            compared += 1;
        }
    }
    assert!(compared > 5);
}
