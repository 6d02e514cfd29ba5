//! The hypotheses: which faults can be here, alone and together, and what the twin makes of each.

use std::collections::HashMap;
use std::sync::Arc;

use super::belief::{Belief, FaultSet, Likelihoods};
use super::distress::{self, RUNGS};
use super::fault::{self, Fault};
use super::observed::Observed;
use crate::forecast::{self, DOUBTS, Ensemble, MODEL_RESIDUAL_MG_L, Member, doubts, normal_below};
use crate::tank::{Analyte, Tank};
use crate::twin::{Doubt, Twin};
use crate::units::Temperature;
use crate::water::oxygen::Settled;

/// Most faults that are thought of together.
const MOST_AT_ONCE: usize = 3;

/// Faults that an opened case holds on average; the rates of all cards are scaled to it, or healthy would never win.
const FAULTS_PER_CASE: f64 = 1.1;

/// Share of tanks that run short of oxygen and yet have none of the faults that this program knows. Common practice.
const SHORT_WITHOUT_FAULT: f64 = 0.05;

/// A fault that can be, in this case: for a misread, of which reading.
#[derive(Clone, Copy, Debug)]
pub(super) struct Candidate {
    pub(super) fault: &'static Fault,
    /// Place of the reading concerned in [`Observed::readings`].
    pub(super) about: Option<usize>,
}

/// The tanks that sets of faults make, as far as oxygen can tell them apart.
struct Class {
    tank: Arc<Tank>,
    days: [Settled; DOUBTS],
    /// Chance that lack of oxygen brings about each rung of distress or a higher one.
    distress: [[f64; RUNGS]; DOUBTS],
    /// Chance that its oxygen falls below the level to act on.
    short: [f64; DOUBTS],
}

/// All hypotheses with what the twin makes of each.
pub(super) struct Space {
    pub(super) candidates: Vec<Candidate>,
    pub(super) sets: Vec<FaultSet>,
    /// Class of each set.
    pub(super) class_of: Vec<usize>,
    /// The faults that the twin can tell by their oxygen.
    oxygen_faults: FaultSet,
    classes: Vec<Class>,
    /// Chance that no fault of each set brings a rung about in another way than by lack of oxygen.
    spared: Vec<[f64; RUNGS]>,
    doubts: [(Doubt, f64); DOUBTS],
}

impl Space {
    /// The hypotheses about this tank.
    pub(super) fn of(tank: &Tank, observed: &Observed) -> Self {
        let mut candidates = Vec::new();
        for fault in fault::all().filter(|fault| fault.needs.as_ref().is_none_or(|need| (need.met)(tank))) {
            if fault.is_misread() {
                candidates.extend(observed.weighed().into_iter().map(|index| Candidate { fault, about: Some(index) }));
            } else {
                candidates.push(Candidate { fault, about: None });
            }
        }
        let sets = FaultSet::up_to(candidates.len(), MOST_AT_ONCE);
        let oxygen_faults = candidates
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
                *known.entry(set.only(oxygen_faults)).or_insert_with_key(|faults| {
                    let mut faulty = tank.clone();
                    faulty.temperature_now = read_temperature.or(tank.temperature_now);
                    for fault in faults.iter() {
                        faulty = candidates[fault].fault.put_into(&faulty);
                    }
                    // Different faults may make the same tank: a slipped outlet and any other still surface.
                    classes.iter().position(|class: &Class| *class.tank == faulty).unwrap_or_else(|| {
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
        Self { candidates, sets, class_of, oxygen_faults, classes, spared, doubts }
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
        self.candidates
            .iter()
            .position(|candidate| candidate.about == Some(reading))
            .expect("each reading that is weighed has its misread, made in `of`")
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

    /// The belief before any evidence.
    ///
    /// A tank that runs short of oxygen is not a healthy one, whatever its file says: some fault has to account for it. So
    /// the hypotheses that have it run short without one keep only [`SHORT_WITHOUT_FAULT`] of their weight.
    pub(super) fn belief(&self) -> Belief {
        let mut belief = Belief::before(&self.priors(), self.sets.clone(), &self.doubts.map(|(_, weight)| weight));
        let accounted = |set: FaultSet| set.only(self.oxygen_faults) != FaultSet::NONE;
        let kept = self.sets.iter().zip(&self.class_of).flat_map(|(set, class)| {
            let short = if accounted(*set) { [0.0; DOUBTS] } else { self.classes[*class].short };
            short.map(|short| 1.0 - (1.0 - SHORT_WITHOUT_FAULT) * short)
        });
        belief.weigh(&Likelihoods::PerDoubt(kept.collect()));
        belief
    }

    /// What is believed about the tank: faults and doubts weighed by the evidence. Sets that make the same tank are one
    /// member per doubt.
    pub(super) fn believed(&self, belief: &Belief) -> Ensemble {
        let mut weights = vec![[0.0; DOUBTS]; self.classes.len()];
        for (set, class) in self.class_of.iter().enumerate() {
            for (sum, weight) in weights[*class].iter_mut().zip(belief.of_doubts(set)) {
                *sum += weight;
            }
        }
        let negligible = belief.evidence() * 1e-4;
        let members = self.classes.iter().zip(&weights).flat_map(|(class, weights)| {
            let each = self.doubts.iter().zip(weights).filter(|(_, weight)| **weight > negligible);
            each.map(|((doubt, _), weight)| Member { tank: Arc::clone(&class.tank), doubt: *doubt, weight: *weight })
        });
        Ensemble::new(members.collect())
    }
}

impl Class {
    fn of(tank: Tank, doubts: &[(Doubt, f64); DOUBTS]) -> Self {
        let course = Twin::course_of(&tank);
        let days = doubts.map(|(doubt, _)| course.scaled(doubt.exchange, doubt.demand).settled());
        let lowest = days.map(|day| day.lowest().1);
        let act_below = forecast::act_below(course.saturation_mg_l, tank.purpose.limits().oxygen_act.value);
        let short = lowest.map(|lowest| normal_below((act_below - lowest) / MODEL_RESIDUAL_MG_L.value));
        Self { tank: Arc::new(tank), days, distress: lowest.map(distress::chances), short }
    }
}
