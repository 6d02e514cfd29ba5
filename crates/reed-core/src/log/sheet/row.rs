//! A row of a sheet as readings and an entry.

use csv::StringRecord;
use jiff::civil::DateTime;
use jiff::tz::TimeZone;

use super::moment;
use super::role::Role;
use super::write::unguarded;
use super::{DateOrder, Mapping};
use crate::log::quick::{Meant, Quick, analyte_named};
use crate::log::{Details, Entry, Happening, On, When};
use crate::tank::{Analyte, Reading, Serial, Tank, analyte, kit};
use crate::units::Units;

/// What a row is read against.
#[derive(Clone, Debug)]
pub struct Read<'a> {
    /// Whose filters and groups are named.
    pub tank: &'a Tank,
    /// The clock on the wall.
    pub now: DateTime,
    /// Of the clock beside the tank, into which hours of other zones are turned.
    pub zone: TimeZone,
    /// Units of values without one.
    pub units: &'a Units,
}

/// What a row, or a cell of it, says.
#[derive(Clone, Debug, PartialEq)]
pub enum Row {
    /// A reading, and whether it is withdrawn.
    Reading(Reading, bool),
    /// Something that happened, and whether it is withdrawn.
    Entry(Box<Entry>, bool),
}

/// A row that cannot be taken.
#[derive(Clone, Debug, PartialEq)]
pub struct Refused {
    /// Its line in the file.
    pub line: u64,
    /// Why, as a sentence.
    pub why: String,
}

