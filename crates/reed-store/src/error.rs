//! What can go wrong with the database. Causes are kept as they are, for the log.

use std::cell::RefCell;
use std::path::{Path, PathBuf};

use rusqlite::Connection;
use rusqlite::trace::{TraceEvent, TraceEventCodes};

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
