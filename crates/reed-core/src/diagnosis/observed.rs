//! What the keeper has seen and read so far.

use jiff::civil::DateTime;

use super::check;
use super::declined::Declined;
use super::finding::{Finding, Kind};
use super::record::{self, Recorded};
use crate::document::Answer;
use crate::flow::Facts;
use crate::tank::{Analyte, Reading, Serial, Tank};
use crate::units::{Units, days_of};

/// A finding with its answer.
#[derive(Clone, Debug, PartialEq)]
pub struct Answered {
    /// Which finding.
    pub finding: &'static Finding,
    /// Seen or not.
    pub answer: Answer,
    /// When it was seen, or for an event when it happened, by the clock on the wall.
    pub at: DateTime,
    /// Of a finding of a filter: at which it was seen. Empty where nobody said.
    pub filters: Vec<Serial>,
}

impl Answered {
    /// An answer about the whole tank.
    pub const fn new(finding: &'static Finding, answer: Answer, at: DateTime) -> Self {
        Self {
            finding,
            answer,
            at,
            filters: Vec::new(),
        }
    }
}

/// The sign for which a case is open: the highest rung of distress that was seen, else what was
/// seen first. What is only recalled cannot be looked for again.
pub fn opening_sign(answers: &[Answered]) -> Option<&'static Finding> {
    let seen = |answered: &&Answered| {
        let looked_at = check::of(answered.finding).is_some_and(|check| !check.recalled);
        answered.answer == Answer::Yes
            && looked_at
            && matches!(answered.finding.kind, Kind::Sign | Kind::Rung(_))
    };
    let rung = |answered: &Answered| {
        if let Kind::Rung(rung) = answered.finding.kind {
            Some((rung, answered.finding))
        } else {
            None
        }
    };
    let worst = answers
        .iter()
        .filter(seen)
        .filter_map(rung)
        .max_by_key(|(rung, _)| *rung);
    worst
        .map(|(_, finding)| finding)
        .or_else(|| answers.iter().find(seen).map(|answered| answered.finding))
}

/// How badly the fish show that they lack breath: the highest rung that was seen.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Distress {
    rung: usize,
    /// In the keeper's words.
    pub says: &'static str,
}

impl Distress {
    /// The worst of these answers, if any is a sign of distress.
    pub fn worst_of(answers: &[Answered]) -> Option<Self> {
        let seen = answers
            .iter()
            .filter(|answered| answered.answer == Answer::Yes);
        let rungs = seen.filter_map(|answered| match answered.finding.kind {
            Kind::Rung(rung) => Some(Self {
                rung,
                says: answered.finding.says,
            }),
            _ => None,
        });
        rungs.max_by_key(|distress| distress.rung)
    }

    /// Gulping or losses: first aid comes before diagnosis.
    pub const fn is_urgent(self) -> bool {
        self.rung >= 2
    }

    /// Fish stand near the surface.
    pub const fn at_the_top(self) -> bool {
        self.rung >= 1
    }
}

/// A question whether something happened is about no more days than these. A judgement.
const ASKED_ABOUT_DAYS: f64 = 60.0;

/// All that is known of a case at one moment.
#[derive(Clone, Debug, PartialEq)]
pub struct Observed {
    /// The moment, by the clock on the wall.
    pub now: DateTime,
    /// Answers; at most one per finding.
    pub answers: Vec<Answered>,
    /// Checks that were asked for and could not be done.
    pub declined: Vec<Declined>,
    /// What else is on record of the tank.
    pub recorded: Vec<Recorded>,
    /// Readings, oldest first.
    pub readings: Vec<Reading>,
    /// What the flow model found in the tank as drawn, if it has been through.
    pub flow: Option<Facts>,
    /// Units in which sentences about them are written.
    pub units: Units,
}

impl Observed {
    /// Nothing seen yet of a tank: only what its file dates is known.
    pub fn nothing(tank: &Tank, now: DateTime) -> Self {
        let recorded = record::of(tank, &[], now);
        Self {
            now,
            answers: Vec::new(),
            declined: Vec::new(),
            recorded,
            readings: Vec::new(),
            flow: None,
            units: Units::BASE,
        }
    }

