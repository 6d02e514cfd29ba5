//! What there is to believe in: every set of up to so many faults, and which of them the doubts
//! treat alike.

use std::collections::HashMap;
use std::ops::Range;
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

    /// The highest fault in the set.
    fn highest(self) -> Option<usize> {
        self.0.checked_ilog2().map(|bit| bit as usize)
    }

    /// This set without that fault.
    const fn without(self, fault: usize) -> Self {
        Self(self.0 & !(1 << fault))
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

    /// Every set of at most `most` of `faults` faults, the empty one first, small ones before large
    /// ones.
    pub fn up_to(faults: usize, most: usize) -> Vec<Self> {
        let mut sets = vec![Self::NONE];
        let mut last = vec![(Self::NONE, 0)];
        for _ in 0..most {
            last = last
                .into_iter()
                .flat_map(|(set, from)| {
                    (from..faults).map(move |fault| (set.with(fault), fault + 1))
                })
                .collect();
            sets.extend(last.iter().map(|(set, _)| *set));
        }
        sets
    }
}

/// Neighbours in the list of sets that differ in their last fault alone, which goes up by one place
/// from each to the next. What is a product over the faults of a set is reckoned along a run
/// without looking anything up.
#[derive(Clone, Debug)]
struct Run {
    /// What all its sets hold.
    head: FaultSet,
    /// Place of the last fault of its first set among those that occur at all; one past them for
    /// the empty set, which has none.
    from: usize,
    /// Its sets, by their place in the list.
    sets: Range<usize>,
}

impl Run {
    fn all(sets: &[FaultSet], occurring: &[usize]) -> Vec<Self> {
        let mut place_of = [occurring.len(); FACTORS];
        occurring
            .iter()
            .enumerate()
            .for_each(|(place, fault)| place_of[*fault] = place);
        let mut runs: Vec<Self> = Vec::new();
        for (place, set) in sets.iter().enumerate() {
            let (head, last) = set
                .highest()
                .map_or((FaultSet::NONE, occurring.len()), |last| {
                    (set.without(last), place_of[last])
                });
            match runs.last_mut() {
                Some(run) if run.head == head && run.from + run.sets.len() == last => {
                    run.sets.end = place + 1;
                }
                _ => runs.push(Self {
                    head,
                    from: last,
                    sets: place..place + 1,
                }),
            }
        }
        runs
    }
}

/// Room for the factors of every fault there can be, and of none.
const FACTORS: usize = 129;

/// Sets of faults, with the class of each: sets of one class hold the same *coupled* faults, those
/// whose effect depends on the doubts.
///
/// With the whole catalogue there are some 50,000 sets; but only a few hundred classes, so what
/// depends on the doubts is kept by class.
#[derive(Clone, Debug)]
pub struct Hypotheses {
    sets: Vec<FaultSet>,
    runs: Vec<Run>,
    /// The faults that occur in any set, lowest first.
    occurring: Vec<usize>,
    faults: usize,
    class_of: Vec<u32>,
    /// The coupled faults of each class.
    classes: Vec<FaultSet>,
}

