//! Demo data: two tanks in a town library and a hillside clinic, made up, taken from the examples
//! of the open file.

use std::path::Path;
use std::sync::Arc;

use anyhow::Context;
use jiff::civil::DateTime;
use jiff::{SignedDuration, Zoned};
use reed_core::diagnosis::Case;
use reed_core::document::{Document, NotADocument};
use reed_core::log::Entry;
use reed_store::{Store, StoreError, documents, tanks};

use crate::serve;

/// A library's reading room whose fish keep to the top: an open case.
const READING_ROOM: &str = include_str!("../../../examples/reading-room.reed.json");
/// A clinic's waiting room where all is well.
const WAITING_ROOM: &str = include_str!("../../../examples/waiting-room.reed.json");

/// Opens the demo folder; a new one, or a `fresh` one, gets the demo data.
pub(crate) fn open(folder: &Path, fresh: bool) -> anyhow::Result<Arc<Store>> {
    if fresh {
        forget(folder, "zesty-reed.db")?;
    }
    let store = serve::open(folder)?;
    if store.read(tanks::all)?.is_empty() {
        fill(&store, &Zoned::now())?;
    }
    Ok(store)
}

/// The same tanks beside data of one's own, to look at: made anew at each start, so that their case
/// is of today.
pub(crate) fn example(folder: &Path) -> anyhow::Result<Arc<Store>> {
    const FILE: &str = "example.db";
    forget(folder, FILE)?;
    let store = serve::open_file(&folder.join(FILE))?;
    fill(&store, &Zoned::now())?;
    Ok(store)
}

/// Deletes the files of a database and nothing else.
fn forget(folder: &Path, database: &str) -> anyhow::Result<()> {
    for ending in ["", "-wal", "-shm"] {
        let path = folder.join(format!("{database}{ending}"));
        if path.exists() {
            std::fs::remove_file(&path)
                .with_context(|| format!("{} cannot be deleted", path.display()))?;
        }
    }
    Ok(())
}

fn fill(store: &Store, now: &Zoned) -> anyhow::Result<()> {
    let documents = [
        Document::read(READING_ROOM)?.document,
        Document::read(WAITING_ROOM)?.document,
    ];
    let moved = documents
        .iter()
        .map(|document| moved_to_now(document, now))
        .collect::<Result<Vec<_>, _>>()?;
    store.write(|db| {
        for (case, log) in &moved {
            documents::add(db, case, log, "First entry", now.timestamp())?;
        }
        Ok::<_, StoreError>(())
    })?;
    Ok(())
}

/// The case and the log of a document, as if they were of today.
fn moved_to_now(document: &Document, now: &Zoned) -> Result<(Case, Vec<Entry>), NotADocument> {
    let as_of = document.as_of.unwrap_or_else(|| now.datetime());
    let mut case = document.case(as_of)?;
    let shift = whole_days_between(as_of, now.datetime());
    case.observed
        .readings
        .iter_mut()
        .for_each(|reading| reading.taken_at += shift);
    case.observed
        .answers
        .iter_mut()
        .for_each(|answered| answered.at += shift);
    let moved = |entry: &Entry| Entry {
        when: entry.when.moved(shift),
        ..entry.clone()
    };
    Ok((case, document.log.iter().map(moved).collect()))
}

/// Moves the demo's moment to its latest repetition before now: the hour of the day stays, since
/// oxygen depends on it.
fn whole_days_between(as_of: DateTime, now: DateTime) -> SignedDuration {
    const DAY_HOURS: i64 = 24;
    SignedDuration::from_hours(
        now.duration_since(as_of).as_hours().div_euclid(DAY_HOURS) * DAY_HOURS,
    )
}

#[cfg(test)]
mod tests {
    use super::whole_days_between;
    use jiff::civil::date;

    #[test]
    fn demo_times_keep_their_hour_and_never_lie_in_the_future() {
        let as_of = date(2026, 3, 10).at(8, 30, 0, 0);
        for (now, day) in [
            (date(2026, 11, 25).at(12, 0, 0, 0), 25),
            (date(2026, 11, 25).at(7, 0, 0, 0), 24),
            (date(2026, 3, 10).at(8, 30, 0, 0), 10),
        ] {
            let moved = as_of + whole_days_between(as_of, now);
            assert_eq!((moved.day(), moved.hour(), moved.minute()), (day, 8, 30));
            assert!(moved <= now);
        }
    }
}
