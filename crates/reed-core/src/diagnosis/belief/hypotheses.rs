//! What there is to believe in: every set of up to so many faults, and which of them the doubts treat alike.

use std::collections::HashMap;

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

/// Sets of faults, with the class of each: sets of one class hold the same *coupled* faults, those whose effect depends on
/// the doubts.
///
/// With the whole catalogue there are some 80,000 sets; but only a few hundred classes, so what depends on the doubts is
/// kept by class.
#[derive(Clone, Debug)]
pub struct Hypotheses {
    sets: Vec<FaultSet>,
    /// The faults of each set, `stride` of them, filled up with `faults`, the number of no fault.
    members: Vec<u8>,
    stride: usize,
    faults: usize,
    class_of: Vec<u32>,
    /// The coupled faults of each class.
    classes: Vec<FaultSet>,
}

impl Hypotheses {
    /// Every set of at most `most` of `faults` faults, with these coupled to the doubts.
    pub fn new(faults: usize, most: usize, coupled: FaultSet) -> Self {
        Self::of(FaultSet::up_to(faults, most), faults, coupled)
    }

    fn of(sets: Vec<FaultSet>, faults: usize, coupled: FaultSet) -> Self {
        let stride = sets.iter().map(|set| set.iter().count()).max().unwrap_or(0).max(1);
        let none = u8::try_from(faults).expect("a set holds at most 128 faults");
        let mut members = vec![none; sets.len() * stride];
        let (mut classes, mut known) = (Vec::new(), HashMap::new());
        let mut class_of = Vec::with_capacity(sets.len());
        for (set, places) in sets.iter().zip(members.chunks_exact_mut(stride)) {
            for (place, fault) in places.iter_mut().zip(set.iter()) {
                *place = u8::try_from(fault).expect("a set holds at most 128 faults");
            }
            let class = set.only(coupled);
            class_of.push(*known.entry(class).or_insert_with(|| {
                classes.push(class);
                u32::try_from(classes.len() - 1).expect("no more classes than sets")
            }));
        }
        Self { sets, members, stride, faults, class_of, classes }
    }

    /// The sets, in the order of everything indexed by set.
    pub fn sets(&self) -> &[FaultSet] {
        &self.sets
    }

    /// How many faults there are.
    pub const fn faults(&self) -> usize {
        self.faults
    }

    /// The coupled faults of each class, in the order of everything indexed by class.
    pub fn classes(&self) -> &[FaultSet] {
        &self.classes
    }

    /// Class of a set.
    pub fn class_of(&self, set: usize) -> usize {
        self.class_of[set] as usize
    }

    /// For each set the product of its faults' factors, given by fault.
    pub fn products(&self, of_fault: &[f64]) -> Vec<f64> {
        // As long as the numbers that fit a member: nothing has to be checked in the innermost loop of all.
        let mut factors = [1.0; 256];
        factors[..of_fault.len()].copy_from_slice(of_fault);
        let factor = |fault: u8| factors[usize::from(fault)];
        if self.stride == 3 {
            let (sets, _) = self.members.as_chunks::<3>();
            return sets.iter().map(|[a, b, c]| factor(*a) * factor(*b) * factor(*c)).collect();
        }
        self.members.chunks_exact(self.stride).map(|members| members.iter().map(|fault| factor(*fault)).product()).collect()
    }

    /// Adds what each set has to each of its faults.
    pub(super) fn sums(&self, of_set: impl Iterator<Item = f64>) -> Vec<f64> {
        let mut of_fault = [0.0; 256];
        for (members, value) in self.members.chunks_exact(self.stride).zip(of_set) {
            for fault in members {
                of_fault[usize::from(*fault)] += value;
            }
        }
        of_fault[..self.faults].to_vec()
    }

    /// Only these sets; the classes stay, so that what is kept by class holds on.
    pub(super) fn restricted(&self, kept: &[usize]) -> Self {
        let members = kept.iter().flat_map(|set| &self.members[set * self.stride..][..self.stride]).copied().collect();
        Self {
            sets: kept.iter().map(|set| self.sets[*set]).collect(),
            members,
            class_of: kept.iter().map(|set| self.class_of[*set]).collect(),
            classes: self.classes.clone(),
            ..*self
        }
    }
}

#[cfg(test)]
mod tests {
    use super::{FaultSet, Hypotheses};

    #[test]
    fn sets_are_counted_as_binomials_and_listed_once() {
        let sets = FaultSet::up_to(16, 3);
        assert_eq!(sets.len(), 1 + 16 + 120 + 560);
        assert_eq!(sets.iter().collect::<std::collections::HashSet<_>>().len(), sets.len());
        assert_eq!(FaultSet::up_to(3, 8).len(), 8, "no more than every subset");
    }

    #[test]
    fn sets_of_one_class_hold_the_same_coupled_faults() {
        let coupled = FaultSet::NONE.with(1).with(4);
        let hypotheses = Hypotheses::new(9, 3, coupled);
        assert_eq!(hypotheses.classes().len(), 4, "neither, either, both");
        for (index, set) in hypotheses.sets().iter().enumerate() {
            assert_eq!(set.only(coupled), hypotheses.classes()[hypotheses.class_of(index)]);
        }
        let product = hypotheses.products(&(0..9).map(|fault| f64::from(fault) + 1.0).collect::<Vec<_>>());
        for (set, product) in hypotheses.sets().iter().zip(product) {
            let by_hand: f64 = set.iter().map(|fault| fault as f64 + 1.0).product();
            assert!((product - by_hand).abs() < 1e-9);
        }
    }
}
