//! The store as a whole: what goes in comes out, nothing is overwritten, failures roll back.

use jiff::Timestamp;
use jiff::civil::{DateTime, date};
use reed_core::diagnosis::check;
use reed_core::diagnosis::{Answer, Declined, Hindrance};
use reed_core::document::Document;
use reed_core::flow::{DriftTrial, Facts, FoodRelease};
use reed_core::outlook::ahead::What;
use reed_core::outlook::forecast::Ensemble;
use reed_core::remedy::{change, proof};
use reed_core::tank::{Analyte, Reading, Tank};
use reed_core::units::Temperature;
use tempfile::TempDir;

use crate::choices::Chosen;
use crate::{
    CaseId, Store, StoreError, TankId, answers, cases, choices, declined, drift_trials, events,
    flows, readings, settings, tanks, tries,
};

const WALL: DateTime = date(2026, 3, 10).at(8, 0, 0, 0);

fn now() -> Timestamp {
    "2026-03-10T07:00:00Z".parse().expect("a moment")
}

fn tank() -> Tank {
    Document::read(&reed_fixtures::example("reading-room"))
        .expect("an example")
        .document
        .tank
}

fn store() -> (TempDir, Store) {
    let folder = TempDir::new().expect("a folder");
    let store = Store::open(&folder.path().join("reed.db")).expect("a new file");
    (folder, store)
}

fn with_case(store: &Store) -> (TankId, CaseId) {
    store
        .write(|db| {
            let tank = tanks::create(db, &tank(), "First entry", now())?;
            Ok::<_, StoreError>((tank, cases::open(db, tank, now())?))
        })
        .expect("written")
}

#[test]
fn every_statement_prepares_against_the_migrated_schema() {
    let (_folder, store) = store();
    let all = [
        tanks::STATEMENTS,
        cases::STATEMENTS,
        answers::STATEMENTS,
        declined::STATEMENTS,
        readings::STATEMENTS,
        choices::STATEMENTS,
        settings::STATEMENTS,
        flows::STATEMENTS,
        tries::STATEMENTS,
        drift_trials::STATEMENTS,
        events::STATEMENTS,
    ];
    store
        .write(|db| {
            for statement in all.into_iter().flatten() {
                db.prepare(statement)
                    .unwrap_or_else(|error| panic!("{error} in {statement}"));
            }
            Ok::<_, StoreError>(())
        })
        .expect("prepared");
}

#[test]
fn a_revised_tank_keeps_what_stood_there_before() {
    let (_folder, store) = store();
    let (id, _) = with_case(&store);
    let mut warmer = tank();
    warmer.temperature = Temperature::celsius(26.0);
    store
        .write(|db| tanks::revise(db, id, &warmer, "Changed by hand", now()))
        .expect("written");
    let revisions = store.read(|db| tanks::revisions(db, id)).expect("read");
    assert_eq!(
        revisions
            .iter()
            .map(|revision| &revision.tank)
            .collect::<Vec<_>>(),
        [&warmer, &tank()]
    );
    assert_eq!(
        store.read(|db| tanks::latest(db, id)).expect("read").tank,
        warmer
    );
}

#[test]
fn a_tank_that_was_put_away_can_be_taken_back() {
    let (_folder, store) = store();
    let (id, _) = with_case(&store);
    let count = || store.read(tanks::all).expect("read").len();
    store
        .write(|db| tanks::set_removed(db, id, Some(now())))
        .expect("written");
    assert_eq!(count(), 0);
    store
        .write(|db| tanks::set_removed(db, id, None))
        .expect("written");
    assert_eq!(count(), 1);
}

#[test]
fn the_latest_answer_counts_and_every_answer_stays() {
    let (_folder, store) = store();
    let (_, case) = with_case(&store);
    for answer in [Some(Answer::Yes), Some(Answer::No), None, Some(Answer::Yes)] {
        store
            .write(|db| answers::add(db, case, "surface-flat", answer, &[], WALL, now()))
            .expect("written");
    }
    store
        .write(|db| answers::add(db, case, "gasping", None, &[], WALL, now()))
        .expect("written");
    store
        .write(|db| {
            answers::add(
                db,
                case,
                "from-a-newer-program",
                Some(Answer::Yes),
                &[],
                WALL,
                now(),
            )
        })
        .expect("written");
    let current = store.read(|db| answers::current(db, case)).expect("read");
    assert_eq!(
        current
            .iter()
            .map(|answered| (answered.finding.id, answered.answer))
            .collect::<Vec<_>>(),
        [("surface-flat", Answer::Yes)]
    );
    assert_eq!(
        store
            .read(|db| answers::history(db, case))
            .expect("read")
            .len(),
        6
    );
}

