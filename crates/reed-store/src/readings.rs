//! Readings of a tank. One that is withdrawn stays, struck out.

use jiff::Timestamp;
use jiff::civil::DateTime;
use reed_core::tank::{Analyte, Reading, analyte, kit};
use rusqlite::types::Value;
use rusqlite::{Connection, Row, named_params};

use crate::{DeviceId, Page, ReadingId, StoreError, TankId, hours};

const ADD: &str = "
    INSERT INTO readings (tank_id, analyte, value, spread, kit, taken_at, entered_at)
    VALUES (:tank, :analyte, :value, :spread, :kit, :taken, :now)";
const SINCE: &str = "
    SELECT id, analyte, value, spread, kit, taken_at, struck_at, entered_at FROM readings
    WHERE tank_id = :tank AND taken_at >= :since ORDER BY taken_at, id";
const LAST_BEFORE: &str = "
    SELECT id, analyte, value, spread, kit, taken_at, struck_at, entered_at FROM readings
    WHERE tank_id = :tank AND analyte = :analyte AND taken_at < :before AND struck_at IS NULL
    ORDER BY taken_at DESC, id DESC";
const BETWEEN: &str = "
    SELECT id, analyte, value, spread, kit, taken_at, struck_at, entered_at FROM readings
    WHERE tank_id = :tank AND analyte = :analyte AND taken_at BETWEEN :from AND :to AND struck_at IS NULL
    ORDER BY taken_at, id";
const LATEST_SINCE: &str = "
    SELECT id, analyte, value, spread, kit, taken_at, struck_at, entered_at FROM readings
    WHERE tank_id = :tank AND taken_at >= :since AND struck_at IS NULL
    ORDER BY taken_at DESC, id DESC LIMIT :most";
const LATEST_OF: &str = "
    SELECT id, analyte, value, spread, kit, taken_at, struck_at, entered_at FROM readings
    WHERE tank_id = :tank AND analyte = :analyte AND taken_at >= :since AND taken_at < :until
    ORDER BY taken_at DESC, id DESC LIMIT :most";
const LATEST_FEW: &str = "
    SELECT id, analyte, value, spread, kit, taken_at, struck_at, entered_at FROM readings
    WHERE tank_id = :tank AND analyte = :analyte AND struck_at IS NULL
    ORDER BY taken_at DESC, id DESC LIMIT :most";
const FIND: &str = "
    SELECT id, analyte, value, spread, kit, taken_at, struck_at, entered_at FROM readings
    WHERE tank_id = :tank AND id = :reading";
const SET_STRUCK: &str = "UPDATE readings SET struck_at = :struck WHERE id = :reading AND tank_id = :tank RETURNING analyte, taken_at";

/// Every row, for whoever looks through all of them.
pub(crate) const EVERY: &str =
    "SELECT id, analyte, value, spread, kit, taken_at, struck_at, entered_at FROM readings";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[
    EVERY,
    ADD,
    SINCE,
    BETWEEN,
    LATEST_SINCE,
    LATEST_OF,
    LATEST_FEW,
    FIND,
    LAST_BEFORE,
    SET_STRUCK,
];

/// Nobody reads one thing more often by hand in the months that are learned from.
const BY_HAND: usize = 150;

/// Of a probe one day in so many counts.
const EVERY_DAYS: usize = 3;

/// A reading as stored.
#[derive(Clone, Debug, PartialEq)]
pub struct Stored {
    /// Its number.
    pub id: ReadingId,
    /// What was read.
    pub reading: Reading,
    /// When it was entered.
    pub entered_at: Timestamp,
    /// When the keeper withdrew it.
    pub struck_at: Option<Timestamp>,
}

impl Stored {
    /// The keeper has withdrawn it.
    pub const fn is_struck(&self) -> bool {
        self.struck_at.is_some()
    }
}

pub(crate) fn from_row(row: &Row<'_>) -> Result<Stored, StoreError> {
    let id: ReadingId = row.get(0)?;
    let analyte_id: String = row.get(1)?;
    let analyte = analyte(&analyte_id).ok_or_else(|| {
        StoreError::unreadable(
            format!("reading {id}"),
            format!("“{analyte_id}” is not known"),
        )
    })?;
    let kit_id: Option<String> = row.get(4)?;
    let reading = Reading {
        analyte,
        value: row.get(2)?,
        spread: row.get(3)?,
        taken_at: row.get(5)?,
        kit: kit_id.as_deref().and_then(kit::by_id),
    };
    Ok(Stored {
        id,
        reading,
        entered_at: row.get(7)?,
        struck_at: row.get(6)?,
    })
}

