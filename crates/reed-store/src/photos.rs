//! Photos of entries. The pictures are files in a folder beside the database, so that a copy of the
//! folder has them; rows say to which entry they belong. One that is withdrawn stays, struck out.

use std::fmt::Write as _;
use std::fs::{self, File};
use std::io::{self, Write as _};
use std::path::{Path, PathBuf};

use jiff::Timestamp;
use rusqlite::{Connection, Row, named_params};
use sha2::{Digest as _, Sha256};

use crate::entries::{self, KeptEntry, kept_on};
use crate::{EntryId, PhotoId, StoreError, TankId};

const ADD: &str = "
    INSERT INTO photos (tank_id, file, width, height, made_at) VALUES (:tank, :file, :width, :height, :now)";
const ATTACH: &str = "
    UPDATE photos SET entry_id = :entry WHERE id = :photo AND tank_id = :tank AND entry_id IS NULL";
const PASS_ON: &str = "UPDATE photos SET entry_id = :newer WHERE entry_id = :older";
const FIND: &str = "SELECT * FROM photos WHERE tank_id = :tank AND id = :photo";
const OF_ENTRY: &str =
    "SELECT * FROM photos WHERE tank_id = :tank AND entry_id = :entry ORDER BY id";
const SET_STRUCK: &str =
    "UPDATE photos SET struck_at = :struck WHERE tank_id = :tank AND id = :photo";
/// Entries of the same kind on the same thing that have photos, before another.
const BEFORE: &str = "
    SELECT entries.id FROM entries
    WHERE tank_id = :tank AND happening = :happening AND on_what = :on AND struck_at IS NULL
    AND (to_at, id) < (:to, :entry)
    AND EXISTS (SELECT 1 FROM photos WHERE photos.entry_id = entries.id AND photos.struck_at IS NULL)
    ORDER BY to_at DESC, id DESC LIMIT 1";
const FORGOTTEN: &str =
    "SELECT DISTINCT file FROM photos WHERE entry_id IS NULL AND made_at < :before";
const FORGET: &str = "DELETE FROM photos WHERE entry_id IS NULL AND made_at < :before";
const IS_USED: &str = "SELECT 1 FROM photos WHERE file = :file LIMIT 1";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[
    ADD, ATTACH, PASS_ON, FIND, OF_ENTRY, SET_STRUCK, BEFORE, FORGOTTEN, FORGET, IS_USED,
];

/// A picture as it is kept: JPEG, upright, with nothing in it but what is seen.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Picture {
    /// As large as it is kept.
    pub full: Vec<u8>,
    /// As it stands in a list.
    pub small: Vec<u8>,
    /// Of the full one, px.
    pub width: u32,
    /// Of the full one, px.
    pub height: u32,
}

/// How large a photo is asked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Size {
    /// As it is kept.
    Full,
    /// As it stands in a list.
    Small,
}

/// A photo, without its picture.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Photo {
    /// Its number.
    pub id: PhotoId,
    /// Of which tank.
    pub tank: TankId,
    /// The entry it belongs to; none while its form is being filled in.
    pub entry: Option<EntryId>,
    /// Under which name its picture lies in the folder.
    pub file: String,
    /// Of the picture, px.
    pub width: u32,
    /// Of the picture, px.
    pub height: u32,
    /// When it was taken in.
    pub made_at: Timestamp,
    /// When it was withdrawn.
    pub struck_at: Option<Timestamp>,
}

impl Photo {
    /// It is withdrawn.
    pub const fn is_struck(&self) -> bool {
        self.struck_at.is_some()
    }
}

/// The folder of the pictures.
#[derive(Clone, Debug)]
pub struct Folder(PathBuf);

impl Folder {
    /// The folder beside a database; it is made when the first picture comes. The program's own
    /// database and its copies in one folder share it.
    pub(crate) fn beside(database: &Path) -> Self {
        Self(database.with_file_name("photos"))
    }

    /// The file of a picture.
    pub(crate) fn name(file: &str, size: Size) -> String {
        match size {
            Size::Full => format!("{file}.jpg"),
            Size::Small => format!("{file}-small.jpg"),
        }
    }

