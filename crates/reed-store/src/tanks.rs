//! Tanks and their revisions.

use jiff::Timestamp;
use reed_core::tank::Tank;
use rusqlite::{Connection, Row, named_params};

use crate::{RevisionId, StoreError, TankId};

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
const LOCK_EXISTS: &str = "SELECT id FROM tanks WHERE id = :tank";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[
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

fn from_row(row: &Row<'_>) -> Result<Revision, StoreError> {
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

/// Every tank that has not been put away, as it stands.
///
/// # Errors
/// When the database fails.
pub fn all(db: &Connection) -> Result<Vec<Revision>, StoreError> {
    db.prepare_cached(ALL_LATEST)?
        .query_and_then([], from_row)?
        .collect()
}

/// Every tank that has been put away, the last first.
///
/// # Errors
/// When the database fails.
pub fn put_away(db: &Connection) -> Result<Vec<Revision>, StoreError> {
    db.prepare_cached(ALL_REMOVED)?
        .query_and_then([], from_row)?
        .collect()
}

/// Every revision of a tank, newest first.
///
/// # Errors
/// When the database fails.
pub fn revisions(db: &Connection, id: TankId) -> Result<Vec<Revision>, StoreError> {
    db.prepare_cached(REVISIONS)?
        .query_and_then(named_params! { ":tank": id }, from_row)?
        .collect()
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
    let line = |row: &Row<'_>| {
        Ok(HistoryLine {
            id: row.get(0)?,
            made_at: row.get(1)?,
            why: row.get(2)?,
        })
    };
    Ok(db
        .prepare_cached(HISTORY)?
        .query_map(named_params! { ":tank": id }, line)?
        .collect::<Result<_, _>>()?)
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
