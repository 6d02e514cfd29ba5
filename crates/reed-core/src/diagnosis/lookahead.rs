//! Whether to look on or to act, two checks ahead.
//!
//! Acting costs its effort, and much more when it meets no cause that is there: a day is lost and
//! the animals wait. A check costs its own effort, and pays when its answer leads to a better act.
//! Information alone never tells when to stop; this does.

use std::slice;

use super::belief::FaultSet;
use super::decision::Decision;
use super::differential::Differential;
use super::fault::Fault;
use super::hypothesis_space::HypothesisSpace;
use super::next_check::CheckOutlook;
use super::prospect::Prospect;
use super::round;
use crate::figure::Figure;

/// So many checks are compared, two ahead.
const COMPARED: usize = 8;

/// So many of them because they tell most, whatever their effort.
const TELL_MOST: usize = 2;

/// What an act that meets no cause costs: a day lost, in minutes of a keeper's effort.
pub const WRONG_ACT_MINUTES: Figure = Figure::from_memory(90.0);

/// What a check is worth alone counts so many times, since its answer also makes the next ones tell
/// more. Found by rehearsal: half as much ends cases a third sooner and is wrong in three cases of
/// a hundred more, twice as much costs a third more time for one.
const OPENS_THE_WAY: f64 = 12.0;

/// An act this likely to meet a cause that is there is not put off for checks that do not change
/// it. A judgement.
const ENOUGH: f64 = 0.95;

/// Ammonia or nitrite this likely is tested for before anything else is looked at. A judgement.
const POISON_LIKELY: f64 = 0.45;

/// Something that can be done, as far as it matters for deciding when.
#[derive(Clone, Debug)]
pub struct Act {
    /// Faults it takes away.
    pub cures: &'static [&'static Fault],
    /// Faults it only eases: that counts half.
    pub eases: &'static [&'static Fault],
    /// It is right when nothing is wrong.
    pub when_healthy: bool,
    /// What it costs, in minutes.
    pub minutes: f64,
}

/// What to do now.
#[derive(Clone, Debug, PartialEq)]
pub enum Advice {
    /// Look on.
    Look {
        /// Places among the proposals: one check, or a round of glances in the order in which they
        /// are passed.
        looks: Vec<usize>,
    },
    /// Act: no check, nor any two, is worth its effort.
    Act,
}

impl CheckOutlook {
    /// Whether one of these acts is due now, or a look first.
    ///
    /// Of each of the best checks, and of each followed by the best second one for its answer, the
    /// expected cost to the end is compared with that of acting at once. Far from any decision no
    /// two checks change it; then a check is worth the share that it takes of the doubt, of what
    /// full knowledge would save.
    pub fn advice(&self, differential: &Differential, acts: &[Act]) -> Advice {
        if let Some((reading, _)) = self
            .before_acting
            .filter(|(_, poison)| *poison > POISON_LIKELY)
        {
            return Advice::Look {
                looks: vec![reading],
            };
        }
        let ahead = self.ahead.narrowed();
        let all_costs: Vec<Vec<f64>> = acts
            .iter()
            .map(|act| act.costs(&ahead.sets, &differential.weighed.space))
            .collect();
        let right = acts.iter().zip(&all_costs).map(|(act, costs)| {
            let missed = costs
                .iter()
                .zip(&ahead.of_sets)
                .map(|(cost, of_set)| (cost - act.minutes) * of_set)
                .sum::<f64>();
            1.0 - missed / WRONG_ACT_MINUTES.value
        });
        let rather_right = right.fold(0.0, f64::max) >= ENOUGH;
        let costs = undominated(all_costs);
        let efforts: Vec<f64> = self
            .proposals
            .iter()
            .map(|proposal| proposal.check.effort_minutes())
            .collect();
        let decision = Decision::of(&costs, &ahead.of_sets);
        let told = |prospect| decision.bits(slice::from_ref(&ahead.of_sets), prospect);
        let told: Vec<f64> = ahead.prospects.iter().map(told).collect();
        let compared = foremost(&told, &efforts);
        let table = Table {
            costs,
            efforts: &efforts,
            prospects: &ahead.prospects,
            compared: &compared,
        };
        let at_once = table.of_acting(&ahead.of_sets);
        let saves = |first: &usize| {
            (
                *first,
                at_once - table.of_looking(*first, &ahead.of_sets, true),
            )
        };
        let decisive = compared
            .iter()
            .map(saves)
            .filter(|look| look.1 > 0.0)
            .max_by(|a, b| a.1.total_cmp(&b.1));
        // Far from any decision.
        let rate =
            |place: usize| OPENS_THE_WAY * decision.minutes_worth(told[place]) / efforts[place];
        let rates = (0..efforts.len())
            .filter(|_| !rather_right)
            .map(|place| (place, rate(place)));
        let tells = rates
            .filter(|(_, rate)| *rate > 1.0)
            .max_by(|a, b| a.1.total_cmp(&b.1));
        match decisive.or(tells) {
            Some((first, _)) => Advice::Look {
                looks: round::with(first, self, &ahead.of_sets, &ahead.prospects, &decision),
            },
            None => self
                .before_acting
                .map_or(Advice::Act, |(reading, _)| Advice::Look {
                    looks: vec![reading],
                }),
        }
    }
}

