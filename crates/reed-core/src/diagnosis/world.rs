//! A made-up case whose truth is known: faults drawn from what the program believes of a tank, and
//! a keeper who looks at it.
//!
//! Everything a check can bring is drawn from the same chances that the differential reckons with,
//! or, to see how much hangs on them, from chances that are off by a factor and with answers that
//! are mistaken now and then.

use std::collections::HashMap;

use fastrand::Rng;
use jiff::SignedDuration;
use jiff::civil::DateTime;

use super::belief::FaultSet;
use super::check::{Check, Gives};
use super::differential::{Differential, Suspect};
use super::distress::RUNGS;
use super::evidence::{
    Draws, MEMORY, Size, Thermometer, age_of_cause, beyond_by, built_up, node, oxygen_kits,
    wholly_built_up,
};
use super::fault::oxygen::TOO_WARM;
use super::fault::{BuildsUp, Fault, Strength};
use super::finding::{self, Finding, Kind, computed, filter, limits, places, upkeep};
use super::hypothesis_space::{HypothesisSpace, OFF_AGAIN, prior};
use super::observed::{Answered, Observed};
use super::prospect::hour_to_read_oxygen;
use crate::document::Answer;
use crate::tank::{Analyte, Reading, Surface, Tank, kit};
use crate::twin::numbers::Numbers;
use crate::water::chemistry::{self, EIFAC_NH3_N_MG_L, NITRITE_LIMIT_MG_L};

/// How far the world is from what the program believes of it.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Perturbation {
    /// Every strength, leak, rate and window of time is off by up to this factor, either way.
    pub(crate) factor: f64,
    /// Share of answers that are mistaken; of what is itself a fault, share of those who say they
    /// saw it.
    pub(crate) mistaken: f64,
}

impl Perturbation {
    /// A chance, off by up to the factor.
    fn of(self, chance: f64, rng: &mut Rng) -> f64 {
        (chance * self.stretch(rng)).min(chance.max(0.98))
    }

    /// By how much something is off.
    fn stretch(self, rng: &mut Rng) -> f64 {
        self.factor.powf(2.0 * rng.f64() - 1.0)
    }
}

/// A tank with faults that are known here and nowhere else.
pub(crate) struct World<'a> {
    tank: &'a Tank,
    /// What is believed of the tank before anything is asked; its candidates number the faults.
    base: &'a Differential,
    faults: FaultSet,
    class: usize,
    doubt: usize,
    off: Perturbation,
    /// How far its faults lower the oxygen, against what the twin reckons.
    size: Size,
    /// Share of readings that are misread.
    misread: f64,
    /// How high on the ladder of distress the animals stand: all rungs of a chance above this show.
    distress: f64,
    /// As `distress`, for the two steps of the nitrogen poisons; and whether it is nitrite that is
    /// there, ammonia or both.
    nitrogen: f64,
    nitrogen_is: [bool; 2],
    /// How likely each finding is to show in this world, once it was wanted.
    chances: HashMap<&'static str, f64>,
    /// What shows, once it was looked at.
    shown: HashMap<&'static str, bool>,
    /// By reading, whether it was misread.
    misreads: Vec<bool>,
    rng: Rng,
}

impl<'a> World<'a> {
    /// Draws faults for this tank from what is believed of it.
    pub(crate) fn draw(
        tank: &'a Tank,
        base: &'a Differential,
        off: Perturbation,
        mut rng: Rng,
    ) -> Self {
        let weighed = &base.weighed;
        let hypotheses = weighed.posterior.hypotheses();
        let rates: Vec<f64> = (0..hypotheses.faults())
            .map(|_| off.stretch(&mut rng))
            .collect();
        let weights: Vec<f64> = weighed
            .posterior
            .of_sets()
            .expect("no evidence is impossible")
            .into_iter()
            .zip(hypotheses.products(&rates))
            .map(|(weight, rate)| weight * rate)
            .collect();
        let set = pick(&weights, &mut rng);
        let class = hypotheses.class_of(set);
        let of_classes = weighed.posterior.of_classes();
        let doubts = of_classes.len() / hypotheses.classes().len();
        let doubt = pick(&of_classes[class * doubts..][..doubts], &mut rng);
        let nitrogen_is =
            [[true, false], [true, false], [false, true], [true, true]][rng.usize(..4)];
        Self {
            faults: hypotheses.sets()[set],
            class,
            doubt,
            size: Size {
                uniform: rng.f64(),
                exponential: exponential(&mut rng),
                normal: normal(&mut rng),
            },
            misread: HypothesisSpace::chance_of_misread(),
            distress: rng.f64(),
            nitrogen: rng.f64(),
            nitrogen_is,
            chances: HashMap::new(),
            shown: HashMap::new(),
            misreads: Vec::new(),
            tank,
            base,
            off,
            rng,
        }
    }

