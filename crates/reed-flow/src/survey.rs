//! All measures of a scene, each with how far it can be trusted.
//!
//! The flow is settled with eddies half, once and twice as strong as they are thought to be, and on
//! a grid of twice the spacing, and by turns from either hand: a tank that is nearly symmetric may
//! lean to the front or to the back. Muck is followed with three speeds that lift it. What these
//! span is a band, widened by what the model itself was off by against settled fields of a general
//! flow package and free jets: see `docs/flow-verification.md`.

use std::ops::ControlFlow;
use std::sync::Mutex;
use std::sync::atomic::{AtomicUsize, Ordering};

use crate::field::Field;
use crate::measure::{self, BINS, BedCurrent, Deposit, Maps, Muck, Places, Rise};
use crate::scene::Scene;
use crate::settle::{Settings, Settled};

/// A number under all assumptions.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Band {
    /// The least.
    pub low: f32,
    /// Under the assumptions thought best.
    pub likely: f32,
    /// The most.
    pub high: f32,
}

/// What is told of a scene.
#[derive(Clone, Debug)]
pub struct Survey {
    /// The flow under the assumptions thought best.
    pub field: Field,
    /// Some flow did not come to rest: the loop may turn now this way, now that.
    pub unsteady: bool,
    /// Water through all intakes in an hour over the water there is.
    pub turnover: f32,
    /// Mean speed just below the surface, m/s.
    pub surface_speed: Band,
    /// How briskly the surface is renewed, 1/s.
    pub surface_renewal: Band,
    /// Mean speed of all water, m/s.
    pub mean_speed: Band,
    /// Mean speed of the lowest water, m/s.
    pub bed_speed: Band,
    /// Share of all water that is slower than [`measure::SLOW`].
    pub slow: Band,
    /// The same of the left, the middle and the right third.
    pub slow_thirds: [Band; 3],
    /// Share of all water that is gentle: see [`measure::gentle_share`].
    pub gentle: Band,
    /// Seconds that 95 % of the water have at most been away from the surface.
    pub since_surface: Band,
    /// How the loop turns: see [`measure::loop_turns`].
    pub loop_turns: Band,
    /// Share of the thrust that outlets spend against each other.
    pub facing: f32,
    /// The current over the parts of the bed, under the assumptions thought best.
    pub bed: [[BedCurrent; BINS[0]]; BINS[1]],
    /// Share of all muck that comes to rest.
    pub muck_rests: Band,
    /// The same in each part of the bed.
    pub rests: [[Band; BINS[0]]; BINS[1]],
    /// Share of the resting muck that lies beside rock, over the share of the bed that does; above
    /// one rock gathers it. Zero without rock.
    pub shadow: Band,
    /// Share of all muck that each intake catches.
    pub caught: Vec<Band>,
    /// Share of micro-bubbles from outlets and air stones that each intake takes in.
    pub bubbles: Vec<Band>,
    /// What one more intake would meet anywhere along the walls, under the assumptions thought
    /// best.
    pub places: Places,
    /// What each cell has seen, under the assumptions thought best.
    pub maps: Maps,
}

impl Band {
    /// Of numbers of which the first is thought best.
    ///
    /// # Panics
    /// If there is none.
    pub fn of(numbers: impl IntoIterator<Item = f32>) -> Self {
        let mut numbers = numbers.into_iter();
        let likely = numbers.next().expect("there is an assumption thought best");
        let band = Self {
            low: likely,
            likely,
            high: likely,
        };
        numbers.fold(band, |band, number| Self {
            low: band.low.min(number),
            high: band.high.max(number),
            ..band
        })
    }

    /// Of a speed: wider by what the model is off by.
    fn of_speed(self) -> Self {
        Self {
            low: self.low / SPEED_OFF,
            high: self.high * SPEED_OFF,
            ..self
        }
    }

    /// The same of a share.
    fn of_share(self) -> Self {
        let moved = |share: f32, by: f32| {
            let odds = share / (1.0 - share).max(f32::MIN_POSITIVE) * by;
            odds / (1.0 + odds)
        };
        Self {
            low: moved(self.low, 1.0 / ODDS_OFF),
            high: moved(self.high.min(1.0), ODDS_OFF),
            ..self
        }
    }
}