    fn path(&self, file: &str, size: Size) -> PathBuf {
        self.0.join(Self::name(file, size))
    }

    /// Puts a picture there, whole and on the disk when this comes back; gives its name.
    fn put(&self, picture: &Picture) -> Result<String, StoreError> {
        let file = digest(&picture.full);
        self.put_both(&file, &picture.full, &picture.small)?;
        Ok(file)
    }

    /// Puts a picture there that has a name already; whether the name says what is in it.
    pub(crate) fn put_named(
        &self,
        file: &str,
        full: &[u8],
        small: &[u8],
    ) -> Result<bool, StoreError> {
        if digest(full) != file {
            return Ok(false);
        }
        self.put_both(file, full, small)?;
        Ok(true)
    }

    fn put_both(&self, file: &str, full: &[u8], small: &[u8]) -> Result<(), StoreError> {
        self.make()?;
        for (size, bytes) in [(Size::Small, small), (Size::Full, full)] {
            let path = self.path(file, size);
            if !path.exists() {
                whole(&path, bytes).map_err(|source| StoreError::file(&path, source))?;
            }
        }
        Ok(())
    }

    fn make(&self) -> Result<(), StoreError> {
        fs::create_dir_all(&self.0).map_err(|source| StoreError::file(&self.0, source))
    }

    /// The bytes of a picture.
    ///
    /// # Errors
    /// When the file is gone or cannot be read.
    pub fn read(&self, photo: &Photo, size: Size) -> Result<Vec<u8>, StoreError> {
        self.bytes(&photo.file, size)
    }

    pub(crate) fn bytes(&self, file: &str, size: Size) -> Result<Vec<u8>, StoreError> {
        let path = self.path(file, size);
        fs::read(&path).map_err(|source| StoreError::file(&path, source))
    }

    /// Copies every picture that is not there yet; a name says what is in it.
    pub(crate) fn copy_to(&self, other: &Self) -> Result<(), StoreError> {
        if self.0 == other.0 {
            return Ok(());
        }
        let Ok(files) = fs::read_dir(&self.0) else {
            // No picture ever came.
            return Ok(());
        };
        other.make()?;
        for file in files.flatten() {
            let to = other.0.join(file.file_name());
            if !to.exists() {
                let copied = fs::read(file.path()).and_then(|bytes| whole(&to, &bytes));
                copied.map_err(|source| StoreError::file(&to, source))?;
            }
        }
        Ok(())
    }

    /// Throws a picture away; one that is gone already is no failure.
    fn drop(&self, file: &str) {
        for size in [Size::Small, Size::Full] {
            let _ = fs::remove_file(self.path(file, size));
        }
    }
}

/// SHA-256, in hexadecimal.
pub(crate) fn digest(bytes: &[u8]) -> String {
    let mut text = String::with_capacity(64);
    for byte in Sha256::digest(bytes) {
        let _ = write!(text, "{byte:02x}");
    }
    text
}

/// Writes a file so that it is there whole or not at all.
fn whole(path: &Path, bytes: &[u8]) -> io::Result<()> {
    let under_way = path.with_extension("part");
    let mut file = File::create(&under_way)?;
    file.write_all(bytes)?;
    file.sync_all()?;
    fs::rename(&under_way, path)?;
    path.parent()
        .map_or(Ok(()), |folder| File::open(folder)?.sync_all())
}

fn from_row(row: &Row<'_>) -> rusqlite::Result<Photo> {
    Ok(Photo {
        id: row.get("id")?,
        tank: row.get("tank_id")?,
        entry: row.get("entry_id")?,
        file: row.get("file")?,
        width: row.get("width")?,
        height: row.get("height")?,
        made_at: row.get("made_at")?,
        struck_at: row.get("struck_at")?,
    })
}

