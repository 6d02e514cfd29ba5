//! The log of a tank: entries, append-only. A corrected entry is a new row that replaces the old
//! one, a withdrawn one is struck out.

use jiff::Timestamp;
use jiff::civil::DateTime;
use reed_core::log::{Details, Entry, Happening, On, When};
use rusqlite::types::Value;
use rusqlite::{Connection, Row, named_params};

use crate::{CaseId, EntryId, Page, StoreError, TankId, photos};

const ADD: &str = "
    INSERT INTO entries (tank_id, happening, from_at, to_at, on_what, amount, note, details, case_id, finding, replaces, made_at)
    VALUES (:tank, :happening, :from, :to, :on, :amount, :note, :details, :case, :finding, :replaces, :now)";
const FIND: &str = "SELECT * FROM entries WHERE tank_id = :tank AND id = :entry";
const SINCE: &str = "
    SELECT * FROM entries WHERE tank_id = :tank AND to_at >= :since
    AND NOT EXISTS (SELECT 1 FROM entries AS newer WHERE newer.replaces = entries.id) ORDER BY to_at, id";
/// Of each kind the latest before a moment: SQLite takes the other columns from the row of the
/// maximum.
const LATEST_BEFORE: &str = "
    SELECT *, max(to_at) FROM entries
    WHERE tank_id = :tank AND to_at < :since AND struck_at IS NULL GROUP BY happening";
const OF_KINDS: &str = "
    SELECT * FROM entries WHERE tank_id = :tank AND happening IN (SELECT value FROM json_each(:kinds)) AND struck_at IS NULL
    AND NOT EXISTS (SELECT 1 FROM entries AS newer WHERE newer.replaces = entries.id) ORDER BY to_at, id";
const LINKED: &str = "
    SELECT finding, from_at, to_at, struck_at FROM entries WHERE case_id = :case AND finding IS NOT NULL ORDER BY id";
const STRIKE_LINKED: &str = "
    UPDATE entries SET struck_at = :now WHERE case_id = :case AND finding = :finding AND struck_at IS NULL";
const STRIKE: &str = "UPDATE entries SET struck_at = :now WHERE tank_id = :tank AND id = :entry AND struck_at IS NULL";
/// What was replaced comes back by correcting what replaced it.
const RESTORE: &str = "
    UPDATE entries SET struck_at = NULL WHERE tank_id = :tank AND id = :entry
    AND NOT EXISTS (SELECT 1 FROM entries AS newer WHERE newer.replaces = entries.id)";
const STRIKE_AFTER: &str = "
    UPDATE entries SET struck_at = :now WHERE tank_id = :tank AND from_at > :after AND struck_at IS NULL";
const STRIKE_NOTED: &str = "
    UPDATE entries SET struck_at = :now WHERE tank_id = :tank AND note = :note AND struck_at IS NULL";
/// The six that are entered most often, and more than once, each with its latest entry.
const OFTEN: &str = "
    WITH often AS MATERIALIZED (
        SELECT happening, on_what, max(to_at) AS latest, count(*) AS times FROM entries INDEXED BY entries_often
        WHERE tank_id = :tank AND to_at BETWEEN :since AND :now AND struck_at IS NULL
        GROUP BY happening, on_what HAVING times > 1 ORDER BY times DESC, latest DESC LIMIT 6
    )
    SELECT entries.* FROM often JOIN entries ON entries.id = (
        SELECT max(own.id) FROM entries AS own INDEXED BY entries_often
        WHERE own.tank_id = :tank AND own.to_at = often.latest AND own.happening = often.happening
        AND own.on_what = often.on_what AND own.struck_at IS NULL)
    ORDER BY often.times DESC, often.latest DESC";
const MATCHES: &str =
    "SELECT count(*) FROM (SELECT 1 FROM entry_words WHERE entry_words MATCH ?1 LIMIT 2001)";
const VERSIONS: &str = "
    WITH RECURSIVE older (id) AS (
        SELECT replaces FROM entries WHERE tank_id = :tank AND id = :entry
        UNION ALL SELECT entries.replaces FROM entries JOIN older ON entries.id = older.id
    )
    SELECT * FROM entries WHERE id IN (SELECT id FROM older) ORDER BY id DESC";

