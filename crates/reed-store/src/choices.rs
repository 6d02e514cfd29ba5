//! Changes that were chosen in a case: what was promised, what was done, what proved it.

use std::collections::BTreeSet;

use jiff::Timestamp;
use jiff::civil::DateTime;
use reed_core::diagnosis::fault::{self, Fault};
use reed_core::outlook::forecast::Forecast;
use reed_core::remedy::change::{self, Change, Step};
use reed_core::remedy::proof::{Judgement, Verdict};
use reed_core::tank::Moves;
use rusqlite::{Connection, Row, named_params};

use crate::{CaseId, ChoiceId, PlanId, ReadingId, StoreError};

const NEW: &str = "
    INSERT INTO choices (case_id, change, moves, now, after, chosen_at, also, against, plan_id)
    VALUES (:case, :change, :moves, :without, :after, :now, :also, :against, :plan)";
const OF_CASE: &str = "
    SELECT id, case_id, change, now, after, chosen_at, done_at, done_wall, moves, also, against, plan_id FROM choices
    WHERE case_id = :case AND dropped_at IS NULL ORDER BY id";
const DROP: &str = "UPDATE choices SET dropped_at = :now WHERE id = :choice AND case_id = :case AND dropped_at IS NULL AND done_at IS NULL";
const DONE: &str = "UPDATE choices SET done_at = :now, done_wall = :wall WHERE id = :choice AND case_id = :case AND dropped_at IS NULL AND done_at IS NULL";
const UNDO_DONE: &str = "
    UPDATE choices SET done_at = NULL, done_wall = NULL
    WHERE id = :choice AND case_id = :case AND done_at IS NOT NULL AND NOT EXISTS (SELECT 1 FROM proofs WHERE choice_id = :choice)";
const TICK: &str =
    "INSERT INTO step_ticks (choice_id, step, done, made_at) VALUES (:choice, :step, :done, :now)";
const TICKED: &str = "
    SELECT step FROM step_ticks
    WHERE id IN (SELECT max(id) FROM step_ticks WHERE choice_id = :choice GROUP BY step) AND done = 1";
const PROVE: &str = "
    INSERT INTO proofs (choice_id, part, reading_id, seen_at, verdict, words, judged_at)
    VALUES (:choice, :part, :reading, :seen, :verdict, :words, :now)";
const PROOFS: &str = "SELECT reading_id, seen_at, verdict, words, part FROM proofs WHERE choice_id = :choice ORDER BY id";

/// Every row, for whoever looks through all of them.
pub(crate) const EVERY: &str = "SELECT id, case_id, change, now, after, chosen_at, done_at, done_wall, moves, also, against, plan_id FROM choices";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[
    EVERY, NEW, OF_CASE, DROP, DONE, UNDO_DONE, TICK, TICKED, PROVE, PROOFS,
];

/// What was judged.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum ProvedBy {
    /// A reading.
    Reading(ReadingId),
    /// A look, by the clock on the wall.
    Look(DateTime),
}

/// A judged reading or look.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Proof {
    /// What had to be shown: id of [`Wanted`](reed_core::remedy::change::Wanted); empty of the first
    /// part.
    pub part: String,
    /// What was judged.
    pub by: ProvedBy,
    /// What it says.
    pub verdict: Verdict,
    /// In words.
    pub words: String,
}

/// A change that was chosen, or several that are made together.
#[derive(Clone, Debug, PartialEq)]
pub struct ChosenChange {
    /// Its number.
    pub id: ChoiceId,
    /// The case.
    pub case_id: CaseId,
    /// The changes, in the order in which they are made; one at least.
    pub changes: Vec<&'static Change>,
    /// The faults it was chosen against, likeliest first; none of a choice of an older program.
    pub against: Vec<&'static Fault>,
    /// The plan it is a stage of.
    pub plan: Option<PlanId>,
    /// Where things go, of a change that was chosen as it was tried.
    pub moves: Option<Moves>,
    /// What was forecast without it.
    pub now: Forecast,
    /// What was forecast with it, where it could be computed.
    pub after: Option<Forecast>,
    /// When it was chosen.
    pub chosen_at: Timestamp,
    /// When it was done, by the clock on the wall.
    pub done_wall: Option<DateTime>,
    /// Steps ticked off, from 0.
    pub ticked: BTreeSet<usize>,
    /// Readings and looks judged so far, oldest first.
    pub proofs: Vec<Proof>,
}

impl ChosenChange {
    /// It has been done.
    pub fn is_done(&self) -> bool {
        self.done_wall.is_some()
    }

