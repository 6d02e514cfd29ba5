//! A part as text, the way a form holds it, and back.
//!
//! A *text tree* has the shape of the document but a string at every leaf, exactly as typed: it is
//! what a form shows, what it sends, and what is kept when something in it makes no sense.

use serde_json::{Map, Value};

use super::check::{accepted_whole, in_list};
use super::{Field, What, below, check, in_context};
use crate::units::{Refusal, Units, accepted_amount, plain, read_amount};

/// Deepest pointer a tank has, with room to spare: deeper ones are no field of ours.
const DEEPEST: usize = 12;

/// The text tree of what a form sent: pairs of JSON pointer and text, in any order. Pairs that are
/// no field are left out.
pub fn tree<'a>(pairs: impl Iterator<Item = (&'a str, &'a str)>, fields: &[Field]) -> Value {
    let mut root = Map::new();
    for (pointer, text) in pairs {
        let tokens: Vec<&str> = pointer.split('/').skip(1).collect();
        if let Some((last, way)) = tokens.split_last().filter(|_| tokens.len() <= DEEPEST) {
            let part = way.iter().try_fold(&mut root, |part, token| {
                part.entry((*token).to_owned())
                    .or_insert_with(|| Value::Object(Map::new()))
                    .as_object_mut()
            });
            if let Some(part) = part {
                part.entry((*last).to_owned())
                    .or_insert_with(|| Value::String(text.to_owned()));
            }
        }
    }
    shaped(Some(&Value::Object(root)), fields)
}

/// Only our fields, lists as lists in the order of their indices.
fn shaped(part: Option<&Value>, fields: &[Field]) -> Value {
    let shape = |field: &Field, value: &Value| match &field.what {
        What::Part(inner) => Some(shaped(Some(value), inner.fields)),
        What::List(inner) => {
            let mut entries: Vec<(u32, &Value)> = value
                .as_object()?
                .iter()
                .filter_map(|(index, entry)| Some((index.parse().ok()?, entry)))
                .collect();
            entries.sort_by_key(|(index, _)| *index);
            Some(Value::Array(
                entries
                    .into_iter()
                    .map(|(_, entry)| shaped(Some(entry), inner.fields))
                    .collect(),
            ))
        }
        What::Kinds(kinds) => {
            let (kind, inner) = kinds
                .iter()
                .find_map(|kind| Some((kind, value.get(kind.id)?)))?;
            Some(Value::Object(Map::from_iter([(
                kind.id.to_owned(),
                shaped(Some(inner), kind.part.fields),
            )])))
        }
        _ => value.is_string().then(|| value.clone()),
    };
    let entry = |field: &Field| Some((field.key.to_owned(), shape(field, part?.get(field.key)?)?));
    Value::Object(fields.iter().filter_map(entry).collect())
}

/// The text tree of a part that is stored.
pub fn texts_of(part: &Value, fields: &[Field], units: &Units) -> Value {
    let text = |field: &Field, value: &Value| match (&field.what, value) {
        (What::Part(inner), _) => Some(texts_of(value, inner.fields, units)),
        (What::List(inner), Value::Array(entries)) => Some(Value::Array(
            entries
                .iter()
                .map(|entry| texts_of(entry, inner.fields, units))
                .collect(),
        )),
        (What::Kinds(kinds), _) => {
            let (kind, inner) = kinds
                .iter()
                .find_map(|kind| Some((kind, value.get(kind.id)?)))?;
            Some(Value::Object(Map::from_iter([(
                kind.id.to_owned(),
                texts_of(inner, kind.part.fields, units),
            )])))
        }
        (What::Kept, _) | (_, Value::Null) => None,
        _ => Some(Value::String(bare(field, value, units))),
    };
    let entry = |field: &Field| Some((field.key.to_owned(), text(field, part.get(field.key)?)?));
    Value::Object(fields.iter().filter_map(entry).collect())
}