#[test]
fn a_struck_reading_stays_and_no_longer_counts_as_the_latest() {
    let (_folder, store) = store();
    let (tank, _) = with_case(&store);
    let reading = |value| Reading::usual(Analyte::OXYGEN, value, WALL);
    let first = store
        .write(|db| readings::add(db, tank, &reading(6.0), now()))
        .expect("written");
    let second = store
        .write(|db| readings::add(db, tank, &reading(3.0), now()))
        .expect("written");
    store
        .write(|db| readings::set_struck(db, tank, second, Some(now())))
        .expect("written");
    let latest = store
        .read(|db| readings::latest(db, tank, "do"))
        .expect("read")
        .expect("one");
    assert_eq!((latest.id, latest.reading), (first, reading(6.0)));
    assert_eq!(
        store
            .read(|db| readings::since(db, tank, WALL))
            .expect("read")
            .len(),
        2
    );
}

#[test]
fn a_choice_keeps_its_promise_its_ticks_and_its_proof() {
    let (_folder, store) = store();
    let (tank_id, case) = with_case(&store);
    let change = change::by_id("raise-or-aim-outlet").expect("listed");
    let ensemble = Ensemble::of_tank(&tank());
    let (without, after) = (
        ensemble.forecast(Tank::clone),
        ensemble.forecast(|tank| change.apply(tank)),
    );
    let reading = Reading::usual(Analyte::OXYGEN, 7.5, WALL);
    let judgement = proof::judge(
        change.proof.wanted,
        &tank(),
        &reading,
        None,
        &without,
        Some(&after),
        &reed_core::units::Units::BASE,
    );
    let choice = store
        .write(|db| {
            let choice = choices::choose(
                db,
                case,
                Chosen {
                    change,
                    moves: None,
                    without: &without,
                    after: Some(&after),
                },
                now(),
            )?;
            for (step, done) in [(0, true), (1, true), (1, false)] {
                choices::tick(db, choice, step, done, now())?;
            }
            choices::done(db, case, choice, WALL, now())?;
            let reading = readings::add(db, tank_id, &reading, now())?;
            choices::prove(
                db,
                choice,
                choices::ProvedBy::Reading(reading),
                &judgement,
                now(),
            )?;
            choices::prove(db, choice, choices::ProvedBy::Look(WALL), &judgement, now())?;
            Ok::<_, StoreError>(choice)
        })
        .expect("written");
    let kept = store
        .read(|db| choices::of_case(db, case))
        .expect("read")
        .remove(0);
    assert_eq!(
        (kept.id, kept.now, kept.after),
        (choice, without, Some(after))
    );
    assert_eq!(
        (
            kept.ticked.into_iter().collect::<Vec<_>>(),
            kept.proofs[0].verdict
        ),
        (vec![0], judgement.verdict)
    );
    assert_eq!(kept.proofs[1].by, choices::ProvedBy::Look(WALL));
    let undo = store.write(|db| choices::drop_open(db, case, choice, now()));
    assert!(
        matches!(undo, Err(StoreError::NotFound { .. })),
        "a change that was done cannot be dropped"
    );
}

#[test]
fn closing_and_reopening_leave_their_marks() {
    let (_folder, store) = store();
    let (_, case) = with_case(&store);
    let closed = || {
        store
            .read(|db| cases::find(db, case))
            .expect("read")
            .closed
            .map(|(_, words)| words)
    };
    store
        .write(|db| cases::close(db, case, "Proved", now()))
        .expect("written");
    assert_eq!(closed().as_deref(), Some("Proved"));
    store
        .write(|db| cases::reopen(db, case, "It came back", now()))
        .expect("written");
    assert_eq!(closed(), None);
}

#[test]
fn a_write_that_fails_leaves_nothing_behind() {
    let (_folder, store) = store();
    let result = store.write(|db| {
        tanks::create(db, &tank(), "First entry", now())?;
        cases::open(db, TankId(999), now())
    });
    assert!(
        matches!(result, Err(StoreError::NotFound { .. })),
        "no such tank"
    );
    assert!(store.read(tanks::all).expect("read").is_empty());
}

