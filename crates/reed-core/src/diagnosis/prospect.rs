//! What a check can bring: each answer with its chance under every set of faults that is still
//! believed in.

use super::belief::{Belief, FaultSet, information_bits};
use super::case::Case;
use super::check::{Check, Gives};
use super::evidence::{Rungs, Thermometer, node, oxygen_kits, too_warm, weakest_by_bucket};
use super::fault::Fault;
use super::finding::{self, Finding, Kind, computed, events, filter};
use super::hypothesis_space::HypothesisSpace;
use crate::outlook::forecast::DOUBTS;
use crate::tank::{Analyte, Plants, Reading, kit};

/// Chance of each answer under each set: `[answer][set]`, the yes of a question first.
#[derive(Clone, Debug)]
pub(super) struct Prospect(pub(super) Vec<Vec<f64>>);

impl Prospect {
    fn question(yes: Vec<f64>) -> Self {
        let no = yes.iter().map(|chance| 1.0 - chance).collect();
        Self(vec![yes, no])
    }

    /// A reading against a limit that comes out on the wrong side in this share of cases.
    fn limit(mut beyond: Vec<f64>, wrong: f64) -> Self {
        beyond
            .iter_mut()
            .for_each(|chance| *chance = wrong + (1.0 - 2.0 * wrong) * *chance);
        Self::question(beyond)
    }

    fn transposed<const ANSWERS: usize>(of_sets: &[[f64; ANSWERS]]) -> Self {
        Self(
            (0..ANSWERS)
                .map(|answer| of_sets.iter().map(|chances| chances[answer]).collect())
                .collect(),
        )
    }
}

/// The sets still believed in, what is known, and whom it is asked about.
pub(super) struct Asker<'a> {
    pub(super) space: &'a HypothesisSpace,
    /// About the sets that are not negligible.
    pub(super) belief: &'a Belief,
    pub(super) of_sets: &'a [f64],
    pub(super) case: &'a Case,
}

