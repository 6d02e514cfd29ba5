//! A case in a file: what the ids of a document mean, and the document of a case.

use jiff::SignedDuration;
use jiff::civil::DateTime;

use super::case::Case;
use super::check;
use super::declined::Declined;
use super::finding::{self, Kind};
use super::observed::{Answered, Observed};
use super::record;
use crate::document::{
    Answer, DeclinedEntry, Document, EventEntry, FORMAT, FindingEntry, NotADocument, Opened,
    ReadingEntry, shown,
};
use crate::log::Entry;
use crate::tank::Serial;

/// How far ahead of its moment a file may plan. A judgement.
const PLANNED_AHEAD: SignedDuration = SignedDuration::from_hours(24 * 366);

impl Document {
    /// Reads and checks a file.
    ///
    /// # Errors
    /// When it is not JSON of this format, is larger than
    /// [`LARGEST_FILE`](crate::document::LARGEST_FILE), names unknown ids, or holds a value that
    /// cannot be.
    pub fn read(text: &str) -> Result<Opened, NotADocument> {
        let opened = Self::parse(text)?;
        let mut faults = opened.document.tank_faults();
        if let Err(NotADocument(of_case)) = opened.document.case(DateTime::MAX) {
            faults.extend(of_case);
        }
        if faults.is_empty() {
            Ok(opened)
        } else {
            Err(NotADocument(faults))
        }
    }

    /// The document of a tank and a case.
    pub fn of(case: &Case) -> Self {
        let Case { tank, observed } = case;
        let is_event = |answered: &&Answered| matches!(answered.finding.kind, Kind::Event { .. });
        let entry = |answered: &Answered| FindingEntry {
            finding: answered.finding.id.to_owned(),
            answer: answered.answer,
            at: answered.at,
            // A filter that was taken away since is no longer named.
            filters: answered
                .filters
                .iter()
                .copied()
                .filter(|number| tank.filters.iter().any(|filter| filter.number == *number))
                .collect(),
        };
        Self {
            format: FORMAT.to_owned(),
            as_of: Some(observed.now),
            tank: tank.clone(),
            findings: observed
                .answers
                .iter()
                .filter(|answered| !is_event(answered))
                .map(entry)
                .collect(),
            events: observed
                .answers
                .iter()
                .filter(is_event)
                .map(|answered| EventEntry {
                    event: answered.finding.id.to_owned(),
                    answer: answered.answer,
                    at: answered.at,
                })
                .collect(),
            readings: observed
                .readings
                .iter()
                .map(|reading| ReadingEntry {
                    analyte: reading.analyte.id.to_owned(),
                    value: reading.value,
                    spread: Some(reading.spread),
                    kit: reading.kit.map(|kit| kit.id.to_owned()),
                    taken_at: reading.taken_at,
                })
                .collect(),
            declined: observed
                .declined
                .iter()
                .map(|declined| DeclinedEntry {
                    check: declined.check.id.to_owned(),
                    why: declined.why,
                    at: declined.at,
                })
                .collect(),
            log: Vec::new(),
        }
    }

    /// The tank with what was seen and read, as of the document's moment or else `now`.
    ///
    /// # Errors
    /// When an id is unknown or a reading cannot be.
    pub fn case(&self, now: DateTime) -> Result<Case, NotADocument> {
        let mut observed = Observed::nothing(&self.tank, self.as_of.unwrap_or(now));
        // A case may hold what was seen after the moment of which it speaks, such as the proof of a
        // change: only the future cannot be.
        let mut faults = self.in_the_future(observed.now.max(now));
        self.answers(&mut observed, &mut faults);
        self.at_filters(&mut observed, &mut faults);
        for (i, entry) in self.readings.iter().enumerate() {
            match entry.reading() {
                Ok(reading) => observed.readings.push(reading),
                Err(why) => faults.push(format!("/readings/{i}/{why}")),
            }
        }
        for (i, entry) in self.declined.iter().enumerate() {
            match check::by_id(&entry.check) {
                Some(check) => observed.declined.push(Declined {
                    check,
                    why: entry.why,
                    at: entry.at,
                }),
                None => faults.push(format!(
                    "/declined/{i}/check: “{}” is no check of this program.",
                    shown(&entry.check)
                )),
            }
        }
        observed.readings.sort_by_key(|reading| reading.taken_at);
        observed.recorded = record::of(&self.tank, &self.log, observed.now);
        faults.extend(self.log_faults(observed.now.max(now)));
        if faults.is_empty() {
            Ok(Case {
                tank: self.tank.clone(),
                observed,
            })
        } else {
            Err(NotADocument(faults))
        }
    }

