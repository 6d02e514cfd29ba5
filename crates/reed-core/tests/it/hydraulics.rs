//! What moves water through a filter, against independent libraries. Tolerances are those the tables
//! state, or tighter.

use proptest::prelude::{prop_assert, proptest};
use reed_core::filter::hose::{LAMINAR_BELOW, fitting, friction};
use reed_core::filter::pump::NotACurve;
use reed_core::filter::rise::{AIR_DENSITY, terminal_speed};
use reed_core::filter::{AirLift, Bed, Fill, Hose, Plumbing, Pump, System, Water, operating_point};
use reed_core::tank::{Filter, FilterKind, Tank};
use reed_core::units::{FlowRate, Length, SmallLength};
use reed_fixtures::reference;
use reed_fixtures::reference::Row;

/// The water of the tables, by their heads.
const WATER: Water = Water {
    density: 997.0476,
    viscosity: 8.900_225e-4,
};

/// The bed of the table of operating points, by its head.
const RINGS: Fill = Fill::Grains {
    width: 0.012,
    porosity: 0.45,
};

fn close(ours: f64, theirs: f64, share: f64) -> bool {
    (ours - theirs).abs() <= share * theirs.abs()
}

/// TEOS-10 for the density (the equation of 1981 lies within 0.02 kg/m³ of it), the international
/// formulation for the viscosity.
#[test]
fn density_and_viscosity_meet_the_international_formulations() {
    let rows = reference::rows("water_properties.csv");
    assert!(rows.len() > 30);
    for row in rows {
        let (celsius, salinity) = (row.number("t_degC"), row.number("salinity"));
        let ours = Water::of(celsius, salinity);
        let density = row.number("rho_gsw");
        assert!(
            (ours.density - density).abs() < 0.02,
            "{celsius} °C, {salinity}: {} not {density}",
            ours.density
        );
        let viscosity = row.number("mu_Pa_s");
        assert!(
            close(ours.viscosity, viscosity, 3e-4),
            "{celsius} °C, {salinity}: {} not {viscosity}",
            ours.viscosity
        );
    }
}

fn hose(row: &Row) -> Hose {
    Hose {
        bore: row.number("D_mm") / 1000.0,
        length: row.number("L_m"),
        fittings: fitting::ENTRANCE + fitting::EXIT + 3.0 * fitting::ELBOW,
        roughness: 0.0,
    }
}

/// Colebrook solved exactly by another library (Clamond's method).
#[test]
fn a_hose_takes_what_an_independent_library_says() {
    let rows = reference::rows("hydraulics_hose.csv");
    assert!(rows.len() > 40);
    for row in rows {
        let (hose, flow) = (hose(&row), row.number("Q_L_h"));
        assert!(close(hose.speed(flow), row.number("v_m_s"), 1e-8));
        assert!(close(hose.reynolds(flow, &WATER), row.number("Re"), 1e-6));
        let f = friction(row.number("Re"), 0.0);
        assert!(close(f, row.number("f_darcy"), 1e-8), "{f}");
        let [wall, fittings] = hose.losses(flow, &WATER);
        assert!(close(wall, row.number("h_friction_m"), 1e-6));
        assert!(close(fittings, row.number("h_minor_m"), 1e-8));
        assert!(close(
            hose.loss(flow, &WATER),
            row.number("h_total_m"),
            1e-6
        ));
    }
}

/// Colebrook's own equation, for rough pipes too, which the table has none of.
#[test]
fn friction_solves_colebrooks_equation() {
    for reynolds in [LAMINAR_BELOW, 4e3, 1e4, 1e5, 1e6, 1e8] {
        for roughness in [0.0, 1e-5, 1e-3, 0.02, 0.05] {
            let x = friction(reynolds, roughness).sqrt().recip();
            let there = -2.0 * (roughness / 3.7 + 2.51 * x / reynolds).log10();
            assert!(close(x, there, 1e-10), "{reynolds}, {roughness}");
        }
    }
    // Poiseuille 1840.
    assert!(close(friction(1000.0, 0.05), 0.064, 1e-12));
    assert!(friction(0.0, 0.0).abs() < f64::EPSILON);
}