/// Every row, for whoever looks through all of them.
pub(crate) const EVERY: &str = "SELECT * FROM entries";

const STAMP: &str = "SELECT stamp FROM log_stamps WHERE tank_id = :tank";

#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[
    STAMP,
    EVERY,
    ADD,
    FIND,
    SINCE,
    LATEST_BEFORE,
    OF_KINDS,
    LINKED,
    STRIKE_LINKED,
    STRIKE,
    RESTORE,
    STRIKE_AFTER,
    STRIKE_NOTED,
    OFTEN,
    MATCHES,
    VERSIONS,
];

/// Notes that hold a word at most, so that it leads to them.
const RARE: i64 = 2000;

/// An entry as kept.
#[derive(Clone, Debug, PartialEq)]
pub struct KeptEntry {
    /// Its number.
    pub id: EntryId,
    /// Of which tank.
    pub tank: TankId,
    /// What it says.
    pub entry: Entry,
    /// The case in which it was told, and as the answer to which question.
    pub told: Option<(CaseId, String)>,
    /// The entry that it corrects.
    pub replaces: Option<EntryId>,
    /// When it was entered.
    pub made_at: Timestamp,
    /// When it was withdrawn or replaced.
    pub struck_at: Option<Timestamp>,
}

impl KeptEntry {
    /// It is withdrawn or replaced.
    pub const fn is_struck(&self) -> bool {
        self.struck_at.is_some()
    }
}

pub(crate) fn from_row(row: &Row<'_>) -> Result<KeptEntry, StoreError> {
    let id: EntryId = row.get("id")?;
    let [on, details]: [String; 2] = [row.get("on_what")?, row.get("details")?];
    let unreadable =
        |error: serde_json::Error| StoreError::unreadable(format!("entry {id}"), error.to_string());
    let case: Option<CaseId> = row.get("case_id")?;
    let finding: Option<String> = row.get("finding")?;
    Ok(KeptEntry {
        id,
        tank: row.get("tank_id")?,
        entry: Entry {
            happening: row.get("happening")?,
            when: When {
                from: row.get("from_at")?,
                to: row.get("to_at")?,
            },
            on: if on.is_empty() {
                On::Tank
            } else {
                serde_json::from_str(&on).map_err(unreadable)?
            },
            amount: row.get("amount")?,
            note: row.get("note")?,
            details: if details.is_empty() {
                Details::default()
            } else {
                serde_json::from_str(&details).map_err(unreadable)?
            },
        },
        told: case.zip(finding),
        replaces: row.get("replaces")?,
        made_at: row.get("made_at")?,
        struck_at: row.get("struck_at")?,
    })
}

/// On what it happened, as it is kept; empty for the whole tank.
pub(crate) fn kept_on(on: &On) -> String {
    if on.is_tank() {
        String::new()
    } else {
        serde_json::to_string(on).expect("plain data can be written as JSON")
    }
}

/// What an entry says beyond its amount, as it is kept; empty where it says nothing.
pub(crate) fn kept_details(details: &Details) -> String {
    if details.is_empty() {
        String::new()
    } else {
        serde_json::to_string(details).expect("plain data can be written as JSON")
    }
}

/// Where an entry comes from.
#[derive(Clone, Copy, Debug, Default)]
struct From<'a> {
    told: Option<(CaseId, &'a str)>,
    replaces: Option<EntryId>,
}

fn insert(
    db: &Connection,
    tank: TankId,
    entry: &Entry,
    from: From<'_>,
    now: Timestamp,
) -> Result<EntryId, StoreError> {
    let details = kept_details(&entry.details);
    db.prepare_cached(ADD)?.execute(named_params! {
        ":tank": tank, ":happening": entry.happening, ":from": entry.when.from, ":to": entry.when.to,
        ":on": kept_on(&entry.on), ":amount": entry.amount, ":note": entry.note, ":details": details,
        ":case": from.told.map(|(case, _)| case), ":finding": from.told.map(|(_, finding)| finding),
        ":replaces": from.replaces, ":now": now,
    })?;
    Ok(EntryId(db.last_insert_rowid()))
}

