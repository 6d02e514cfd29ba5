//! Plans that were chosen in a case: what is made when.

use jiff::Timestamp;
use reed_core::remedy::change::{self, Change};
use reed_core::tank::Moves;
use rusqlite::{Connection, named_params};
use serde::{Deserialize, Serialize};

use crate::{CaseId, PlanId, StoreError};

const NEW: &str = "INSERT INTO plans (case_id, stages, made_at) VALUES (:case, :stages, :now)";
const OF_CASE: &str = "
    SELECT id, stages, made_at FROM plans
    WHERE case_id = :case AND dropped_at IS NULL ORDER BY id DESC LIMIT 1";
const DROP: &str =
    "UPDATE plans SET dropped_at = :now WHERE case_id = :case AND dropped_at IS NULL";

/// Every row, for whoever looks through all of them.
pub(crate) const EVERY: &str = "SELECT id, stages, made_at FROM plans";

/// Every statement of this module.
#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[EVERY, NEW, OF_CASE, DROP];

/// A plan that was chosen.
#[derive(Clone, Debug, PartialEq)]
pub struct KeptPlan {
    /// Its number.
    pub id: PlanId,
    /// What is made when, in order.
    pub stages: Vec<KeptStage>,
    /// When it was chosen.
    pub made_at: Timestamp,
}

/// Changes that are made together.
#[derive(Clone, Debug, PartialEq)]
pub struct KeptStage {
    /// Not before so many days from the beginning.
    pub from_day: f64,
    /// The changes.
    pub changes: Vec<&'static Change>,
    /// Where the things of its changes go, as it was tried in the water.
    pub moves: Option<Moves>,
}

/// As it is stored.
#[derive(Serialize, Deserialize)]
struct Row {
    from_day: f64,
    changes: Vec<String>,
    #[serde(default)]
    moves: Option<String>,
}

/// Keeps a plan; it takes the place of the one before.
///
/// # Errors
/// When the case is closed or the database fails.
pub fn choose(
    db: &Connection,
    case: CaseId,
    stages: &[KeptStage],
    now: Timestamp,
) -> Result<PlanId, StoreError> {
    crate::cases::find_open(db, case)?;
    drop_open(db, case, now)?;
    let rows: Vec<Row> = stages
        .iter()
        .map(|stage| Row {
            from_day: stage.from_day,
            changes: stage
                .changes
                .iter()
                .map(|change| change.id.to_owned())
                .collect(),
            moves: stage.moves.as_ref().map(ToString::to_string),
        })
        .collect();
    let stages =
        serde_json::to_string(&rows).map_err(|why| StoreError::unreadable("a plan", why))?;
    db.prepare_cached(NEW)?
        .execute(named_params! { ":case": case, ":stages": stages, ":now": now })?;
    Ok(PlanId(db.last_insert_rowid()))
}

/// The plan of a case, if one is followed that this program can read. A change that it does not know
/// is left out.
///
/// # Errors
/// When the database fails.
pub fn of_case(db: &Connection, case: CaseId) -> Result<Option<KeptPlan>, StoreError> {
    let mut statement = db.prepare_cached(OF_CASE)?;
    let rows = statement.query_and_then(named_params! { ":case": case }, from_row)?;
    StoreError::first_readable(rows)
}

pub(crate) fn from_row(row: &rusqlite::Row<'_>) -> Result<KeptPlan, StoreError> {
    let id: PlanId = row.get(0)?;
    let stages: Vec<Row> = serde_json::from_str(&row.get::<_, String>(1)?)
        .map_err(|why| StoreError::unreadable(format!("plan {id}"), why))?;
    let stage = |stage: Row| KeptStage {
        from_day: stage.from_day,
        changes: stage
            .changes
            .iter()
            .filter_map(|id| change::by_id(id))
            .collect(),
        // What cannot be read is left to the keeper's hand, as what no longer fits is.
        moves: stage.moves.and_then(|moves| moves.parse().ok()),
    };
    let stages = stages.into_iter().map(stage);
    Ok(KeptPlan {
        id,
        stages: stages.filter(|stage| !stage.changes.is_empty()).collect(),
        made_at: row.get(2)?,
    })
}

/// The plan of a case is followed no longer.
///
/// # Errors
/// When the database fails.
pub fn drop_open(db: &Connection, case: CaseId, now: Timestamp) -> Result<(), StoreError> {
    db.prepare_cached(DROP)?
        .execute(named_params! { ":case": case, ":now": now })?;
    Ok(())
}
