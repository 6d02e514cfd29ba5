//! The hypotheses: which faults can be here, alone and together, and what the twin makes of each.

use std::collections::HashMap;
use std::sync::Arc;

use super::belief::{Belief, FaultSet, Hypotheses, Likelihoods};
use super::case::Case;
use super::distress::{self, RUNGS};
use super::fault::bystander::MISREAD_TEST;
use super::fault::{self, Fault};
use super::observed::Observed;
use crate::outlook::forecast::{self, DOUBTS, Ensemble, MODEL_RESIDUAL_MG_L, Member, doubts};
use crate::statistics::normal_below;
use crate::tank::{Analyte, Reading, Tank};
use crate::twin::{Doubt, Stirring, Twin};
use crate::units::Temperature;
use crate::water::oxygen::Settled;

/// Most faults that are thought of together.
const MOST_AT_ONCE: usize = 3;

/// Faults that an opened case would hold on average if its tank could have them all; the rates of
/// all cards are scaled to it, or healthy would never win. No tank can, so that somewhat fewer are
/// left: between 1.0 and 1.5 are common practice.
const FAULTS_PER_CASE: f64 = 1.5;

/// So many times likelier than by itself is a fault beside one that brings it. A judgement.
const BROUGHT: f64 = 4.0;

/// Share of tanks that run short of oxygen and yet have none of the faults that this program knows.
/// Common practice.
const SHORT_WITHOUT_FAULT: f64 = 0.04;

/// A fault that can be, in this case: for a misread, of which reading.
#[derive(Clone, Copy, Debug)]
pub(super) struct Candidate {
    pub(super) fault: &'static Fault,
    /// Place of the reading concerned in [`Observed::readings`].
    pub(super) about: Option<usize>,
    /// Chance of it before any evidence.
    prior: f64,
}

/// A tank that faults make, as far as oxygen can tell it from others.
struct Standing {
    tank: Arc<Tank>,
    days: [Settled; DOUBTS],
    /// One of its faults has no upper end.
    boundless: bool,
    /// Chance that lack of oxygen brings about each rung of distress or a higher one.
    distress: [[f64; RUNGS]; DOUBTS],
    /// Oxygen below which to act, mg/L.
    act_below: f64,
    /// Chance that its oxygen falls below that.
    short: [f64; DOUBTS],
}

/// All hypotheses with what the twin makes of each.
pub(super) struct HypothesisSpace {
    pub(super) candidates: Vec<Candidate>,
    pub(super) hypotheses: Arc<Hypotheses>,
    /// By fault, those that bring it; and by which factor it is rarer without any of them, so that
    /// all in all it is as common as its card says.
    causes: Vec<(FaultSet, f64)>,
    /// The faults that a reading is off, which harm no tank.
    misreads: FaultSet,
    /// The faults that the twin can tell by their oxygen.
    oxygen_faults: FaultSet,
    /// Tank of each class of hypotheses, in `tanks`.
    tank_of: Vec<usize>,
    tanks: Vec<Standing>,
    /// Chance, by class, that none of its faults brings a rung about in another way than by lack of
    /// oxygen.
    spared: Vec<[f64; RUNGS]>,
    doubts: [(Doubt, f64); DOUBTS],
    /// Oxygen below which to act in this tank, mg/L.
    act_below: f64,
    /// How the flow moves the surface.
    stirring: Stirring,
}

