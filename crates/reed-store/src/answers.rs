//! Answers to questions, append-only: the latest of a finding counts, the others are its history.
//!
//! That something happened is told to the log of the tank ([`entries`]) as well, and its date is
//! that of the entry from then on: whoever moves or withdraws the entry moves or withdraws the
//! answer.

use jiff::Timestamp;
use jiff::civil::DateTime;
use reed_core::diagnosis::finding::Kind;
use reed_core::diagnosis::{Answer, Answered, finding};
use reed_core::log::When;
use reed_core::tank::Serial;
use rusqlite::{Connection, named_params};

use crate::{CaseId, StoreError, cases, entries};

const ADD: &str = "
    INSERT INTO answers (case_id, finding, answer, seen_at, entered_at, filters) VALUES (:case, :finding, :answer, :seen, :now, :filters)";
const CURRENT: &str = "
    SELECT finding, answer, seen_at, filters FROM answers
    WHERE id IN (SELECT max(id) FROM answers WHERE case_id = :case GROUP BY finding) AND answer <> 'not-looked' ORDER BY id";
const HISTORY: &str = "SELECT finding, answer, entered_at, seen_at, filters FROM answers WHERE case_id = :case ORDER BY id";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[ADD, CURRENT, HISTORY];

/// One entry as it was made.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Entry {
    /// Id of the finding.
    pub finding: String,
    /// `None` where an answer was withdrawn.
    pub answer: Option<Answer>,
    /// When it was entered.
    pub entered_at: Timestamp,
    /// When it was seen, or for an event when it happened, by the clock on the wall.
    pub seen_at: DateTime,
    /// The filters that show it, where it was said.
    pub filters: Vec<Serial>,
}

fn joined(filters: &[Serial]) -> String {
    filters
        .iter()
        .map(ToString::to_string)
        .collect::<Vec<_>>()
        .join(",")
}

fn split(filters: &str) -> Vec<Serial> {
    filters
        .split(',')
        .filter_map(|number| number.parse().ok().map(Serial))
        .collect()
}

/// A withdrawn answer, as stored.
const NOT_LOOKED: &str = "not-looked";

/// What was answered, and when it was seen or happened.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Given<'a> {
    /// Id of the finding.
    pub finding: &'a str,
    /// `None` withdraws the answer there is.
    pub answer: Option<Answer>,
    /// Of a finding of a filter: those that show it, where it was said.
    pub filters: &'a [Serial],
    /// When it was seen; for an event when it happened, as exactly as that is known.
    pub when: When,
}

impl<'a> Given<'a> {
    /// Of the whole tank, to the minute.
    pub const fn at(finding: &'a str, answer: Option<Answer>, seen_at: DateTime) -> Self {
        Self {
            finding,
            answer,
            filters: &[],
            when: When::minute(seen_at),
        }
    }
}

/// Enters an answer. That something happened goes into the log of the tank too, in place of what
/// this case told of it before.
///
/// # Errors
/// When there is no such case, it is closed, or the database fails.
pub fn add(
    db: &Connection,
    case: CaseId,
    given: &Given<'_>,
    now: Timestamp,
) -> Result<(), StoreError> {
    let tank = cases::find_open(db, case)?.tank_id;
    let word = given.answer.map_or(NOT_LOOKED, Answer::id);
    let filters = joined(given.filters);
    let row = named_params! { ":case": case, ":finding": given.finding, ":answer": word, ":seen": given.when.likely(), ":now": now, ":filters": filters };
    db.prepare_cached(ADD)?.execute(row)?;
    let is_event = finding::by_id(given.finding)
        .is_some_and(|finding| matches!(finding.kind, Kind::Event { .. }));
    if is_event {
        let happened = (given.answer == Some(Answer::Yes)).then_some(given.when);
        entries::tell(db, tank, case, given.finding, happened, now)?;
    }
    Ok(())
}

/// The answers that count. A finding this program does not know is passed over: its row stays for
/// the program that does.
///
/// # Errors
/// When the database fails.
pub fn current(db: &Connection, case: CaseId) -> Result<Vec<Answered>, StoreError> {
    let mut statement = db.prepare_cached(CURRENT)?;
    let rows = statement.query_map(named_params! { ":case": case }, |row| {
        Ok((
            row.get::<_, String>(0)?,
            row.get::<_, String>(1)?,
            row.get::<_, DateTime>(2)?,
            row.get::<_, String>(3)?,
        ))
    })?;
    let told = entries::told_in(db, case)?;
    let mut answers = Vec::new();
    for (id, word, at, filters) in StoreError::readable(rows.map(|row| Ok(row?)))? {
        if let (Some(finding), Some(answer)) = (finding::by_id(&id), Answer::by_id(&word)) {
            let in_the_log = told
                .iter()
                .find(|(known, _)| *known == id && answer == Answer::Yes);
            let at = match in_the_log {
                Some((_, None)) => continue,
                Some((_, Some(at))) => *at,
                None => at,
            };
            answers.push(Answered {
                filters: split(&filters),
                ..Answered::new(finding, answer, at)
            });
        }
    }
    Ok(answers)
}

/// Everything that was ever answered in a case, oldest first.
///
/// # Errors
/// When the database fails.
pub fn history(db: &Connection, case: CaseId) -> Result<Vec<Entry>, StoreError> {
    let mut statement = db.prepare_cached(HISTORY)?;
    let rows = statement.query_map(named_params! { ":case": case }, |row| {
        Ok(Entry {
            finding: row.get(0)?,
            answer: Answer::by_id(&row.get::<_, String>(1)?),
            entered_at: row.get(2)?,
            seen_at: row.get(3)?,
            filters: split(&row.get::<_, String>(4)?),
        })
    })?;
    StoreError::readable(rows.map(|row| Ok(row?)))
}
