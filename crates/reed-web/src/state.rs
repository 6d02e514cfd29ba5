//! What every handler gets.

use std::sync::Arc;
use std::time::Duration;

use reed_core::flow::Facts;
use reed_core::tank::Tank;
use reed_core::units::Units;
use reed_store::access::Access;
use reed_store::photos::Folder;
use reed_store::{Connection, Store, StoreError, Transaction, sent, settings};
use tokio::sync::{Semaphore, broadcast};

use crate::alarms::{Heard, KnownBounds};
use crate::api::Intake;
use crate::clock::Clock;
use crate::error::PageError;
use crate::flows::{Flow, Flows, Wanted};
use crate::gate::Guesses;
use crate::imports::Imports;
use crate::pages::KnownCases;
use crate::reach::Reach;
use crate::revision_cache::RevisionCache;
use crate::routines::Routines;
use crate::visit;

/// Most who may watch water while they move things; each takes up to a tenth of a processor.
const LIVE_SESSIONS: usize = 6;

/// Readings that a page which listens may lag behind.
const HEARD: usize = 256;

/// Handles to everything a page needs; cheap to clone.
#[derive(Clone, Debug)]
pub struct App {
    store: Arc<Store>,
    pub(crate) clock: Clock,
    flows: Option<Flows>,
    /// Made-up tanks to look at.
    example: Option<Arc<Store>>,
    follows: Arc<RevisionCache>,
    routines: Arc<Routines>,
    /// Where posts of devices wait for the next write.
    intake: Arc<Intake>,
    /// What devices sent, as it comes.
    heard: broadcast::Sender<Heard>,
    /// Between what things should stay.
    bounds: Arc<KnownBounds>,
    /// Cases that were weighed.
    cases: Arc<KnownCases>,
    /// Room for water that is moved while somebody watches.
    live: Arc<Semaphore>,
    /// One permit: searches run one at a time.
    searches: Arc<Semaphore>,
    /// One permit: pictures are made ready one at a time.
    pictures: Arc<Semaphore>,
    /// Files that are being brought in.
    imports: Arc<Imports>,
    /// Who may come in.
    access: Arc<Access>,
    guesses: Arc<Guesses>,
    /// One permit: passphrases are compared one at a time, each takes some memory.
    comparing: Arc<Semaphore>,
    reach: Arc<Reach>,
    /// A copy is made of each day, if the keeper wants it.
    copies_each_day: bool,
    /// One permit: everything is written or taken in once at a time.
    everything: Arc<Semaphore>,
    /// How long a page may take.
    pub(crate) patience: Duration,
}

/// Most of what is asked for takes hundredths of a second.
const PATIENCE: Duration = Duration::from_secs(10);

impl App {
    /// The application over this store and clock.
    pub fn new(store: Arc<Store>, clock: Clock) -> Self {
        Self {
            access: Arc::new(Access::beside(store.path())),
            store,
            clock,
            flows: None,
            example: None,
            follows: Arc::default(),
            routines: Arc::default(),
            intake: Arc::default(),
            heard: broadcast::Sender::new(HEARD),
            bounds: Arc::default(),
            cases: Arc::default(),
            live: Arc::new(Semaphore::new(LIVE_SESSIONS)),
            searches: Arc::new(Semaphore::new(1)),
            pictures: Arc::new(Semaphore::new(1)),
            imports: Arc::default(),
            guesses: Arc::default(),
            comparing: Arc::new(Semaphore::new(1)),
            reach: Arc::default(),
            copies_each_day: false,
            everything: Arc::new(Semaphore::new(1)),
            patience: PATIENCE,
        }
    }

    /// The same, where a copy is made of each day, if the keeper wants it.
    #[must_use]
    pub fn copying(self) -> Self {
        Self {
            copies_each_day: true,
            ..self
        }
    }

    /// A copy is made of each day, if the keeper wants it.
    pub(crate) const fn copies_each_day(&self) -> bool {
        self.copies_each_day
    }

    /// The same, whose pages may take so long: on a machine that is busy with other things.
    #[must_use]
    pub fn patient(self, patience: Duration) -> Self {
        Self { patience, ..self }
    }

    /// The same, reached from there.
    #[must_use]
    pub fn reached(self, reach: Reach) -> Self {
        Self {
            reach: Arc::new(reach),
            ..self
        }
    }

    /// The same, with the flow of tanks computed in the background.
    #[must_use]
    pub fn with_flows(self) -> Self {
        let flows = Flows::start(Arc::clone(&self.store), self.clock.clone());
        Self {
            flows: Some(flows),
            ..self
        }
    }

    /// The same, with made-up tanks to look at for those who have entered none.
    #[must_use]
    pub fn with_example(self, example: Arc<Store>) -> Self {
        Self {
            example: Some(example),
            ..self
        }
    }

    /// The application over the made-up tanks, if there are any.
    pub(crate) fn example(&self) -> Option<Self> {
        Some(Self::new(
            Arc::clone(self.example.as_ref()?),
            self.clock.clone(),
        ))
    }

    /// There are made-up tanks to look at.
    pub(crate) const fn has_example(&self) -> bool {
        self.example.is_some()
    }

    /// What follows from revisions of tanks.
    pub(crate) fn follows(&self) -> Arc<RevisionCache> {
        Arc::clone(&self.follows)
    }

