//! Brings a database file up to date, forward only.

use rusqlite::Connection;
use rusqlite_migration::{M, Migrations};

use crate::StoreError;

/// Every migration, oldest first; a released one is never edited.
const MIGRATIONS: &[M<'static>] = &[
    M::up(include_str!("../migrations/0001-tanks-and-cases.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0002-settings.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0003-proofs-by-looking.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0004-flows.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0005-tries-and-drift-tests.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0006-events.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0007-answers-of-a-filter.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0008-declined-checks.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0009-log.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0010-batches.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0011-photos.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0012-reading-hours.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0013-often.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0014-sent-once.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0015-service-ticks.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0016-plans.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0017-routine.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0018-devices.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0019-watches.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0020-thinned-hours.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0021-readings-by-hand.sql")),
];

/// The version that this program writes.
pub(crate) const fn latest() -> usize {
    MIGRATIONS.len()
}

/// The version of a database.
pub(crate) fn version(db: &Connection) -> Result<usize, StoreError> {
    let version: u32 = db.pragma_query_value(None, "user_version", |row| row.get(0))?;
    Ok(usize::try_from(version).unwrap_or(usize::MAX))
}

/// Applies what is missing.
pub(crate) fn to_latest(connection: &mut Connection) -> Result<(), StoreError> {
    Ok(Migrations::from_slice(MIGRATIONS).to_latest(connection)?)
}

/// Brings an empty database to an earlier version.
pub(crate) fn to_version(connection: &mut Connection, version: usize) -> Result<(), StoreError> {
    Ok(Migrations::from_slice(&MIGRATIONS[..version]).to_latest(connection)?)
}

#[cfg(test)]
mod tests {
    use super::{Connection, MIGRATIONS, Migrations, to_latest};
    use crate::{CaseId, TankId, entries};
    use jiff::civil::date;
    use reed_core::diagnosis::finding::{self, Kind};
    use reed_core::log::Happening;

    #[test]
    fn migrations_apply_to_an_empty_file_and_hold_their_foreign_keys() {
        Migrations::from_slice(MIGRATIONS)
            .validate()
            .expect("sound migrations");
    }

    /// A database as the first version left it, with a tank in the form of that time.
    #[test]
    fn a_database_of_the_first_version_is_brought_up_to_date_with_its_tanks() {
        let mut db = Connection::open_in_memory().expect("memory");
        Migrations::from_slice(&MIGRATIONS[..1])
            .to_latest(&mut db)
            .expect("the first version");
        for (_, text) in reed_fixtures::version_1() {
            let document: serde_json::Value = serde_json::from_str(&text).expect("JSON");
            db.execute(
                "INSERT INTO tanks (created_at) VALUES ('2026-03-10T08:30:00Z')",
                [],
            )
            .expect("a tank");
            let row = "INSERT INTO tank_revisions (tank_id, made_at, why, tank) VALUES (?1, '2026-03-10T08:30:00Z', 'First entry', ?2)";
            db.execute(row, (db.last_insert_rowid(), document["tank"].to_string()))
                .expect("a revision");
        }
        db.execute_batch(
            "INSERT INTO cases VALUES (1, 1, '2026-03-10T08:30:00Z');
             INSERT INTO choices VALUES (1, 1, 'add-air-stone', '{}', NULL, '2026-03-10T08:30:00Z', NULL, NULL, NULL);
             INSERT INTO readings (id, tank_id, analyte, value, spread, taken_at, entered_at)
             VALUES (7, 1, 'do', 7.0, 0.5, '2026-03-10T08:30:00', '2026-03-10T08:30:00Z');
             INSERT INTO proofs VALUES (1, 1, 7, 'proved', 'It worked', '2026-03-10T09:30:00Z');",
        )
        .expect("a proof of that time");
        to_latest(&mut db).expect("brought up to date");
        let proof: (i64, Option<String>, String) = db
            .query_row("SELECT reading_id, seen_at, words FROM proofs", [], |row| {
                Ok((row.get(0)?, row.get(1)?, row.get(2)?))
            })
            .expect("kept");
        assert_eq!(proof, (7, None, "It worked".to_owned()));
        let tanks = crate::tanks::all(&db).expect("readable");
        assert_eq!(tanks.len(), 3);
        assert!(tanks.iter().all(|revision| {
            revision
                .tank
                .refusals(&reed_core::units::Units::BASE)
                .is_empty()
        }));
        assert_eq!(
            crate::settings::units(&db).expect("readable"),
            reed_core::units::Units::default()
        );
    }

