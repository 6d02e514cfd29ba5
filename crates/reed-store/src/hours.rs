//! Readings of an hour together: what a chart of years is drawn from. The rows follow from those of
//! [`crate::readings`]; whatever changes a reading has its hour made anew.

use std::collections::HashMap;

use jiff::civil::DateTime;
use reed_core::tank::{Analyte, Reading, analyte};
use rusqlite::{Connection, named_params, params};

use crate::{BatchId, StoreError, TankId};

const CLEAR: &str = "DELETE FROM reading_hours WHERE tank_id = :tank AND analyte = :analyte AND hour = substr(:at, 1, 13)";
/// From the readings that are there, and from the sum of those that were thinned away.
const MAKE: &str = "
    INSERT INTO reading_hours
    SELECT :tank, :analyte, substr(:at, 1, 13), min(value), max(value), sum(total), sum(many) FROM (
        SELECT value, value AS total, 1 AS many FROM readings
        WHERE tank_id = :tank AND analyte = :analyte AND struck_at IS NULL
            AND taken_at >= substr(:at, 1, 13) AND taken_at < substr(:at, 1, 13) || ':~'
        UNION ALL SELECT NULL, total, many FROM thinned_hours
        WHERE tank_id = :tank AND analyte = :analyte AND hour = substr(:at, 1, 13))
    HAVING min(value) IS NOT NULL";
/// The hours in which a batch has readings.
const CLEAR_BATCH: &str = "
    DELETE FROM reading_hours WHERE tank_id = :tank AND (analyte, hour) IN (
        SELECT DISTINCT analyte, substr(taken_at, 1, 13) FROM readings WHERE batch_id = :batch)";
/// The same hours without it.
const MAKE_WITHOUT: &str = "
    INSERT INTO reading_hours
    WITH touched AS (
        SELECT DISTINCT analyte, substr(taken_at, 1, 13) AS hour FROM readings WHERE batch_id = :batch)
    SELECT :tank, analyte, hour, min(value), max(value), sum(total), sum(many) FROM (
        SELECT touched.analyte, touched.hour, value, value AS total, 1 AS many FROM touched
        JOIN readings ON readings.tank_id = :tank AND readings.analyte = touched.analyte
            AND readings.taken_at >= touched.hour AND readings.taken_at < touched.hour || ':~'
        WHERE readings.struck_at IS NULL AND readings.batch_id IS NOT :batch
        UNION ALL SELECT touched.analyte, touched.hour, NULL, total, many FROM touched
        JOIN thinned_hours AS thinned
            ON thinned.tank_id = :tank AND thinned.analyte = touched.analyte AND thinned.hour = touched.hour)
    GROUP BY analyte, hour HAVING min(value) IS NOT NULL";
const ADD: &str = "
    INSERT INTO reading_hours VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7)
    ON CONFLICT DO UPDATE SET least = min(least, excluded.least), most = max(most, excluded.most),
        total = total + excluded.total, many = many + excluded.many";
const CLEAR_ALL: &str = "DELETE FROM reading_hours";
const MAKE_ALL: &str = "
    INSERT INTO reading_hours
    SELECT tank_id, analyte, hour, min(value), max(value), sum(total), sum(many) FROM (
        SELECT tank_id, analyte, substr(taken_at, 1, 13) AS hour, value, value AS total, 1 AS many
        FROM readings WHERE struck_at IS NULL
        UNION ALL SELECT tank_id, analyte, hour, NULL, total, many FROM thinned_hours)
    GROUP BY 1, 2, 3 HAVING min(value) IS NOT NULL";
const OF: &str = "
    SELECT hour, least, most, total, many FROM reading_hours
    WHERE tank_id = :tank AND analyte = :analyte AND hour >= substr(:from, 1, 13) AND hour <= substr(:to, 1, 13)
    ORDER BY hour";
const READ: &str = "
    SELECT analyte, sum(many) FROM reading_hours WHERE tank_id = :tank GROUP BY analyte";
const FIRST: &str = "SELECT min(hour) FROM reading_hours WHERE tank_id = :tank";
const MANY: &str = "
    SELECT coalesce(sum(many), 0) FROM reading_hours
    WHERE tank_id = :tank AND analyte = :analyte AND hour >= substr(:from, 1, 13) AND hour <= substr(:to, 1, 13)";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[
    ADD,
    CLEAR,
    MAKE,
    CLEAR_BATCH,
    MAKE_WITHOUT,
    CLEAR_ALL,
    MAKE_ALL,
    OF,
    READ,
    FIRST,
    MANY,
];

/// The readings of an hour of one thing, in its first unit.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Hour {
    /// When it begins.
    pub from: DateTime,
    /// The least that was read.
    pub least: f64,
    /// The mean of all that was read.
    pub mean: f64,
    /// The most that was read.
    pub most: f64,
    /// How many readings.
    pub many: u32,
}

impl Hour {
    /// The mean of all that was read in some hours, and the middle of their time; none of none.
    pub(crate) fn mean_of(hours: &[Self]) -> Option<(f64, DateTime)> {
        let (first, last) = (hours.first()?, hours.last()?);
        let many: f64 = hours.iter().map(|hour| f64::from(hour.many)).sum();
        let total: f64 = hours
            .iter()
            .map(|hour| hour.mean * f64::from(hour.many))
            .sum();
        let middle = first.from + last.from.duration_since(first.from) / 2;
        Some((total / many, middle))
    }
}

/// Makes all hours anew.
pub(crate) fn make_all(db: &Connection) -> Result<(), StoreError> {
    db.execute(CLEAR_ALL, [])?;
    db.execute(MAKE_ALL, [])?;
    Ok(())
}

