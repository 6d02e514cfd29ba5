//! What the flow model found, by the scene that it was asked about.

use jiff::Timestamp;
use reed_core::flow::Facts;
use rusqlite::{Connection, named_params};

use crate::StoreError;

const GET: &str = "SELECT facts FROM flows WHERE scene = :scene";
const SET: &str = "INSERT INTO flows (scene, facts, computed_at) VALUES (:scene, :facts, :computed_at)
                   ON CONFLICT (scene) DO UPDATE SET facts = :facts, computed_at = :computed_at";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[GET, SET];

/// What was found of the scene with this key. What an older version of the program kept in another form counts as not found:
/// it is computed again.
///
/// # Errors
/// When the database fails.
pub fn facts(db: &Connection, scene: &str) -> Result<Option<Facts>, StoreError> {
    let mut statement = db.prepare_cached(GET)?;
    let mut rows = statement.query(named_params! { ":scene": scene })?;
    let Some(row) = rows.next()? else { return Ok(None) };
    let text: String = row.get(0)?;
    Ok(serde_json::from_str(&text).ok())
}

/// Keeps what was found.
///
/// # Errors
/// When the database fails.
pub fn keep(db: &Connection, scene: &str, facts: &Facts, now: Timestamp) -> Result<(), StoreError> {
    let text = serde_json::to_string(facts).map_err(|why| StoreError::unreadable("what the flow model found".to_owned(), why))?;
    db.prepare_cached(SET)?.execute(named_params! { ":scene": scene, ":facts": text, ":computed_at": now.to_string() })?;
    Ok(())
}
