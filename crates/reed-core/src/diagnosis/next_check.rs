//! What to look at next: the check that is expected to tell most for its effort.

use super::belief::{Belief, FaultSet, information_bits};
use super::check::{self, Check, Gives};
use super::evidence::{Rungs, expected_temperature, node, oxygen_spread};
use super::fault::Fault;
use super::fault::oxygen::TOO_WARM;
use super::finding::{self, Finding, Kind, computed, events, filter, upkeep};
use super::observed::{Answer, Observed};
use super::space::Space;
use crate::forecast::{DOUBTS, normal_below};
use crate::tank::{Analyte, Tank, kit};

/// A check worth doing.
#[derive(Clone, Debug)]
pub struct Proposal {
    /// The check.
    pub check: &'static Check,
    /// What is read by it: for a repeat, what is in doubt.
    pub analyte: Option<&'static Analyte>,
    /// What it is expected to tell about the set of faults, in bits.
    pub bits: f64,
    /// Bits per minute of effort: what proposals are sorted by.
    pub bits_per_minute: f64,
    /// For the best one, if it is a question: the two faults it tells apart best, with the chance of a yes under each.
    pub tells_apart: Option<[(&'static Fault, f64); 2]>,
}

/// Below this many bits a check is not proposed at all.
const LEAST_BITS: f64 = 0.005;
/// Sets below this probability are left out of the comparison of checks.
const NEGLIGIBLE: f64 = 5e-5;
/// A filter that was opened within so many days is left shut: each opening disturbs its colony. Common practice.
const LEFT_SHUT_DAYS: f64 = 7.0;
/// A misread this likely is worth a repeat.
const DOUBTFUL: f64 = 0.05;

/// All checks that would tell something, best first.
pub(super) fn proposals(space: &Space, belief: &Belief, tank: &Tank, observed: &Observed, of_faults: &[f64]) -> Vec<Proposal> {
    let of_sets = belief.of_sets().expect("no evidence is impossible");
    // The questions are only compared with each other; sets this unlikely do not change their order.
    let kept: Vec<usize> = (0..of_sets.len()).filter(|set| of_sets[*set] >= NEGLIGIBLE).collect();
    let belief = belief.restricted(&kept);
    let of_sets = belief.of_sets().expect("no evidence is impossible");
    let asker = Asker { space, belief, of_sets, tank, observed };
    let doubtful = observed
        .weighed()
        .into_iter()
        .map(|index| (of_faults[space.misread_of(index)], observed.readings[index].analyte))
        .filter(|(chance, _)| *chance > DOUBTFUL)
        .max_by(|a, b| a.0.total_cmp(&b.0));
    let left_shut = opened_lately(observed);
    let mut proposals: Vec<Proposal> = check::all()
        .filter(|check| !(check.opens_filter && left_shut))
        .filter_map(|check| {
            let (analyte, bits) = match &check.gives {
                Gives::Answer(finding) => (None, asker.question_bits(finding)?),
                Gives::Reading(analyte) => (Some(*analyte), asker.reading_bits(analyte)?),
                Gives::Repeat => {
                    let (_, analyte) = doubtful?;
                    (Some(analyte), asker.repeat_bits(analyte))
                }
            };
            Some(Proposal { check, analyte, bits, bits_per_minute: bits / check.effort_minutes(), tells_apart: None })
        })
        .filter(|proposal| proposal.bits >= LEAST_BITS)
        .collect();
    proposals.sort_by(|a, b| b.bits_per_minute.total_cmp(&a.bits_per_minute));
    if let Some(best) = proposals.first_mut()
        && let Gives::Answer(finding) = &best.check.gives
    {
        best.tells_apart = asker.tells_apart(finding, of_faults);
    }
    proposals
}

/// Some filter was opened so lately that it should be left shut.
fn opened_lately(observed: &Observed) -> bool {
    [&upkeep::FILTER_CLEANED, &upkeep::MEDIA_REPLACED, &upkeep::IMPELLER_SERVICED].into_iter().any(|event| {
        observed.answer(event).is_some_and(|answered| {
            let days = observed.now.duration_since(answered.at).as_secs_f64() / 86_400.0;
            answered.answer == Answer::Yes && days < LEFT_SHUT_DAYS
        })
    })
}

struct Asker<'a> {
    space: &'a Space,
    /// About the sets that are not negligible.
    belief: Belief,
    of_sets: Vec<f64>,
    tank: &'a Tank,
    observed: &'a Observed,
}

impl Asker<'_> {
    /// Bits of a question; `None` when it is answered, or its answer follows from another.
    fn question_bits(&self, finding: &Finding) -> Option<f64> {
        let measured = finding == &filter::FLOW_WEAK && self.observed.latest(Analyte::FLOW).is_some();
        if measured || self.observed.answer(finding).is_some() {
            return None;
        }
        match finding.kind {
            Kind::Rung(rung) => self.rung_bits(rung),
            _ => {
                let chance = self.chance_by_set(finding);
                Some(self.bits_of(&chance))
            }
        }
    }

