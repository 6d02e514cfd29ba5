//! What a page kept while the network was away, and sent later: stored once, however often it comes.

use jiff::Timestamp;
use rusqlite::{Connection, named_params};

use crate::StoreError;

const ADD: &str = "INSERT INTO sent (id, at) VALUES (:id, :now) ON CONFLICT DO NOTHING";
/// A page sends what it kept within days.
const FORGET: &str = "DELETE FROM sent WHERE at < :before";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[ADD, FORGET];

/// So long it is remembered that something came.
const REMEMBERED: jiff::SignedDuration = jiff::SignedDuration::from_hours(100 * 24);

/// Notes that this came, in the transaction that stores it.
///
/// # Errors
/// [`StoreError::SentBefore`], or when the database fails.
pub fn note(db: &Connection, id: &str, now: Timestamp) -> Result<(), StoreError> {
    db.prepare_cached(FORGET)?
        .execute(named_params! { ":before": now - REMEMBERED })?;
    match db
        .prepare_cached(ADD)?
        .execute(named_params! { ":id": id, ":now": now })?
    {
        0 => Err(StoreError::SentBefore),
        _ => Ok(()),
    }
}