#[test]
fn everything_is_there_after_closing_and_opening_again() {
    let (folder, store) = store();
    let (id, case) = with_case(&store);
    assert_eq!(store.read(tanks::all).expect("a reader is open").len(), 1);
    drop(store);
    assert!(
        !folder.path().join("reed.db-wal").exists(),
        "a copy of the file alone is whole"
    );
    let store = Store::open(&folder.path().join("reed.db")).expect("the same file");
    assert_eq!(
        store
            .read(|db| cases::find(db, case))
            .expect("read")
            .tank_id,
        id
    );
}

/// Readers see the last committed state while a write is under way, and do not wait for it.
#[test]
fn pages_can_be_read_during_a_write() {
    let (_folder, store) = store();
    with_case(&store);
    store
        .write(|db| {
            tanks::create(db, &tank(), "First entry", now())?;
            assert_eq!(store.read(tanks::all)?.len(), 1, "not committed yet");
            Ok::<_, StoreError>(())
        })
        .expect("written");
    assert_eq!(store.read(tanks::all).expect("read").len(), 2);
}

#[test]
fn many_threads_write_without_losing_any() {
    let (_folder, store) = store();
    let (tank, _) = with_case(&store);
    std::thread::scope(|scope| {
        for thread in 0..4_i8 {
            let store = &store;
            scope.spawn(move || {
                for minute in 0..25 {
                    let at = date(2026, 3, 11).at(thread, minute, 0, 0);
                    store
                        .write(|db| {
                            readings::add(
                                db,
                                tank,
                                &Reading::usual(Analyte::OXYGEN, 7.0, at),
                                now(),
                            )
                        })
                        .expect("written");
                }
            });
        }
    });
    assert_eq!(
        store
            .read(|db| readings::since(db, tank, date(2026, 3, 11).at(0, 0, 0, 0)))
            .expect("read")
            .len(),
        100
    );
}

#[test]
fn a_file_that_is_no_database_is_refused_and_left_alone() {
    let folder = TempDir::new().expect("a folder");
    let path = folder.path().join("notes.txt");
    let text = "not a database at all, but a long enough text to be looked at as one ".repeat(40);
    std::fs::write(&path, &text).expect("written");
    assert!(Store::open(&path).is_err());
    assert_eq!(std::fs::read_to_string(&path).expect("still there"), text);
}

#[test]
fn a_flow_is_kept_by_its_scene_and_one_of_an_older_form_counts_as_not_known() {
    let (_folder, store) = store();
    let facts = Facts {
        turnover_per_h: 4.2,
        unsteady: true,
        ..Facts::default()
    };
    store
        .write(|db| {
            assert_eq!(flows::facts(db, "one")?, None);
            flows::keep(db, "one", &facts, &[1], now())?;
            flows::keep(
                db,
                "one",
                &Facts {
                    facing: 0.5,
                    ..facts.clone()
                },
                &[1, 2, 3],
                now(),
            )?;
            db.execute(
                "INSERT INTO flows VALUES ('old', '{\"speed\": 1}', x'00', '2026-03-10T07:00:00Z')",
                [],
            )?;
            Ok::<_, StoreError>(())
        })
        .expect("written");
    let kept = store
        .read(|db| flows::facts(db, "one"))
        .expect("read")
        .expect("kept");
    assert!(
        (kept.facing - 0.5).abs() < 1e-12
            && kept.unsteady
            && kept.turnover_per_h.to_bits() == facts.turnover_per_h.to_bits()
    );
    assert_eq!(
        store.read(|db| flows::field(db, "one")).expect("read"),
        Some(vec![1, 2, 3])
    );
    assert_eq!(
        store.read(|db| flows::facts(db, "old")).expect("read"),
        None
    );
}