/// A value as it stands in its input: the number without its unit.
fn bare(field: &Field, value: &Value, units: &Units) -> String {
    match (&field.what, value) {
        (What::Amount(known), Value::Number(number)) => plain(
            units
                .of(known)
                .from_base(number.as_f64().unwrap_or_default()),
        ),
        (What::Clock, Value::Number(number)) => clock(number.as_f64().unwrap_or_default()),
        (What::YesNo, Value::Bool(yes)) => if *yes { "yes" } else { "" }.to_owned(),
        (_, Value::String(words)) => words.clone(),
        (_, other) => other.to_string(),
    }
}

/// A value as a sentence has it: with its unit, choices in words.
pub fn print(field: &Field, value: &Value, units: &Units) -> String {
    let bare = bare(field, value, units);
    match &field.what {
        What::Amount(known) => format!("{bare} {}", units.of(known).symbol)
            .trim_end()
            .to_owned(),
        What::OneOf(choices) => choices
            .iter()
            .find(|choice| choice.id == bare)
            .map_or(bare, |choice| choice.words.to_owned()),
        What::YesNo => if bare.is_empty() { "no" } else { "yes" }.to_owned(),
        What::FilterRef => format!("filter {bare}"),
        _ if bare.is_empty() => "nothing".to_owned(),
        _ => bare,
    }
}

/// Hours since midnight as a clock shows them.
fn clock(hours: f64) -> String {
    let minutes = (hours * 60.0).round().rem_euclid(24.0 * 60.0);
    format!("{:02.0}:{:02.0}", (minutes / 60.0).floor(), minutes % 60.0)
}

/// Makes sense of a text tree: the part as a document has it.
///
/// # Errors
/// Every field that makes no sense or is out of its range, with its JSON pointer.
pub fn from_texts(texts: &Value, fields: &[Field], units: &Units) -> Result<Value, Vec<Refusal>> {
    let mut refusals = Vec::new();
    let part = read(texts, fields, ("", ""), units, &mut refusals);
    let unread: Vec<String> = refusals
        .iter()
        .map(|refusal| refusal.field.clone())
        .collect();
    refusals.extend(
        check(&part, fields, units)
            .into_iter()
            .filter(|refusal| !unread.contains(&refusal.field)),
    );
    if refusals.is_empty() {
        Ok(part)
    } else {
        Err(refusals)
    }
}

fn read(
    texts: &Value,
    fields: &[Field],
    (pointer, context): (&str, &str),
    units: &Units,
    refusals: &mut Vec<Refusal>,
) -> Value {
    let mut part = Map::new();
    for field in fields {
        let place = below(pointer, field.key);
        let given = texts.get(field.key);
        let value = match (&field.what, given) {
            (What::Part(inner), Some(given)) => Some(read(
                given,
                inner.fields,
                (&place, context),
                units,
                refusals,
            )),
            (What::List(inner), Some(Value::Array(entries))) => {
                let read = |(index, entry): (usize, &Value)| {
                    let name = in_list(context, &name_of(entry, field, index));
                    read(
                        entry,
                        inner.fields,
                        (&below(&place, index), &name),
                        units,
                        refusals,
                    )
                };
                Some(Value::Array(entries.iter().enumerate().map(read).collect()))
            }
            (What::List(_), _) => Some(Value::Array(Vec::new())),
            (What::Kinds(kinds), Some(given)) => kinds.iter().find_map(|kind| {
                let inner = read(
                    given.get(kind.id)?,
                    kind.part.fields,
                    (&below(&place, kind.id), context),
                    units,
                    refusals,
                );
                Some(Value::Object(Map::from_iter([(kind.id.to_owned(), inner)])))
            }),
            (What::YesNo, given) => Some(Value::Bool(given.is_some_and(|text| text == "yes"))),
            (What::Part(_) | What::Kinds(_) | What::Kept, _) => None,
            (_, given) => {
                let text = given.and_then(Value::as_str).unwrap_or_default().trim();
                if text.is_empty() && field.optional {
                    None
                } else {
                    let value = leaf(field, text, units);
                    if value.is_none() {
                        refusals.push(Refusal::new(
                            place,
                            in_context(context, field.label),
                            text,
                            accepted(field, units),
                        ));
                    }
                    value
                }
            }
        };
        part.extend(value.map(|value| (field.key.to_owned(), value)));
    }
    Value::Object(part)
}