/// Enters a reading.
///
/// # Errors
/// When there is no such tank or the database fails.
pub fn add(
    db: &Connection,
    tank: TankId,
    reading: &Reading,
    now: Timestamp,
) -> Result<ReadingId, StoreError> {
    crate::tanks::latest(db, tank)?;
    db.prepare_cached(ADD)?.execute(named_params! {
        ":tank": tank, ":analyte": reading.analyte.id, ":value": reading.value, ":spread": reading.spread,
        ":kit": reading.kit.map(|kit| kit.id), ":taken": reading.taken_at, ":now": now,
    })?;
    let id = ReadingId(db.last_insert_rowid());
    hours::refresh(db, tank, reading.analyte.id, reading.taken_at)?;
    Ok(id)
}

/// The readings of a tank since a moment, struck ones too, oldest first.
///
/// # Errors
/// When the database fails.
pub fn since(db: &Connection, tank: TankId, since: DateTime) -> Result<Vec<Stored>, StoreError> {
    StoreError::readable(
        db.prepare_cached(SINCE)?
            .query_and_then(named_params! { ":tank": tank, ":since": since }, from_row)?,
    )
}

/// The latest reading of an analyte that was not struck.
///
/// # Errors
/// When the database fails.
pub fn latest(db: &Connection, tank: TankId, analyte: &str) -> Result<Option<Stored>, StoreError> {
    last_before(db, tank, analyte, DateTime::MAX)
}

/// The last reading of an analyte before a moment that was not struck.
///
/// # Errors
/// When the database fails.
pub fn last_before(
    db: &Connection,
    tank: TankId,
    analyte: &str,
    before: DateTime,
) -> Result<Option<Stored>, StoreError> {
    let mut statement = db.prepare_cached(LAST_BEFORE)?;
    let rows = statement.query_and_then(
        named_params! { ":tank": tank, ":analyte": analyte, ":before": before },
        from_row,
    )?;
    StoreError::first_readable(rows)
}

/// By whom something was read.
#[derive(Clone, Copy, Debug)]
pub enum By {
    /// By hand, or brought in from a file.
    Hand,
    /// By this device.
    Device(DeviceId),
}

