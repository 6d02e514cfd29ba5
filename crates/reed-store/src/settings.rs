//! What the keeper chose for the whole program.

use reed_core::units::Units;
use rusqlite::{Connection, named_params};

use crate::StoreError;

const GET: &str = "SELECT value FROM settings WHERE name = :name";
const SET: &str = "INSERT INTO settings (name, value) VALUES (:name, :value) ON CONFLICT (name) DO UPDATE SET value = :value";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[GET, SET];

const UNITS: &str = "units";

/// The units the keeper reads and types; the usual ones until something was chosen.
///
/// # Errors
/// When the database fails.
pub fn units(db: &Connection) -> Result<Units, StoreError> {
    Ok(chosen(db)?.unwrap_or_default())
}

/// Units were chosen, if only by saying what the card of a kit reports.
///
/// # Errors
/// When the database fails.
pub fn are_chosen(db: &Connection) -> Result<bool, StoreError> {
    Ok(chosen(db)?.is_some())
}

fn chosen(db: &Connection) -> Result<Option<Units>, StoreError> {
    let mut statement = db.prepare_cached(GET)?;
    let mut rows = statement.query(named_params! { ":name": UNITS })?;
    let Some(row) = rows.next()? else {
        return Ok(None);
    };
    let value: String = row.get(0)?;
    serde_json::from_str(&value)
        .map(Some)
        .map_err(|why| StoreError::unreadable("the units".to_owned(), why))
}

/// Chooses units.
///
/// # Errors
/// When the database fails.
pub fn choose_units(db: &Connection, units: Units) -> Result<(), StoreError> {
    let value = serde_json::to_string(&units)
        .map_err(|why| StoreError::unreadable("the units".to_owned(), why))?;
    db.prepare_cached(SET)?
        .execute(named_params! { ":name": UNITS, ":value": value })?;
    Ok(())
}
