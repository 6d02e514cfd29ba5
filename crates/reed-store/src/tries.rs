//! Arrangements tried in the flow model, kept by name beside the tank.

use jiff::Timestamp;
use reed_core::tank::Moves;
use rusqlite::{Connection, Row, named_params};

use crate::{StoreError, TankId, TryId};

const ADD: &str =
    "INSERT INTO tries (tank_id, name, moves, made_at) VALUES (:tank, :name, :moves, :now)";
const OF_TANK: &str = "SELECT id, name, moves, dropped_at FROM tries WHERE tank_id = :tank AND dropped_at IS NULL ORDER BY id DESC";
const FIND: &str =
    "SELECT id, name, moves, dropped_at FROM tries WHERE tank_id = :tank AND id = :try";
const SET_DROPPED: &str =
    "UPDATE tries SET dropped_at = :dropped WHERE tank_id = :tank AND id = :try";

/// Every row, for whoever looks through all of them.
pub(crate) const EVERY: &str = "SELECT id, name, moves, dropped_at FROM tries";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[EVERY, ADD, OF_TANK, FIND, SET_DROPPED];

/// A try as kept.
#[derive(Clone, Debug, PartialEq)]
pub struct KeptTry {
    /// Its number.
    pub id: TryId,
    /// What the keeper calls it.
    pub name: String,
    /// What stands elsewhere in it.
    pub moves: Moves,
    /// The keeper has discarded it.
    pub is_dropped: bool,
}

pub(crate) fn from_row(row: &Row<'_>) -> Result<KeptTry, StoreError> {
    let id: TryId = row.get(0)?;
    let moves: String = row.get(2)?;
    let moves = moves
        .parse()
        .map_err(|why| StoreError::unreadable(format!("try {id}"), why))?;
    Ok(KeptTry {
        id,
        name: row.get(1)?,
        moves,
        is_dropped: row.get::<_, Option<Timestamp>>(3)?.is_some(),
    })
}

/// Keeps a try.
///
/// # Errors
/// When there is no such tank or the database fails.
pub fn add(
    db: &Connection,
    tank: TankId,
    name: &str,
    moves: &Moves,
    now: Timestamp,
) -> Result<TryId, StoreError> {
    db.prepare_cached(ADD)?.execute(
        named_params! { ":tank": tank, ":name": name, ":moves": moves.to_string(), ":now": now },
    )?;
    Ok(TryId(db.last_insert_rowid()))
}

/// The tries of a tank that were not discarded, newest first.
///
/// # Errors
/// When the database fails.
pub fn of_tank(db: &Connection, tank: TankId) -> Result<Vec<KeptTry>, StoreError> {
    StoreError::readable(
        db.prepare_cached(OF_TANK)?
            .query_and_then(named_params! { ":tank": tank }, from_row)?,
    )
}

/// One try, discarded or not.
///
/// # Errors
/// When the tank has no such try or the database fails.
pub fn find(db: &Connection, tank: TankId, id: TryId) -> Result<KeptTry, StoreError> {
    let mut statement = db.prepare_cached(FIND)?;
    let mut rows =
        statement.query_and_then(named_params! { ":tank": tank, ":try": id }, from_row)?;
    rows.next().unwrap_or(Err(StoreError::NotFound {
        what: "try",
        id: id.0,
    }))
}

/// Discards a try, or takes that back.
///
/// # Errors
/// When the tank has no such try or the database fails.
pub fn set_dropped(
    db: &Connection,
    tank: TankId,
    id: TryId,
    dropped: Option<Timestamp>,
) -> Result<(), StoreError> {
    find(db, tank, id)?;
    db.prepare_cached(SET_DROPPED)?
        .execute(named_params! { ":tank": tank, ":try": id, ":dropped": dropped })?;
    Ok(())
}
