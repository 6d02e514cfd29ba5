//! What can go wrong with the database.

/// A failed read or write.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// SQLite said no.
    #[error("the database failed: {0}")]
    Sqlite(#[from] rusqlite::Error),
    /// The schema could not be brought up to date.
    #[error("the database could not be brought up to date: {0}")]
    Migration(#[from] rusqlite_migration::Error),
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
    /// Another case of the same tank is open: two would weigh the same tank apart.
    #[error("case {id} of this tank is open; go on there, or close it first")]
    AnotherOpen {
        /// Which one.
        id: i64,
    },
    /// A row holds what this program cannot read.
    #[error("{what} cannot be read: {why}")]
    Unreadable {
        /// Which row.
        what: String,
        /// Why.
        why: String,
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

    pub(crate) fn unreadable(what: impl Into<String>, why: impl std::fmt::Display) -> Self {
        Self::Unreadable {
            what: what.into(),
            why: format!("{why}"),
        }
    }
}
