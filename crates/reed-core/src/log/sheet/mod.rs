//! The log as a sheet: comma-separated values, in and out.
//!
//! Out: a header, then a line for each reading and entry (see [`HEADER`]); text that a spreadsheet
//! would take for a formula has an apostrophe before it. In: any file of that kind, its columns
//! guessed from their names and their first values, and corrected by whoever brings it. The format
//! itself is that of RFC 4180, read and written by a common library.

mod moment;
mod role;
mod row;
mod shown;
mod write;

use csv::{ReaderBuilder, StringRecord};

pub use moment::DateOrder;
pub use role::Role;
pub use row::{Read, Refused, Row};
pub use shown::{SHOWN_HEADER, Shown, write_shown};
pub use write::{HEADER, Writer};

/// Rows from whose first values columns are guessed, and that are shown.
const SAMPLE_ROWS: usize = 200;

/// Columns at most.
const MOST_COLUMNS: usize = 60;

/// A file that was brought in.
#[derive(Clone, Debug)]
pub struct Sheet {
    text: String,
    delimiter: u8,
    /// Names of the columns.
    pub header: Vec<String>,
    /// The first rows.
    pub samples: Vec<StringRecord>,
    /// Rows below the header.
    pub rows: usize,
}

/// What each column holds, and in which order a date is written.
#[derive(Clone, Debug, PartialEq)]
pub struct Mapping {
    /// By column.
    pub roles: Vec<Role>,
    /// Of dates in figures; `None` where it is open and has to be said.
    pub dates: Option<DateOrder>,
}

impl Sheet {
    /// Opens a file.
    ///
    /// # Errors
    /// A sentence, when it is no text in UTF-8, has no header or no rows, or rows of different
    /// lengths.
    pub fn open(bytes: &[u8]) -> Result<Self, String> {
        let text = text_of(bytes)?;
        let first = text.lines().next().unwrap_or_default();
        let delimiter = delimiter_of(first);
        let mut sheet = Self {
            delimiter,
            header: Vec::new(),
            samples: Vec::new(),
            rows: 0,
            text,
        };
        let mut reader = sheet.reader();
        let header = reader.headers().map_err(|error| said(&error))?;
        let header: Vec<String> = header.iter().map(|name| name.trim().to_owned()).collect();
        if header.len() > MOST_COLUMNS {
            return Err(format!(
                "The file has {} columns; at most {MOST_COLUMNS} are read.",
                header.len()
            ));
        }
        let (mut rows, mut samples) = (0, Vec::new());
        for record in reader.records() {
            let record = record.map_err(|error| said(&error))?;
            rows += 1;
            if samples.len() < SAMPLE_ROWS {
                samples.push(record);
            }
        }
        (sheet.header, sheet.rows, sheet.samples) = (header, rows, samples);
        if sheet.rows == 0 {
            return Err(
                "The file has no rows below its first line, which names the columns.".to_owned(),
            );
        }
        Ok(sheet)
    }

    /// What the columns seem to hold.
    pub fn guess(&self) -> Mapping {
        let column = |place: usize| self.samples.iter().filter_map(move |row| row.get(place));
        let mut roles: Vec<Role> = Vec::new();
        for (place, name) in self.header.iter().enumerate() {
            let role = Role::guess(name, column(place));
            // One column of each sort: the first that seems to be it.
            let role = if role.is_alone() && roles.contains(&role) {
                Role::Ignore
            } else {
                role
            };
            roles.push(role);
        }
        let dates = (0..roles.len())
            .filter(|place| matches!(roles[*place], Role::When | Role::Until))
            .flat_map(column);
        Mapping {
            dates: DateOrder::guess(dates),
            roles,
        }
    }

    /// The rows as the mapping has them, one after another, each with its line in the file.
    pub fn read<'s>(
        &'s self,
        mapping: &'s Mapping,
        against: &'s Read<'s>,
    ) -> impl Iterator<Item = Result<Vec<Row>, Refused>> + 's {
        let mut records = self.reader().into_records();
        let mut lines = Lines::of(&self.text);
        std::iter::from_fn(move || {
            let record = records.next()?;
            Some(match record {
                Ok(record) => against.row(&record, mapping).map_err(|why| {
                    let byte = record.position().map_or(0, csv::Position::byte);
                    let line = lines.at(usize::try_from(byte).unwrap_or(usize::MAX));
                    Refused { line, why }
                }),
                Err(error) => Err(Refused {
                    line: error.position().map_or(0, csv::Position::line),
                    why: said(&error),
                }),
            })
        })
    }

    fn reader(&self) -> csv::Reader<std::io::Cursor<Vec<u8>>> {
        ReaderBuilder::new()
            .delimiter(self.delimiter)
            .flexible(true)
            .from_reader(std::io::Cursor::new(self.text.clone().into_bytes()))
    }
}

/// Which line a byte stands on, asked from the front to the back.
struct Lines<'t> {
    text: &'t [u8],
    byte: usize,
    line: u64,
}

impl<'t> Lines<'t> {
    fn of(text: &'t str) -> Self {
        Self {
            text: text.as_bytes(),
            byte: 0,
            line: 1,
        }
    }

    /// The line of a record that begins here; the reader stops between the two signs that end a
    /// line, so that the end of the one before may stand first.
    fn at(&mut self, byte: usize) -> u64 {
        let end = byte.min(self.text.len());
        let ends = self.text[self.byte..end.max(self.byte)]
            .iter()
            .filter(|byte| **byte == b'\n')
            .count();
        self.line += ends as u64;
        self.byte = end;
        let still_ends = self.text[end..]
            .iter()
            .take_while(|byte| matches!(byte, b'\r' | b'\n'))
            .filter(|byte| **byte == b'\n')
            .count();
        self.line + still_ends as u64
    }
}

/// The text of a file, without the mark that some programs put before it.
fn text_of(bytes: &[u8]) -> Result<String, String> {
    if bytes.starts_with(&[0xFF, 0xFE]) || bytes.starts_with(&[0xFE, 0xFF]) {
        return Err(
            "The file is in UTF-16. Save it as “CSV UTF-8”, and bring that one.".to_owned(),
        );
    }
    let bytes = bytes.strip_prefix(&[0xEF, 0xBB, 0xBF]).unwrap_or(bytes);
    let text = String::from_utf8(bytes.to_vec()).map_err(|error| {
        let place = error.utf8_error().valid_up_to();
        let line = bytes[..place].iter().filter(|byte| **byte == b'\n').count() + 1;
        format!("Line {line} is not in UTF-8. Save the file as “CSV UTF-8”, and bring that one.")
    })?;
    if text.contains('\0') {
        return Err("This is no text file. Bring comma-separated values.".to_owned());
    }
    Ok(text)
}

/// What stands between the values: the one of these that the first line has most of.
fn delimiter_of(first: &str) -> u8 {
    let mut in_quotes = false;
    let mut counts = [(b',', 0), (b';', 0), (b'\t', 0)];
    for byte in first.bytes() {
        if byte == b'"' {
            in_quotes = !in_quotes;
        } else if !in_quotes {
            for (sign, count) in &mut counts {
                *count += usize::from(*sign == byte);
            }
        }
    }
    // Of two that stand there as often, the first.
    let most = counts.iter().map(|(_, count)| *count).max();
    counts
        .iter()
        .find(|(_, count)| Some(*count) == most)
        .map_or(b',', |(sign, _)| *sign)
}

fn said(error: &csv::Error) -> String {
    format!("The file cannot be read as comma-separated values: {error}.")
}
