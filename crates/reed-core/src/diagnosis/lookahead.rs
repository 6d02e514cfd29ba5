//! Whether to look on or to act, two checks ahead.
//!
//! Acting costs its effort, and much more when it meets no cause that is there: a day is lost and the animals wait. A check
//! costs its own effort, and pays when its answer leads to a better act. Information alone never tells when to stop; this
//! does.

use super::belief::FaultSet;
use super::differential::Differential;
use super::fault::Fault;
use super::next_check::Outlook;
use super::prospect::Prospect;
use super::space::Space;
use crate::figure::Figure;

/// So many of the best checks are compared.
pub(super) const COMPARED: usize = 8;

/// Sets below this share of the likeliest one change no decision.
const NEGLIGIBLE: f64 = 2e-3;

/// What an act that meets no cause costs: a day lost, in minutes of a keeper's effort.
pub const WRONG_ACT_MINUTES: Figure = Figure::from_memory(90.0);

/// An act this likely to meet a cause that is there may be due; below it what tells most is asked first, as long as anything
/// tells much.
const ENOUGH: f64 = 0.85;

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

/// The sets still believed in and what the best checks would answer under each.
pub(super) struct Ahead {
    sets: Vec<FaultSet>,
    of_sets: Vec<f64>,
    prospects: Vec<Prospect>,
}

/// What to do now.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Advice {
    /// Look on with the proposal at this place: what it saves over acting at once, in minutes of effort.
    Look {
        /// Place among the proposals.
        proposal: usize,
        /// Expected saving over acting at once, minutes.
        saves: f64,
    },
    /// Act: no check, nor any two, is worth its effort.
    Act,
}

impl Ahead {
    pub(super) const fn new(sets: Vec<FaultSet>, of_sets: Vec<f64>, prospects: Vec<Prospect>) -> Self {
        Self { sets, of_sets, prospects }
    }

    /// Only what can change a decision.
    fn narrowed(&self) -> Self {
        let least = NEGLIGIBLE * self.of_sets.iter().fold(0.0, |most: f64, of_set| most.max(*of_set));
        let kept: Vec<usize> = (0..self.of_sets.len()).filter(|set| self.of_sets[*set] >= least).collect();
        let narrow = |values: &[f64]| kept.iter().map(|set| values[*set]).collect();
        Self {
            sets: kept.iter().map(|set| self.sets[*set]).collect(),
            of_sets: narrow(&self.of_sets),
            prospects: self.prospects.iter().map(|prospect| Prospect(prospect.0.iter().map(|chances| narrow(chances)).collect())).collect(),
        }
    }
}

impl Outlook {
    /// Whether one of these acts is due now, or a look first.
    ///
    /// Of each check, and of each check followed by the best second one for its answer, the expected cost to the end is
    /// compared with that of acting at once.
    pub fn advice(&self, differential: &Differential, acts: &[Act]) -> Advice {
        let ahead = self.ahead.narrowed();
        let costs: Vec<Vec<f64>> = acts.iter().map(|act| act.costs(&ahead.sets, &differential.weighed.space)).collect();
        let efforts: Vec<f64> = self.proposals.iter().take(COMPARED).map(|proposal| proposal.check.effort_minutes()).collect();
        let table = Table { costs, efforts, prospects: &ahead.prospects };
        let at_once = table.of_acting(&ahead.of_sets);
        let right = acts.iter().zip(&table.costs).map(|(act, costs)| {
            let beyond_effort = costs.iter().zip(&ahead.of_sets).map(|(cost, of_set)| (cost - act.minutes) * of_set).sum::<f64>();
            1.0 - beyond_effort / (WRONG_ACT_MINUTES.value * ahead.of_sets.iter().sum::<f64>())
        });
        let rather_right = right.fold(0.0, f64::max) >= ENOUGH;
        let looks = (0..ahead.prospects.len()).map(|first| (first, at_once - table.of_looking(first, &ahead.of_sets, true)));
        match looks.max_by(|a, b| a.1.total_cmp(&b.1)) {
            Some((proposal, saves)) if saves > 0.0 => Advice::Look { proposal, saves },
            // Far from any decision no two checks change it; what tells most is asked, rather than acting on a guess.
            _ if !rather_right && !self.nothing_left_to_ask() => Advice::Look { proposal: 0, saves: 0.0 },
            _ => Advice::Act,
        }
    }
}

