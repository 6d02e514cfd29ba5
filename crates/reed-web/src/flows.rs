//! The flow of tanks, computed in the background and kept: no page waits for it, and nothing is
//! computed twice.

use std::collections::{HashMap, VecDeque};
use std::ops::ControlFlow;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::sync::{Arc, Condvar, Mutex, MutexGuard, PoisonError};

use reed_core::flow::{Facts, TankScene, Trust, key};
use reed_core::tank::Tank;
use reed_flow::Settings;
use reed_store::{Connection, Store, StoreError, TankId, drift_trials, flows};

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
    /// The model failed on it; the log says how.
    Failed,
}

/// A share done as whole percent.
pub(crate) fn whole_percent(share: f32) -> u8 {
    #[expect(
        clippy::cast_possible_truncation,
        clippy::cast_sign_loss,
        reason = "a share"
    )]
    let percent = (share.clamp(0.0, 1.0) * 100.0) as u8;
    percent
}

/// What is known of the flow in a tank, from the store alone, as far as the drift tests in it trust
/// the model.
pub(crate) fn kept(db: &Connection, id: TankId, tank: &Tank) -> Result<Option<Facts>, StoreError> {
    let facts = flows::facts(db, &key(tank, &TankScene::of(tank)))?;
    let trust = Trust::after(&drift_trials::factors(db, id)?);
    Ok(facts.map(|facts| Facts { trust, ..facts }))
}

/// The packed speeds of the flow in a tank, from the store.
pub(crate) fn kept_field(db: &Connection, tank: &Tank) -> Result<Option<Vec<u8>>, StoreError> {
    flows::field(db, &key(tank, &TankScene::of(tank)))
}

/// A tank whose flow is wanted.
#[derive(Debug)]
struct Job {
    scene: String,
    tank: Tank,
    drawn: TankScene,
}

impl Job {
    fn of(tank: &Tank) -> Self {
        let drawn = TankScene::of(tank);
        Self {
            scene: key(tank, &drawn),
            tank: tank.clone(),
            drawn,
        }
    }
}

/// How far a scene is of which nothing is kept.
#[derive(Clone, Copy, Debug)]
enum State {
    /// It waits or is being computed; the share done.
    UnderWay(f32),
    /// The model panicked over it: it would again.
    Failed,
}

/// For what a flow is wanted: a tank as it stands comes before what is only tried.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Wanted {
    AsItStands,
    Tried,
}

/// Tries that may wait; of more the one that has waited longest is forgotten, and asked for again by
/// the page that still shows it.
const MOST_TRIED: usize = 20;

/// Tanks whose flow waits to be computed.
#[derive(Debug, Default)]
struct Queue {
    waiting: Mutex<Waiting>,
    came: Condvar,
}

#[derive(Debug, Default)]
struct Waiting {
    standing: VecDeque<Job>,
    tried: VecDeque<Job>,
    /// Nobody is left who could want one.
    is_over: bool,
}

impl Queue {
    fn waiting(&self) -> MutexGuard<'_, Waiting> {
        self.waiting.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Lets a job wait; the one that is forgotten for it.
    fn add(&self, job: Job, wanted: Wanted) -> Option<Job> {
        let mut waiting = self.waiting();
        let forgotten = match wanted {
            Wanted::AsItStands => {
                waiting.standing.push_back(job);
                None
            }
            Wanted::Tried => {
                waiting.tried.push_back(job);
                (waiting.tried.len() > MOST_TRIED)
                    .then(|| waiting.tried.pop_front())
                    .flatten()
            }
        };
        self.came.notify_one();
        forgotten
    }

    /// What was tried became the tank as it stands.
    fn promote(&self, scene: &str) {
        let mut waiting = self.waiting();
        let place = waiting.tried.iter().position(|job| job.scene == scene);
        if let Some(job) = place.and_then(|place| waiting.tried.remove(place)) {
            waiting.standing.push_back(job);
        }
    }

    /// The next job, when there is one; none when it is over.
    fn next(&self) -> Option<Job> {
        let mut waiting = self.waiting();
        loop {
            if waiting.is_over {
                return None;
            }
            if let Some(job) = waiting.standing.pop_front() {
                return Some(job);
            }
            if let Some(job) = waiting.tried.pop_front() {
                return Some(job);
            }
            waiting = self
                .came
                .wait(waiting)
                .unwrap_or_else(PoisonError::into_inner);
        }
    }
}

