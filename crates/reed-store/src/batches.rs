//! What was brought in from a file at once: taken as a whole, and taken back as a whole.

use jiff::Timestamp;
use reed_core::log::Entry;
use reed_core::log::sheet::Row as SheetRow;
use reed_core::tank::Reading;
use rusqlite::{Connection, named_params};

use crate::entries::{kept_details, kept_on};
use crate::{BatchId, StoreError, TankId, hours};

const NEW: &str = "INSERT INTO batches (tank_id, name, made_at) VALUES (:tank, :name, :now)";
const HAS_READING: &str = "
    SELECT 1 FROM readings WHERE tank_id = :tank AND analyte = :analyte AND taken_at = :at AND abs(value - :value) < 1e-9 LIMIT 1";
const HAS_ENTRY: &str = "
    SELECT 1 FROM entries WHERE tank_id = :tank AND happening = :happening AND to_at = :to AND from_at = :from
    AND on_what = :on AND amount IS :amount AND note = :note LIMIT 1";
const ADD_READING: &str = "
    INSERT INTO readings (tank_id, analyte, value, spread, kit, taken_at, entered_at, struck_at, batch_id)
    VALUES (:tank, :analyte, :value, :spread, :kit, :at, :now, :struck, :batch)";
const ADD_ENTRY: &str = "
    INSERT INTO entries (tank_id, happening, from_at, to_at, on_what, amount, note, details, made_at, struck_at, batch_id)
    VALUES (:tank, :happening, :from, :to, :on, :amount, :note, :details, :now, :struck, :batch)";
const OF_TANK: &str = "
    SELECT id, name, made_at,
        (SELECT count(*) FROM readings WHERE batch_id = batches.id) + (SELECT count(*) FROM entries WHERE batch_id = batches.id)
    FROM batches WHERE tank_id = :tank ORDER BY id DESC";
const IS_OF_TANK: &str = "SELECT 1 FROM batches WHERE id = :batch AND tank_id = :tank";
/// What something else hangs on is struck out; the rest goes.
const STRIKE_USED: &str = "
    UPDATE readings SET struck_at = :now, batch_id = NULL
    WHERE batch_id = :batch AND id IN (SELECT reading_id FROM proofs)";
const DROP_READINGS: &str = "DELETE FROM readings WHERE batch_id = :batch";
const STRIKE_BUILT_ON: &str = "
    UPDATE entries SET struck_at = coalesce(struck_at, :now), batch_id = NULL
    WHERE batch_id = :batch
    AND (id IN (SELECT replaces FROM entries) OR id IN (SELECT entry_id FROM photos))";
const DROP_WORDS: &str = "
    INSERT INTO entry_words (entry_words, rowid, note) SELECT 'delete', id, note FROM entries
    WHERE batch_id = :batch AND note <> ''";
const DROP_ENTRIES: &str = "DELETE FROM entries WHERE batch_id = :batch";
const DROP: &str = "DELETE FROM batches WHERE id = :batch";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[
    NEW,
    HAS_READING,
    HAS_ENTRY,
    ADD_READING,
    ADD_ENTRY,
    OF_TANK,
    IS_OF_TANK,
    STRIKE_USED,
    DROP_READINGS,
    STRIKE_BUILT_ON,
    DROP_WORDS,
    DROP_ENTRIES,
    DROP,
];

/// A batch, as it stands.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Batch {
    /// Its number.
    pub id: BatchId,
    /// The name of the file.
    pub name: String,
    /// When it was brought in.
    pub made_at: Timestamp,
    /// Readings and entries of it that are there.
    pub rows: i64,
}

/// What came of a file.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Taken {
    /// Under which number.
    pub batch: BatchId,
    /// Readings and entries that were stored.
    pub stored: usize,
    /// Those that were there already.
    pub known: usize,
}

