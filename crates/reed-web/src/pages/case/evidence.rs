//! What was noticed and which suspects it leaves, ready to print.

use reed_core::diagnosis::check::{Check, Gives};
use reed_core::diagnosis::finding::{self, Finding, Kind, Place};
use reed_core::diagnosis::{
    ALSO_TRUE, Account, Answer, Answered, Case, Declined, Differential, Observed, Origin, Reason,
    Suspect, Why,
};
use reed_core::tank::{Filter, Serial, Tank};
use reed_core::units::Units;
use reed_store::ReadingId;
use reed_store::readings::Stored;

use crate::case_file::{CaseFile, Entered};
use crate::clock::{Clock, Moment};
use crate::view::{percent, since, when};

/// An answer that was given.
pub(super) struct AnswerLine {
    pub(super) finding: &'static str,
    pub(super) says: &'static str,
    /// It is so; else it is not.
    pub(super) so: bool,
    pub(super) when: String,
    /// It no longer counts: it was seen before a change that failed.
    pub(super) outdated: bool,
    /// Of a yes that belongs to one of several filters: which.
    pub(super) filters: Vec<AtFilter>,
}

/// What is asked about: a place, or words that were typed.
#[derive(Clone, Default, serde::Deserialize)]
#[serde(default)]
pub(super) struct Asking {
    /// Id of a place.
    pub(super) place: String,
    /// Words.
    pub(super) find: String,
    #[serde(skip)]
    pub(super) questions: Vec<Question>,
    /// How many more would match.
    #[serde(skip)]
    pub(super) left_out: usize,
}

/// More questions than this are not shown for words: better ones bring fewer.
const MOST_FOUND: usize = 12;

impl Asking {
    /// Something is asked.
    pub(super) fn is_asked(&self) -> bool {
        !self.place.is_empty() || !self.find.trim().is_empty()
    }

    /// With the questions that answer it.
    pub(super) fn answered(self, file: &CaseFile) -> Self {
        let place = Place::asked(&self.place);
        let mut found = finding::search(&self.find, place);
        let most = if self.find.trim().is_empty() {
            found.len()
        } else {
            MOST_FOUND
        };
        let left_out = found.len().saturating_sub(most);
        found.truncate(most);
        Self {
            questions: found
                .into_iter()
                .map(|finding| Question::of(finding, file))
                .collect(),
            left_out,
            ..self
        }
    }

    /// As the end of an address, so that it stays open; empty where nothing is asked.
    pub(super) fn query(&self) -> String {
        if !self.is_asked() {
            return String::new();
        }
        let mut query = form_urlencoded::Serializer::for_suffix(String::from("?"), 1);
        [("place", &self.place), ("find", &self.find)]
            .iter()
            .filter(|(_, text)| !text.is_empty())
            .for_each(|(name, text)| {
                query.append_pair(name, text);
            });
        query.finish()
    }
}

/// A question that can still be answered or corrected.
#[derive(Clone)]
pub(super) struct Question {
    pub(super) finding: &'static str,
    pub(super) asks: &'static str,
    pub(super) is_event: bool,
    /// `yes`, `no` or empty.
    pub(super) answer: &'static str,
    /// Where there are several filters and it is seen at one: each, and whether it was seen there.
    pub(super) filters: Vec<AtFilter>,
}

/// A filter at which something may be seen.
#[derive(Clone)]
pub(super) struct AtFilter {
    pub(super) number: u32,
    pub(super) name: String,
    pub(super) seen: bool,
}

/// The filters of a tank with several at which this finding may be seen, and whether it was.
fn at_filters(finding: &Finding, file: &CaseFile) -> Vec<AtFilter> {
    let filters = &file.tank().filters;
    if filters.len() < 2 || !finding.is_of_a_filter() {
        return Vec::new();
    }
    let answered = file
        .answers
        .iter()
        .find(|answered| answered.finding == finding);
    let seen = |number: Serial| answered.is_some_and(|answered| answered.filters.contains(&number));
    let view = |filter: &Filter| AtFilter {
        number: filter.number.0,
        name: filter.name.clone(),
        seen: seen(filter.number),
    };
    filters.iter().map(view).collect()
}

/// A reading of this case.
pub(super) struct ReadingLine {
    pub(super) id: ReadingId,
    pub(super) label: &'static str,
    pub(super) value: String,
    pub(super) when: String,
    pub(super) kit: &'static str,
    pub(super) struck: bool,
    /// Taken after the change: it proves, and does not accuse.
    pub(super) aside: bool,
}

/// A suspect.
pub(super) struct SuspectView {
    pub(super) id: &'static str,
    pub(super) title: String,
    pub(super) what: &'static str,
    /// In which of several filters it probably sits.
    pub(super) sits_in: Option<String>,
    /// What probably brought it.
    pub(super) brought_by: Option<&'static str>,
    pub(super) probability: String,
    /// Width of its bar, percent.
    pub(super) width: u32,
    pub(super) reasons: Vec<ReasonView>,
}