    /// Where posts of devices wait for the next write.
    pub(crate) fn intake(&self) -> Arc<Intake> {
        Arc::clone(&self.intake)
    }

    /// What devices sent, as it comes.
    pub(crate) const fn heard(&self) -> &broadcast::Sender<Heard> {
        &self.heard
    }

    /// Between what things should stay in each tank.
    pub(crate) fn bounds(&self) -> Arc<KnownBounds> {
        Arc::clone(&self.bounds)
    }

    /// What is due in each tank.
    pub(crate) fn routines(&self) -> Arc<Routines> {
        Arc::clone(&self.routines)
    }

    /// Cases that were weighed.
    pub(crate) fn cases(&self) -> Arc<KnownCases> {
        Arc::clone(&self.cases)
    }

    /// The seats of those who watch water while they move things; without one the page settles step
    /// by step.
    pub(crate) fn live_seats(&self) -> Arc<Semaphore> {
        Arc::clone(&self.live)
    }

    /// One permit: searches for better places run one at a time.
    pub(crate) fn searches(&self) -> Arc<Semaphore> {
        Arc::clone(&self.searches)
    }

    /// One permit: pictures are made ready one at a time.
    pub(crate) fn pictures(&self) -> Arc<Semaphore> {
        Arc::clone(&self.pictures)
    }

    /// The folder of the pictures.
    pub(crate) fn photos(&self) -> Folder {
        self.store.photos()
    }

    /// Files that are being brought in.
    pub(crate) fn imports(&self) -> &Imports {
        &self.imports
    }

    /// Who may come in.
    pub(crate) fn access(&self) -> Arc<Access> {
        Arc::clone(&self.access)
    }

    /// A passphrase is asked for. A file that cannot be read lets nobody in either.
    pub(crate) fn has_passphrase(&self) -> bool {
        self.access.is_needed().unwrap_or(true)
    }

    /// How often somebody may guess at it.
    pub(crate) fn guesses(&self) -> &Guesses {
        &self.guesses
    }

    /// One permit: passphrases are compared one at a time.
    pub(crate) fn comparing(&self) -> Arc<Semaphore> {
        Arc::clone(&self.comparing)
    }

    /// From where the program can be reached.
    pub(crate) fn reach(&self) -> &Reach {
        &self.reach
    }

    /// One permit: everything is written or taken in once at a time.
    pub(crate) fn everything(&self) -> Arc<Semaphore> {
        Arc::clone(&self.everything)
    }

    /// The open database, for what concerns all of it.
    pub(crate) fn store(&self) -> Arc<Store> {
        Arc::clone(&self.store)
    }

    /// The flow model, unless the program runs without it.
    pub(crate) fn flows(&self) -> Option<Flows> {
        self.flows.clone()
    }

    /// How far the flow of a tank is known; it is asked for if nothing is kept of it.
    pub(crate) fn flow(&self, tank: &Tank, kept: Option<&Facts>, wanted: Wanted) -> Flow {
        match (kept, &self.flows) {
            (Some(facts), _) => Flow::Known(Box::new(facts.clone())),
            (None, Some(flows)) => flows.want(tank, wanted),
            (None, None) => Flow::Unknown,
        }
    }

    /// Reads, and computes what follows, off the async threads.
    pub(crate) async fn read<T: Send + 'static>(
        &self,
        read: impl FnOnce(&Connection) -> Result<T, StoreError> + Send + 'static,
    ) -> Result<T, PageError> {
        let store = Arc::clone(&self.store);
        blocking(move || store.read(read)).await
    }

    /// The units the keeper chose.
    pub(crate) async fn units(&self) -> Result<Units, PageError> {
        self.read(settings::units).await
    }

    /// Writes, all or nothing, off the async threads.
    pub(crate) async fn write<T: Send + 'static>(
        &self,
        write: impl FnOnce(&Transaction<'_>) -> Result<T, StoreError> + Send + 'static,
    ) -> Result<T, PageError> {
        let store = Arc::clone(&self.store);
        // What a page kept while the network was away is stored once, however often it comes.
        let kept = visit::current(|visit| visit.kept.clone())
            .flatten()
            .filter(|kept| kept.notes_first());
        let now = self.clock.now().utc;
        blocking(move || {
            store.write(|db| {
                if let Some(kept) = &kept {
                    sent::note(db, &kept.id, now)?;
                }
                write(db)
            })
        })
        .await
    }

    /// Does something that blocks, off the async threads.
    pub(crate) async fn blocking<T: Send + 'static>(
        &self,
        work: impl FnOnce(&Store) -> Result<T, StoreError> + Send + 'static,
    ) -> Result<T, PageError> {
        let store = Arc::clone(&self.store);
        blocking(move || work(&store)).await
    }
}

async fn blocking<T: Send + 'static>(
    work: impl FnOnce() -> Result<T, StoreError> + Send + 'static,
) -> Result<T, PageError> {
    match tokio::task::spawn_blocking(visit::carried(work)).await {
        Ok(result) => Ok(result?),
        // The panic is already in the log with its place; the keeper gets the page for failures.
        Err(_) => Err(PageError::Failed(
            "a computation stopped unexpectedly".into(),
        )),
    }
}
