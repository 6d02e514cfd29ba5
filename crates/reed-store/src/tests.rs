//! The store as a whole: what goes in comes out, nothing is overwritten, failures roll back.

use jiff::Timestamp;
use jiff::civil::{DateTime, date};
use reed_core::diagnosis::check;
use reed_core::diagnosis::{Answer, Declined, Hindrance};
use reed_core::document::Document;
use reed_core::flow::{DriftTrial, Facts, FoodRelease};
use reed_core::log::{Entry, Happening, Layer, On, When};
use reed_core::outlook::forecast::Ensemble;
use reed_core::remedy::{change, proof};
use reed_core::tank::{Analyte, Reading, Tank};
use reed_core::units::Temperature;
use tempfile::TempDir;

use crate::answers::Given;
use crate::choices::Chosen;
use crate::entries::Wanted;
use crate::plans::KeptStage;
use crate::{
    CaseId, Store, StoreError, TankId, answers, batches, cases, choices, declined, drift_trials,
    duties, entries, flows, hours, migrate, photos, plans, prices, readings, settings, tanks,
    tries,
};
use reed_core::remedy::plan::Price;
use reed_core::remedy::{Deed, Duty};

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
        crate::sent::STATEMENTS,
        crate::service::STATEMENTS,
        crate::devices::STATEMENTS,
        crate::thinning::STATEMENTS,
        crate::watches::STATEMENTS,
        crate::documents::STATEMENTS,
        crate::kept::STATEMENTS,
        cases::STATEMENTS,
        answers::STATEMENTS,
        crate::batches::STATEMENTS,
        declined::STATEMENTS,
        readings::STATEMENTS,
        choices::STATEMENTS,
        duties::STATEMENTS,
        plans::STATEMENTS,
        prices::STATEMENTS,
        settings::STATEMENTS,
        flows::STATEMENTS,
        tries::STATEMENTS,
        drift_trials::STATEMENTS,
        entries::STATEMENTS,
        crate::photos::STATEMENTS,
        crate::hours::STATEMENTS,
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

