//! Each piece of evidence as a likelihood over the hypotheses: one place where findings, readings
//! and the twin meet.

mod chemistry;
mod happened;
mod instruments;
mod readings;

pub(super) use happened::{MEMORY, age_of_cause, built_up, wholly_built_up};
pub(super) use instruments::{Draws, Size, Thermometer, oxygen_kits, too_warm};
pub(super) use readings::{WEAK_SHARE, beyond_by, weakest_by_bucket};

use super::belief::{FaultSet, Likelihoods, NoisyOr, TOSS_UP, Unless};
use super::case::Case;
use super::distress::RUNGS;
use super::fault::{EYE_ERRS, Strength};
use super::finding::{self, Finding, Kind, Told, filter, fish::DEATHS};
use super::hypothesis_space::{Candidate, HypothesisSpace, prior};
use super::observed::{Answered, Observed};
use super::origin::Origin;
use super::record::Recorded;
use crate::document::Answer;
use crate::flow::Trust;
use crate::outlook::forecast::DOUBTS;
use crate::tank::Analyte;

/// A piece of evidence.
#[derive(Clone, Debug)]
pub(super) struct Piece {
    pub(super) origin: Origin,
    /// What it says, in the keeper's words.
    pub(super) says: String,
    /// A sign of distress, a death, or a reading beyond its limit: as long as no fault accounts for
    /// it, nothing may be called well.
    pub(super) alarms: bool,
    pub(super) likelihoods: Likelihoods,
}

/// All the evidence there is, in the order: file, answers, readings, computed.
pub(super) fn gather(space: &HypothesisSpace, case: &Case) -> Vec<Piece> {
    let Case { tank, observed } = case;
    let mut pieces: Vec<Piece> = finding::all()
        .filter_map(|known| unasked(space, case, known))
        .collect();
    let flat = &finding::places::SURFACE_FLAT;
    // How fast the surface of the drawing moves is no answer: the question is whether the tank has
    // left its drawing.
    if observed.answer(flat).is_none() && tank.surface <= crate::tank::Surface::Still {
        pieces.push(sign(space, flat, 1.0, Origin::File));
    }
    let answers = observed.answers.iter();
    pieces.extend(answers.filter_map(|answered| answer(space, observed, answered)));
    for Recorded { known, origin } in observed.known_from_record() {
        match known.finding.kind {
            Kind::Event { .. } => pieces.push(happened::event(space, known, observed, *origin)),
            // Rungs are one piece together.
            Kind::Rung(_) => {}
            Kind::Sign
            | Kind::Fact(_)
            | Kind::Estimated(_)
            | Kind::Modelled(_)
            | Kind::Read(_)
            | Kind::Computed => {
                pieces.push(sign(space, known.finding, certainty(known.answer), *origin));
            }
        }
    }
    pieces.extend(ladder(space, observed));
    for index in observed.weighed() {
        let (reading, units) = (&observed.readings[index], &observed.units);
        if reading.analyte == Analyte::OXYGEN {
            pieces.push(readings::oxygen(space, reading, index, units));
        } else if reading.analyte == Analyte::TEMPERATURE {
            pieces.push(readings::temperature(space, tank, reading, index, units));
        }
    }
    pieces.extend(readings::flow(space, case));
    pieces.extend(chemistry::nitrogen(space, case));
    pieces.extend(chemistry::carbon_dioxide(space, observed));
    pieces.extend(chemistry::nitrate_absent(space, case));
    pieces
}

/// What is known of a finding without asking: by the tank file, by the flow model, by a reading.
fn unasked(space: &HypothesisSpace, case: &Case, known: &'static Finding) -> Option<Piece> {
    match known.kind {
        Kind::Fact(holds) => {
            let certainty = if holds(&case.tank)? { 1.0 } else { 0.0 };
            Some(sign(space, known, certainty, Origin::File))
        }
        Kind::Estimated(sureness) => Some(sign(space, known, sureness(case)?, Origin::Computed)),
        Kind::Modelled(tell) => {
            let facts = case.observed.flow.as_ref()?;
            Some(modelled(space, known, facts.trust, &tell(facts)?))
        }
        Kind::Read(limit) => readings::against_limit(space, &case.observed, known, limit),
        // The others are answered, or computed from several readings.
        Kind::Sign | Kind::Rung(_) | Kind::Event { .. } | Kind::Computed => None,
    }
}