impl Asker<'_> {
    /// What a check can bring, and for a reading of what; `None` when it is answered or its answer
    /// follows from another.
    ///
    /// `doubtful` is the analyte whose reading may be worth a repeat.
    pub(super) fn prospect(
        &self,
        check: &Check,
        doubtful: Option<&'static Analyte>,
    ) -> Option<(Option<&'static Analyte>, Prospect)> {
        match &check.gives {
            Gives::Answer(finding) => Some((None, self.question(finding)?)),
            Gives::Reading(analyte) => Some((Some(*analyte), self.reading(analyte)?)),
            Gives::Repeat => Some((doubtful, self.another_reading(doubtful?)?)),
        }
    }

    /// Bits of information about the set of faults.
    pub(super) fn bits(&self, prospect: &Prospect) -> f64 {
        information_bits(self.of_sets, &prospect.0)
    }

    /// Chance that this is so.
    pub(super) fn chance(&self, finding: &Finding) -> f64 {
        self.chance_by_set(finding)
            .iter()
            .zip(self.of_sets)
            .map(|(chance, of_set)| chance * of_set)
            .sum()
    }

    fn question(&self, finding: &Finding) -> Option<Prospect> {
        let Case { tank, observed } = self.case;
        let measured = finding == &filter::FLOW_WEAK
            && (observed.latest(Analyte::FLOW).is_some()
                || weakest_by_bucket(tank, observed.now).is_some());
        if measured || observed.known(finding).is_some() {
            return None;
        }
        match finding.kind {
            Kind::Rung(rung) => self.rung(rung),
            _ => Some(Prospect::question(self.chance_by_set(finding))),
        }
    }

    /// Chance of a yes under each set.
    fn chance_by_set(&self, finding: &Finding) -> Vec<f64> {
        if let Kind::Event { usual_days } = finding.kind {
            return self
                .belief
                .hypotheses()
                .sets()
                .iter()
                .map(|set| self.event_chance(*set, finding, usual_days))
                .collect();
        }
        node(&self.space.candidates, finding).chances(self.belief.hypotheses())
    }

    /// Chance that an event happened shortly before, given these faults.
    fn event_chance(&self, set: FaultSet, finding: &Finding, usual_days: f64) -> f64 {
        set.iter()
            .filter_map(|fault| {
                self.space.candidates[fault]
                    .fault
                    .events
                    .iter()
                    .find(|link| link.event == finding)
            })
            .map(|link| link.strength.chance())
            .fold(
                events::ordinarily_within(finding, usual_days, 1.0),
                f64::max,
            )
    }

    /// Chance of a yes with this fault alone.
    fn chance_alone(&self, fault: usize, finding: &Finding) -> f64 {
        let set = FaultSet::NONE.with(fault);
        if let Kind::Event { usual_days } = finding.kind {
            self.event_chance(set, finding, usual_days)
        } else {
            node(&self.space.candidates, finding).chance(set)
        }
    }

    /// A rung between the highest seen and the lowest denied.
    fn rung(&self, rung: usize) -> Option<Prospect> {
        let known = Rungs::of(&self.case.observed);
        let open = known.at_least.is_none_or(|seen| rung > seen)
            && known.below.is_none_or(|not| rung < not);
        open.then(|| {
            Prospect::transposed(&self.belief.over_doubts(|class, doubt| {
                let chances = self.space.rung_chances(class, doubt);
                let yes = (Rungs {
                    at_least: Some(rung),
                    ..known
                }
                .chance(&chances)
                    / known.chance(&chances))
                .min(1.0);
                [yes, 1.0 - yes]
            }))
        })
    }

    /// A first reading of an analyte (of oxygen also a second, at the other end of the day).
    fn reading(&self, analyte: &Analyte) -> Option<Prospect> {
        if analyte != Analyte::OXYGEN {
            return self
                .case
                .observed
                .latest(analyte)
                .is_none()
                .then(|| self.another_reading(analyte))
                .flatten();
        }
        hour_to_read_oxygen(&self.case.tank.plants, &self.case.observed.readings)
            .map(|hour| self.oxygen(hour))
    }

    /// One more reading of this analyte, whatever was read before: of all that it can be held
    /// against what tells most.
    fn another_reading(&self, analyte: &Analyte) -> Option<Prospect> {
        let against = |finding: &&'static Finding| matches!(finding.kind, Kind::Read(limit) if limit.analyte == analyte);
        let limit =
            |finding: &Finding, wrong: f64| Prospect::limit(self.chance_by_set(finding), wrong);
        let mut prospects: Vec<Prospect> = finding::all()
            .filter(against)
            .map(|finding| limit(finding, 0.03))
            .collect();
        match analyte.id {
            "do" => prospects.push(self.oxygen(crate::tank::hour_of_day(self.case.observed.now))),
            "temperature" => prospects.push(self.temperature()),
            "flow" => prospects.push(limit(&filter::FLOW_WEAK, 0.02)),
            // Either alone leaves the other open.
            "nitrite" | "tan" => {
                prospects.extend(
                    [&computed::NITROGEN_MEASURABLE, &computed::TOXIC_NITROGEN]
                        .map(|finding| limit(finding, 0.1)),
                );
            }
            // Either of pH and hardness tells nothing about carbon dioxide without the other.
            "ph" | "kh" => {
                let other = if analyte == Analyte::PH {
                    Analyte::KH
                } else {
                    Analyte::PH
                };
                prospects.push(limit(
                    &computed::CO2_COMPUTED,
                    if self.case.observed.latest(other).is_some() {
                        0.03
                    } else {
                        0.15
                    },
                ));
            }
            _ => {}
        }
        prospects
            .into_iter()
            .map(|prospect| (self.bits(&prospect), prospect))
            .max_by(|a, b| a.0.total_cmp(&b.0))
            .map(|(_, most)| most)
    }

    fn oxygen(&self, hour: f64) -> Prospect {
        /// Answers told apart: 1 mg/L each, from 2 to 8, and the ends. A judgement.
        const EDGES: [f64; 7] = [2.0, 3.0, 4.0, 5.0, 6.0, 7.0, 8.0];
        let kits = oxygen_kits(self.space, hour, kit::first_for(Analyte::OXYGEN).spread);
        let bins: Vec<[[f64; EDGES.len() + 1]; DOUBTS]> = kits
            .into_iter()
            .map(|kits| kits.map(|kit| bins(&EDGES.map(|edge| kit.below(edge)))))
            .collect();
        Prospect::transposed(
            &self
                .belief
                .over_doubts(|class, doubt| bins[self.space.tank_of(class)][doubt]),
        )
    }

    fn temperature(&self) -> Prospect {
        let warm = too_warm(self.space);
        let usual = self.case.tank.temperature.as_celsius();
        let edges = [-1.0, 1.0, 2.0, 4.0].map(|step| usual + step);
        let thermometer =
            Thermometer::in_tank(&self.case.tank, kit::first_for(Analyte::TEMPERATURE).spread);
        let [without, with] = [false, true]
            .map(|too_warm| bins::<4, 5>(&edges.map(|edge| thermometer.below(edge, too_warm))));
        let of = |set: &FaultSet| {
            if warm.is_some_and(|warm| set.has(warm)) {
                with
            } else {
                without
            }
        };
        Prospect::transposed(
            &self
                .belief
                .hypotheses()
                .sets()
                .iter()
                .map(of)
                .collect::<Vec<_>>(),
        )
    }

    /// The two likely faults under which the chances of a yes differ most.
    pub(super) fn tells_apart(
        &self,
        finding: &Finding,
        of_faults: &[f64],
    ) -> Option<[(&'static Fault, f64); 2]> {
        if matches!(finding.kind, Kind::Rung(_)) {
            return None;
        }
        let alone = self
            .space
            .candidates
            .iter()
            .enumerate()
            .filter(|(fault, candidate)| of_faults[*fault] > 0.03 && candidate.about.is_none());
        let chances: Vec<_> = alone
            .map(|(fault, candidate)| (candidate.fault, self.chance_alone(fault, finding)))
            .collect();
        let most = chances.iter().max_by(|a, b| a.1.total_cmp(&b.1))?;
        let least = chances.iter().min_by(|a, b| a.1.total_cmp(&b.1))?;
        (most.1 > least.1 + 0.2).then_some([*most, *least])
    }
}