impl Read<'_> {
    /// What a row says: one reading or entry where a column says what, else a reading for each
    /// analyte that has a value.
    pub(super) fn row(&self, record: &StringRecord, mapping: &Mapping) -> Result<Vec<Row>, String> {
        let cell = |role: Role| {
            let place = mapping.roles.iter().position(|own| *own == role);
            place
                .and_then(|place| record.get(place))
                .map_or("", unguarded)
                .trim()
        };
        if record.iter().all(|cell| cell.trim().is_empty()) {
            return Ok(Vec::new());
        }
        let order = mapping.dates.unwrap_or(DateOrder::Year);
        let moment = |text: &str, time: &str| {
            moment::read(text, time, order, &self.zone)
                .ok_or_else(|| format!("“{text}” is no date; give one such as 2026-03-10 08:30."))
        };
        let (from, has_hour) = moment(cell(Role::When), cell(Role::Time))?;
        let when = match cell(Role::Until) {
            "" if has_hour => When::minute(from),
            "" => When::day(from.date()),
            until => When {
                from,
                to: moment(until, "")?.0,
            },
        };
        if when.from > self.now && !mapping.roles.contains(&Role::What) {
            return Err(format!("{from} is in the future."));
        }
        let withdrawn = !matches!(cell(Role::Withdrawn), "" | "no");
        let mut rows = Vec::new();
        for (place, role) in mapping.roles.iter().enumerate() {
            let value = record.get(place).map_or("", unguarded).trim();
            if let Role::Of(analyte) = role
                && !value.is_empty()
            {
                let reading = self.reading(analyte, value, when, &cell)?;
                rows.push(Row::Reading(reading, withdrawn));
            }
        }
        let (what, note) = (cell(Role::What), cell(Role::Note));
        if !what.is_empty() {
            // Copper is both read and used: with a value it was read.
            let is_kind = Happening::by_id(what).is_some() && cell(Role::Value).is_empty();
            rows.push(match analyte_of(what).filter(|_| !is_kind) {
                Some(analyte) => {
                    let value = format!("{} {}", cell(Role::Value), cell(Role::Unit));
                    Row::Reading(self.reading(analyte, value.trim(), when, &cell)?, withdrawn)
                }
                None => Row::Entry(Box::new(self.entry(what, when, &cell)?), withdrawn),
            });
        } else if !note.is_empty() {
            let note = self.entry("note", when, &cell)?;
            rows.push(Row::Entry(Box::new(note), withdrawn));
        }
        if rows.is_empty() {
            return Err("Nothing in it says what was read or happened.".to_owned());
        }
        Ok(rows)
    }

    fn reading<'c>(
        &self,
        analyte: &'static Analyte,
        value: &str,
        when: When,
        cell: &impl Fn(Role) -> &'c str,
    ) -> Result<Reading, String> {
        let taken_at = when.likely();
        if taken_at > self.now {
            return Err(format!("{}: {taken_at} is in the future.", analyte.label));
        }
        let usual = Reading::usual(
            analyte,
            analyte
                .read(value, self.units)
                .map_err(|refusal| refusal.to_string())?,
            taken_at,
        );
        let kit = kit::by_id(cell(Role::Kit)).filter(|kit| kit.analyte == analyte);
        let spread = match cell(Role::Spread) {
            "" => None,
            text => {
                let unit = self.units.of(analyte.units);
                let typed = text.replace(',', ".").parse::<f64>().ok();
                let spread = typed.filter(|spread| *spread > 0.0);
                Some(spread.ok_or_else(|| format!("“{text}” is no uncertainty."))? * unit.factor)
            }
        };
        Ok(Reading {
            spread: spread.or(kit.map(|kit| kit.spread)).unwrap_or(usual.spread),
            kit: kit.or(usual.kit),
            ..usual
        })
    }

    /// By the id of its kind, or in words as the quick line takes them.
    fn entry<'c>(
        &self,
        what: &str,
        when: When,
        cell: &impl Fn(Role) -> &'c str,
    ) -> Result<Entry, String> {
        let quick = Quick {
            tank: self.tank,
            now: self.now,
            units: self.units,
        };
        let mut entry = match Happening::by_id(what) {
            Some(kind) => Entry::of(kind, when),
            None => match quick.read(what).into_iter().next().map(|said| said.meant) {
                Some(Meant::Entry(entry)) => entry,
                _ => {
                    let kind = Happening::by_id("note").expect("it is declared");
                    Entry {
                        note: what.to_owned(),
                        ..Entry::of(kind, when)
                    }
                }
            },
        };
        entry.when = when;
        if let (text, Some(measure)) =
            (cell(Role::Value), entry.kind().and_then(|kind| kind.amount))
            && !text.is_empty()
        {
            let number = text.trim_end_matches('%').trim().replace(',', ".");
            let own = measure.unit_for(self.units);
            let typed = number.parse::<f64>().ok();
            let amount = typed.map(|typed| own.map_or(typed, |own| own.to_base(typed)));
            entry.amount = Some(amount.ok_or_else(|| format!("“{text}” is no number."))?);
        }
        let note = cell(Role::Note);
        if !note.is_empty() {
            entry.note = if entry.note.is_empty() {
                note.to_owned()
            } else {
                format!("{}: {note}", entry.note)
            };
        }
        let on = cell(Role::On);
        if !on.is_empty() {
            entry.on = self.on(on);
        }
        let details = cell(Role::Details);
        if !details.is_empty() {
            entry.details = serde_json::from_str::<Details>(details).map_err(|error| {
                format!("The details are not as this program writes them: {error}.")
            })?;
        }
        if entry.is_yet_to_come(self.now) {
            return Err(format!(
                "{} is in the future, and nobody plans this.",
                when.from
            ));
        }
        match entry.fault(self.tank) {
            None => Ok(entry),
            Some(why) => Err(why),
        }
    }

    fn on(&self, text: &str) -> On {
        let number = text
            .strip_prefix("filter ")
            .and_then(|number| number.parse().ok());
        if let Some(number) = number {
            return On::Filter(Serial(number));
        }
        let filter = self.tank.filters.iter().find(|filter| filter.name == text);
        filter.map_or_else(
            || On::Group(text.to_owned()),
            |filter| On::Filter(filter.number),
        )
    }
}

fn analyte_of(what: &str) -> Option<&'static Analyte> {
    analyte(what).or_else(|| analyte_named(&what.to_lowercase()))
}