/// Whatever changes a log, what was kept of it before is known to be old.
#[test]
fn every_change_of_a_log_marks_it_anew() {
    let (_folder, store) = store();
    let (id, _) = with_case(&store);
    let stamp = || store.read(|db| entries::stamp(db, id)).expect("read");
    let mut seen = vec![stamp()];
    let kind = Happening::by_id("change").expect("listed");
    let entry = Entry::of(kind, When::minute(WALL));
    let entered = store
        .write(|db| entries::add(db, id, &entry, now()))
        .expect("written");
    seen.push(stamp());
    store
        .write(|db| entries::set_struck(db, id, entered, Some(now())))
        .expect("written");
    seen.push(stamp());
    store
        .write(|db| entries::set_struck(db, id, entered, None))
        .expect("written");
    seen.push(stamp());
    assert_eq!(seen[0], None);
    assert!(seen.windows(2).all(|pair| pair[0] != pair[1]), "{seen:?}");
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
            .write(|db| answers::add(db, case, &Given::at("surface-flat", answer, WALL), now()))
            .expect("written");
    }
    store
        .write(|db| answers::add(db, case, &Given::at("gasping", None, WALL), now()))
        .expect("written");
    store
        .write(|db| {
            let given = Given::at("from-a-newer-program", Some(Answer::Yes), WALL);
            answers::add(db, case, &given, now())
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
fn a_plan_takes_the_place_of_the_one_before_and_own_prices_that_of_the_cards() {
    let (_folder, store) = store();
    let (_, case) = with_case(&store);
    let stage = |id: &str, from_day| KeptStage {
        from_day,
        changes: vec![change::by_id(id).expect("listed")],
        moves: (id == "replace-floss").then(|| "2:80,10,12".parse().expect("moves")),
    };
    let (outlet, pad) = ("raise-or-aim-outlet", "replace-floss");
    let price = |euros| {
        Some(Price {
            euros,
            minutes: 3.0,
        })
    };
    store
        .write(|db| {
            plans::choose(db, case, &[stage(pad, 0.0)], now())?;
            plans::choose(db, case, &[stage(outlet, 0.0), stage(pad, 1.5)], now())?;
            prices::set(db, outlet, price(7.5))?;
            prices::set(db, outlet, price(8.5))?;
            prices::set(db, pad, price(1.0))?;
            prices::set(db, pad, None)
        })
        .expect("written");
    let read =
        || store.read(|db| Ok::<_, StoreError>((plans::of_case(db, case)?, prices::all(db)?)));
    let (plan, prices) = read().expect("read");
    assert_eq!(
        plan.expect("followed").stages,
        [stage(outlet, 0.0), stage(pad, 1.5)]
    );
    let euros = |id: &str| prices.of(change::by_id(id).expect("listed")).euros;
    assert_eq!((euros(outlet), euros(pad)), (8.5, 4.0));
    store
        .write(|db| plans::drop_open(db, case, now()))
        .expect("written");
    assert_eq!(read().expect("read").0, None);
}

#[test]
fn a_plan_that_cannot_be_read_is_told_and_takes_no_case_with_it() {
    let (_folder, store) = store();
    let (_, case) = with_case(&store);
    let write = |stages: &'static str| {
        store
            .write(move |db| {
                db.execute("DELETE FROM plans", [])?;
                db.execute(
                    "INSERT INTO plans (case_id, stages, made_at) VALUES (?1, ?2, ?3)",
                    rusqlite::params![case, stages, now()],
                )?;
                Ok::<_, StoreError>(())
            })
            .expect("written");
        let read = |db: &crate::Connection| {
            Ok::<_, StoreError>((plans::of_case(db, case)?, crate::unreadable(db)?.len()))
        };
        store.read(read).expect("read")
    };
    assert_eq!(write("nonsense"), (None, 1));
    // One that holds what a newer program knows keeps the rest.
    let (plan, unreadable) = write(
        r#"[{"from_day":0,"changes":["of-the-future"]},{"from_day":2,"changes":["replace-floss"]}]"#,
    );
    assert_eq!((plan.expect("read").stages.len(), unreadable), (1, 0));
}

/// A reading does what asks for one; the rest is ticked.
#[test]
fn duties_are_done_by_readings_and_ticks_and_end_with_their_time() {
    let (_folder, store) = store();
    let (tank, case) = with_case(&store);
    let duty = |deed, every_hours| Duty {
        words: "Look",
        deed,
        every_hours,
        for_days: 7,
        why: "So that it stays so.",
    };
    let at = |days: i64| WALL + jiff::SignedDuration::from_hours(24 * days);
    let duties = store
        .write(|db| {
            let those = [duty(Deed::Read(Analyte::AMMONIA), 24), duty(Deed::Do, 48)];
            duties::leave(db, (tank, case), &those, (WALL, now()))?;
            let early = Reading::usual(Analyte::AMMONIA, 0.1, at(-1));
            let good = Reading::usual(Analyte::AMMONIA, 0.1, at(2));
            readings::add(db, tank, &early, now())?;
            readings::add(db, tank, &good, now())?;
            let kept = duties::of_tank(db, tank, at(1))?;
            duties::tick(db, tank, kept[1].id, at(1))?;
            duties::tick(db, tank, kept[1].id, at(1))?;
            let other = duties::tick(db, TankId(99), kept[1].id, at(1));
            assert!(matches!(other, Err(StoreError::NotFound { .. })));
            duties::of_case(db, (tank, case))
        })
        .expect("written");
    assert_eq!(duties[0].done, [at(2)], "not what was read before");
    assert_eq!(duties[1].done, [at(1)]);
    assert_eq!((duties[0].times(), duties[1].times()), (7, 3));
    assert_eq!(
        (duties[0].due(), duties[1].due()),
        (Some(at(3)), Some(at(3)))
    );
    let of_tank = |now| {
        store
            .read(|db| duties::of_tank(db, tank, now))
            .expect("read")
    };
    assert_eq!((of_tank(at(6)).len(), of_tank(at(8)).len()), (2, 0));
    store
        .write(|db| duties::drop_of_case(db, case, now()))
        .expect("written");
    assert!(of_tank(at(1)).is_empty());
}

#[test]
fn a_choice_keeps_its_promise_its_ticks_and_its_proof() {
    let (_folder, store) = store();
    let (tank_id, case) = with_case(&store);
    let change = change::by_id("raise-or-aim-outlet").expect("listed");
    let also = change::by_id("feed-less").expect("listed");
    let against = change.cures[0];
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
        &proof::Compared {
            before: None,
            control: None,
            now: &without,
            after: Some(&after),
        },
        &reed_core::units::Units::BASE,
    );
    let choice = store
        .write(|db| {
            let stages = [KeptStage {
                from_day: 0.0,
                changes: vec![change, also],
                moves: None,
            }];
            let plan = plans::choose(db, case, &stages, now())?;
            let choice = choices::choose(
                db,
                case,
                Chosen {
                    changes: &[change, also],
                    against: &[against],
                    plan: Some(plan),
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
                (choice, "do"),
                choices::ProvedBy::Reading(reading),
                &judgement,
                now(),
            )?;
            choices::prove(
                db,
                (choice, "surface-flat"),
                choices::ProvedBy::Look(WALL),
                &judgement,
                now(),
            )?;
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
        (kept.changes, kept.against),
        (vec![change, also], vec![against])
    );
    assert!(kept.plan.is_some() && kept.proofs[0].part == "do");
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

fn entry(id: &str, at: DateTime) -> Entry {
    Entry::of(Happening::by_id(id).expect("a kind"), When::minute(at))
}

#[test]
fn an_entry_is_kept_as_it_was_made_corrected_withdrawn_and_brought_back() {
    let (_folder, store) = store();
    let (tank, _) = with_case(&store);
    let mut opened = Entry {
        on: On::Filter(reed_core::tank::Serial(1)),
        note: "Brown floc, smelled of earth".to_owned(),
        ..entry("filter-opened", WALL)
    };
    opened.details.grades.insert(Layer::Floss, 4);
    let later = WALL.tomorrow().expect("a day");
    let change = entry("change", later).with_amount(25.0);
    let (first, _) = store
        .write(|db| {
            Ok::<_, StoreError>((
                entries::add(db, tank, &opened, now())?,
                entries::add(db, tank, &change, now())?,
            ))
        })
        .expect("written");
    let read = || {
        store
            .read(|db| entries::since(db, tank, WALL))
            .expect("read")
    };
    let said = || {
        let kept = read();
        kept.into_iter().map(|kept| kept.entry).collect::<Vec<_>>()
    };
    assert_eq!(said(), [opened.clone(), change.clone()]);
    // Corrected: the new one counts, the old one can be read and does not come back by itself.
    let corrected = Entry {
        note: "Grey floc".to_owned(),
        ..opened.clone()
    };
    let second = store
        .write(|db| entries::revise(db, tank, first, &corrected, now()))
        .expect("written");
    let versions = store
        .read(|db| entries::versions(db, tank, second))
        .expect("read");
    assert_eq!(versions.len(), 1);
    assert_eq!(
        (&versions[0].entry, versions[0].is_struck()),
        (&opened, true)
    );
    let counting = || {
        store
            .read(|db| entries::counting(db, tank, WALL))
            .expect("read")
            .into_iter()
            .map(|kept| kept.entry)
            .collect::<Vec<_>>()
    };
    assert_eq!(counting(), [corrected.clone(), change.clone()]);
    let not_found = |result: Result<(), StoreError>| {
        assert!(
            matches!(result, Err(StoreError::NotFound { what: "entry", .. })),
            "{result:?}"
        );
    };
    let set = |id, struck| store.write(|db| entries::set_struck(db, tank, id, struck));
    not_found(set(first, None));
    set(second, Some(now())).expect("withdrawn");
    assert_eq!(counting(), std::slice::from_ref(&change));
    not_found(set(second, Some(now())));
    set(second, None).expect("back in");
    assert_eq!(counting(), [corrected, change]);
    not_found(store.write(|db| entries::set_struck(db, TankId(99), second, None)));
}

/// Of what was long ago the latest of each kind is known, and nothing that was withdrawn.
#[test]
fn of_ten_years_the_latest_of_each_kind_counts() {
    let (_folder, store) = store();
    let (tank, _) = with_case(&store);
    let ago = |days: i64| WALL - jiff::SignedDuration::from_hours(24 * days);
    store
        .write(|db| {
            for days in [3000, 2000, 1000, 5] {
                entries::add(db, tank, &entry("copper", ago(days)), now())?;
            }
            let struck = entries::add(db, tank, &entry("copper", ago(500)), now())?;
            entries::set_struck(db, tank, struck, Some(now()))
        })
        .expect("written");
    let counting = store
        .read(|db| entries::counting(db, tank, ago(30)))
        .expect("read");
    let moments: Vec<DateTime> = counting
        .into_iter()
        .map(|kept| kept.entry.when.from)
        .collect();
    assert_eq!(moments, [ago(1000), ago(5)]);
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
                entries::add(db, tank, &entry("dose", at).with_amount(2.0), now())?;
            }
            entries::strike_after(db, tank, WALL, now())
        })
        .expect("written");
    let struck = |tank: TankId| -> Vec<bool> {
        store
            .read(|db| entries::since(db, tank, WALL))
            .expect("read")
            .iter()
            .map(entries::KeptEntry::is_struck)
            .collect()
    };
    assert_eq!(
        (struck(tank), struck(other)),
        (vec![false, true, true], vec![false])
    );
}

