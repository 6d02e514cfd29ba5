//! What the program remembers: one SQLite file, and a folder of pictures beside it.
//!
//! [`Store`] opens it, brings it up to date and lends connections: one writer, several readers.
//! Each table has a module that owns its statements; functions take a connection, so that several
//! can share a transaction.
//!
//! To add a table or column: the next numbered file in `migrations/`, its line in `migrate.rs`, and
//! the owning module.

pub mod access;
pub mod answers;
pub mod archive;
pub mod backup;
pub mod batches;
pub mod cases;
pub mod choices;
pub mod copies;
pub mod declined;
pub mod devices;
pub mod documents;
pub mod drift_trials;
pub mod duties;
pub mod entries;
mod error;
pub mod flows;
pub mod hours;
mod ids;
mod kept;
mod migrate;
pub mod photos;
pub mod plans;
pub mod prices;
pub mod readings;
pub mod sent;
pub mod service;
pub mod settings;
pub mod tanks;
pub mod thinning;
pub mod tries;
pub mod watches;

use std::path::{Path, PathBuf};
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::{Mutex, MutexGuard, PoisonError, TryLockError};
use std::time::{Duration, Instant};

pub use error::{Cause, Page, StoreError, in_full};
pub use ids::{
    BatchId, CaseId, ChoiceId, DeviceId, DriftTrialId, DutyId, EntryId, PhotoId, PlanId, ReadingId,
    RevisionId, TankId, TryId,
};
pub use kept::{Kept, kept, unreadable};
use photos::Folder;
use rusqlite::config::DbConfig;
pub use rusqlite::{Connection, Transaction};
use rusqlite::{InterruptHandle, OpenFlags, TransactionBehavior};

/// The open database.
///
/// Reads and writes block; callers on an async thread hand them to a blocking one.
#[derive(Debug)]
pub struct Store {
    path: PathBuf,
    /// Before the writer, since fields are dropped in their order: the connection that is closed
    /// last folds the write-ahead log into the file, and a read-only one cannot.
    readers: Mutex<Readers>,
    writer: Mutex<Connection>,
    /// By which whatever a connection is doing is broken off.
    running: Running,
    /// What is wrong with the file; it is only read then.
    damage: Mutex<Vec<String>>,
    /// How often something was stored.
    stored: AtomicU64,
}

