//! What the flow model found, by the scene that it was asked about.

use jiff::Timestamp;
use reed_core::flow::Facts;
use rusqlite::{Connection, named_params};

use crate::StoreError;

const GET: &str = "SELECT facts FROM flows WHERE scene = :scene";
const GET_FIELD: &str = "SELECT field FROM flows WHERE scene = :scene";
const SET: &str = "INSERT INTO flows (scene, facts, field, computed_at) VALUES (:scene, :facts, :field, :computed_at)
                   ON CONFLICT (scene) DO UPDATE SET facts = :facts, field = :field, computed_at = :computed_at";

const PRUNE: &str = "
    DELETE FROM flows WHERE scene NOT IN (SELECT scene FROM flows ORDER BY computed_at DESC, scene LIMIT :most)";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[GET, GET_FIELD, SET, PRUNE];

/// So many are kept, some 300 kB each; one that went is computed again when it is asked for.
pub const MOST: usize = 200;

/// What was found of the scene with this key. What an older version of the program kept in another
/// form counts as not found: it is computed again.
///
/// # Errors
/// When the database fails.
pub fn facts(db: &Connection, scene: &str) -> Result<Option<Facts>, StoreError> {
    let mut statement = db.prepare_cached(GET)?;
    let mut rows = statement.query(named_params! { ":scene": scene })?;
    let Some(row) = rows.next()? else {
        return Ok(None);
    };
    let text: String = row.get(0)?;
    Ok(serde_json::from_str(&text).ok())
}

/// The packed speeds of the scene with this key.
///
/// # Errors
/// When the database fails.
pub fn field(db: &Connection, scene: &str) -> Result<Option<Vec<u8>>, StoreError> {
    let mut statement = db.prepare_cached(GET_FIELD)?;
    let mut rows = statement.query(named_params! { ":scene": scene })?;
    Ok(rows.next()?.map(|row| row.get(0)).transpose()?)
}

/// Keeps what was found, with the packed speeds; of all that were found the latest [`MOST`].
///
/// # Errors
/// When the database fails.
pub fn keep(
    db: &Connection,
    scene: &str,
    facts: &Facts,
    field: &[u8],
    now: Timestamp,
) -> Result<(), StoreError> {
    let text = serde_json::to_string(facts)
        .map_err(|why| StoreError::unreadable("what the flow model found".to_owned(), why))?;
    db.prepare_cached(SET)?.execute(named_params! { ":scene": scene, ":facts": text, ":field": field, ":computed_at": now.to_string() })?;
    let most = i64::try_from(MOST).unwrap_or(i64::MAX);
    db.prepare_cached(PRUNE)?
        .execute(named_params! { ":most": most })?;
    Ok(())
}
