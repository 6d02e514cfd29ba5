//! Taking the file with everything in, where nothing is yet.

use std::cell::Cell;
use std::fs::{self, File};
use std::io::{BufReader, Read};
use std::path::{Path, PathBuf};

use rusqlite::{Connection, TransactionBehavior, params_from_iter};
use zip::ZipArchive;

use super::{About, FOLLOWS, FORMAT, KEPT_BY_TRIGGERS, LAYOUT, Table, cells, tables};
use crate::photos::{Folder, Size};
use crate::{Store, StoreError, backup, hours, migrate, tanks};

/// No row comes near this.
const LONGEST_ROW: usize = 16 * 1024 * 1024;
/// No description comes near this.
const LONGEST_ABOUT: u64 = 64 * 1024;
/// Larger pictures are never kept.
const LARGEST_PICTURE: u64 = 32 * 1024 * 1024;

/// What was taken in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct TakenIn {
    /// Tanks, those that were put away too.
    pub tanks: usize,
    /// Rows of all kinds.
    pub rows: usize,
    /// Pictures.
    pub pictures: usize,
}

/// Takes everything of a file in, all or nothing. There must be no tank yet.
///
/// # Errors
/// [`StoreError::NotTaken`] says what is wrong with the file, or that there are tanks already;
/// [`StoreError::Newer`] that a newer program wrote it.
pub fn take_in(store: &Store, archive: &Path) -> Result<TakenIn, StoreError> {
    let file = File::open(archive).map_err(|source| StoreError::file(archive, source))?;
    let mut zip = ZipArchive::new(BufReader::new(file))
        .map_err(|why| refused(format!("This is no zip file, or not a whole one ({why}).")))?;
    let about = about(&mut zip)?;
    let scratch = Scratch(store.path().with_extension("incoming"));
    scratch.clear();
    let mut db = Connection::open(&scratch.0)?;
    // It is thrown away afterwards.
    db.pragma_update(None, "journal_mode", "OFF")?;
    db.pragma_update(None, "synchronous", "OFF")?;
    db.pragma_update(None, "foreign_keys", false)?;
    migrate::to_version(&mut db, about.tables)?;
    let mut rows = 0;
    db.execute_batch("BEGIN")?;
    for table in tables(&db)? {
        rows += load(&db, &mut zip, &table)?;
    }
    db.execute_batch("COMMIT")?;
    migrate::to_latest(&mut db)?;
    hours::make_all(&db)?;
    let problems = backup::dangling(&db)?;
    if let Some(first) = problems.first() {
        return Err(refused(format!(
            "The sheets do not belong together: {first}."
        )));
    }
    let tanks = tanks::count(&db)?;
    // Before they are anybody's: an unreadable one would be known for ever.
    tanks::all_readable(&db)?;
    let pictures = pictures(&db, &mut zip, &store.photos())?;
    drop(db);
    store.take_over(&scratch.0)?;
    Ok(TakenIn {
        tanks,
        rows,
        pictures,
    })
}

fn refused(words: String) -> StoreError {
    StoreError::NotTaken(words)
}

/// A database while it is being filled; gone afterwards, whatever happens.
struct Scratch(PathBuf);

impl Scratch {
    fn clear(&self) {
        let _ = fs::remove_file(&self.0);
    }
}

impl Drop for Scratch {
    fn drop(&mut self) {
        self.clear();
    }
}

fn about(zip: &mut ZipArchive<BufReader<File>>) -> Result<About, StoreError> {
    let not_ours = || {
        refused("This zip file was not written by “everything in one file”: it has no about.json of that kind.".to_owned())
    };
    let entry = zip.by_name("about.json").map_err(|_| not_ours())?;
    let about: About =
        serde_json::from_reader(entry.take(LONGEST_ABOUT)).map_err(|_| not_ours())?;
    if about.format != FORMAT {
        return Err(not_ours());
    }
    if about.layout > LAYOUT || about.tables > migrate::latest() {
        return Err(StoreError::Newer);
    }
    Ok(about)
}

