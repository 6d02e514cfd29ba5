//! What follows from a revision of a tank alone, kept in memory: revisions never change, and a page
//! of a hundred tanks asks for all of them each time.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use jiff::Timestamp;
use reed_core::outlook::forecast::{Ensemble, Forecast};
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

/// Of which revision, where its fish are drawn, and how briskly its surface is taken. Of a revision
/// its number and its moment: where an older copy was put back, a number comes again.
type Key = (RevisionId, Timestamp, Mood, u64);

/// More than this are not kept, some 10 kB each.
const MOST: usize = 400;

/// What was asked for before.
#[derive(Debug, Default)]
pub(crate) struct RevisionCache(Mutex<HashMap<Key, Arc<Follows>>>);

impl RevisionCache {
    /// What follows from a revision.
    pub(crate) fn of(&self, revision: &Revision, mood: Mood, stirring: Stirring) -> Arc<Follows> {
        let key = (revision.id, revision.made_at, mood, stirring.bits());
        // Whoever panicked while holding it left whole entries.
        let held = || self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(known) = held().get(&key) {
            return Arc::clone(known);
        }
        let forecast = Ensemble::of_tank(&revision.tank)
            .stirred(stirring)
            .forecast(Tank::clone);
        let follows = Arc::new(Follows {
            drawing: draw(&revision.tank, mood),
            forecast,
        });
        let mut held = held();
        if held.len() >= MOST {
            held.clear();
        }
        held.insert(key, Arc::clone(&follows));
        follows
    }
}

#[cfg(test)]
mod tests {
    use std::sync::Arc;

    use super::{MOST, RevisionCache};
    use crate::view::Mood;
    use reed_core::document::start;
    use reed_core::twin::Stirring;
    use reed_store::tanks::Revision;
    use reed_store::{RevisionId, TankId};

    fn revision(id: i64) -> Revision {
        let tank = start::by_id("planted-canister").expect("listed").tank();
        Revision {
            tank_id: TankId(1),
            id: RevisionId(id),
            made_at: jiff::Timestamp::UNIX_EPOCH,
            why: String::new(),
            tank,
            removed: false,
        }
    }

    #[test]
    fn the_same_revision_is_computed_once_and_another_mood_or_revision_anew() {
        let memory = RevisionCache::default();
        let of = |id: i64, mood: Mood| memory.of(&revision(id), mood, Stirring::AS_IT_LOOKS);
        let first = of(1, Mood::AtEase);
        assert!(Arc::ptr_eq(&first, &of(1, Mood::AtEase)));
        assert!(
            !Arc::ptr_eq(&first, &of(2, Mood::AtEase))
                && !Arc::ptr_eq(&first, &of(1, Mood::AtTheTop))
        );
        assert!(first.drawing.starts_with("<svg") && first.forecast.lowest > 0.0);
    }

    #[test]
    fn it_does_not_grow_without_end() {
        let memory = RevisionCache::default();
        for id in 0..=i64::try_from(MOST).expect("some hundreds") {
            memory.of(&revision(id), Mood::AtEase, Stirring::AS_IT_LOOKS);
        }
        assert!(memory.0.lock().expect("nobody panicked").len() <= MOST);
    }
}