    /// The answer to this finding, if the keeper gave one.
    pub fn answer(&self, finding: &Finding) -> Option<&Answered> {
        self.answers
            .iter()
            .find(|answered| answered.finding == finding)
    }

    /// What is known about this finding: as answered, else by the latest that is on record.
    pub fn known(&self, finding: &Finding) -> Option<&Answered> {
        self.answer(finding).or_else(|| {
            self.latest_recorded(finding)
                .map(|recorded| &recorded.known)
        })
    }

    /// The findings that are known from the record alone, each by its latest entry.
    pub fn known_from_record(&self) -> impl Iterator<Item = &Recorded> {
        let mut latest: Vec<&Recorded> = Vec::new();
        for recorded in self.recorded.iter().filter(|one| one.known.at <= self.now) {
            let known = latest
                .iter_mut()
                .find(|other| other.known.finding == recorded.known.finding);
            match known {
                Some(other) if other.known.at <= recorded.known.at => *other = recorded,
                Some(_) => {}
                None => latest.push(recorded),
            }
        }
        latest
            .into_iter()
            .filter(|recorded| self.answer(recorded.known.finding).is_none())
    }

    /// Answers that a thing did not happen, against what is on record of the time that was asked
    /// about: which finding, and when it is said to have happened.
    pub fn disagreements(&self) -> impl Iterator<Item = (&'static Finding, &Recorded)> {
        let denied = self
            .answers
            .iter()
            .filter(|answered| answered.answer == Answer::No);
        denied.filter_map(|answered| {
            let Kind::Event { usual_days } = answered.finding.kind else {
                return None;
            };
            let recorded = self.latest_recorded(answered.finding)?;
            let days = days_of(answered.at.duration_since(recorded.known.at));
            let is_asked_about = days >= 0.0 && days <= usual_days.min(ASKED_ABOUT_DAYS);
            is_asked_about.then_some((answered.finding, recorded))
        })
    }

    fn latest_recorded(&self, finding: &Finding) -> Option<&Recorded> {
        let of_it = self
            .recorded
            .iter()
            .filter(|recorded| recorded.known.finding == finding && recorded.known.at <= self.now);
        of_it.max_by_key(|recorded| recorded.known.at)
    }

    /// Whether this is known to have happened within so many days.
    pub fn happened_within(&self, event: &Finding, days: f64) -> bool {
        self.known(event).is_some_and(|known| {
            known.answer == Answer::Yes && days_of(self.now.duration_since(known.at)) <= days
        })
    }

    /// Places of the readings that are weighed, oldest first: of oxygen and temperature the latest
    /// four, since the hour and repeats matter, of everything else the latest. A probe that reads
    /// every minute would otherwise bring a misread of its own with each reading, and the sets of
    /// faults would grow beyond all bounds.
    pub(super) fn weighed(&self) -> Vec<usize> {
        let most = |analyte: &Analyte| {
            if Self::is_weighed_repeatedly(analyte) {
                4
            } else {
                1
            }
        };
        let mut newest_first: Vec<usize> = (0..self.readings.len()).collect();
        newest_first
            .sort_by_key(|index| std::cmp::Reverse((self.readings[*index].taken_at, *index)));
        let mut taken: Vec<&Analyte> = Vec::new();
        newest_first.retain(|index| {
            let analyte = self.readings[*index].analyte;
            let room = taken.iter().filter(|other| **other == analyte).count() < most(analyte);
            if room {
                taken.push(analyte);
            }
            room
        });
        newest_first.sort_unstable();
        newest_first
    }

    /// Whether several readings of it are weighed, each for itself.
    pub(super) fn is_weighed_repeatedly(analyte: &Analyte) -> bool {
        [Analyte::OXYGEN, Analyte::TEMPERATURE].contains(&analyte)
    }

    /// The latest reading of this analyte.
    pub fn latest(&self, analyte: &Analyte) -> Option<&Reading> {
        self.readings
            .iter()
            .filter(|reading| reading.analyte == analyte)
            .max_by_key(|reading| reading.taken_at)
    }
}