/// What an answer says by itself.
fn answer(space: &HypothesisSpace, observed: &Observed, answered: &Answered) -> Option<Piece> {
    match answered.finding.kind {
        // Bubbles at the outlet are the bubbles in the water: they are weighed where they come
        // from.
        Kind::Sign if answered.finding == &filter::BUBBLES_IN_WATER && seen_at_outlet(observed) => {
            None
        }
        // A measured flow takes the place of one that was judged by eye.
        Kind::Sign
            if answered.finding == &filter::FLOW_WEAK
                && observed.latest(Analyte::FLOW).is_some() =>
        {
            None
        }
        Kind::Sign => {
            let certainty = certainty(answered.answer);
            Some(sign(space, answered.finding, certainty, Origin::Seen))
        }
        Kind::Event { .. } => Some(happened::event(space, answered, observed, Origin::Seen)),
        // Rungs are one piece together; what is read off the file or computed is not answered.
        Kind::Rung(_)
        | Kind::Fact(_)
        | Kind::Estimated(_)
        | Kind::Modelled(_)
        | Kind::Read(_)
        | Kind::Computed => None,
    }
}

fn certainty(answer: Answer) -> f64 {
    match answer {
        Answer::Yes => 1.0,
        Answer::No => 0.0,
    }
}

fn seen_at_outlet(observed: &Observed) -> bool {
    [
        &filter::OUTLET_BUBBLES_CONSTANT,
        &filter::OUTLET_BUBBLES_BURSTS,
    ]
    .into_iter()
    .any(|finding| {
        observed
            .answer(finding)
            .is_some_and(|answered| answered.answer == Answer::Yes)
    })
}

/// The node of a sign: its leak and the faults that show it. What is itself a fault is seen without
/// it so seldom that, other things equal, as many who say so are right as an eye is.
pub(super) fn node(candidates: &[Candidate], finding: &Finding) -> NoisyOr {
    let mut leak = finding.leak;
    let links = candidates
        .iter()
        .enumerate()
        .filter_map(|(index, candidate)| {
            let (_, strength) = candidate
                .fault
                .signs
                .iter()
                .find(|(sign, _)| *sign == finding)?;
            if *strength == Strength::Itself {
                leak = EYE_ERRS * prior(candidate.fault);
            }
            Some((index, strength.chance()))
        });
    let links = links.collect();
    NoisyOr { leak, links }
}

fn sign(space: &HypothesisSpace, finding: &Finding, sureness: f64, origin: Origin) -> Piece {
    let node = node(&space.candidates, finding);
    let absent = node.absent(space.candidates.len());
    let likelihoods = if sureness <= 0.0 {
        // A plain no: none of the faults present brought it about.
        Likelihoods::PerFault(1.0 - node.leak, absent)
    } else {
        let speaks_against =
            |candidate: &Candidate| sureness > 0.5 && candidate.fault.against.contains(&finding);
        let factors = space
            .candidates
            .iter()
            .map(|candidate| if speaks_against(candidate) { 0.1 } else { 1.0 })
            .collect();
        Likelihoods::Noisy {
            sureness,
            leak: node.leak,
            absent,
            factors,
            unless: Unless::NEVER,
        }
    };
    let says = if sureness > 0.5 {
        finding.says
    } else {
        finding.says_not
    };
    let alarms = origin == Origin::Seen && sureness > 0.5 && DEATHS.contains(&finding);
    Piece {
        origin,
        says: says.to_owned(),
        alarms,
        likelihoods,
    }
}

/// A sign by the flow model, said with its number and band. As far as the model is not trusted it
/// says neither yes nor no.
fn modelled(space: &HypothesisSpace, finding: &Finding, trust: Trust, told: &Told) -> Piece {
    let sureness = 0.5 + trust.share() * (told.sureness - 0.5);
    let doubted = if trust.is_doubted() {
        ", which your drift tests speak against"
    } else {
        ""
    };
    Piece {
        says: format!("{}{doubted}", told.says),
        ..sign(space, finding, sureness, Origin::Flow)
    }
}

