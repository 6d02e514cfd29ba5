//! Everything in one file, in open formats: a zip with a sheet for each table, every picture, and
//! each tank as a document that other programs can read.
//!
//! ```text
//! about.json            which format this is, and of which version
//! README.txt            what each sheet and each of its columns holds
//! records/<table>.csv   every row
//! photos/               pictures, named by what is in them
//! tanks/, cases/        documents, for reading; what is taken in comes from the sheets
//! ```
//!
//! What can be computed anew (flows, hours of readings, the index of words) is not in it. A sheet has
//! the columns of its table, so a table or column that a migration adds is in it from that day on,
//! and an older file is loaded as what it was and brought up to date as a database would be.

mod cells;
mod read;
mod write;

pub(crate) use read::take_rows;
pub use read::{TakenIn, take_in};
pub use write::{Document, write};

use rusqlite::Connection;
use serde::{Deserialize, Serialize};

use crate::StoreError;

/// Tables whose rows follow from those of others: the last is kept by triggers, and never copied.
const FOLLOWS: &[&str] = &["flows", "reading_hours", KEPT_BY_TRIGGERS];
const KEPT_BY_TRIGGERS: &str = "log_stamps";
/// The index of words is a table of SQLite's, with others below it.
const INDEX: &str = "entry_words";
/// What `about.json` begins with.
const FORMAT: &str = "zesty-reed-everything";
/// The layout of the file; tables have their own version.
const LAYOUT: u32 = 1;

/// `about.json`.
#[derive(Debug, Serialize, Deserialize)]
struct About {
    format: String,
    layout: u32,
    /// The version of the tables.
    tables: usize,
    /// When it was written.
    made_at: String,
}

/// A table of records.
#[derive(Debug)]
struct Table {
    name: String,
    /// As it was made, with what is said there of its columns.
    made: String,
    columns: Vec<Column>,
}

/// A column of a table.
#[derive(Debug)]
struct Column {
    name: String,
    /// `INTEGER`, `REAL`, `TEXT`.
    kind: String,
    may_be_empty: bool,
}

/// The tables of records of a database, in the order in which they were made.
fn tables(db: &Connection) -> Result<Vec<Table>, StoreError> {
    let mut all =
        db.prepare("SELECT name, sql FROM sqlite_schema WHERE type = 'table' ORDER BY rowid")?;
    let named: Vec<(String, String)> = all
        .query_map([], |row| Ok((row.get(0)?, row.get(1)?)))?
        .collect::<Result<_, _>>()?;
    let is_record = |name: &str| {
        !name.starts_with("sqlite_") && !name.starts_with(INDEX) && !FOLLOWS.contains(&name)
    };
    named
        .into_iter()
        .filter(|(name, _)| is_record(name))
        .map(|(name, made)| {
            let mut columns =
                db.prepare("SELECT name, type, \"notnull\", pk FROM pragma_table_info(?1)")?;
            let columns = columns.query_map([&name], |row| {
                Ok(Column {
                    name: row.get(0)?,
                    kind: row.get(1)?,
                    may_be_empty: !row.get::<_, bool>(2)? && row.get::<_, i64>(3)? == 0,
                })
            })?;
            Ok(Table {
                columns: columns.collect::<Result<_, _>>()?,
                name,
                made,
            })
        })
        .collect()
}

#[cfg(test)]
mod tests;
