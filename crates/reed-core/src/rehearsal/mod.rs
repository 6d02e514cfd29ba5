//! How good the diagnosis is, on made-up cases whose truth is known.
//!
//! For each case a tank is taken, faults are drawn from what the program believes of it, a keeper
//! glances at a few things and opens a case if any of them is a sign. Then the program's own checks
//! are done until it says that acting is due, and on until something is certain; and for comparison
//! the same checks in the fixed order of the catalogue and in random order.

pub mod laws;
mod score;
pub mod water;

use fastrand::Rng;
use jiff::civil::{DateTime, date};

use self::score::Tally;
pub use self::score::{Bin, Order, Race, Score, Spent};
use crate::diagnosis::check::{self, Check, Gives};
use crate::diagnosis::finding::Kind;
use crate::diagnosis::world::{Perturbation, World};
use crate::diagnosis::{Advice, Case, CheckOutlook, Differential, Observed, round};
use crate::remedy::{advice, offers};
use crate::tank::Tank;

/// What to rehearse.
#[derive(Clone, Copy, Debug)]
pub struct Rehearsal {
    /// How many cases, over all tanks in turn.
    pub cases: usize,
    /// The same seed gives the same cases.
    pub seed: u64,
    /// Every strength, leak and rate of the world is off by up to this factor; 1 for a world as
    /// believed.
    pub factor: f64,
    /// Share of answers that are mistaken.
    pub mistaken: f64,
}

/// Likely enough to be called certain. A judgement.
pub const CERTAIN: f64 = 0.9;
/// What a keeper has looked at when a case is opened.
const GLANCES: usize = 5;
const MORNING: DateTime = date(2026, 3, 10).at(8, 30, 0, 0);

/// Plays so many games, each into the tally of the worker that plays it; the tallies, of which the
/// sum does not depend on how many workers there are.
fn on_every_processor<T: Default + Send>(
    games: usize,
    play: impl Fn(usize, &mut T) + Sync,
) -> Vec<T> {
    let workers = std::thread::available_parallelism()
        .map_or(1, usize::from)
        .min(games.max(1));
    let play_each = |worker: usize| {
        let mut tally = T::default();
        (worker..games)
            .step_by(workers)
            .for_each(|game| play(game, &mut tally));
        tally
    };
    let play_each = &play_each;
    std::thread::scope(|scope| {
        let started: Vec<_> = (0..workers)
            .map(|worker| scope.spawn(move || play_each(worker)))
            .collect();
        // A panic in a worker is a fault of this program and goes on from here.
        started
            .into_iter()
            .map(|worker| worker.join().expect("a worker panicked"))
            .collect()
    })
}

impl Rehearsal {
    /// Plays all cases on these tanks and scores them.
    ///
    /// # Panics
    /// If there is no tank.
    pub fn play(&self, tanks: &[Tank]) -> Score {
        assert!(!tanks.is_empty(), "a case needs a tank");
        let bases: Vec<Differential> = tanks
            .iter()
            .map(|tank| Differential::of(&Case::new(tank.clone(), MORNING)))
            .collect();
        let play = |case: usize, tally: &mut Tally| {
            let place = case % tanks.len();
            self.play_one(case, &tanks[place], &bases[place], tally);
        };
        on_every_processor(self.cases, play)
            .into_iter()
            .fold(Tally::default(), Tally::and)
            .score()
    }

