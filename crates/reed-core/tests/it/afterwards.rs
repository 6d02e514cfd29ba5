//! What a plan takes to buy, and what a cured case leaves to be watched.

use jiff::civil::{DateTime, date};
use reed_core::diagnosis::finding;
use reed_core::diagnosis::{Answer, Answered, Case, fault};
use reed_core::document::start;
use reed_core::remedy::change::{self, Change, Measure};
use reed_core::remedy::plan::Prices;
use reed_core::remedy::{Deed, Shopping, duties};
use reed_core::tank::{Analyte, Tank};

const MORNING: DateTime = date(2026, 3, 10).at(8, 30, 0, 0);

fn tank(id: &str) -> Tank {
    start::by_id(id).expect("listed").tank()
}

fn listed(id: &str) -> &'static Change {
    change::by_id(id).expect("listed")
}

/// Whatever costs more than a dose is on the list, in amounts that a shop can sell; only the vet is
/// no thing.
#[test]
fn everything_that_costs_is_on_the_shopping_list() {
    for start in start::ALL {
        let tank = start.tank();
        for change in change::all().filter(|change| change.suits(&tank).is_ok()) {
            let shopping = Shopping::of(&[change], &tank, &Prices::default());
            assert!(
                change.euros < 3.0 || !shopping.items.is_empty() || change.id == "fish-vet",
                "{}",
                change.id
            );
            for item in &shopping.items {
                let most = match item.measure {
                    Measure::Pieces => 12.0,
                    Measure::Litres => 200.0,
                    Measure::Metres => 60.0,
                };
                assert!(
                    item.amount > 0.0 && item.amount <= most && !item.amount_words().is_empty(),
                    "{} in {}: {item:?}",
                    change.id,
                    start.id
                );
            }
        }
    }
}

#[test]
fn what_two_changes_take_is_one_line() {
    let changes = ["add-air-stone", "add-sponge-filter"].map(listed);
    let shopping = Shopping::of(&changes, &tank("community-internal"), &Prices::default());
    let pumps: Vec<_> = shopping
        .items
        .iter()
        .filter(|item| item.what == "Air pump")
        .collect();
    assert!(
        pumps.len() == 1 && pumps[0].amount_words() == "2 pieces" && pumps[0].for_what.len() == 2,
        "{pumps:?}"
    );
    assert!((shopping.euros - 55.0).abs() < 1e-9, "{}", shopping.euros);
}

/// Change, fault, sign; what is read or done, how often a day and for how many days. Common
/// practice, no source.
const LEFT: &[(&str, &str, &str, &str, u32, u32)] = &[
    (
        "raise-or-aim-outlet",
        "still-surface",
        "keeps-to-top",
        "tan",
        24,
        7,
    ),
    (
        "raise-or-aim-outlet",
        "still-surface",
        "keeps-to-top",
        "Glance",
        24,
        28,
    ),
    ("raise-kh", "low-alkalinity", "ph-falling", "kh", 168, 28),
    ("feed-less", "load-jump", "cloudy-white", "tan", 12, 7),
    (
        "seed-mature-media",
        "colony-hurt-by-cleaning",
        "irritated",
        "tan",
        24,
        7,
    ),
    (
        "clean-mechanical",
        "clogged-fine-media",
        "flow-weak",
        "flow",
        336,
        56,
    ),
    (
        "intakes-same-end",
        "opposed-flow",
        "muck-one-pile",
        "Look along",
        168,
        28,
    ),
    (
        "reseat-joints",
        "joint-loose",
        "damp-or-drip",
        "Feel below",
        24,
        3,
    ),
    (
        "bigger-changes",
        "nitrate-build-up",
        "nuisance-algae",
        "nitrate",
        168,
        28,
    ),
];

#[test]
fn a_cured_case_leaves_the_duties_of_the_trade() {
    for (change, fault, sign, what, hours, days) in LEFT {
        let fault = fault::by_id(fault).expect("listed");
        let mut case = Case::new(tank("planted-canister"), MORNING);
        let finding = finding::by_id(sign).expect("listed");
        let answered = Answered::new(finding, Answer::Yes, MORNING);
        case.observed.answers.push(answered);
        let left = duties(&[listed(change)], &[fault], &case);
        let found = left.iter().any(|duty| {
            let is_it = match duty.deed {
                Deed::Read(analyte) => analyte.id == *what,
                Deed::Do => duty.words.starts_with(what),
            };
            is_it && (duty.every_hours, duty.for_days) == (*hours, *days)
        });
        assert!(found, "{change} for {}: {left:?}", fault.id);
        // Nothing is read for two duties at once.
        for analyte in Analyte::ALL {
            let read = left.iter().filter(|duty| duty.deed == Deed::Read(analyte));
            assert!(read.count() <= 1, "{change}: {}", analyte.id);
        }
    }
}

/// Where nothing was wrong and nothing was touched, nothing is left.
#[test]
fn a_bubble_nest_leaves_no_duty() {
    let fault = fault::by_id("bubble-nest-normal").expect("listed");
    let case = Case::new(tank("community-internal"), MORNING);
    assert!(duties(&[listed("none-needed")], &[fault], &case).is_empty());
}