impl Act {
    /// What it costs under each set, minutes.
    fn costs(&self, sets: &[FaultSet], space: &Space) -> Vec<f64> {
        let those = |faults: &[&Fault]| {
            let among = space.candidates.iter().enumerate().filter(|(_, candidate)| faults.contains(&candidate.fault));
            among.fold(FaultSet::NONE, |set, (index, _)| set.with(index))
        };
        let (cured, eased) = (those(self.cures), those(self.eases));
        let meets = |set: FaultSet| match set {
            set if self.when_healthy && space.is_harmless(set) => 1.0,
            set if set.only(cured) != FaultSet::NONE => 1.0,
            set if set.only(eased) != FaultSet::NONE => 0.5,
            _ => 0.0,
        };
        sets.iter().map(|set| self.minutes + (1.0 - meets(*set)) * WRONG_ACT_MINUTES.value).collect()
    }
}

/// Costs by act and set, and what the checks bring; weights of sets need not sum to one.
struct Table<'a> {
    costs: Vec<Vec<f64>>,
    efforts: Vec<f64>,
    prospects: &'a [Prospect],
}

impl Table<'_> {
    /// Expected cost of the best act.
    fn of_acting(&self, weights: &[f64]) -> f64 {
        let cost = |of_sets: &Vec<f64>| of_sets.iter().zip(weights).map(|(cost, weight)| cost * weight).sum::<f64>();
        self.costs.iter().map(cost).fold(f64::INFINITY, f64::min)
    }

    /// Expected cost of a check and of the best that can be done after each of its answers.
    fn of_looking(&self, check: usize, weights: &[f64], once_more: bool) -> f64 {
        let after = |chances: &Vec<f64>| {
            let weights: Vec<f64> = weights.iter().zip(chances).map(|(weight, chance)| weight * chance).collect();
            let acting = self.of_acting(&weights);
            if !once_more {
                return acting;
            }
            let others = (0..self.prospects.len()).filter(|other| *other != check);
            others.map(|other| self.of_looking(other, &weights, false)).fold(acting, f64::min)
        };
        self.efforts[check] * weights.iter().sum::<f64>() + self.prospects[check].0.iter().map(after).sum::<f64>()
    }
}

#[cfg(test)]
mod tests {
    use super::{Prospect, Table};

    /// Four sets, two acts of which each is right for two of them, and two checks that each part the sets another way.
    fn crossed(prospects: &[Prospect]) -> Table<'_> {
        Table { costs: vec![vec![0.0, 90.0, 90.0, 0.0], vec![90.0, 0.0, 0.0, 90.0]], efforts: vec![1.0, 1.0], prospects }
    }

    #[test]
    fn two_checks_that_tell_nothing_alone_are_worth_it_together() {
        let question = |yes: [f64; 4]| Prospect(vec![yes.to_vec(), yes.map(|yes| 1.0 - yes).to_vec()]);
        let prospects = [question([1.0, 1.0, 0.0, 0.0]), question([1.0, 0.0, 1.0, 0.0])];
        let (table, weights) = (crossed(&prospects), [0.25; 4]);
        assert!((table.of_acting(&weights) - 45.0).abs() < 1e-9);
        assert!((table.of_looking(0, &weights, false) - 46.0).abs() < 1e-9, "alone it costs its effort and changes nothing");
        assert!((table.of_looking(0, &weights, true) - 2.0).abs() < 1e-9, "with the other all is known");
    }

    #[test]
    fn a_check_that_tells_nothing_only_costs_its_effort() {
        let prospects = [Prospect(vec![vec![0.5; 4], vec![0.5; 4]]), Prospect(vec![vec![0.3; 4], vec![0.7; 4]])];
        let (table, weights) = (crossed(&prospects), [0.7, 0.1, 0.1, 0.1]);
        assert!((table.of_looking(0, &weights, true) - table.of_acting(&weights) - 1.0).abs() < 1e-9);
    }
}