#[test]
fn a_bed_takes_what_an_independent_library_says() {
    let rows = reference::rows("hydraulics_bed.csv");
    assert!(rows.len() > 30);
    for row in rows {
        let bed = Bed {
            area: 0.04,
            depth: 0.2,
            fill: Fill::Grains {
                width: row.number("dp_mm") / 1000.0,
                porosity: row.number("porosity"),
            },
            clogging: 1.0,
        };
        let flow = row.number("Q_L_h");
        let ours = bed.pressure_loss(flow, &WATER);
        assert!(close(ours, row.number("dP_ergun_Pa"), 1e-6), "{ours}");
        assert!(close(
            bed.loss(flow, &WATER),
            row.number("head_ergun_m"),
            1e-6
        ));
        // Other correlations agree within what the table states, where they were measured.
        if row.number("porosity") <= 0.5 {
            let [least, most] =
                ["dP_min_others_Pa", "dP_max_others_Pa"].map(|name| row.number(name));
            assert!(least / ours > 0.72 - 0.01 && most / ours < 1.19 + 0.01);
        }
    }
}

/// Intersections found by another solver (Brent's), with hoses and beds of other libraries.
#[test]
fn pump_and_way_meet_where_an_independent_solver_finds_it() {
    let rows = reference::rows("hydraulics_operating_point.csv");
    assert!(rows.len() > 100);
    for row in rows {
        let (most_head, most_flow) = (row.number("H0_m"), row.number("Q0_L_h"));
        let pump = match row.text("shape") {
            "linear" => Pump::Straight {
                most_head,
                most_flow,
            },
            "quadratic" => Pump::Label {
                most_head,
                most_flow,
            },
            other => panic!("{other}"),
        };
        let system = System {
            hoses: vec![hose(&row)],
            beds: vec![Bed {
                area: 0.04,
                depth: 0.2,
                fill: RINGS,
                clogging: row.number("clog"),
            }],
            lift: row.number("static_m"),
        };
        let met = operating_point(&pump, &system, &WATER);
        if row.text("status") == "no flow" {
            assert!(met.is_none());
            continue;
        }
        let met = met.expect("it flows");
        assert!(close(met.flow, row.number("Q_L_h"), 1e-5), "{met:?}");
        assert!((met.head - row.number("H_m")).abs() < 1e-4, "{met:?}");
    }
}

#[test]
fn a_curve_of_points_is_held_to_what_pumps_do() {
    let pump = Pump::through(vec![(0.0, 1.5), (300.0, 1.2), (600.0, 0.6)]).expect("a curve");
    assert!(close(pump.head(0.0), 1.5, 1e-12) && close(pump.head(450.0), 0.9, 1e-12));
    assert!(
        close(pump.most_flow(), 900.0, 1e-12),
        "drawn out beyond the last"
    );
    for (points, refused) in [
        (vec![(0.0, 1.0)], NotACurve::Few(1)),
        (vec![(0.0, 1.0), (100.0, 1.2)], NotACurve::Rises(2)),
        (vec![(100.0, 1.0), (100.0, 0.5)], NotACurve::Rises(2)),
        (
            vec![(0.0, 1.0), (100.0, -0.5)],
            NotACurve::Negative {
                place: 2,
                value: -0.5,
            },
        ),
    ] {
        assert_eq!(Pump::through(points), Err(refused));
    }
    assert!(Pump::through(vec![(0.0, f64::NAN), (1.0, 0.5)]).is_err());
}

proptest! {
    /// More to pass, a narrower or longer hose, a higher lift, a bed more clogged: never more flow.
    #[test]
    fn whatever_holds_back_lets_less_through(
        bore in 0.008..0.04_f64, length in 0.2..6.0_f64, lift in 0.0..0.5_f64,
        clogging in 1.0..500.0_f64, more in 1.0..3.0_f64,
    ) {
        let pump = Pump::Label { most_head: 1.5, most_flow: 1000.0 };
        let flow = |bore: f64, length: f64, lift: f64, clogging: f64| {
            let system = System {
                hoses: vec![Hose { bore, length, fittings: 4.2, roughness: 0.0 }],
                beds: vec![Bed { area: 0.02, depth: 0.15, fill: Fill::Grains { width: 0.005, porosity: 0.45 }, clogging }],
                lift,
            };
            operating_point(&pump, &system, &WATER).map_or(0.0, |met| met.flow)
        };
        let now = flow(bore, length, lift, clogging);
        prop_assert!(now < 1000.0);
        for held in [
            flow(bore / more, length, lift, clogging),
            flow(bore, length * more, lift, clogging),
            flow(bore, length, lift * more, clogging),
            flow(bore, length, lift, clogging * more),
        ] {
            prop_assert!(held <= now + 1e-6, "{held} over {now}");
        }
    }
}