/// Takes a picture in; it belongs to no entry yet. Those that never came to belong to one within a
/// day are thrown away.
///
/// # Errors
/// When there is no such tank, the folder cannot be written or the database fails.
pub fn add(
    db: &Connection,
    folder: &Folder,
    tank: TankId,
    picture: &Picture,
    now: Timestamp,
) -> Result<PhotoId, StoreError> {
    const WAITS: jiff::SignedDuration = jiff::SignedDuration::from_hours(24);
    crate::tanks::latest(db, tank)?;
    forget(db, folder, now - WAITS)?;
    let file = folder.put(picture)?;
    db.prepare_cached(ADD)?.execute(named_params! {
        ":tank": tank, ":file": file, ":width": picture.width, ":height": picture.height, ":now": now,
    })?;
    Ok(PhotoId(db.last_insert_rowid()))
}

/// Throws away what was taken in before a moment for a form that was never sent.
fn forget(db: &Connection, folder: &Folder, before: Timestamp) -> Result<(), StoreError> {
    let files: Vec<String> = db
        .prepare_cached(FORGOTTEN)?
        .query_map(named_params! { ":before": before }, |row| row.get(0))?
        .collect::<Result<_, _>>()?;
    db.prepare_cached(FORGET)?
        .execute(named_params! { ":before": before })?;
    for file in files {
        if !db
            .prepare_cached(IS_USED)?
            .exists(named_params! { ":file": file })?
        {
            folder.drop(&file);
        }
    }
    Ok(())
}

/// Has photos that belong to no entry yet belong to this one; others are left as they are.
///
/// # Errors
/// When the database fails.
pub fn attach(
    db: &Connection,
    tank: TankId,
    entry: EntryId,
    photos: &[PhotoId],
) -> Result<(), StoreError> {
    for photo in photos {
        db.prepare_cached(ATTACH)?
            .execute(named_params! { ":entry": entry, ":photo": photo, ":tank": tank })?;
    }
    Ok(())
}

/// The photos of an entry go on with the one that replaces it.
pub(crate) fn pass_on(db: &Connection, older: EntryId, newer: EntryId) -> Result<(), StoreError> {
    db.prepare_cached(PASS_ON)?
        .execute(named_params! { ":older": older, ":newer": newer })?;
    Ok(())
}

/// One photo.
///
/// # Errors
/// When the tank has no such photo or the database fails.
pub fn find(db: &Connection, tank: TankId, id: PhotoId) -> Result<Photo, StoreError> {
    let found = db
        .prepare_cached(FIND)?
        .query_row(named_params! { ":tank": tank, ":photo": id }, from_row);
    StoreError::found(found, "photo", id.0)
}

/// The photos of an entry, in the order in which they came, withdrawn ones too.
///
/// # Errors
/// When the database fails.
pub fn of_entry(db: &Connection, tank: TankId, entry: EntryId) -> Result<Vec<Photo>, StoreError> {
    let mut statement = db.prepare_cached(OF_ENTRY)?;
    let rows = statement.query_map(named_params! { ":tank": tank, ":entry": entry }, from_row)?;
    StoreError::readable(rows.map(|row| Ok(row?)))
}

/// The entry before this one of the same kind, on the same thing, that has photos.
///
/// # Errors
/// When the database fails or holds an entry this program cannot read.
pub fn entry_before(db: &Connection, kept: &KeptEntry) -> Result<Option<KeptEntry>, StoreError> {
    let mut statement = db.prepare_cached(BEFORE)?;
    let mut rows = statement.query(named_params! {
        ":tank": kept.tank, ":happening": kept.entry.happening, ":on": kept_on(&kept.entry.on),
        ":to": kept.entry.when.to, ":entry": kept.id,
    })?;
    let Some(row) = rows.next()? else {
        return Ok(None);
    };
    entries::find(db, kept.tank, row.get(0)?).map(Some)
}

/// Withdraws a photo, or takes that back with `None`.
///
/// # Errors
/// When the tank has no such photo or the database fails.
pub fn set_struck(
    db: &Connection,
    tank: TankId,
    id: PhotoId,
    struck: Option<Timestamp>,
) -> Result<(), StoreError> {
    match db
        .prepare_cached(SET_STRUCK)?
        .execute(named_params! { ":tank": tank, ":photo": id, ":struck": struck })?
    {
        0 => Err(StoreError::NotFound {
            what: "photo",
            id: id.0,
        }),
        _ => Ok(()),
    }
}
