//! The differential: every fault that can be, alone and with up to two others, weighed against all
//! the evidence.

use super::belief::{Belief, FaultSet};
use super::case::Case;
use super::evidence::{self, Piece};
use super::fault::{self, Fault};
use super::hypothesis_space::HypothesisSpace;
use super::located::Located;
use super::origin::Origin;
use crate::outlook::forecast::Ensemble;
use crate::tank::{Serial, Tank};

/// A fault with its probability.
#[derive(Clone, Debug)]
pub struct Suspect {
    /// The fault.
    pub fault: &'static Fault,
    /// For a misread: place of the reading in [`Observed::readings`](super::Observed::readings).
    pub about: Option<usize>,
    /// Probability that it is there, alone or with others.
    pub probability: f64,
    /// Whether it accounts for anything that was seen or read. What the tank file alone makes
    /// likely is also true of this tank, but no suspect of this case.
    pub accounts: bool,
    /// The fault that probably brought it, if another one did: they are one story.
    pub brought_by: Option<&'static Fault>,
    /// Where there are several filters and it was said which shows something of it: in which it
    /// sits, likeliest first.
    pub filters: Vec<(Serial, f64)>,
    /// Place among the candidates.
    pub(super) place: usize,
}

/// A fault that cannot be in this tank.
#[derive(Clone, Copy, Debug)]
pub struct RuledOut {
    /// The fault.
    pub fault: &'static Fault,
    /// Why, as a sentence.
    pub why: &'static str,
}

/// What is wrong, how sure that is, and which tanks are believed in.
pub struct Differential {
    /// All faults that can be: those that account for something first, each likeliest first.
    pub suspects: Vec<Suspect>,
    /// Probability that nothing is wrong with the tank, whether or not a reading of it is off.
    pub healthy: f64,
    /// The likeliest sets of faults with their probability; an empty set is healthy.
    pub combinations: Vec<(Vec<&'static Fault>, f64)>,
    /// What a sound tank does not explain: signs of distress, deaths, readings beyond their limit.
    /// As long as there are any, that nothing is wrong does not lead, however likely it seems.
    pub alarms: Vec<String>,
    /// What cannot be.
    pub ruled_out: Vec<RuledOut>,
    /// The tank as it is believed to be: faults and doubts weighed by the evidence.
    pub believed: Ensemble,
    /// What all this was weighed from.
    pub(super) weighed: Weighed,
}

/// What was weighed, kept to answer questions about it.
pub(super) struct Weighed {
    pub(super) space: HypothesisSpace,
    pub(super) pieces: Vec<Piece>,
    pub(super) prior: Belief,
    pub(super) posterior: Belief,
    /// Probability of each candidate.
    pub(super) of_faults: Vec<f64>,
}

/// A suspect this likely is clear enough to act on. A judgement.
pub const CLEAR: f64 = 0.8;

/// Below this nobody asks what brought a fault. A judgement.
const WORTH_A_STORY: f64 = 0.02;
/// From here on what may have brought a fault is itself suspected.
const LIKELY_ENOUGH: f64 = 0.1;

/// What accounts for nothing that was seen or read is worth a quiet line from here on. A judgement.
pub const ALSO_TRUE: f64 = 0.04;

impl Differential {
    /// Weighs everything. The tank must have passed [`Tank::refusals`]; readings and answers are
    /// taken as they are.
    pub fn of(case: &Case) -> Self {
        let space = HypothesisSpace::of(case);
        let mut pieces = evidence::gather(&space, case);
        let (located, mut at_filters) = match Located::of(&space, case) {
            Some(Located { piece, of_faults }) => (Some(piece), of_faults),
            None => (None, vec![Vec::new(); space.candidates.len()]),
        };
        pieces.extend(located);
        let prior = space.belief();
        let mut belief = prior.clone();
        belief.weigh_all(pieces.iter().map(|piece| &piece.likelihoods));
        // Every likelihood is positive: leaks and misreads see to that.
        let of_sets = belief.of_sets().expect("no evidence is impossible");
        let of_faults = space.hypotheses.sums(&of_sets);
        let accounting = accounting(&space, &pieces, &of_faults);
        let mut suspects: Vec<Suspect> = (space.candidates.iter().zip(&of_faults).enumerate())
            .map(|(place, (candidate, probability))| Suspect {
                fault: candidate.fault,
                about: candidate.about,
                probability: *probability,
                accounts: accounting[place],
                brought_by: brought_by(&space, place, *probability, &of_sets),
                filters: std::mem::take(&mut at_filters[place]),
                place,
            })
            .collect();
        suspects.sort_by(|a, b| {
            b.accounts
                .cmp(&a.accounts)
                .then(b.probability.total_cmp(&a.probability))
        });
        Self {
            healthy: space
                .hypotheses
                .sets()
                .iter()
                .zip(&of_sets)
                .filter(|(set, _)| space.is_harmless(**set))
                .map(|(_, of_set)| of_set)
                .sum(),
            combinations: likeliest(&space, &of_sets, SHOWN_TOGETHER),
            alarms: pieces
                .iter()
                .filter(|piece| piece.alarms)
                .map(|piece| piece.says.clone())
                .collect(),
            ruled_out: ruled_out(&case.tank),
            believed: space.believed(&belief),
            suspects,
            weighed: Weighed {
                space,
                pieces,
                prior,
                posterior: belief,
                of_faults,
            },
        }
    }

    /// The suspects of this case, likeliest first.
    pub fn of_this_case(&self) -> impl Iterator<Item = &Suspect> {
        self.suspects.iter().filter(|suspect| suspect.accounts)
    }

