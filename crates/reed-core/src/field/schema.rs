//! Writes the ranges of the fields into the JSON Schema that is derived from their types.

use serde_json::{Value, json};

use super::{Field, What};

/// Narrows the schema of a part to what its fields accept. `root` holds the definitions that
/// `$ref`s point to.
pub(crate) fn narrow(root: &mut Value, pointer: &str, fields: &[Field]) {
    let Some(pointer) = resolved(root, pointer) else {
        return;
    };
    for field in fields {
        let place = format!("{pointer}/properties/{}", field.key);
        let Some(schema) = root.pointer_mut(&place).and_then(Value::as_object_mut) else {
            continue;
        };
        let (low, high) = field.range;
        match &field.what {
            What::Amount(units) => {
                schema.insert("minimum".to_owned(), json!(low));
                schema.insert("maximum".to_owned(), json!(high));
                schema.insert("x-unit".to_owned(), json!(units[0].symbol));
            }
            What::Clock => {
                schema.insert("minimum".to_owned(), json!(0.0));
                schema.insert("exclusiveMaximum".to_owned(), json!(24.0));
            }
            What::Whole => {
                schema.insert("minimum".to_owned(), json!(low));
                schema.insert("maximum".to_owned(), json!(high));
            }
            What::Words => {
                schema.insert("minLength".to_owned(), json!(whole(low)));
                schema.insert("maxLength".to_owned(), json!(whole(high)));
            }
            What::List(inner) => {
                schema.insert("maxItems".to_owned(), json!(whole(high)));
                narrow(root, &format!("{place}/items"), inner.fields);
            }
            What::Part(inner) => narrow(root, &place, inner.fields),
            What::Kinds(kinds) => {
                let Some(place) = resolved(root, &place) else {
                    continue;
                };
                for (index, kind) in kinds.iter().enumerate() {
                    narrow(
                        root,
                        &format!("{place}/oneOf/{index}/properties/{}", kind.id),
                        kind.part.fields,
                    );
                }
            }
            // "format" is only a note to most validators.
            What::Day => {
                schema.insert("pattern".to_owned(), json!(r"^\d{4}-\d{2}-\d{2}$"));
            }
            What::Serial | What::FilterRef | What::OneOf(_) | What::YesNo | What::Kept => {}
        }
    }
}

#[expect(
    clippy::cast_possible_truncation,
    clippy::cast_sign_loss,
    reason = "counts of letters and entries, small and not negative"
)]
fn whole(count: f64) -> u64 {
    count as u64
}

/// Follows a `$ref`, also one inside an `anyOf` (an optional part).
fn resolved(root: &Value, pointer: &str) -> Option<String> {
    let schema = root.pointer(pointer)?;
    let reference = schema
        .get("$ref")
        .or_else(|| schema.get("anyOf")?.get(0)?.get("$ref"));
    Some(reference.and_then(Value::as_str).map_or_else(
        || pointer.to_owned(),
        |reference| reference.trim_start_matches('#').to_owned(),
    ))
}
