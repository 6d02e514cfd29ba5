//! Exact belief over sets of faults: two-layer noisy-OR, up to so many faults at once, everything
//! enumerated.
//!
//! A hypothesis is a set of faults together with one of a few *doubts* (how far the twin's figures
//! may be off), so that readings which depend on both are weighed jointly. Only some faults are
//! coupled to the doubts; the weight of a hypothesis is the weight of its set times that of its
//! class of coupled faults under its doubt. Weights are plain probabilities, not logarithms: a case
//! has a few dozen pieces of evidence at most, and a product of that many likelihoods stays far
//! above the smallest double.

mod hypotheses;

use std::sync::Arc;

pub use hypotheses::{FaultSet, Hypotheses};

/// A finding that any of its linked faults can bring about, each on its own.
#[derive(Clone, Debug)]
pub struct NoisyOr {
    /// Chance that it shows with none of them.
    pub leak: f64,
    /// Fault and the chance that it brings the finding about.
    pub links: Vec<(usize, f64)>,
}

impl NoisyOr {
    /// Chance that it shows: `1 − (1 − leak) · Π (1 − s)` over the faults present.
    pub fn chance(&self, set: FaultSet) -> f64 {
        let absent: f64 = self
            .links
            .iter()
            .filter(|(fault, _)| set.has(*fault))
            .map(|(_, strength)| 1.0 - strength)
            .product();
        1.0 - (1.0 - self.leak) * absent
    }
}

impl NoisyOr {
    /// Chance that it shows under each set.
    pub fn chances(&self, hypotheses: &Hypotheses) -> Vec<f64> {
        let mut chances = hypotheses.products(&self.absent(hypotheses.faults()));
        chances
            .iter_mut()
            .for_each(|chance| *chance = 1.0 - (1.0 - self.leak) * *chance);
        chances
    }

    /// For each fault the chance that it does not bring the finding about.
    pub fn absent(&self, faults: usize) -> Vec<f64> {
        let mut absent = vec![1.0; faults];
        for (fault, strength) in &self.links {
            absent[*fault] *= 1.0 - strength;
        }
        absent
    }
}

/// Likelihood of a piece of evidence under each hypothesis.
#[derive(Clone, Debug)]
pub enum Likelihoods {
    /// It depends on the faults alone: one per set.
    PerSet(Vec<f64>),
    /// It is a factor for healthy, times one for each fault that is present, whatever else is.
    PerFault(f64, Vec<f64>),
    /// A noisy-OR answered with some sureness, times a factor for each fault that is present.
    /// Affine in the product over the faults present, so that nothing has to be kept for each set.
    Noisy {
        /// How sure the yes is.
        sureness: f64,
        /// Chance that it shows with no fault.
        leak: f64,
        /// For each fault the chance that it does not bring it about.
        absent: Vec<f64>,
        /// Further factors by fault.
        factors: Vec<f64>,
        /// Under which faults it says nothing of the others.
        unless: Unless,
    },
    /// It depends on coupled faults and the doubt: one per class and doubt, class-major.
    PerClass(Vec<f64>),
}

impl Likelihoods {
    /// The same for these sets only.
    pub(super) fn restricted(&self, kept: &[usize]) -> Self {
        match self {
            Self::PerSet(of_sets) => Self::PerSet(kept.iter().map(|set| of_sets[*set]).collect()),
            other => other.clone(),
        }
    }
}

/// Faults under which an answer says nothing of the others: what it was read from is off.
#[derive(Clone, Copy, Debug)]
pub struct Unless {
    /// Any of these.
    pub faults: FaultSet,
    /// How likely the answer is then.
    pub likelihood: f64,
}

impl Unless {
    /// It always says something.
    pub const NEVER: Self = Self {
        faults: FaultSet::NONE,
        likelihood: TOSS_UP,
    };
}

impl Likelihoods {
    /// By fault, how much likelier the evidence is with it alone than with none, all doubts alike.
    pub(super) fn alone_against_none(&self, hypotheses: &Hypotheses) -> Vec<f64> {
        // Sets are listed by size: the empty one, then each fault alone.
        let alone = 1..=hypotheses.faults();
        match self {
            Self::PerSet(of_sets) => alone.map(|set| of_sets[set] / of_sets[0]).collect(),
            Self::PerFault(_, of_faults) => of_faults.clone(),
            Self::Noisy {
                sureness,
                leak,
                absent,
                factors,
                unless,
            } => {
                let of = |absent: f64| likelihood(1.0 - (1.0 - leak) * absent, *sureness);
                let with = |fault: usize| {
                    if unless.faults.has(fault) {
                        unless.likelihood
                    } else {
                        of(absent[fault])
                    }
                };
                (0..hypotheses.faults())
                    .map(|fault| with(fault) * factors[fault] / of(1.0))
                    .collect()
            }
            Self::PerClass(of_classes) => {
                let doubts = of_classes.len() / hypotheses.classes().len();
                let of = |set: usize| {
                    of_classes[hypotheses.class_of(set) * doubts..][..doubts]
                        .iter()
                        .sum::<f64>()
                };
                alone.map(|set| of(set) / of(0)).collect()
            }
        }
    }
}

