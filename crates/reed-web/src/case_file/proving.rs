//! What the choices of a case have to show, and what came of it.

use jiff::SignedDuration;
use jiff::civil::DateTime;
use reed_core::diagnosis::finding::Finding;
use reed_core::diagnosis::{Answer, Case, Observed, opening_sign};
use reed_core::remedy::change::Wanted;
use reed_core::remedy::proof::{self, Judged, Overall, Part, Verdict, overall};
use reed_core::tank::{Analyte, hour_of_day};
use reed_store::choices::{ChosenChange, Proof, ProvedBy};
use reed_store::readings::Stored;
use reed_store::{ChoiceId, Connection, StoreError};

use super::{CaseFile, answer_counts, replayed};
use crate::controls;

/// What a choice has to show, and what came of it so far.
#[derive(Clone, Debug)]
pub(crate) struct Proving {
    /// Everything that has to be shown.
    pub(crate) parts: Vec<Part>,
    /// What all proofs make together.
    pub(crate) overall: Overall,
    /// When it was seen to fall short of its proof, or the sign that opened the case to stand: the
    /// case looks again.
    pub(super) fell_short: Option<DateTime>,
}

/// What came of one part of a proof.
#[derive(Clone, Debug)]
pub(crate) struct Shown {
    /// When, where that is known.
    at: Option<DateTime>,
    pub(crate) judged: Judged,
    pub(crate) words: String,
}

impl CaseFile {
    /// Works out of each choice what it has to show and what came of it. A choice counts from what
    /// the ones before it left, so they are gone through in order.
    pub(super) fn settle(&mut self) {
        self.proving.clear();
        for index in 0..self.choices.len() {
            let choice = &self.choices[index];
            let parts = proof::parts(&choice.changes, &choice.against, &self.before_of(index));
            let overall = self.overall_of(choice, &parts);
            let stands = self
                .still_stands(choice)
                .is_some_and(|(_, seen_again)| seen_again);
            let is_bad = matches!(overall.verdict, Verdict::Partly | Verdict::NotProved);
            let shown: Vec<Shown> = (0..parts.len())
                .filter_map(|place| self.shown_of(choice, &parts, place))
                .collect();
            let any_final = shown.iter().any(|shown| shown.judged.is_final);
            let falls_short = overall.is_final && is_bad || stands && any_final;
            let last = shown.iter().filter_map(|shown| shown.at).max();
            let fell_short = last.filter(|_| falls_short);
            self.proving.push(Proving {
                parts,
                overall,
                fell_short,
            });
        }
    }

    /// What the reading that proves the present change can be compared with.
    pub(super) fn controls_of(&self, db: &Connection) -> Result<Vec<(String, String)>, StoreError> {
        let Some((choice, done)) = self
            .choice()
            .and_then(|choice| Some((choice, choice.done_wall?)))
        else {
            return Ok(Vec::new());
        };
        let read = self.proving(choice).parts.iter();
        match read.filter_map(|part| part.wanted.analyte()).next() {
            Some(analyte) => controls::controls(db, self.case.tank_id, analyte, done),
            None => Ok(Vec::new()),
        }
    }

    /// What a choice of this case has to show, and what came of it.
    pub(crate) fn proving(&self, choice: &ChosenChange) -> &Proving {
        &self.proving[self.place_of(choice)]
    }

    fn overall_of(&self, choice: &ChosenChange, parts: &[Part]) -> Overall {
        let judged: Vec<Option<Judged>> = (0..parts.len())
            .map(|place| {
                self.shown_of(choice, parts, place)
                    .map(|shown| shown.judged)
            })
            .collect();
        overall(&judged)
    }

    /// What came of one part of the proof of a choice, latest.
    pub(crate) fn shown(&self, choice: &ChosenChange, part: usize) -> Option<Shown> {
        self.shown_of(choice, &self.proving(choice).parts, part)
    }

