//! What the core costs. Run: `cargo bench -p reed-core`.

use std::sync::Arc;

use divan::counter::ItemsCount;
use divan::{Bencher, black_box};
use jiff::SignedDuration;
use jiff::civil::{DateTime, date};
use reed_core::diagnosis::belief::{Belief, FaultSet, Hypotheses, Likelihoods, NoisyOr};
use reed_core::diagnosis::{Answer, Answered, Case, Differential, finding, record};
use reed_core::document::{Document, start};
use reed_core::filter::{Bed, Fill, Hose, Pump, State, System, Water, operating_point};
use reed_core::log::quick::Quick;
use reed_core::log::{Entry, Happening, Layer, On, When};
use reed_core::outlook::acidity::Acidity;
use reed_core::outlook::ahead::{self, NitrogenOutlook, Setting, Tap};
use reed_core::outlook::forecast::Ensemble;
use reed_core::remedy::plan::{Prices, Reckoner, candidates, search};
use reed_core::remedy::{advice, offers};
use reed_core::tank::{Analyte, Reading, Tank};
use reed_core::twin::{Stirring, Twin};
use reed_core::units::{Salinity, Units};

const MORNING: DateTime = date(2026, 3, 10).at(8, 30, 0, 0);

fn main() {
    divan::main();
}

fn demo_case() -> Case {
    let document = Document::read(&reed_fixtures::example("reading-room"))
        .expect("an example")
        .document;
    document.case(MORNING).expect("an example")
}

fn case_named(name: &str) -> Case {
    if name == "demo" {
        demo_case()
    } else {
        rich_case()
    }
}

/// The demo case late: six more answers and four more readings, every one of which may be misread.
fn rich_case() -> Case {
    let mut case = demo_case();
    for (id, answer) in [
        ("surface-flat", Answer::Yes),
        ("outlet-off-its-mark", Answer::Yes),
        ("surface-film", Answer::No),
        ("smell-musty", Answer::No),
        ("irritated", Answer::No),
        ("equipment-moved", Answer::Yes),
    ] {
        case.observed.answers.push(Answered::new(
            finding::by_id(id).expect("listed"),
            answer,
            MORNING,
        ));
    }
    for (analyte, value) in [
        (Analyte::OXYGEN, 4.8),
        (Analyte::NITRITE, 0.0),
        (Analyte::PH, 7.4),
        (Analyte::KH, 5.0),
    ] {
        case.observed
            .readings
            .push(Reading::usual(analyte, value, MORNING));
    }
    case
}

/// The differential: the posterior over the whole catalogue, up to three faults at once, and the
/// believed tanks.
#[divan::bench(args = ["demo", "rich"])]
fn differential(bencher: Bencher, case: &str) {
    let case = case_named(case);
    bencher.bench(|| Differential::of(black_box(&case)));
}

/// What a differential says about itself: reasons of the likeliest, what does not fit, what it
/// hangs on.
#[divan::bench(args = ["demo", "rich"])]
fn account(bencher: Bencher, case: &str) {
    let case = case_named(case);
    let differential = Differential::of(&case);
    bencher.bench(|| black_box(&differential).account(&[]));
}

/// The next check: what every one would tell, then two checks ahead whether to look on or act.
#[divan::bench(args = ["demo", "rich"])]
fn next_check(bencher: Bencher, case: &str) {
    let case = case_named(case);
    let differential = Differential::of(&case);
    let (_, offers) = offers(&differential, &case.observed);
    bencher.bench(|| {
        advice(
            &differential,
            &black_box(&differential).outlook(&case),
            black_box(&offers),
        )
    });
}

/// Every change that fits, each forecast over all believed tanks.
#[divan::bench]
fn all_offers(bencher: Bencher) {
    let case = demo_case();
    let differential = Differential::of(&case);
    bencher.bench(|| offers(black_box(&differential), black_box(&case.observed)));
}

/// The search for plans: every set of up to four changes that could be good enough, without moving
/// anything. Items are sets that were reckoned.
#[divan::bench(args = ["demo", "rich", "diffuse"])]
fn plans(bencher: Bencher, case: &str) {
    let case = if case == "diffuse" {
        diffuse_case()
    } else {
        case_named(case)
    };
    let (differential, prices) = (Differential::of(&case), Prices::default());
    let (_, offers) = offers(&differential, &case.observed);
    let run = || {
        let reckoner = Reckoner::new(black_box(&case), &differential, &prices);
        let candidates = candidates(&reckoner, &offers);
        search(&reckoner, &offers, &candidates, |_| true)
    };
    bencher
        .counter(ItemsCount::new(run().progress.reckoned))
        .bench(run);
}

/// Thin fish in cloudy water, ammonia and nitrite read: many causes, many changes.
fn diffuse_case() -> Case {
    let tank = start::by_id("community-internal").expect("listed").tank();
    let mut case = Case::new(tank, MORNING);
    for id in ["thin-fish", "cloudy-white", "keeps-to-top"] {
        let finding = finding::by_id(id).expect("listed");
        let answered = Answered::new(finding, Answer::Yes, MORNING);
        case.observed.answers.push(answered);
    }
    for (analyte, value) in [(Analyte::AMMONIA, 0.4), (Analyte::NITRATE, 14.0)] {
        let reading = Reading::usual(analyte, value, MORNING);
        case.observed.readings.push(reading);
    }
    case
}

