//! What there is to believe in: every set of up to so many faults, and which of them the doubts treat alike.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

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
        // Neighbours in the list mostly differ in a fault that is not coupled: the last class is remembered.
        let mut last = None;
        for (set, places) in sets.iter().zip(members.chunks_exact_mut(stride)) {
            for (place, fault) in places.iter_mut().zip(set.iter()) {
                *place = u8::try_from(fault).expect("a set holds at most 128 faults");
            }
            let class = set.only(coupled);
            let place = match last {
                Some((same, place)) if same == class => place,
                _ => *known.entry(class).or_insert_with(|| {
                    classes.push(class);
                    u32::try_from(classes.len() - 1).expect("no more classes than sets")
                }),
            };
            last = Some((class, place));
            class_of.push(place);
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

    /// The same list for everyone who asks with the same numbers: it is long, and most cases of a tank need the same one.
    pub fn shared(faults: usize, most: usize, coupled: FaultSet) -> Arc<Self> {
        type Key = (usize, usize, FaultSet);
        const KEPT: usize = 8;
        static LISTS: Mutex<Vec<(Key, Arc<Hypotheses>)>> = Mutex::new(Vec::new());
        let key = (faults, most, coupled);
        let mut lists = LISTS.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(at) = lists.iter().position(|(known, _)| *known == key) {
            // The latest asked for stands last; the first goes when the room is used up.
            lists[at..].rotate_left(1);
        } else {
            if lists.len() == KEPT {
                lists.remove(0);
            }
            lists.push((key, Arc::new(Self::new(faults, most, coupled))));
        }
        Arc::clone(&lists[lists.len() - 1].1)
    }

    /// For each set the product of its faults' factors, given by fault.
    pub fn products(&self, of_fault: &[f64]) -> Vec<f64> {
        let mut products = vec![1.0; self.sets.len()];
        self.scale(&mut products, of_fault, |product| product);
        products
    }

    /// Multiplies the value of each set by a function of the product of its faults' factors, given by fault.
    pub(super) fn scale(&self, of_set: &mut [f64], of_fault: &[f64], by: impl Fn(f64) -> f64) {
        // As long as the numbers that fit a member: nothing has to be checked in the innermost loop of all.
        let mut factors = [1.0; 256];
        factors[..of_fault.len()].copy_from_slice(of_fault);
        let factor = |fault: u8| factors[usize::from(fault)];
        if self.stride == 3 {
            let (sets, _) = self.members.as_chunks::<3>();
            of_set.iter_mut().zip(sets).for_each(|(value, [a, b, c])| *value *= by(factor(*a) * factor(*b) * factor(*c)));
        } else {
            let sets = self.members.chunks_exact(self.stride);
            of_set.iter_mut().zip(sets).for_each(|(value, set)| *value *= by(set.iter().map(|fault| factor(*fault)).product()));
        }
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
