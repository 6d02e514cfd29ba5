//! Tanks and their revisions.

use jiff::Timestamp;
use reed_core::tank::Tank;
use rusqlite::{Connection, Row, named_params};

use crate::{Page, RevisionId, StoreError, TankId};

const NEW: &str = "INSERT INTO tanks (created_at) VALUES (:now)";
const NEW_REVISION: &str =
    "INSERT INTO tank_revisions (tank_id, made_at, why, tank) VALUES (:tank, :now, :why, :body)";
const LATEST: &str = "
    SELECT t.id, r.id, r.made_at, r.why, r.tank, t.removed_at FROM tanks t
    JOIN tank_revisions r ON r.id = (SELECT max(id) FROM tank_revisions WHERE tank_id = t.id)
    WHERE t.id = :tank";
const ALL_LATEST: &str = "
    SELECT t.id, r.id, r.made_at, r.why, r.tank, t.removed_at FROM tanks t
    JOIN tank_revisions r ON r.id = (SELECT max(id) FROM tank_revisions WHERE tank_id = t.id)
    WHERE t.removed_at IS NULL ORDER BY t.id";
const ALL_REMOVED: &str = "
    SELECT t.id, r.id, r.made_at, r.why, r.tank, t.removed_at FROM tanks t
    JOIN tank_revisions r ON r.id = (SELECT max(id) FROM tank_revisions WHERE tank_id = t.id)
    WHERE t.removed_at IS NOT NULL ORDER BY t.removed_at DESC, t.id";
const REVISIONS: &str = "
    SELECT t.id, r.id, r.made_at, r.why, r.tank, t.removed_at FROM tanks t JOIN tank_revisions r ON r.tank_id = t.id
    WHERE t.id = :tank ORDER BY r.id DESC";
const ONE_REVISION: &str = "
    SELECT t.id, r.id, r.made_at, r.why, r.tank, t.removed_at FROM tanks t JOIN tank_revisions r ON r.tank_id = t.id
    WHERE t.id = :tank AND r.id = :revision";
const BEFORE: &str = "
    SELECT t.id, r.id, r.made_at, r.why, r.tank, t.removed_at FROM tanks t
    JOIN tank_revisions r ON r.id = (SELECT max(id) FROM tank_revisions WHERE tank_id = t.id AND id < :revision)
    WHERE t.id = :tank";
const HISTORY: &str =
    "SELECT id, made_at, why FROM tank_revisions WHERE tank_id = :tank ORDER BY id DESC";
const SET_REMOVED: &str = "UPDATE tanks SET removed_at = :removed WHERE id = :tank";
const LATEST_MARK: &str =
    "SELECT id, made_at FROM tank_revisions WHERE tank_id = :tank ORDER BY id DESC LIMIT 1";
const ENTERED: &str = "SELECT created_at FROM tanks WHERE id = :tank";
const COUNT: &str = "SELECT count(*) FROM tanks";
const EVERY_BODY: &str = "SELECT tank_id, id, tank FROM tank_revisions";
const LATEST_BODIES: &str = "
    SELECT t.id, r.id, r.tank FROM tanks t
    JOIN tank_revisions r ON r.id = (SELECT max(id) FROM tank_revisions WHERE tank_id = t.id) ORDER BY t.id";
const LOCK_EXISTS: &str = "SELECT id FROM tanks WHERE id = :tank";

/// Every row, for whoever looks through all of them.
pub(crate) const EVERY: &str = "SELECT t.id, r.id, r.made_at, r.why, r.tank, t.removed_at FROM tanks t JOIN tank_revisions r ON r.tank_id = t.id";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[
    LATEST_MARK,
    ENTERED,
    EVERY,
    NEW,
    NEW_REVISION,
    LATEST,
    ALL_LATEST,
    ALL_REMOVED,
    REVISIONS,
    ONE_REVISION,
    BEFORE,
    HISTORY,
    SET_REMOVED,
    COUNT,
    EVERY_BODY,
    LATEST_BODIES,
    LOCK_EXISTS,
];

/// A tank as of one revision.
#[derive(Clone, Debug, PartialEq)]
pub struct Revision {
    /// The tank.
    pub tank_id: TankId,
    /// The revision.
    pub id: RevisionId,
    /// When it was saved.
    pub made_at: Timestamp,
    /// Why.
    pub why: String,
    /// What stands there.
    pub tank: Tank,
    /// The tank has been put away.
    pub removed: bool,
}

pub(crate) fn from_row(row: &Row<'_>) -> Result<Revision, StoreError> {
    let tank_id: TankId = row.get(0)?;
    let body: String = row.get(4)?;
    let tank = reed_core::document::stored_tank(&body)
        .map_err(|why| StoreError::unreadable(format!("tank {tank_id}"), why))?;
    let removed: Option<String> = row.get(5)?;
    Ok(Revision {
        tank_id,
        id: row.get(1)?,
        made_at: row.get(2)?,
        why: row.get(3)?,
        tank,
        removed: removed.is_some(),
    })
}