    /// The latest proof of a part; or the latest answer since the change about the sign that has to
    /// be gone, wherever it was given.
    fn shown_of(&self, choice: &ChosenChange, parts: &[Part], place: usize) -> Option<Shown> {
        let kept = choice
            .proofs
            .iter()
            .rev()
            .find(|proof| place_of(parts, proof) == Some(place));
        let part = &parts[place];
        let answered = match part.wanted {
            Wanted::Gone(sign) => self.answered_since(choice, sign),
            _ => None,
        };
        let kept_at = kept.and_then(|proof| self.taken_at(proof));
        match (answered, kept) {
            // A look is kept as both, at the same moment.
            (Some((sign, answer, at)), _) if kept_at.is_none_or(|kept| at > kept) => {
                let before = self.before_of(self.place_of(choice));
                let judgement = proof::judge_look(sign, answer, &before.observed);
                Some(Shown {
                    at: Some(at),
                    judged: Judged {
                        verdict: judgement.verdict,
                        is_final: self.is_due(choice, part, at),
                    },
                    words: judgement.words,
                })
            }
            (_, Some(proof)) => Some(Shown {
                at: kept_at,
                judged: Judged {
                    verdict: proof.verdict,
                    is_final: kept_at.is_some_and(|at| self.is_due(choice, part, at)),
                },
                words: proof.words.clone(),
            }),
            _ => None,
        }
    }

    /// What was answered last about a sign since a choice was made.
    fn answered_since(
        &self,
        choice: &ChosenChange,
        sign: &'static Finding,
    ) -> Option<(&'static Finding, Answer, DateTime)> {
        let done = choice.done_wall?;
        let last = self
            .answer_history
            .iter()
            .rev()
            .find(|entry| entry.finding == sign.id && entry.entered_at > choice.chosen_at)?;
        let answer = last.answer?;
        (last.seen_at >= done).then_some((sign, answer, last.seen_at))
    }

    fn place_of(&self, choice: &ChosenChange) -> usize {
        let place = self.choices.iter().position(|known| known.id == choice.id);
        place.expect("a choice of this case")
    }

    /// When a proof was taken, by the clock on the wall.
    fn taken_at(&self, proof: &Proof) -> Option<DateTime> {
        match proof.by {
            ProvedBy::Reading(id) => self
                .readings
                .iter()
                .find(|stored| stored.id == id)
                .map(|stored| stored.reading.taken_at),
            ProvedBy::Look(seen) => Some(seen),
        }
    }

    /// A proof taken at this moment counts; an earlier one is provisional, whichever way it went.
    fn is_due(&self, choice: &ChosenChange, part: &Part, at: DateTime) -> bool {
        choice
            .done_wall
            .is_some_and(|done| at >= self.part_due(part, done))
    }

    /// The case as it stood when a change was chosen, with what was read until it was made.
    pub(crate) fn before(&self, choice: &ChosenChange) -> Case {
        self.before_of(self.place_of(choice))
    }

    fn before_of(&self, index: usize) -> Case {
        let choice = &self.choices[index];
        let since = self.fell_short_before(index);
        let answers = replayed(
            self.answer_history
                .iter()
                .filter(|entry| entry.entered_at <= choice.chosen_at),
        );
        let is_before = |stored: &&Stored| {
            let at = stored.reading.taken_at;
            !stored.is_struck()
                && since.is_none_or(|since| at >= since)
                && (stored.entered_at <= choice.chosen_at
                    || choice.done_wall.is_none_or(|done| at < done))
        };
        let tank = self.tank_at(choice.chosen_at).clone();
        let observed = Observed {
            answers: answers
                .into_iter()
                .filter(|answered| answer_counts(answered, since))
                .collect(),
            readings: self
                .readings
                .iter()
                .filter(is_before)
                .map(|stored| stored.reading.clone())
                .collect(),
            units: self.units,
            ..Observed::nothing(&tank, choice.done_wall.unwrap_or(self.opened_wall))
        };
        Case { tank, observed }
    }