/// A canister as its owner describes it: the label is never reached, a narrow hose takes more, and
/// what nobody said is taken as usual and named.
#[test]
fn a_clean_canister_moves_less_than_its_label_and_what_was_taken_is_named() {
    let told = Filter {
        kind: FilterKind::RisingBasketCanister,
        rated: FlowRate::litres_per_hour(1000.0),
        head: Some(Length::cm(150.0)),
        pump_depth: Some(Length::cm(100.0)),
        hose_bore: Some(SmallLength::mm(16.0)),
        suction_hose: Some(Length::cm(150.0)),
        return_hose: Some(Length::cm(150.0)),
        ..Filter::default()
    };
    let tank = Tank::default();
    let plumbing = Plumbing::of(&tank, &told);
    assert_eq!(plumbing.taken, []);
    let flow = |filter: &Filter| Plumbing::of(&tank, filter).clean().expect("it lifts").flow;
    let clean = flow(&told);
    // By the table's own losses of a hose like this, 3 m of 16 mm, and the parabola of the label.
    assert!((600.0..900.0).contains(&clean), "{clean}");
    let narrow = Filter {
        hose_bore: Some(SmallLength::mm(12.0)),
        ..told.clone()
    };
    assert!(flow(&narrow) < 0.85 * clean);
    let untold = Filter {
        head: None,
        hose_bore: None,
        ..told
    };
    let taken = Plumbing::of(&tank, &untold).taken;
    let what: Vec<&str> = taken.iter().map(|taken| taken.what).collect();
    assert_eq!(what, ["greatest head", "bore of the hoses"]);
}

/// Rigid spheres by another library; the tables state 5 % for the formula of Schiller & Naumann of
/// particles, 10 % between formulas of bubbles.
#[test]
fn small_things_rise_and_sink_as_an_independent_library_says() {
    let rows = reference::rows("terminal_velocity.csv");
    assert!(rows.len() > 30);
    for row in &rows {
        let water = Water {
            density: row.number("rho_water"),
            viscosity: row.number("mu"),
        };
        let ours = 1000.0
            * terminal_speed(
                row.number("d_mm") / 1000.0,
                row.number("rho_particle"),
                &water,
            );
        assert!(close(ours, row.number("v_schiller_mm_s"), 1e-6), "{ours}");
        assert!(close(ours, row.number("v_mm_s"), 0.05), "{ours}");
    }
    let rows = reference::rows("bubble_rise.csv");
    assert!(rows.len() > 5);
    for row in &rows {
        let water = Water {
            density: row.number("rho_water"),
            viscosity: row.number("mu"),
        };
        let ours = 1000.0 * terminal_speed(row.number("d_mm") / 1000.0, AIR_DENSITY, &water);
        assert!(close(ours, row.number("v_mm_s"), 0.1), "{ours}");
    }
}

/// Without friction the balance of Nicklin, Wilkes & Davidson can be solved by hand for a wide short
/// riser: submerged over length is the share of water.
#[test]
fn air_lifts_what_its_balance_says_and_nothing_from_too_deep() {
    let lift = AirLift {
        bore: 0.05,
        length: 0.30,
        submerged: 0.28,
        air_l_per_h: 100.0,
    };
    let lifted = lift.lifts(&WATER);
    let area = std::f64::consts::FRAC_PI_4 * 0.05 * 0.05;
    let (air, share) = (100.0 / 3.6e6 / area, 1.0 - 0.28 / 0.30);
    let by_hand = ((air / share - 0.35 * (9.80665_f64 * 0.05).sqrt()) / 1.2 - air) * area * 3.6e6;
    assert!(
        lifted <= by_hand.max(0.0) + 1.0 && lifted >= 0.5 * by_hand,
        "{lifted}, {by_hand}"
    );
    let weak = AirLift {
        submerged: 0.1,
        ..lift
    };
    assert!(weak.lifts(&WATER) < 1e-9);
    // Sponge filters of small tanks lift some 100 L/h with 60 L/h of air. Common practice, no source.
    let sponge = AirLift {
        bore: 0.022,
        length: 0.22,
        submerged: 0.2,
        air_l_per_h: 60.0,
    };
    let lifted = sponge.lifts(&WATER);
    assert!((40.0..400.0).contains(&lifted), "{lifted}");
}
