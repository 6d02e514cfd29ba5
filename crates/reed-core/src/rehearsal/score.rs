//! What came out of the rehearsed cases, in numbers.

use crate::diagnosis::Differential;
use crate::diagnosis::world::World;
use crate::remedy::Offer;

/// In which order checks are done.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Order {
    /// As the program proposes them.
    Own,
    /// As they stand in the catalogue, but for those that would tell nothing.
    Fixed,
    /// At random, but for those that would tell nothing.
    Random,
}

impl Order {
    /// All of them.
    pub const ALL: [Self; 3] = [Self::Own, Self::Fixed, Self::Random];
}

/// A case is judged so often: when it is opened, when acting is due, when nothing more can be
/// asked.
const MOMENTS: usize = 3;

/// Edges of the bins of the reliability curve. A judgement.
const EDGES: [f64; 9] = [0.0, 0.02, 0.05, 0.1, 0.2, 0.4, 0.6, 0.8, 1.0];
const BINS: usize = EDGES.len() - 1;

/// Statements of about the same probability, and how many of them were true.
#[derive(Clone, Copy, Debug)]
pub struct Bin {
    /// Lower and upper edge of the stated probability.
    pub edges: [f64; 2],
    /// How many statements.
    pub statements: usize,
    /// Mean of the stated probabilities.
    pub stated: f64,
    /// Share that was true.
    pub came_true: f64,
}

/// What came out.
#[derive(Clone, Debug)]
pub struct Score {
    /// Cases played.
    pub cases: usize,
    /// Share of cases whose first suspect was guilty: when opened, and when acting was due. That
    /// nothing is wrong counts as a suspect.
    pub top_1: [f64; MOMENTS],
    /// Share of cases with a guilty one among the first three, likewise.
    pub top_3: [f64; MOMENTS],
    /// Mean squared error of the probability of every suspect when acting was due.
    pub brier: f64,
    /// The same for a program that knew only how often each is guilty over all cases.
    pub brier_of_base_rate: f64,
    /// How true its probabilities were, of every suspect when the case was opened and when acting
    /// was due.
    pub reliability: [Vec<Bin>; MOMENTS],
    /// Mean difference between stated and true, weighted by statements, when acting was due.
    pub calibration_error: f64,
    /// Share of cases whose foremost change, when acting was due, met a fault that was there; where
    /// nothing was wrong, and the program said so, there was nothing to meet.
    pub right_change: f64,
    /// Rounds (a check, or some glances on one walk), checks and minutes until acting was due,
    /// means.
    pub until_acting: [f64; 3],
    /// By order, how soon something was certain.
    pub until_certain: Vec<Race>,
}

/// What was spent on checks.
#[derive(Clone, Copy, Debug, Default)]
pub struct Spent {
    /// How often the keeper went to the tank: for a check, or for some glances at once.
    pub rounds: usize,
    /// How many checks.
    pub checks: usize,
    /// Minutes of effort.
    pub minutes: f64,
}

/// An order of checks against the program's own, over the cases in which both came to be certain.
#[derive(Clone, Copy, Debug)]
pub struct Race {
    /// In which order.
    pub order: Order,
    /// Share of all cases that became certain in this order.
    pub certain: f64,
    /// Mean checks and minutes: in this order, and in the program's own.
    pub spent: [[f64; 2]; 2],
}

/// Sums over cases.
#[derive(Clone, Debug, Default)]
pub(super) struct Tally {
    first: [usize; MOMENTS],
    among_three: [usize; MOMENTS],
    cases: [usize; MOMENTS],
    /// By moment and bin: statements, sum of stated probabilities, how many came true.
    bins: [[(usize, f64, usize); BINS]; MOMENTS],
    squares: f64,
    statements: usize,
    guilty: usize,
    until_acting: [f64; 3],
    right_change: usize,
    /// By case and order.
    certain: Vec<[Option<Spent>; 3]>,
}

impl Tally {
    pub(super) fn opened(&mut self, differential: &Differential, world: &World<'_>) {
        self.judge(0, differential, world);
    }

    pub(super) fn all_told(&mut self, differential: &Differential, world: &World<'_>) {
        self.judge(2, differential, world);
    }

    pub(super) fn acted(
        &mut self,
        differential: &Differential,
        world: &World<'_>,
        foremost: Option<&Offer>,
        spent: Spent,
    ) {
        self.judge(1, differential, world);
        let these = [spent.rounds as f64, spent.checks as f64, spent.minutes];
        self.until_acting
            .iter_mut()
            .zip(these)
            .for_each(|(sum, more)| *sum += more);
        let leave = differential.is_sound();
        let meets = |offer: &Offer| {
            offer
                .change
                .cures
                .iter()
                .chain(offer.change.eases)
                .any(|fault| world.has(fault))
        };
        self.right_change += usize::from(if leave {
            world.is_healthy()
        } else {
            foremost.is_some_and(meets)
        });
        for suspect in &differential.suspects {
            let guilty = world.holds(suspect);
            self.squares += (suspect.probability - f64::from(u8::from(guilty))).powi(2);
            self.statements += 1;
            self.guilty += usize::from(guilty);
        }
    }