    /// Bits of a yes-or-no question with these chances of a yes under each set.
    fn bits_of(&self, chance: &[f64]) -> f64 {
        information_bits(&self.of_sets, |set| [chance[set], 1.0 - chance[set]])
    }

    /// Chance of a yes under each set.
    fn chance_by_set(&self, finding: &Finding) -> Vec<f64> {
        if let Kind::Event { .. } = finding.kind {
            return self.belief.hypotheses().sets().iter().map(|set| self.event_chance(*set, finding)).collect();
        }
        node(&self.space.candidates, finding).chances(self.belief.hypotheses())
    }

    /// Chance that an event happened shortly before, given these faults.
    fn event_chance(&self, set: FaultSet, finding: &Finding) -> f64 {
        set.iter()
            .filter_map(|fault| self.space.candidates[fault].fault.events.iter().find(|link| link.event == finding))
            .map(|link| link.strength.chance())
            .fold(events::chance_at_any_time(finding, 1.0), f64::max)
    }

    /// Chance of a yes with this fault alone.
    fn chance_alone(&self, fault: usize, finding: &Finding) -> f64 {
        let set = FaultSet::NONE.with(fault);
        if let Kind::Event { .. } = finding.kind {
            self.event_chance(set, finding)
        } else {
            node(&self.space.candidates, finding).chance(set)
        }
    }

    /// A rung between the highest seen and the lowest denied.
    fn rung_bits(&self, rung: usize) -> Option<f64> {
        let known = Rungs::of(self.observed);
        let open = known.at_least.is_none_or(|seen| rung > seen) && known.below.is_none_or(|not| rung < not);
        open.then(|| {
            let chances = self.belief.over_doubts(|class, doubt| {
                let chances = self.space.rung_chances(class, doubt);
                let yes = Rungs { at_least: Some(rung), ..known }.chance(&chances) / known.chance(&chances);
                [yes.min(1.0), 1.0 - yes.min(1.0)]
            });
            information_bits(&self.of_sets, |set| chances[set])
        })
    }

    /// Bits of a first reading of an analyte (of oxygen also a second, at the other end of the day).
    fn reading_bits(&self, analyte: &Analyte) -> Option<f64> {
        let taken = self.observed.readings.iter().filter(|reading| reading.analyte == analyte).count();
        if analyte == Analyte::OXYGEN {
            let dawn = self.tank.plants.lights_on.as_hours();
            let dusk = dawn + self.tank.plants.light.as_hours();
            let near = |hour: f64| {
                self.observed.readings.iter().filter(|reading| reading.analyte == analyte).any(|reading| {
                    let apart = (reading.hour_of_day() - hour).rem_euclid(24.0);
                    apart.min(24.0 - apart) < 3.0
                })
            };
            return match (near(dawn), near(dusk)) {
                (true, true) => None,
                (true, false) => Some(self.oxygen_bits(dusk)),
                (false, _) => Some(self.oxygen_bits(dawn)),
            };
        }
        (taken == 0).then(|| self.repeat_bits(analyte))
    }