/// Saves a new tank.
///
/// # Errors
/// When the database fails.
pub fn create(
    db: &Connection,
    tank: &Tank,
    why: &str,
    now: Timestamp,
) -> Result<TankId, StoreError> {
    db.prepare_cached(NEW)?
        .execute(named_params! { ":now": now })?;
    let id = TankId(db.last_insert_rowid());
    revise(db, id, tank, why, now)?;
    Ok(id)
}

/// Saves a tank as it now stands; what stood there before stays as an older revision.
///
/// # Errors
/// When there is no such tank or the database fails.
pub fn revise(
    db: &Connection,
    id: TankId,
    tank: &Tank,
    why: &str,
    now: Timestamp,
) -> Result<RevisionId, StoreError> {
    StoreError::found(
        db.prepare_cached(LOCK_EXISTS)?
            .query_row(named_params! { ":tank": id }, |_| Ok(())),
        "tank",
        id.0,
    )?;
    let body = serde_json::to_string(tank)
        .map_err(|why| StoreError::unreadable(format!("tank {id}"), why))?;
    db.prepare_cached(NEW_REVISION)?
        .execute(named_params! { ":tank": id, ":now": now, ":why": why, ":body": body })?;
    Ok(RevisionId(db.last_insert_rowid()))
}

/// The tank as it stands.
///
/// # Errors
/// When there is no such tank or the database fails.
pub fn latest(db: &Connection, id: TankId) -> Result<Revision, StoreError> {
    let mut statement = db.prepare_cached(LATEST)?;
    let mut rows = statement.query(named_params! { ":tank": id })?;
    rows.next()?.map_or(
        Err(StoreError::NotFound {
            what: "tank",
            id: id.0,
        }),
        from_row,
    )
}

/// Which revision is the latest of a tank, and when it was made, without reading it; none of no tank.
///
/// # Errors
/// When the database fails.
pub fn latest_mark(
    db: &Connection,
    id: TankId,
) -> Result<Option<(RevisionId, Timestamp)>, StoreError> {
    let mut statement = db.prepare_cached(LATEST_MARK)?;
    let mut rows = statement.query(named_params! { ":tank": id })?;
    let row = rows.next()?;
    Ok(row
        .map(|row| Ok::<_, rusqlite::Error>((row.get(0)?, row.get(1)?)))
        .transpose()?)
}

/// When a tank was entered, where that can be read.
///
/// # Errors
/// When the database fails.
pub fn entered_at(db: &Connection, id: TankId) -> Result<Option<Timestamp>, StoreError> {
    let mut statement = db.prepare_cached(ENTERED)?;
    let rows = statement.query_map(named_params! { ":tank": id }, |row| row.get(0))?;
    StoreError::first_readable(rows.map(|row| Ok(row?)))
}

/// Every tank that has not been put away, as it stands; without those that cannot be read.
///
/// # Errors
/// When the database fails.
pub fn all(db: &Connection) -> Result<Vec<Revision>, StoreError> {
    Ok(all_told(db)?.rows)
}

/// The same, with what is wrong with those that cannot be read: [`unreadable`] tells more of them.
///
/// # Errors
/// When the database fails.
pub fn all_told(db: &Connection) -> Result<Page<Revision>, StoreError> {
    StoreError::sorted_out(
        db.prepare_cached(ALL_LATEST)?
            .query_and_then([], from_row)?,
    )
}

/// Every tank that has been put away, the last first; with what is wrong with those that cannot be
/// read.
///
/// # Errors
/// When the database fails.
pub fn put_away(db: &Connection) -> Result<Page<Revision>, StoreError> {
    StoreError::sorted_out(
        db.prepare_cached(ALL_REMOVED)?
            .query_and_then([], from_row)?,
    )
}

/// Every revision of a tank that can be read, newest first.
///
/// # Errors
/// When the newest cannot be read, or the database fails.
pub fn revisions(db: &Connection, id: TankId) -> Result<Vec<Revision>, StoreError> {
    let mut statement = db.prepare_cached(REVISIONS)?;
    let mut rows = statement.query_and_then(named_params! { ":tank": id }, from_row)?;
    // An older one in its place would be taken for the tank as it stands.
    let newest = rows.next().transpose()?;
    let older = StoreError::readable(rows)?;
    Ok(newest.into_iter().chain(older).collect())
}