/// That something happened is one thing, whichever page says so: the answer of a case and the entry
/// of the log have one date, and are withdrawn together.
#[test]
fn an_answer_that_something_happened_is_an_entry_of_the_log() {
    let (_folder, store) = store();
    let (tank, case) = with_case(&store);
    let answer = |answer: Option<Answer>, at| {
        store
            .write(|db| answers::add(db, case, &Given::at("filter-cleaned", answer, at), now()))
            .expect("written");
    };
    let answered = || -> Vec<(Answer, DateTime)> {
        let current = store.read(|db| answers::current(db, case)).expect("read");
        current
            .into_iter()
            .filter(|answered| answered.finding.id == "filter-cleaned")
            .map(|answered| (answered.answer, answered.at))
            .collect()
    };
    let logged = || {
        let counting = store
            .read(|db| entries::counting(db, tank, WALL - jiff::SignedDuration::from_hours(9999)))
            .expect("read");
        counting
            .into_iter()
            .filter(|kept| kept.entry.happening == "filter-opened")
            .collect::<Vec<_>>()
    };
    let yesterday = WALL.yesterday().expect("a day");
    answer(Some(Answer::Yes), yesterday);
    assert_eq!(answered(), [(Answer::Yes, yesterday)]);
    let kept = logged();
    assert_eq!(
        (kept.len(), kept[0].entry.when),
        (1, When::minute(yesterday))
    );
    // Moved in the log, it is moved in the case.
    let earlier = yesterday.yesterday().expect("a day");
    let moved = Entry {
        when: When::minute(earlier),
        ..kept[0].entry.clone()
    };
    let id = store
        .write(|db| entries::revise(db, tank, kept[0].id, &moved, now()))
        .expect("written");
    assert_eq!(answered(), [(Answer::Yes, earlier)]);
    // Withdrawn in the log, it is no answer any more; taken back in, it is one.
    let set = |struck| {
        store
            .write(|db| entries::set_struck(db, tank, id, struck))
            .expect("written");
    };
    set(Some(now()));
    assert_eq!(answered(), []);
    set(None);
    assert_eq!(answered(), [(Answer::Yes, earlier)]);
    // Answered anew, the new answer takes its place; a no, or nothing, leaves none.
    answer(Some(Answer::Yes), WALL);
    assert_eq!((answered(), logged().len()), (vec![(Answer::Yes, WALL)], 1));
    answer(Some(Answer::No), WALL);
    assert_eq!((answered(), logged().len()), (vec![(Answer::No, WALL)], 0));
    answer(None, WALL);
    assert_eq!((answered(), logged().len()), (vec![], 0));
}