/// One typed text as a value of its field.
fn leaf(field: &Field, text: &str, units: &Units) -> Option<Value> {
    match &field.what {
        What::Amount(known) => Some(Value::from(read_amount(text, known, units.of(known))?)),
        What::Whole | What::Serial | What::FilterRef => text.parse::<u32>().ok().map(Value::from),
        What::OneOf(choices) => choices
            .iter()
            .any(|choice| choice.id == text)
            .then(|| Value::from(text)),
        What::Day => text
            .parse::<jiff::civil::Date>()
            .ok()
            .map(|day| Value::from(day.to_string())),
        What::Clock => read_clock(text).map(Value::from),
        _ => Some(Value::from(text)),
    }
}

/// "9:30", "9.5", "9,5 h" as hours since midnight.
fn read_clock(text: &str) -> Option<f64> {
    let hours = match text.split_once(':') {
        Some((hours, minutes)) => {
            let minutes: f64 = minutes
                .parse()
                .ok()
                .filter(|minutes| (0.0..60.0).contains(minutes))?;
            hours.trim().parse::<f64>().ok()? + minutes / 60.0
        }
        None => text
            .trim_end_matches('h')
            .trim()
            .replace(',', ".")
            .parse()
            .ok()?,
    };
    Some(hours).filter(|hours: &f64| (0.0..24.0).contains(hours))
}

fn accepted(field: &Field, units: &Units) -> String {
    match &field.what {
        What::Amount(known) => {
            accepted_amount(field.range.0, field.range.1, known, units.of(known))
        }
        What::OneOf(choices) => {
            let words: Vec<_> = choices.iter().map(|choice| choice.words).collect();
            format!("Choose one of: {}.", words.join("; "))
        }
        What::Day => "Give a date such as 2026-03-10.".to_owned(),
        What::Clock => "Give a time of day such as 09:30.".to_owned(),
        What::FilterRef => "Choose one of the tank's filters.".to_owned(),
        _ => accepted_whole(field),
    }
}

/// Puts back the values of `old` wherever `new` would be typed the same way.
///
/// A form shows a length of 100 cm as 39.37 in and a volume of 0.8999 L as 0.9: a field that nobody
/// touched must keep what it was, to the last digit, or every saving would change the tank a
/// little.
pub fn keep_untouched(new: &mut Value, old: &Value, fields: &[Field], units: &Units) {
    for field in fields {
        let (Some(now), Some(was)) = (new.get_mut(field.key), old.get(field.key)) else {
            continue;
        };
        match &field.what {
            What::Part(part) => keep_untouched(now, was, part.fields, units),
            What::List(part) => {
                let (Some(now), Some(was)) = (now.as_array_mut(), was.as_array()) else {
                    continue;
                };
                for (index, entry) in now.iter_mut().enumerate() {
                    let same = match entry.get("number") {
                        Some(number) => was.iter().find(|old| old.get("number") == Some(number)),
                        None => was.get(index),
                    };
                    if let Some(same) = same {
                        keep_untouched(entry, same, part.fields, units);
                    }
                }
            }
            What::Kinds(kinds) => {
                for kind in *kinds {
                    if let (Some(now), Some(was)) = (now.get_mut(kind.id), was.get(kind.id)) {
                        keep_untouched(now, was, kind.part.fields, units);
                    }
                }
            }
            _ if bare(field, now, units) == bare(field, was, units) => *now = was.clone(),
            _ => {}
        }
    }
}

/// What an entry of a list is called: its name, or the list's label and its place in it.
pub fn name_of(entry: &Value, list: &Field, index: usize) -> String {
    let name = entry
        .get("name")
        .and_then(Value::as_str)
        .map(str::trim)
        .filter(|name| !name.is_empty());
    name.map_or_else(|| format!("{} {}", list.label, index + 1), str::to_owned)
}
