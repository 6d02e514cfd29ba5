//! Where an intake would do best: every place along the walls, by what passes it.

use crate::field::Field;
use crate::measure::bubbles::{self, Rise};
use crate::measure::drifting::scattered;
use crate::measure::muck::{self, CAUGHT_WITHIN, Muck};
use crate::openings::Drain;

/// A place where an intake could hang.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct IntakePlace {
    /// Its middle, m.
    pub at: [f32; 3],
    /// Share of the muck that passes within 3 cm on its way.
    pub muck: f32,
    /// Share of the bubbles that do.
    pub bubbles: f32,
}

impl IntakePlace {
    /// Muck less bubbles; a bubble taken in counts as so many pieces of muck not caught.
    pub fn score(&self) -> f32 {
        self.muck - BUBBLE_COSTS * self.bubbles
    }
}

/// Places along all walls, with what passes them.
#[derive(Clone, Debug)]
pub struct Places {
    /// In no order that matters.
    pub all: Vec<IntakePlace>,
}

/// What a bubble costs, in pieces of muck: air in a filter stops it. A judgement.
const BUBBLE_COSTS: f32 = 0.5;
/// How far from its wall an intake hangs, m.
const FROM_WALL: f32 = 0.04;
/// Between two places, m, at most; small tanks get closer ones.
const SPACING: f32 = 0.04;

impl Places {
    /// Places along the four walls of a box, from just above the bed to just below the surface,
    /// that are not in rock.
    fn along_walls(field: &Field) -> Vec<[f32; 3]> {
        let size = field.size();
        let off = FROM_WALL.min(size[0].min(size[1]) / 4.0);
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "a length over a spacing"
        )]
        let spaced = |length: f32| {
            let count = ((length - 2.0 * off) / SPACING).ceil().max(4.0) as usize;
            (0..=count).map(move |index| off + (length - 2.0 * off) * index as f32 / count as f32)
        };
        let mut places = Vec::new();
        for z in spaced(size[2]) {
            places.extend(spaced(size[0]).flat_map(|x| [[x, off, z], [x, size[1] - off, z]]));
            // The corners are in already.
            let inner = spaced(size[1]).filter(|y| *y > off * 1.01 && *y < size[1] - off * 1.01);
            places.extend(inner.flat_map(|y| [[off, y, z], [size[0] - off, y, z]]));
        }
        places.retain(|place| !field.is_solid(field.cell(*place)));
        places
    }

    /// Scores them all in one go: each piece of muck and each bubble is followed once and noted
    /// wherever it passes, until one of the `other` intakes has it.
    pub fn scored(
        field: &Field,
        muck: &[Muck],
        sources: &[[f32; 3]],
        other: &[Drain],
        pieces: usize,
    ) -> Self {
        let places = Self::along_walls(field);
        let near = Nearby::new(field, &places);
        let each = (pieces / muck.len().max(1)).max(1);
        let mut passes = Passes::new(places.len());
        let mut followed = 0.0_f32;
        for muck in muck {
            for (seed, from) in scattered(field, each).into_iter().enumerate() {
                passes.next();
                followed += 1.0;
                muck::follow(field, seed as u64, from, *muck, other, |at| {
                    near.each(at, |place| passes.note(place));
                });
            }
        }
        let by_muck = std::mem::replace(&mut passes, Passes::new(places.len())).counts;
        let mut bubbles = 0.0_f32;
        for (index, source) in sources.iter().enumerate() {
            for seed in 0..(pieces / (4 * sources.len())).max(20) {
                passes.next();
                bubbles += 1.0;
                bubbles::follow(
                    field,
                    (index * pieces + seed) as u64,
                    *source,
                    Rise::Micro,
                    |at| {
                        near.each(at, |place| passes.note(place));
                        true
                    },
                );
            }
        }
        let share = |count: f32, of: f32| count / of.max(1.0);
        let scored = places.into_iter().zip(by_muck).zip(passes.counts);
        Self {
            all: scored
                .map(|((at, muck), by)| IntakePlace {
                    at,
                    muck: share(muck, followed),
                    bubbles: share(by, bubbles),
                })
                .collect(),
        }
    }

    /// The best places, best first, no two within so many metres of each other.
    pub fn best(&self, count: usize, apart: f32) -> Vec<IntakePlace> {
        let mut sorted = self.all.clone();
        sorted.sort_by(|one, other| other.score().total_cmp(&one.score()));
        let mut best: Vec<IntakePlace> = Vec::new();
        for place in sorted {
            if best.len() < count
                && best
                    .iter()
                    .all(|better| !muck::near(better.at, place.at, apart))
            {
                best.push(place);
            }
        }
        best
    }
}

/// For each cell of a field, the places that may be near to something in it.
struct Nearby<'a> {
    field: &'a Field,
    places: &'a [[f32; 3]],
    /// By cell, x fastest.
    of_cell: Vec<Vec<u16>>,
}

impl<'a> Nearby<'a> {
    fn new(field: &'a Field, places: &'a [[f32; 3]]) -> Self {
        let grid = field.grid();
        // From a place to the far corner of a cell that it can see.
        let reach = CAUGHT_WITHIN + grid.h * 0.5;
        let of_cell = grid
            .all()
            .map(|cell| {
                let middle = grid.middle(cell);
                let sees = |place: &[f32; 3]| {
                    (0..3).all(|axis| (place[axis] - middle[axis]).abs() <= reach)
                };
                let seen = places.iter().enumerate().filter(|(_, place)| sees(place));
                seen.filter_map(|(index, _)| u16::try_from(index).ok())
                    .collect()
            })
            .collect();
        Self {
            field,
            places,
            of_cell,
        }
    }

    fn each(&self, at: [f32; 3], mut then: impl FnMut(usize)) {
        for place in &self.of_cell[self.field.index(self.field.cell(at))] {
            let place = usize::from(*place);
            if muck::near(at, self.places[place], CAUGHT_WITHIN) {
                then(place);
            }
        }
    }
}

/// How many passed each place, each counted once.
struct Passes {
    counts: Vec<f32>,
    last: Vec<usize>,
    now: usize,
}

impl Passes {
    fn new(places: usize) -> Self {
        Self {
            counts: vec![0.0; places],
            last: vec![0; places],
            now: 0,
        }
    }

    /// The next particle comes.
    fn next(&mut self) {
        self.now += 1;
    }

    /// It passes this place.
    fn note(&mut self, place: usize) {
        if self.last[place] != self.now {
            self.last[place] = self.now;
            self.counts[place] += 1.0;
        }
    }
}
