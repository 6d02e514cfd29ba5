//! The open file: a tank with what was seen, what happened and what was read. `*.reed.json`.
//!
//! The types here are the format: the JSON Schema in `docs/` is derived from them. Ids are those of the catalogues;
//! times are those of the clock on the wall beside the tank.

use jiff::civil::DateTime;

use crate::diagnosis::finding::{self, Kind};
use crate::diagnosis::{Answer, Answered, Observed};
use crate::tank::{self, Analyte, Reading, Tank, kit};

/// The first and so far only version of the format.
pub const FORMAT: &str = "zesty-reed/1";

/// A tank and a case.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Document {
    /// Always `zesty-reed/1`.
    pub format: String,
    /// The moment the case is looked at, which gives events their age; left out: when it is read.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub as_of: Option<DateTime>,
    /// What stands there.
    pub tank: Tank,
    /// What was seen or asked.
    #[serde(default)]
    pub findings: Vec<FindingEntry>,
    /// What happened.
    #[serde(default)]
    pub events: Vec<EventEntry>,
    /// What was read.
    #[serde(default)]
    pub readings: Vec<ReadingEntry>,
}

/// A sign with its answer. Not looked: leave it out.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct FindingEntry {
    /// Id of the finding, such as `surface-flat`.
    pub finding: String,
    /// Yes or no.
    pub answer: Answer,
    /// When it was seen.
    pub at: DateTime,
}

/// An event with its answer.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct EventEntry {
    /// Id of the event, such as `equipment-moved`.
    pub event: String,
    /// It happened, or it did not.
    pub answer: Answer,
    /// When it happened; for a no, when it was asked.
    pub at: DateTime,
}

/// A measurement.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct ReadingEntry {
    /// Id of what was measured, such as `do`.
    pub analyte: String,
    /// The value: mg/L (nitrogen compounds as N), °C, pH or dKH.
    pub value: f64,
    /// One standard deviation; left out: that of the kit.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub spread: Option<f64>,
    /// Id of the kit.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub kit: Option<String>,
    /// When it was taken.
    pub taken_at: DateTime,
}

/// Why a file was not taken: every reason at once, each naming its place in the file.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[error("{}", .0.join("\n"))]
pub struct NotADocument(pub Vec<String>);

impl Document {
    /// Reads and checks a file.
    ///
    /// # Errors
    /// When it is not JSON of this format, names unknown ids, or holds a value that cannot be.
    pub fn read(text: &str) -> Result<Self, NotADocument> {
        let document: Self =
            serde_json::from_str(text).map_err(|error| NotADocument(vec![format!("This is not a {FORMAT} document: {error}.")]))?;
        let mut faults: Vec<String> = document.tank.refusals().iter().map(|refusal| format!("tank.{}: {refusal}", refusal.field)).collect();
        if document.format != FORMAT {
            faults.push(format!("format: “{}” is not known; this program reads “{FORMAT}”.", document.format));
        }
        faults.extend(document.observed(DateTime::MAX).err().into_iter().flat_map(|error| error.0));
        if faults.is_empty() { Ok(document) } else { Err(NotADocument(faults)) }
    }

    /// The document of a tank and a case.
    pub fn of(tank: &Tank, observed: &Observed) -> Self {
        let is_event = |answered: &&Answered| matches!(answered.finding.kind, Kind::Event { .. });
        let entry =
            |answered: &Answered| FindingEntry { finding: answered.finding.id.to_owned(), answer: answered.answer, at: answered.at };
        Self {
            format: FORMAT.to_owned(),
            as_of: Some(observed.now),
            tank: tank.clone(),
            findings: observed.answers.iter().filter(|answered| !is_event(answered)).map(entry).collect(),
            events: observed
                .answers
                .iter()
                .filter(is_event)
                .map(|answered| EventEntry { event: answered.finding.id.to_owned(), answer: answered.answer, at: answered.at })
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
        }
    }

    /// What was seen and read, as of the document's moment or else `now`.
    ///
    /// # Errors
    /// When an id is unknown or a reading cannot be.
    pub fn observed(&self, now: DateTime) -> Result<Observed, NotADocument> {
        let mut faults = Vec::new();
        let mut observed = Observed::nothing(self.as_of.unwrap_or(now));
        let findings = self
            .findings
            .iter()
            .enumerate()
            .map(|(i, entry)| (format!("findings[{i}].finding"), &entry.finding, entry.answer, entry.at, false));
        let events =
            self.events.iter().enumerate().map(|(i, entry)| (format!("events[{i}].event"), &entry.event, entry.answer, entry.at, true));
        for (place, id, answer, at, is_event) in findings.chain(events) {
            match finding::by_id(id).filter(|finding| !finding.asks.is_empty() && matches!(finding.kind, Kind::Event { .. }) == is_event) {
                Some(finding) if observed.answer(finding).is_none() => observed.answers.push(Answered { finding, answer, at }),
                Some(_) => faults.push(format!("{place}: “{id}” is answered twice; keep one.")),
                None => faults.push(format!("{place}: “{id}” is not known here; known are {}.", known_ids(is_event))),
            }
        }
        for (i, entry) in self.readings.iter().enumerate() {
            match entry.reading() {
                Ok(reading) => observed.readings.push(reading),
                Err(why) => faults.push(format!("readings[{i}].{why}")),
            }
        }
        observed.readings.sort_by_key(|reading| reading.taken_at);
        if faults.is_empty() { Ok(observed) } else { Err(NotADocument(faults)) }
    }

    /// As text.
    ///
    /// # Panics
    /// Never: every field is plain data.
    pub fn write(&self) -> String {
        serde_json::to_string_pretty(self).expect("plain data can be written as JSON") + "\n"
    }

    /// The JSON Schema of the format, as text.
    ///
    /// # Panics
    /// Never: a schema is plain data.
    pub fn schema() -> String {
        serde_json::to_string_pretty(&schemars::schema_for!(Self)).expect("a schema can be written as JSON") + "\n"
    }
}

impl ReadingEntry {
    fn reading(&self) -> Result<Reading, String> {
        let known: Vec<_> = Analyte::ALL.iter().map(|analyte| analyte.id).collect();
        let analyte = tank::analyte(&self.analyte)
            .ok_or_else(|| format!("analyte: “{}” is not known; known are {}.", self.analyte, known.join(", ")))?;
        if !analyte.holds(self.value) {
            return Err(format!(
                "value: {} is not accepted; {} goes from {} to {} {}.",
                self.value, analyte.label, analyte.low, analyte.high, analyte.unit
            ));
        }
        let kit = match &self.kit {
            None => None,
            Some(id) => Some(
                kit::by_id(id)
                    .filter(|kit| kit.analyte == analyte)
                    .ok_or_else(|| format!("kit: “{id}” does not measure {}.", analyte.label))?,
            ),
        };
        let spread = self.spread.unwrap_or_else(|| kit.unwrap_or_else(|| kit::first_for(analyte)).spread);
        if !(spread > 0.0 && spread <= analyte.high) {
            return Err(format!("spread: {spread} is not accepted; give a number above 0, at most {}.", analyte.high));
        }
        Ok(Reading { analyte, value: self.value, spread, taken_at: self.taken_at, kit })
    }
}

fn known_ids(events: bool) -> String {
    let ids: Vec<_> = finding::all()
        .filter(|finding| !finding.asks.is_empty() && matches!(finding.kind, Kind::Event { .. }) == events)
        .map(|finding| finding.id)
        .collect();
    ids.join(", ")
}