    fn judge(&mut self, moment: usize, differential: &Differential, world: &World<'_>) {
        self.cases[moment] += 1;
        let mut ranked: Vec<(f64, bool)> = differential
            .suspects
            .iter()
            .map(|suspect| (suspect.probability, world.holds(suspect)))
            .collect();
        ranked.push((differential.healthy, world.is_healthy()));
        for (stated, guilty) in &ranked {
            let bin = EDGES[1..BINS]
                .iter()
                .filter(|edge| *stated >= **edge)
                .count();
            let (statements, sum, true_ones) = &mut self.bins[moment][bin];
            *statements += 1;
            *sum += stated;
            *true_ones += usize::from(*guilty);
        }
        // Who is first is asked of the tank, among those that are named as suspects; a reading that
        // is off and misleads nobody is no finding.
        let in_the_tank = differential
            .of_this_case()
            .filter(|suspect| suspect.about.is_none());
        ranked = in_the_tank
            .map(|suspect| (suspect.probability, world.holds(suspect)))
            .collect();
        ranked.push((differential.healthy, world.is_healthy()));
        ranked.sort_by(|a, b| b.0.total_cmp(&a.0));
        self.first[moment] += usize::from(ranked[0].1);
        self.among_three[moment] += usize::from(ranked.iter().take(3).any(|(_, guilty)| *guilty));
    }

    pub(super) fn ended(&mut self, certain: [Option<Spent>; 3]) {
        self.certain.push(certain);
    }

    pub(super) fn and(mut self, other: Self) -> Self {
        for moment in 0..MOMENTS {
            self.first[moment] += other.first[moment];
            self.among_three[moment] += other.among_three[moment];
            self.cases[moment] += other.cases[moment];
            for (bin, more) in self.bins[moment].iter_mut().zip(other.bins[moment]) {
                *bin = (bin.0 + more.0, bin.1 + more.1, bin.2 + more.2);
            }
        }
        self.until_acting = [0, 1, 2].map(|sum| self.until_acting[sum] + other.until_acting[sum]);
        self.squares += other.squares;
        self.statements += other.statements;
        self.guilty += other.guilty;
        self.right_change += other.right_change;
        self.certain.extend(other.certain);
        self
    }

    pub(super) fn score(&self) -> Score {
        let share = |counts: [usize; MOMENTS]| {
            std::array::from_fn(|moment| counts[moment] as f64 / self.cases[moment].max(1) as f64)
        };
        let reliability = self.bins.map(|bins| {
            let filled = bins
                .iter()
                .enumerate()
                .filter(|(_, (statements, ..))| *statements > 0);
            filled
                .map(|(bin, (statements, sum, true_ones))| Bin {
                    edges: [EDGES[bin], EDGES[bin + 1]],
                    statements: *statements,
                    stated: sum / *statements as f64,
                    came_true: *true_ones as f64 / *statements as f64,
                })
                .collect::<Vec<_>>()
        });
        let of_all: f64 = reliability[1].iter().map(|bin| bin.statements as f64).sum();
        let off = |bin: &Bin| (bin.stated - bin.came_true).abs() * bin.statements as f64 / of_all;
        let base_rate = self.guilty as f64 / self.statements.max(1) as f64;
        let race = |order: Order| {
            let both = self.certain.iter().filter_map(|of_case| {
                Some([of_case[order as usize]?, of_case[Order::Own as usize]?])
            });
            let both: Vec<[Spent; 2]> = both.collect();
            let mean = |which: usize| {
                let each = both.iter().map(|spent| spent[which]);
                let sum = each.fold([0.0, 0.0], |sum, spent| {
                    [sum[0] + spent.checks as f64, sum[1] + spent.minutes]
                });
                sum.map(|sum| sum / both.len().max(1) as f64)
            };
            let became = self
                .certain
                .iter()
                .filter(|of_case| of_case[order as usize].is_some())
                .count();
            Race {
                order,
                certain: became as f64 / self.certain.len().max(1) as f64,
                spent: [mean(0), mean(1)],
            }
        };
        Score {
            cases: self.cases[0],
            top_1: share(self.first),
            top_3: share(self.among_three),
            brier: self.squares / self.statements.max(1) as f64,
            brier_of_base_rate: base_rate * (1.0 - base_rate),
            calibration_error: reliability[1].iter().map(off).sum(),
            reliability,
            until_acting: self
                .until_acting
                .map(|sum| sum / self.cases[1].max(1) as f64),
            until_certain: Order::ALL.map(race).to_vec(),
            right_change: self.right_change as f64 / self.cases[1].max(1) as f64,
        }
    }
}