    /// Nothing is wrong with the tank.
    pub(crate) fn is_healthy(&self) -> bool {
        self.faults == FaultSet::NONE
    }

    /// Whether a suspect is guilty.
    pub(crate) fn holds(&self, suspect: &Suspect) -> bool {
        match suspect.about {
            Some(reading) => self.misreads[reading],
            None => self.has(suspect.fault),
        }
    }

    /// Whether it has this fault.
    pub(crate) fn has(&self, fault: &Fault) -> bool {
        self.base
            .weighed
            .space
            .position(fault)
            .is_some_and(|place| self.faults.has(place))
    }

    /// Does a check and enters what it brings.
    pub(crate) fn enter(
        &mut self,
        check: &Check,
        analyte: Option<&'static Analyte>,
        observed: &mut Observed,
    ) {
        let to_read = match &check.gives {
            Gives::Answer(finding) => {
                let answered = self.answer(finding, observed.now);
                observed.answers.push(answered);
                None
            }
            Gives::Reading(analyte) => Some(*analyte),
            Gives::Repeat => analyte,
        };
        if let Some(analyte) = to_read {
            let reading = self.read(analyte, observed);
            observed.readings.push(reading);
        }
        // Repeats are told apart by their time.
        observed.now += SignedDuration::from_mins(5);
    }

    fn answer(&mut self, finding: &'static Finding, now: DateTime) -> Answered {
        if let Some(day) = self.tank.set_up.filter(|_| finding == &upkeep::TANK_SET_UP) {
            return Answered::new(finding, Answer::Yes, day.at(0, 0, 0, 0));
        }
        if let Kind::Event { usual_days } = finding.kind {
            let days = self.days_since(finding, usual_days);
            let answer = if days.is_some() {
                Answer::Yes
            } else {
                Answer::No
            };
            let ago = days
                .and_then(crate::units::span_of_days)
                .unwrap_or_default();
            return Answered::new(finding, answer, now - ago);
        }
        let shows = match finding.kind {
            Kind::Rung(rung) => self.distress < self.rungs()[rung],
            _ => self.shows(finding),
        };
        let candidates = &self.base.weighed.space.candidates;
        let itself = candidates
            .iter()
            .find(|candidate| candidate.fault.signs.contains(&(finding, Strength::Itself)));
        // Nobody claims to have seen a cracked hose once in twenty looks at whole ones.
        let rarity = itself
            .filter(|_| !shows)
            .map_or(1.0, |candidate| prior(candidate.fault));
        let mistaken = self.rng.f64() < self.off.mistaken * rarity;
        Answered::new(
            finding,
            if shows == mistaken {
                Answer::No
            } else {
                Answer::Yes
            },
            now,
        )
    }

    fn rungs(&self) -> [f64; RUNGS] {
        self.base.weighed.space.rung_chances(self.class, self.doubt)
    }

    /// Chance that a finding shows, as far off as the world is.
    fn chance(&mut self, finding: &'static Finding) -> f64 {
        if let Some(chance) = self.chances.get(finding.id) {
            return *chance;
        }
        let candidates = &self.base.weighed.space.candidates;
        let mut node = node(candidates, finding);
        node.leak = self.off.of(node.leak, &mut self.rng);
        for (_, strength) in &mut node.links {
            *strength = self.off.of(*strength, &mut self.rng);
        }
        let against = self
            .faults
            .iter()
            .filter(|fault| candidates[*fault].fault.against.contains(&finding))
            .count();
        let chance = node.chance(self.faults) * 0.1_f64.powi(i32::try_from(against).unwrap_or(0));
        self.chances.insert(finding.id, chance);
        chance
    }

