//! What changes cost here, where a keeper has said so.

use reed_core::remedy::plan::{Price, Prices};
use rusqlite::{Connection, named_params};

use crate::StoreError;

const ALL: &str = "SELECT change, euros, minutes FROM prices";
const SET: &str = "
    INSERT INTO prices (change, euros, minutes) VALUES (:change, :euros, :minutes)
    ON CONFLICT (change) DO UPDATE SET euros = excluded.euros, minutes = excluded.minutes";
const CLEAR: &str = "DELETE FROM prices WHERE change = :change";

/// Every statement of this module.
#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[ALL, SET, CLEAR];

/// Every price that was given.
///
/// # Errors
/// When the database fails.
pub fn all(db: &Connection) -> Result<Prices, StoreError> {
    let mut statement = db.prepare_cached(ALL)?;
    let rows = statement.query_map([], |row| {
        let price = Price {
            euros: row.get(1)?,
            minutes: row.get(2)?,
        };
        Ok((row.get::<_, String>(0)?, price))
    })?;
    Ok(Prices::new(StoreError::readable(rows.map(|row| Ok(row?)))?))
}

/// Keeps what a change costs here; without a price its card goes again.
///
/// # Errors
/// When the database fails.
pub fn set(db: &Connection, change: &str, price: Option<Price>) -> Result<(), StoreError> {
    match price {
        Some(Price { euros, minutes }) => db
            .prepare_cached(SET)?
            .execute(named_params! { ":change": change, ":euros": euros, ":minutes": minutes })?,
        None => db
            .prepare_cached(CLEAR)?
            .execute(named_params! { ":change": change })?,
    };
    Ok(())
}
