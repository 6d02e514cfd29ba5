//! Plans of several changes: equal to brute force, laws that hold for every case, and what the trade
//! does first (common practice, no source).

use jiff::SignedDuration;
use jiff::civil::{DateTime, date};
use proptest::prelude::{ProptestConfig, any, prop_assert, prop_assert_eq, proptest};
use reed_core::diagnosis::finding::{self, Kind};
use reed_core::diagnosis::{Answer, Answered, Case, Differential, fault};
use reed_core::document::start;
use reed_core::remedy::change::{self, Disturbs, Phase};
use reed_core::remedy::plan::{
    Found, MOST_CHANGES, Price, Prices, Reckoner, Stage, Visit, candidates, go_together, search,
    stages,
};
use reed_core::remedy::{Change, offers};
use reed_core::tank::{Analyte, Reading};

const MORNING: DateTime = date(2026, 3, 10).at(8, 30, 0, 0);

/// `sign` was seen, `sign@3` happened three days ago, `analyte=value` was read.
fn case(tank: &str, said: &str) -> Case {
    let mut case = Case::new(start::by_id(tank).expect("listed").tank(), MORNING);
    for word in said.split_whitespace() {
        if let Some((id, value)) = word.split_once('=') {
            let analyte = Analyte::ALL.iter().find(|analyte| analyte.id == id);
            case.observed.readings.push(Reading::usual(
                analyte.unwrap_or_else(|| panic!("{id}")),
                value.parse().expect("a number"),
                MORNING,
            ));
            continue;
        }
        let (id, days) = word.split_once('@').unwrap_or((word, "0"));
        let at = MORNING - SignedDuration::from_hours(24 * days.parse::<i64>().expect("days"));
        let finding = finding::by_id(id).unwrap_or_else(|| panic!("{id}"));
        let answered = Answered::new(finding, Answer::Yes, at);
        case.observed.answers.push(answered);
    }
    case
}

/// Weighs a case and hands what is reckoned to `then`.
fn reckoned<T>(
    case: &Case,
    prices: &Prices,
    then: impl FnOnce(&Reckoner<'_>, &[&'static Change], Found) -> T,
) -> T {
    let differential = Differential::of(case);
    let reckoner = Reckoner::new(case, &differential, prices);
    let (_, offers) = offers(&differential, &case.observed);
    let candidates = candidates(&reckoner, &offers);
    let found = search(&reckoner, &offers, &candidates, |_| true);
    then(&reckoner, &candidates, found)
}

fn found(case: &Case) -> Found {
    reckoned(case, &Prices::default(), |_, _, found| found)
}

fn ids(changes: &[&'static Change]) -> Vec<&'static str> {
    changes.iter().map(|change| change.id).collect()
}

fn listed(id: &str) -> &'static Change {
    change::by_id(id).expect("listed")
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]
    /// Among a few changes taken at random the foremost plan is that of trying every set.
    #[test]
    fn the_foremost_plan_is_that_of_brute_force(which in any::<u64>(), at in 0..6_usize) {
        let (tank, said) = [
            ("community-internal", "keeps-to-top surface-flat"),
            ("planted-canister", "gasping flow-weak do=4.5"),
            ("background-two-canisters", "muck-one-pile nitrate=15"),
            ("community-internal", "thin-fish cloudy-white tan=0.6"),
            ("reef-sump", "sock-overflowing foam-stays"),
            ("planted-hang-on", "flow-weak lid-lifted-media-exposed"),
        ][at];
        let case = case(tank, said);
        let (differential, prices) = (Differential::of(&case), Prices::default());
        let reckoner = Reckoner::new(&case, &differential, &prices);
        let (_, offers) = offers(&differential, &case.observed);
        let all = candidates(&reckoner, &offers);
        let some: Vec<&'static Change> = all
            .iter()
            .enumerate()
            .filter(|(place, _)| which >> (place % 64) & 1 == 1)
            .map(|(_, change)| *change)
            .take(8)
            .collect();
        let found = search(&reckoner, &offers, &some, |_| true);
        let mut best = f64::INFINITY;
        for set in 1_u32..1 << some.len() {
            let those: Vec<&'static Change> = (0..some.len())
                .filter(|place| set >> place & 1 == 1)
                .map(|place| some[place])
                .collect();
            if those.len() <= MOST_CHANGES
                && go_together(&those)
                && let Some(reckoned) = reckoner.reckon(&those)
            {
                best = best.min(reckoned.loss);
            }
        }
        let loss = found.plans.first().map_or(f64::INFINITY, |plan| plan.reckoned.loss);
        prop_assert_eq!(loss.to_bits(), best.to_bits(), "{:?}", ids(&some));
        prop_assert!(found.plans.iter().all(|plan| plan.reckoned.loss >= loss));
    }
}

