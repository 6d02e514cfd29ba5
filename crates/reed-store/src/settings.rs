//! What the keeper chose for the whole program.

use jiff::Timestamp;
use reed_core::alarm::Quiet;
use reed_core::units::Units;
use rusqlite::{Connection, named_params};
use serde::Serialize;
use serde::de::DeserializeOwned;

use crate::StoreError;

const GET: &str = "SELECT value FROM settings WHERE name = :name";
const SET: &str = "INSERT INTO settings (name, value) VALUES (:name, :value) ON CONFLICT (name) DO UPDATE SET value = :value";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[GET, SET];

const UNITS: &str = "units";
const COPIES: &str = "copies";
const QUIET: &str = "quiet";
const WHOLE_DAYS: &str = "whole-days";
const TAKEN_AWAY: &str = "taken-away";
const THINNED: &str = "thinned-until";
/// Readings of devices are kept whole for so many days until the keeper says otherwise. A judgement.
const USUAL_WHOLE_DAYS: u32 = 90;

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
    get(db, UNITS)
}

/// A setting; what cannot be read counts as not chosen.
fn get<T: DeserializeOwned>(db: &Connection, name: &str) -> Result<Option<T>, StoreError> {
    let mut statement = db.prepare_cached(GET)?;
    let mut rows = statement.query(named_params! { ":name": name })?;
    let Some(row) = rows.next()? else {
        return Ok(None);
    };
    let value: String = row.get(0)?;
    Ok(serde_json::from_str(&value).ok())
}

fn set(db: &Connection, name: &str, value: &impl Serialize) -> Result<(), StoreError> {
    let value = serde_json::to_string(value)
        .map_err(|why| StoreError::unreadable(format!("the setting “{name}”"), why))?;
    db.prepare_cached(SET)?
        .execute(named_params! { ":name": name, ":value": value })?;
    Ok(())
}

/// A copy is to be made of each day; until somebody says otherwise.
///
/// # Errors
/// When the database fails.
pub fn makes_copies(db: &Connection) -> Result<bool, StoreError> {
    Ok(get(db, COPIES)?.unwrap_or(true))
}

/// Has a copy made of each day, or none.
///
/// # Errors
/// When the database fails.
pub fn choose_copies(db: &Connection, each_day: bool) -> Result<(), StoreError> {
    set(db, COPIES, &each_day)
}

/// Hours in which only what endangers animals rings; none until they are chosen.
///
/// # Errors
/// When the database fails.
pub fn quiet(db: &Connection) -> Result<Option<Quiet>, StoreError> {
    Ok(get::<Option<Quiet>>(db, QUIET)?.flatten())
}

/// Chooses hours of quiet, or none.
///
/// # Errors
/// When the database fails.
pub fn choose_quiet(db: &Connection, quiet: Option<Quiet>) -> Result<(), StoreError> {
    set(db, QUIET, &quiet)
}

/// Days for which every reading of a device is kept; none: for ever.
///
/// # Errors
/// When the database fails.
pub fn whole_days(db: &Connection) -> Result<Option<u32>, StoreError> {
    Ok(get::<Option<u32>>(db, WHOLE_DAYS)?.unwrap_or(Some(USUAL_WHOLE_DAYS)))
}

/// Chooses for how many days every reading of a device is kept; none: for ever.
///
/// # Errors
/// When the database fails.
pub fn choose_whole_days(db: &Connection, days: Option<u32>) -> Result<(), StoreError> {
    set(db, WHOLE_DAYS, &days)
}

/// When everything was last taken to elsewhere, in one file.
///
/// # Errors
/// When the database fails.
pub fn taken_away(db: &Connection) -> Result<Option<Timestamp>, StoreError> {
    get(db, TAKEN_AWAY)
}

/// Everything was taken to elsewhere.
///
/// # Errors
/// When the database fails.
pub fn set_taken_away(db: &Connection, now: Timestamp) -> Result<(), StoreError> {
    set(db, TAKEN_AWAY, &now)
}

/// Until when readings of devices were thinned.
pub(crate) fn thinned_until(db: &Connection) -> Result<Option<Timestamp>, StoreError> {
    get(db, THINNED)
}

pub(crate) fn set_thinned_until(db: &Connection, until: Timestamp) -> Result<(), StoreError> {
    set(db, THINNED, &until)
}

/// Chooses units.
///
/// # Errors
/// When the database fails.
pub fn choose_units(db: &Connection, units: Units) -> Result<(), StoreError> {
    set(db, UNITS, &units)
}
