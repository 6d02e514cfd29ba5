//! A whole document into the database.

use jiff::Timestamp;
use reed_core::diagnosis::Case;
use reed_core::log::Entry;
use rusqlite::{Connection, named_params};

use crate::answers::Given;
use crate::{CaseId, StoreError, TankId, answers, cases, declined, entries, readings, tanks};

const KNOWN: &str = "
    SELECT tanks.id FROM brought_in JOIN tanks ON tanks.id = brought_in.tank_id
    WHERE brought_in.digest = :digest AND tanks.removed_at IS NULL ORDER BY tanks.id DESC LIMIT 1";
const REMEMBER: &str = "INSERT INTO brought_in (tank_id, digest) VALUES (:tank, :digest)";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[KNOWN, REMEMBER];

/// Enters a new tank with its readings and its log, and with an open case if anything was seen,
/// happened or could not be looked at.
///
/// # Errors
/// When the database fails.
pub fn add(
    db: &Connection,
    Case { tank, observed }: &Case,
    log: &[Entry],
    why: &str,
    now: Timestamp,
) -> Result<(TankId, Option<CaseId>), StoreError> {
    let id = tanks::create(db, tank, why, now)?;
    for reading in &observed.readings {
        readings::add(db, id, reading, now)?;
    }
    for entry in log {
        entries::add(db, id, entry, now)?;
    }
    if observed.answers.is_empty() && observed.declined.is_empty() {
        return Ok((id, None));
    }
    let case = cases::open(db, id, now)?;
    for answered in &observed.answers {
        let given = Given {
            filters: &answered.filters,
            ..Given::at(answered.finding.id, Some(answered.answer), answered.at)
        };
        answers::add(db, case, &given, now)?;
    }
    for declined in &observed.declined {
        declined::set(db, case, declined)?;
    }
    Ok((id, Some(case)))
}

/// The tank that became of a file before, if it still stands.
///
/// # Errors
/// When the database fails.
pub fn known(db: &Connection, digest: &str) -> Result<Option<TankId>, StoreError> {
    let mut statement = db.prepare_cached(KNOWN)?;
    let mut rows = statement.query(named_params! { ":digest": digest })?;
    Ok(rows.next()?.map(|row| row.get(0)).transpose()?)
}

/// Remembers which file a tank came from.
///
/// # Errors
/// When there is no such tank or the database fails.
pub fn remember(db: &Connection, tank: TankId, digest: &str) -> Result<(), StoreError> {
    db.prepare_cached(REMEMBER)?
        .execute(named_params! { ":tank": tank, ":digest": digest })?;
    Ok(())
}

/// What tells one file from any other.
pub fn digest(file: &str) -> String {
    crate::photos::digest(file.as_bytes())
}
