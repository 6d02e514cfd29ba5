//! The differential: every fault that can be, alone and with up to two others, weighed against all the evidence.

use std::collections::HashMap;

use super::belief::{Belief, FaultSet};
use super::distress::{self, RUNGS};
use super::evidence;
use super::explain::{self, Reason};
use super::fault::{self, Fault};
use super::next_check::{self, Proposal};
use super::observed::Observed;
use crate::forecast::{DOUBTS, Ensemble, Member, doubts};
use crate::tank::{Analyte, Tank};
use crate::twin::{Doubt, Twin};
use crate::units::Temperature;
use crate::water::oxygen::Settled;

/// Most faults that are thought of together.
const MOST_AT_ONCE: usize = 3;

/// Faults that an opened case holds on average; the rates of all cards are scaled to it, or healthy would never win.
const FAULTS_PER_CASE: f64 = 1.1;

/// A fault that can be, in this case: for a misread, of which reading.
#[derive(Clone, Copy, Debug)]
pub(super) struct Candidate {
    pub(super) fault: &'static Fault,
    /// Place of the reading concerned in [`Observed::readings`].
    pub(super) about: Option<usize>,
}

/// The tanks that sets of faults make, as far as oxygen can tell them apart.
struct Class {
    tank: Tank,
    days: [Settled; DOUBTS],
    /// Chance that lack of oxygen brings about each rung of distress or a higher one.
    distress: [[f64; RUNGS]; DOUBTS],
}

/// All hypotheses with what the twin makes of each.
pub(super) struct Space {
    pub(super) candidates: Vec<Candidate>,
    pub(super) sets: Vec<FaultSet>,
    /// Class of each set.
    pub(super) class_of: Vec<usize>,
    classes: Vec<Class>,
    /// Chance that no fault of each set brings a rung about in another way than by lack of oxygen.
    spared: Vec<[f64; RUNGS]>,
    doubts: [(Doubt, f64); DOUBTS],
}

impl Space {
    fn of(tank: &Tank, observed: &Observed) -> Self {
        let mut candidates = Vec::new();
        for fault in fault::all().filter(|fault| fault.needs.as_ref().is_none_or(|need| (need.met)(tank))) {
            if fault.is_misread() {
                candidates.extend((0..observed.readings.len()).map(|index| Candidate { fault, about: Some(index) }));
            } else {
                candidates.push(Candidate { fault, about: None });
            }
        }
        let sets = FaultSet::up_to(candidates.len(), MOST_AT_ONCE);
        let in_model = candidates
            .iter()
            .enumerate()
            .filter(|(_, candidate)| candidate.fault.in_the_model.is_some())
            .fold(FaultSet::NONE, |set, (i, _)| set.with(i));
        let doubts = doubts();
        let read_temperature = observed.latest(Analyte::TEMPERATURE).map(|reading| Temperature::celsius(reading.value));
        let (mut classes, mut known) = (Vec::new(), HashMap::new());
        let class_of = sets
            .iter()
            .map(|set| {
                *known.entry(set.only(in_model)).or_insert_with_key(|faults| {
                    let mut faulty = tank.clone();
                    faulty.temperature_now = read_temperature.or(tank.temperature_now);
                    for fault in faults.iter() {
                        faulty = candidates[fault].fault.put_into(&faulty);
                    }
                    // Different faults may make the same tank: a slipped outlet and any other still surface.
                    classes.iter().position(|class: &Class| class.tank == faulty).unwrap_or_else(|| {
                        classes.push(Class::of(faulty, &doubts));
                        classes.len() - 1
                    })
                })
            })
            .collect();
        let spared = sets
            .iter()
            .map(|set| std::array::from_fn(|rung| set.iter().map(|fault| 1.0 - candidates[fault].fault.distress[rung]).product()))
            .collect();
        Self { candidates, sets, class_of, classes, spared, doubts }
    }

