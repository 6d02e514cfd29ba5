//! The log: what each kind of entry means to every model, and that nothing means two things.

use std::collections::BTreeSet;

use jiff::civil::{DateTime, date};
use reed_core::diagnosis::finding::{self, Kind};
use reed_core::diagnosis::record;
use reed_core::document::start;
use reed_core::log::{Cleaned, Effect, Entry, Happening, How, On, When};
use reed_core::outlook::ahead::events_of;
use reed_core::tank::{Serial, Tank};
use reed_core::units::Units;

const NOW: DateTime = date(2026, 3, 10).at(8, 30, 0, 0);

fn tank() -> Tank {
    start::by_id("planted-canister").expect("listed").tank()
}

/// One of a kind, with the middle of what its amount accepts.
pub(crate) fn one_of(kind: &Happening, at: DateTime) -> Entry {
    let entry = Entry::of(kind, When::minute(at));
    match kind.amount {
        Some(measure) => entry.with_amount(measure.low.midpoint(measure.high)),
        None => entry,
    }
}

#[test]
fn every_kind_is_declared_once_and_what_it_names_is_there() {
    let (mut ids, mut words) = (BTreeSet::new(), BTreeSet::new());
    for kind in Happening::all() {
        assert!(ids.insert(kind.id), "{} is declared twice", kind.id);
        assert!(
            !kind.label.is_empty() && !kind.words.is_empty(),
            "{}",
            kind.id
        );
        for word in kind.words {
            assert!(words.insert(*word), "“{word}” means two things");
            assert_eq!(*word, word.to_lowercase(), "{}", kind.id);
        }
        for tells in kind.tells {
            let finding = finding::by_id(tells.finding).unwrap_or_else(|| panic!("{tells:?}"));
            assert!(matches!(finding.kind, Kind::Event { .. }), "{tells:?}");
        }
        let entry = one_of(kind, NOW);
        assert_eq!(entry.fault(&tank()), None, "{}", kind.id);
        assert!(entry.words(&Units::BASE).starts_with(kind.label));
    }
    assert!(ids.len() > 40);
}

/// Whatever a keeper is asked that it happened, the log can hold.
#[test]
fn every_event_that_is_asked_about_has_a_kind_that_tells_it() {
    for finding in finding::all().filter(|finding| matches!(finding.kind, Kind::Event { .. })) {
        let kind = Happening::of_finding(finding.id).unwrap_or_else(|| panic!("{}", finding.id));
        // An answer without an amount was enough to be answered with yes.
        let told = Entry::of(kind, When::minute(NOW)).tells(&tank());
        assert!(told.contains(&finding.id), "{} as {}", finding.id, kind.id);
    }
}

#[test]
fn an_effect_is_known_again_as_the_entry_that_has_it() {
    for kind in Happening::all().filter(|kind| kind.does.is_some()) {
        let effects = one_of(kind, NOW).effects(&tank());
        assert_eq!(effects.len(), 1, "{}", kind.id);
        let (id, amount) = effects[0].happening();
        let again = Entry {
            amount,
            ..Entry::of(Happening::by_id(id).expect("a kind"), When::minute(NOW))
        };
        assert_eq!(again.effects(&tank()), effects, "{} as {id}", kind.id);
    }
}

/// The same entry, whenever it is dated: each model sees it at that date and no other.
#[test]
fn moving_the_date_of_an_entry_moves_it_for_every_model() {
    let tank = tank();
    for kind in Happening::all() {
        for hours in [2, 30, 24 * 40] {
            let at = NOW - jiff::SignedDuration::from_hours(hours);
            let log = [one_of(kind, at)];
            let told: Vec<DateTime> = record::of(&tank, &log, NOW)
                .into_iter()
                .filter(|recorded| log[0].tells(&tank).contains(&recorded.known.finding.id))
                .map(|recorded| recorded.known.at)
                .collect();
            assert_eq!(told.len(), log[0].tells(&tank).len(), "{}", kind.id);
            assert!(told.iter().all(|told| *told == at), "{}", kind.id);
            for event in events_of(&log, &tank, NOW) {
                let days = -(hours as f64) / 24.0;
                assert!((event.day - days).abs() < 1e-9, "{}", kind.id);
            }
        }
    }
}

