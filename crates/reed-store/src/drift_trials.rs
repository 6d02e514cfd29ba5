//! What real water did with a pinch of food, and how the flow model fared with it.

use jiff::Timestamp;
use reed_core::flow::{DriftTrial, FoodRelease};
use rusqlite::{Connection, Row, named_params};

use crate::{DriftTrialId, StoreError, TankId};

const ADD: &str = "
    INSERT INTO drift_tests (tank_id, pinch, from_x_cm, from_y_cm, to_x_cm, to_y_cm, to_z_cm, seconds, factor, made_at)
    VALUES (:tank, :pinch, :from_x, :from_y, :to_x, :to_y, :to_z, :seconds, :factor, :now)";
const OF_TANK: &str = "
    SELECT id, pinch, from_x_cm, from_y_cm, to_x_cm, to_y_cm, to_z_cm, seconds, factor, made_at, struck_at FROM drift_tests
    WHERE tank_id = :tank ORDER BY id DESC";
const FACTORS: &str =
    "SELECT factor FROM drift_tests WHERE tank_id = :tank AND struck_at IS NULL ORDER BY id";
const SET_STRUCK: &str =
    "UPDATE drift_tests SET struck_at = :struck WHERE tank_id = :tank AND id = :test";

/// Every row, for whoever looks through all of them.
pub(crate) const EVERY: &str = "SELECT id, pinch, from_x_cm, from_y_cm, to_x_cm, to_y_cm, to_z_cm, seconds, factor, made_at, struck_at FROM drift_tests";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[EVERY, ADD, OF_TANK, FACTORS, SET_STRUCK];

/// A test as kept.
#[derive(Clone, Debug, PartialEq)]
pub struct KeptDriftTrial {
    /// Its number.
    pub id: DriftTrialId,
    /// What was done and seen.
    pub test: DriftTrial,
    /// How much likelier than chance the model of that day made what was seen.
    pub factor: f64,
    /// When it was entered.
    pub made_at: Timestamp,
    /// The keeper has withdrawn it.
    pub is_struck: bool,
}

pub(crate) fn from_row(row: &Row<'_>) -> Result<KeptDriftTrial, StoreError> {
    let id: DriftTrialId = row.get(0)?;
    let pinch: String = row.get(1)?;
    let unknown = || {
        StoreError::unreadable(
            format!("drift test {id}"),
            format!("“{pinch}” is not known"),
        )
    };
    let test = DriftTrial {
        pinch: FoodRelease::by_id(&pinch).ok_or_else(unknown)?,
        from_cm: [row.get(2)?, row.get(3)?],
        to_cm: [row.get(4)?, row.get(5)?, row.get(6)?],
        seconds: row.get(7)?,
    };
    Ok(KeptDriftTrial {
        id,
        test,
        factor: row.get(8)?,
        made_at: row.get(9)?,
        is_struck: row.get::<_, Option<Timestamp>>(10)?.is_some(),
    })
}

/// Keeps a test, with what [`DriftTrial::held_against`] the flow of the tank said.
///
/// # Errors
/// When there is no such tank or the database fails.
pub fn add(
    db: &Connection,
    tank: TankId,
    test: &DriftTrial,
    factor: f64,
    now: Timestamp,
) -> Result<DriftTrialId, StoreError> {
    let ([from_x, from_y], [to_x, to_y, to_z]) = (test.from_cm, test.to_cm);
    db.prepare_cached(ADD)?.execute(named_params! {
        ":tank": tank, ":pinch": test.pinch.id(), ":from_x": from_x, ":from_y": from_y,
        ":to_x": to_x, ":to_y": to_y, ":to_z": to_z, ":seconds": test.seconds, ":factor": factor, ":now": now,
    })?;
    Ok(DriftTrialId(db.last_insert_rowid()))
}

/// The tests of a tank, withdrawn ones too, newest first.
///
/// # Errors
/// When the database fails.
pub fn of_tank(db: &Connection, tank: TankId) -> Result<Vec<KeptDriftTrial>, StoreError> {
    StoreError::readable(
        db.prepare_cached(OF_TANK)?
            .query_and_then(named_params! { ":tank": tank }, from_row)?,
    )
}

/// What the tests that count say of the model, for [`reed_core::flow::Trust`].
///
/// # Errors
/// When the database fails.
pub fn factors(db: &Connection, tank: TankId) -> Result<Vec<f64>, StoreError> {
    let mut statement = db.prepare_cached(FACTORS)?;
    let factors = statement
        .query_map(named_params! { ":tank": tank }, |row| row.get(0))?
        .collect::<Result<_, _>>();
    Ok(factors?)
}

/// Withdraws a test, or takes that back.
///
/// # Errors
/// When the tank has no such test or the database fails.
pub fn set_struck(
    db: &Connection,
    tank: TankId,
    id: DriftTrialId,
    struck: Option<Timestamp>,
) -> Result<(), StoreError> {
    let rows = db
        .prepare_cached(SET_STRUCK)?
        .execute(named_params! { ":tank": tank, ":test": id, ":struck": struck })?;
    if rows == 1 {
        Ok(())
    } else {
        Err(StoreError::NotFound {
            what: "drift test",
            id: id.0,
        })
    }
}
