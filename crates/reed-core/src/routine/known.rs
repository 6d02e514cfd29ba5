//! What is known of a tank when its routine is asked for.

use std::collections::HashMap;

use jiff::civil::{Date, DateTime};

use super::task::{DoneBy, Task};
use crate::filter::State;
use crate::log::{Entry, Happening, On};
use crate::outlook::forecast::Grade;
use crate::tank::{Analyte, Reading, Serial, Tank};
use crate::units::days_of;

/// A tank with its record.
pub struct Known<'a> {
    /// As it stands.
    pub tank: &'a Tank,
    /// Its entries of [`kinds`].
    pub log: &'a Record,
    /// What was read of it, in any order: of each thing the latest dozen are enough.
    pub readings: &'a [Reading],
    /// Its filters as they stand.
    pub filters: &'a [(Serial, State)],
    /// How its oxygen should be tonight.
    pub oxygen: Grade,
    /// What closed cases left to be watched.
    pub watched: &'a [Watched],
    /// The day it was entered.
    pub entered: Date,
    /// The moment at which is asked.
    pub now: DateTime,
}

/// What a closed case left to be watched.
#[derive(Clone, Debug, PartialEq)]
pub struct Watched {
    /// Its number.
    pub number: i64,
    /// What to do.
    pub words: String,
    /// What is read for it; none where it is ticked by hand.
    pub reads: Option<&'static Analyte>,
    /// From one time to the next, days.
    pub every_days: f64,
    /// When it was done last.
    pub last: Option<DateTime>,
    /// When it is due.
    pub due: DateTime,
    /// Why.
    pub why: String,
}

/// Ids of the kinds of entries that put a task off, skip it or set its interval.
pub(super) const SKIPPED: &str = "task-skipped";
pub(super) const PUT_OFF: &str = "task-put-off";
pub(super) const EVERY: &str = "task-every";

/// Kinds of entries that say what has to be tested after them.
pub(super) const ADDED: &str = "animals";
pub(super) const HURT: [&str; 3] = ["tap-rinse", "new-media", "antibiotic"];
pub(super) const OPENED: &str = "filter-opened";

/// Ids of all kinds of entries that the routine reads.
pub fn kinds() -> Vec<&'static str> {
    let completing = Happening::all().filter(|kind| !kind.completes.is_empty());
    let mut kinds: Vec<&'static str> = completing.map(|kind| kind.id).collect();
    kinds.extend(crate::filter::history::KINDS);
    kinds.extend([SKIPPED, PUT_OFF, EVERY, ADDED, OPENED]);
    kinds.extend(HURT);
    kinds.extend(super::feeding::CHANGED);
    kinds.sort_unstable();
    kinds.dedup();
    kinds
}

/// Entries of a log, found by what they complete and by their kind: asked for by every task.
#[derive(Clone, Debug, Default)]
pub struct Record {
    entries: Vec<Entry>,
    by_task: HashMap<&'static str, Vec<usize>>,
    by_kind: HashMap<String, Vec<usize>>,
}

impl Record {
    /// Of entries of [`kinds`], of the same moment in the order in which they were entered.
    pub fn of(entries: Vec<Entry>) -> Self {
        let mut record = Self::default();
        for (place, entry) in entries.iter().enumerate() {
            let kind = entry.happening.clone();
            record.by_kind.entry(kind).or_default().push(place);
            for task in entry.kind().map_or(&[][..], |kind| kind.completes) {
                record.by_task.entry(task).or_default().push(place);
            }
        }
        Self { entries, ..record }
    }

    /// The entries themselves.
    pub fn entries(&self) -> &[Entry] {
        &self.entries
    }

    /// Those of a kind, each with its place.
    fn of_kind<'a>(&'a self, kind: &str) -> impl Iterator<Item = (usize, &'a Entry)> {
        let places = self.by_kind.get(kind).into_iter().flatten();
        places.map(|place| (*place, &self.entries[*place]))
    }

    /// Those that complete a task.
    fn completing<'a>(&'a self, task: &str) -> impl Iterator<Item = &'a Entry> {
        let places = self.by_task.get(task).into_iter().flatten();
        places.map(|place| &self.entries[*place])
    }
}