/// Makes the hour of a reading anew.
pub(crate) fn refresh(
    db: &Connection,
    tank: TankId,
    analyte: &str,
    at: DateTime,
) -> Result<(), StoreError> {
    for statement in [CLEAR, MAKE] {
        db.prepare_cached(statement)?
            .execute(named_params! { ":tank": tank, ":analyte": analyte, ":at": at })?;
    }
    Ok(())
}

/// Makes the hours of a batch as they will be when its readings are gone.
pub(crate) fn without_batch(
    db: &Connection,
    tank: TankId,
    batch: BatchId,
) -> Result<(), StoreError> {
    db.prepare_cached(CLEAR_BATCH)?
        .execute(named_params! { ":tank": tank, ":batch": batch })?;
    db.prepare_cached(MAKE_WITHOUT)?
        .execute(named_params! { ":tank": tank, ":batch": batch })?;
    Ok(())
}

/// Hours that readings are added to, many at once.
pub(crate) struct Hours {
    tank: TankId,
    /// By what was read and hour: least, most, total, how many.
    added: HashMap<(&'static str, String), (f64, f64, f64, u32)>,
}

impl Hours {
    /// None yet.
    pub(crate) fn new(tank: TankId) -> Self {
        Self {
            tank,
            added: HashMap::new(),
        }
    }

    /// Counts a reading in; `at` is its moment as it is kept.
    pub(crate) fn count(&mut self, reading: &Reading, at: &str) {
        let hour = hour_of(at).to_owned();
        let value = reading.value;
        let hour = self
            .added
            .entry((reading.analyte.id, hour))
            .or_insert((value, value, 0.0, 0));
        *hour = (
            hour.0.min(value),
            hour.1.max(value),
            hour.2 + value,
            hour.3 + 1,
        );
    }

    /// Adds them to what is kept.
    pub(crate) fn add_to(&self, db: &Connection) -> Result<(), StoreError> {
        let mut statement = db.prepare_cached(ADD)?;
        for ((analyte, hour), (least, most, total, many)) in &self.added {
            statement.execute(params![self.tank, analyte, hour, least, most, total, many])?;
        }
        Ok(())
    }
}

/// Of a moment as it is kept, as far as its hour: `2026-03-10T08`.
const HOUR_LETTERS: usize = 13;

/// The hour of a moment as it is kept.
pub(crate) fn hour_of(at: &str) -> &str {
    at.get(..HOUR_LETTERS).unwrap_or(at)
}

/// The hours between two moments in which something was read, in their order.
///
/// # Errors
/// When the database fails.
pub fn between(
    db: &Connection,
    tank: TankId,
    analyte: &Analyte,
    from: DateTime,
    to: DateTime,
) -> Result<Vec<Hour>, StoreError> {
    let mut statement = db.prepare_cached(OF)?;
    let mut rows = statement
        .query(named_params! { ":tank": tank, ":analyte": analyte.id, ":from": from, ":to": to })?;
    let mut hours = Vec::new();
    while let Some(row) = rows.next()? {
        let hour = row.get_ref(0)?.as_str().map_err(rusqlite::Error::from)?;
        let from = read_hour(hour).ok_or_else(|| {
            StoreError::unreadable("an hour of readings", format!("“{hour}” is no hour"))
        })?;
        let (total, many): (f64, u32) = (row.get(3)?, row.get(4)?);
        hours.push(Hour {
            from,
            least: row.get(1)?,
            mean: total / f64::from(many),
            most: row.get(2)?,
            many,
        });
    }
    Ok(hours)
}

/// An hour as it is kept, such as `2026-03-10T08`.
fn read_hour(text: &str) -> Option<DateTime> {
    let digits = |range: std::ops::Range<usize>| text.get(range)?.parse::<i8>().ok();
    DateTime::new(
        text.get(..4)?.parse().ok()?,
        digits(5..7)?,
        digits(8..10)?,
        digits(11..13)?,
        0,
        0,
        0,
    )
    .ok()
}

/// The hour of the first reading of a tank.
///
/// # Errors
/// When the database fails.
pub fn first(db: &Connection, tank: TankId) -> Result<Option<DateTime>, StoreError> {
    let hour: Option<String> = db
        .prepare_cached(FIRST)?
        .query_row(named_params! { ":tank": tank }, |row| row.get(0))?;
    Ok(hour.as_deref().and_then(read_hour))
}

/// How many readings of something there are between two moments, by whole hours.
///
/// # Errors
/// When the database fails.
pub fn many(
    db: &Connection,
    tank: TankId,
    analyte: &Analyte,
    from: DateTime,
    to: DateTime,
) -> Result<usize, StoreError> {
    let many: i64 = db.prepare_cached(MANY)?.query_row(
        named_params! { ":tank": tank, ":analyte": analyte.id, ":from": from, ":to": to },
        |row| row.get(0),
    )?;
    Ok(usize::try_from(many).unwrap_or(0))
}

/// What was ever read of a tank, in the order of the list, with how often.
///
/// # Errors
/// When the database fails.
pub fn read_of(
    db: &Connection,
    tank: TankId,
) -> Result<Vec<(&'static Analyte, usize)>, StoreError> {
    let mut statement = db.prepare_cached(READ)?;
    let rows = statement.query_map(named_params! { ":tank": tank }, |row| {
        Ok((row.get::<_, String>(0)?, row.get::<_, i64>(1)?))
    })?;
    let mut read = Vec::new();
    for row in rows {
        let (id, many) = row?;
        // What a newer version knows is not drawn by this one.
        if let Some(known) = analyte(&id) {
            read.push((known, usize::try_from(many).unwrap_or(0)));
        }
    }
    let place = |of: &Analyte| Analyte::ALL.iter().position(|known| **known == *of);
    read.sort_by_key(|(of, _)| place(of));
    Ok(read)
}
