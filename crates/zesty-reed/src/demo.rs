//! Demo data: two tanks in a town library and a hillside clinic, made up, taken from the examples
//! of the open file.

use std::path::Path;
use std::sync::Arc;

use anyhow::Context;
use jiff::civil::DateTime;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Zoned};
use reed_core::diagnosis::Case;
use reed_core::document::{Document, NotADocument};
use reed_core::log::Entry;
use reed_core::log::sheet::{Read, Row, Sheet};
use reed_core::tank::Reading;
use reed_core::units::Units;
use reed_store::{Store, StoreError, batches, documents, tanks};

use crate::serve;

/// A library's reading room whose fish keep to the top: an open case.
const READING_ROOM: &str = include_str!("../../../examples/reading-room.reed.json");
/// What was read and done in the waiting room for four months before that, as somebody might have
/// kept it: a sheet.
const WAITING_ROOM_LOG: &str = include_str!("../demo/waiting-room.csv");
/// A clinic's waiting room where all is well.
const WAITING_ROOM: &str = include_str!("../../../examples/waiting-room.reed.json");

/// Opens the demo folder; a new one, or a `fresh` one, gets the demo data.
pub(crate) fn open(folder: &Path, fresh: bool) -> anyhow::Result<Arc<Store>> {
    if fresh {
        forget(folder, "zesty-reed.db")?;
    }
    let store = serve::open(folder)?;
    if store.read(tanks::count)? == 0 {
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
    let history = history(&documents[1], now)?;
    store.write(|db| {
        let mut latest = None;
        for (case, log) in &moved {
            let (tank, _) = documents::add(db, case, log, "First entry", now.timestamp())?;
            latest = Some(tank);
        }
        if let Some(waiting_room) = latest {
            let rows = history.into_iter();
            batches::take(
                db,
                waiting_room,
                "Waiting room, by hand",
                rows,
                now.timestamp(),
                &|_| true,
            )?;
        }
        Ok::<_, StoreError>(())
    })?;
    Ok(())
}

/// What was written down of the waiting room, as if up to today.
fn history(document: &Document, now: &Zoned) -> anyhow::Result<Vec<Row>> {
    let sheet = Sheet::open(WAITING_ROOM_LOG.as_bytes()).map_err(anyhow::Error::msg)?;
    let as_of = document.as_of.unwrap_or_else(|| now.datetime());
    let shift = whole_days_between(as_of, now.datetime());
    let read = Read {
        tank: &document.tank,
        now: as_of,
        zone: TimeZone::UTC,
        units: &Units::BASE,
    };
    let moved = |row: Row| match row {
        Row::Reading(reading, struck) => {
            let taken_at = reading.taken_at + shift;
            Row::Reading(
                Reading {
                    taken_at,
                    ..reading
                },
                struck,
            )
        }
        Row::Entry(entry, struck) => Row::Entry(Box::new(moved_by(&entry, shift)), struck),
    };
    let mut rows = Vec::new();
    for row in sheet.read(&sheet.guess(), &read) {
        let read = row.map_err(|refused| anyhow::anyhow!("{refused:?}"))?;
        rows.extend(read.into_iter().map(moved));
    }
    Ok(rows)
}

/// An entry as if it were so much later.
fn moved_by(entry: &Entry, shift: SignedDuration) -> Entry {
    Entry {
        when: entry.when.moved(shift),
        ..entry.clone()
    }
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
    let log = document.log.iter().map(|entry| moved_by(entry, shift));
    Ok((case, log.collect()))
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