    /// What the tank file makes at least this likely and accounts for nothing that was seen or
    /// read, likeliest first.
    pub fn also_true(&self, at_least: f64) -> impl Iterator<Item = &Suspect> {
        self.suspects.iter().filter(move |suspect| {
            !suspect.accounts && suspect.probability >= at_least && suspect.about.is_none()
        })
    }

    /// The likeliest fault.
    pub fn first(&self) -> &Suspect {
        &self.suspects[0]
    }

    /// Probability of a fault; for a misread, of any reading. Zero if it is ruled out.
    pub fn probability(&self, fault: &Fault) -> f64 {
        let apart: f64 = self
            .suspects
            .iter()
            .filter(|suspect| suspect.fault == fault)
            .map(|suspect| 1.0 - suspect.probability)
            .product();
        1.0 - apart
    }

    /// The likeliest sets of faults with their probability, at most so many; an empty set is
    /// healthy.
    pub fn scenarios(&self, most: usize) -> Vec<(Vec<&'static Fault>, f64)> {
        let of_sets = self
            .weighed
            .posterior
            .of_sets()
            .expect("no evidence is impossible");
        likeliest(&self.weighed.space, &of_sets, most)
    }

    /// Whether that nothing is wrong may lead: nothing alarms, and it is likelier than any suspect.
    pub fn is_sound(&self) -> bool {
        self.alarms.is_empty() && self.healthy > self.first().probability
    }

    /// Probability of what leads: of the first suspect, or, where it may, that nothing is wrong.
    pub fn leading(&self) -> f64 {
        if self.is_sound() {
            self.healthy
        } else {
            self.first().probability
        }
    }

    /// One suspect is likely enough to act on.
    pub fn is_clear(&self) -> bool {
        self.first().probability >= CLEAR
    }
}

/// Evidence this many times likelier with a fault than without it is accounted for by it. A
/// judgement.
const ACCOUNTED_FOR: f64 = 1.1;

/// By candidate, whether it accounts for anything that was seen or read, or brings a fault that
/// does. Where nothing was, none is less of a suspect than another.
fn accounting(space: &HypothesisSpace, pieces: &[Piece], of_faults: &[f64]) -> Vec<bool> {
    let mut accounting = vec![false; space.candidates.len()];
    for piece in pieces
        .iter()
        .filter(|piece| !matches!(piece.origin, Origin::File | Origin::Record | Origin::Flow))
    {
        let ratios = piece.likelihoods.alone_against_none(&space.hypotheses);
        accounting
            .iter_mut()
            .zip(ratios)
            .for_each(|(accounts, ratio)| *accounts |= ratio >= ACCOUNTED_FOR);
    }
    let brought = (0..accounting.len())
        .filter(|fault| accounting[*fault] && of_faults[*fault] >= LIKELY_ENOUGH);
    let causes: Vec<usize> = brought
        .flat_map(|fault| space.causes(fault).iter())
        .collect();
    causes
        .into_iter()
        .for_each(|cause| accounting[cause] = true);
    if accounting.iter().any(|accounts| *accounts) {
        accounting
    } else {
        vec![true; accounting.len()]
    }
}

/// The likeliest cause of a fault, where it is likelier than not that some cause of it is there
/// too.
fn brought_by(
    space: &HypothesisSpace,
    place: usize,
    probability: f64,
    of_sets: &[f64],
) -> Option<&'static Fault> {
    let causes = space.causes(place);
    if causes == FaultSet::NONE || probability < WORTH_A_STORY {
        return None;
    }
    let mut with_cause = vec![0.0; space.candidates.len()];
    let mut with_any = 0.0;
    space
        .hypotheses
        .each_holding(FaultSet::NONE.with(place), |set| {
            let those = space.hypotheses.sets()[set].only(causes);
            with_any += if those == FaultSet::NONE {
                0.0
            } else {
                of_sets[set]
            };
            those
                .iter()
                .for_each(|cause| with_cause[cause] += of_sets[set]);
        });
    let likeliest = causes
        .iter()
        .max_by(|a, b| with_cause[*a].total_cmp(&with_cause[*b]))?;
    (with_any > 0.5 * probability).then_some(space.candidates[likeliest].fault)
}

/// So many sets of faults are listed.
const SHOWN_TOGETHER: usize = 5;

/// The likeliest sets of faults with their probability, at most so many.
fn likeliest(
    space: &HypothesisSpace,
    of_sets: &[f64],
    most: usize,
) -> Vec<(Vec<&'static Fault>, f64)> {
    let mut order: Vec<usize> = Vec::with_capacity(most + 1);
    for (set, of_set) in of_sets.iter().enumerate() {
        if order.len() == most && *of_set <= of_sets[order[most - 1]] {
            continue;
        }
        order.insert(
            order.partition_point(|other| of_sets[*other] >= *of_set),
            set,
        );
        order.truncate(most);
    }
    order
        .into_iter()
        .map(|set| {
            (
                space.hypotheses.sets()[set]
                    .iter()
                    .map(|fault| space.candidates[fault].fault)
                    .collect(),
                of_sets[set],
            )
        })
        .collect()
}

fn ruled_out(tank: &Tank) -> Vec<RuledOut> {
    fault::all()
        .filter_map(|fault| {
            let need = fault.needs.as_ref().filter(|need| !(need.met)(tank))?;
            Some(RuledOut {
                fault,
                why: need.else_out,
            })
        })
        .collect()
}