/// One tank's 24 hours, figures at their word.
#[divan::bench]
fn twin(bencher: Bencher) {
    let Case { tank, .. } = demo_case();
    bencher.bench(|| Twin::of(black_box(&tank)));
}

/// One tank's 24 hours with their uncertainty: nine doubts, 49 points.
#[divan::bench]
fn forecast_24_hours(bencher: Bencher) {
    let Case { tank, .. } = demo_case();
    bencher.bench(|| Ensemble::of_tank(black_box(&tank)).forecast(Tank::clone));
}

/// The flow of a canister with six trays, an in-line chamber on each side and two hoses.
#[divan::bench]
fn operating_point_of_a_canister(bencher: Bencher) {
    let hose = Hose {
        bore: 0.016,
        length: 1.5,
        fittings: 4.2,
        roughness: 0.0,
    };
    let bed = Bed {
        area: 0.04,
        depth: 0.05,
        fill: Fill::Grains {
            width: 0.012,
            porosity: 0.45,
        },
        clogging: 30.0,
    };
    let system = System {
        hoses: vec![hose; 2],
        beds: vec![bed; 8],
        lift: 0.0,
    };
    let pump = Pump::Label {
        most_head: 1.5,
        most_flow: 1000.0,
    };
    let water = Water::of(25.0, 0.0);
    bencher.bench(|| operating_point(black_box(&pump), black_box(&system), &water));
}

/// A filter as it stands, learned from ten years of openings every month, with bucket tests.
#[divan::bench]
fn filter_of_ten_years_of_openings(bencher: Bencher) {
    let Case { tank, .. } = demo_case();
    let filter = tank.filters[0].clone();
    let opened = Happening::by_id("filter-opened").expect("listed");
    let bucket = Happening::by_id("bucket-test").expect("listed");
    let log: Vec<Entry> = (0..120)
        .flat_map(|month| {
            let at = MORNING - SignedDuration::from_hours(24 * 30 * (120 - month));
            let of = |kind, hours| Entry {
                on: On::Filter(filter.number),
                ..Entry::of(kind, When::minute(at + SignedDuration::from_hours(hours)))
            };
            let mut opening = of(opened, 0);
            opening.details.grades.insert(Layer::Fine, 3);
            [opening, of(bucket, 2).with_amount(400.0)]
        })
        .collect();
    bencher.bench(|| State::of(black_box(&tank), &filter, black_box(&log), None, MORNING));
}

/// A tank of 200 things from its file: parsed, upgraded if need be, every field checked.
#[divan::bench]
fn read_a_file_of_200_things(bencher: Bencher) {
    let tank = reed_fixtures::tanks::crowded(200);
    let text = Document::of(&Case::new(tank, MORNING)).write();
    bencher.bench(|| Document::read(black_box(&text)).expect("our own file"));
}

/// What cannot be as drawn, among 200 things.
#[divan::bench]
fn conflicts_of_200_things(bencher: Bencher) {
    let tank = reed_fixtures::tanks::crowded(200);
    bencher.bench(|| black_box(&tank).conflicts(&Units::BASE));
}

/// The arithmetic at the size of a whole catalogue: 85 faults, up to three at once, 30 findings of
/// six faults each.
#[divan::bench]
fn belief_over_85_faults(bencher: Bencher) {
    const FAULTS: usize = 85;
    let coupled = (0..16).fold(FaultSet::NONE, FaultSet::with);
    let hypotheses = Arc::new(Hypotheses::new(FAULTS, 3, coupled));
    let nodes: Vec<NoisyOr> = (0..30)
        .map(|finding| NoisyOr {
            leak: 0.02,
            links: (0..6)
                .map(|link| ((finding * 7 + link * 13) % FAULTS, 0.7))
                .collect(),
        })
        .collect();
    bencher.bench(|| {
        let mut belief = Belief::before(&[0.012; FAULTS], Arc::clone(&hypotheses), &[1.0]);
        for (index, node) in nodes.iter().enumerate() {
            belief.weigh(&if index % 3 == 0 {
                Likelihoods::PerSet(node.chances(&hypotheses))
            } else {
                Likelihoods::PerFault(1.0 - node.leak, node.absent(FAULTS))
            });
        }
        belief.of_faults()
    });
}

/// Listing the 102,426 sets of up to three of 85 faults with their classes.
#[divan::bench]
fn hypotheses_over_85_faults(bencher: Bencher) {
    let coupled = (0..16).fold(FaultSet::NONE, FaultSet::with);
    bencher.bench(|| Hypotheses::new(black_box(85), 3, coupled));
}

fn setting(tank: &Tank) -> Setting {
    Setting::of(
        tank,
        Stirring::AS_IT_LOOKS,
        MORNING,
        &Tap {
            nitrate: Some(2.0),
            dkh: Some(6.0),
            ..Tap::default()
        },
    )
}