#[test]
fn the_log_is_paged_narrowed_and_searched() {
    let (_folder, store) = store();
    let (tank, _) = with_case(&store);
    let hours_ago = |hours: i64| WALL - jiff::SignedDuration::from_hours(hours);
    store
        .write(|db| {
            for hours in 0..10 {
                let id = if hours % 2 == 0 { "fed" } else { "change" };
                let note = match hours {
                    3 => "Größere Wurzel \"entfernt\" OR NOT",
                    4 => "frozen food",
                    _ => "",
                };
                let entry = Entry {
                    note: note.to_owned(),
                    ..entry(id, hours_ago(hours))
                };
                entries::add(db, tank, &entry, now())?;
            }
            Ok::<_, StoreError>(())
        })
        .expect("written");
    let wanted = Wanted {
        tank,
        kinds: Vec::new(),
        on: None,
        words: String::new(),
        named: Vec::new(),
        until: DateTime::MAX,
    };
    let ages = |wanted: &Wanted, most: usize| -> Vec<i64> {
        let page = store
            .read(|db| entries::page(db, wanted, most))
            .expect("read");
        let hours = |kept: entries::KeptEntry| WALL.duration_since(kept.entry.when.to).as_hours();
        page.rows.into_iter().map(hours).collect()
    };
    assert_eq!(ages(&wanted, 3), [0, 1, 2]);
    let until = Wanted {
        until: hours_ago(7),
        ..wanted.clone()
    };
    assert_eq!(ages(&until, 9), [7, 8, 9]);
    let kinds = Wanted {
        kinds: vec!["change"],
        ..wanted.clone()
    };
    assert_eq!(ages(&kinds, 9), [1, 3, 5, 7, 9]);
    for (words, found) in [
        ("frozen", vec![4]),
        ("wurz", vec![3]),
        ("grosere", vec![]),
        ("große", vec![3]),
        ("\"entfernt\" OR NOT", vec![3]),
        ("nothing of it", vec![]),
        // Only signs are no words to look for.
        ("\" * (", vec![0, 1, 2, 3, 4, 5, 6, 7, 8, 9]),
    ] {
        let search = Wanted {
            words: words.to_owned(),
            ..wanted.clone()
        };
        assert_eq!(ages(&search, 20), found, "{words}");
    }
    let named = Wanted {
        words: "frozen".to_owned(),
        named: vec!["change"],
        ..wanted
    };
    assert_eq!(ages(&named, 20), [1, 3, 4, 5, 7, 9]);
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

/// What is brought in at once is stored whole or not at all, knows what is there, and goes whole;
/// a reading that proved something stays, struck out.
#[test]
fn a_batch_is_taken_whole_known_again_and_taken_back() {
    use crate::batches;
    use reed_core::log::sheet::Row;
    let (_folder, store) = store();
    let (tank, _) = with_case(&store);
    let rows = || {
        (0..2000_i64).map(|minutes| {
            let at = WALL - jiff::SignedDuration::from_mins(minutes);
            if minutes % 2 == 0 {
                Row::Reading(Reading::usual(Analyte::TEMPERATURE, 24.0, at), false)
            } else {
                Row::Entry(Box::new(entry("fed", at)), false)
            }
        })
    };
    let take = |go_on: &dyn Fn(usize) -> bool| {
        store.write(|db| batches::take(db, tank, "probe.csv", rows(), now(), go_on))
    };
    let count = || {
        store
            .read(|db| {
                let readings = readings::since(db, tank, DateTime::MIN)?.len();
                Ok::<_, StoreError>(readings + entries::since(db, tank, DateTime::MIN)?.len())
            })
            .expect("read")
    };
    let stopped = take(&|looked_at| looked_at < 1000);
    assert!(matches!(stopped, Err(StoreError::Stopped)), "{stopped:?}");
    assert_eq!(count(), 0);
    let taken = take(&|_| true).expect("taken");
    assert_eq!((taken.stored, taken.known, count()), (2000, 0, 2000));
    let again = take(&|_| true).expect("taken");
    assert_eq!((again.stored, again.known, count()), (0, 2000, 2000));
    let kept = store.read(|db| batches::of_tank(db, tank)).expect("read");
    assert_eq!(kept.len(), 1, "what brought nothing is no batch");
    let undo = |tank| store.write(|db| batches::undo(db, tank, taken.batch, now()));
    assert!(undo(TankId(99)).is_err());
    undo(tank).expect("taken back");
    assert_eq!(count(), 0);
}

/// A picture that never came to belong to an entry goes after a day; one whose content another still
/// shows stays on the disk.
#[test]
fn what_was_taken_in_for_a_form_that_was_never_sent_goes() {
    let (folder, store) = store();
    let (id, _) = with_case(&store);
    let picture = |name: &str| photos::Picture {
        full: name.as_bytes().to_vec(),
        small: b"small".to_vec(),
        width: 4,
        height: 3,
    };
    let add = |name: &str, at: jiff::Timestamp| {
        store
            .write(|db| photos::add(db, &store.photos(), id, &picture(name), at))
            .expect("taken in")
    };
    let files = || {
        std::fs::read_dir(folder.path().join("photos"))
            .expect("a folder")
            .count()
    };
    let later = |hours| now() + jiff::SignedDuration::from_hours(hours);
    let (shown, _) = (add("one", now()), add("one", now()));
    let entry = store
        .write(|db| {
            let what = Happening::by_id("fed").expect("listed");
            let entry = entries::add(db, id, &Entry::of(what, When::minute(WALL)), now())?;
            photos::attach(db, id, entry, &[shown])?;
            Ok::<_, StoreError>(entry)
        })
        .expect("entered");
    add("two", now());
    assert_eq!(files(), 4);
    add("three", later(23));
    assert_eq!(files(), 6, "a form may stay open for a day");
    add("four", later(25));
    assert_eq!(files(), 6, "the second has gone, the first is still shown");
    let kept = store
        .read(|db| photos::of_entry(db, id, entry))
        .expect("read");
    assert_eq!(kept.len(), 1);
    let bytes = store.photos().read(&kept[0], photos::Size::Full);
    assert_eq!(bytes.expect("there"), b"one");
}

/// Whatever was done to readings, the hours say what the readings say.
#[test]
fn hours_follow_from_the_readings_whatever_was_done_to_them() {
    let (_folder, store) = store();
    let (id, _) = with_case(&store);
    let mut chance = fastrand::Rng::with_seed(19);
    let at = |minutes: i64| WALL - jiff::SignedDuration::from_mins(minutes);
    let (mut known, mut batches) = (Vec::new(), Vec::new());
    for step in 0..120 {
        store
            .write(|db| {
                match chance.u8(..10) {
                    0..5 => {
                        let analyte = [Analyte::PH, Analyte::TEMPERATURE][chance.usize(..2)];
                        let value = 7.0 + chance.f64();
                        let reading = Reading::usual(analyte, value, at(chance.i64(0..600)));
                        known.push(readings::add(db, id, &reading, now())?);
                    }
                    5..7 if !known.is_empty() => {
                        let reading = known[chance.usize(..known.len())];
                        let struck = chance.bool().then(now);
                        // One of a batch that was taken back is gone.
                        let _ = readings::set_struck(db, id, reading, struck);
                    }
                    7..9 => {
                        let rows: Vec<_> = (0..chance.i64(0..90))
                            .map(|row| {
                                let reading =
                                    Reading::usual(Analyte::PH, 6.0 + chance.f64(), at(step + row));
                                reed_core::log::sheet::Row::Reading(reading, chance.u8(..6) == 0)
                            })
                            .collect();
                        let rows = rows.into_iter();
                        batches.push(batches::take(db, id, "x", rows, now(), &|_| true)?.batch);
                    }
                    _ => {
                        if let Some(batch) = batches.pop() {
                            let _ = batches::undo(db, id, batch, now());
                        }
                    }
                }
                let wrong: i64 = db.query_row(
                    "SELECT count(*) FROM (
                        SELECT tank_id, analyte, hour, least, most, many FROM reading_hours
                        EXCEPT SELECT tank_id, analyte, substr(taken_at, 1, 13), min(value), max(value), count(*)
                        FROM readings WHERE struck_at IS NULL GROUP BY 1, 2, 3)",
                    [],
                    |row| row.get(0),
                )?;
                let (kept, counted): (i64, i64) = db.query_row(
                    "SELECT (SELECT sum(many) FROM reading_hours), (SELECT count(*) FROM readings WHERE struck_at IS NULL)",
                    [],
                    |row| Ok((row.get::<_, Option<i64>>(0)?.unwrap_or(0), row.get(1)?)),
                )?;
                assert_eq!((wrong, kept), (0, counted), "step {step}");
                Ok::<_, StoreError>(())
            })
            .expect("written");
    }
    let hours = store
        .read(|db| hours::between(db, id, Analyte::PH, at(6000), WALL))
        .expect("read");
    assert!(hours.len() > 3 && hours.is_sorted_by(|one, other| one.from < other.from));
    assert!(
        hours
            .iter()
            .all(|hour| hour.least <= hour.mean && hour.mean <= hour.most)
    );
}

