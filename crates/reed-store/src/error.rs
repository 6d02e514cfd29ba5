//! What can go wrong with the database. Causes are kept as they are, for the log.

use std::cell::RefCell;
use std::path::{Path, PathBuf};

use rusqlite::trace::{TraceEvent, TraceEventCodes};
use rusqlite::{Connection, ErrorCode};

/// Anything that went wrong elsewhere.
pub type Cause = Box<dyn std::error::Error + Send + Sync>;

thread_local! {
    /// The statement that this thread ran last: what failed, if something did.
    static STATEMENT: RefCell<String> = const { RefCell::new(String::new()) };
}

/// Has the statements of a connection remembered, so that a failure can name its own.
pub(crate) fn remember_statements(db: &Connection) {
    fn remember(event: TraceEvent<'_>) {
        if let TraceEvent::Stmt(statement, _) = event {
            STATEMENT.with_borrow_mut(|last| {
                last.clear();
                last.push_str(&statement.sql());
            });
        }
    }
    db.trace_v2(TraceEventCodes::SQLITE_TRACE_STMT, Some(remember));
}

/// Does something with many statements without remembering each.
pub(crate) fn untraced<T>(db: &Connection, work: impl FnOnce() -> T) -> T {
    db.trace_v2(TraceEventCodes::empty(), None);
    let result = work();
    remember_statements(db);
    result
}

/// Some rows, in the order that was asked for.
#[derive(Clone, Debug, PartialEq)]
pub struct Page<T> {
    /// Those that can be read.
    pub rows: Vec<T>,
    /// What is wrong with each of the others. They stay as they are.
    pub unreadable: Vec<String>,
}

/// A failed read or write.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// SQLite said no.
    #[error("the database failed; the last statement was “{statement}”")]
    Sqlite {
        /// The statement that was running; where one could not even begin, the one before it.
        statement: String,
        /// What SQLite said.
        source: rusqlite::Error,
    },
    /// Something still reads the database.
    #[error("the database is still being read")]
    Busy,
    /// The file is damaged; nothing is written to it.
    #[error("the records are damaged, and nothing is written to them; put a copy back first")]
    Damaged,
    /// A file with everything was not taken in.
    #[error("{0}")]
    NotTaken(String),
    /// What a page kept and sent has come before.
    #[error("this was stored before")]
    SentBefore,
    /// A newer version of the program wrote the database.
    #[error(
        "a newer version of the program wrote this; use that one, or restore a copy from before"
    )]
    Newer,
    /// A file beside the database could not be read or written.
    #[error("{} could not be read or written", path.display())]
    File {
        /// Which one.
        path: PathBuf,
        /// What the system said.
        source: std::io::Error,
    },
    /// The schema could not be brought up to date.
    #[error("the database could not be brought up to date")]
    Migration(#[source] rusqlite_migration::Error),
    /// There is no such thing.
    #[error("there is no {what} {id}")]
    NotFound {
        /// What was looked for.
        what: &'static str,
        /// Under which number.
        id: i64,
    },
    /// The case is closed and takes nothing more.
    #[error("case {id} is closed; open it again to change it")]
    Closed {
        /// Which case.
        id: i64,
    },
    /// There is no room for one more.
    #[error("there are {most} {what} already, and there can be no more; take one away first")]
    Full {
        /// Of what.
        what: &'static str,
        /// How many there can be.
        most: usize,
    },
    /// Somebody asked to stop; nothing was stored.
    #[error("stopped, as you asked; nothing was stored")]
    Stopped,
    /// Another case of the same tank is open: two would weigh the same tank apart.
    #[error("case {id} of this tank is open; go on there, or close it first")]
    AnotherOpen {
        /// Which one.
        id: i64,
    },
    /// A row holds what this program cannot read.
    #[error("{what} cannot be read")]
    Unreadable {
        /// Which row.
        what: String,
        /// Why.
        source: Cause,
    },
}