/// What was seen first.
pub(super) fn first_sign(observed: &Observed) -> Option<&'static str> {
    let seen = |answered: &&Answered| {
        answered.answer == Answer::Yes && matches!(answered.finding.kind, Kind::Sign)
    };
    observed
        .answers
        .iter()
        .find(seen)
        .map(|answered| answered.finding.says)
}

/// A piece of evidence for or against.
pub(super) struct ReasonView {
    pub(super) says: String,
    pub(super) origin: &'static str,
    /// It can be seen in Drift.
    pub(super) in_drift: bool,
    pub(super) factor: String,
    pub(super) speaks_for: bool,
}

pub(super) fn answer_lines(
    file: &CaseFile,
    observed: &Observed,
    moment: &Moment,
) -> Vec<AnswerLine> {
    file.answers
        .iter()
        .map(|answered| AnswerLine {
            finding: answered.finding.id,
            says: if answered.answer == Answer::Yes {
                answered.finding.says
            } else {
                answered.finding.says_not
            },
            so: answered.answer == Answer::Yes,
            when: since(answered.at, moment.wall),
            outdated: observed.answer(answered.finding).is_none(),
            filters: if answered.answer == Answer::Yes {
                at_filters(answered.finding, file)
            } else {
                Vec::new()
            },
        })
        .collect()
}

/// What could not be done and is not asked for that reason: what was answered since, or may be
/// asked again by now, is left out.
pub(super) fn not_asked<'a>(
    file: &'a CaseFile,
    observed: &'a Observed,
) -> impl Iterator<Item = &'a Declined> {
    let is_answered = |check: &Check| match &check.gives {
        Gives::Answer(finding) => observed.answer(finding).is_some(),
        Gives::Reading(analyte) => observed.latest(analyte).is_some(),
        Gives::Repeat => false,
    };
    file.declined.iter().filter(move |declined| {
        observed.is_declined(declined.check) && !is_answered(declined.check)
    })
}

/// What is known from the record, and since when.
pub(super) fn record_lines(observed: &Observed, moment: &Moment) -> Vec<(&'static str, String)> {
    let line = |known: &Answered| {
        let says = if known.answer == Answer::Yes {
            known.finding.says
        } else {
            known.finding.says_not
        };
        (says, since(known.at, moment.wall))
    };
    observed
        .known_from_record()
        .map(|recorded| line(&recorded.known))
        .collect()
}

/// An answer that the record speaks against.
pub(super) struct Disagreement {
    /// Id of the finding.
    pub(super) finding: &'static str,
    /// What was answered.
    pub(super) answered: &'static str,
    /// What is on record, and since when.
    pub(super) recorded: &'static str,
    pub(super) when: String,
}

/// What was denied although it is on record.
pub(super) fn disagreements(observed: &Observed, moment: &Moment) -> Vec<Disagreement> {
    observed
        .disagreements()
        .map(|(finding, recorded)| Disagreement {
            finding: finding.id,
            answered: finding.says_not,
            recorded: finding.says,
            when: since(recorded.known.at, moment.wall),
        })
        .collect()
}

impl Question {
    /// It was said at which filter.
    pub(super) fn is_placed(&self) -> bool {
        self.filters.iter().any(|filter| filter.seen)
    }

    /// With the answer that counts now.
    pub(super) fn of(finding: &'static Finding, file: &CaseFile) -> Self {
        let answered = file
            .answers
            .iter()
            .find(|answered| answered.finding == finding);
        Self {
            finding: finding.id,
            asks: finding.asks,
            is_event: matches!(finding.kind, Kind::Event { .. }),
            answer: answered.map_or("", |answered| answered.answer.id()),
            filters: at_filters(finding, file),
        }
    }
}

pub(super) fn reading_lines(file: &CaseFile, moment: &Moment) -> Vec<ReadingLine> {
    file.readings
        .iter()
        .map(|stored| ReadingLine {
            id: stored.id,
            label: stored.reading.analyte.label,
            value: stored.reading.print(&file.units),
            when: when(stored.reading.taken_at, moment.wall),
            kit: stored.reading.kit.map_or("", |kit| kit.title),
            struck: stored.is_struck(),
            aside: !stored.is_struck() && !file.counts(stored),
        })
        .collect()
}

/// Suspects this unlikely are only listed.
const WORTH_A_LINE: f64 = 0.04;

