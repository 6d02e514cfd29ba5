//! The service sheet of a filter: which steps are done. A sheet that was left behind by an opening,
//! or lay for days, counts as over.

use jiff::civil::DateTime;
use reed_core::tank::Serial;
use rusqlite::{Connection, named_params};

use crate::{StoreError, TankId};

const TICK: &str = "
    INSERT INTO service_ticks (tank_id, filter, step, at) VALUES (:tank, :filter, :step, :at)
    ON CONFLICT (tank_id, filter, step) DO UPDATE SET at = excluded.at";
const UNTICK: &str =
    "DELETE FROM service_ticks WHERE tank_id = :tank AND filter = :filter AND step = :step";
const CLEAR: &str =
    "DELETE FROM service_ticks WHERE tank_id = :tank AND filter = :filter AND at < :since";
const CLEAR_ALL: &str = "DELETE FROM service_ticks WHERE tank_id = :tank AND filter = :filter";
const TICKED: &str = "
    SELECT step FROM service_ticks WHERE tank_id = :tank AND filter = :filter AND at >= :since ORDER BY at, step";

/// Every statement of this module.
#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[TICK, UNTICK, CLEAR, CLEAR_ALL, TICKED];

/// Ticks a step, or takes the tick back. What was ticked before `since` is of an older sheet and
/// goes.
///
/// # Errors
/// When there is no such tank or the database fails.
pub fn tick(
    db: &Connection,
    (tank, filter): (TankId, Serial),
    step: &str,
    is_done: bool,
    (now, since): (DateTime, DateTime),
) -> Result<(), StoreError> {
    let of_filter = named_params! { ":tank": tank, ":filter": filter.0, ":since": since };
    db.prepare_cached(CLEAR)?.execute(of_filter)?;
    if is_done {
        let row = named_params! { ":tank": tank, ":filter": filter.0, ":step": step, ":at": now };
        db.prepare_cached(TICK)?.execute(row)?;
    } else {
        let row = named_params! { ":tank": tank, ":filter": filter.0, ":step": step };
        db.prepare_cached(UNTICK)?.execute(row)?;
    }
    Ok(())
}

/// Takes every tick of a filter's sheet back.
///
/// # Errors
/// When the database fails.
pub fn clear(db: &Connection, tank: TankId, filter: Serial) -> Result<(), StoreError> {
    let of_filter = named_params! { ":tank": tank, ":filter": filter.0 };
    db.prepare_cached(CLEAR_ALL)?.execute(of_filter)?;
    Ok(())
}

/// The steps that were ticked since a moment.
///
/// # Errors
/// When the database fails.
pub fn ticked(
    db: &Connection,
    tank: TankId,
    filter: Serial,
    since: DateTime,
) -> Result<Vec<String>, StoreError> {
    let mut statement = db.prepare_cached(TICKED)?;
    let row = named_params! { ":tank": tank, ":filter": filter.0, ":since": since };
    let rows = statement.query_map(row, |row| row.get(0))?;
    StoreError::readable(rows.map(|row| Ok(row?)))
}
