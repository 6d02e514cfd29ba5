//! What follows from a revision of a tank alone, kept in memory: revisions never change, and a page of a hundred tanks asks for all of
//! them each time.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use reed_core::forecast::{Ensemble, Forecast};
use reed_core::tank::Tank;
use reed_core::twin::Stirring;
use reed_store::RevisionId;
use reed_store::tanks::Revision;

use crate::view::{Mood, draw};

/// A tank from the front, and the oxygen of its day.
#[derive(Debug)]
pub(crate) struct Follows {
    pub(crate) drawing: String,
    pub(crate) forecast: Forecast,
}

/// Of which revision, where its fish are drawn, and how briskly its surface is taken.
type Key = (RevisionId, Mood, u64);

/// More than this are not kept, some 10 kB each.
const MOST: usize = 400;

/// What was asked for before.
#[derive(Debug, Default)]
pub(crate) struct Memory(Mutex<HashMap<Key, Arc<Follows>>>);

impl Memory {
    /// What follows from a revision.
    pub(crate) fn of(&self, revision: &Revision, mood: Mood, stirring: Stirring) -> Arc<Follows> {
        let key = (revision.id, mood, stirring.bits());
        // Whoever panicked while holding it left whole entries.
        let held = || self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(known) = held().get(&key) {
            return Arc::clone(known);
        }
        let forecast = Ensemble::of_tank(&revision.tank).stirred(stirring).forecast(Tank::clone);
        let follows = Arc::new(Follows { drawing: draw(&revision.tank, mood), forecast });
        let mut held = held();
        if held.len() >= MOST {
            held.clear();
        }
        held.insert(key, Arc::clone(&follows));
        follows
    }
}
