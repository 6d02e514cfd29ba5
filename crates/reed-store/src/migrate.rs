//! Brings a database file up to date, forward only.

use rusqlite::Connection;
use rusqlite_migration::{M, Migrations};

use crate::StoreError;

/// Every migration, oldest first; a released one is never edited.
const MIGRATIONS: &[M<'static>] = &[
    M::up(include_str!("../migrations/0001-tanks-and-cases.sql")).foreign_key_check(),
    M::up(include_str!("../migrations/0002-settings.sql")).foreign_key_check(),
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
        Migrations::from_slice(MIGRATIONS).validate().expect("sound migrations");
    }

    /// A database as the first version left it, with a tank in the form of that time.
    #[test]
    fn a_database_of_the_first_version_is_brought_up_to_date_with_its_tanks() {
        let mut db = Connection::open_in_memory().expect("memory");
        Migrations::from_slice(&MIGRATIONS[..1]).to_latest(&mut db).expect("the first version");
        for (_, text) in reed_fixtures::version_1() {
            let document: serde_json::Value = serde_json::from_str(&text).expect("JSON");
            db.execute("INSERT INTO tanks (created_at) VALUES ('2026-03-10T08:30:00Z')", []).expect("a tank");
            let row = "INSERT INTO tank_revisions (tank_id, made_at, why, tank) VALUES (?1, '2026-03-10T08:30:00Z', 'First entry', ?2)";
            db.execute(row, (db.last_insert_rowid(), document["tank"].to_string())).expect("a revision");
        }
        to_latest(&mut db).expect("brought up to date");
        let tanks = crate::tanks::all(&db).expect("readable");
        assert_eq!(tanks.len(), 3);
        assert!(tanks.iter().all(|revision| revision.tank.refusals(&reed_core::units::Units::BASE).is_empty()));
        assert_eq!(crate::settings::units(&db).expect("readable"), reed_core::units::Units::BASE);
    }
}