    /// When the last change before this one that fell short of its proof was made.
    fn fell_short_before(&self, index: usize) -> Option<DateTime> {
        let earlier = self.choices[..index].iter().zip(&self.proving).rev();
        let mut short = earlier.filter(|(_, proving)| proving.fell_short.is_some());
        short.next().and_then(|(choice, _)| choice.done_wall)
    }

    /// The sign that opened the case, while nobody has looked since the change and found it gone;
    /// and whether it was seen again.
    pub(crate) fn still_stands(&self, choice: &ChosenChange) -> Option<(&'static Finding, bool)> {
        let (before, after): (Vec<_>, Vec<_>) = self
            .answer_history
            .iter()
            .partition(|entry| entry.entered_at <= choice.chosen_at);
        let finding = opening_sign(&replayed(before.into_iter()))?;
        match after
            .iter()
            .rev()
            .find(|entry| entry.finding == finding.id)
            .and_then(|entry| entry.answer)
        {
            Some(Answer::No) => None,
            again => Some((finding, again == Some(Answer::Yes))),
        }
    }

    /// When a change that fell short of its proof was made: what was seen and read before it no
    /// longer counts.
    pub(super) fn looks_again_since(&self) -> Option<DateTime> {
        self.fell_short_before(self.choices.len())
    }

    /// It worked, by proofs of their day.
    pub(crate) fn is_proved(&self, choice: &ChosenChange) -> bool {
        let overall = self.proving(choice).overall;
        overall.is_final && overall.verdict == Verdict::Proved
    }

    /// The choice to be proved next: the present one; where that is proved, an earlier stage of its
    /// plan that still has something to show.
    pub(crate) fn to_prove(&self) -> Option<&ChosenChange> {
        let present = self.choice()?;
        if !self.is_proved(present) {
            return Some(present);
        }
        let mut open = self
            .choices
            .iter()
            .filter(|choice| self.is_to_be_proved(choice.id));
        open.next().or(Some(present))
    }

    /// An earlier stage of the plan that is followed, which was made and has something left to show.
    pub(crate) fn is_to_be_proved(&self, id: ChoiceId) -> bool {
        let Some(plan) = self.choice().and_then(|present| present.plan) else {
            return false;
        };
        let mut choices = self.choices.iter().zip(&self.proving);
        choices.any(|(choice, proving)| {
            choice.id == id
                && choice.plan == Some(plan)
                && choice.is_done()
                && proving.fell_short.is_none()
                && !self.is_proved(choice)
        })
    }

    /// When one part of the proof of a change that was done at this moment is due. Oxygen is lowest
    /// just before the lights come on: where the card waits for the morning, so does the date.
    pub(crate) fn part_due(&self, part: &Part, done: DateTime) -> DateTime {
        let hours =
            |hours: f64| SignedDuration::try_from_secs_f64(hours * 3600.0).unwrap_or_default();
        let earliest = done + hours(part.after_hours);
        if part.wanted.analyte() != Some(Analyte::OXYGEN) || part.after_hours < 1.0 {
            return earliest;
        }
        let wait = (self.tank_now().plants.lights_on.as_hours()
            - BEFORE_LIGHTS_HOURS
            - hour_of_day(earliest))
        .rem_euclid(24.0);
        earliest + hours(wait)
    }
}

/// Which of these parts a proof is of; one of an older program, which knew one part, is of the
/// first. One of a part that is asked for no longer is of none.
fn place_of(parts: &[Part], proof: &Proof) -> Option<usize> {
    if proof.part.is_empty() {
        return Some(0);
    }
    parts.iter().position(|part| part.wanted.id() == proof.part)
}

/// A reading so long before the lights come on is one of the lowest point.
const BEFORE_LIGHTS_HOURS: f64 = 2.0;