/// Likelihood of an answer that says nothing. By definition.
pub const TOSS_UP: f64 = 0.5;

/// How sure an answer is: `1.0` a yes, `0.0` a no, between them a leaning.
pub fn likelihood(chance: f64, sureness: f64) -> f64 {
    sureness * chance + (1.0 - sureness) * (1.0 - chance)
}

/// Belief over fault sets × doubts.
#[derive(Clone, Debug)]
pub struct Belief {
    hypotheses: Arc<Hypotheses>,
    doubts: usize,
    /// Weight of each set by all that does not depend on the doubts.
    of_set: Vec<f64>,
    /// Weight of each class and doubt, class-major: `of_class[class · doubts + doubt]`.
    of_class: Vec<f64>,
}

impl Belief {
    /// The belief before any evidence.
    ///
    /// `priors` are the faults' chances, independent of each other; `doubts` the chances of each
    /// doubt, which sum to one. With sets capped below the number of faults the weights are brought
    /// back to a sum of one.
    pub fn before(priors: &[f64], hypotheses: Arc<Hypotheses>, doubts: &[f64]) -> Self {
        let odds: Vec<f64> = priors.iter().map(|prior| prior / (1.0 - prior)).collect();
        let mut of_set = hypotheses.products(&odds);
        let total: f64 = of_set.iter().sum();
        of_set.iter_mut().for_each(|weight| *weight /= total);
        let of_class = hypotheses
            .classes()
            .iter()
            .flat_map(|_| doubts)
            .copied()
            .collect();
        Self {
            hypotheses,
            doubts: doubts.len(),
            of_set,
            of_class,
        }
    }

    /// What there is to believe in.
    pub fn hypotheses(&self) -> &Hypotheses {
        &self.hypotheses
    }

    /// Weighs in a piece of evidence.
    pub fn weigh(&mut self, likelihoods: &Likelihoods) {
        match likelihoods {
            Likelihoods::PerSet(of_sets) => self
                .of_set
                .iter_mut()
                .zip(of_sets)
                .for_each(|(weight, likelihood)| *weight *= likelihood),
            Likelihoods::PerFault(healthy, of_faults) => {
                self.hypotheses
                    .scale(&mut self.of_set, of_faults, |factor| healthy * factor);
            }
            Likelihoods::Noisy {
                sureness,
                leak,
                absent,
                factors,
                unless,
            } => {
                self.weigh_noisy(*sureness, *leak, absent, *unless);
                self.hypotheses
                    .scale(&mut self.of_set, factors, |factor| factor);
            }
            Likelihoods::PerClass(of_classes) => {
                self.of_class
                    .iter_mut()
                    .zip(of_classes)
                    .for_each(|(weight, likelihood)| *weight *= likelihood);
            }
        }
    }

    /// Makes the sets that hold any of these faults so many times likelier.
    pub(super) fn scale(&mut self, faults: FaultSet, by: impl Fn(FaultSet) -> f64) {
        let (sets, of_set) = (self.hypotheses.sets(), &mut self.of_set);
        self.hypotheses
            .each_holding(faults, |set| of_set[set] *= by(sets[set]));
    }

    /// Takes a piece of evidence that was weighed in back out.
    pub(super) fn take_out(&mut self, likelihoods: &Likelihoods) {
        let inverse = |values: &[f64]| values.iter().map(|value| 1.0 / value).collect();
        match likelihoods {
            Likelihoods::PerSet(of_sets) => self.weigh(&Likelihoods::PerSet(inverse(of_sets))),
            Likelihoods::PerFault(healthy, of_faults) => {
                self.weigh(&Likelihoods::PerFault(1.0 / healthy, inverse(of_faults)));
            }
            Likelihoods::PerClass(of_classes) => {
                self.weigh(&Likelihoods::PerClass(inverse(of_classes)));
            }
            noisy @ Likelihoods::Noisy { .. } => {
                let mut of_sets = vec![1.0; self.of_set.len()];
                std::mem::swap(&mut self.of_set, &mut of_sets);
                self.weigh(noisy);
                self.of_set
                    .iter_mut()
                    .zip(of_sets)
                    .for_each(|(likelihood, weight)| *likelihood = weight / *likelihood);
            }
        }
    }