/// Places of the checks that are compared two ahead: those that tell most of what to do for their
/// effort, and those that tell most at all, as opening a filter does.
fn foremost(told: &[f64], efforts: &[f64]) -> Vec<usize> {
    let by = |value: &dyn Fn(usize) -> f64| {
        let mut places: Vec<usize> = (0..told.len()).collect();
        places.sort_by(|a, b| value(*b).total_cmp(&value(*a)));
        places
    };
    let mut compared: Vec<usize> = by(&|place| told[place] / efforts[place])
        .into_iter()
        .take(COMPARED - TELL_MOST)
        .collect();
    let most = by(&|place| told[place])
        .into_iter()
        .filter(|place| !compared.contains(place))
        .take(TELL_MOST)
        .collect::<Vec<_>>();
    compared.extend(most);
    compared
}

/// The costs of the acts without those that another one meets or undercuts whatever is wrong.
fn undominated(mut costs: Vec<Vec<f64>>) -> Vec<Vec<f64>> {
    let mut kept: Vec<Vec<f64>> = Vec::new();
    costs.sort_by(|a, b| a.iter().sum::<f64>().total_cmp(&b.iter().sum::<f64>()));
    for of_act in costs {
        if !kept
            .iter()
            .any(|other| other.iter().zip(&of_act).all(|(other, own)| other <= own))
        {
            kept.push(of_act);
        }
    }
    kept
}

impl Act {
    /// What it costs under each set, minutes.
    fn costs(&self, sets: &[FaultSet], space: &HypothesisSpace) -> Vec<f64> {
        let those = |faults: &[&Fault]| {
            let among = space
                .candidates
                .iter()
                .enumerate()
                .filter(|(_, candidate)| faults.contains(&candidate.fault));
            among.fold(FaultSet::NONE, |set, (index, _)| set.with(index))
        };
        let (cured, eased) = (those(self.cures), those(self.eases));
        let meets = |set: FaultSet| match set {
            set if self.when_healthy && space.is_harmless(set) => 1.0,
            set if set.only(cured) != FaultSet::NONE => 1.0,
            set if set.only(eased) != FaultSet::NONE => 0.5,
            _ => 0.0,
        };
        sets.iter()
            .map(|set| self.minutes + (1.0 - meets(*set)) * WRONG_ACT_MINUTES.value)
            .collect()
    }
}

/// Costs by act and set, and what the checks bring; weights of sets need not sum to one.
struct Table<'a> {
    costs: Vec<Vec<f64>>,
    efforts: &'a [f64],
    prospects: &'a [Prospect],
    /// Places of the checks that may come second.
    compared: &'a [usize],
}

impl Table<'_> {
    /// Expected cost of the best act.
    fn of_acting(&self, weights: &[f64]) -> f64 {
        let cost = |of_sets: &Vec<f64>| {
            of_sets
                .iter()
                .zip(weights)
                .map(|(cost, weight)| cost * weight)
                .sum::<f64>()
        };
        self.costs.iter().map(cost).fold(f64::INFINITY, f64::min)
    }

    /// Expected cost of a check and of the best that can be done after each of its answers.
    fn of_looking(&self, check: usize, weights: &[f64], once_more: bool) -> f64 {
        let after = |chances: &Vec<f64>| {
            let weights: Vec<f64> = weights
                .iter()
                .zip(chances)
                .map(|(weight, chance)| weight * chance)
                .collect();
            let acting = self.of_acting(&weights);
            if !once_more {
                return acting;
            }
            let others = self.compared.iter().filter(|other| **other != check);
            others
                .map(|other| self.of_looking(*other, &weights, false))
                .fold(acting, f64::min)
        };
        self.efforts[check] * weights.iter().sum::<f64>()
            + self.prospects[check].0.iter().map(after).sum::<f64>()
    }
}

#[cfg(test)]
mod tests {
    use super::{Prospect, Table};

    /// Four sets, two acts of which each is right for two of them, and two checks that each part
    /// the sets another way.
    fn crossed(prospects: &[Prospect]) -> Table<'_> {
        let costs = vec![vec![0.0, 90.0, 90.0, 0.0], vec![90.0, 0.0, 0.0, 90.0]];
        Table {
            costs,
            efforts: &[1.0, 1.0],
            prospects,
            compared: &[0, 1],
        }
    }

    #[test]
    fn two_checks_that_tell_nothing_alone_are_worth_it_together() {
        let question =
            |yes: [f64; 4]| Prospect(vec![yes.to_vec(), yes.map(|yes| 1.0 - yes).to_vec()]);
        let prospects = [
            question([1.0, 1.0, 0.0, 0.0]),
            question([1.0, 0.0, 1.0, 0.0]),
        ];
        let (table, weights) = (crossed(&prospects), [0.25; 4]);
        assert!((table.of_acting(&weights) - 45.0).abs() < 1e-9);
        assert!(
            (table.of_looking(0, &weights, false) - 46.0).abs() < 1e-9,
            "alone it costs its effort and changes nothing"
        );
        assert!(
            (table.of_looking(0, &weights, true) - 2.0).abs() < 1e-9,
            "with the other all is known"
        );
    }

    #[test]
    fn a_check_that_tells_nothing_only_costs_its_effort() {
        let prospects = [
            Prospect(vec![vec![0.5; 4], vec![0.5; 4]]),
            Prospect(vec![vec![0.3; 4], vec![0.7; 4]]),
        ];
        let (table, weights) = (crossed(&prospects), [0.7, 0.1, 0.1, 0.1]);
        assert!(
            (table.of_looking(0, &weights, true) - table.of_acting(&weights) - 1.0).abs() < 1e-9
        );
    }
}