/// Every fault in every set-up, shown by its own signs: plans are whole, differ, hold nothing in
/// vain, and are made in an order that harms nobody.
#[test]
fn laws_of_every_plan() {
    let (mut plans, mut staged) = (0, 0);
    for start in start::ALL {
        let tank = start.tank();
        for fault in
            fault::all().filter(|fault| fault.needs.as_ref().is_none_or(|need| (need.met)(&tank)))
        {
            let mut case = Case::new(tank.clone(), MORNING);
            for (sign, _) in fault.signs {
                if matches!(sign.kind, Kind::Sign | Kind::Rung(_)) && !sign.asks.is_empty() {
                    let answered = Answered::new(sign, Answer::Yes, MORNING);
                    case.observed.answers.push(answered);
                }
            }
            reckoned(&case, &Prices::default(), |reckoner, candidates, found| {
                let what = || format!("{} in {}", fault.id, start.id);
                assert!(
                    !found.plans.is_empty() && found.plans.len() <= 4 || candidates.is_empty(),
                    "{}",
                    what()
                );
                assert!(
                    !found.plans.is_empty(),
                    "{}: something can always be done",
                    what()
                );
                for (place, plan) in found.plans.iter().enumerate() {
                    plans += 1;
                    let changes = &plan.reckoned.changes;
                    assert!(
                        changes.len() <= MOST_CHANGES && go_together(changes),
                        "{}",
                        what()
                    );
                    for other in &found.plans[..place] {
                        assert_ne!(changes, &other.reckoned.changes, "{}", what());
                    }
                    // In the foremost none stands in vain.
                    if place == 0 && changes.len() > 1 {
                        for left_out in 0..changes.len() {
                            let mut fewer = changes.clone();
                            fewer.remove(left_out);
                            let loss = reckoner
                                .reckon(&fewer)
                                .map_or(f64::INFINITY, |reckoned| reckoned.loss);
                            assert!(loss >= plan.reckoned.loss, "{}: {:?}", what(), ids(changes));
                        }
                    }
                    staged += laws_of_stages(&plan.stages, changes, &what());
                }
            });
        }
    }
    assert!(plans > 500 && staged > 200, "{plans} {staged}");
}