/// A search finds what holds its words, be they in three notes or in thousands, the latest first.
#[test]
fn a_search_finds_the_same_whether_its_words_are_rare_or_common() {
    let (_folder, store) = store();
    let (id, _) = with_case(&store);
    let (fed, lost) = (Happening::by_id("fed"), Happening::by_id("lost"));
    let noted = |index: i64| {
        let at = WALL - jiff::SignedDuration::from_mins(index * 37 % 50_000);
        let kind = if index % 50 == 0 { lost } else { fed };
        let note = match index % 700 {
            3 => "a heron, flakes",
            _ if index % 9 < 8 => "flakes of the blue tin",
            _ => "",
        };
        Entry {
            note: note.to_owned(),
            ..Entry::of(kind.expect("listed"), When::minute(at))
        }
    };
    let all: Vec<Entry> = (0..2600).map(noted).collect();
    store
        .write(|db| {
            for entry in &all {
                entries::add(db, id, entry, now())?;
            }
            Ok::<_, StoreError>(())
        })
        .expect("written");
    for (words, named) in [
        ("heron", vec![]),
        ("flakes", vec![]),
        ("heron", vec!["lost"]),
        ("flak", vec!["lost"]),
    ] {
        let holds = |entry: &&Entry| {
            entry.note.contains(words) || named.contains(&entry.happening.as_str())
        };
        let mut expected: Vec<DateTime> = all
            .iter()
            .filter(holds)
            .map(|entry| entry.when.to)
            .collect();
        expected.sort_unstable_by(|one, other| other.cmp(one));
        expected.truncate(60);
        let wanted = Wanted {
            tank: id,
            kinds: Vec::new(),
            on: None,
            words: words.to_owned(),
            named: named.clone(),
            until: DateTime::MAX,
        };
        let found = store
            .read(|db| entries::page(db, &wanted, 60))
            .expect("read");
        let found: Vec<DateTime> = found.rows.iter().map(|kept| kept.entry.when.to).collect();
        assert_eq!(found, expected, "{words} {named:?}");
    }
}