/// Idle read-only connections; one is opened when none is idle, so there are as many as were ever
/// needed at once.
#[derive(Debug, Default)]
struct Readers {
    idle: Vec<Connection>,
    /// How often the file was replaced: a connection to an older one is not kept.
    file: u64,
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
        Ok(Self::over(path, open_writer(path)?, Vec::new()))
    }

    /// Opens a file that is damaged, to be looked at; nothing is written to it.
    ///
    /// # Errors
    /// When the file cannot be opened at all.
    pub fn open_damaged(path: &Path, damage: Vec<String>) -> Result<Self, StoreError> {
        Ok(Self::over(path, open_to_read(path)?, damage))
    }

    /// Opens a file that somebody else may have open, to read it alone.
    ///
    /// # Errors
    /// When the file cannot be opened.
    pub fn open_to_read(path: &Path) -> Result<Self, StoreError> {
        Ok(Self::over(path, open_to_read(path)?, Vec::new()))
    }

    fn over(path: &Path, writer: Connection, damage: Vec<String>) -> Self {
        Self {
            path: path.to_owned(),
            running: Running(Mutex::new(vec![writer.get_interrupt_handle()])),
            writer: Mutex::new(writer),
            readers: Mutex::default(),
            damage: Mutex::new(damage),
            stored: AtomicU64::new(0),
        }
    }

    /// How often something was stored since the file was opened: what was read before is as it was
    /// while this stays the same.
    pub fn stored(&self) -> u64 {
        self.stored.load(Ordering::Acquire)
    }

    /// What is wrong with the file, where it is only read.
    pub fn damage(&self) -> Vec<String> {
        self.damage
            .lock()
            .unwrap_or_else(PoisonError::into_inner)
            .clone()
    }

    /// The database file.
    pub fn path(&self) -> &Path {
        &self.path
    }

    /// How large it is, with what lies in the log beside it.
    pub fn bytes(&self) -> u64 {
        let size = |ending: &str| {
            let file = format!("{}{ending}", self.path.display());
            std::fs::metadata(file).map_or(0, |file| file.len())
        };
        size("") + size("-wal")
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
        let (idle, file) = {
            let mut readers = self.readers();
            (readers.idle.pop(), readers.file)
        };
        let reader = idle.map_or_else(|| self.open_reader(), Ok)?;
        let result = read(&reader);
        let mut readers = self.readers();
        if readers.file == file {
            readers.idle.push(reader);
        }
        drop(readers);
        result
    }

    fn readers(&self) -> MutexGuard<'_, Readers> {
        self.readers.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn writer(&self) -> MutexGuard<'_, Connection> {
        // A panic during a write rolled its transaction back: the connection is sound.
        self.writer.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Writes, all or nothing.
    ///
    /// # Errors
    /// What the writing gives; then nothing was written.
    pub fn write<T, E: From<StoreError>>(
        &self,
        write: impl FnOnce(&Transaction<'_>) -> Result<T, E>,
    ) -> Result<T, E> {
        let mut writer = self.writer();
        if !self.damage().is_empty() {
            return Err(StoreError::Damaged.into());
        }
        let transaction = writer
            .transaction_with_behavior(TransactionBehavior::Immediate)
            .map_err(StoreError::from)?;
        let result = write(&transaction)?;
        transaction.commit().map_err(StoreError::from)?;
        self.stored.fetch_add(1, Ordering::Release);
        Ok(result)
    }

    fn open_reader(&self) -> Result<Connection, StoreError> {
        let reader = open_to_read(&self.path)?;
        self.running.handles().push(reader.get_interrupt_handle());
        Ok(reader)
    }

    /// Puts a copy in place of everything, while the program runs; what stood there is kept aside
    /// under the name that is given back. Whoever is reading reads on in what stood there.
    ///
    /// # Errors
    /// When the copy is no sound database, or the files cannot be written; what stood there is then
    /// in its place.
    pub fn restore(&self, copy: &Path) -> Result<Option<PathBuf>, StoreError> {
        let mut writer = self.writer();
        // The file must be nobody's while it is moved.
        let is_sound = self.damage().is_empty();
        if is_sound {
            writer.query_row("PRAGMA wal_checkpoint(TRUNCATE)", [], |_| Ok(()))?;
        }
        *writer = Connection::open_in_memory()?;
        {
            let mut readers = self.readers();
            readers.idle.clear();
            readers.file += 1;
        }
        let restored = backup::restore(copy, &self.path);
        // A new file in place of one that is gone would be taken for all there is.
        let opened = if restored.is_ok() || (is_sound && self.path.exists()) {
            open_writer(&self.path)
        } else {
            open_to_read(&self.path)
        };
        match opened {
            Ok(opened) => *writer = opened,
            Err(error) => {
                // What stands in for it keeps nothing: nobody may write there.
                self.set_damage(vec![error.in_full()]);
                return Err(restored.err().unwrap_or(error));
            }
        }
        self.running.handles().push(writer.get_interrupt_handle());
        let mut readers = self.readers();
        // Those that were opened meanwhile may be of the old file.
        readers.idle.clear();
        readers.file += 1;
        drop(readers);
        self.stored.fetch_add(1, Ordering::Release);
        let aside = restored?;
        self.set_damage(Vec::new());
        Ok(aside)
    }

    fn set_damage(&self, damage: Vec<String>) {
        *self.damage.lock().unwrap_or_else(PoisonError::into_inner) = damage;
    }

    /// Has the rows of another database of the same version for its own, unless it holds a tank.
    pub(crate) fn take_over(&self, other: &Path) -> Result<(), StoreError> {
        let mut writer = self.writer();
        if !self.damage().is_empty() {
            return Err(StoreError::Damaged);
        }
        writer.execute("ATTACH ?1 AS other", [other.to_string_lossy()])?;
        let taken = archive::take_rows(&mut writer);
        writer.execute_batch("DETACH other")?;
        self.stored.fetch_add(1, Ordering::Release);
        taken
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

/// The one connection that writes.
fn open_writer(path: &Path) -> Result<Connection, StoreError> {
    // Nobody else on this machine is to read what is made here.
    access::private(path).map_err(|source| StoreError::file(path, source))?;
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
    keep_plans(&writer)?;
    error::remember_statements(&writer);
    backup::before_migration(&writer, path)?;
    migrate::to_latest(&mut writer)?;
    Ok(writer)
}

/// A connection that only reads.
fn open_to_read(path: &Path) -> Result<Connection, StoreError> {
    let reader = Connection::open_with_flags(
        path,
        OpenFlags::SQLITE_OPEN_READ_ONLY | OpenFlags::SQLITE_OPEN_NO_MUTEX,
    )?;
    error::remember_statements(&reader);
    reader.pragma_update(None, "query_only", true)?;
    reader.busy_timeout(Duration::from_secs(5))?;
    keep_plans(&reader)?;
    Ok(reader)
}

/// Statements are planned once, whatever is bound to them: SQLite else plans those with a bound LIMIT
/// anew each time that something is bound, which took half of the time of Rounds.
fn keep_plans(connection: &Connection) -> Result<(), StoreError> {
    connection.set_prepared_statement_cache_capacity(128);
    connection.set_db_config(DbConfig::SQLITE_DBCONFIG_ENABLE_QPSG, true)?;
    Ok(())
}

#[cfg(test)]
mod tests;