/// Strengths of the eddies, the one thought best first, each with the hand to which the water is
/// pushed at first; the coarse grid has the last hand.
const EDDIES: [(f32, f32); 3] = [(1.0, 1.0), (0.5, -1.0), (2.0, 1.0)];
const COARSE_HAND: f32 = -1.0;
/// What the model itself is off by, as a factor on a speed and on the odds of a share. Set by three
/// boxes of a general flow package and held against two others, see `docs/flow-verification.md`.
const SPEED_OFF: f32 = 1.2;
const ODDS_OFF: f32 = 1.6;
/// Lifting speeds of muck, the one thought best first.
const BEST_FIRST: [f32; 3] = [Muck::LIFTED_AT[1], Muck::LIFTED_AT[0], Muck::LIFTED_AT[2]];
/// Pieces of muck of each sort with the lifting speed thought best: shares are good to some 2 %; and
/// with the others, which only span a band: to some 2.5 %.
const PIECES: usize = 300;
const PIECES_OF_OTHERS: usize = 200;
/// Bubbles from each source.
const BUBBLES: usize = 100;
/// Particles that are followed back to the surface.
const BACK: usize = 200;
/// Particles that are followed back to the surface, and bubbles from each source, for the maps.
const MAPPED: (usize, usize) = (1600, 400);
/// Share of the time to settle that is enough for a glance: most loops have found their way by
/// then.
const HASTE: f32 = 0.6;
/// The share of progress that a flow takes, the rest being measures.
const SETTLED_AT: f32 = 0.9;

/// A flow with what it gives: one set of measures, or one to each of its means where it does not
/// come to rest.
struct Outcome {
    settled: Settled,
    seen: Vec<Seen>,
}

/// What one field gives.
struct Seen {
    surface_speed: f32,
    surface_renewal: f32,
    mean_speed: f32,
    bed_speed: f32,
    slow: f32,
    slow_thirds: [f32; 3],
    gentle: f32,
    since_surface: f32,
    loop_turns: f32,
    bubbles: Vec<f32>,
    /// The lifting speed thought best first.
    deposits: Vec<Deposit>,
}

impl Scene {
    /// Settles and measures the scene under all assumptions, on so many threads; the result does
    /// not depend on how many. `best` are the settings thought best, as of [`Settings::of`].
    /// `progress` is told the share done, and may break off.
    ///
    /// Returns `None` when it was broken off.
    pub fn survey(
        &self,
        best: Settings,
        threads: usize,
        progress: &(dyn Fn(f32) -> ControlFlow<()> + Sync),
    ) -> Option<Survey> {
        let fine = EDDIES.map(|(eddies, hand)| Settings {
            eddies,
            hand,
            ..best
        });
        let coarse = Settings {
            hand: COARSE_HAND,
            ..best.coarsely()
        };
        let all: Vec<Settings> = fine.into_iter().chain([coarse]).collect();
        let (next, done) = (
            AtomicUsize::new(0),
            Mutex::new((vec![0.0_f32; all.len()], ControlFlow::Continue(()))),
        );
        let results: Mutex<Vec<Option<Outcome>>> = Mutex::new(all.iter().map(|_| None).collect());
        let report = |index: usize, share: f32| {
            let mut done = done.lock().expect("no thread panics with it");
            done.0[index] = share;
            if done.1.is_continue() {
                done.1 = progress(done.0.iter().sum::<f32>() / all.len() as f32);
            }
            done.1
        };
        std::thread::scope(|scope| {
            for _ in 0..threads.clamp(1, all.len()) {
                scope.spawn(|| {
                    while let Some((index, settings)) = Some(next.fetch_add(1, Ordering::Relaxed))
                        .and_then(|at| Some((at, all.get(at)?)))
                    {
                        let Some(settled) =
                            self.settle(settings, |share| report(index, SETTLED_AT * share))
                        else {
                            return;
                        };
                        // One after the other where the flow does not choose its way.
                        let fields = if settled.is_unsteady() {
                            &settled.means[..]
                        } else {
                            std::slice::from_ref(&settled.mean)
                        };
                        let seen = fields
                            .iter()
                            .map(|field| self.see(field, &BEST_FIRST))
                            .collect();
                        results.lock().expect("no thread panics with it")[index] =
                            Some(Outcome { settled, seen });
                        if report(index, 1.0).is_break() {
                            return;
                        }
                    }
                });
            }
        });
        let results: Option<Vec<_>> = results
            .into_inner()
            .expect("no thread panicked")
            .into_iter()
            .collect();
        let results = results?;
        let mapped = self.mapped(&results[0].settled.mean);
        Some(self.sum_up(&results, mapped))
    }

    /// The same from a look: one flow, with eddies as strong as they are thought to be, on the
    /// coarse grid alone, without maps and places. For choosing what to survey; it has no bands.
    ///
    /// Returns `None` when it was broken off.
    pub fn glance(
        &self,
        best: Settings,
        progress: impl FnMut(f32) -> ControlFlow<()>,
    ) -> Option<Survey> {
        let hasty = Settings {
            coarse_seconds: HASTE * best.coarse_seconds,
            means: 2,
            ..best.coarsely()
        };
        let settled = self.settle(&hasty, progress)?;
        let seen = vec![self.see(&settled.mean, &Muck::LIFTED_AT[1..2])];
        let nothing = (
            Places { all: Vec::new() },
            Maps {
                since_surface: Vec::new(),
                bubbles: Vec::new(),
            },
        );
        Some(self.sum_up(&[Outcome { settled, seen }], nothing))
    }