/// Ends the thread with the last handle.
#[derive(Debug)]
struct Asking(Arc<Queue>);

impl Drop for Asking {
    fn drop(&mut self) {
        self.0.waiting().is_over = true;
        self.0.came.notify_all();
    }
}

/// Computes flows one after the other, on a thread of its own.
#[derive(Clone, Debug)]
pub(crate) struct Flows {
    asking: Arc<Asking>,
    work: Arc<Work>,
}

#[derive(Debug)]
struct Work {
    store: Arc<Store>,
    clock: Clock,
    states: Mutex<HashMap<String, State>>,
}

impl Flows {
    /// Starts the thread; it ends with the last handle.
    pub(crate) fn start(store: Arc<Store>, clock: Clock) -> Self {
        let queue = Arc::new(Queue::default());
        let flows = Self {
            asking: Arc::new(Asking(Arc::clone(&queue))),
            work: Arc::new(Work {
                store,
                clock,
                states: Mutex::default(),
            }),
        };
        let work = Arc::clone(&flows.work);
        let run = move || {
            while let Some(job) = queue.next() {
                work.compute(&job, &|| ControlFlow::Continue(()));
            }
        };
        // Without the thread the tank pages say that the flow waits; everything else works.
        if let Err(error) = std::thread::Builder::new()
            .name("flow".to_owned())
            .spawn(run)
        {
            tracing::error!(%error, "no thread for the flow model");
        }
        flows
    }

    /// How far a tank's flow is, of which nothing is kept yet; asks for it if nobody did.
    pub(crate) fn want(&self, tank: &Tank, wanted: Wanted) -> Flow {
        let job = Job::of(tank);
        if job.drawn.is_still() {
            return Flow::Still;
        }
        match self.work.begin(&job.scene) {
            Some(State::UnderWay(share)) => {
                if wanted == Wanted::AsItStands {
                    self.asking.0.promote(&job.scene);
                }
                Flow::UnderWay(share)
            }
            Some(State::Failed) => Flow::Failed,
            None => {
                if let Some(forgotten) = self.asking.0.add(job, wanted) {
                    self.work.states().remove(&forgotten.scene);
                }
                Flow::UnderWay(0.0)
            }
        }
    }

    /// The flow of a tank, from the store or computed here and now; blocks for seconds. `None` when
    /// the model fails on it, or when it was broken off.
    pub(crate) fn solve(
        &self,
        tank: &Tank,
        go_on: &(dyn Fn() -> ControlFlow<()> + Sync),
    ) -> Option<Facts> {
        let job = Job::of(tank);
        loop {
            let kept = self
                .work
                .store
                .read(|db| flows::facts(db, &job.scene))
                .ok()
                .flatten();
            if kept.is_some() || go_on().is_break() {
                return kept;
            }
            match self.work.begin(&job.scene) {
                // Somebody else is at it.
                Some(State::UnderWay(_)) => std::thread::sleep(ASK_AGAIN),
                Some(State::Failed) => return None,
                None => return self.work.compute(&job, go_on),
            }
        }
    }
}

/// How often it is asked whether somebody else is done.
const ASK_AGAIN: std::time::Duration = std::time::Duration::from_millis(200);

impl Work {
    fn states(&self) -> MutexGuard<'_, HashMap<String, State>> {
        // Shares of work: whatever a panic left there is harmless.
        self.states.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Notes that a scene is being computed, unless it was already: then how far it is.
    fn begin(&self, scene: &str) -> Option<State> {
        let mut states = self.states();
        let before = states.get(scene).copied();
        if before.is_none() {
            states.insert(scene.to_owned(), State::UnderWay(0.0));
        }
        before
    }

