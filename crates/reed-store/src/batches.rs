//! What was brought in from a file at once: taken as a whole, and taken back as a whole.

use std::collections::HashSet;

use jiff::Timestamp;
use jiff::civil::DateTime;
use reed_core::log::Entry;
use reed_core::log::sheet::Row as SheetRow;
use reed_core::tank::{Reading, analyte};
use rusqlite::{Connection, Statement, named_params, params};

use crate::entries::{kept_details, kept_on};
use crate::error::untraced;
use crate::hours::Hours;
use crate::{BatchId, StoreError, TankId, hours};

const NEW: &str = "INSERT INTO batches (tank_id, name, made_at) VALUES (:tank, :name, :now)";
const READINGS_THERE: &str = "
    SELECT analyte, taken_at, value FROM readings WHERE tank_id = ?1 AND taken_at BETWEEN ?2 AND ?3";
const ENTRIES_THERE: &str = "
    SELECT happening, from_at, to_at, on_what, amount, note FROM entries WHERE tank_id = ?1 AND to_at BETWEEN ?2 AND ?3";
const ADD_READING: &str = "
    INSERT INTO readings (tank_id, analyte, value, spread, kit, taken_at, entered_at, struck_at, batch_id)
    VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9)";
const ADD_ENTRY: &str = "
    INSERT INTO entries (tank_id, happening, from_at, to_at, on_what, amount, note, details, made_at, struck_at, batch_id)
    VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10, ?11)";
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
    READINGS_THERE,
    ENTRIES_THERE,
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

/// Rows between which `go_on` is asked.
const EVERY: usize = 512;
/// Rows that are compared with what is there at once.
const COMPARED: usize = 50_000;

/// Takes rows in. `go_on` hears after every few hundred how many of them are done, and says whether
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
    let asked = |done: usize| {
        if done.is_multiple_of(EVERY) && !go_on(done / 2) {
            Err(StoreError::Stopped)
        } else {
            Ok(())
        }
    };
    // Half of the work is to make sense of the rows; they are all known before one is stored, so
    // that they can be stored in the order of time, in which every index grows at its end.
    let mut sorted = Vec::new();
    for row in rows {
        asked(sorted.len())?;
        sorted.push(row);
    }
    sorted.sort_by_key(until);
    db.prepare_cached(NEW)?
        .execute(named_params! { ":tank": tank, ":name": name, ":now": now })?;
    let mut taker = Taker {
        tank,
        batch: BatchId(db.last_insert_rowid()),
        now: now.to_string(),
        add_reading: db.prepare(ADD_READING)?,
        add_entry: db.prepare(ADD_ENTRY)?,
        hours: Hours::new(tank),
        stored: 0,
    };
    let read = sorted.len();
    untraced(db, || {
        for (chunk, rows) in sorted.chunks(COMPARED).enumerate() {
            let mut there = There::between(db, tank, rows)?;
            for (index, row) in rows.iter().enumerate() {
                asked(read + COMPARED * chunk + index)?;
                match row {
                    SheetRow::Reading(reading, struck) => {
                        if there.is_new_reading(reading) {
                            taker.reading(reading, *struck)?;
                        }
                    }
                    SheetRow::Entry(entry, struck) => {
                        let on = kept_on(&entry.on);
                        if there.is_new_entry(entry, &on) {
                            taker.entry(entry, &on, *struck)?;
                        }
                    }
                }
            }
        }
        taker.hours.add_to(db)
    })?;
    if taker.stored == 0 {
        db.prepare_cached(DROP)?
            .execute(named_params! { ":batch": taker.batch })?;
    }
    Ok(Taken {
        batch: taker.batch,
        stored: taker.stored,
        known: read - taker.stored,
    })
}

/// The moment by which a row is found again.
fn until(row: &SheetRow) -> DateTime {
    match row {
        SheetRow::Reading(reading, _) => reading.taken_at,
        SheetRow::Entry(entry, _) => entry.when.to,
    }
}