    /// `sureness · (1 − q) + (1 − sureness) · q`, where q is the chance that the finding does not
    /// show.
    fn weigh_noisy(&mut self, sureness: f64, leak: f64, absent: &[f64], unless: Unless) {
        let slope = (1.0 - 2.0 * sureness) * (1.0 - leak);
        let mut spared: Vec<(usize, f64)> = Vec::new();
        if unless.faults != FaultSet::NONE {
            self.hypotheses
                .each_holding(unless.faults, |set| spared.push((set, self.of_set[set])));
        }
        self.hypotheses
            .scale(&mut self.of_set, absent, |absent| sureness + slope * absent);
        for (index, weight) in spared {
            self.of_set[index] = weight * unless.likelihood;
        }
    }

    /// Weighs in several pieces at once: what is a factor for each fault goes through the sets only
    /// once.
    pub fn weigh_all<'a>(&mut self, pieces: impl Iterator<Item = &'a Likelihoods>) {
        let (mut healthy, mut of_faults) = (1.0, vec![1.0; self.hypotheses.faults()]);
        let mut times = |factors: &[f64]| {
            of_faults
                .iter_mut()
                .zip(factors)
                .for_each(|(product, factor)| *product *= factor);
        };
        for piece in pieces {
            match piece {
                Likelihoods::PerFault(of_healthy, factors) => {
                    healthy *= of_healthy;
                    times(factors);
                }
                Likelihoods::Noisy {
                    sureness,
                    leak,
                    absent,
                    factors,
                    unless,
                } => {
                    times(factors);
                    self.weigh_noisy(*sureness, *leak, absent, *unless);
                }
                other => self.weigh(other),
            }
        }
        self.weigh(&Likelihoods::PerFault(healthy, of_faults));
    }

    /// Weight of each set, all doubts together, up to the common factor [`Belief::evidence`].
    fn weights(&self) -> impl Iterator<Item = f64> {
        let of_class: Vec<f64> = self
            .of_class
            .chunks_exact(self.doubts)
            .map(|doubts| doubts.iter().sum())
            .collect();
        self.of_set
            .iter()
            .enumerate()
            .map(move |(set, weight)| weight * of_class[self.hypotheses.class_of(set)])
    }

    /// Probability of the evidence weighed in so far.
    pub fn evidence(&self) -> f64 {
        self.weights().sum()
    }

    /// Weight of each class and doubt, class-major, up to the common factor [`Belief::evidence`].
    pub fn of_classes(&self) -> Vec<f64> {
        let mut sets = vec![0.0; self.hypotheses.classes().len()];
        for (set, weight) in self.of_set.iter().enumerate() {
            sets[self.hypotheses.class_of(set)] += weight;
        }
        self.of_class
            .chunks_exact(self.doubts)
            .zip(sets)
            .flat_map(|(doubts, sets)| doubts.iter().map(move |doubt| doubt * sets))
            .collect()
    }

    /// Probability of each set given the evidence; `None` if the evidence is impossible under every
    /// set.
    pub fn of_sets(&self) -> Option<Vec<f64>> {
        let total = self.evidence();
        (total > 0.0).then(|| self.weights().map(|weight| weight / total).collect())
    }

    /// Probability of each fault given the evidence; `None` if the evidence is impossible.
    pub fn of_faults(&self) -> Option<Vec<f64>> {
        Some(self.hypotheses.sums(&self.of_sets()?))
    }

    /// Uncertainty about the set of faults that is left, in bits; `None` if the evidence is
    /// impossible.
    pub fn entropy_bits(&self) -> Option<f64> {
        Some(
            -self
                .of_sets()?
                .into_iter()
                .filter(|p| *p > 0.0)
                .map(|p| p * p.log2())
                .sum::<f64>(),
        )
    }

    /// The same belief about these sets only, brought back to a sum of one.
    pub(super) fn restricted(&self, kept: &[usize]) -> Self {
        let mut restricted = Self {
            hypotheses: Arc::new(self.hypotheses.restricted(kept)),
            doubts: self.doubts,
            of_set: kept.iter().map(|set| self.of_set[*set]).collect(),
            of_class: self.of_class.clone(),
        };
        let total = restricted.evidence();
        restricted
            .of_set
            .iter_mut()
            .for_each(|weight| *weight /= total);
        restricted
    }

    /// Chances of the answers to a question under each set, averaged over the doubts as they are
    /// believed in.
    ///
    /// `chances(class, doubt)` must not depend on faults that are not coupled.
    pub fn over_doubts<const ANSWERS: usize>(
        &self,
        chances: impl Fn(usize, usize) -> [f64; ANSWERS],
    ) -> Vec<[f64; ANSWERS]> {
        let of_classes: Vec<[f64; ANSWERS]> = self
            .of_class
            .chunks_exact(self.doubts)
            .enumerate()
            .map(|(class, weights)| {
                let total: f64 = weights.iter().sum();
                let mut average = [0.0; ANSWERS];
                for (doubt, weight) in weights.iter().enumerate().filter(|_| total > 0.0) {
                    for (sum, chance) in average.iter_mut().zip(chances(class, doubt)) {
                        *sum += weight / total * chance;
                    }
                }
                average
            })
            .collect();
        (0..self.of_set.len())
            .map(|set| of_classes[self.hypotheses.class_of(set)])
            .collect()
    }
}