impl HypothesisSpace {
    /// The hypotheses about this tank.
    pub(super) fn of(case: &Case) -> Self {
        let Case { tank, observed } = case;
        let candidates = candidates(case);
        let those = |holds: &dyn Fn(&Candidate) -> bool| those(&candidates, holds);
        let oxygen_faults = those(&|candidate| candidate.fault.in_the_model.is_some());
        let misreads = those(&|candidate| candidate.about.is_some());
        let causes = candidates
            .iter()
            .map(|brought| causes_of(brought, &candidates))
            .collect();
        // What depends on the doubts: oxygen, what looks like a lack of it, and readings of it that
        // may be off.
        let misread = |candidate: &Candidate| {
            candidate
                .about
                .is_some_and(|index| observed.readings[index].analyte == Analyte::OXYGEN)
        };
        let coupled = those(&|candidate| {
            candidate.fault.in_the_model.is_some()
                || candidate.fault.distress.iter().any(|chance| *chance > 0.0)
                || misread(candidate)
        });
        let hypotheses = Hypotheses::shared(candidates.len(), MOST_AT_ONCE, coupled);
        let doubts = doubts();
        let stirring = Stirring::of(tank, observed.flow.as_ref());
        let mut read = tank.clone();
        read.temperature_now = observed
            .latest(Analyte::TEMPERATURE)
            .map(|reading| Temperature::celsius(reading.value))
            .or(tank.temperature_now);
        let mut standing = Tanks::new(&read, &candidates, stirring, &doubts);
        let tank_of = hypotheses
            .classes()
            .iter()
            .map(|class| standing.with(class.only(oxygen_faults)))
            .collect();
        let tanks = standing.tanks;
        let spared = hypotheses
            .classes()
            .iter()
            .map(|class| spared(*class, &candidates))
            .collect();
        // The first class has no fault, and the first tank none.
        let act_below = tanks[0].act_below;
        Self {
            candidates,
            hypotheses,
            causes,
            misreads,
            oxygen_faults,
            tank_of,
            tanks,
            spared,
            doubts,
            act_below,
            stirring,
        }
    }

    /// Chance of each rung of distress or a higher one under a class of hypotheses: lack of oxygen
    /// by the twin, and faults that harm in another way.
    pub(super) fn rung_chances(&self, class: usize, doubt: usize) -> [f64; RUNGS] {
        let (from_oxygen, spared) = (
            &self.tanks[self.tank_of[class]].distress[doubt],
            &self.spared[class],
        );
        std::array::from_fn(|rung| {
            1.0 - (1.0 - distress::LEAK[rung]) * (1.0 - from_oxygen[rung]) * spared[rung]
        })
    }

    /// Oxygen at this hour under each tank that faults make, by doubt, mg/L.
    pub(super) fn at_hour(&self, hour: f64) -> Vec<[f64; DOUBTS]> {
        self.tanks
            .iter()
            .map(|standing| standing.days.each_ref().map(|day| day.at(hour)))
            .collect()
    }

    /// Of each of these tanks whether one of its faults has no upper end.
    pub(super) fn boundless(&self) -> impl Iterator<Item = bool> {
        self.tanks.iter().map(|standing| standing.boundless)
    }

    /// Which tank a class of hypotheses makes; that of the first class has no fault.
    pub(super) fn tank_of(&self, class: usize) -> usize {
        self.tank_of[class]
    }

    /// Oxygen below which to act in this tank, mg/L.
    pub(super) const fn act_below(&self) -> f64 {
        self.act_below
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
        self.candidates
            .iter()
            .position(|candidate| candidate.fault == fault)
    }

    /// Chances of the faults before any evidence.
    fn priors(&self) -> Vec<f64> {
        self.candidates
            .iter()
            .map(|candidate| candidate.prior)
            .collect()
    }

    /// Whether nothing is wrong with the tank under this set: at most readings are off.
    pub(super) fn is_harmless(&self, set: FaultSet) -> bool {
        set.only(self.misreads) == set
    }

    /// Chance that a reading is off.
    pub(super) fn chance_of_misread() -> f64 {
        prior(&MISREAD_TEST)
    }

    /// The belief before any evidence.
    ///
    /// A tank that runs short of oxygen is not a healthy one, whatever its file says: some fault
    /// has to account for it. So the hypotheses that have it run short without one keep only
    /// [`SHORT_WITHOUT_FAULT`] of their weight.
    pub(super) fn belief(&self) -> Belief {
        let mut belief = Belief::before(
            &self.priors(),
            Arc::clone(&self.hypotheses),
            &self.doubts.map(|(_, weight)| weight),
        );
        let accounted = |class: FaultSet| class.only(self.oxygen_faults) != FaultSet::NONE;
        let kept = self
            .hypotheses
            .classes()
            .iter()
            .zip(&self.tank_of)
            .flat_map(|(class, tank)| {
                let short = if accounted(*class) {
                    [0.0; DOUBTS]
                } else {
                    self.tanks[*tank].short
                };
                short.map(|short| 1.0 - (1.0 - SHORT_WITHOUT_FAULT) * short)
            });
        belief.weigh(&Likelihoods::PerClass(kept.collect()));
        let brought =
            (self.causes.iter().enumerate()).filter(|(_, (causes, _))| *causes != FaultSet::NONE);
        let brought = brought.fold(FaultSet::NONE, |set, (fault, _)| set.with(fault));
        belief.scale(brought, |set| self.brought(set));
        belief
    }