    fn play_one(&self, case: usize, tank: &Tank, base: &Differential, tally: &mut Tally) {
        let off = Perturbation {
            factor: self.factor,
            mistaken: self.mistaken,
        };
        let mut rng = Rng::with_seed(
            self.seed
                .wrapping_mul(0x9E37_79B9_7F4A_7C15)
                .wrapping_add(case as u64),
        );
        // Of those who glance, only those who see something open a case.
        let (opened, observed) = loop {
            let seed = rng.u64(..);
            let mut observed = Observed::nothing(tank, MORNING);
            glance(
                &mut World::draw(tank, base, off, Rng::with_seed(seed)),
                &mut observed,
                &mut Rng::with_seed(seed),
            );
            if observed
                .answers
                .iter()
                .any(|answered| answered.answer == crate::diagnosis::Answer::Yes)
            {
                break (seed, observed);
            }
        };
        let certain = Order::ALL.map(|order| {
            // The same world, and the same glances, for each order.
            let mut world = World::draw(tank, base, off, Rng::with_seed(opened));
            glance(
                &mut world,
                &mut Observed::nothing(tank, MORNING),
                &mut Rng::with_seed(opened),
            );
            let run = Run {
                world,
                case: Case {
                    tank: tank.clone(),
                    observed: observed.clone(),
                },
                order,
                rng: Rng::with_seed(opened),
            };
            run.played_out(tally)
        });
        tally.ended(certain);
    }
}

/// Looks at a few things that take no more than a minute.
fn glance(world: &mut World<'_>, observed: &mut Observed, rng: &mut Rng) {
    let quick = |check: &&Check| match &check.gives {
        Gives::Answer(finding) => {
            check.minutes <= 1.0 && matches!(finding.kind, Kind::Sign | Kind::Rung(_))
        }
        _ => false,
    };
    let mut looks: Vec<&'static Check> = check::all().filter(quick).collect();
    rng.shuffle(&mut looks);
    looks
        .into_iter()
        .take(GLANCES)
        .for_each(|check| world.enter(check, None, observed));
}

/// One case, checked in one order.
struct Run<'a> {
    case: Case,
    world: World<'a>,
    order: Order,
    rng: Rng,
}

impl Run<'_> {
    /// Checks and minutes until something was certain, if it came so far. In its own order it goes
    /// on until nothing is left to ask.
    fn played_out(mut self, tally: &mut Tally) -> Option<Spent> {
        let own = self.order == Order::Own;
        let (mut spent, mut certain_after, mut acted) = (Spent::default(), None, false);
        loop {
            let differential = Differential::of(&self.case);
            let outlook = differential.outlook(&self.case);
            let mut next = self.next(&outlook);
            if own && spent.checks == 0 {
                tally.opened(&differential, &self.world);
            }
            if own && !acted {
                let (_, offers) = offers(&differential, &self.case.observed);
                match advice(&differential, &outlook, &offers) {
                    Advice::Look { looks } => next = looks,
                    Advice::Act => {
                        acted = true;
                        tally.acted(&differential, &self.world, offers.first(), spent);
                    }
                }
            }
            if certain_after.is_none() && differential.leading() >= CERTAIN {
                certain_after = Some(spent);
            }
            if next.is_empty() || !own && certain_after.is_some() {
                if own {
                    tally.all_told(&differential, &self.world);
                }
                return certain_after;
            }
            let checks: Vec<&Check> = next
                .iter()
                .map(|place| outlook.proposals[*place].check)
                .collect();
            spent.rounds += 1;
            spent.checks += checks.len();
            spent.minutes += round::minutes_of(&checks);
            for place in next {
                self.world.enter(
                    outlook.proposals[place].check,
                    outlook.proposals[place].analyte,
                    &mut self.case.observed,
                );
            }
        }
    }

    /// What this order would check next, among all that would tell something.
    fn next(&mut self, outlook: &CheckOutlook) -> Vec<usize> {
        let proposals = &outlook.proposals;
        let in_the_catalogue =
            |place: &usize| check::all().position(|check| check == proposals[*place].check);
        let next = match self.order {
            Order::Own => (!proposals.is_empty()).then_some(0),
            Order::Fixed => (0..proposals.len()).min_by_key(in_the_catalogue),
            Order::Random => (!proposals.is_empty()).then(|| self.rng.usize(..proposals.len())),
        };
        next.into_iter().collect()
    }
}