    /// What it is called.
    pub fn title(&self) -> String {
        let titles: Vec<&str> = self.changes.iter().map(|change| change.title).collect();
        titles.join(" + ")
    }

    /// Every step of every change, in order.
    pub fn steps(&self) -> impl Iterator<Item = &'static Step> {
        self.changes.iter().flat_map(|change| change.steps)
    }
}

/// What is chosen.
#[derive(Clone, Copy, Debug)]
pub struct Chosen<'a> {
    /// The changes that are made together, in order; one at least.
    pub changes: &'a [&'static Change],
    /// The faults they are chosen against, likeliest first.
    pub against: &'a [&'static Fault],
    /// The plan they are a stage of.
    pub plan: Option<PlanId>,
    /// Where things go, if it was tried.
    pub moves: Option<&'a Moves>,
    /// What is forecast without it.
    pub without: &'a Forecast,
    /// What is forecast with it, where it can be computed.
    pub after: Option<&'a Forecast>,
}

/// Chooses a change, keeping what is promised of it.
///
/// # Errors
/// When there is no such case, it is closed, or the database fails.
pub fn choose(
    db: &Connection,
    case: CaseId,
    chosen: Chosen<'_>,
    now: Timestamp,
) -> Result<ChoiceId, StoreError> {
    crate::cases::find_open(db, case)?;
    let json = |forecast: &Forecast| {
        serde_json::to_string(forecast).map_err(|why| StoreError::unreadable("a forecast", why))
    };
    let Some((change, also)) = chosen.changes.split_first() else {
        return Err(StoreError::unreadable("a choice", "it holds no change"));
    };
    let (without, after) = (json(chosen.without)?, chosen.after.map(json).transpose()?);
    db.prepare_cached(NEW)?.execute(named_params! {
        ":case": case, ":change": change.id, ":also": words(also.iter().map(|change| change.id)),
        ":against": words(chosen.against.iter().map(|fault| fault.id)), ":plan": chosen.plan, ":moves": chosen.moves.map(ToString::to_string),
        ":without": without, ":after": after, ":now": now,
    })?;
    Ok(ChoiceId(db.last_insert_rowid()))
}

fn words<'a>(ids: impl Iterator<Item = &'a str>) -> String {
    ids.collect::<Vec<_>>().join(" ")
}

/// The choices of a case that were not dropped, oldest first; without those that this program cannot
/// read.
///
/// # Errors
/// When the database fails.
pub fn of_case(db: &Connection, case: CaseId) -> Result<Vec<ChosenChange>, StoreError> {
    let mut choices = StoreError::readable(
        db.prepare_cached(OF_CASE)?
            .query_and_then(named_params! { ":case": case }, from_row)?,
    )?;
    for choice in &mut choices {
        choice.ticked = ticked(db, choice.id)?;
        choice.proofs = proofs(db, choice.id)?;
    }
    Ok(choices)
}

pub(crate) fn from_row(row: &Row<'_>) -> Result<ChosenChange, StoreError> {
    let id: ChoiceId = row.get(0)?;
    let what = || format!("choice {id}");
    let forecast = |text: &str| {
        serde_json::from_str::<Forecast>(text).map_err(|why| StoreError::unreadable(what(), why))
    };
    let known = |id: &str| {
        change::by_id(id)
            .ok_or_else(|| StoreError::unreadable(what(), format!("“{id}” is not known")))
    };
    let (first, also, against): (String, String, String) = (row.get(2)?, row.get(9)?, row.get(10)?);
    let changes = std::iter::once(first.as_str())
        .chain(also.split_whitespace())
        .map(known)
        .collect::<Result<Vec<_>, _>>()?;
    Ok(ChosenChange {
        id,
        case_id: row.get(1)?,
        changes,
        // A fault that this program no longer knows convicts nobody.
        against: against
            .split_whitespace()
            .filter_map(|id| fault::all().find(|fault| fault.id == id))
            .collect(),
        plan: row.get(11)?,
        moves: row
            .get::<_, Option<String>>(8)?
            .map(|moves| {
                moves
                    .parse()
                    .map_err(|why| StoreError::unreadable(what(), why))
            })
            .transpose()?,
        now: forecast(&row.get::<_, String>(3)?)?,
        after: row
            .get::<_, Option<String>>(4)?
            .as_deref()
            .map(forecast)
            .transpose()?,
        chosen_at: row.get(5)?,
        done_wall: row.get(7)?,
        ticked: BTreeSet::new(),
        proofs: Vec::new(),
    })
}