/// An error with its causes, each after a colon.
pub fn in_full(error: &(dyn std::error::Error + 'static)) -> String {
    let causes = std::iter::successors(error.source(), |cause| cause.source());
    causes.fold(error.to_string(), |words, cause| {
        format!("{words}: {cause}")
    })
}

impl StoreError {
    /// Turns "no rows" into [`StoreError::NotFound`].
    pub(crate) fn found<T>(
        result: rusqlite::Result<T>,
        what: &'static str,
        id: i64,
    ) -> Result<T, Self> {
        match result {
            Err(rusqlite::Error::QueryReturnedNoRows) => Err(Self::NotFound { what, id }),
            other => Ok(other?),
        }
    }

    /// Of rows that are read the ones that can be; one that cannot stays its own affair.
    pub(crate) fn readable<T>(rows: impl Iterator<Item = Result<T, Self>>) -> Result<Vec<T>, Self> {
        rows.filter(|row| !matches!(row, Err(error) if error.is_of_one_row()))
            .collect()
    }

    /// The first row that can be read.
    pub(crate) fn first_readable<T>(
        mut rows: impl Iterator<Item = Result<T, Self>>,
    ) -> Result<Option<T>, Self> {
        rows.find(|row| !matches!(row, Err(error) if error.is_of_one_row()))
            .transpose()
    }

    /// The rows that can be read, and what is wrong with those that cannot, for a page that tells.
    pub(crate) fn sorted_out<T>(
        rows: impl Iterator<Item = Result<T, Self>>,
    ) -> Result<Page<T>, Self> {
        let mut page = Page {
            rows: Vec::new(),
            unreadable: Vec::new(),
        };
        for row in rows {
            match row {
                Ok(row) => page.rows.push(row),
                Err(error) if error.is_of_one_row() => page.unreadable.push(error.in_full()),
                Err(error) => return Err(error),
            }
        }
        Ok(page)
    }

    /// With its causes, each after a colon.
    pub fn in_full(&self) -> String {
        in_full(self)
    }

    /// Why nothing can be written, where the keeper can mend it.
    pub fn why_not_written(&self) -> Option<&'static str> {
        use std::io::ErrorKind;
        const FULL: &str = "The disk is full: nothing can be stored until there is room.";
        const READ_ONLY: &str = "The folder of the records may only be read, not written: give the program the right to write there.";
        const FAILS: &str = "The disk does not answer as it should: have it looked at, and keep a copy of the records elsewhere.";
        match self {
            Self::Sqlite { source, .. } => match source.sqlite_error_code()? {
                ErrorCode::DiskFull => Some(FULL),
                ErrorCode::ReadOnly | ErrorCode::PermissionDenied | ErrorCode::CannotOpen => {
                    Some(READ_ONLY)
                }
                ErrorCode::SystemIoFailure => Some(FAILS),
                _ => None,
            },
            Self::File { source, .. } => match source.kind() {
                ErrorKind::StorageFull | ErrorKind::QuotaExceeded => Some(FULL),
                ErrorKind::PermissionDenied | ErrorKind::ReadOnlyFilesystem => Some(READ_ONLY),
                _ => None,
            },
            _ => None,
        }
    }

    /// A row holds what cannot be read; the next one may be sound.
    pub fn is_of_one_row(&self) -> bool {
        use rusqlite::Error::{
            FromSqlConversionFailure, IntegralValueOutOfRange, InvalidColumnType,
        };
        match self {
            Self::Unreadable { .. } => true,
            Self::Sqlite { source, .. } => matches!(
                source,
                FromSqlConversionFailure(..) | IntegralValueOutOfRange(..) | InvalidColumnType(..)
            ),
            _ => false,
        }
    }

    pub(crate) fn file(path: &Path, source: std::io::Error) -> Self {
        Self::File {
            path: path.to_owned(),
            source,
        }
    }

    pub(crate) fn unreadable(what: impl Into<String>, why: impl Into<Cause>) -> Self {
        Self::Unreadable {
            what: what.into(),
            source: why.into(),
        }
    }
}

impl From<rusqlite_migration::Error> for StoreError {
    fn from(source: rusqlite_migration::Error) -> Self {
        use rusqlite_migration::{Error, MigrationDefinitionError};
        match source {
            Error::MigrationDefinition(MigrationDefinitionError::DatabaseTooFarAhead) => {
                Self::Newer
            }
            other => Self::Migration(other),
        }
    }
}

impl From<rusqlite::Error> for StoreError {
    fn from(source: rusqlite::Error) -> Self {
        Self::Sqlite {
            statement: STATEMENT.with_borrow(String::clone),
            source,
        }
    }
}