    /// Bits of one more reading of this analyte, whatever was read before.
    fn repeat_bits(&self, analyte: &Analyte) -> f64 {
        let against = |finding: &&'static Finding| matches!(finding.kind, Kind::Read(limit) if limit.analyte == analyte);
        let limits = finding::all().filter(against).map(|finding| self.threshold_bits(finding, 0.8)).fold(0.0, f64::max);
        let computed = match analyte.id {
            "do" => self.oxygen_bits(crate::tank::hour_of_day(self.observed.now)),
            "temperature" => self.temperature_bits(),
            "flow" => self.threshold_bits(&filter::FLOW_WEAK, 0.9),
            "nitrite" | "tan" => {
                let steps = [&computed::NITROGEN_MEASURABLE, &computed::TOXIC_NITROGEN];
                steps.map(|finding| self.threshold_bits(finding, 0.6)).into_iter().fold(0.0, f64::max)
            }
            // Either of pH and hardness tells nothing about carbon dioxide without the other.
            "ph" | "kh" => {
                let other = if analyte == Analyte::PH { Analyte::KH } else { Analyte::PH };
                self.threshold_bits(&computed::CO2_COMPUTED, if self.observed.latest(other).is_some() { 0.8 } else { 0.4 })
            }
            _ => 0.0,
        };
        limits.max(computed)
    }

    fn oxygen_bits(&self, hour: f64) -> f64 {
        /// Answers told apart: 1 mg/L each, from 2 to 8, and the ends.
        const EDGES: [f64; 7] = [2.0, 3.0, 4.0, 5.0, 6.0, 7.0, 8.0];
        let spread = oxygen_spread(kit::first_for(Analyte::OXYGEN).spread);
        let expected = self.space.at_hour(hour);
        let bins: Vec<[[f64; EDGES.len() + 1]; DOUBTS]> =
            expected.iter().map(|class| class.map(|mean| bins(&EDGES.map(|edge| normal_below((edge - mean) / spread))))).collect();
        let chances = self.belief.over_doubts(|class, doubt| bins[class][doubt]);
        information_bits(&self.of_sets, |set| chances[set])
    }

    fn temperature_bits(&self) -> f64 {
        let warm = self.space.position(&TOO_WARM);
        let usual = self.tank.temperature.as_celsius();
        let edges = [-1.0, 1.0, 2.0, 4.0].map(|step| usual + step);
        let bins_of = |too_warm| {
            let (mean, spread) = expected_temperature(self.tank, too_warm);
            bins::<4, 5>(&edges.map(|edge| normal_below((edge - mean) / spread)))
        };
        let (with, without) = (bins_of(true), bins_of(false));
        information_bits(&self.of_sets, |set| {
            if warm.is_some_and(|warm| self.belief.hypotheses().sets()[set].has(warm)) { with } else { without }
        })
    }

    /// A finding that is read against a threshold, with the share of what it would tell if it were sure.
    fn threshold_bits(&self, finding: &Finding, share: f64) -> f64 {
        let chance = self.chance_by_set(finding);
        share * self.bits_of(&chance)
    }

    /// The two likely faults under which the chances of a yes differ most.
    fn tells_apart(&self, finding: &Finding, of_faults: &[f64]) -> Option<[(&'static Fault, f64); 2]> {
        if matches!(finding.kind, Kind::Rung(_)) {
            return None;
        }
        let alone =
            self.space.candidates.iter().enumerate().filter(|(fault, candidate)| of_faults[*fault] > 0.03 && candidate.about.is_none());
        let chances: Vec<_> = alone.map(|(fault, candidate)| (candidate.fault, self.chance_alone(fault, finding))).collect();
        let most = chances.iter().max_by(|a, b| a.1.total_cmp(&b.1))?;
        let least = chances.iter().min_by(|a, b| a.1.total_cmp(&b.1))?;
        (most.1 > least.1 + 0.2).then_some([*most, *least])
    }
}

/// Chances of the bins between edges, from the chances of being below each edge.
fn bins<const EDGES: usize, const BINS: usize>(below: &[f64; EDGES]) -> [f64; BINS] {
    std::array::from_fn(|bin| {
        let (low, high) = (if bin == 0 { 0.0 } else { below[bin - 1] }, if bin < EDGES { below[bin] } else { 1.0 });
        (high - low).max(0.0)
    })
}