/// Fills a table with its sheet; how many rows.
fn load(
    db: &Connection,
    zip: &mut ZipArchive<BufReader<File>>,
    table: &Table,
) -> Result<usize, StoreError> {
    let name = format!("records/{}.csv", table.name);
    let entry = zip
        .by_name(&name)
        .map_err(|why| refused(format!("{name} is missing or cannot be read ({why}).")))?;
    let since_row = Cell::new(0);
    let limited = Limited {
        from: entry,
        since_row: &since_row,
    };
    let mut sheet = csv::Reader::from_reader(limited);
    let wrong = |why: csv::Error| refused(format!("{name}: {why}."));
    let columns: Vec<String> = table
        .columns
        .iter()
        .map(|column| column.name.clone())
        .collect();
    let found = sheet.headers().map_err(wrong)?.clone();
    if found != columns {
        return Err(refused(format!(
            "{name} has the columns “{}”; “{}” are expected.",
            found.iter().collect::<Vec<_>>().join(", "),
            columns.join(", ")
        )));
    }
    let places = vec!["?"; columns.len()].join(", ");
    let mut insert = db.prepare(&format!(
        "INSERT INTO {} ({}) VALUES ({places})",
        table.name,
        columns.join(", ")
    ))?;
    let mut record = csv::StringRecord::new();
    let mut rows = 0;
    while sheet.read_record(&mut record).map_err(wrong)? {
        since_row.set(0);
        rows += 1;
        let line = record.position().map_or(0, csv::Position::line);
        let values = table.columns.iter().zip(&record).map(|(column, cell)| {
            cells::value(column, cell).map_err(|accepted| {
                refused(format!(
                    "{name}, line {line}, {}: “{cell}” is not {accepted}.",
                    column.name
                ))
            })
        });
        let values: Vec<_> = values.collect::<Result<_, _>>()?;
        insert
            .execute(params_from_iter(values))
            .map_err(|why| refused(format!("{name}, line {line}: {why}.")))?;
    }
    Ok(rows)
}

/// Bytes until too many came without the end of a row.
struct Limited<'a, R> {
    from: R,
    since_row: &'a Cell<usize>,
}

impl<R: Read> Read for Limited<'_, R> {
    fn read(&mut self, into: &mut [u8]) -> std::io::Result<usize> {
        let read = self.from.read(into)?;
        self.since_row.set(self.since_row.get() + read);
        if self.since_row.get() > LONGEST_ROW {
            return Err(std::io::Error::other("a row is longer than any can be"));
        }
        Ok(read)
    }
}

/// Puts the pictures that rows speak of where they belong; how many.
fn pictures(
    db: &Connection,
    zip: &mut ZipArchive<BufReader<File>>,
    folder: &Folder,
) -> Result<usize, StoreError> {
    let mut named = db.prepare("SELECT DISTINCT file FROM photos")?;
    let named: Vec<String> = named
        .query_map([], |row| row.get(0))?
        .collect::<Result<_, _>>()?;
    let mut pictures = 0;
    for name in named {
        if !(name.len() == 64 && name.bytes().all(|digit| digit.is_ascii_hexdigit())) {
            return Err(refused(format!(
                "records/photos.csv: “{name}” is no name of a picture."
            )));
        }
        let mut bytes_of = |size| {
            let entry = zip.by_name(&format!("photos/{}", Folder::name(&name, size)));
            let mut bytes = Vec::new();
            // What was lost before it was written is not there to take in.
            let entry = entry.ok()?;
            let read = entry.take(LARGEST_PICTURE).read_to_end(&mut bytes);
            read.is_ok().then_some(bytes)
        };
        if let (Some(full), Some(small)) = (bytes_of(Size::Full), bytes_of(Size::Small)) {
            if !folder.put_named(&name, &full, &small)? {
                return Err(refused(format!(
                    "photos/{name}.jpg is not the picture that was written: its name says what is in it."
                )));
            }
            pictures += 1;
        }
    }
    Ok(pictures)
}

/// Has the rows of the attached database `other` for its own.
pub(crate) fn take_rows(db: &mut Connection) -> Result<(), StoreError> {
    let transaction = db.transaction_with_behavior(TransactionBehavior::Immediate)?;
    if tanks::count(&transaction)? > 0 {
        return Err(refused(
            "There are tanks here already. Everything in one file goes where nothing is yet: start Zesty Reed with another folder (--data) and take it in there.".to_owned(),
        ));
    }
    transaction.pragma_update(None, "defer_foreign_keys", true)?;
    let tables = tables(&transaction)?;
    for table in &tables {
        transaction.execute(&format!("DELETE FROM main.{}", table.name), [])?;
    }
    let follow = FOLLOWS
        .iter()
        .copied()
        .filter(|name| *name != KEPT_BY_TRIGGERS);
    for name in tables.iter().map(|table| &*table.name).chain(follow) {
        transaction.execute(
            &format!("INSERT INTO main.{name} SELECT * FROM other.{name}"),
            [],
        )?;
    }
    Ok(transaction.commit()?)
}
