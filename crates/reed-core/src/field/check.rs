//! Is a value one that its field takes? The same rows answer for documents and for what was typed.

use serde_json::Value;

use super::{Field, What, below, in_context, name_of};
use crate::units::{Refusal, Unit, Units, accepted_amount, plain};

/// Everything in a part that its fields do not take, one sentence each, with JSON pointers below
/// `pointer`.
pub fn check(part: &Value, fields: &[Field], units: &Units) -> Vec<Refusal> {
    let mut refusals = Vec::new();
    walk(part, fields, "", "", &mut |field, value, place, context| {
        refusals.extend(refusal(field, value, place, context, units));
    });
    refusals
}

/// Every day in a part that is yet to come: what is dated there has happened.
pub fn days_after(part: &Value, fields: &[Field], today: jiff::civil::Date) -> Vec<Refusal> {
    let mut refusals = Vec::new();
    walk(part, fields, "", "", &mut |field, value, place, context| {
        let day = value
            .as_str()
            .filter(|_| matches!(field.what, What::Day))
            .and_then(|day| day.parse::<jiff::civil::Date>().ok());
        let ahead = day.filter(|day| *day > today);
        let accepted =
            format!("That is in the future: give a day up to {today}, or leave it empty.");
        refusals.extend(ahead.map(|day| {
            Refusal::new(
                place,
                in_context(context, field.label),
                &day.to_string(),
                accepted,
            )
        }));
    });
    refusals
}

/// Visits every field of a part that is there, with its JSON pointer and the entries it stands in;
/// a list before its entries.
fn walk(
    part: &Value,
    fields: &[Field],
    pointer: &str,
    context: &str,
    visit: &mut impl FnMut(&Field, &Value, &str, &str),
) {
    for field in fields {
        let place = below(pointer, field.key);
        let Some(value) = part.get(field.key) else {
            continue;
        };
        match (&field.what, value) {
            (What::Part(inner), _) => walk(value, inner.fields, &place, context, visit),
            (What::Kinds(kinds), Value::Object(object)) => {
                for kind in kinds.iter().filter(|kind| object.contains_key(kind.id)) {
                    walk(
                        &object[kind.id],
                        kind.part.fields,
                        &below(&place, kind.id),
                        context,
                        visit,
                    );
                }
            }
            (What::List(inner), Value::Array(entries)) => {
                visit(field, value, &place, context);
                for (index, entry) in entries.iter().enumerate() {
                    let name = name_of(entry, field, index);
                    walk(
                        entry,
                        inner.fields,
                        &below(&place, index),
                        &in_list(context, &name),
                        visit,
                    );
                }
            }
            _ => visit(field, value, &place, context),
        }
    }
}

/// The name of an entry, within the entry that it is part of.
pub(super) fn in_list(context: &str, name: &str) -> String {
    if context.is_empty() {
        name.to_owned()
    } else {
        format!("{context}, {name}")
    }
}

/// Why a single value is not taken, if it is not.
fn refusal(
    field: &Field,
    value: &Value,
    place: &str,
    context: &str,
    units: &Units,
) -> Option<Refusal> {
    let (low, high) = field.range;
    let refuse = |given: &str, accepted: String| {
        Some(Refusal::new(
            place,
            in_context(context, field.label),
            given,
            accepted,
        ))
    };
    match (&field.what, value) {
        (What::List(_), Value::Array(entries)) if entries.len() as f64 > high => {
            Some(Refusal::new(
                place,
                field.label,
                &entries.len().to_string(),
                format!("Give at most {high}."),
            ))
        }
        (What::Amount(known), Value::Number(number)) => {
            let base = number.as_f64().unwrap_or(f64::NAN);
            let unit = units.of(known);
            (!(low..=high).contains(&base))
                .then(|| {
                    refuse(
                        &with_unit(base, unit),
                        accepted_amount(low, high, known, unit),
                    )
                })
                .flatten()
        }
        (What::Clock, Value::Number(number)) => {
            let fits = number
                .as_f64()
                .is_some_and(|hour| (0.0..24.0).contains(&hour));
            if fits {
                None
            } else {
                refuse(
                    &number.to_string(),
                    "Give a time of day such as 09:30.".to_owned(),
                )
            }
        }
        (What::Whole, Value::Number(number)) => {
            let fits = number
                .as_f64()
                .is_some_and(|whole| (low..=high).contains(&whole));
            if fits {
                None
            } else {
                refuse(&number.to_string(), accepted_whole(field))
            }
        }
        (What::Words, Value::String(words)) => {
            let letters = words.trim().chars().count() as f64;
            let fits = (low..=high).contains(&letters) && !words.chars().any(char::is_control);
            if fits {
                None
            } else {
                refuse(words, accepted_words(field))
            }
        }
        _ => None,
    }
}

fn with_unit(base: f64, unit: &Unit) -> String {
    format!("{} {}", plain(unit.from_base(base)), unit.symbol)
        .trim_end()
        .to_owned()
}

/// What a whole number may be, as a sentence.
pub(super) fn accepted_whole(field: &Field) -> String {
    format!(
        "Give a whole number from {} to {}.",
        field.range.0, field.range.1
    )
}

/// How long words may be, as a sentence.
pub(super) fn accepted_words(field: &Field) -> String {
    format!(
        "Give {} to {} letters on one line.",
        field.range.0, field.range.1
    )
}
