//! Files that are being brought in: looked at, then taken in the background. Nothing of them is
//! stored until that is asked for; they are forgotten when the program stops.

use std::collections::VecDeque;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, PoisonError};

use reed_core::log::sheet::{Mapping, Refused, Sheet};
use reed_store::TankId;
use reed_store::batches::Taken;

/// As many are remembered; the oldest goes.
const MOST: usize = 6;

/// The files.
#[derive(Debug, Default)]
pub(crate) struct Imports(Mutex<Kept>);

#[derive(Debug, Default)]
struct Kept {
    next: u64,
    files: VecDeque<Arc<Import>>,
}

/// A file.
#[derive(Debug)]
pub(crate) struct Import {
    pub(crate) number: u64,
    pub(crate) tank: TankId,
    /// Its name.
    pub(crate) name: String,
    pub(crate) sheet: Sheet,
    pub(crate) mapping: Mutex<Mapping>,
    /// Rows that were looked at so far.
    pub(crate) looked_at: AtomicUsize,
    /// Somebody has asked to stop.
    pub(crate) is_stopped: AtomicBool,
    state: Mutex<Progress>,
}

/// How far it is.
#[derive(Clone, Debug)]
pub(crate) enum Progress {
    /// Being looked at.
    Waiting,
    /// Being taken in.
    Running,
    /// Taken in, with the rows that could not be.
    Done(Taken, Vec<Refused>),
    /// Stopped or failed; nothing was stored.
    Ended(String),
}

impl Imports {
    /// Remembers a file; gives its number.
    pub(crate) fn add(&self, tank: TankId, name: String, sheet: Sheet) -> u64 {
        let mut kept = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        kept.next += 1;
        let number = kept.next;
        let mapping = Mutex::new(sheet.guess());
        kept.files.push_back(Arc::new(Import {
            number,
            tank,
            name,
            sheet,
            mapping,
            looked_at: AtomicUsize::new(0),
            is_stopped: AtomicBool::new(false),
            state: Mutex::new(Progress::Waiting),
        }));
        if kept.files.len() > MOST
            && let Some(oldest) = kept.files.pop_front()
        {
            oldest.is_stopped.store(true, Ordering::Relaxed);
        }
        number
    }

    /// The file of a tank with this number.
    pub(crate) fn find(&self, tank: TankId, number: u64) -> Option<Arc<Import>> {
        let kept = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        kept.files
            .iter()
            .find(|file| file.number == number && file.tank == tank)
            .cloned()
    }
}

impl Import {
    /// How far it is.
    pub(crate) fn progress(&self) -> Progress {
        self.state
            .lock()
            .unwrap_or_else(PoisonError::into_inner)
            .clone()
    }

    /// It is now so far.
    pub(crate) fn set(&self, progress: Progress) {
        *self.state.lock().unwrap_or_else(PoisonError::into_inner) = progress;
    }

    /// Begins to take it in, unless that was begun before.
    pub(crate) fn begin(&self) -> bool {
        let mut state = self.state.lock().unwrap_or_else(PoisonError::into_inner);
        let waits = matches!(*state, Progress::Waiting);
        if waits {
            *state = Progress::Running;
        }
        waits
    }

    /// What its columns hold.
    pub(crate) fn mapping(&self) -> Mapping {
        self.mapping
            .lock()
            .unwrap_or_else(PoisonError::into_inner)
            .clone()
    }
}