/// What is read by hand is learned from reading by reading; a probe's minutes only as days.
#[test]
fn a_probe_teaches_no_more_than_its_days() {
    let (_folder, store) = store();
    let (id, _) = with_case(&store);
    let since = WALL - jiff::SignedDuration::from_hours(24 * 30);
    let minutes = (0..30 * 24 * 60).map(|minute| {
        let at = since + jiff::SignedDuration::from_mins(minute);
        let value = 7.0 + f64::from(u8::from(minute % 2 == 0)) / 10.0;
        reed_core::log::sheet::Row::Reading(Reading::usual(Analyte::PH, value, at), false)
    });
    store
        .write(|db| {
            batches::take(db, id, "probe", minutes, now(), &|_| true)?;
            for hours in [10, 200, 500] {
                let at = WALL - jiff::SignedDuration::from_hours(hours);
                readings::add(db, id, &Reading::usual(Analyte::NITRATE, 5.0, at), now())?;
            }
            Ok::<_, StoreError>(())
        })
        .expect("written");
    let learned = store
        .read(|db| readings::to_learn_from(db, id, since))
        .expect("read");
    let of = |analyte: &Analyte| {
        let own = learned
            .iter()
            .filter(|reading| *reading.analyte == *analyte);
        own.collect::<Vec<_>>()
    };
    assert_eq!(of(Analyte::NITRATE).len(), 3);
    let probe = of(Analyte::PH);
    assert!((10..=11).contains(&probe.len()), "{}", probe.len());
    for reading in probe {
        assert!((reading.value - 7.05).abs() < 0.001, "{reading:?}");
        assert!(reading.taken_at <= WALL);
    }
    let latest = store
        .read(|db| readings::latest_of_each(db, id, (since, DateTime::MAX), 24))
        .expect("read");
    assert_eq!(latest.len(), 24 + 3);
    assert!(latest.is_sorted_by_key(|stored| stored.reading.taken_at));
}