/// Every change once, those that keep animals alive before the rest, feeding last, the colony at
/// rest between two disturbances. Gives 1 where there was more than one stage.
fn laws_of_stages(stages: &[Stage], changes: &[&'static Change], what: &str) -> usize {
    let made: Vec<&'static Change> = stages
        .iter()
        .flat_map(|stage| stage.changes.clone())
        .collect();
    assert_eq!(ids(&made), ids(changes), "{what}");
    // One may go before its turn: what meets the likeliest suspect.
    let rest: Vec<Phase> = made
        .iter()
        .map(|change| change.phase)
        .filter(|phase| *phase > Phase::Alive)
        .skip(1)
        .collect();
    assert!(
        rest.is_sorted()
            && made.is_sorted_by_key(|change| change.phase > Phase::Alive)
            && stages.is_sorted_by(|one, other| one.from_day < other.from_day)
            && stages.first().is_none_or(|first| first.visit == Visit::Now),
        "{what}: {stages:?}"
    );
    for (place, stage) in stages.iter().enumerate() {
        for later in &stages[place + 1..] {
            let disturbs = |stage: &Stage| {
                let all = stage.changes.iter().map(|change| change.disturbs);
                all.max().unwrap_or(Disturbs::Nothing)
            };
            let (one, other) = (disturbs(stage), disturbs(later));
            if one.max(other) == Disturbs::Colony && one.min(other) > Disturbs::Nothing {
                assert!(
                    later.from_day - stage.from_day >= 14.0,
                    "{what}: {stages:?}"
                );
            }
            assert!(
                !stage
                    .changes
                    .iter()
                    .any(|change| change.phase == Phase::Feed)
                    || later
                        .changes
                        .iter()
                        .all(|change| change.phase >= Phase::Feed),
                "{what}: fed up too early"
            );
        }
        assert!(
            place == 0 || !stage.why.is_empty(),
            "{what}: why not earlier?"
        );
    }
    usize::from(stages.len() > 1)
}

/// What stands first, any of which; and what must not be in the plan.
const TRADE: &[(&str, &str, &[&str], &[&str])] = &[
    (
        "community-internal",
        "keeps-to-top surface-flat",
        &["raise-or-aim-outlet", "add-surface-powerhead"],
        &["bigger-filter"],
    ),
    (
        "background-two-canisters",
        "muck-one-pile food-rests-between-intakes",
        &["intakes-same-end", "add-wave-maker"],
        &[],
    ),
    (
        "planted-canister",
        "muck-behind-structure",
        &["outlet-to-end-middle", "move-structure"],
        &["clean-mechanical"],
    ),
    (
        "planted-canister",
        "outlet-bubbles-constant flow-weak filter-cleaned@150",
        &["clean-mechanical", "replace-floss"],
        &["renew-seals"],
    ),
    (
        "community-internal",
        "media-rinsed-under-tap@2 tan=0.8 nitrite=0.3",
        &["seed-mature-media", "water-change", "ammonia-media-last"],
        &[
            "clean-mechanical",
            "rinse-bio-in-tank-water",
            "raise-kh",
            "feed-up",
        ],
    ),
    (
        "planted-hang-on",
        "flow-weak lid-lifted-media-exposed",
        &["clean-mechanical"],
        &[],
    ),
    (
        "planted-canister",
        "outlet-bubbles-constant filter-cleaned",
        &["wait-and-tilt"],
        &["renew-seals", "replace-hose"],
    ),
    // Nothing at all.
    (
        "planted-canister",
        "stops-and-restarts",
        &["none-needed"],
        &[],
    ),
    ("community-internal", "bubble-nest", &["none-needed"], &[]),
];

#[test]
fn plans_begin_where_practitioners_would() {
    for (tank, said, first, never) in TRADE {
        let found = found(&case(tank, said));
        let plan = &found.plans[0].reckoned;
        assert!(
            plan.changes
                .iter()
                .take(2)
                .any(|change| first.contains(&change.id)),
            "{tank} {said}: {:?}",
            ids(&plan.changes)
        );
        assert!(
            !plan.changes.iter().any(|change| never.contains(&change.id)),
            "{tank} {said}: {:?}",
            ids(&plan.changes)
        );
    }
}

/// Media before feeding: with bacteria short of what is fed, no plan feeds up, and one that adds
/// media to make room for it does so first.
#[test]
fn feeding_up_waits_for_bacteria_that_carry_it() {
    let (add, feed) = (listed("add-bio-media"), listed("feed-up"));
    let prices = Prices::default();
    // A tank whose bacteria would carry a third more just with a litre of media more.
    let just = start::ALL.iter().find_map(|start| {
        (10..400).find_map(|tenths| {
            let mut thin = case(start.id, "thin-fish");
            let grams = thin.tank.feed.as_grams() * f64::from(tenths) / 10.0;
            thin.tank.feed = reed_core::units::Mass::grams(grams);
            let too_much = feed.suits(&thin.tank).is_err();
            (too_much && feed.suits(&add.makes_of(&thin.tank)).is_ok()).then_some(thin)
        })
    });
    let thin = just.expect("some set-up, fed so much");
    let differential = Differential::of(&thin);
    let reckoner = Reckoner::new(&thin, &differential, &prices);
    assert!(reckoner.reckon(&[feed]).is_none(), "more than they carry");
    let (_, offers) = offers(&differential, &thin.observed);
    assert!(
        candidates(&reckoner, &offers)
            .iter()
            .any(|change| change.id == "feed-up"),
        "it is thought of although it does not fit yet"
    );
    let both = reckoner
        .reckon(&[feed, add])
        .expect("with a litre more they do");
    assert_eq!(ids(&both.changes), ["add-bio-media", "feed-up"]);
    let stages = stages(&reckoner, &both.changes, None);
    assert!(
        stages.len() == 2 && stages[1].from_day >= 28.0 && stages[1].why.contains("zero"),
        "{stages:?}"
    );
}

/// A large tank with several faults at once, an hour for each visit.
#[test]
fn a_neglected_tank_is_brought_back_over_several_visits() {
    let case = case(
        "large-sump",
        "keeps-to-top surface-flat sock-overflowing bed-not-siphoned muck-everywhere cloudy-white filter-cleaned@200",
    );
    reckoned(&case, &Prices::default(), |reckoner, _, _| {
        let all = [
            "raise-or-aim-outlet",
            "vacuum-bed",
            "rinse-bio-in-tank-water",
            "replace-sponge-in-halves",
        ];
        let changes = all.map(listed);
        let visits = stages(reckoner, &changes, Some(60.0));
        assert!(visits.len() >= 3, "{visits:?}");
        assert!(
            visits
                .iter()
                .all(|visit| visit.minutes <= 60.0 || visit.changes.len() == 1)
        );
        assert_eq!(visits[0].changes[0].id, "raise-or-aim-outlet");
        let day = |id: &str| {
            visits
                .iter()
                .find(|visit| visit.changes.iter().any(|change| change.id == id))
                .map_or(0.0, |visit| visit.from_day)
        };
        assert!(
            day("rinse-bio-in-tank-water") - day("replace-sponge-in-halves") >= 14.0
                || day("replace-sponge-in-halves") - day("rinse-bio-in-tank-water") >= 14.0
        );
    });
}

#[test]
fn a_search_that_is_broken_off_gives_the_best_so_far() {
    let case = case("planted-canister", "gasping surface-flat flow-weak");
    let (differential, prices) = (Differential::of(&case), Prices::default());
    let reckoner = Reckoner::new(&case, &differential, &prices);
    let (_, offers) = offers(&differential, &case.observed);
    let candidates = candidates(&reckoner, &offers);
    let found = search(&reckoner, &offers, &candidates, |so_far| {
        so_far.reckoned < 5
    });
    assert!(found.broken_off && found.progress.reckoned == 5);
    assert!(
        found
            .plans
            .iter()
            .all(|plan| plan.reckoned.changes.len() == 1)
    );
}

/// Whoever pays a fortune for what is usually cheap is shown another plan first.
#[test]
fn own_prices_go_before_those_of_the_cards() {
    let case = case("community-internal", "keeps-to-top surface-flat");
    let dear = Prices::new([(
        "raise-or-aim-outlet".to_owned(),
        Price {
            euros: 500.0,
            minutes: 5.0,
        },
    )]);
    let first = |prices: &Prices| {
        reckoned(&case, prices, |_, _, found| {
            ids(&found.plans[0].reckoned.changes)
        })
    };
    assert!(first(&Prices::default()).contains(&"raise-or-aim-outlet"));
    assert!(!first(&dear).contains(&"raise-or-aim-outlet"));
}

/// What a plan leaves, and why others are in none, is said.
#[test]
fn what_is_left_and_what_was_passed_over_is_said() {
    let found = found(&case("planted-canister", "gasping surface-flat flow-weak"));
    assert!(found.plans.iter().any(|plan| !plan.unsolved.is_empty()));
    assert!(!found.lost.is_empty());
    for sentence in found
        .plans
        .iter()
        .flat_map(|plan| &plan.unsolved)
        .chain(found.lost.iter().map(|lost| &lost.why))
    {
        assert!(sentence.ends_with('.') && sentence.len() > 20, "{sentence}");
    }
}

/// Poison alone, with no fish in distress, makes tonight's plan one evening: nothing that keeps
/// animals alive waits for the proof of another.
#[test]
fn poison_is_as_urgent_as_breath() {
    let case = case("community-internal", "tan=4.0 ph=8.2 nitrite=1.0");
    assert!(
        !reed_core::remedy::first_aid::due(&case).is_empty(),
        "it harms"
    );
    reckoned(&case, &Prices::default(), |reckoner, _, _| {
        let changes = ["water-change", "feed-less"].map(listed);
        let stages = stages(reckoner, &changes, None);
        assert_eq!(stages.len(), 1, "{stages:?}");
    });
}

/// What comes with the tap is no gain of a plan: with much nitrate in it the goal is out of reach.
#[test]
fn the_nitrate_goal_knows_the_tap() {
    use reed_core::remedy::plan::Aim;
    let now = |said: &str| {
        reckoned(
            &case("community-internal", said),
            &Prices::default(),
            |reckoner, _, _| {
                let goals = reckoner.goals().iter();
                goals
                    .filter(|goal| goal.aim == Aim::Nitrate)
                    .map(|goal| goal.now)
                    .sum::<f64>()
            },
        )
    };
    assert!(now("nitrate=5 tap-nitrate=8") < now("nitrate=5") - 0.1);
}