    /// Everything measured on one flow, with muck that lifts at these speeds.
    fn see(&self, field: &Field, lifted_at: &[f32]) -> Seen {
        let third = |index: u8| {
            measure::slow_share(field, f32::from(index) / 3.0, f32::from(index + 1) / 3.0)
        };
        let deposit = |(index, lifted_at): (usize, &f32)| {
            let pieces = if index == 0 { PIECES } else { PIECES_OF_OTHERS };
            let of = Muck::SINKS.map(|sinks| {
                Deposit::of(
                    field,
                    Muck {
                        sinks,
                        lifted_at: *lifted_at,
                    },
                    &self.movers,
                    pieces,
                )
            });
            let [one, other] = of;
            one.mixed(&other)
        };
        Seen {
            surface_speed: measure::surface_speed(field),
            surface_renewal: measure::surface_renewal(field),
            mean_speed: measure::mean_speed(field),
            bed_speed: measure::bed_speed(field),
            slow: measure::slow_share(field, 0.0, 1.0),
            slow_thirds: [third(0), third(1), third(2)],
            gentle: measure::gentle_share(field),
            since_surface: measure::seconds_since_surface(&field.reversed(), 0.95, BACK),
            loop_turns: measure::loop_turns(field),
            bubbles: measure::taken_in(
                field,
                &self.movers.bubble_sources(),
                Rise::Micro,
                &self.movers.drains,
                BUBBLES,
            ),
            deposits: lifted_at.iter().enumerate().map(deposit).collect(),
        }
    }

    /// What is told of places and cells, from the flow thought best.
    fn mapped(&self, field: &Field) -> (Places, Maps) {
        let sources = self.movers.bubble_sources();
        let muck = Muck::SINKS.map(|sinks| Muck {
            sinks,
            lifted_at: Muck::LIFTED_AT[1],
        });
        let places = Places::scored(field, &muck, &sources, &self.movers.drains, 2 * PIECES);
        (places, Maps::of(field, &sources, MAPPED.0, MAPPED.1))
    }

    fn sum_up(&self, results: &[Outcome], (places, maps): (Places, Maps)) -> Survey {
        let unsteady = results.iter().any(|outcome| outcome.settled.is_unsteady());
        let seen: Vec<&Seen> = results.iter().flat_map(|outcome| &outcome.seen).collect();
        let band = |of: &dyn Fn(&Seen) -> f32| Band::of(seen.iter().map(|seen| of(seen)));
        let over_muck = |of: &dyn Fn(&Deposit) -> f32| {
            Band::of(seen.iter().flat_map(|seen| &seen.deposits).map(of))
        };
        let per_hour: f32 = 3600.0
            * self
                .movers
                .drains
                .iter()
                .map(|drain| drain.flow)
                .sum::<f32>();
        let shadow = |deposit: &Deposit| {
            let expected = deposit.resting() * deposit.bed_beside_rock;
            if expected > 0.0 {
                deposit.beside_rock / expected
            } else {
                0.0
            }
        };
        let intakes = 0..self.movers.intakes();
        let field = results[0].settled.mean.clone();
        Survey {
            unsteady,
            turnover: per_hour / self.volume(),
            surface_speed: band(&|seen| seen.surface_speed).of_speed(),
            surface_renewal: band(&|seen| seen.surface_renewal),
            mean_speed: band(&|seen| seen.mean_speed).of_speed(),
            bed_speed: band(&|seen| seen.bed_speed).of_speed(),
            slow: band(&|seen| seen.slow).of_share(),
            slow_thirds: std::array::from_fn(|third| {
                band(&|seen| seen.slow_thirds[third]).of_share()
            }),
            gentle: band(&|seen| seen.gentle).of_share(),
            since_surface: band(&|seen| seen.since_surface),
            loop_turns: band(&|seen| seen.loop_turns),
            facing: measure::facing(&self.movers),
            bed: measure::bed_current(&field),
            muck_rests: over_muck(&Deposit::resting),
            rests: std::array::from_fn(|row| {
                std::array::from_fn(|column| over_muck(&|deposit| deposit.rests[row][column]))
            }),
            shadow: over_muck(&shadow),
            caught: intakes
                .clone()
                .map(|intake| over_muck(&|deposit| deposit.caught[intake]))
                .collect(),
            bubbles: intakes
                .map(|intake| band(&|seen| seen.bubbles[intake]))
                .collect(),
            places,
            maps,
            field,
        }
    }
}
