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
];

/// Applies what is missing.
pub(crate) fn to_latest(connection: &mut Connection) -> Result<(), StoreError> {
    Ok(Migrations::from_slice(MIGRATIONS).to_latest(connection)?)
}

#[cfg(test)]
mod tests {
    use super::{Connection, MIGRATIONS, Migrations, to_latest};

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
}