    /// A database of any released version that had events and answers: each becomes an entry of the
    /// log with its moment, its amount and whether it was withdrawn; and what was answered is still
    /// answered. Every question about something that happened has its kind there.
    #[test]
    fn events_and_answers_of_every_released_version_become_the_log() {
        let asked: Vec<&str> = finding::all()
            .filter(|finding| matches!(finding.kind, Kind::Event { .. }))
            .map(|finding| finding.id)
            .collect();
        for version in 6..=8 {
            let mut db = Connection::open_in_memory().expect("memory");
            Migrations::from_slice(&MIGRATIONS[..version])
                .to_latest(&mut db)
                .expect("a released version");
            db.execute_batch(
                "INSERT INTO tanks (id, created_at) VALUES (1, '2026-03-01T08:00:00Z');
                 INSERT INTO cases VALUES (1, 1, '2026-03-10T08:30:00Z');
                 INSERT INTO events (tank_id, what, amount, at, made_at, struck_at) VALUES
                    (1, 'change', 25.0, '2026-03-08T10:00:00', '2026-03-08T10:00:00Z', NULL),
                    (1, 'medicine', 0.0, '2026-03-09T10:00:00', '2026-03-09T10:00:00Z', '2026-03-09T11:00:00Z'),
                    (1, 'change', 30.0, '2026-04-08T10:00:00', '2026-03-08T10:00:00Z', NULL);
                 INSERT INTO answers (case_id, finding, answer, seen_at, entered_at) VALUES
                    (1, 'gasping', 'yes', '2026-03-10T08:00:00', '2026-03-10T08:30:00Z'),
                    (1, 'copper-used', 'yes', '2026-01-01T08:00:00', '2026-03-10T08:30:00Z'),
                    (1, 'copper-used', 'no', '2026-03-10T08:31:00', '2026-03-10T08:31:00Z');",
            )
            .expect("data of that version");
            let answered = asked.iter().filter(|id| **id != "copper-used");
            for id in answered {
                let row = "INSERT INTO answers (case_id, finding, answer, seen_at, entered_at) VALUES (1, ?1, 'yes', '2026-02-01T08:00:00', '2026-03-10T08:30:00Z')";
                db.execute(row, [id]).expect("an answer");
            }
            to_latest(&mut db).expect("brought up to date");
            let long_ago = date(2000, 1, 1).at(0, 0, 0, 0);
            let kept = entries::since(&db, TankId(1), long_ago).expect("readable");
            let (told, entered): (Vec<_>, Vec<_>) =
                kept.into_iter().partition(|kept| kept.told.is_some());
            let entered: Vec<_> = entered
                .iter()
                .map(|kept| {
                    let entry = &kept.entry;
                    (entry.happening.as_str(), entry.amount, kept.is_struck())
                })
                .collect();
            assert_eq!(
                entered,
                [
                    ("change", Some(25.0), false),
                    ("medicine", None, true),
                    ("change", Some(30.0), false)
                ],
                "version {version}"
            );
            assert_eq!(told.len(), asked.len() - 1, "version {version}");
            for kept in told {
                let (_, finding) = kept.told.expect("partitioned");
                let kind = Happening::of_finding(&finding).expect("a kind");
                assert_eq!(kept.entry.happening, kind.id, "{finding}");
            }
            let current = crate::answers::current(&db, CaseId(1)).expect("readable");
            assert_eq!(current.len(), asked.len() + 1, "version {version}");
            let moment = date(2026, 2, 1).at(8, 0, 0, 0);
            let at = |id: &str| {
                let found = current.iter().find(|answered| answered.finding.id == id);
                found.map(|answered| answered.at)
            };
            assert_eq!(at("filter-cleaned"), Some(moment));
        }
    }
}