/// What a question would tell about the set of faults, in bits: the mutual information of its
/// answer and the set.
///
/// `of_sets` is the probability of each set, `chances[answer]` the chance of an answer under each.
pub fn information_bits(of_sets: &[f64], chances: &[Vec<f64>]) -> f64 {
    let of_answer = |under: &Vec<f64>| {
        // Most questions concern a few faults: under all sets without them the answer has the
        // chance it has with none, and logarithms are what all this costs.
        let with_none = under.first().copied().unwrap_or(0.0);
        let surprise_with_none = surprise(with_none);
        let (mut chance, mut once_known) = (0.0, 0.0);
        for (of_set, under) in of_sets.iter().zip(under) {
            chance += of_set * under;
            once_known += of_set
                * if under.to_bits() == with_none.to_bits() {
                    surprise_with_none
                } else {
                    surprise(*under)
                };
        }
        surprise(chance) - once_known
    };
    chances.iter().map(of_answer).sum::<f64>().max(0.0)
}

/// `−p · log2 p`, zero at zero.
pub(super) fn surprise(p: f64) -> f64 {
    if p > 0.0 { -p * p.log2() } else { 0.0 }
}

#[cfg(test)]
mod tests {
    use super::{
        Arc, Belief, FaultSet, Hypotheses, Likelihoods, NoisyOr, information_bits, likelihood,
    };
    use proptest::prelude::{prop_assert, proptest};

    proptest! {
        #[test]
        fn a_question_never_tells_less_than_nothing_nor_more_than_is_unknown(
            priors in proptest::collection::vec(0.01..0.9_f64, 5), leak in 0.0..1.0_f64, strength in 0.0..1.0_f64,
        ) {
            let belief = Belief::before(&priors, Arc::new(Hypotheses::new(5, 5, FaultSet::NONE)), &[1.0]);
            let node = NoisyOr { leak, links: vec![(0, strength), (3, 0.5)] };
            let yes: Vec<f64> = belief.hypotheses().sets().iter().map(|set| node.chance(*set)).collect();
            let no = yes.iter().map(|chance| 1.0 - chance).collect();
            let bits = information_bits(&belief.of_sets().expect("possible"), &[yes, no]);
            prop_assert!(bits >= 0.0 && bits <= belief.entropy_bits().expect("possible") + 1e-9 && bits <= 1.0 + 1e-9);
        }

        #[test]
        fn the_order_of_evidence_does_not_matter(a in 0.05..0.95_f64, b in 0.05..0.95_f64) {
            let start = Belief::before(&[0.2, 0.1, 0.3], Arc::new(Hypotheses::new(3, 2, FaultSet::NONE)), &[0.5, 0.5]);
            let nodes = [(NoisyOr { leak: 0.1, links: vec![(0, a)] }, 1.0), (NoisyOr { leak: 0.2, links: vec![(1, b), (2, a)] }, 0.0)];
            let run = |order: [usize; 2]| {
                let mut belief = start.clone();
                for index in order {
                    let (node, sureness) = &nodes[index];
                    let of_sets = node.chances(start.hypotheses()).into_iter().map(|chance| likelihood(chance, *sureness));
                    belief.weigh(&Likelihoods::PerSet(of_sets.collect()));
                }
                belief.of_faults().expect("possible")
            };
            for (one, other) in run([0, 1]).iter().zip(run([1, 0])) {
                prop_assert!((one - other).abs() < 1e-12);
            }
        }
    }
}