    /// Whether a finding shows; asked twice it answers the same.
    fn shows(&mut self, finding: &'static Finding) -> bool {
        // What the file says already is part of what the faults were drawn from.
        if finding == &places::SURFACE_FLAT && self.tank.surface <= Surface::Still {
            return true;
        }
        if let Some(shows) = self.shown.get(finding.id) {
            return *shows;
        }
        let shows = self.rng.f64() < self.chance(finding);
        self.shown.insert(finding.id, shows);
        shows
    }

    /// Days since the latest such event, if it happened in living memory: before a fault that it
    /// precedes, or at any time, and then longer ago where something has built up since.
    fn days_since(&mut self, finding: &Finding, usual_days: f64) -> Option<f64> {
        let candidates = &self.base.weighed.space.candidates;
        let faults: Vec<&'static Fault> = self
            .faults
            .iter()
            .map(|fault| candidates[fault].fault)
            .collect();
        let builds: Vec<&BuildsUp> = faults
            .iter()
            .filter_map(|fault| fault.builds_up.as_ref())
            .filter(|builds| builds.since == finding)
            .collect();
        let mut days = loop {
            let days = -usual_days * (1.0 - self.rng.f64()).ln();
            let kept: f64 = builds
                .iter()
                .map(|builds| {
                    built_up(builds, usual_days, days) / wholly_built_up(builds, usual_days)
                })
                .product();
            if self.rng.f64() < kept {
                break days;
            }
        };
        for link in faults
            .iter()
            .flat_map(|fault| fault.events)
            .filter(|link| link.event == finding)
        {
            let chance = self.off.of(link.strength.chance(), &mut self.rng);
            if self.rng.f64() < chance {
                days = days.min(
                    link.window_days
                        * self.off.stretch(&mut self.rng)
                        * age_of_cause(self.rng.f64()),
                );
            }
        }
        (days < MEMORY * usual_days).then_some(days)
    }

    fn read(&mut self, analyte: &'static Analyte, observed: &Observed) -> Reading {
        let mut at = observed.now;
        let off_before = observed
            .readings
            .iter()
            .zip(&self.misreads)
            .any(|(reading, off)| *off && reading.analyte == analyte);
        let misread = self.rng.f64() < if off_before { OFF_AGAIN } else { self.misread };
        self.misreads.push(misread);
        let spread = kit::first_for(analyte).spread;
        let value = match analyte.id {
            "do" => {
                let hour =
                    hour_to_read_oxygen(&self.tank.plants, &observed.readings).unwrap_or(8.5);
                at = at.date().at(0, 0, 0, 0)
                    + SignedDuration::try_from_secs_f64(hour.rem_euclid(24.0) * 3600.0)
                        .unwrap_or_default();
                // A repeat at the same hour is still a later one.
                at +=
                    SignedDuration::from_secs(i64::try_from(observed.readings.len()).unwrap_or(0));
                let space = &self.base.weighed.space;
                let kit = oxygen_kits(space, hour, spread)[space.tank_of(self.class)][self.doubt];
                kit.shows(self.size, misread, self.draws())
            }
            "temperature" => {
                let draws = self.draws();
                Thermometer::in_tank(self.tank, spread).shows(self.has(&TOO_WARM), misread, draws)
            }
            "flow" => {
                let weak = self.side(&filter::FLOW_WEAK, misread);
                Numbers::of(self.tank).flow_l_per_h * if weak { 0.3 } else { 1.0 }
            }
            "nitrite" => match self.nitrogen_step(0, misread) {
                0 => 0.0,
                1 => 0.75 * NITRITE_LIMIT_MG_L,
                _ => self.beyond(&computed::TOXIC_NITROGEN, NITRITE_LIMIT_MG_L, true, misread),
            },
            "tan" => {
                let harmful = EIFAC_NH3_N_MG_L
                    / chemistry::un_ionised_share(self.tank.water_temperature(), 7.5);
                match self.nitrogen_step(1, misread) {
                    _ if self.tank.binds_ammonia() => 0.0,
                    0 => 0.0,
                    1 => 0.3_f64.min(harmful),
                    _ => self.beyond(&computed::TOXIC_NITROGEN, harmful, true, misread),
                }
            }
            "ph" => self.ph(misread),
            "tap-ph" => {
                self.ph(false)
                    + if self.side(&limits::PH_FAR_BELOW_TAP, misread) {
                        1.5
                    } else {
                        0.1
                    }
            }
            "kh" => self.kh(misread),
            _ => self.against_its_limit(analyte, spread, misread),
        };
        Reading::usual(analyte, value.clamp(analyte.low, analyte.high), at)
    }

