//! What happened to the water of a tank, and what is planned.

use jiff::Timestamp;
use jiff::civil::DateTime;
use reed_core::outlook::ahead::What;
use rusqlite::{Connection, Row, named_params};

use crate::{EventId, StoreError, TankId};

const ADD: &str = "INSERT INTO events (tank_id, what, amount, at, made_at) VALUES (:tank, :what, :amount, :at, :now)";
const SINCE: &str = "SELECT id, what, amount, at, struck_at FROM events WHERE tank_id = :tank AND at >= :since ORDER BY at, id";
const MOVE: &str =
    "UPDATE events SET at = :at WHERE tank_id = :tank AND id = :event AND struck_at IS NULL";
const SET_STRUCK: &str =
    "UPDATE events SET struck_at = :struck WHERE tank_id = :tank AND id = :event";

const STRIKE_AFTER: &str = "UPDATE events SET struck_at = :struck WHERE tank_id = :tank AND at > :after AND struck_at IS NULL";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[ADD, SINCE, MOVE, SET_STRUCK, STRIKE_AFTER];

/// An event as kept.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct KeptEvent {
    /// Its number.
    pub id: EventId,
    /// What.
    pub what: What,
    /// When, by the clock on the wall.
    pub at: DateTime,
    /// The keeper has withdrawn it.
    pub is_struck: bool,
}

fn from_row(row: &Row<'_>) -> Result<KeptEvent, StoreError> {
    let id: EventId = row.get(0)?;
    let what: String = row.get(1)?;
    let unknown =
        || StoreError::unreadable(format!("event {id}"), format!("“{what}” is not known"));
    let known = What::by_id(&what, row.get(2)?).ok_or_else(unknown)?;
    Ok(KeptEvent {
        id,
        what: known,
        at: row.get(3)?,
        is_struck: row.get::<_, Option<Timestamp>>(4)?.is_some(),
    })
}

/// Enters an event.
///
/// # Errors
/// When there is no such tank or the database fails.
pub fn add(
    db: &Connection,
    tank: TankId,
    what: What,
    at: DateTime,
    now: Timestamp,
) -> Result<EventId, StoreError> {
    let (id, amount) = what.id();
    db.prepare_cached(ADD)?.execute(
        named_params! { ":tank": tank, ":what": id, ":amount": amount, ":at": at, ":now": now },
    )?;
    Ok(EventId(db.last_insert_rowid()))
}

/// The events of a tank since a moment, planned and withdrawn ones too, oldest first.
///
/// # Errors
/// When the database fails or holds an event this program cannot read.
pub fn since(db: &Connection, tank: TankId, since: DateTime) -> Result<Vec<KeptEvent>, StoreError> {
    db.prepare_cached(SINCE)?
        .query_and_then(named_params! { ":tank": tank, ":since": since }, from_row)?
        .collect()
}

/// Moves an event to another time.
///
/// # Errors
/// When the tank has no such event or the database fails.
pub fn move_to(db: &Connection, tank: TankId, id: EventId, at: DateTime) -> Result<(), StoreError> {
    changed_one(
        db.prepare_cached(MOVE)?
            .execute(named_params! { ":tank": tank, ":event": id, ":at": at })?,
        id,
    )
}

/// Withdraws an event, or takes that back.
///
/// # Errors
/// When the tank has no such event or the database fails.
pub fn set_struck(
    db: &Connection,
    tank: TankId,
    id: EventId,
    struck: Option<Timestamp>,
) -> Result<(), StoreError> {
    changed_one(
        db.prepare_cached(SET_STRUCK)?
            .execute(named_params! { ":tank": tank, ":event": id, ":struck": struck })?,
        id,
    )
}

/// Withdraws every event after a moment: all that is planned.
///
/// # Errors
/// When the database fails.
pub fn strike_after(
    db: &Connection,
    tank: TankId,
    after: DateTime,
    struck: Timestamp,
) -> Result<(), StoreError> {
    db.prepare_cached(STRIKE_AFTER)?
        .execute(named_params! { ":tank": tank, ":after": after, ":struck": struck })?;
    Ok(())
}

fn changed_one(rows: usize, id: EventId) -> Result<(), StoreError> {
    if rows == 1 {
        Ok(())
    } else {
        Err(StoreError::NotFound {
            what: "event",
            id: id.0,
        })
    }
}