/// Takes rows in. `go_on` hears after every few hundred how many were looked at, and says whether
/// to go on; when not, nothing is stored.
///
/// # Errors
/// [`StoreError::Stopped`] when it was stopped; when there is no such tank or the database fails.
pub fn take(
    db: &Connection,
    tank: TankId,
    name: &str,
    rows: impl Iterator<Item = SheetRow>,
    now: Timestamp,
    go_on: &dyn Fn(usize) -> bool,
) -> Result<Taken, StoreError> {
    const EVERY: usize = 512;
    db.prepare_cached(NEW)?
        .execute(named_params! { ":tank": tank, ":name": name, ":now": now })?;
    let mut taken = Taken {
        batch: BatchId(db.last_insert_rowid()),
        stored: 0,
        known: 0,
    };
    for row in rows {
        let looked_at = taken.stored + taken.known;
        if looked_at.is_multiple_of(EVERY) && !go_on(looked_at) {
            return Err(StoreError::Stopped);
        }
        let is_new = match row {
            SheetRow::Reading(reading, struck) => {
                let struck = struck.then_some(now);
                add_reading(db, tank, taken.batch, &reading, now, struck)?
            }
            SheetRow::Entry(entry, struck) => {
                let struck = struck.then_some(now);
                add_entry(db, tank, taken.batch, &entry, now, struck)?
            }
        };
        if is_new {
            taken.stored += 1;
        } else {
            taken.known += 1;
        }
    }
    hours::refresh_batch(db, tank, taken.batch, true)?;
    if taken.stored == 0 {
        db.prepare_cached(DROP)?
            .execute(named_params! { ":batch": taken.batch })?;
    }
    Ok(taken)
}

/// Stores a reading, unless it is there; whether it was new.
fn add_reading(
    db: &Connection,
    tank: TankId,
    batch: BatchId,
    reading: &Reading,
    now: Timestamp,
    struck: Option<Timestamp>,
) -> Result<bool, StoreError> {
    let is_there = db.prepare_cached(HAS_READING)?.exists(named_params! {
        ":tank": tank, ":analyte": reading.analyte.id, ":at": reading.taken_at, ":value": reading.value,
    })?;
    if is_there {
        return Ok(false);
    }
    db.prepare_cached(ADD_READING)?.execute(named_params! {
        ":tank": tank, ":analyte": reading.analyte.id, ":value": reading.value, ":spread": reading.spread,
        ":kit": reading.kit.map(|kit| kit.id), ":at": reading.taken_at, ":now": now, ":struck": struck, ":batch": batch,
    })?;
    Ok(true)
}

/// Stores an entry, unless it is there; whether it was new.
fn add_entry(
    db: &Connection,
    tank: TankId,
    batch: BatchId,
    entry: &Entry,
    now: Timestamp,
    struck: Option<Timestamp>,
) -> Result<bool, StoreError> {
    let on = kept_on(&entry.on);
    let is_there = db.prepare_cached(HAS_ENTRY)?.exists(named_params! {
        ":tank": tank, ":happening": entry.happening, ":from": entry.when.from, ":to": entry.when.to,
        ":on": on, ":amount": entry.amount, ":note": entry.note,
    })?;
    if is_there {
        return Ok(false);
    }
    let details = kept_details(&entry.details);
    db.prepare_cached(ADD_ENTRY)?.execute(named_params! {
        ":tank": tank, ":happening": entry.happening, ":from": entry.when.from, ":to": entry.when.to,
        ":on": on, ":amount": entry.amount, ":note": entry.note, ":details": details,
        ":now": now, ":struck": struck, ":batch": batch,
    })?;
    Ok(true)
}

/// What was brought in for a tank and is still there, the latest first.
///
/// # Errors
/// When the database fails.
pub fn of_tank(db: &Connection, tank: TankId) -> Result<Vec<Batch>, StoreError> {
    let mut statement = db.prepare_cached(OF_TANK)?;
    let rows = statement.query_map(named_params! { ":tank": tank }, |row| {
        Ok(Batch {
            id: row.get(0)?,
            name: row.get(1)?,
            made_at: row.get(2)?,
            rows: row.get(3)?,
        })
    })?;
    Ok(rows.collect::<Result<_, _>>()?)
}

/// Takes back all of it. What a proof hangs on, a correction or a photo, stays, struck out.
///
/// # Errors
/// When the tank has no such batch or the database fails.
pub fn undo(
    db: &Connection,
    tank: TankId,
    batch: BatchId,
    now: Timestamp,
) -> Result<(), StoreError> {
    let is_of_tank = db
        .prepare_cached(IS_OF_TANK)?
        .exists(named_params! { ":batch": batch, ":tank": tank })?;
    if !is_of_tank {
        return Err(StoreError::NotFound {
            what: "file brought in",
            id: batch.0,
        });
    }
    hours::refresh_batch(db, tank, batch, false)?;
    for dated in [STRIKE_USED, STRIKE_BUILT_ON] {
        db.prepare_cached(dated)?
            .execute(named_params! { ":batch": batch, ":now": now })?;
    }
    for plain in [DROP_READINGS, DROP_WORDS, DROP_ENTRIES, DROP] {
        db.prepare_cached(plain)?
            .execute(named_params! { ":batch": batch })?;
    }
    Ok(())
}
