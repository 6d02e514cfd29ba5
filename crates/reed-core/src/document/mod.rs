//! The open file: a tank with what was seen, what happened and what was read. `*.reed.json`.
//!
//! The types here are the format: the JSON Schema in `docs/` is derived from them and from the
//! ranges of their fields. Ids are those of the catalogues; times are those of the clock on the
//! wall beside the tank. Reading is tolerant: what is not known is kept and reported. What cannot
//! be is refused with its place as a JSON pointer.

mod answer;
pub mod start;
mod unknown;
mod upgrade;

pub use answer::{Answer, Hindrance};

use jiff::civil::DateTime;
use serde_json::Value;

#[cfg(feature = "schema")]
use crate::field::Described;
use crate::log::Entry;
use crate::tank::{self, Analyte, Reading, Serial, Tank, kit};
use crate::units::Units;

/// The present version of the format.
pub const FORMAT: &str = "zesty-reed/3";

/// Version 2, which had no log.
const FORMAT_2: &str = "zesty-reed/2";

/// The JSON Schema of the format, as published.
pub const SCHEMA: &str = include_str!("../../../../docs/case-document.schema.json");

/// Version 1, whose tanks had no things in them.
const FORMAT_1: &str = "zesty-reed/1";

/// Largest file that is read, in bytes: hundreds of times what a tank of 500 things takes.
pub const LARGEST_FILE: usize = 4 * 1024 * 1024;

/// A file that was read.
#[derive(Clone, Debug, PartialEq)]
pub struct Opened {
    /// What it says.
    pub document: Document,
    /// JSON pointers of what this program does not know. Kept with the tank, except for what
    /// belongs to findings, events and readings.
    pub unknown: Vec<String>,
}

/// A tank and a case.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Document {
    /// Always `zesty-reed/3`; files of versions 1 and 2 are read too.
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
    /// Checks that were asked for and could not be done.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub declined: Vec<DeclinedEntry>,
    /// The log of the tank: what happened, and what is planned.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub log: Vec<Entry>,
}

/// A check that could not be done.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct DeclinedEntry {
    /// Id of the check, such as `read-ammonia`.
    pub check: String,
    /// Why not.
    pub why: Hindrance,
    /// When it was asked for.
    pub at: DateTime,
}

/// A sign with its answer. Not looked: leave it out.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct FindingEntry {
    /// Id of the finding, such as `surface-flat`.
    pub finding: String,
    /// Yes or no.
    pub answer: Answer,
    /// When it was seen.
    pub at: DateTime,
    /// Of a finding of a filter: the numbers of those that show it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub filters: Vec<Serial>,
}

/// An event with its answer.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct EventEntry {
    /// Id of the event, such as `equipment-moved`.
    pub event: String,
    /// It happened, or it did not.
    pub answer: Answer,
    /// When it happened; for a no, when it was asked.
    pub at: DateTime,
}