#[test]
fn tries_and_drift_tests_are_kept_withdrawn_and_brought_back() {
    let (_folder, store) = store();
    let (tank, _) = with_case(&store);
    let moves = "2:80,10,12;1:5,20,40,90,10".parse().expect("moves");
    let test = DriftTrial {
        pinch: FoodRelease::GelBeads,
        from_cm: [10.0, 20.0],
        to_cm: [30.0, 5.5, 8.0],
        seconds: 60.0,
    };
    let (kept, tested) = store
        .write(|db| {
            let kept = tries::add(db, tank, "low left", &moves, now())?;
            drift_trials::add(db, tank, &test, 0.2, now())?;
            Ok::<_, StoreError>((kept, drift_trials::add(db, tank, &test, 4.0, now())?))
        })
        .expect("written");
    let read = || {
        store
            .read(|db| {
                Ok::<_, StoreError>((tries::of_tank(db, tank)?, drift_trials::factors(db, tank)?))
            })
            .expect("read")
    };
    let (tries_now, factors) = read();
    assert_eq!(
        (tries_now[0].name.as_str(), &tries_now[0].moves, factors),
        ("low left", &moves, vec![0.2, 4.0])
    );
    let set = |at: Option<Timestamp>| {
        store
            .write(|db| {
                tries::set_dropped(db, tank, kept, at)?;
                drift_trials::set_struck(db, tank, tested, at)
            })
            .expect("written");
    };
    set(Some(now()));
    assert_eq!(read(), (vec![], vec![0.2]));
    let (dropped, all) = store
        .read(|db| {
            Ok::<_, StoreError>((
                tries::find(db, tank, kept)?,
                drift_trials::of_tank(db, tank)?,
            ))
        })
        .expect("read");
    assert!(dropped.is_dropped && all[0].is_struck && !all[1].is_struck && all[0].test == test);
    set(None);
    assert_eq!(read().1, vec![0.2, 4.0]);
    let elsewhere = store.write(|db| tries::set_dropped(db, TankId(99), kept, None));
    assert!(
        matches!(elsewhere, Err(StoreError::NotFound { what: "try", .. })),
        "{elsewhere:?}"
    );
}

#[test]
fn events_are_kept_moved_withdrawn_and_brought_back() {
    let (_folder, store) = store();
    let (tank, _) = with_case(&store);
    let kept = store
        .write(|db| {
            events::add(db, tank, What::Medicine, WALL, now())?;
            events::add(
                db,
                tank,
                What::Change(0.25),
                WALL.tomorrow().expect("a day"),
                now(),
            )
        })
        .expect("written");
    let read = || {
        store
            .read(|db| events::since(db, tank, WALL))
            .expect("read")
    };
    assert_eq!(
        read().iter().map(|event| event.what).collect::<Vec<_>>(),
        [What::Medicine, What::Change(0.25)]
    );
    let later = date(2026, 3, 14).at(9, 0, 0, 0);
    store
        .write(|db| events::move_to(db, tank, kept, later))
        .expect("written");
    assert_eq!(read()[1].at, later);
    store
        .write(|db| events::set_struck(db, tank, kept, Some(now())))
        .expect("written");
    assert!(read()[1].is_struck);
    assert!(matches!(
        store.write(|db| events::move_to(db, tank, kept, WALL)),
        Err(StoreError::NotFound { what: "event", .. })
    ));
    store
        .write(|db| events::set_struck(db, tank, kept, None))
        .expect("written");
    assert!(!read()[1].is_struck);
    assert!(
        store
            .write(|db| events::set_struck(db, TankId(99), kept, None))
            .is_err()
    );
}

/// What is planned goes as a whole; what happened, and another tank's, stay.
#[test]
fn all_that_is_planned_is_withdrawn_at_once() {
    let (_folder, store) = store();
    let (tank, _) = with_case(&store);
    let other = store
        .write(|db| tanks::create(db, &self::tank(), "Another", now()))
        .expect("written");
    let tomorrow = WALL.tomorrow().expect("a day");
    store
        .write(|db| {
            for (tank, at) in [
                (tank, WALL),
                (tank, tomorrow),
                (tank, tomorrow.tomorrow().expect("a day")),
                (other, tomorrow),
            ] {
                events::add(db, tank, What::Dose(2.0), at, now())?;
            }
            events::strike_after(db, tank, WALL, now())
        })
        .expect("written");
    let struck = |tank: TankId| -> Vec<bool> {
        store
            .read(|db| events::since(db, tank, WALL))
            .expect("read")
            .iter()
            .map(|kept| kept.is_struck)
            .collect()
    };
    assert_eq!(
        (struck(tank), struck(other)),
        (vec![false, true, true], vec![false])
    );
}

#[test]
fn a_check_that_cannot_be_done_keeps_its_latest_reason_until_it_is_taken_back() {
    let (_folder, store) = store();
    let (_, case) = with_case(&store);
    let check = check::by_id("read-ammonia").expect("listed");
    let why = || {
        store
            .read(|db| declined::of_case(db, case))
            .expect("read")
            .into_iter()
            .map(|declined| declined.why)
            .collect::<Vec<_>>()
    };
    for hindrance in Hindrance::ALL {
        store
            .write(|db| {
                declined::set(
                    db,
                    case,
                    &Declined {
                        check,
                        why: hindrance,
                        at: WALL,
                    },
                )
            })
            .expect("written");
        assert_eq!(why(), [hindrance]);
    }
    store
        .write(|db| declined::take_back(db, case, check))
        .expect("written");
    assert_eq!(why(), []);
}