/// Enters something.
///
/// # Errors
/// When there is no such tank or the database fails.
pub fn add(
    db: &Connection,
    tank: TankId,
    entry: &Entry,
    now: Timestamp,
) -> Result<EntryId, StoreError> {
    insert(db, tank, entry, From::default(), now)
}

/// Enters what was told as the answer to a question of a case, in place of what was told before.
pub(crate) fn tell(
    db: &Connection,
    tank: TankId,
    case: CaseId,
    finding: &str,
    when: Option<When>,
    now: Timestamp,
) -> Result<(), StoreError> {
    db.prepare_cached(STRIKE_LINKED)?
        .execute(named_params! { ":case": case, ":finding": finding, ":now": now })?;
    if let (Some(when), Some(kind)) = (when, Happening::of_finding(finding)) {
        let from = From {
            told: Some((case, finding)),
            ..From::default()
        };
        insert(db, tank, &Entry::of(kind, when), from, now)?;
    }
    Ok(())
}

/// What the log says of the questions of a case that were answered in it: each with the moment that
/// counts now, or `None` where all that was told was withdrawn.
pub(crate) fn told_in(
    db: &Connection,
    case: CaseId,
) -> Result<Vec<(String, Option<DateTime>)>, StoreError> {
    let mut statement = db.prepare_cached(LINKED)?;
    let mut rows = statement.query(named_params! { ":case": case })?;
    let mut told: Vec<(String, Option<DateTime>)> = Vec::new();
    while let Some(row) = rows.next()? {
        let (finding, struck): (String, Option<Timestamp>) = (row.get(0)?, row.get(3)?);
        let when = When {
            from: row.get(1)?,
            to: row.get(2)?,
        };
        told.retain(|(known, at)| *known != finding || (struck.is_some() && at.is_some()));
        if told.iter().all(|(known, _)| *known != finding) {
            told.push((finding, struck.is_none().then(|| when.likely())));
        }
    }
    Ok(told)
}

/// One entry.
///
/// # Errors
/// When the tank has no such entry or the database fails.
pub fn find(db: &Connection, tank: TankId, id: EntryId) -> Result<KeptEntry, StoreError> {
    let mut statement = db.prepare_cached(FIND)?;
    let mut rows = statement.query(named_params! { ":tank": tank, ":entry": id })?;
    match rows.next()? {
        Some(row) => from_row(row),
        None => Err(not_found(id)),
    }
}

/// The entries of a tank since a moment, oldest first: planned and withdrawn ones too, but none that
/// was replaced.
///
/// # Errors
/// When the database fails.
pub fn since(db: &Connection, tank: TankId, since: DateTime) -> Result<Vec<KeptEntry>, StoreError> {
    StoreError::readable(
        db.prepare_cached(SINCE)?
            .query_and_then(named_params! { ":tank": tank, ":since": since }, from_row)?,
    )
}

/// Every standing entry of a tank of some kinds, oldest first.
///
/// # Errors
/// When the database fails.
pub fn of_kinds(
    db: &Connection,
    tank: TankId,
    kinds: &[&str],
) -> Result<Vec<KeptEntry>, StoreError> {
    let kinds = serde_json::to_string(kinds).unwrap_or_default();
    let params = named_params! { ":tank": tank, ":kinds": kinds };
    StoreError::readable(
        db.prepare_cached(OF_KINDS)?
            .query_and_then(params, from_row)?,
    )
}

/// A mark on the log of a tank: never the same again once anything of it changed. None while
/// nothing was ever entered.
///
/// # Errors
/// When the database fails.
pub fn stamp(db: &Connection, tank: TankId) -> Result<Option<i64>, StoreError> {
    let mut statement = db.prepare_cached(STAMP)?;
    let mut rows = statement.query(named_params! { ":tank": tank })?;
    Ok(match rows.next()? {
        Some(row) => Some(row.get(0)?),
        None => None,
    })
}

