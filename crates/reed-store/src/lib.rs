//! What the program remembers: one SQLite file, and a folder of pictures beside it.
//!
//! [`Store`] opens it, brings it up to date and lends connections: one writer, several readers.
//! Each table has a module that owns its statements; functions take a connection, so that several
//! can share a transaction.
//!
//! To add a table or column: the next numbered file in `migrations/`, its line in `migrate.rs`, and
//! the owning module.

pub mod answers;
pub mod batches;
pub mod cases;
pub mod choices;
pub mod declined;
pub mod documents;
pub mod drift_trials;
pub mod entries;
mod error;
pub mod flows;
pub mod hours;
mod ids;
mod migrate;
pub mod photos;
pub mod readings;
pub mod settings;
pub mod tanks;
pub mod tries;

use std::path::{Path, PathBuf};
use std::sync::{Mutex, PoisonError};

pub use error::{Cause, StoreError};
pub use ids::{
    BatchId, CaseId, ChoiceId, DriftTrialId, EntryId, PhotoId, ReadingId, RevisionId, TankId, TryId,
};
use photos::Folder;
pub use rusqlite::{Connection, Transaction};
use rusqlite::{OpenFlags, TransactionBehavior};

/// The open database.
///
/// Reads and writes block; callers on an async thread hand them to a blocking one.
#[derive(Debug)]
pub struct Store {
    path: PathBuf,
    /// Idle read-only connections; one is opened when none is idle, so there are as many as were
    /// ever needed at once.
    ///
    /// Before the writer, since fields are dropped in their order: the connection that is closed
    /// last folds the write-ahead log into the file, and a read-only one cannot.
    readers: Mutex<Vec<Connection>>,
    writer: Mutex<Connection>,
}

impl Store {
    /// Opens the file, creating it if there is none, and applies the migrations that are missing.
    ///
    /// # Errors
    /// When the file cannot be opened, is no database, or was written by a newer program.
    pub fn open(path: &Path) -> Result<Self, StoreError> {
        let mut writer = Connection::open(path)?;
        // WAL lets readers go on during a write. Foreign keys are off by default in SQLite, per
        // connection.
        writer.pragma_update(None, "journal_mode", "WAL")?;
        writer.pragma_update(None, "synchronous", "NORMAL")?;
        writer.pragma_update(None, "foreign_keys", true)?;
        // Years of readings brought in at once stay in memory until they are whole; in KiB, negative.
        writer.pragma_update(None, "cache_size", -128 * 1024)?;
        writer.pragma_update(None, "trusted_schema", false)?;
        writer.busy_timeout(std::time::Duration::from_secs(5))?;
        writer.set_prepared_statement_cache_capacity(128);
        error::remember_statements(&writer);
        migrate::to_latest(&mut writer)?;
        Ok(Self {
            path: path.to_owned(),
            writer: Mutex::new(writer),
            readers: Mutex::new(Vec::new()),
        })
    }

    /// The folder of the pictures, beside the database.
    pub fn photos(&self) -> Folder {
        Folder::beside(&self.path)
    }

    /// Reads.
    ///
    /// # Errors
    /// What the reading gives, or when no connection can be opened.
    pub fn read<T, E: From<StoreError>>(
        &self,
        read: impl FnOnce(&Connection) -> Result<T, E>,
    ) -> Result<T, E> {
        let idle = self
            .readers
            .lock()
            .unwrap_or_else(PoisonError::into_inner)
            .pop();
        let reader = idle.map_or_else(|| self.open_reader(), Ok)?;
        let result = read(&reader);
        self.readers
            .lock()
            .unwrap_or_else(PoisonError::into_inner)
            .push(reader);
        result
    }

    /// Writes, all or nothing.
    ///
    /// # Errors
    /// What the writing gives; then nothing was written.
    pub fn write<T, E: From<StoreError>>(
        &self,
        write: impl FnOnce(&Transaction<'_>) -> Result<T, E>,
    ) -> Result<T, E> {
        // A panic during a write rolled its transaction back: the connection is sound.
        let mut writer = self.writer.lock().unwrap_or_else(PoisonError::into_inner);
        let transaction = writer
            .transaction_with_behavior(TransactionBehavior::Immediate)
            .map_err(StoreError::from)?;
        let result = write(&transaction)?;
        transaction.commit().map_err(StoreError::from)?;
        Ok(result)
    }

    fn open_reader(&self) -> Result<Connection, StoreError> {
        let reader = Connection::open_with_flags(
            &self.path,
            OpenFlags::SQLITE_OPEN_READ_ONLY | OpenFlags::SQLITE_OPEN_NO_MUTEX,
        )?;
        error::remember_statements(&reader);
        reader.pragma_update(None, "query_only", true)?;
        reader.busy_timeout(std::time::Duration::from_secs(5))?;
        reader.set_prepared_statement_cache_capacity(128);
        Ok(reader)
    }
}

#[cfg(test)]
mod tests;