    /// What in the log cannot be; what is planned is so no more than a year ahead.
    fn log_faults(&self, latest: DateTime) -> Vec<String> {
        let ahead = latest.saturating_add(PLANNED_AHEAD);
        let fault = |(i, entry): (usize, &Entry)| {
            let moments = [("from", entry.when.from), ("to", entry.when.to)];
            let late = moments.into_iter().find(|(_, at)| *at > ahead);
            if let Some((key, at)) = late {
                return Some(format!(
                    "/log/{i}/{key}: {at} is not accepted. Give a moment up to {ahead}."
                ));
            }
            let why = entry.fault(&self.tank)?;
            Some(format!("/log/{i}/{why}"))
        };
        self.log.iter().enumerate().filter_map(fault).collect()
    }

    /// What is dated later than anything can have happened.
    fn in_the_future(&self, latest: DateTime) -> Vec<String> {
        let dates = self.tank.days_after(latest.date());
        let mut faults: Vec<String> = dates
            .iter()
            .map(|refusal| format!("/tank{}: {refusal}", refusal.field))
            .collect();
        let mut look_at = |list: &str, key: &str, moments: Vec<DateTime>| {
            for (i, at) in moments
                .into_iter()
                .enumerate()
                .filter(|(_, at)| *at > latest)
            {
                faults.push(format!(
                    "/{list}/{i}/{key}: {at} is not accepted; that is in the future. Give a moment up to {latest}."
                ));
            }
        };
        look_at(
            "findings",
            "at",
            self.findings.iter().map(|entry| entry.at).collect(),
        );
        look_at(
            "events",
            "at",
            self.events.iter().map(|entry| entry.at).collect(),
        );
        look_at(
            "readings",
            "taken_at",
            self.readings.iter().map(|entry| entry.taken_at).collect(),
        );
        look_at(
            "declined",
            "at",
            self.declined.iter().map(|entry| entry.at).collect(),
        );
        faults
    }

    /// Findings and events with their answers, each once.
    fn answers(&self, observed: &mut Observed, faults: &mut Vec<String>) {
        let findings = self.findings.iter().enumerate().map(|(i, entry)| {
            let place = format!("/findings/{i}/finding");
            (place, &entry.finding, entry.answer, entry.at, false)
        });
        let events = self.events.iter().enumerate().map(|(i, entry)| {
            let place = format!("/events/{i}/event");
            (place, &entry.event, entry.answer, entry.at, true)
        });
        for (place, id, answer, at, is_event) in findings.chain(events) {
            let asked = finding::by_id(id).filter(|finding| {
                !finding.asks.is_empty() && matches!(finding.kind, Kind::Event { .. }) == is_event
            });
            match asked {
                Some(finding) if observed.answer(finding).is_none() => {
                    observed.answers.push(Answered::new(finding, answer, at));
                }
                Some(_) => faults.push(format!("{place}: “{id}” is answered twice; keep one.")),
                None => faults.push(format!(
                    "{place}: “{id}” is not known here; known are {}.",
                    known_ids(is_event)
                )),
            }
        }
    }

    /// At which filters findings of a filter were seen.
    fn at_filters(&self, observed: &mut Observed, faults: &mut Vec<String>) {
        let numbers: Vec<Serial> = self
            .tank
            .filters
            .iter()
            .map(|filter| filter.number)
            .collect();
        let named = self
            .findings
            .iter()
            .enumerate()
            .filter(|(_, entry)| !entry.filters.is_empty());
        for (i, entry) in named {
            let answered = observed
                .answers
                .iter_mut()
                .find(|answered| answered.finding.id == entry.finding)
                .filter(|answered| {
                    answered.finding.is_of_a_filter() && answered.answer == Answer::Yes
                });
            let unknown = entry
                .filters
                .iter()
                .find(|filter| !numbers.contains(filter));
            match (answered, unknown) {
                (Some(answered), None) => answered.filters.clone_from(&entry.filters),
                (None, _) => faults.push(format!(
                    "/findings/{i}/filters: “{}” is not seen at a filter; leave this out.",
                    entry.finding
                )),
                (_, Some(unknown)) => {
                    let known: Vec<String> = numbers.iter().map(ToString::to_string).collect();
                    faults.push(format!(
                        "/findings/{i}/filters: {unknown} is no filter of this tank; known are {}.",
                        known.join(", ")
                    ));
                }
            }
        }
    }
}

fn known_ids(events: bool) -> String {
    let ids: Vec<_> = finding::all()
        .filter(|finding| {
            !finding.asks.is_empty() && matches!(finding.kind, Kind::Event { .. }) == events
        })
        .map(|finding| finding.id)
        .collect();
    ids.join(", ")
}
