//! What is watched after a case, and how often it was done.

use jiff::SignedDuration;
use jiff::Timestamp;
use jiff::civil::DateTime;
use reed_core::remedy::{Deed, Duty};
use rusqlite::{Connection, Row, named_params};

use crate::{CaseId, DutyId, StoreError, TankId};

const NEW: &str = "
    INSERT INTO duties (tank_id, case_id, words, analyte, every_hours, from_at, until_at, why)
    VALUES (:tank, :case, :words, :analyte, :every, :from, :until, :why)";
const OF_TANK: &str = "
    SELECT id, case_id, words, analyte, every_hours, from_at, until_at, why FROM duties
    WHERE tank_id = :tank AND dropped_at IS NULL AND until_at >= :since ORDER BY id";
const OF_CASE: &str = "
    SELECT id, case_id, words, analyte, every_hours, from_at, until_at, why FROM duties
    WHERE case_id = :case AND dropped_at IS NULL ORDER BY id";
const DROP_OF_CASE: &str =
    "UPDATE duties SET dropped_at = :now WHERE case_id = :case AND dropped_at IS NULL";
const TICK: &str = "INSERT OR IGNORE INTO duty_ticks (duty_id, at) VALUES (:duty, :at)";
const TICKS: &str = "SELECT at FROM duty_ticks WHERE duty_id = :duty ORDER BY at";
const READ: &str = "
    SELECT taken_at FROM readings
    WHERE tank_id = :tank AND analyte = :analyte AND struck_at IS NULL AND taken_at >= :from AND taken_at <= :until
    ORDER BY taken_at";
const EXISTS: &str = "SELECT count(*) FROM duties WHERE id = :duty AND tank_id = :tank";

/// Every statement of this module.
#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[
    NEW,
    OF_TANK,
    OF_CASE,
    DROP_OF_CASE,
    TICK,
    TICKS,
    READ,
    EXISTS,
];

/// What is watched.
#[derive(Clone, Debug, PartialEq)]
pub struct KeptDuty {
    /// Its number.
    pub id: DutyId,
    /// The case that left it.
    pub case_id: CaseId,
    /// What to do.
    pub words: String,
    /// Id of what is read for it; none where it is done by hand.
    pub analyte: Option<String>,
    /// Hours from one time to the next.
    pub every_hours: i64,
    /// From when, by the clock on the wall.
    pub from: DateTime,
    /// Until when.
    pub until: DateTime,
    /// Why.
    pub why: String,
    /// When it was done, oldest first.
    pub done: Vec<DateTime>,
}

impl KeptDuty {
    /// How often it is done in all.
    pub fn times(&self) -> i64 {
        (self.until.duration_since(self.from).as_hours() / self.every_hours.max(1)).max(1)
    }

    /// When it is due next: its time after it was done last; none once it is over.
    pub fn due(&self) -> Option<DateTime> {
        let next = self.done.last().map_or(self.from, |done| {
            *done + SignedDuration::from_hours(self.every_hours)
        });
        (next <= self.until).then_some(next)
    }
}

/// Writes down what a case leaves to be watched, from a moment on; what it left before goes.
///
/// # Errors
/// When there is no such case or the database fails.
pub fn leave(
    db: &Connection,
    (tank, case): (TankId, CaseId),
    duties: &[Duty],
    (from, now): (DateTime, Timestamp),
) -> Result<(), StoreError> {
    drop_of_case(db, case, now)?;
    let mut statement = db.prepare_cached(NEW)?;
    for duty in duties {
        let analyte = match duty.deed {
            Deed::Read(analyte) => Some(analyte.id),
            Deed::Do => None,
        };
        let until = from + SignedDuration::from_hours(24 * i64::from(duty.for_days));
        statement.execute(named_params! {
            ":tank": tank, ":case": case, ":words": duty.words, ":analyte": analyte,
            ":every": duty.every_hours, ":from": from, ":until": until, ":why": duty.why,
        })?;
    }
    Ok(())
}

/// What a case left is watched no longer: it was opened again.
///
/// # Errors
/// When the database fails.
pub fn drop_of_case(db: &Connection, case: CaseId, now: Timestamp) -> Result<(), StoreError> {
    db.prepare_cached(DROP_OF_CASE)?
        .execute(named_params! { ":case": case, ":now": now })?;
    Ok(())
}

fn from_row(row: &Row<'_>) -> rusqlite::Result<KeptDuty> {
    Ok(KeptDuty {
        id: row.get(0)?,
        case_id: row.get(1)?,
        words: row.get(2)?,
        analyte: row.get(3)?,
        every_hours: row.get(4)?,
        from: row.get(5)?,
        until: row.get(6)?,
        why: row.get(7)?,
        done: Vec::new(),
    })
}

/// What is watched in a tank at a moment.
///
/// # Errors
/// When the database fails.
pub fn of_tank(db: &Connection, tank: TankId, now: DateTime) -> Result<Vec<KeptDuty>, StoreError> {
    let mut statement = db.prepare_cached(OF_TANK)?;
    let rows = statement.query_map(named_params! { ":tank": tank, ":since": now }, from_row)?;
    with_deeds(db, tank, StoreError::readable(rows.map(|row| Ok(row?)))?)
}

/// What a case left to be watched.
///
/// # Errors
/// When the database fails.
pub fn of_case(
    db: &Connection,
    (tank, case): (TankId, CaseId),
) -> Result<Vec<KeptDuty>, StoreError> {
    let mut statement = db.prepare_cached(OF_CASE)?;
    let rows = statement.query_map(named_params! { ":case": case }, from_row)?;
    with_deeds(db, tank, StoreError::readable(rows.map(|row| Ok(row?)))?)
}

fn with_deeds(
    db: &Connection,
    tank: TankId,
    mut duties: Vec<KeptDuty>,
) -> Result<Vec<KeptDuty>, StoreError> {
    for duty in &mut duties {
        let done = match &duty.analyte {
            Some(analyte) => {
                let mut statement = db.prepare_cached(READ)?;
                let row = named_params! { ":tank": tank, ":analyte": analyte, ":from": duty.from, ":until": duty.until };
                let rows = statement.query_map(row, |row| row.get(0))?;
                StoreError::readable(rows.map(|row| Ok(row?)))?
            }
            None => {
                let mut statement = db.prepare_cached(TICKS)?;
                let rows =
                    statement.query_map(named_params! { ":duty": duty.id }, |row| row.get(0))?;
                StoreError::readable(rows.map(|row| Ok(row?)))?
            }
        };
        duty.done = done;
    }
    Ok(duties)
}

/// A duty was done by hand.
///
/// # Errors
/// When the tank has no such duty or the database fails.
pub fn tick(db: &Connection, tank: TankId, duty: DutyId, at: DateTime) -> Result<(), StoreError> {
    let known: i64 = db
        .prepare_cached(EXISTS)?
        .query_row(named_params! { ":duty": duty, ":tank": tank }, |row| {
            row.get(0)
        })?;
    if known == 0 {
        return Err(StoreError::NotFound {
            what: "duty",
            id: duty.0,
        });
    }
    db.prepare_cached(TICK)?
        .execute(named_params! { ":duty": duty, ":at": at })?;
    Ok(())
}
