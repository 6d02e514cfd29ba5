//! Brings a database file up to date, forward only.

use rusqlite::Connection;
use rusqlite_migration::{M, Migrations};

use crate::StoreError;

/// Every migration, oldest first; a released one is never edited.
const MIGRATIONS: &[M<'static>] = &[M::up(include_str!("../migrations/0001-tanks-and-cases.sql")).foreign_key_check()];

/// Applies what is missing.
pub(crate) fn to_latest(connection: &mut Connection) -> Result<(), StoreError> {
    Ok(Migrations::from_slice(MIGRATIONS).to_latest(connection)?)
}

#[cfg(test)]
mod tests {
    use super::{MIGRATIONS, Migrations};

    #[test]
    fn migrations_apply_to_an_empty_file_and_hold_their_foreign_keys() {
        Migrations::from_slice(MIGRATIONS).validate().expect("sound migrations");
    }
}