    /// On which side of its threshold a reading falls: as it is, or when it is misread on either.
    fn side(&mut self, finding: &'static Finding, misread: bool) -> bool {
        if misread {
            self.rng.bool()
        } else {
            self.shows(finding)
        }
    }

    /// 0 nothing to read, 1 something, 2 enough to harm.
    fn nitrogen_step(&mut self, which: usize, misread: bool) -> usize {
        if misread {
            return self.rng.usize(..3);
        }
        let some = self.chance(&computed::NITROGEN_MEASURABLE);
        let harm = self.chance(&computed::TOXIC_NITROGEN).min(some);
        let step = usize::from(self.nitrogen < some) + usize::from(self.nitrogen < harm);
        if self.nitrogen_is[which] { step } else { 0 }
    }

    fn kh(&mut self, misread: bool) -> f64 {
        if self.side(&limits::KH_LOW, misread) {
            1.5
        } else {
            6.0
        }
    }

    /// The pH at which this hardness means much carbon dioxide, or little.
    fn ph(&mut self, misread: bool) -> f64 {
        let kh = self.kh(false);
        let wanted = if self.side(&computed::CO2_COMPUTED, misread) {
            70.0
        } else {
            6.0
        };
        7.0 + (chemistry::from_ph_and_kh(7.0, kh).as_mg_l() / wanted).log10()
    }

    fn against_its_limit(&mut self, analyte: &'static Analyte, spread: f64, misread: bool) -> f64 {
        let limit = finding::all().find_map(|finding| match finding.kind {
            Kind::Read(limit) if limit.analyte == analyte => Some((finding, limit)),
            _ => None,
        });
        let Some((finding, limit)) = limit else {
            return analyte.low;
        };
        let read = if self.side(finding, misread) {
            self.beyond(finding, limit.value, limit.above, misread)
        } else {
            limit.value * if limit.above { 0.5 } else { 1.5 }
        };
        read + spread * normal(&mut self.rng)
    }

    /// A value beyond its limit: as far as faults bring it, or as it comes without.
    fn beyond(&mut self, finding: &Finding, limit: f64, above: bool, misread: bool) -> f64 {
        let candidates = &self.base.weighed.space.candidates;
        let links = node(candidates, finding).links;
        let with_fault = !misread && links.iter().any(|(fault, _)| self.faults.has(*fault));
        let by = beyond_by(exponential(&mut self.rng), with_fault, limit, above);
        limit + if above { by } else { -by }
    }

    fn draws(&mut self) -> Draws {
        let sign = if self.rng.bool() { 1.0 } else { -1.0 };
        Draws {
            exponential: exponential(&mut self.rng),
            normal: normal(&mut self.rng),
            sign,
        }
    }
}

/// A draw from the exponential distribution of mean one.
fn exponential(rng: &mut Rng) -> f64 {
    -(1.0 - rng.f64()).ln()
}

/// A draw from the standard normal distribution, by Box and Muller.
fn normal(rng: &mut Rng) -> f64 {
    let (radius, angle) = (1.0 - rng.f64(), std::f64::consts::TAU * rng.f64());
    (-2.0 * radius.ln()).sqrt() * angle.cos()
}

/// A place, drawn by weight.
fn pick(weights: &[f64], rng: &mut Rng) -> usize {
    let mut left = rng.f64() * weights.iter().sum::<f64>();
    weights
        .iter()
        .position(|weight| {
            left -= weight;
            left < 0.0
        })
        .unwrap_or(0)
}