/// What counts of a tank: every entry since a moment that is not withdrawn, and of each kind the
/// latest before it, so that what was long ago is known without reading ten years.
///
/// # Errors
/// When the database fails.
pub fn counting(
    db: &Connection,
    tank: TankId,
    since_moment: DateTime,
) -> Result<Vec<KeptEntry>, StoreError> {
    let mut counting = StoreError::readable(db.prepare_cached(LATEST_BEFORE)?.query_and_then(
        named_params! { ":tank": tank, ":since": since_moment },
        from_row,
    )?)?;
    let later = since(db, tank, since_moment)?;
    counting.extend(later.into_iter().filter(|kept| !kept.is_struck()));
    Ok(counting)
}

/// The entries of a tank that are not withdrawn, oldest first, as they go into a file; without
/// those told in a case that goes with it, which says them itself.
///
/// # Errors
/// When the database fails.
pub fn standing(
    db: &Connection,
    tank: TankId,
    without: Option<CaseId>,
) -> Result<Vec<Entry>, StoreError> {
    let goes_in = |kept: &KeptEntry| {
        let is_told = kept.told.as_ref().map(|(case, _)| *case);
        !kept.is_struck() && (is_told.is_none() || is_told != without)
    };
    let all = since(db, tank, DateTime::MIN)?;
    Ok(all
        .into_iter()
        .filter(goes_in)
        .map(|kept| kept.entry)
        .collect())
}

/// Corrects an entry: the new one takes its place, the old one stays, struck out.
///
/// # Errors
/// When the tank has no such entry, it is withdrawn, or the database fails.
pub fn revise(
    db: &Connection,
    tank: TankId,
    id: EntryId,
    entry: &Entry,
    now: Timestamp,
) -> Result<EntryId, StoreError> {
    let old = find(db, tank, id)?;
    set_struck(db, tank, id, Some(now))?;
    let from = From {
        told: old
            .told
            .as_ref()
            .map(|(case, finding)| (*case, finding.as_str())),
        replaces: Some(id),
    };
    let newer = insert(db, tank, entry, from, now)?;
    photos::pass_on(db, id, newer)?;
    Ok(newer)
}

/// Withdraws an entry, or takes that back.
///
/// # Errors
/// When the tank has no such entry, it was replaced by another, or the database fails.
pub fn set_struck(
    db: &Connection,
    tank: TankId,
    id: EntryId,
    struck: Option<Timestamp>,
) -> Result<(), StoreError> {
    let rows = match struck {
        Some(now) => db
            .prepare_cached(STRIKE)?
            .execute(named_params! { ":tank": tank, ":entry": id, ":now": now })?,
        None => db
            .prepare_cached(RESTORE)?
            .execute(named_params! { ":tank": tank, ":entry": id })?,
    };
    if rows == 1 {
        Ok(())
    } else {
        Err(not_found(id))
    }
}

/// Withdraws every entry after a moment: all that is planned.
///
/// # Errors
/// When the database fails.
pub fn strike_after(
    db: &Connection,
    tank: TankId,
    after: DateTime,
    now: Timestamp,
) -> Result<(), StoreError> {
    db.prepare_cached(STRIKE_AFTER)?
        .execute(named_params! { ":tank": tank, ":after": after, ":now": now })?;
    Ok(())
}

/// Withdraws what was entered with just this note.
///
/// # Errors
/// When the database fails.
pub fn strike_noted(
    db: &Connection,
    tank: TankId,
    note: &str,
    now: Timestamp,
) -> Result<(), StoreError> {
    db.prepare_cached(STRIKE_NOTED)?
        .execute(named_params! { ":tank": tank, ":note": note, ":now": now })?;
    Ok(())
}

/// What is entered most often of a tank between two moments: the latest of each.
///
/// # Errors
/// When the database fails.
pub fn often(
    db: &Connection,
    tank: TankId,
    since: DateTime,
    now: DateTime,
) -> Result<Vec<KeptEntry>, StoreError> {
    StoreError::readable(db.prepare_cached(OFTEN)?.query_and_then(
        named_params! { ":tank": tank, ":since": since, ":now": now },
        from_row,
    )?)
}

/// The earlier versions of an entry, the latest first.
///
/// # Errors
/// When the database fails.
pub fn versions(db: &Connection, tank: TankId, id: EntryId) -> Result<Vec<KeptEntry>, StoreError> {
    StoreError::readable(
        db.prepare_cached(VERSIONS)?
            .query_and_then(named_params! { ":tank": tank, ":entry": id }, from_row)?,
    )
}

