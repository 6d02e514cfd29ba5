//! Copies of the database: made while it is in use, looked through before they count, put in place
//! of what stands.

use std::fs::{self, File};
use std::path::{Path, PathBuf};

use rusqlite::{Connection, ErrorCode, OpenFlags};

use crate::{StoreError, migrate, photos};

/// What is wrong with a database file, down to the links between its rows; nothing, where all is
/// well.
///
/// # Errors
/// When it cannot be opened at all, or is no database.
pub fn problems(file: &Path) -> Result<Vec<String>, StoreError> {
    let db = open(file)?;
    let mut problems = damage(&db, "PRAGMA integrity_check")?;
    if !problems.is_empty() {
        return Ok(problems);
    }
    problems.extend(dangling(&db)?);
    if migrate::version(&db)? > migrate::latest() {
        problems.push(StoreError::Newer.to_string());
    }
    Ok(problems)
}

/// Rows that belong to others that are not there.
pub(crate) fn dangling(db: &Connection) -> Result<Vec<String>, StoreError> {
    let mut dangling = db.prepare("PRAGMA foreign_key_check")?;
    let lines = dangling.query_map([], |row| {
        let (table, parent): (String, String) = (row.get(0)?, row.get(2)?);
        Ok(format!("a row of {table} belongs to none of {parent}"))
    })?;
    Ok(lines.collect::<Result<_, _>>()?)
}

/// Whether its pages are sound, without comparing every index and every link: for every start.
///
/// # Errors
/// When it cannot be opened at all, or is no database.
pub fn quick_problems(file: &Path) -> Result<Vec<String>, StoreError> {
    damage(&open(file)?, "PRAGMA quick_check")
}

fn damage(db: &Connection, check: &str) -> Result<Vec<String>, StoreError> {
    let told = || -> rusqlite::Result<Vec<String>> {
        db.prepare(check)?
            .query_map([], |row| row.get(0))?
            .collect()
    };
    match told() {
        Ok(mut lines) => {
            lines.retain(|line| line != "ok");
            Ok(lines)
        }
        // So damaged that not even the damage can be told.
        Err(error)
            if matches!(
                error.sqlite_error_code(),
                Some(ErrorCode::DatabaseCorrupt | ErrorCode::NotADatabase)
            ) =>
        {
            Ok(vec![error.to_string()])
        }
        Err(error) => Err(error.into()),
    }
}

/// A file, to be read alone. What the write-ahead log beside it holds is read too.
fn open(file: &Path) -> Result<Connection, StoreError> {
    let flags = OpenFlags::SQLITE_OPEN_READ_ONLY | OpenFlags::SQLITE_OPEN_NO_MUTEX;
    Ok(Connection::open_with_flags(file, flags)?)
}

/// Copies a database with its pictures, which come to lie beside the copy.
///
/// # Errors
/// As [`copy`], and when a picture cannot be copied.
pub fn copy_with_photos(from: &Path, to: &Path) -> Result<(), StoreError> {
    photos::Folder::beside(from).copy_to(&photos::Folder::beside(to))?;
    copy(from, to)
}

/// Copies a database, which may be in use. The copy is there whole and sound, or not at all.
///
/// # Errors
/// When the database cannot be read, the copy cannot be written, or is found to be unsound.
pub fn copy(from: &Path, to: &Path) -> Result<(), StoreError> {
    let under_way = to.with_extension("part");
    let failed = |path: &Path| {
        let path = path.to_owned();
        move |source| StoreError::file(&path, source)
    };
    if under_way.exists() {
        fs::remove_file(&under_way).map_err(failed(&under_way))?;
    }
    // Not a copy of the file: somebody may be writing into it, and part of it may lie in the log.
    open(from)?.execute("VACUUM INTO ?1", [under_way.to_string_lossy()])?;
    File::open(&under_way)
        .and_then(|file| file.sync_all())
        .map_err(failed(&under_way))?;
    let problems = problems(&under_way)?;
    if !problems.is_empty() {
        return Err(StoreError::unreadable(
            format!("the copy of {}", from.display()),
            problems.join("; "),
        ));
    }
    fs::rename(&under_way, to).map_err(failed(to))?;
    sync_folder(to)
}

/// Puts a copy in place of a database that nobody has open. What stood there is kept aside, under
/// the name that is given back.
///
/// # Errors
/// When the copy is no sound database, or the files cannot be written; what stood there is then in
/// its place.
pub fn restore(copy_file: &Path, to: &Path) -> Result<Option<PathBuf>, StoreError> {
    let problems = problems(copy_file)?;
    if !problems.is_empty() {
        return Err(StoreError::unreadable(
            copy_file.display().to_string(),
            problems.join("; "),
        ));
    }
    let fresh = to.with_extension("restored");
    copy_with_photos(copy_file, &fresh)?;
    let aside = if to.exists() {
        let aside = free_name(to);
        move_all(to, &aside)?;
        Some(aside)
    } else {
        None
    };
    if let Err(source) = fs::rename(&fresh, to) {
        if let Some(aside) = &aside {
            move_all(aside, to)?;
        }
        return Err(StoreError::file(to, source));
    }
    sync_folder(to)?;
    Ok(aside)
}

/// Moves a database with what lies beside it, all of it or nothing.
fn move_all(from: &Path, to: &Path) -> Result<(), StoreError> {
    let mut moved: Vec<(PathBuf, PathBuf)> = Vec::new();
    for ending in ["", "-wal", "-shm"] {
        let with = |path: &Path| PathBuf::from(format!("{}{ending}", path.display()));
        let (old, new) = (with(from), with(to));
        if !old.exists() {
            continue;
        }
        if let Err(source) = fs::rename(&old, &new) {
            for (old, new) in moved.iter().rev() {
                fs::rename(new, old).map_err(|source| StoreError::file(old, source))?;
            }
            return Err(StoreError::file(&new, source));
        }
        moved.push((old, new));
    }
    Ok(())
}

/// A name beside a file that is not taken.
fn free_name(file: &Path) -> PathBuf {
    (1..)
        .map(|number| file.with_extension(format!("before-restore-{number}.db")))
        .find(|name| !name.exists())
        .unwrap_or_else(|| file.with_extension("before-restore.db"))
}

/// Renamed files are where they should be after a power cut too.
fn sync_folder(file: &Path) -> Result<(), StoreError> {
    let folder = file
        .parent()
        .filter(|folder| !folder.as_os_str().is_empty());
    let folder = folder.unwrap_or(Path::new("."));
    File::open(folder)
        .and_then(|folder| folder.sync_all())
        .map_err(|source| StoreError::file(folder, source))
}

/// Copies a database aside before it is brought up to date, unless it is new or is so already.
pub(crate) fn before_migration(db: &Connection, file: &Path) -> Result<(), StoreError> {
    let version = migrate::version(db)?;
    if version == 0 || version >= migrate::latest() {
        return Ok(());
    }
    let folder = file.with_file_name("backups");
    fs::create_dir_all(&folder).map_err(|source| StoreError::file(&folder, source))?;
    let name = file.file_stem().unwrap_or_default().to_string_lossy();
    // An older copy that was put back meanwhile is copied beside the first one.
    let taken = |number: u32| {
        let more = if number == 1 {
            String::new()
        } else {
            format!("-{number}")
        };
        folder.join(format!("{name}-version-{version}{more}.db"))
    };
    let free = (1..).map(taken).find(|to| !to.exists());
    copy(file, &free.unwrap_or_else(|| taken(1)))
}
