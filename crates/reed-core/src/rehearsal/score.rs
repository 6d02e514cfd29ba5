//! What came out of the rehearsed cases, in numbers.

use crate::diagnosis::Differential;
use crate::diagnosis::world::World;

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

/// Edges of the bins of the reliability curve.
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
    /// Share of cases whose first suspect was guilty: when opened, and when acting was due. That nothing is wrong counts as a
    /// suspect.
    pub top_1: [f64; 2],
    /// Share of cases with a guilty one among the first three, likewise.
    pub top_3: [f64; 2],
    /// Mean squared error of the probability of every suspect when acting was due.
    pub brier: f64,
    /// The same for a program that knew only how often each is guilty over all cases.
    pub brier_of_base_rate: f64,
    /// How true its probabilities were, of every suspect when the case was opened and when acting was due.
    pub reliability: [Vec<Bin>; 2],
    /// Mean difference between stated and true, weighted by statements, when acting was due.
    pub calibration_error: f64,
    /// Checks and minutes until acting was due, means.
    pub until_acting: [f64; 2],
    /// By order: mean number of checks and minutes until something was certain, a case that never came so far counts with all
    /// its checks; and the share of cases that came so far.
    pub until_certain: Vec<(Order, [f64; 3])>,
}

/// Sums over cases.
#[derive(Clone, Debug, Default)]
pub(super) struct Tally {
    first: [usize; 2],
    among_three: [usize; 2],
    cases: [usize; 2],
    /// By moment and bin: statements, sum of stated probabilities, how many came true.
    bins: [[(usize, f64, usize); BINS]; 2],
    squares: f64,
    statements: usize,
    guilty: usize,
    until_acting: [f64; 2],
    /// By order: cases, checks, minutes, how many became certain.
    certain: [[f64; 4]; 3],
}

impl Tally {
    pub(super) fn opened(&mut self, differential: &Differential, world: &World<'_>) {
        self.judge(0, differential, world);
    }

    pub(super) fn acted(&mut self, differential: &Differential, world: &World<'_>, checks: usize, minutes: f64) {
        self.judge(1, differential, world);
        self.until_acting[0] += checks as f64;
        self.until_acting[1] += minutes;
        for suspect in &differential.suspects {
            let guilty = world.holds(suspect);
            self.squares += (suspect.probability - f64::from(u8::from(guilty))).powi(2);
            self.statements += 1;
            self.guilty += usize::from(guilty);
        }
    }

    fn judge(&mut self, moment: usize, differential: &Differential, world: &World<'_>) {
        self.cases[moment] += 1;
        let mut ranked: Vec<(f64, bool)> =
            differential.suspects.iter().map(|suspect| (suspect.probability, world.holds(suspect))).collect();
        ranked.push((differential.healthy, world.is_healthy()));
        for (stated, guilty) in &ranked {
            let bin = EDGES[1..BINS].iter().filter(|edge| *stated >= **edge).count();
            let (statements, sum, true_ones) = &mut self.bins[moment][bin];
            *statements += 1;
            *sum += stated;
            *true_ones += usize::from(*guilty);
        }
        ranked.sort_by(|a, b| b.0.total_cmp(&a.0));
        self.first[moment] += usize::from(ranked[0].1);
        self.among_three[moment] += usize::from(ranked.iter().take(3).any(|(_, guilty)| *guilty));
    }

    pub(super) fn ended(&mut self, order: Order, checks: usize, minutes: f64, certain: bool) {
        let sums = &mut self.certain[order as usize];
        for (sum, more) in sums.iter_mut().zip([1.0, checks as f64, minutes, f64::from(u8::from(certain))]) {
            *sum += more;
        }
    }

    pub(super) fn and(mut self, other: Self) -> Self {
        for moment in 0..2 {
            self.first[moment] += other.first[moment];
            self.among_three[moment] += other.among_three[moment];
            self.cases[moment] += other.cases[moment];
            self.until_acting[moment] += other.until_acting[moment];
            for (bin, more) in self.bins[moment].iter_mut().zip(other.bins[moment]) {
                *bin = (bin.0 + more.0, bin.1 + more.1, bin.2 + more.2);
            }
        }
        self.squares += other.squares;
        self.statements += other.statements;
        self.guilty += other.guilty;
        for (sums, more) in self.certain.iter_mut().flatten().zip(other.certain.into_iter().flatten()) {
            *sums += more;
        }
        self
    }

    pub(super) fn score(&self) -> Score {
        let share = |counts: [usize; 2]| [0, 1].map(|moment| counts[moment] as f64 / self.cases[moment].max(1) as f64);
        let reliability = self.bins.map(|bins| {
            let filled = bins.iter().enumerate().filter(|(_, (statements, ..))| *statements > 0);
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
        let certain = |order: Order| {
            let [cases, checks, minutes, became] = self.certain[order as usize];
            let cases = cases.max(1.0);
            (order, [checks / cases, minutes / cases, became / cases])
        };
        Score {
            cases: self.cases[0],
            top_1: share(self.first),
            top_3: share(self.among_three),
            brier: self.squares / self.statements.max(1) as f64,
            brier_of_base_rate: base_rate * (1.0 - base_rate),
            calibration_error: reliability[1].iter().map(off).sum(),
            reliability,
            until_acting: self.until_acting.map(|sum| sum / self.cases[1].max(1) as f64),
            until_certain: Order::ALL.map(certain).to_vec(),
        }
    }
}