    /// Chance of each rung of distress or a higher one under a hypothesis: lack of oxygen by the twin, and faults that
    /// harm in another way.
    pub(super) fn rung_chances(&self, set: usize, doubt: usize) -> [f64; RUNGS] {
        let (from_oxygen, spared) = (&self.classes[self.class_of[set]].distress[doubt], &self.spared[set]);
        std::array::from_fn(|rung| 1.0 - (1.0 - distress::LEAK[rung]) * (1.0 - from_oxygen[rung]) * spared[rung])
    }

    /// Oxygen at this hour, by class and doubt, mg/L.
    pub(super) fn at_hour(&self, hour: f64) -> Vec<[f64; DOUBTS]> {
        self.classes.iter().map(|class| class.days.each_ref().map(|day| day.at(hour))).collect()
    }

    /// Place of the fault that this reading is off.
    pub(super) fn misread_of(&self, reading: usize) -> usize {
        self.candidates.iter().position(|candidate| candidate.about == Some(reading)).expect("each reading has its misread, made in `of`")
    }

    /// Place of a fault, unless it is ruled out.
    pub(super) fn position(&self, fault: &Fault) -> Option<usize> {
        self.candidates.iter().position(|candidate| candidate.fault == fault)
    }

    /// Places of the faults for which this holds.
    pub(super) fn faults_where(&self, holds: impl Fn(&Fault) -> bool) -> Vec<usize> {
        self.candidates.iter().enumerate().filter(|(_, candidate)| holds(candidate.fault)).map(|(index, _)| index).collect()
    }

    /// Chances of the faults before any evidence, scaled to what a case holds.
    fn priors(&self) -> Vec<f64> {
        let total: f64 = fault::all().map(|fault| fault.rate.share()).sum();
        self.candidates.iter().map(|candidate| candidate.fault.rate.share() * FAULTS_PER_CASE / total).collect()
    }

    fn belief(&self) -> Belief {
        Belief::before(&self.priors(), self.sets.clone(), &self.doubts.map(|(_, weight)| weight))
    }
}

impl Class {
    fn of(tank: Tank, doubts: &[(Doubt, f64); DOUBTS]) -> Self {
        let course = Twin::course_of(&tank);
        let days = doubts.map(|(doubt, _)| course.scaled(doubt.exchange, doubt.demand).settled());
        Self { tank, days, distress: days.map(|day| distress::chances(day.lowest().1)) }
    }
}

/// A fault with its probability and the reasons for it.
#[derive(Clone, Debug)]
pub struct Suspect {
    /// The fault.
    pub fault: &'static Fault,
    /// For a misread: place of the reading in [`Observed::readings`].
    pub about: Option<usize>,
    /// Probability that it is there, alone or with others.
    pub probability: f64,
    /// Logarithm of its odds before any evidence; with the reasons it adds up to the logarithm of its odds now.
    pub prior_log_odds: f64,
    /// Each piece of evidence, strongest first, for or against.
    pub reasons: Vec<Reason>,
}

/// A fault that cannot be in this tank.
#[derive(Clone, Copy, Debug)]
pub struct RuledOut {
    /// The fault.
    pub fault: &'static Fault,
    /// Why, as a sentence.
    pub why: &'static str,
}