/// A database of an earlier version is copied aside before it is brought up to date; what was
/// acknowledged is brought to the disk.
#[test]
fn an_older_database_is_kept_as_it_was() {
    let folder = TempDir::new().expect("a folder");
    let file = folder.path().join("reed.db");
    let mut old = rusqlite::Connection::open(&file).expect("a file");
    migrate::to_version(&mut old, 8).expect("the eighth");
    old.execute_batch("INSERT INTO tanks (created_at) VALUES ('2026-03-10T08:30:00Z')")
        .expect("a tank of that time");
    drop(old);
    let store = Store::open(&file).expect("brought up to date");
    let synchronous: i64 = store
        .write(|db| {
            Ok::<_, StoreError>(db.pragma_query_value(None, "synchronous", |row| row.get(0))?)
        })
        .expect("read");
    assert_eq!(synchronous, 2, "FULL");
    let copy = folder.path().join("backups/reed-version-8.db");
    let kept = rusqlite::Connection::open(copy).expect("there");
    let (version, tanks): (i64, i64) = kept
        .query_row(
            "SELECT (SELECT user_version FROM pragma_user_version), (SELECT count(*) FROM tanks)",
            [],
            |row| Ok((row.get(0)?, row.get(1)?)),
        )
        .expect("readable");
    assert_eq!((version, tanks), (8, 1));
}

