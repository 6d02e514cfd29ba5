//! The flow of tanks, computed in the background and kept: no page waits for it, and nothing is computed twice.

use std::collections::HashMap;
use std::ops::ControlFlow;
use std::sync::mpsc::{Receiver, Sender, channel};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use reed_core::flow::{Drawn, Facts, key};
use reed_core::tank::Tank;
use reed_flow::Settings;
use reed_store::{Connection, Store, StoreError, flows};

use crate::clock::Clock;

/// How far the flow of a tank is known.
#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Flow {
    /// Computed.
    Known(Box<Facts>),
    /// Being computed, this share of it done; 0 while it waits its turn.
    UnderWay(f32),
    /// Nothing in the tank moves its water.
    Still,
    /// Not computed, and nobody was asked to.
    Unknown,
}

/// What is known of the flow in a tank, from the store alone.
pub(crate) fn kept(db: &Connection, tank: &Tank) -> Result<Option<Facts>, StoreError> {
    flows::facts(db, &key(tank, &Drawn::of(tank)))
}

/// The packed speeds of the flow in a tank, from the store.
pub(crate) fn kept_field(db: &Connection, tank: &Tank) -> Result<Option<Vec<u8>>, StoreError> {
    flows::field(db, &key(tank, &Drawn::of(tank)))
}

/// A tank whose flow is wanted.
#[derive(Debug)]
struct Job {
    scene: String,
    tank: Tank,
    drawn: Drawn,
}

/// Computes flows one after the other, on a thread of its own.
#[derive(Clone, Debug)]
pub(crate) struct Flows {
    jobs: Sender<Job>,
    /// Share done of every scene that waits or is being computed.
    under_way: Arc<Mutex<HashMap<String, f32>>>,
}

impl Flows {
    /// Starts the thread; it ends with the last handle.
    pub(crate) fn start(store: Arc<Store>, clock: Clock) -> Self {
        let (jobs, waiting) = channel();
        let flows = Self { jobs, under_way: Arc::default() };
        let under_way = Arc::clone(&flows.under_way);
        // Without the thread the tank pages say that the flow waits; everything else works.
        if let Err(error) = std::thread::Builder::new().name("flow".to_owned()).spawn(move || work(&waiting, &store, &clock, &under_way)) {
            tracing::error!(%error, "no thread for the flow model");
        }
        flows
    }

    /// How far a tank's flow is, of which nothing is kept yet; asks for it if nobody did.
    pub(crate) fn want(&self, tank: &Tank) -> Flow {
        let drawn = Drawn::of(tank);
        if drawn.is_still() {
            return Flow::Still;
        }
        let scene = key(tank, &drawn);
        let mut under_way = lock(&self.under_way);
        if let Some(share) = under_way.get(&scene) {
            return Flow::UnderWay(*share);
        }
        under_way.insert(scene.clone(), 0.0);
        // The thread lives as long as this handle.
        let _ = self.jobs.send(Job { scene, tank: tank.clone(), drawn });
        Flow::UnderWay(0.0)
    }
}

fn lock(under_way: &Mutex<HashMap<String, f32>>) -> MutexGuard<'_, HashMap<String, f32>> {
    // Shares of work: whatever a panic left there is harmless.
    under_way.lock().unwrap_or_else(PoisonError::into_inner)
}

fn work(waiting: &Receiver<Job>, store: &Store, clock: &Clock, under_way: &Mutex<HashMap<String, f32>>) {
    while let Ok(Job { scene, tank, drawn }) = waiting.recv() {
        let settings = Settings::of(&drawn.scene);
        let progress = |share: f32| {
            lock(under_way).insert(scene.clone(), share);
            ControlFlow::Continue(())
        };
        // One thread: a page asked for meanwhile finds the other processor free.
        if let Some(survey) = drawn.scene.survey(settings, 1, &progress) {
            let facts = Facts::of(&tank, &drawn, &survey);
            if let Err(error) = store.write(|db| flows::keep(db, &scene, &facts, &survey.packed(), clock.now().utc)) {
                tracing::error!(%error, "the flow of {} was not kept", tank.name);
            }
        }
        lock(under_way).remove(&scene);
    }
}
