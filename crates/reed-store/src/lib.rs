//! What the program remembers: one SQLite file, and a folder of pictures beside it.
//!
//! [`Store`] opens it, brings it up to date and lends connections: one writer, several readers.
//! Each table has a module that owns its statements; functions take a connection, so that several
//! can share a transaction.
//!
//! To add a table or column: the next numbered file in `migrations/`, its line in `migrate.rs`, and
//! the owning module.

pub mod answers;
pub mod backup;
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
pub mod nightly;
pub mod photos;
pub mod readings;
pub mod settings;
pub mod tanks;
pub mod tries;

use std::path::{Path, PathBuf};
use std::sync::{Mutex, MutexGuard, PoisonError, TryLockError};
use std::time::{Duration, Instant};

pub use error::{Cause, StoreError};
pub use ids::{
    BatchId, CaseId, ChoiceId, DriftTrialId, EntryId, PhotoId, ReadingId, RevisionId, TankId, TryId,
};
use photos::Folder;
pub use rusqlite::{Connection, Transaction};
use rusqlite::{InterruptHandle, OpenFlags, TransactionBehavior};

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
    /// By which whatever a connection is doing is broken off.
    running: Running,
}

/// Handles of all connections.
struct Running(Mutex<Vec<InterruptHandle>>);

impl Running {
    fn handles(&self) -> MutexGuard<'_, Vec<InterruptHandle>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

impl std::fmt::Debug for Running {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{} connections", self.handles().len())
    }
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
        // What was acknowledged is on the disk, also after a power cut. A keeper writes a few times a
        // day, and what comes from a file comes in one transaction.
        writer.pragma_update(None, "synchronous", "FULL")?;
        writer.pragma_update(None, "foreign_keys", true)?;
        // Years of readings brought in at once stay in memory until they are whole; in KiB, negative.
        writer.pragma_update(None, "cache_size", -128 * 1024)?;
        writer.pragma_update(None, "trusted_schema", false)?;
        writer.busy_timeout(Duration::from_secs(5))?;
        writer.set_prepared_statement_cache_capacity(128);
        error::remember_statements(&writer);
        backup::before_migration(&writer, path)?;
        migrate::to_latest(&mut writer)?;
        Ok(Self {
            path: path.to_owned(),
            running: Running(Mutex::new(vec![writer.get_interrupt_handle()])),
            writer: Mutex::new(writer),
            readers: Mutex::new(Vec::new()),
        })
    }

    /// The database file.
    pub fn path(&self) -> &Path {
        &self.path
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
        reader.busy_timeout(Duration::from_secs(5))?;
        reader.set_prepared_statement_cache_capacity(128);
        self.running.handles().push(reader.get_interrupt_handle());
        Ok(reader)
    }

    /// Breaks off whatever is being read or written, which rolls back, and has everything that was
    /// acknowledged in the one file. For the end of the program: other threads may still hold this.
    ///
    /// # Errors
    /// When something holds the database longer than a moment, or it fails; nothing is lost then,
    /// it lies in the log beside the file.
    pub fn close(&self) -> Result<(), StoreError> {
        const PATIENCE: Duration = Duration::from_secs(1);
        let began = Instant::now();
        let writer = loop {
            self.running
                .handles()
                .iter()
                .for_each(InterruptHandle::interrupt);
            match self.writer.try_lock() {
                Ok(writer) => break writer,
                Err(TryLockError::Poisoned(writer)) => break writer.into_inner(),
                // Whoever writes may be reckoning between two statements.
                Err(TryLockError::WouldBlock) if began.elapsed() < PATIENCE => {
                    std::thread::sleep(Duration::from_millis(20));
                }
                Err(TryLockError::WouldBlock) => return Err(StoreError::Busy),
            }
        };
        writer.busy_timeout(Duration::from_millis(500))?;
        let busy: i64 =
            writer.query_row("PRAGMA wal_checkpoint(TRUNCATE)", [], |row| row.get(0))?;
        if busy == 0 {
            Ok(())
        } else {
            Err(StoreError::Busy)
        }
    }
}

#[cfg(test)]
mod tests;