pub(super) fn suspects(
    differential: &Differential,
    account: &Account,
    Case { tank, observed }: &Case,
) -> Vec<SuspectView> {
    differential
        .of_this_case()
        .filter(|suspect| suspect.probability >= WORTH_A_LINE)
        .take(6)
        .map(|suspect| SuspectView {
            id: suspect.fault.id,
            title: suspect.about.map_or_else(
                || suspect.fault.title.to_owned(),
                |reading| {
                    format!(
                        "The reading “{} {}” is off",
                        observed.readings[reading].analyte.label,
                        observed.readings[reading].print(&observed.units)
                    )
                },
            ),
            what: suspect.fault.what,
            sits_in: sits_in(suspect, tank),
            brought_by: suspect.brought_by.map(|cause| cause.title),
            probability: percent(suspect.probability),
            width: whole_percent(suspect.probability),
            reasons: account.why(suspect).map_or_else(Vec::new, reasons),
        })
        .collect()
}

/// In which filter a suspect sits, where that was told and is rather sure.
fn sits_in(suspect: &Suspect, tank: &Tank) -> Option<String> {
    const RATHER_SURE: f64 = 0.6;
    let (number, share) = suspect
        .filters
        .first()
        .filter(|(_, share)| *share >= RATHER_SURE)?;
    let filter = tank
        .filters
        .iter()
        .find(|filter| filter.number == *number)?;
    Some(format!("in {} ({})", filter.name, percent(*share)))
}

fn whole_percent(probability: f64) -> u32 {
    #[expect(
        clippy::cast_possible_truncation,
        clippy::cast_sign_loss,
        reason = "0 to 100"
    )]
    let percent = (probability.clamp(0.0, 1.0) * 100.0).round() as u32;
    percent
}

/// The reasons that moved it.
pub(super) fn reasons(why: &Why) -> Vec<ReasonView> {
    why.reasons
        .iter()
        .filter(|reason| reason.weight.abs() >= 0.1)
        .map(reason_view)
        .collect()
}

fn reason_view(reason: &Reason) -> ReasonView {
    ReasonView {
        says: reason.says.clone(),
        origin: match reason.origin {
            Origin::Seen => "seen",
            Origin::Read => "read",
            Origin::File => "tank file",
            Origin::Record => "on record",
            Origin::Computed => "computed",
            Origin::Flow => "flow model",
        },
        in_drift: reason.origin == Origin::Flow,
        factor: reason.factor(),
        speaks_for: reason.weight > 0.0,
    }
}

/// What the tank file alone makes likely.
pub(super) fn also_true(differential: &Differential) -> Vec<(&'static str, String)> {
    differential
        .also_true(ALSO_TRUE)
        .map(|suspect| (suspect.fault.title, percent(suspect.probability)))
        .collect()
}

/// The rest, for completeness.
pub(super) fn unlikely(differential: &Differential) -> Vec<(&'static str, String)> {
    let least = |suspect: &Suspect| {
        if suspect.accounts {
            WORTH_A_LINE
        } else {
            ALSO_TRUE
        }
    };
    let rest = differential
        .suspects
        .iter()
        .filter(|suspect| suspect.probability < least(suspect) && suspect.about.is_none());
    rest.map(|suspect| (suspect.fault.title, percent(suspect.probability)))
        .collect()
}

/// Likely combinations of two or three.
pub(super) fn together(differential: &Differential) -> Vec<(String, String)> {
    let several = differential
        .combinations
        .iter()
        .filter(|(faults, probability)| faults.len() > 1 && *probability >= 0.03);
    several
        .map(|(faults, probability)| {
            (
                faults
                    .iter()
                    .map(|fault| fault.title)
                    .collect::<Vec<_>>()
                    .join(" + "),
                percent(*probability),
            )
        })
        .collect()
}

/// Everything as it was entered, newest first, with its number.
pub(super) fn history(
    file: &CaseFile,
    clock: &Clock,
    moment: &Moment,
) -> Vec<(usize, String, String)> {
    let entries = file.entries();
    let line = |(index, entry): (usize, &Entered<'_>)| {
        (
            index + 1,
            when(clock.wall_at(entry.at()), moment.wall),
            entry_words(entry, &file.units),
        )
    };
    entries.iter().enumerate().rev().map(line).collect()
}

/// What was entered, in words.
pub(super) fn entry_words(entry: &Entered<'_>, units: &Units) -> String {
    let reading = |stored: &Stored| {
        format!(
            "{} {}",
            stored.reading.analyte.label,
            stored.reading.print(units)
        )
    };
    match entry {
        Entered::Answer(answer) => {
            finding::by_id(&answer.finding).map_or(answer.finding.clone(), |finding| {
                match answer.answer {
                    Some(Answer::Yes) => finding.says.to_owned(),
                    Some(Answer::No) => finding.says_not.to_owned(),
                    None => format!("Withdrawn: {}", finding.says),
                }
            })
        }
        Entered::Reading(stored) => reading(stored),
        Entered::Strike(stored) => format!("Struck out: {}", reading(stored)),
        Entered::ChosenChange(choice) => format!("Chosen: {}", choice.title()),
    }
}