/// The end of the program does not wait for somebody who writes without end, and what they wrote is
/// not there; what was acknowledged before is.
#[test]
fn closing_does_not_wait_for_a_write_without_end() {
    let (folder, store) = store();
    let (id, _) = with_case(&store);
    let (began, has_begun) = std::sync::mpsc::channel();
    let (end, may_end) = std::sync::mpsc::channel::<()>();
    std::thread::scope(|threads| {
        let store = &store;
        threads.spawn(move || {
            let written = store.write(|db| {
                tanks::set_removed(db, id, Some(now()))?;
                began.send(()).expect("somebody waits");
                may_end.recv().expect("told");
                Err::<(), _>(StoreError::Stopped)
            });
            assert!(written.is_err());
        });
        has_begun.recv().expect("begun");
        let asked = std::time::Instant::now();
        assert!(matches!(store.close(), Err(StoreError::Busy)));
        assert!(asked.elapsed() < std::time::Duration::from_secs(5));
        end.send(()).expect("somebody waits");
    });
    assert_eq!(store.read(tanks::all).expect("read").len(), 1);
    store.close().expect("nobody writes");
    let log = folder.path().join("reed.db-wal");
    assert_eq!(std::fs::metadata(log).map_or(0, |log| log.len()), 0);
}

/// The files cannot all be moved: everything stays where it was, and goes on.
#[test]
fn a_copy_that_cannot_be_put_back_leaves_everything_in_its_place() {
    let (folder, store) = store();
    let (id, _) = with_case(&store);
    let copy = folder.path().join("copy.db");
    crate::backup::copy(store.path(), &copy).expect("made");
    // Somebody reads, so the log stays beside the file; and where it would go aside, something is.
    let reader = crate::Connection::open(store.path()).expect("it opens");
    reader
        .query_row("SELECT count(*) FROM tanks", [], |_| Ok(()))
        .expect("read");
    let aside = store.path().with_extension("before-restore-1.db-wal");
    std::fs::create_dir_all(aside.join("in the way")).expect("a folder");
    assert!(store.restore(&copy).is_err());
    assert!(store.path().exists() && store.damage().is_empty());
    let entered = entry("note", date(2026, 3, 10).at(8, 0, 0, 0));
    store
        .write(|db| entries::add(db, id, &entered, now()))
        .expect("it goes on");
    drop(reader);
    std::fs::remove_dir_all(&aside).expect("removed");
    let kept = store
        .restore(&copy)
        .expect("nothing in the way")
        .expect("aside");
    let there = |path: &std::path::Path| {
        let store = Store::open(path).expect("it opens");
        let kept = store.read(|db| entries::since(db, id, jiff::civil::DateTime::MIN));
        kept.expect("readable").len()
    };
    assert_eq!(there(&kept), 1, "what was entered is in what was set aside");
    let rows = store.read(|db| entries::since(db, id, jiff::civil::DateTime::MIN));
    assert!(rows.expect("readable").is_empty(), "and not in the copy");
}