/// What the answers say about the ladder: at least this rung (none for "no rung is known"), and
/// below that one.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Rungs {
    pub(super) at_least: Option<usize>,
    pub(super) below: Option<usize>,
}

impl Rungs {
    /// The highest rung seen counts; a no counts only above it, since whoever gulps also pumps.
    pub(super) fn of(observed: &Observed) -> Self {
        let on_record = || observed.known_from_record().map(|recorded| &recorded.known);
        let answered = |wanted: Answer| {
            observed
                .answers
                .iter()
                .chain(on_record())
                .filter(move |answered| answered.answer == wanted)
                .filter_map(|answered| match answered.finding.kind {
                    Kind::Rung(rung) => Some(rung),
                    _ => None,
                })
        };
        let at_least = answered(Answer::Yes).max();
        let below = answered(Answer::No)
            .filter(|rung| at_least.is_none_or(|seen| *rung > seen))
            .min();
        Self { at_least, below }
    }

    /// Chance of it, from the chances of each rung or a higher one.
    pub(super) fn chance(self, chances: &[f64; RUNGS]) -> f64 {
        (self.at_least.map_or(1.0, |rung| chances[rung])
            - self.below.map_or(0.0, |rung| chances[rung]))
        .max(1e-6)
    }
}

/// From this rung on no fright explains it.
const GULPING: usize = 2;

fn ladder(space: &HypothesisSpace, observed: &Observed) -> Option<Piece> {
    let rungs = Rungs::of(observed);
    if rungs.at_least.is_none() && rungs.below.is_none() {
        return None;
    }
    let finding_of = |rung: usize| {
        finding::all().find(|finding| matches!(finding.kind, Kind::Rung(own) if own == rung))
    };
    let says = match (
        rungs.at_least.and_then(finding_of),
        rungs.below.and_then(finding_of),
    ) {
        (Some(seen), Some(not)) => format!("{}, but not: {}", seen.says, lower_first(not.says)),
        (Some(seen), None) => seen.says.to_owned(),
        (None, not) => not.map_or("", |not| not.says_not).to_owned(),
    };
    let likelihoods = per_class(space, |class, doubt| {
        rungs.chance(&space.rung_chances(class, doubt))
    });
    // Short breath that is gone after twenty quiet minutes was a fright.
    let gone = observed
        .answer(&finding::fish::SIGNS_GONE_WHEN_WATCHED)
        .is_some_and(|answered| answered.answer == Answer::Yes);
    let alarms = rungs.at_least.is_some_and(|rung| rung >= GULPING || !gone);
    Some(Piece {
        origin: Origin::Seen,
        says,
        alarms,
        likelihoods,
    })
}

fn lower_first(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| {
        first.to_lowercase().chain(letters).collect()
    })
}

fn per_class(space: &HypothesisSpace, likelihood: impl Fn(usize, usize) -> f64) -> Likelihoods {
    let all = (0..space.hypotheses.classes().len())
        .flat_map(|class| (0..DOUBTS).map(move |doubt| (class, doubt)));
    Likelihoods::PerClass(all.map(|(class, doubt)| likelihood(class, doubt)).collect())
}

/// Likelihood of a threshold being crossed, this surely, unless one of the readings behind it is
/// off. What lies far beyond it is so many times rarer than what lies just beyond, both in a tank
/// that has none of the faults and among readings that are off.
fn crossed(
    space: &HypothesisSpace,
    finding: &Finding,
    sureness: f64,
    misread: FaultSet,
    rarer: f64,
) -> Likelihoods {
    let node = node(&space.candidates, finding);
    let faults = space.candidates.len();
    let unless = Unless {
        faults: misread,
        likelihood: TOSS_UP * rarer,
    };
    Likelihoods::Noisy {
        sureness,
        leak: node.leak * rarer,
        absent: node.absent(faults),
        factors: vec![1.0; faults],
        unless,
    }
}