    /// By which factor a set is likelier because one of its faults brings another of them, or rarer
    /// because none does.
    fn brought(&self, set: FaultSet) -> f64 {
        let of_fault = |fault: usize| match self.causes[fault] {
            (FaultSet::NONE, _) => 1.0,
            (causes, _) if set.only(causes) != FaultSet::NONE => BROUGHT,
            (_, alone) => alone,
        };
        set.iter().map(of_fault).product()
    }

    /// The faults that bring this one.
    pub(super) fn causes(&self, fault: usize) -> FaultSet {
        self.causes[fault].0
    }

    /// What is believed about the tank: faults and doubts weighed by the evidence. Sets that make
    /// the same tank are one member per doubt.
    pub(super) fn believed(&self, belief: &Belief) -> Ensemble {
        let mut weights = vec![[0.0; DOUBTS]; self.tanks.len()];
        for (tank, of_class) in self
            .tank_of
            .iter()
            .zip(belief.of_classes().chunks_exact(DOUBTS))
        {
            for (sum, weight) in weights[*tank].iter_mut().zip(of_class) {
                *sum += weight;
            }
        }
        let negligible = belief.evidence() * 1e-4;
        let members = self
            .tanks
            .iter()
            .zip(&weights)
            .flat_map(|(standing, weights)| {
                let each = self
                    .doubts
                    .iter()
                    .zip(weights)
                    .filter(|(_, weight)| **weight > negligible);
                each.map(|((doubt, _), weight)| Member {
                    tank: Arc::clone(&standing.tank),
                    doubt: *doubt,
                    weight: *weight,
                })
            });
        Ensemble::new(members.collect()).stirred(self.stirring)
    }
}

/// Chance of a fault before any evidence, scaled to what a case holds.
pub(super) fn prior(fault: &Fault) -> f64 {
    let total: f64 = fault::all().map(|fault| fault.rate.share()).sum();
    fault.rate.share() * FAULTS_PER_CASE / total
}

/// A reading that is off is so again by the same reagents in so many cases. A judgement.
pub(super) const OFF_AGAIN: f64 = 0.2;

/// How much of the chance that a reading is off is left by those of the last day that agree with
/// it: by the same kit it may be off again, by another one hardly. Of what is weighed several times
/// each reading speaks for itself.
fn doubt_left(observed: &Observed, index: usize) -> f64 {
    /// Hours of a day, by definition.
    const DAY_H: f64 = 24.0;
    let reading = &observed.readings[index];
    if Observed::is_weighed_repeatedly(reading.analyte) {
        return 1.0;
    }
    let agrees = |other: &&Reading| {
        let apart_h = reading
            .taken_at
            .duration_since(other.taken_at)
            .as_secs_f64()
            / 3600.0;
        let alike = (reading.value - other.value).abs() <= 2.0 * reading.spread.hypot(other.spread);
        other.analyte == reading.analyte && (0.0..DAY_H).contains(&apart_h) && alike
    };
    let earlier = observed
        .readings
        .iter()
        .enumerate()
        .filter(|(place, _)| *place != index)
        .map(|(_, other)| other);
    earlier
        .filter(agrees)
        .map(|other| {
            if other.kit == reading.kit {
                OFF_AGAIN
            } else {
                prior(&MISREAD_TEST)
            }
        })
        .fold(1.0, f64::min)
}