/// The hour at which a reading of oxygen tells most: before the lights come on, then before they go
/// out; `None` once both were taken.
pub(super) fn hour_to_read_oxygen(plants: &Plants, readings: &[Reading]) -> Option<f64> {
    let dawn = plants.lights_on.as_hours();
    let dusk = dawn + plants.light.as_hours();
    let taken_near = |hour: f64| {
        readings
            .iter()
            .filter(|reading| reading.analyte == Analyte::OXYGEN)
            .any(|reading| {
                let apart = (reading.hour_of_day() - hour).rem_euclid(24.0);
                apart.min(24.0 - apart) < 3.0
            })
    };
    [dawn, dusk].into_iter().find(|hour| !taken_near(*hour))
}

/// Chances of the bins between edges, from the chances of being below each edge.
fn bins<const EDGES: usize, const BINS: usize>(below: &[f64; EDGES]) -> [f64; BINS] {
    std::array::from_fn(|bin| {
        let (low, high) = (
            if bin == 0 { 0.0 } else { below[bin - 1] },
            if bin < EDGES { below[bin] } else { 1.0 },
        );
        (high - low).max(0.0)
    })
}

/// Sets below this share of the likeliest one change no decision. Numeric, no result hangs on it.
const UNDECISIVE: f64 = 2e-3;

/// The sets still believed in and what each proposed check would answer under each.
pub(super) struct Ahead {
    pub(super) sets: Vec<FaultSet>,
    pub(super) of_sets: Vec<f64>,
    pub(super) prospects: Vec<Prospect>,
}

impl Ahead {
    pub(super) const fn new(
        sets: Vec<FaultSet>,
        of_sets: Vec<f64>,
        prospects: Vec<Prospect>,
    ) -> Self {
        Self {
            sets,
            of_sets,
            prospects,
        }
    }

    /// Only what can change a decision; the weights that are left sum to one.
    pub(super) fn narrowed(&self) -> Self {
        let least = UNDECISIVE
            * self
                .of_sets
                .iter()
                .fold(0.0, |most: f64, of_set| most.max(*of_set));
        let kept: Vec<usize> = (0..self.of_sets.len())
            .filter(|set| self.of_sets[*set] >= least)
            .collect();
        let narrow = |values: &[f64]| kept.iter().map(|set| values[*set]).collect();
        let mut of_sets: Vec<f64> = narrow(&self.of_sets);
        let total: f64 = of_sets.iter().sum();
        of_sets.iter_mut().for_each(|weight| *weight /= total);
        Self {
            sets: kept.iter().map(|set| self.sets[*set]).collect(),
            of_sets,
            prospects: self
                .prospects
                .iter()
                .map(|prospect| {
                    Prospect(prospect.0.iter().map(|chances| narrow(chances)).collect())
                })
                .collect(),
        }
    }
}