#[test]
fn what_an_opening_says_of_its_trays_is_what_was_done_to_the_media() {
    let mut tank = tank();
    let number = tank.filters[0].number;
    let mut entry = Entry {
        on: On::Filter(number),
        ..Entry::of(
            Happening::by_id("filter-opened").expect("listed"),
            When::minute(NOW),
        )
    };
    assert_eq!(entry.effects(&tank), []);
    let trays = tank.filters[0].trays.len();
    let each = |how| (1..=trays).map(|tray| Cleaned { tray, how }).collect();
    entry.details.cleaned = each(How::TankWater);
    assert_eq!(
        (entry.effects(&tank).len(), entry.tells(&tank).len()),
        (0, 1)
    );
    entry.details.cleaned = each(How::Tap);
    let lost: f64 = entry
        .effects(&tank)
        .iter()
        .map(|effect| match effect {
            Effect::TapRinse(share) => *share,
            other => panic!("{other:?}"),
        })
        .sum();
    assert!((lost - 1.0).abs() < 1e-9, "all trays are all media: {lost}");
    assert!(entry.tells(&tank).contains(&"media-rinsed-under-tap"));
    // It was opened that day, as far as the tank file is concerned; an earlier day says nothing new.
    tank.filters[0].opened = None;
    let after = entry.makes(&tank).expect("it says so");
    assert_eq!(after.filters[0].opened, Some(NOW.date()));
    entry.when = When::day(date(2026, 1, 1));
    assert_eq!(entry.makes(&after), None);
    // A filter that is not there has no trays and no day.
    entry.on = On::Filter(Serial(77));
    assert_eq!((entry.effects(&tank), entry.makes(&tank)), (vec![], None));
}

#[test]
fn animals_that_come_and_go_are_counted_where_it_is_said_which() {
    let tank = tank();
    let group = tank.stock[0].clone();
    let after = |id: &str, on: On, amount: f64| {
        let kind = Happening::by_id(id).expect("listed");
        let entry = Entry {
            on,
            ..Entry::of(kind, When::minute(NOW)).with_amount(amount)
        };
        entry.makes(&tank)
    };
    let named = || On::Group(group.name.clone());
    let count = |after: Option<Tank>| after.map(|tank| tank.stock[0].count);
    assert_eq!(count(after("animals", named(), 3.0)), Some(group.count + 3));
    assert_eq!(count(after("lost", named(), 1.0)), Some(group.count - 1));
    let gone = after("lost", named(), f64::from(group.count)).expect("all are gone");
    assert_eq!(gone.stock.len(), tank.stock.len() - 1);
    assert_eq!(after("lost", On::Group("nobody".to_owned()), 1.0), None);
}

#[test]
fn a_cold_or_unconditioned_refill_tells_so_itself() {
    let tank = tank();
    let kind = Happening::by_id("change").expect("listed");
    let told = |share: f64, celsius: f64| {
        let mut entry = Entry::of(kind, When::minute(NOW)).with_amount(share);
        entry.details.refill_c = Some(celsius);
        entry.tells(&tank)
    };
    let warm = tank.temperature.as_celsius();
    assert_eq!(told(50.0, warm), ["water-changed"]);
    assert_eq!(told(20.0, warm - 5.0), ["refill-colder", "water-changed"]);
    assert_eq!(
        told(80.0, warm - 5.0),
        ["refill-colder", "temperature-step", "water-changed"]
    );
    let mut raw = Entry::of(kind, When::minute(NOW)).with_amount(30.0);
    raw.details.conditioned = Some(false);
    assert_eq!(raw.effects(&tank), [Effect::Change(0.3), Effect::Chlorine]);
    assert!(raw.tells(&tank).contains(&"conditioner-forgotten"));
}

/// A change that was entered with its share, and told again to a case as “this week”, is one change.
#[test]
fn what_is_told_twice_happens_once() {
    let tank = tank();
    let kind = Happening::by_id("change").expect("listed");
    let days_ago = |days: i64| NOW - jiff::SignedDuration::from_hours(24 * days);
    let exact = Entry::of(kind, When::minute(days_ago(3))).with_amount(30.0);
    let rough = Entry::of(
        kind,
        When {
            from: days_ago(7),
            to: days_ago(1),
        },
    );
    let effects = |log: &[Entry]| -> Vec<Effect> {
        let events = events_of(log, &tank, NOW);
        events.into_iter().map(|event| event.effect).collect()
    };
    let both = [exact.clone(), rough.clone()];
    assert_eq!(effects(&both), [Effect::Change(0.3)]);
    // Alone it is a change by habit; and another weeks before is another.
    let habit = tank.practice.change_share.as_percent() / 100.0;
    assert_eq!(
        effects(std::slice::from_ref(&rough)),
        [Effect::Change(habit)]
    );
    let before = Entry {
        when: When::minute(days_ago(20)),
        ..exact
    };
    assert_eq!(effects(&[before, rough]).len(), 2);
}

/// A “no” against an entry of the log is said, with both dates; a thing of long before is none.
#[test]
fn an_answer_against_the_log_is_told() {
    use reed_core::diagnosis::{Answer, Answered, Case, record};
    let tank = tank();
    let cleaned = finding::by_id("filter-cleaned").expect("listed");
    let opened = Happening::by_id("filter-opened").expect("listed");
    let case = |days: i64, answer: Answer| {
        let mut case = Case::new(tank.clone(), NOW);
        let at = NOW - jiff::SignedDuration::from_hours(24 * days);
        case.observed.recorded = record::of(&tank, &[Entry::of(opened, When::minute(at))], NOW);
        case.observed.answers = vec![Answered::new(cleaned, answer, NOW)];
        case.observed.disagreements().count()
    };
    assert_eq!((case(5, Answer::No), case(5, Answer::Yes)), (1, 0));
    assert_eq!(case(400, Answer::No), 0, "nobody asked about last year");
}