/// What is there already of a time.
struct There {
    readings: HashSet<(&'static str, DateTime, i64)>,
    entries: HashSet<EntryKey>,
}

/// All that makes two entries the same one.
type EntryKey = (String, DateTime, DateTime, String, Option<u64>, String);

impl There {
    /// What is there between the first and the last of these rows, which are in the order of time.
    fn between(db: &Connection, tank: TankId, rows: &[SheetRow]) -> Result<Self, StoreError> {
        let mut there = Self {
            readings: HashSet::new(),
            entries: HashSet::new(),
        };
        let (Some(first), Some(last)) = (rows.first(), rows.last()) else {
            return Ok(there);
        };
        let span = params![tank, until(first), until(last)];
        let mut statement = db.prepare_cached(READINGS_THERE)?;
        let mut kept = statement.query(span)?;
        while let Some(row) = kept.next()? {
            // What this program does not know it cannot bring in either.
            if let Some(known) = analyte(row.get_ref(0)?.as_str().unwrap_or_default()) {
                there
                    .readings
                    .insert((known.id, row.get(1)?, comparable(row.get(2)?)));
            }
        }
        let mut statement = db.prepare_cached(ENTRIES_THERE)?;
        let mut kept = statement.query(span)?;
        while let Some(row) = kept.next()? {
            let amount: Option<f64> = row.get(4)?;
            there.entries.insert((
                row.get(0)?,
                row.get(1)?,
                row.get(2)?,
                row.get(3)?,
                amount.map(f64::to_bits),
                row.get(5)?,
            ));
        }
        Ok(there)
    }

    /// It is not there; from now on it is.
    fn is_new_reading(&mut self, reading: &Reading) -> bool {
        let value = comparable(reading.value);
        self.readings
            .insert((reading.analyte.id, reading.taken_at, value))
    }

    fn is_new_entry(&mut self, entry: &Entry, on: &str) -> bool {
        self.entries.insert((
            entry.happening.clone(),
            entry.when.from,
            entry.when.to,
            on.to_owned(),
            entry.amount.map(f64::to_bits),
            entry.note.clone(),
        ))
    }
}

/// A value, so that it is the same after it went through another unit and back.
#[expect(
    clippy::cast_possible_truncation,
    reason = "values are bounded by their analyte"
)]
fn comparable(value: f64) -> i64 {
    (value * 1e8).round() as i64
}

/// What stores rows one after another.
struct Taker<'db> {
    tank: TankId,
    batch: BatchId,
    now: String,
    add_reading: Statement<'db>,
    add_entry: Statement<'db>,
    hours: Hours,
    stored: usize,
}

impl Taker<'_> {
    fn reading(&mut self, reading: &Reading, is_struck: bool) -> Result<(), StoreError> {
        let struck = is_struck.then_some(self.now.as_str());
        let at = reading.taken_at.to_string();
        if !is_struck {
            self.hours.count(reading, &at);
        }
        self.add_reading.execute(params![
            self.tank,
            reading.analyte.id,
            reading.value,
            reading.spread,
            reading.kit.map(|kit| kit.id),
            at,
            self.now,
            struck,
            self.batch
        ])?;
        self.stored += 1;
        Ok(())
    }

    fn entry(&mut self, entry: &Entry, on: &str, is_struck: bool) -> Result<(), StoreError> {
        let details = kept_details(&entry.details);
        let struck = is_struck.then_some(self.now.as_str());
        self.add_entry.execute(params![
            self.tank,
            entry.happening,
            entry.when.from,
            entry.when.to,
            on,
            entry.amount,
            entry.note,
            details,
            self.now,
            struck,
            self.batch
        ])?;
        self.stored += 1;
        Ok(())
    }
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
    StoreError::readable(rows.map(|row| Ok(row?)))
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
    hours::without_batch(db, tank, batch)?;
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