impl Standing {
    fn of(
        tank: Tank,
        boundless: bool,
        stirring: Stirring,
        doubts: &[(Doubt, f64); DOUBTS],
    ) -> Self {
        let course = Twin::course_of(&tank, stirring);
        let days = doubts.map(|(doubt, _)| course.scaled(doubt.exchange, doubt.demand).settled());
        let lowest = days.map(|day| day.lowest().1);
        let act_below = forecast::act_below(
            course.saturation_mg_l,
            tank.purpose.limits().oxygen_act.value,
        );
        let short =
            lowest.map(|lowest| normal_below((act_below - lowest) / MODEL_RESIDUAL_MG_L.value));
        Self {
            tank: Arc::new(tank),
            days,
            boundless,
            distress: lowest.map(distress::chances),
            act_below,
            short,
        }
    }
}

/// Every fault that can be in this tank; a misread once for each reading that is weighed.
fn candidates(Case { tank, observed }: &Case) -> Vec<Candidate> {
    let can_be = |fault: &&'static Fault| fault.needs.as_ref().is_none_or(|need| (need.met)(tank));
    let mut candidates = Vec::new();
    for fault in fault::all().filter(can_be) {
        if fault.is_misread() {
            let of_reading = |index| Candidate {
                fault,
                about: Some(index),
                prior: prior(fault) * doubt_left(observed, index),
            };
            candidates.extend(observed.weighed().into_iter().map(of_reading));
        } else {
            candidates.push(Candidate {
                fault,
                about: None,
                prior: prior(fault),
            });
        }
    }
    candidates
}

/// The candidates of which this holds.
fn those(candidates: &[Candidate], holds: &dyn Fn(&Candidate) -> bool) -> FaultSet {
    let faults = candidates
        .iter()
        .enumerate()
        .filter(|(_, candidate)| holds(candidate));
    faults.fold(FaultSet::NONE, |set, (index, _)| set.with(index))
}

/// What brings a fault, and how much rarer it is while none of that is there.
fn causes_of(brought: &Candidate, candidates: &[Candidate]) -> (FaultSet, f64) {
    let causes = those(candidates, &|candidate| {
        candidate.fault.brings.contains(&brought.fault)
    });
    let none = causes
        .iter()
        .map(|cause| 1.0 - candidates[cause].prior)
        .product::<f64>();
    let some_cause = 1.0 - none;
    (
        causes,
        ((1.0 - BROUGHT * some_cause) / (1.0 - some_cause)).max(0.1),
    )
}

/// Chance of each rung that a class of faults spares, whatever the oxygen.
fn spared(class: FaultSet, candidates: &[Candidate]) -> [f64; RUNGS] {
    std::array::from_fn(|rung| {
        class
            .iter()
            .map(|fault| 1.0 - candidates[fault].fault.distress[rung])
            .product()
    })
}

/// The tanks that the hypotheses make of one, each once.
struct Tanks<'a> {
    sound: &'a Tank,
    candidates: &'a [Candidate],
    stirring: Stirring,
    doubts: &'a [(Doubt, f64); DOUBTS],
    tanks: Vec<Standing>,
    known: HashMap<FaultSet, usize>,
}

impl<'a> Tanks<'a> {
    fn new(
        sound: &'a Tank,
        candidates: &'a [Candidate],
        stirring: Stirring,
        doubts: &'a [(Doubt, f64); DOUBTS],
    ) -> Self {
        Self {
            sound,
            candidates,
            stirring,
            doubts,
            tanks: Vec::new(),
            known: HashMap::new(),
        }
    }

    /// Place of the tank with these faults in it. Different faults may make the same tank: a slipped
    /// outlet and any other still surface.
    fn with(&mut self, faults: FaultSet) -> usize {
        if let Some(place) = self.known.get(&faults) {
            return *place;
        }
        let put_in = |tank: Tank, fault: usize| self.candidates[fault].fault.put_into(&tank);
        let faulty = faults.iter().fold(self.sound.clone(), put_in);
        let alike = self
            .tanks
            .iter()
            .position(|standing| *standing.tank == faulty);
        let place = alike.unwrap_or_else(|| {
            let boundless = faults
                .iter()
                .any(|fault| self.candidates[fault].fault.boundless);
            self.tanks
                .push(Standing::of(faulty, boundless, self.stirring, self.doubts));
            self.tanks.len() - 1
        });
        self.known.insert(faults, place);
        place
    }
}
