//! Cases that were weighed, kept while nothing is stored: many look at one more often than it
//! changes, and all of them at once after a link was shared.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use reed_core::diagnosis::fault::Fault;
use reed_store::{CaseId, StoreError};

use super::Weighed;

/// What is computed depends on nothing else: the case, the fault that is asked about, how often
/// anything was stored, and roughly the time.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub(super) struct Key {
    pub(super) case: CaseId,
    pub(super) why: Option<&'static str>,
    pub(super) stored: u64,
    /// In steps of [`Key::STEP_S`].
    pub(super) step: i64,
}

impl Key {
    /// Ages of what happened count in days: so many seconds later nothing is weighed differently.
    const STEP_S: i64 = 300;

    pub(super) fn of(
        case: CaseId,
        why: Option<&'static Fault>,
        stored: u64,
        now: jiff::Timestamp,
    ) -> Self {
        Self {
            case,
            why: why.map(|fault| fault.id),
            stored,
            step: now.as_second().div_euclid(Self::STEP_S),
        }
    }
}

/// A case that is being weighed or is so already; whoever comes second waits for the first.
type Place = Arc<Mutex<Option<Arc<Weighed>>>>;

/// So many are kept.
const MOST: usize = 32;

/// The cases.
#[derive(Default)]
pub(crate) struct KnownCases(Mutex<HashMap<Key, Place>>);

impl std::fmt::Debug for KnownCases {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str("cases that were weighed")
    }
}

impl KnownCases {
    /// A case, weighed now unless it is known. Blocks.
    pub(super) fn of(
        &self,
        key: Key,
        weigh: impl FnOnce() -> Result<Weighed, StoreError>,
    ) -> Result<Arc<Weighed>, StoreError> {
        let place = {
            let mut known = self.0.lock().unwrap_or_else(PoisonError::into_inner);
            if known.len() >= MOST {
                // What was stored since, or what was asked long ago.
                known.retain(|other, _| other.stored == key.stored && other.step == key.step);
                if known.len() >= MOST {
                    known.clear();
                }
            }
            Arc::clone(known.entry(key).or_default())
        };
        // Whoever panicked while weighing left nothing.
        let mut place = place.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(weighed) = &*place {
            return Ok(Arc::clone(weighed));
        }
        let weighed = Arc::new(weigh()?);
        *place = Some(Arc::clone(&weighed));
        Ok(weighed)
    }
}
