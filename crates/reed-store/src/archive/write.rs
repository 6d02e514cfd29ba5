//! Writing the file with everything.

use std::collections::BTreeSet;
use std::fmt::Write as _;
use std::io::Write;
use std::path::Path;

use jiff::Timestamp;
use reed_core::tank::Analyte;
use rusqlite::Connection;
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipWriter};

use super::{About, FORMAT, LAYOUT, Table, cells, tables};
use crate::photos::{Folder, Size};
use crate::{StoreError, migrate};

/// A document for other programs.
#[derive(Clone, Debug)]
pub struct Document {
    /// Where it lies in the file, such as `tanks/1-reading-room.reed.json`.
    pub name: String,
    /// What is in it.
    pub text: String,
}

/// Writes everything as one zip file, front to back: `out` may be a connection.
///
/// # Errors
/// When the database or a picture cannot be read, or nothing more can be written.
pub fn write(
    db: &Connection,
    photos: &Folder,
    documents: &[Document],
    now: Timestamp,
    out: impl Write,
) -> Result<(), StoreError> {
    let packed = SimpleFileOptions::default()
        .compression_method(CompressionMethod::Deflated)
        .large_file(true);
    let mut zip = ZipWriter::new_stream(out);
    let about = About {
        format: FORMAT.to_owned(),
        layout: LAYOUT,
        tables: migrate::latest(),
        made_at: now.to_string(),
    };
    let about = serde_json::to_string_pretty(&about).map_err(unwritten)?;
    let tables = tables(db)?;
    let words = readme(&tables);
    for (name, text) in [("about.json", &about), ("README.txt", &words)] {
        zip.start_file(name, packed).map_err(unwritten)?;
        zip.write_all(text.as_bytes()).map_err(unwritten)?;
    }
    for document in documents {
        zip.start_file(&*document.name, packed).map_err(unwritten)?;
        zip.write_all(document.text.as_bytes()).map_err(unwritten)?;
    }
    for table in &tables {
        zip.start_file(format!("records/{}.csv", table.name), packed)
            .map_err(unwritten)?;
        sheet(db, table, &mut zip)?;
    }
    // Pictures are packed already.
    let as_they_are = packed.compression_method(CompressionMethod::Stored);
    let mut named = db.prepare("SELECT file FROM photos")?;
    let named: BTreeSet<String> = named
        .query_map([], |row| row.get(0))?
        .collect::<Result<_, _>>()?;
    for name in named {
        for size in [Size::Full, Size::Small] {
            // One that is lost is lost: the rest goes on.
            let Ok(bytes) = photos.bytes(&name, size) else {
                continue;
            };
            zip.start_file(format!("photos/{}", Folder::name(&name, size)), as_they_are)
                .map_err(unwritten)?;
            zip.write_all(&bytes).map_err(unwritten)?;
        }
    }
    zip.finish().map(drop).map_err(unwritten)
}

fn sheet(db: &Connection, table: &Table, out: impl Write) -> Result<(), StoreError> {
    let names: Vec<&str> = table.columns.iter().map(|column| &*column.name).collect();
    let mut sheet = csv::Writer::from_writer(out);
    sheet.write_record(&names).map_err(unwritten)?;
    let mut rows = db.prepare(&format!(
        "SELECT {} FROM {} ORDER BY 1, 2",
        names.join(", "),
        table.name
    ))?;
    let mut rows = rows.query([])?;
    while let Some(row) = rows.next()? {
        for (at, column) in table.columns.iter().enumerate() {
            sheet
                .write_field(cells::cell(column, row.get_ref(at)?))
                .map_err(unwritten)?;
        }
        sheet.write_record(None::<&[u8]>).map_err(unwritten)?;
    }
    sheet.flush().map_err(unwritten)
}

fn unwritten(why: impl Into<Box<dyn std::error::Error + Send + Sync>>) -> StoreError {
    StoreError::file(
        Path::new("the file with everything"),
        std::io::Error::other(why),
    )
}

/// What each sheet holds, for somebody who has nothing but the file.
fn readme(tables: &[Table]) -> String {
    let mut words = String::from(
        "Everything that Zesty Reed kept, in one file.

Take it into an empty Zesty Reed on the page “Your data”, or with `zesty-reed take-in FILE`.

records/   One sheet for each kind of record: comma-separated values, UTF-8, the names of the columns
           in the first line. An empty cell stands for nothing where the column below is not NOT NULL;
           an empty text there is a single backslash, and a text that begins with a backslash has one
           more. Rows are never changed by hand afterwards but struck out (struck_at, dropped_at,
           removed_at), so withdrawn ones are in it too. Moments that end with Z are in UTC; others are
           by the clock on the wall.
photos/    Pictures of entries; photos.csv says of which. The name is the SHA-256 of the picture.
tanks/     Each tank as it stands, as a document. For reading: what is taken in comes from records/.
cases/     Each case with what counts in it, the same.

Units of readings (column “value”, by “analyte”):
",
    );
    for analyte in Analyte::ALL {
        let _ = writeln!(
            words,
            "  {:<16} {} ({})",
            analyte.id, analyte.label, analyte.units[0].symbol
        );
    }
    words.push_str("\nThe sheets, as their tables were made:\n\n");
    for table in tables {
        let _ = writeln!(words, "{};\n", table.made);
    }
    words
}