impl Known<'_> {
    /// It has happened by now.
    fn is_past(&self, entry: &Entry) -> bool {
        entry.when.likely() <= self.now
    }

    /// When a task was done on this, oldest first.
    pub(super) fn done(&self, task: &Task, on: &On) -> Vec<DateTime> {
        let is_on = |entry: &&Entry| match on {
            On::Filter(number) => entry.on.is_filter(self.tank, *number),
            On::Tank | On::Group(_) => true,
        };
        let mut done: Vec<DateTime> = match task.done_by {
            DoneBy::Entry(_) => self
                .log
                .completing(task.id)
                .filter(|entry| self.is_past(entry))
                .filter(is_on)
                .map(|entry| entry.when.likely())
                .collect(),
            DoneBy::Reading(analyte) => self.read(analyte).map(|one| one.taken_at).collect(),
        };
        done.sort_unstable();
        done
    }

    /// The latest entry of a kind of the routine about a task on this, with what tells it apart from
    /// earlier and later ones.
    pub(super) fn said(
        &self,
        kind: &str,
        task: &str,
        on: &On,
    ) -> Option<((DateTime, usize), &Entry)> {
        // What is said of a task names on what it is, whichever filters there are.
        let own = self.log.of_kind(kind).filter(|(_, entry)| {
            entry.details.task == task && entry.on == *on && self.is_past(entry)
        });
        own.map(|(place, entry)| ((entry.when.likely(), place), entry))
            .max_by_key(|(order, _)| *order)
    }

    /// Readings of something, in any order.
    pub(super) fn read<'b>(
        &'b self,
        analyte: &'static Analyte,
    ) -> impl Iterator<Item = &'b Reading> {
        let is_own = move |one: &&Reading| *one.analyte == *analyte && one.taken_at <= self.now;
        self.readings.iter().filter(is_own)
    }

    /// The latest of them.
    pub(super) fn latest(&self, analyte: &'static Analyte) -> Option<&Reading> {
        self.read(analyte).max_by_key(|one| one.taken_at)
    }

    /// Days since an entry of one of these kinds, of which this holds.
    pub(super) fn days_since(&self, kinds: &[&str], is: fn(&Entry) -> bool) -> Option<f64> {
        let of_kind = |kind: &&str| {
            let own = self.log.of_kind(kind).map(|(_, entry)| entry);
            let past = own.filter(|entry| self.is_past(entry) && is(entry));
            past.map(|entry| entry.when.likely()).max()
        };
        let last = kinds.iter().filter_map(of_kind).max()?;
        Some(days_of(self.now.duration_since(last)))
    }

    /// How much something grew a day between readings that follow each other with nothing between
    /// them that takes it out: the middle one, and how many there are.
    pub(super) fn growth(
        &self,
        analyte: &'static Analyte,
        undone_by: &str,
    ) -> Option<(f64, usize)> {
        /// Closer together a kit cannot tell them apart. A judgement.
        const APART_DAYS: f64 = 2.0;
        let mut read: Vec<&Reading> = self.read(analyte).collect();
        read.sort_by_key(|one| one.taken_at);
        let undone: Vec<DateTime> = self
            .log
            .of_kind(undone_by)
            .map(|(_, entry)| entry.when.likely())
            .collect();
        let mut rates: Vec<f64> = read
            .windows(2)
            .filter_map(|pair| {
                let [one, other] = pair else { return None };
                let days = days_of(other.taken_at.duration_since(one.taken_at));
                let between = one.taken_at..other.taken_at;
                let is_undone = undone.iter().any(|at| between.contains(at));
                (days >= APART_DAYS && !is_undone).then(|| (other.value - one.value) / days)
            })
            .collect();
        rates.sort_by(f64::total_cmp);
        let middle = rates.get(rates.len() / 2)?;
        Some((*middle, rates.len()))
    }
}
