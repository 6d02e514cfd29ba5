//! Exact belief over sets of faults: two-layer noisy-OR, up to so many faults at once, everything enumerated.
//!
//! A hypothesis is a set of faults together with one of a few *doubts* (how far the twin's figures may be off), so that
//! readings which depend on both are weighed jointly. Weights are plain probabilities, not logarithms: a case has a few
//! dozen pieces of evidence at most, and a product of that many likelihoods stays far above the smallest double.

/// A set of up to 128 faults, as bits.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct FaultSet(u128);

impl FaultSet {
    /// No fault: healthy.
    pub const NONE: Self = Self(0);

    /// This set and one fault more.
    #[must_use]
    pub const fn with(self, fault: usize) -> Self {
        Self(self.0 | (1 << fault))
    }

    /// Whether the fault is in the set.
    pub const fn has(self, fault: usize) -> bool {
        self.0 >> fault & 1 == 1
    }

    /// Only those faults that are in the other set too.
    #[must_use]
    pub const fn only(self, other: Self) -> Self {
        Self(self.0 & other.0)
    }

    /// The faults in the set, lowest first.
    pub fn iter(self) -> impl Iterator<Item = usize> {
        let mut bits = self.0;
        std::iter::from_fn(move || {
            (bits != 0).then(|| {
                let fault = bits.trailing_zeros() as usize;
                bits &= bits - 1;
                fault
            })
        })
    }

    /// Every set of at most `most` of `faults` faults, the empty one first, small ones before large ones.
    pub fn up_to(faults: usize, most: usize) -> Vec<Self> {
        let mut sets = vec![Self::NONE];
        let mut last = vec![(Self::NONE, 0)];
        for _ in 0..most {
            last = last.into_iter().flat_map(|(set, from)| (from..faults).map(move |fault| (set.with(fault), fault + 1))).collect();
            sets.extend(last.iter().map(|(set, _)| *set));
        }
        sets
    }
}

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
        let absent: f64 = self.links.iter().filter(|(fault, _)| set.has(*fault)).map(|(_, strength)| 1.0 - strength).product();
        1.0 - (1.0 - self.leak) * absent
    }
}

/// Likelihood of a piece of evidence under each hypothesis.
#[derive(Clone, Debug)]
pub enum Likelihoods {
    /// It depends on the faults alone: one per set.
    PerSet(Vec<f64>),
    /// It depends on the doubt too: one per set and doubt, set-major.
    PerDoubt(Vec<f64>),
}

/// How sure an answer is: `1.0` a yes, `0.0` a no, between them a leaning.
pub fn likelihood(chance: f64, sureness: f64) -> f64 {
    sureness * chance + (1.0 - sureness) * (1.0 - chance)
}

/// Belief over fault sets × doubts.
#[derive(Clone, Debug)]
pub struct Belief {
    sets: Vec<FaultSet>,
    doubts: usize,
    /// Weight of each hypothesis, set-major: `weights[set · doubts + doubt]`. Sums to the probability of the evidence.
    weights: Vec<f64>,
}

impl Belief {
    /// The belief before any evidence.
    ///
    /// `priors` are the faults' chances, independent of each other; `doubts` the chances of each doubt. With sets capped
    /// below the number of faults the weights are brought back to a sum of one.
    pub fn before(priors: &[f64], sets: Vec<FaultSet>, doubts: &[f64]) -> Self {
        let absent: f64 = priors.iter().map(|prior| 1.0 - prior).product();
        let chance = |set: FaultSet| absent * set.iter().map(|fault| priors[fault] / (1.0 - priors[fault])).product::<f64>();
        let chances: Vec<f64> = sets.iter().map(|set| chance(*set)).collect();
        let total: f64 = chances.iter().sum();
        let weights = chances.iter().flat_map(|chance| doubts.iter().map(move |doubt| chance / total * doubt)).collect();
        Self { sets, doubts: doubts.len(), weights }
    }

    /// The sets, in the order of everything indexed by set.
    pub fn sets(&self) -> &[FaultSet] {
        &self.sets
    }

    /// Weighs in a piece of evidence.
    pub fn weigh(&mut self, likelihoods: &Likelihoods) {
        match likelihoods {
            Likelihoods::PerSet(of_sets) => {
                for (weights, likelihood) in self.weights.chunks_exact_mut(self.doubts).zip(of_sets) {
                    for weight in weights {
                        *weight *= likelihood;
                    }
                }
            }
            Likelihoods::PerDoubt(of_all) => {
                for (weight, likelihood) in self.weights.iter_mut().zip(of_all) {
                    *weight *= likelihood;
                }
            }
        }
    }

    /// Probability of the evidence weighed in so far.
    pub fn evidence(&self) -> f64 {
        self.weights.iter().sum()
    }

    /// Weight of each doubt under one set, up to the common factor [`Belief::evidence`].
    pub fn of_doubts(&self, set: usize) -> &[f64] {
        &self.weights[set * self.doubts..][..self.doubts]
    }

    /// Probability of each set given the evidence; `None` if the evidence is impossible under every set.
    pub fn of_sets(&self) -> Option<Vec<f64>> {
        let total = self.evidence();
        (total > 0.0).then(|| self.weights.chunks(self.doubts).map(|chunk| chunk.iter().sum::<f64>() / total).collect())
    }

