//! Checks that could not be done.

use jiff::civil::DateTime;
use reed_core::diagnosis::check::{self, Check};
use reed_core::diagnosis::{Declined, Hindrance};
use rusqlite::{Connection, named_params};

use crate::{CaseId, StoreError};

const SET: &str = "
    INSERT INTO declined (case_id, check_id, why, at) VALUES (:case, :check, :why, :at)
    ON CONFLICT (case_id, check_id) DO UPDATE SET why = excluded.why, at = excluded.at";
const TAKE_BACK: &str = "DELETE FROM declined WHERE case_id = :case AND check_id = :check";
const OF_CASE: &str =
    "SELECT check_id, why, at FROM declined WHERE case_id = :case ORDER BY at, check_id";

/// Every statement of this module.
#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[SET, TAKE_BACK, OF_CASE];

/// Enters that a check cannot be done; a later reason takes the place of an earlier one.
///
/// # Errors
/// When there is no such case, it is closed, or the database fails.
pub fn set(db: &Connection, case: CaseId, declined: &Declined) -> Result<(), StoreError> {
    crate::cases::find_open(db, case)?;
    let row = named_params! { ":case": case, ":check": declined.check.id, ":why": declined.why.id(), ":at": declined.at };
    db.prepare_cached(SET)?.execute(row)?;
    Ok(())
}

/// It can be done after all.
///
/// # Errors
/// When there is no such case, it is closed, or the database fails.
pub fn take_back(db: &Connection, case: CaseId, check: &Check) -> Result<(), StoreError> {
    crate::cases::find_open(db, case)?;
    db.prepare_cached(TAKE_BACK)?
        .execute(named_params! { ":case": case, ":check": check.id })?;
    Ok(())
}

/// What could not be done in a case, oldest first. A check this program does not know is passed
/// over.
///
/// # Errors
/// When the database fails.
pub fn of_case(db: &Connection, case: CaseId) -> Result<Vec<Declined>, StoreError> {
    let mut statement = db.prepare_cached(OF_CASE)?;
    let rows = statement.query_map(named_params! { ":case": case }, |row| {
        Ok((
            row.get::<_, String>(0)?,
            row.get::<_, String>(1)?,
            row.get::<_, DateTime>(2)?,
        ))
    })?;
    let mut declined = Vec::new();
    for (id, why, at) in StoreError::readable(rows.map(|row| Ok(row?)))? {
        if let (Some(check), Some(why)) = (check::by_id(&id), Hindrance::by_id(&why)) {
            declined.push(Declined { check, why, at });
        }
    }
    Ok(declined)
}
