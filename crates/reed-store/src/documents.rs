//! A whole document into the database.

use jiff::Timestamp;
use reed_core::diagnosis::Case;
use reed_core::log::Entry;
use rusqlite::Connection;

use crate::answers::Given;
use crate::{CaseId, StoreError, TankId, answers, cases, declined, entries, readings, tanks};

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
