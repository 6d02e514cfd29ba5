//! What changed between two states of a part, in words.

use serde_json::Value;

use super::check::in_list;
use super::{Field, What, in_context, name_of, print};
use crate::units::Units;

/// One sentence for each difference, in the order of the fields; empty when there is none.
pub fn differences(
    before: &Value,
    after: &Value,
    fields: &[Field],
    context: &str,
    units: &Units,
) -> Vec<String> {
    let mut words = Vec::new();
    for field in fields {
        let (was, is) = (
            before.get(field.key).unwrap_or(&Value::Null),
            after.get(field.key).unwrap_or(&Value::Null),
        );
        if was == is {
            continue;
        }
        match &field.what {
            What::Part(inner) => words.extend(differences(was, is, inner.fields, context, units)),
            What::List(inner) => {
                words.extend(in_lists(was, is, field, inner.fields, context, units));
            }
            What::Kinds(kinds) => {
                let kind = |value: &Value| kinds.iter().find(|kind| value.get(kind.id).is_some());
                match (kind(was), kind(is)) {
                    (Some(old), Some(new)) if old.id == new.id => {
                        words.extend(differences(
                            &was[old.id],
                            &is[new.id],
                            new.part.fields,
                            context,
                            units,
                        ));
                    }
                    (old, new) => {
                        let say = |kind: Option<&super::KindOf>| {
                            kind.map_or("nothing", |kind| kind.words)
                        };
                        words.push(format!(
                            "{}: {} → {}",
                            in_context(context, field.label),
                            say(old),
                            say(new)
                        ));
                    }
                }
            }
            What::Kept => {}
            _ => {
                let say = |value: &Value| {
                    if value.is_null() {
                        "nothing".to_owned()
                    } else {
                        print(field, value, units)
                    }
                };
                words.push(format!(
                    "{}: {} → {}",
                    in_context(context, field.label),
                    say(was),
                    say(is)
                ));
            }
        }
    }
    words
}

/// Entries with a number are followed by it, others by their place.
fn in_lists(
    was: &Value,
    is: &Value,
    field: &Field,
    inner: &[Field],
    context: &str,
    units: &Units,
) -> Vec<String> {
    let empty = Vec::new();
    let (was, is) = (
        was.as_array().unwrap_or(&empty),
        is.as_array().unwrap_or(&empty),
    );
    let key = |index: usize, entry: &Value| {
        entry
            .get("number")
            .map_or_else(|| index.to_string(), |number| format!("#{number}"))
    };
    let keyed = |entries: &[Value]| -> Vec<String> {
        entries
            .iter()
            .enumerate()
            .map(|(index, entry)| key(index, entry))
            .collect()
    };
    let (old_keys, new_keys) = (keyed(was), keyed(is));
    let mut words = Vec::new();
    for (index, entry) in is.iter().enumerate() {
        let name = in_list(context, &name_of(entry, field, index));
        match old_keys.iter().position(|key| *key == new_keys[index]) {
            Some(old) => words.extend(differences(&was[old], entry, inner, &name, units)),
            None => words.push(format!("Added: {name}")),
        }
    }
    for (index, entry) in was
        .iter()
        .enumerate()
        .filter(|(index, _)| !new_keys.contains(&old_keys[*index]))
    {
        words.push(format!(
            "Taken out: {}",
            in_list(context, &name_of(entry, field, index))
        ));
    }
    words
}