    /// Probability of each fault given the evidence; `None` if the evidence is impossible.
    pub fn of_faults(&self, faults: usize) -> Option<Vec<f64>> {
        let of_sets = self.of_sets()?;
        let mut of_faults = vec![0.0; faults];
        for (set, probability) in self.sets.iter().zip(&of_sets) {
            for fault in set.iter() {
                of_faults[fault] += probability;
            }
        }
        Some(of_faults)
    }

    /// Uncertainty about the set of faults that is left, in bits; `None` if the evidence is impossible.
    pub fn entropy_bits(&self) -> Option<f64> {
        Some(-self.of_sets()?.into_iter().filter(|p| *p > 0.0).map(|p| p * p.log2()).sum::<f64>())
    }

    /// Chances of the answers to a question under each set, averaged over the doubts as they are believed in.
    ///
    /// Sets that `of_sets` gives no probability are passed over, as [`information_bits`] passes them over.
    pub fn over_doubts<const ANSWERS: usize>(
        &self,
        of_sets: &[f64],
        chances: impl Fn(usize, usize) -> [f64; ANSWERS],
    ) -> Vec<[f64; ANSWERS]> {
        let average = |(set, weights): (usize, &[f64])| {
            let of_set: f64 = weights.iter().sum();
            let mut average = [0.0; ANSWERS];
            if of_sets[set] <= 0.0 {
                return average;
            }
            for (doubt, weight) in weights.iter().enumerate() {
                for (sum, chance) in average.iter_mut().zip(chances(set, doubt)) {
                    *sum += weight / of_set * chance;
                }
            }
            average
        };
        self.weights.chunks(self.doubts).enumerate().map(average).collect()
    }
}

/// What a question would tell about the set of faults, in bits: the mutual information of its answer and the set.
///
/// `of_sets` is the probability of each set, `chances(set)` the chance of each answer under it.
pub fn information_bits<const ANSWERS: usize>(of_sets: &[f64], chances: impl Fn(usize) -> [f64; ANSWERS]) -> f64 {
    let mut of_answer = [0.0; ANSWERS];
    let mut unsure_once_known = 0.0;
    for (set, of_set) in of_sets.iter().enumerate().filter(|(_, of_set)| **of_set > 0.0) {
        for (sum, chance) in of_answer.iter_mut().zip(chances(set)) {
            *sum += of_set * chance;
            unsure_once_known += of_set * surprise(chance);
        }
    }
    (of_answer.into_iter().map(surprise).sum::<f64>() - unsure_once_known).max(0.0)
}

/// `−p · log2 p`, zero at zero.
fn surprise(p: f64) -> f64 {
    if p > 0.0 { -p * p.log2() } else { 0.0 }
}

#[cfg(test)]
mod tests {
    use super::{Belief, FaultSet, Likelihoods, NoisyOr, information_bits, likelihood};
    use proptest::prelude::{prop_assert, proptest};

    #[test]
    fn sets_are_counted_as_binomials_and_listed_once() {
        let sets = FaultSet::up_to(16, 3);
        assert_eq!(sets.len(), 1 + 16 + 120 + 560);
        assert_eq!(sets.iter().collect::<std::collections::HashSet<_>>().len(), sets.len());
        assert_eq!(FaultSet::up_to(3, 8).len(), 8, "no more than every subset");
    }

    proptest! {
        #[test]
        fn a_question_never_tells_less_than_nothing_nor_more_than_is_unknown(
            priors in proptest::collection::vec(0.01..0.9_f64, 5), leak in 0.0..1.0_f64, strength in 0.0..1.0_f64,
        ) {
            let belief = Belief::before(&priors, FaultSet::up_to(5, 5), &[1.0]);
            let node = NoisyOr { leak, links: vec![(0, strength), (3, 0.5)] };
            let bits = information_bits(&belief.of_sets().expect("possible"), |set| {
                let chance = node.chance(belief.sets()[set]);
                [chance, 1.0 - chance]
            });
            prop_assert!(bits >= 0.0 && bits <= belief.entropy_bits().expect("possible") + 1e-9 && bits <= 1.0 + 1e-9);
        }

        #[test]
        fn the_order_of_evidence_does_not_matter(a in 0.05..0.95_f64, b in 0.05..0.95_f64) {
            let start = Belief::before(&[0.2, 0.1, 0.3], FaultSet::up_to(3, 2), &[0.5, 0.5]);
            let nodes = [(NoisyOr { leak: 0.1, links: vec![(0, a)] }, 1.0), (NoisyOr { leak: 0.2, links: vec![(1, b), (2, a)] }, 0.0)];
            let run = |order: [usize; 2]| {
                let mut belief = start.clone();
                for index in order {
                    let (node, sureness) = &nodes[index];
                    let of_sets = start.sets().iter().map(|set| likelihood(node.chance(*set), *sureness));
                    belief.weigh(&Likelihoods::PerSet(of_sets.collect()));
                }
                belief.of_faults(3).expect("possible")
            };
            for (one, other) in run([0, 1]).iter().zip(run([1, 0])) {
                prop_assert!((one - other).abs() < 1e-12);
            }
        }
    }
}
