//! Cases and whether they are open.

use jiff::Timestamp;
use rusqlite::{Connection, Row, named_params};

use crate::{CaseId, StoreError, TankId};

const NEW: &str = "INSERT INTO cases (tank_id, opened_at) VALUES (:tank, :now)";
const BY_ID: &str = "
    SELECT c.id, c.tank_id, c.opened_at, m.mark, m.words, m.made_at FROM cases c
    LEFT JOIN case_marks m ON m.id = (SELECT max(id) FROM case_marks WHERE case_id = c.id)
    WHERE c.id = :case";
const OF_TANK: &str = "
    SELECT c.id, c.tank_id, c.opened_at, m.mark, m.words, m.made_at FROM cases c
    LEFT JOIN case_marks m ON m.id = (SELECT max(id) FROM case_marks WHERE case_id = c.id)
    WHERE c.tank_id = :tank ORDER BY c.id DESC";
const MARK: &str =
    "INSERT INTO case_marks (case_id, mark, words, made_at) VALUES (:case, :mark, :words, :now)";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[NEW, BY_ID, OF_TANK, MARK];

/// A case.
#[derive(Clone, Debug, PartialEq)]
pub struct KeptCase {
    /// Its number.
    pub id: CaseId,
    /// The tank it is about.
    pub tank_id: TankId,
    /// When it was opened.
    pub opened_at: Timestamp,
    /// When and with which words it was closed; `None` while it is open.
    pub closed: Option<(Timestamp, String)>,
}

fn from_row(row: &Row<'_>) -> rusqlite::Result<KeptCase> {
    let mark: Option<String> = row.get(3)?;
    let closed = if mark.as_deref() == Some("closed") {
        Some((row.get(5)?, row.get(4)?))
    } else {
        None
    };
    Ok(KeptCase {
        id: row.get(0)?,
        tank_id: row.get(1)?,
        opened_at: row.get(2)?,
        closed,
    })
}

/// Opens a case.
///
/// # Errors
/// When there is no such tank or the database fails.
pub fn open(db: &Connection, tank: TankId, now: Timestamp) -> Result<CaseId, StoreError> {
    crate::tanks::latest(db, tank)?;
    db.prepare_cached(NEW)?
        .execute(named_params! { ":tank": tank, ":now": now })?;
    Ok(CaseId(db.last_insert_rowid()))
}

/// The case with this number.
///
/// # Errors
/// When there is none or the database fails.
pub fn find(db: &Connection, id: CaseId) -> Result<KeptCase, StoreError> {
    StoreError::found(
        db.prepare_cached(BY_ID)?
            .query_row(named_params! { ":case": id }, from_row),
        "case",
        id.0,
    )
}

/// The case with this number, which must be open.
///
/// # Errors
/// When there is none, it is closed, or the database fails.
pub fn find_open(db: &Connection, id: CaseId) -> Result<KeptCase, StoreError> {
    let case = find(db, id)?;
    if case.closed.is_some() {
        Err(StoreError::Closed { id: id.0 })
    } else {
        Ok(case)
    }
}

/// The cases of a tank that can be read, newest first.
///
/// # Errors
/// When the database fails.
pub fn of_tank(db: &Connection, tank: TankId) -> Result<Vec<KeptCase>, StoreError> {
    let mut statement = db.prepare_cached(OF_TANK)?;
    let rows = statement.query_map(named_params! { ":tank": tank }, from_row)?;
    StoreError::readable(rows.map(|row| Ok(row?)))
}

/// Closes a case.
///
/// # Errors
/// When there is no such case or the database fails.
pub fn close(db: &Connection, id: CaseId, words: &str, now: Timestamp) -> Result<(), StoreError> {
    mark(db, id, "closed", words, now)
}

/// Opens a closed case again.
///
/// # Errors
/// When there is no such case, another one of its tank is open, or the database fails.
pub fn reopen(db: &Connection, id: CaseId, words: &str, now: Timestamp) -> Result<(), StoreError> {
    let tank = find(db, id)?.tank_id;
    if let Some(other) = of_tank(db, tank)?
        .into_iter()
        .find(|case| case.id != id && case.closed.is_none())
    {
        return Err(StoreError::AnotherOpen { id: other.id.0 });
    }
    mark(db, id, "reopened", words, now)
}

fn mark(
    db: &Connection,
    id: CaseId,
    mark: &str,
    words: &str,
    now: Timestamp,
) -> Result<(), StoreError> {
    find(db, id)?;
    db.prepare_cached(MARK)?
        .execute(named_params! { ":case": id, ":mark": mark, ":words": words, ":now": now })?;
    Ok(())
}
