//! All records together: how many, and which of them cannot be read.

use rusqlite::{Connection, Row};

use crate::{StoreError, choices, drift_trials, entries, plans, readings, tanks, tries};

const COUNTS: &str = "
    SELECT (SELECT count(*) FROM tanks), (SELECT count(*) FROM cases), (SELECT count(*) FROM readings),
           (SELECT count(*) FROM entries), (SELECT count(*) FROM photos)";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[COUNTS];

/// How much is kept, withdrawn rows too.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Kept {
    /// Tanks, those that were put away too.
    pub tanks: i64,
    /// Cases.
    pub cases: i64,
    /// Readings.
    pub readings: i64,
    /// Entries of the log.
    pub entries: i64,
    /// Photos.
    pub photos: i64,
}

/// How much is kept.
///
/// # Errors
/// When the database fails.
pub fn kept(db: &Connection) -> Result<Kept, StoreError> {
    Ok(db.query_row(COUNTS, [], |row| {
        Ok(Kept {
            tanks: row.get(0)?,
            cases: row.get(1)?,
            readings: row.get(2)?,
            entries: row.get(3)?,
            photos: row.get(4)?,
        })
    })?)
}

/// What is wrong with each row that this program cannot read. Reads every row.
///
/// # Errors
/// When the database fails.
pub fn unreadable(db: &Connection) -> Result<Vec<String>, StoreError> {
    let mut all = of_rows(db, tanks::EVERY, tanks::from_row)?;
    all.extend(of_rows(db, readings::EVERY, readings::from_row)?);
    all.extend(of_rows(db, entries::EVERY, entries::from_row)?);
    all.extend(of_rows(db, choices::EVERY, choices::from_row)?);
    all.extend(of_rows(db, plans::EVERY, plans::from_row)?);
    all.extend(of_rows(db, tries::EVERY, tries::from_row)?);
    all.extend(of_rows(db, drift_trials::EVERY, drift_trials::from_row)?);
    Ok(all)
}

fn of_rows<T>(
    db: &Connection,
    every: &str,
    from_row: impl Fn(&Row<'_>) -> Result<T, StoreError>,
) -> Result<Vec<String>, StoreError> {
    let mut statement = db.prepare(every)?;
    let mut rows = statement.query([])?;
    let mut unreadable = Vec::new();
    while let Some(row) = rows.next()? {
        match from_row(row) {
            Err(error) if error.is_of_one_row() => unreadable.push(error.in_full()),
            other => drop(other?),
        }
    }
    Ok(unreadable)
}