/// Fifty days of readings of ammonia, nitrite, nitrate and hardness, one of each a day.
fn two_hundred_readings() -> Vec<Reading> {
    let on = |day: i64| MORNING - jiff::SignedDuration::from_hours(24 * day);
    let of_day = |day: i64| {
        [
            (Analyte::AMMONIA, 0.05),
            (Analyte::NITRITE, 0.05),
            (Analyte::NITRATE, 6.0),
            (Analyte::KH, 5.5),
        ]
        .map(|(analyte, value)| Reading::usual(analyte, value, on(day)))
    };
    (1..=50).rev().flat_map(of_day).collect()
}

/// Sixty days of nitrogen ahead, with bands.
#[divan::bench]
fn nitrogen_sixty_days_ahead(bencher: Bencher) {
    let setting = setting(&demo_case().tank);
    let belief = ahead::NitrogenBelief::learned(&setting, &[], &[], MORNING);
    let acidity = Acidity::of(&demo_case().tank, Stirring::AS_IT_LOOKS, &[], MORNING);
    bencher.bench(|| {
        NitrogenOutlook::of(
            black_box(&setting),
            &belief,
            &[],
            60,
            &acidity,
            Salinity::default(),
        )
    });
}

/// What two hundred readings teach.
#[divan::bench(sample_count = 10, sample_size = 1)]
fn nitrogen_learned_from_200_readings(bencher: Bencher) {
    let (setting, readings) = (setting(&demo_case().tank), two_hundred_readings());
    bencher.bench(|| {
        ahead::NitrogenBelief::learned(black_box(&setting), &[], black_box(&readings), MORNING)
    });
}

/// The routine of a hundred tanks, each with a year of weekly entries, with the state of their
/// filters as the program keeps it, and the visits that are made of it.
#[divan::bench]
fn routine_of_a_hundred_tanks(bencher: Bencher) {
    use reed_core::outlook::forecast::Grade;
    use reed_core::routine::visits::{Job, Rules, visits};
    use reed_core::routine::{Known, Record, standing};
    let now = MORNING;
    let kinds = [
        "change",
        "surface-looked-at",
        "animals-counted",
        "filter-opened",
    ];
    let log: Vec<Entry> = (0..52_i64)
        .flat_map(|weeks| kinds.map(|kind| (weeks, kind)))
        .map(|(weeks, kind)| {
            let kind = Happening::by_id(kind).expect("listed");
            Entry::of(
                kind,
                When::minute(now - SignedDuration::from_hours(168 * weeks)),
            )
        })
        .collect();
    let readings: Vec<Reading> = two_hundred_readings().into_iter().take(60).collect();
    let tanks: Vec<Tank> = start::ALL
        .iter()
        .cycle()
        .take(100)
        .map(start::Start::tank)
        .collect();
    let filters: Vec<Vec<_>> = tanks
        .iter()
        .map(|tank| {
            let state = |filter| State::of(tank, filter, &log, None, now);
            tank.filters
                .iter()
                .map(|filter| (filter.number, state(filter)))
                .collect()
        })
        .collect();
    let log = Record::of(log);
    bencher.bench_local(|| {
        let mut jobs = Vec::new();
        for (place, (tank, filters)) in tanks.iter().zip(&filters).enumerate() {
            let tasks = standing(&Known {
                tank,
                log: &log,
                readings: &readings,
                filters,
                oxygen: Grade::Good,
                watched: &[],
                entered: now.date(),
                now,
            });
            jobs.extend(tasks.into_iter().map(|task| Job { tank: place, task }));
        }
        visits(black_box(&jobs), Rules::USUAL, now.date())
    });
}

/// The quick line: six parts of which one is a note.
#[divan::bench]
fn quick_line(bencher: Bencher) {
    let Case { tank, .. } = demo_case();
    let quick = Quick {
        tank: &tank,
        now: MORNING,
        units: &Units::BASE,
    };
    let line = "no3 20, 25.5 C, cleaned prefilter yesterday, lost 1 tetra, wc 30 % monday, the heron was here";
    bencher.bench(|| quick.read(black_box(line)));
}

/// The differential with a log of ten years: fed daily, changed weekly, opened monthly.
#[divan::bench]
fn differential_with_ten_years_of_log(bencher: Bencher) {
    let mut case = demo_case();
    let days = |days: i64| MORNING - jiff::SignedDuration::from_hours(24 * days);
    let entry = |id: &str, at| Entry::of(Happening::by_id(id).expect("listed"), When::minute(at));
    let log: Vec<Entry> = (1..3650)
        .flat_map(|day| {
            let weekly = (day % 7 == 0).then(|| entry("change", days(day)).with_amount(20.0));
            let monthly = (day % 30 == 0).then(|| entry("filter-opened", days(day)));
            [Some(entry("fed", days(day))), weekly, monthly]
        })
        .flatten()
        .collect();
    bencher.bench_local(move || {
        case.observed.recorded = record::of(&case.tank, black_box(&log), MORNING);
        Differential::of(black_box(&case))
    });
}