    /// Computes and keeps the flow of a scene that was begun.
    fn compute(
        &self,
        Job { scene, tank, drawn }: &Job,
        go_on: &(dyn Fn() -> ControlFlow<()> + Sync),
    ) -> Option<Facts> {
        let progress = |share: f32| {
            self.states().insert(scene.clone(), State::UnderWay(share));
            go_on()
        };
        // One thread: a page asked for meanwhile finds the other processor free.
        let survey = catch_unwind(AssertUnwindSafe(|| {
            drawn.scene.survey(Settings::of(&drawn.scene), 1, &progress)
        }));
        let Ok(survey) = survey else {
            tracing::error!("the flow model failed on {}", tank.name);
            self.states().insert(scene.clone(), State::Failed);
            return None;
        };
        let facts = survey.map(|survey| {
            let facts = Facts::of(tank, drawn, &survey);
            let kept = self
                .store
                .write(|db| flows::keep(db, scene, &facts, &survey.packed(), self.clock.now().utc));
            if let Err(error) = kept {
                tracing::error!(%error, "the flow of {} was not kept", tank.name);
            }
            facts
        });
        self.states().remove(scene);
        facts
    }
}

#[cfg(test)]
mod tests {
    use super::{ControlFlow, Flow, Flows, Job, MOST_TRIED, Queue, State, Wanted};
    use crate::clock::Clock;
    use reed_core::document::Document;
    use reed_core::tank::Tank;
    use reed_core::units::Length;
    use reed_store::Store;
    use std::sync::Arc;

    fn flows() -> (tempfile::TempDir, Flows) {
        let folder = tempfile::tempdir().expect("a folder");
        let store = Store::open(&folder.path().join("reed.db")).expect("a new file");
        (folder, Flows::start(Arc::new(store), Clock::System))
    }

    /// What somebody began is not begun again, what failed is not tried again, and what is still
    /// needs no model.
    #[test]
    fn nothing_is_computed_twice_and_nothing_that_failed_again() {
        let (_folder, flows) = flows();
        let tank = Document::read(&reed_fixtures::example("reading-room"))
            .expect("an example")
            .document
            .tank;
        let scene = super::Job::of(&tank).scene;
        assert!(flows.work.begin(&scene).is_none());
        assert_eq!(flows.want(&tank, Wanted::AsItStands), Flow::UnderWay(0.0));
        assert!(
            flows.solve(&tank, &|| ControlFlow::Break(())).is_none(),
            "somebody else is at it, and nobody waits"
        );
        flows.work.states().insert(scene, State::Failed);
        assert_eq!(flows.want(&tank, Wanted::AsItStands), Flow::Failed);
        assert!(flows.solve(&tank, &|| ControlFlow::Continue(())).is_none());
        let still = Tank::plain(
            "still",
            Length::cm(60.0),
            Length::cm(30.0),
            Length::cm(30.0),
        );
        assert_eq!(flows.want(&still, Wanted::AsItStands), Flow::Still);
    }

    /// However many tries wait, a tank as it stands comes first, and they do not grow without end.
    #[test]
    fn a_tank_as_it_stands_does_not_wait_for_tries() {
        let named = |number: usize| {
            let (side, name) = (Length::cm(60.0), number.to_string());
            Job {
                scene: name.clone(),
                ..Job::of(&Tank::plain(&name, side, side, side))
            }
        };
        let queue = Queue::default();
        for number in 0..MOST_TRIED {
            assert!(queue.add(named(number), Wanted::Tried).is_none());
        }
        let forgotten = queue.add(named(99), Wanted::Tried).expect("one too many");
        assert_eq!(forgotten.tank.name, "0");
        assert!(queue.add(named(100), Wanted::AsItStands).is_none());
        queue.promote("7");
        let next = || queue.next().expect("some wait").tank.name;
        assert_eq!([next(), next(), next()], ["100", "7", "1"]);
        queue.waiting().is_over = true;
        assert!(queue.next().is_none());
    }

    /// Broken off, it can be asked for again.
    #[test]
    fn what_was_broken_off_is_as_if_it_was_not_asked_for() {
        let (_folder, flows) = flows();
        let tank = Document::read(&reed_fixtures::example("reading-room"))
            .expect("an example")
            .document
            .tank;
        let asked = std::sync::atomic::AtomicUsize::new(0);
        let soon = || {
            if asked.fetch_add(1, std::sync::atomic::Ordering::Relaxed) > 3 {
                ControlFlow::Break(())
            } else {
                ControlFlow::Continue(())
            }
        };
        assert!(flows.solve(&tank, &soon).is_none());
        assert!(flows.work.states().is_empty());
    }
}