/// What is wrong, how sure that is, why, what to check next, and which tanks are believed in.
#[derive(Clone, Debug)]
pub struct Differential {
    /// All faults that can be, likeliest first.
    pub suspects: Vec<Suspect>,
    /// Probability that nothing is wrong.
    pub healthy: f64,
    /// The likeliest sets of faults with their probability; an empty set is healthy.
    pub combinations: Vec<(Vec<&'static Fault>, f64)>,
    /// What cannot be.
    pub ruled_out: Vec<RuledOut>,
    /// Checks worth doing, best first.
    pub proposals: Vec<Proposal>,
    /// The tank as it is believed to be: faults and doubts weighed by the evidence.
    pub believed: Ensemble,
}

/// A suspect this likely is clear enough to act on.
pub const CLEAR: f64 = 0.8;

impl Differential {
    /// Weighs everything. The tank must have passed [`Tank::refusals`]; readings and answers are taken as they are.
    pub fn of(tank: &Tank, observed: &Observed) -> Self {
        let space = Space::of(tank, observed);
        let pieces = evidence::gather(&space, tank, observed);
        let prior = space.belief();
        let mut belief = prior.clone();
        for piece in &pieces {
            belief.weigh(&piece.likelihoods);
        }
        let faults = space.candidates.len();
        // Every likelihood is positive: leaks and misreads see to that.
        let of_faults = belief.of_faults(faults).expect("no evidence is impossible");
        let of_sets = belief.of_sets().expect("no evidence is impossible");
        let reasons = explain::reasons(&prior, &pieces, faults);
        let priors = prior.of_faults(faults).expect("a prior is possible");
        let mut suspects: Vec<Suspect> = space
            .candidates
            .iter()
            .zip(of_faults.iter().zip(priors).zip(reasons))
            .map(|(candidate, ((probability, prior), reasons))| Suspect {
                fault: candidate.fault,
                about: candidate.about,
                probability: *probability,
                prior_log_odds: explain::log_odds(prior),
                reasons,
            })
            .collect();
        suspects.sort_by(|a, b| b.probability.total_cmp(&a.probability));
        let proposals = next_check::proposals(&space, &belief, tank, observed, &of_faults);
        Self {
            healthy: of_sets[0],
            combinations: combinations(&space, &of_sets),
            ruled_out: ruled_out(tank),
            proposals,
            believed: believed(&space, &belief),
            suspects,
        }
    }

    /// The likeliest fault.
    pub fn first(&self) -> &Suspect {
        &self.suspects[0]
    }

    /// Probability of a fault; for a misread, of any reading. Zero if it is ruled out.
    pub fn probability(&self, fault: &Fault) -> f64 {
        let apart: f64 = self.suspects.iter().filter(|suspect| suspect.fault == fault).map(|suspect| 1.0 - suspect.probability).product();
        1.0 - apart
    }

    /// One suspect is likely enough to act on.
    pub fn is_clear(&self) -> bool {
        self.first().probability >= CLEAR
    }

    /// Nothing is left whose answer would tell much for its effort.
    pub fn nothing_left_to_ask(&self) -> bool {
        self.proposals.first().is_none_or(|proposal| proposal.bits < 0.03)
    }
}

fn combinations(space: &Space, of_sets: &[f64]) -> Vec<(Vec<&'static Fault>, f64)> {
    let mut order: Vec<usize> = (0..of_sets.len()).collect();
    order.sort_by(|a, b| of_sets[*b].total_cmp(&of_sets[*a]));
    order.truncate(5);
    order.into_iter().map(|set| (space.sets[set].iter().map(|fault| space.candidates[fault].fault).collect(), of_sets[set])).collect()
}

fn ruled_out(tank: &Tank) -> Vec<RuledOut> {
    fault::all()
        .filter_map(|fault| {
            let need = fault.needs.as_ref().filter(|need| !(need.met)(tank))?;
            Some(RuledOut { fault, why: need.else_out })
        })
        .collect()
}

/// Sets that make the same tank are one member per doubt.
fn believed(space: &Space, belief: &Belief) -> Ensemble {
    let mut weights = vec![[0.0; DOUBTS]; space.classes.len()];
    for (set, class) in space.class_of.iter().enumerate() {
        for (sum, weight) in weights[*class].iter_mut().zip(belief.of_doubts(set)) {
            *sum += weight;
        }
    }
    let negligible = belief.evidence() * 1e-4;
    let members = space.classes.iter().zip(&weights).flat_map(|(class, weights)| {
        let each = space.doubts.iter().zip(weights).filter(|(_, weight)| **weight > negligible);
        each.map(|((doubt, _), weight)| Member { tank: class.tank.clone(), doubt: *doubt, weight: *weight })
    });
    Ensemble::new(members.collect())
}