/// The latest readings of a tank up to a moment, the latest first, struck ones too; of these
/// analytes alone, where they are named. Those of what is not known come in no such list.
///
/// # Errors
/// When the database fails.
pub fn page(
    db: &Connection,
    tank: TankId,
    by: By,
    only: Option<&[&'static str]>,
    until: DateTime,
    most: usize,
) -> Result<Page<Stored>, StoreError> {
    let mut sql = format!("{EVERY} WHERE tank_id = ? AND taken_at <= ?");
    let mut values: Vec<Value> = vec![tank.0.into(), until.to_string().into()];
    match by {
        By::Hand => sql += " AND device_id IS NULL",
        By::Device(device) => {
            sql += " AND device_id = ?";
            values.push(device.0.into());
        }
    }
    if let Some(only) = only {
        sql += &format!(" AND analyte IN ({})", vec!["?"; only.len()].join(", "));
        values.extend(only.iter().map(|id| Value::from((*id).to_owned())));
    }
    // In the order in which each is indexed: a device's moments are those of the wall, in its zone.
    sql += match by {
        By::Hand => " ORDER BY taken_at DESC, id DESC LIMIT ?",
        By::Device(_) => " ORDER BY device_at DESC, id DESC LIMIT ?",
    };
    values.push(i64::try_from(most).unwrap_or(i64::MAX).into());
    StoreError::sorted_out(
        db.prepare_cached(&sql)?
            .query_and_then(rusqlite::params_from_iter(values), from_row)?,
    )
}

/// The readings of one thing between two moments that are not withdrawn, oldest first.
///
/// # Errors
/// When the database fails.
pub fn between(
    db: &Connection,
    tank: TankId,
    analyte: &Analyte,
    from: DateTime,
    to: DateTime,
) -> Result<Vec<Stored>, StoreError> {
    StoreError::readable(db.prepare_cached(BETWEEN)?.query_and_then(
        named_params! { ":tank": tank, ":analyte": analyte.id, ":from": from, ":to": to },
        from_row,
    )?)
}

/// The latest readings of a tank since a moment that are not withdrawn, oldest first.
///
/// # Errors
/// When the database fails.
pub fn latest_since(
    db: &Connection,
    tank: TankId,
    since: DateTime,
    most: usize,
) -> Result<Vec<Stored>, StoreError> {
    let most = i64::try_from(most).unwrap_or(i64::MAX);
    let mut latest = StoreError::readable(db.prepare_cached(LATEST_SINCE)?.query_and_then(
        named_params! { ":tank": tank, ":since": since, ":most": most },
        from_row,
    )?)?;
    latest.reverse();
    Ok(latest)
}

/// Of each thing the latest readings from a moment on and before another, struck ones too, oldest
/// first. A hand never
/// reads so much that one is left out; of a probe that reads every minute the last of them say what
/// the page wants to know.
///
/// # Errors
/// When the database fails.
pub fn latest_of_each(
    db: &Connection,
    tank: TankId,
    (since, until): (DateTime, DateTime),
    most: usize,
) -> Result<Vec<Stored>, StoreError> {
    let most = i64::try_from(most).unwrap_or(i64::MAX);
    let mut latest = Vec::new();
    for analyte in Analyte::ALL {
        let mut statement = db.prepare_cached(LATEST_OF)?;
        let rows = statement.query_and_then(
            named_params! { ":tank": tank, ":analyte": analyte.id, ":since": since, ":until": until, ":most": most },
            from_row,
        )?;
        latest.extend(StoreError::readable(rows)?);
    }
    latest.sort_by_key(|stored| (stored.reading.taken_at, stored.id));
    Ok(latest)
}

/// Of each of some things the latest readings that stand, latest first.
///
/// # Errors
/// When the database fails.
pub fn latest_few(
    db: &Connection,
    tank: TankId,
    analytes: &[&'static Analyte],
    most: usize,
) -> Result<Vec<Stored>, StoreError> {
    let most = i64::try_from(most).unwrap_or(i64::MAX);
    let mut latest = Vec::new();
    let mut statement = db.prepare_cached(LATEST_FEW)?;
    for analyte in analytes {
        let row = named_params! { ":tank": tank, ":analyte": analyte.id, ":most": most };
        latest.extend(StoreError::readable(
            statement.query_and_then(row, from_row)?,
        )?);
    }
    Ok(latest)
}

/// One reading.
///
/// # Errors
/// When the tank has no such reading or the database fails.
pub fn find(db: &Connection, tank: TankId, id: ReadingId) -> Result<Stored, StoreError> {
    let mut statement = db.prepare_cached(FIND)?;
    let mut rows = statement.query(named_params! { ":tank": tank, ":reading": id })?;
    match rows.next()? {
        Some(row) => from_row(row),
        None => Err(StoreError::NotFound {
            what: "reading",
            id: id.0,
        }),
    }
}

/// What models learn from: of each thing every reading since a moment that is not withdrawn; where
/// it is read more often than by hand, the mean of every third day. The readings of a probe err
/// together: a thousand of them know no more than their probe.
///
/// # Errors
/// When the database fails.
pub fn to_learn_from(
    db: &Connection,
    tank: TankId,
    since: DateTime,
) -> Result<Vec<Reading>, StoreError> {
    let mut all = Vec::new();
    for (analyte, _) in hours::read_of(db, tank)? {
        if hours::many(db, tank, analyte, since, DateTime::MAX)? <= BY_HAND {
            let stored = between(db, tank, analyte, since, DateTime::MAX)?;
            all.extend(stored.into_iter().map(|stored| stored.reading));
            continue;
        }
        let Some(latest) = latest(db, tank, analyte.id)? else {
            continue;
        };
        let hours = hours::between(db, tank, analyte, since, DateTime::MAX)?;
        let days = hours.chunk_by(|one, other| one.from.date() == other.from.date());
        all.extend(
            days.step_by(EVERY_DAYS)
                .filter_map(hours::Hour::mean_of)
                .map(|(value, at)| Reading {
                    value,
                    taken_at: at.min(latest.reading.taken_at),
                    ..latest.reading.clone()
                }),
        );
    }
    all.sort_by_key(|reading| reading.taken_at);
    Ok(all)
}

/// Strikes a reading of a tank out, or takes it back with `None`.
///
/// # Errors
/// When the tank has no such reading or the database fails.
pub fn set_struck(
    db: &Connection,
    tank: TankId,
    id: ReadingId,
    struck: Option<Timestamp>,
) -> Result<(), StoreError> {
    let changed = db.prepare_cached(SET_STRUCK)?.query_row(
        named_params! { ":reading": id, ":tank": tank, ":struck": struck },
        |row| Ok((row.get::<_, String>(0)?, row.get(1)?)),
    );
    let (analyte, at) = StoreError::found(changed, "reading", id.0)?;
    hours::refresh(db, tank, &analyte, at)
}