fn ticked(db: &Connection, choice: ChoiceId) -> Result<BTreeSet<usize>, StoreError> {
    let mut statement = db.prepare_cached(TICKED)?;
    let steps = statement.query_map(named_params! { ":choice": choice }, |row| {
        row.get::<_, i64>(0)
    })?;
    let steps = StoreError::readable(steps.map(|step| Ok(step?)))?;
    Ok(steps
        .into_iter()
        .filter_map(|step| usize::try_from(step).ok())
        .collect())
}

fn proofs(db: &Connection, choice: ChoiceId) -> Result<Vec<Proof>, StoreError> {
    let mut statement = db.prepare_cached(PROOFS)?;
    let rows = statement.query_and_then(named_params! { ":choice": choice }, |row| {
        let word: String = row.get(2)?;
        let verdict = Verdict::by_id(&word)
            .ok_or_else(|| StoreError::unreadable("a proof", format!("“{word}” is no verdict")))?;
        let by = match (row.get(0)?, row.get(1)?) {
            (Some(reading), None) => ProvedBy::Reading(reading),
            (None, Some(seen)) => ProvedBy::Look(seen),
            // The table's own check forbids anything else.
            _ => {
                return Err(StoreError::unreadable(
                    "a proof",
                    "it is neither of a reading nor of a look",
                ));
            }
        };
        Ok::<_, StoreError>(Proof {
            by,
            verdict,
            words: row.get(3)?,
            part: row.get(4)?,
        })
    })?;
    StoreError::readable(rows)
}

/// Drops a choice that was not done yet.
///
/// # Errors
/// When the case has no such open choice or the database fails.
pub fn drop_open(
    db: &Connection,
    case: CaseId,
    choice: ChoiceId,
    now: Timestamp,
) -> Result<(), StoreError> {
    changed_one(
        db.prepare_cached(DROP)?
            .execute(named_params! { ":choice": choice, ":case": case, ":now": now })?,
        choice,
    )
}

/// Marks a choice as done.
///
/// # Errors
/// When the case has no such open choice or the database fails.
pub fn done(
    db: &Connection,
    case: CaseId,
    choice: ChoiceId,
    wall: DateTime,
    now: Timestamp,
) -> Result<(), StoreError> {
    changed_one(
        db.prepare_cached(DONE)?.execute(
            named_params! { ":choice": choice, ":case": case, ":wall": wall, ":now": now },
        )?,
        choice,
    )
}

/// Takes it back that a choice was done.
///
/// # Errors
/// When the case has no such choice, when a reading has been judged by it, or the database fails.
pub fn undo_done(db: &Connection, case: CaseId, choice: ChoiceId) -> Result<(), StoreError> {
    changed_one(
        db.prepare_cached(UNDO_DONE)?
            .execute(named_params! { ":choice": choice, ":case": case })?,
        choice,
    )
}

fn changed_one(rows: usize, choice: ChoiceId) -> Result<(), StoreError> {
    if rows == 1 {
        Ok(())
    } else {
        Err(StoreError::NotFound {
            what: "open choice",
            id: choice.0,
        })
    }
}

/// Ticks a step off, or takes the tick back.
///
/// # Errors
/// When there is no such choice or the database fails.
pub fn tick(
    db: &Connection,
    choice: ChoiceId,
    step: usize,
    done: bool,
    now: Timestamp,
) -> Result<(), StoreError> {
    let step = i64::try_from(step).map_err(|why| StoreError::unreadable("a step", why))?;
    db.prepare_cached(TICK)?
        .execute(named_params! { ":choice": choice, ":step": step, ":done": done, ":now": now })?;
    Ok(())
}

/// Keeps what was judged of one part of a proof.
///
/// # Errors
/// When there is no such choice or reading, or the database fails.
pub fn prove(
    db: &Connection,
    (choice, part): (ChoiceId, &str),
    by: ProvedBy,
    judgement: &Judgement,
    now: Timestamp,
) -> Result<(), StoreError> {
    let (reading, seen) = match by {
        ProvedBy::Reading(reading) => (Some(reading), None),
        ProvedBy::Look(seen) => (None, Some(seen)),
    };
    db.prepare_cached(PROVE)?
        .execute(named_params! { ":choice": choice, ":part": part, ":reading": reading, ":seen": seen, ":verdict": judgement.verdict.id(), ":words": judgement.words, ":now": now })?;
    Ok(())
}
