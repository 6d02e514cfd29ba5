//! What a file says that this program does not know: found by what would be lost if the file were
//! written back, kept by its JSON pointer, and put back there.
//!
//! An entry of a list that has a number is known by it (`/tank/things/#7/colour`), so that what
//! belongs to an outlet stays with it when the list changes.

use serde_json::Value;

use crate::tank::Unknown;

/// Everything in `given` that `understood`, the same document as the program would write it, does
/// not hold.
pub(super) fn lost(given: &Value, understood: &Value) -> Unknown {
    let mut unknown = Unknown::default();
    collect(given, understood, "", &mut unknown);
    unknown
}

fn collect(given: &Value, understood: &Value, pointer: &str, unknown: &mut Unknown) {
    match (given, understood) {
        (Value::Object(given), Value::Object(understood)) => {
            for (key, value) in given {
                let place = format!("{pointer}/{}", escaped(key));
                match understood.get(key) {
                    Some(known) => collect(value, known, &place, unknown),
                    // Null says nothing, and what is empty is not written.
                    None if value.is_null() => {}
                    None => {
                        unknown.0.insert(place, value.clone());
                    }
                }
            }
        }
        (Value::Array(given), Value::Array(understood)) => {
            for (index, (value, known)) in given.iter().zip(understood).enumerate() {
                let token = known
                    .get("number")
                    .map_or_else(|| index.to_string(), |number| format!("#{number}"));
                collect(value, known, &format!("{pointer}/{token}"), unknown);
            }
        }
        _ => {}
    }
}

/// Puts back what was kept. What has lost its place, because its entry is gone, is left out.
pub(super) fn restore(document: &mut Value, unknown: &Unknown) {
    for (pointer, value) in &unknown.0 {
        let Some((way, key)) = pointer.rsplit_once('/') else {
            continue;
        };
        let parent = way
            .split('/')
            .skip(1)
            .try_fold(&mut *document, |part, token| step(part, token));
        if let Some(Value::Object(parent)) = parent {
            parent.entry(plain(key)).or_insert_with(|| value.clone());
        }
    }
}

fn step<'a>(part: &'a mut Value, token: &str) -> Option<&'a mut Value> {
    match part {
        Value::Object(object) => object.get_mut(&plain(token)),
        Value::Array(entries) => match token.strip_prefix('#') {
            Some(number) => entries.iter_mut().find(|entry| {
                entry
                    .get("number")
                    .is_some_and(|its| its.as_u64() == number.parse().ok())
            }),
            None => entries.get_mut(token.parse::<usize>().ok()?),
        },
        _ => None,
    }
}

fn escaped(key: &str) -> String {
    key.replace('~', "~0").replace('/', "~1")
}

fn plain(token: &str) -> String {
    token.replace("~1", "/").replace("~0", "~")
}