/// A tank whose latest revision cannot be read. Everything else about it is kept.
#[derive(Clone, Debug, PartialEq)]
pub struct Unreadable {
    /// The tank.
    pub tank_id: TankId,
    /// Why.
    pub why: String,
    /// The latest of its revisions that can be read.
    pub last_good: Option<Revision>,
}

/// The tanks whose latest revision cannot be read, those that were put away too. Reads every tank:
/// for whoever knows that there is one.
///
/// # Errors
/// When the database fails.
pub fn unreadable(db: &Connection) -> Result<Vec<Unreadable>, StoreError> {
    let mut statement = db.prepare_cached(LATEST_BODIES)?;
    let bodies: Vec<(TankId, String)> = statement
        .query_map([], |row| Ok((row.get(0)?, row.get(2)?)))?
        .collect::<Result<_, _>>()?;
    let mut all = Vec::new();
    for (tank_id, body) in bodies {
        if let Err(why) = reed_core::document::stored_tank(&body) {
            let revisions = db
                .prepare_cached(REVISIONS)?
                .query_and_then(named_params! { ":tank": tank_id }, from_row)?
                .collect::<Vec<_>>();
            all.push(Unreadable {
                tank_id,
                why: why.to_string(),
                last_good: StoreError::readable(revisions.into_iter())?
                    .into_iter()
                    .next(),
            });
        }
    }
    Ok(all)
}

/// How many tanks there are, those that were put away too.
///
/// # Errors
/// When the database fails.
pub fn count(db: &Connection) -> Result<usize, StoreError> {
    let count: u32 = db.prepare_cached(COUNT)?.query_row([], |row| row.get(0))?;
    Ok(usize::try_from(count).unwrap_or(usize::MAX))
}

/// Fails with the first revision of any tank that cannot be read.
pub(crate) fn all_readable(db: &Connection) -> Result<(), StoreError> {
    let mut statement = db.prepare_cached(EVERY_BODY)?;
    let mut rows = statement.query([])?;
    while let Some(row) = rows.next()? {
        let body: String = row.get(2)?;
        if let Err(why) = reed_core::document::stored_tank(&body) {
            let (tank, revision): (TankId, RevisionId) = (row.get(0)?, row.get(1)?);
            return Err(StoreError::NotTaken(format!(
                "records/tank_revisions.csv: revision {revision} of tank {tank} is no tank ({why})."
            )));
        }
    }
    Ok(())
}

/// One revision of a tank.
///
/// # Errors
/// When there is no such revision of this tank or the database fails.
pub fn revision(db: &Connection, id: TankId, revision: RevisionId) -> Result<Revision, StoreError> {
    let mut statement = db.prepare_cached(ONE_REVISION)?;
    let mut rows = statement.query(named_params! { ":tank": id, ":revision": revision })?;
    rows.next()?.map_or(
        Err(StoreError::NotFound {
            what: "revision",
            id: revision.0,
        }),
        from_row,
    )
}

/// The revision before this one, if it is not the first.
///
/// # Errors
/// When the database fails.
pub fn before(
    db: &Connection,
    id: TankId,
    revision: RevisionId,
) -> Result<Option<Revision>, StoreError> {
    let mut statement = db.prepare_cached(BEFORE)?;
    let mut rows = statement.query(named_params! { ":tank": id, ":revision": revision })?;
    rows.next()?.map(from_row).transpose()
}

/// A line of a tank's history.
#[derive(Clone, Debug, PartialEq)]
pub struct HistoryLine {
    /// The revision.
    pub id: RevisionId,
    /// When it was saved.
    pub made_at: Timestamp,
    /// Why.
    pub why: String,
}

/// When and why a tank was changed, newest first, without the tanks themselves.
///
/// # Errors
/// When the database fails.
pub fn history(db: &Connection, id: TankId) -> Result<Vec<HistoryLine>, StoreError> {
    let line = |row: &Row<'_>| -> Result<HistoryLine, StoreError> {
        Ok(HistoryLine {
            id: row.get(0)?,
            made_at: row.get(1)?,
            why: row.get(2)?,
        })
    };
    let mut statement = db.prepare_cached(HISTORY)?;
    let rows = statement.query_map(named_params! { ":tank": id }, |row| Ok(line(row)))?;
    StoreError::readable(rows.map(|row| row?))
}

/// Puts a tank away, or takes it back with `None`.
///
/// # Errors
/// When there is no such tank or the database fails.
pub fn set_removed(
    db: &Connection,
    id: TankId,
    removed: Option<Timestamp>,
) -> Result<(), StoreError> {
    match db
        .prepare_cached(SET_REMOVED)?
        .execute(named_params! { ":tank": id, ":removed": removed })?
    {
        0 => Err(StoreError::NotFound {
            what: "tank",
            id: id.0,
        }),
        _ => Ok(()),
    }
}