/// Which entries of a tank are looked for.
#[derive(Clone, Debug)]
pub struct Wanted {
    /// Of this tank.
    pub tank: TankId,
    /// Of these kinds; all where there are none.
    pub kinds: Vec<&'static str>,
    /// On a filter of the tank, or a group of animals.
    pub on: Option<On>,
    /// Whose notes hold words that begin with these; all where there are none.
    pub words: String,
    /// Or whose kind is one of these, which those words name.
    pub named: Vec<&'static str>,
    /// No later than this.
    pub until: DateTime,
}

/// The latest entries that are wanted, the latest first; withdrawn ones too, but none that was
/// replaced.
///
/// # Errors
/// When the database fails.
pub fn page(db: &Connection, wanted: &Wanted, most: usize) -> Result<Page<KeptEntry>, StoreError> {
    let words = match_of(&wanted.words);
    // Words that few notes hold lead to their entries; those that many hold are met soon enough on
    // the way back in time.
    let is_rare = !words.is_empty()
        && db
            .prepare_cached(MATCHES)?
            .query_row([&words], |row| row.get::<_, i64>(0))?
            <= RARE;
    let mut sql = if is_rare {
        "SELECT * FROM entries WHERE +tank_id = ? AND +to_at <= ?"
    } else {
        "SELECT * FROM entries WHERE tank_id = ? AND to_at <= ?"
    }
    .to_owned();
    let mut values: Vec<Value> = vec![wanted.tank.0.into(), wanted.until.to_string().into()];
    let places = |many: usize| vec!["?"; many].join(", ");
    let texts = |kinds: &[&str]| -> Vec<Value> {
        kinds.iter().map(|kind| (*kind).to_owned().into()).collect()
    };
    if let Some(on) = &wanted.on {
        sql += " AND on_what = ?";
        values.push(kept_on(on).into());
    }
    if !wanted.kinds.is_empty() {
        sql += &format!(" AND happening IN ({})", places(wanted.kinds.len()));
        values.extend(texts(&wanted.kinds));
    }
    if is_rare {
        sql += &format!(
            " AND id IN (SELECT rowid FROM entry_words WHERE entry_words MATCH ? UNION ALL SELECT id FROM (
                SELECT id FROM entries WHERE tank_id = ? AND to_at <= ? AND happening IN ({})
                AND NOT EXISTS (SELECT 1 FROM entries AS newer WHERE newer.replaces = entries.id)
                ORDER BY to_at DESC LIMIT {most}))",
            places(wanted.named.len())
        );
        values.push(words.into());
        values.push(wanted.tank.0.into());
        values.push(wanted.until.to_string().into());
        values.extend(texts(&wanted.named));
    } else if !words.is_empty() {
        sql += &format!(
            " AND (happening IN ({}) OR id IN (SELECT rowid FROM entry_words WHERE entry_words MATCH ?))",
            places(wanted.named.len())
        );
        values.extend(texts(&wanted.named));
        values.push(words.into());
    }
    sql += " AND NOT EXISTS (SELECT 1 FROM entries AS newer WHERE newer.replaces = entries.id) ORDER BY to_at DESC, id DESC LIMIT ?";
    values.push(i64::try_from(most).unwrap_or(i64::MAX).into());
    StoreError::sorted_out(
        db.prepare_cached(&sql)?
            .query_and_then(rusqlite::params_from_iter(values), from_row)?,
    )
}

/// Words as the search takes them: each in quotes, so that nothing in them is an operator, and each
/// the beginning of a word.
fn match_of(words: &str) -> String {
    let each = words
        .split_whitespace()
        .map(|word| word.replace('"', ""))
        .filter(|word| word.chars().any(char::is_alphanumeric))
        .map(|word| format!("\"{word}\"*"));
    each.collect::<Vec<_>>().join(" ")
}

fn not_found(id: EntryId) -> StoreError {
    StoreError::NotFound {
        what: "entry",
        id: id.0,
    }
}