/// A measurement.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
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
    /// Reads a file as far as its form goes; what it says is not checked yet.
    ///
    /// # Errors
    /// When it is not JSON of this format, or is larger than [`LARGEST_FILE`].
    pub(crate) fn parse(text: &str) -> Result<Opened, NotADocument> {
        let refuse = |why: String| NotADocument(vec![why]);
        if text.len() > LARGEST_FILE {
            let (size, most) = (text.len() / 1024, LARGEST_FILE / 1024);
            return Err(refuse(format!(
                "The file has {size} kB; at most {most} kB are read."
            )));
        }
        let mut given: Value = serde_json::from_str(text).map_err(|error| {
            refuse(format!(
                "This is no whole JSON file: {error}. Is it cut off?"
            ))
        })?;
        match given.get("format").and_then(Value::as_str) {
            Some(FORMAT | FORMAT_2) => {}
            Some(FORMAT_1) => given
                .get_mut("tank")
                .into_iter()
                .for_each(upgrade::tank_from_1),
            Some(other) => {
                return Err(refuse(format!(
                    "/format: “{}” is not known; this program reads “{FORMAT}”, “{FORMAT_2}” and “{FORMAT_1}”.",
                    shown(other)
                )));
            }
            None => {
                return Err(refuse(format!(
                    "/format: nothing is given; a file of this program begins with \"format\": \"{FORMAT}\"."
                )));
            }
        }
        // What is kept of unknown things is not part of the format: a file that says so says
        // something unknown itself.
        let of_that_name = given
            .get_mut("tank")
            .and_then(|tank| tank.as_object_mut()?.remove("unknown"));
        let mut document: Self = serde_path_to_error::deserialize(&given).map_err(|error| {
            refuse(format!(
                "{}: {}.",
                pointer(error.path()),
                shown(&error.inner().to_string())
            ))
        })?;
        FORMAT.clone_into(&mut document.format);
        let mut unknown = unknown::lost(&given, &document.to_value());
        unknown.0.remove("/format");
        unknown
            .0
            .extend(of_that_name.map(|value| ("/tank/unknown".to_owned(), value)));
        let names = unknown.0.keys().cloned().collect();
        unknown.0.retain(|place, _| {
            ![
                "/findings/",
                "/events/",
                "/readings/",
                "/declined/",
                "/log/",
            ]
            .iter()
            .any(|list| place.starts_with(list))
        });
        document.tank.unknown.0.extend(unknown.0);
        Ok(Opened {
            document,
            unknown: names,
        })
    }

    /// What in the tank cannot be, each with its place in the file.
    pub(crate) fn tank_faults(&self) -> Vec<String> {
        let refusals = self.tank.refusals(&Units::BASE);
        refusals
            .iter()
            .map(|refusal| format!("/tank{}: {refusal}", refusal.field))
            .collect()
    }

    /// As text; what was unknown in the file it came from is back in its place.
    ///
    /// # Panics
    /// Never: every field is plain data.
    pub fn write(&self) -> String {
        let mut document = self.to_value();
        if let Some(tank) = document["tank"].as_object_mut() {
            tank.remove("unknown");
        }
        unknown::restore(&mut document, &self.tank.unknown);
        serde_json::to_string_pretty(&document).expect("a value can be written as JSON") + "\n"
    }

    fn to_value(&self) -> Value {
        serde_json::to_value(self).expect("plain data can be written as JSON")
    }

    /// The JSON Schema of the format, as text, derived from the types: what [`SCHEMA`] has to be.
    ///
    /// # Panics
    /// Never: a schema is plain data.
    #[cfg(feature = "schema")]
    pub fn derived_schema() -> String {
        let mut schema = schemars::schema_for!(Self).to_value();
        if let Some(fields) = schema
            .pointer_mut("/$defs/Tank/properties")
            .and_then(Value::as_object_mut)
        {
            fields.remove("unknown");
        }
        schema["properties"]["format"]["enum"] = serde_json::json!([FORMAT]);
        crate::field::narrow(&mut schema, "/$defs/Tank", Tank::FIELDS);
        serde_json::to_string_pretty(&schema).expect("a schema can be written as JSON") + "\n"
    }
}

/// Reads a tank as the program stored it, of this or an older version.
///
/// # Errors
/// When it is no tank.
pub fn stored_tank(text: &str) -> Result<Tank, serde_json::Error> {
    // Nearly all are of the present version, and pages read many: an older one is looked for only
    // where that fails.
    serde_json::from_str(text).or_else(|error| {
        let mut tank: Value = serde_json::from_str(text)?;
        if !upgrade::is_tank_of_1(&tank) {
            return Err(error);
        }
        upgrade::tank_from_1(&mut tank);
        serde_json::from_value(tank)
    })
}

/// The place of an error as a JSON pointer.
fn pointer(path: &serde_path_to_error::Path) -> String {
    use serde_path_to_error::Segment;
    path.iter()
        .map(|segment| match segment {
            Segment::Seq { index } => format!("/{index}"),
            Segment::Map { key } => format!("/{key}"),
            Segment::Enum { variant } => format!("/{variant}"),
            Segment::Unknown => "/?".to_owned(),
        })
        .collect()
}

/// Words of a file, short enough to repeat.
pub(crate) fn shown(words: &str) -> String {
    const MOST: usize = 300;
    let short: String = words
        .chars()
        .filter(|letter| !letter.is_control())
        .take(MOST)
        .collect();
    if words.chars().count() > MOST {
        short + "…"
    } else {
        short
    }
}

impl ReadingEntry {
    /// The reading, or why it cannot be, the name of its field first.
    pub(crate) fn reading(&self) -> Result<Reading, String> {
        let known: Vec<_> = Analyte::ALL.iter().map(|analyte| analyte.id).collect();
        let analyte = tank::analyte(&self.analyte).ok_or_else(|| {
            format!(
                "analyte: “{}” is not known; known are {}.",
                self.analyte,
                known.join(", ")
            )
        })?;
        if !analyte.holds(self.value) {
            return Err(format!(
                "value: {} is not accepted; {} goes from {} to {} {}.",
                self.value, analyte.label, analyte.low, analyte.high, analyte.units[0].symbol
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
        let spread = self
            .spread
            .unwrap_or_else(|| kit.unwrap_or_else(|| kit::first_for(analyte)).spread);
        if !(spread > 0.0 && spread <= analyte.high) {
            return Err(format!(
                "spread: {spread} is not accepted; give a number above 0, at most {}.",
                analyte.high
            ));
        }
        Ok(Reading {
            analyte,
            value: self.value,
            spread,
            taken_at: self.taken_at,
            kit,
        })
    }
}
