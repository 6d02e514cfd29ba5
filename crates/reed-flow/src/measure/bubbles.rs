//! Where bubbles go: up and out, or into an intake.

use crate::field::Field;
use crate::measure::drifting::{Drifter, Met};
use crate::measure::muck::{book, drawing_at};
use crate::openings::{Drain, Movers};

/// How bubbles rise, by their size: terminal speeds after Clift, Grace & Weber 1978, from memory,
/// rounded.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Rise {
    /// A third of a millimetre, from air in a filter's stream: 3 cm/s.
    Micro,
    /// About a millimetre, from a good stone: 11 cm/s.
    Fine,
    /// Some millimetres, from a worn stone or an open tube: 23 cm/s.
    Coarse,
}

impl Rise {
    /// Speed at which they rise, m/s.
    pub const fn speed(self) -> f32 {
        match self {
            Self::Micro => 0.03,
            Self::Fine => 0.11,
            Self::Coarse => 0.23,
        }
    }
}

/// Longest that a bubble is followed, s.
const LONGEST: f32 = 120.0;
/// How far from its source a bubble begins, m.
const SOURCE: f32 = 0.03;

/// Share of the bubbles from these sources, m, that each intake takes in; so many are followed from
/// each source.
pub fn taken_in(
    field: &Field,
    sources: &[[f32; 3]],
    rise: Rise,
    drains: &[Drain],
    each: usize,
) -> Vec<f32> {
    let mut taken_in = vec![
        0.0;
        drains
            .iter()
            .map(|drain| drain.intake + 1)
            .max()
            .unwrap_or(0)
    ];
    let share = 1.0 / (sources.len() * each).max(1) as f32;
    for (index, source) in sources.iter().enumerate() {
        for bubble in 0..each {
            let mut taken = None;
            follow(
                field,
                (index * each + bubble) as u64,
                *source,
                rise,
                |place| {
                    taken = drawing_at(drains, place).next().map(|_| place);
                    taken.is_none()
                },
            );
            if let Some(place) = taken {
                book(&mut taken_in, drains, place, share);
            }
        }
    }
    taken_in
}

/// Follows one bubble up; `passed` is told every place and says whether it goes on.
pub(crate) fn follow(
    field: &Field,
    seed: u64,
    source: [f32; 3],
    rise: Rise,
    mut passed: impl FnMut([f32; 3]) -> bool,
) {
    let mut rng = fastrand::Rng::with_seed(seed ^ 0xB0B);
    let from = std::array::from_fn(|axis| source[axis] + SOURCE * (2.0 * rng.f32() - 1.0));
    let mut bubble = Drifter::new(field, seed, from, rise.speed());
    let mut seconds = 0.0;
    while seconds < LONGEST {
        let (met, dt) = bubble.step();
        seconds += dt;
        if !passed(bubble.at) || met == Met::Surface {
            return;
        }
    }
}

impl Movers {
    /// Where bubbles may come from: air stones, and outlets should their filter spit air.
    pub fn bubble_sources(&self) -> Vec<[f32; 3]> {
        let plumes = self.plumes.iter().map(|plume| plume.foot);
        plumes
            .chain(self.nozzles.iter().map(|nozzle| nozzle.at))
            .collect()
    }
}