impl Hypotheses {
    /// Every set of at most `most` of `faults` faults, with these coupled to the doubts.
    ///
    /// # Panics
    /// With more than 128 faults.
    pub fn new(faults: usize, most: usize, coupled: FaultSet) -> Self {
        assert!(faults < FACTORS, "a set holds at most 128 faults");
        let sets = FaultSet::up_to(faults, most);
        let (mut classes, mut known) = (Vec::new(), HashMap::new());
        let mut class_of = Vec::with_capacity(sets.len());
        // Neighbours in the list mostly differ in a fault that is not coupled: the last class is
        // remembered.
        let mut last = None;
        for set in &sets {
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
        let occurring: Vec<usize> = (0..faults).collect();
        Self {
            runs: Run::all(&sets, &occurring),
            occurring,
            sets,
            faults,
            class_of,
            classes,
        }
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

    /// The same list for everyone who asks with the same numbers: it is long, and most cases of a
    /// tank need the same one.
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

    /// Multiplies the value of each set by a function of the product of its faults' factors, given
    /// by fault.
    pub(super) fn scale(&self, of_set: &mut [f64], of_fault: &[f64], by: impl Fn(f64) -> f64) {
        let mut factors = [1.0; FACTORS];
        self.occurring
            .iter()
            .enumerate()
            .for_each(|(place, fault)| factors[place] = of_fault[*fault]);
        for run in &self.runs {
            let head: f64 = run.head.iter().map(|fault| of_fault[fault]).product();
            let values = &mut of_set[run.sets.clone()];
            values
                .iter_mut()
                .zip(&factors[run.from..])
                .for_each(|(value, last)| *value *= by(head * last));
        }
    }

    /// Adds what each set has to each of its faults.
    pub(in crate::diagnosis) fn sums(&self, of_set: &[f64]) -> Vec<f64> {
        let (mut by_place, mut of_fault) = ([0.0; FACTORS], vec![0.0; self.faults]);
        for run in &self.runs {
            let values = &of_set[run.sets.clone()];
            by_place[run.from..]
                .iter_mut()
                .zip(values)
                .for_each(|(sum, value)| *sum += value);
            let total: f64 = values.iter().sum();
            run.head.iter().for_each(|fault| of_fault[fault] += total);
        }
        self.occurring
            .iter()
            .zip(by_place)
            .for_each(|(fault, sum)| of_fault[*fault] += sum);
        of_fault
    }

    /// Visits the places of the sets that hold any of these faults.
    pub(in crate::diagnosis) fn each_holding(
        &self,
        faults: FaultSet,
        mut visit: impl FnMut(usize),
    ) {
        let places: Vec<usize> = (0..self.occurring.len())
            .filter(|place| faults.has(self.occurring[*place]))
            .collect();
        for run in &self.runs {
            if run.head.only(faults) == FaultSet::NONE {
                let within = places
                    .iter()
                    .filter(|place| (run.from..run.from + run.sets.len()).contains(place));
                within.for_each(|place| visit(run.sets.start + place - run.from));
            } else {
                run.sets.clone().for_each(&mut visit);
            }
        }
    }

    /// Only these sets; the classes stay, so that what is kept by class holds on.
    pub(super) fn restricted(&self, kept: &[usize]) -> Self {
        let sets: Vec<FaultSet> = kept.iter().map(|set| self.sets[*set]).collect();
        let some = sets
            .iter()
            .fold(FaultSet::NONE, |some, set| FaultSet(some.0 | set.0));
        let occurring: Vec<usize> = some.iter().collect();
        Self {
            runs: Run::all(&sets, &occurring),
            occurring,
            sets,
            faults: self.faults,
            class_of: kept.iter().map(|set| self.class_of[*set]).collect(),
            classes: self.classes.clone(),
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
        assert_eq!(
            sets.iter().collect::<std::collections::HashSet<_>>().len(),
            sets.len()
        );
        assert_eq!(FaultSet::up_to(3, 8).len(), 8, "no more than every subset");
    }

    /// Whatever is asked about runs is what going through the sets one by one gives, for all sets
    /// and for some.
    #[test]
    fn runs_tell_the_same_as_the_sets() {
        let all = Hypotheses::new(9, 3, FaultSet::NONE.with(1));
        let kept: Vec<usize> = (0..all.sets().len()).filter(|set| set % 3 != 1).collect();
        for hypotheses in [all.restricted(&kept), all] {
            let of_set: Vec<f64> = (0..hypotheses.sets().len())
                .map(|set| (set as f64).sin())
                .collect();
            for (fault, sum) in hypotheses.sums(&of_set).into_iter().enumerate() {
                let by_hand: f64 = hypotheses
                    .sets()
                    .iter()
                    .zip(&of_set)
                    .filter(|(set, _)| set.has(fault))
                    .map(|(_, value)| value)
                    .sum();
                assert!((sum - by_hand).abs() < 1e-12);
            }
            for those in [
                FaultSet::NONE,
                FaultSet::NONE.with(0),
                FaultSet::NONE.with(3).with(8),
            ] {
                let by_hand = (0..hypotheses.sets().len())
                    .filter(|set| hypotheses.sets()[*set].only(those) != FaultSet::NONE);
                let mut holding = Vec::new();
                hypotheses.each_holding(those, |set| holding.push(set));
                holding.sort_unstable();
                assert_eq!(holding, by_hand.collect::<Vec<_>>());
            }
        }
    }

    #[test]
    fn sets_of_one_class_hold_the_same_coupled_faults() {
        let coupled = FaultSet::NONE.with(1).with(4);
        let hypotheses = Hypotheses::new(9, 3, coupled);
        assert_eq!(hypotheses.classes().len(), 4, "neither, either, both");
        for (index, set) in hypotheses.sets().iter().enumerate() {
            assert_eq!(
                set.only(coupled),
                hypotheses.classes()[hypotheses.class_of(index)]
            );
        }
        let product = hypotheses.products(
            &(0..9)
                .map(|fault| f64::from(fault) + 1.0)
                .collect::<Vec<_>>(),
        );
        for (set, product) in hypotheses.sets().iter().zip(product) {
            let by_hand: f64 = set.iter().map(|fault| fault as f64 + 1.0).product();
            assert!((product - by_hand).abs() < 1e-9);
        }
    }
}
