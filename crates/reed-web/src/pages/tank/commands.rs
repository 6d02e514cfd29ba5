//! What the buttons of the form do: add, copy, lock, take out. They work on what is typed, so that
//! half a number elsewhere is no hindrance.

use reed_core::field::{Described, Field, KindOf, What, from_texts, name_of, texts_of};
use reed_core::tank::thing::ThingKind;
use reed_core::tank::{Tank, Thing};
use reed_core::units::Units;
use serde_json::Value;

/// A button that was pressed.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) enum Command {
    /// Only look.
    Show,
    /// Store what is typed.
    Save,
    /// Store it although the tank was changed meanwhile.
    SaveOver,
    /// Add an entry to the list, or the optional part, at this pointer.
    Add(String),
    /// Add a thing of this kind.
    AddThing(String),
    /// Copy the entry at this pointer.
    Copy(String),
    /// Lock or unlock the entry at this pointer.
    Lock(String),
    /// Take out the entry or part at this pointer.
    Remove(String),
    /// Exchange the entry at this pointer with the one before it.
    Earlier(String),
    /// Seat what cannot be where it is drawn.
    Seat,
}

impl Command {
    /// Reads the value of a button; `kind` is what the list beside "Add" shows.
    pub(super) fn read(text: &str, kind: &str) -> Self {
        let (verb, pointer) = text.split_once(':').unwrap_or((text, ""));
        let pointer = pointer.to_owned();
        match verb {
            "save" => Self::Save,
            "save-over" => Self::SaveOver,
            "add" => Self::Add(pointer),
            "add-thing" => Self::AddThing(kind.to_owned()),
            "copy" => Self::Copy(pointer),
            "lock" => Self::Lock(pointer),
            "remove" => Self::Remove(pointer),
            "earlier" => Self::Earlier(pointer),
            "seat" => Self::Seat,
            _ => Self::Show,
        }
    }

    /// Does it to what is typed; a pointer to nothing does nothing. Returns the pointer of what is
    /// new.
    pub(super) fn apply(&self, texts: &mut Value, units: &Units) -> Option<String> {
        match self {
            Self::Show | Self::Save | Self::SaveOver => None,
            Self::Seat => seat(texts, units),
            Self::Add(pointer) => add(texts, pointer, units),
            Self::AddThing(kind) => add_thing(texts, kind, units),
            Self::Copy(pointer) => copy(texts, pointer),
            Self::Lock(pointer) => {
                let locked = texts.pointer_mut(pointer)?.get_mut("locked")?;
                *locked = Value::from(if locked == "yes" { "" } else { "yes" });
                Some(pointer.clone())
            }
            Self::Remove(pointer) => {
                let (parent, key) = pointer.rsplit_once('/')?;
                match texts.pointer_mut(parent)? {
                    Value::Array(entries) => {
                        let index = key
                            .parse::<usize>()
                            .ok()
                            .filter(|index| *index < entries.len())?;
                        entries.remove(index);
                    }
                    Value::Object(part)
                        if field_at(pointer).is_some_and(|field| field.optional) =>
                    {
                        part.remove(key);
                    }
                    _ => {}
                }
                None
            }
            Self::Earlier(pointer) => {
                let (parent, key) = pointer.rsplit_once('/')?;
                let entries = texts.pointer_mut(parent)?.as_array_mut()?;
                let index = key
                    .parse::<usize>()
                    .ok()
                    .filter(|index| (1..entries.len()).contains(index))?;
                entries.swap(index - 1, index);
                Some(format!("{parent}/{}", index - 1))
            }
        }
    }
}

/// The field at a pointer, following lists, parts and kinds.
fn field_at(pointer: &str) -> Option<&'static Field> {
    let mut fields = Tank::FIELDS;
    let mut kinds: &'static [KindOf] = &[];
    let mut found = None;
    for token in pointer.split('/').skip(1) {
        if let Some(field) = fields.iter().find(|field| field.key == token) {
            found = Some(field);
            (fields, kinds) = match field.what {
                What::Part(ref part) | What::List(ref part) => (part.fields, &[][..]),
                What::Kinds(of) => (&[][..], of),
                _ => (&[][..], &[][..]),
            };
        } else if let Some(kind) = kinds.iter().find(|kind| kind.id == token) {
            fields = kind.part.fields;
        } else if token.parse::<usize>().is_err() {
            return None;
        }
    }
    found
}

fn add(texts: &mut Value, pointer: &str, units: &Units) -> Option<String> {
    let field = field_at(pointer)?;
    let (parent, key) = pointer.rsplit_once('/')?;
    match &field.what {
        What::Part(part) => {
            let blank = texts_of(&(part.blank)(), part.fields, units);
            part_at(texts, parent)?.insert(key.to_owned(), blank);
            Some(pointer.to_owned())
        }
        What::List(part) => {
            let mut blank = texts_of(&(part.blank)(), part.fields, units);
            let entries = part_at(texts, parent)?
                .entry(key.to_owned())
                .or_insert_with(|| Value::Array(Vec::new()))
                .as_array_mut()?;
            if blank.get("number").is_some() {
                blank["number"] = Value::from(next_number(entries));
                blank["name"] = Value::from(free_name(entries, field.label));
            }
            entries.push(blank);
            Some(format!("{pointer}/{}", entries.len() - 1))
        }
        _ => None,
    }
}

fn part_at<'a>(
    texts: &'a mut Value,
    pointer: &str,
) -> Option<&'a mut serde_json::Map<String, Value>> {
    texts.pointer_mut(pointer)?.as_object_mut()
}

/// A new thing where such things usually sit; if what is typed makes no tank yet, in an ordinary
/// one. Half a number somewhere leaves everything as it is typed.
fn seat(texts: &mut Value, units: &Units) -> Option<String> {
    let value = from_texts(texts, Tank::FIELDS, units).ok()?;
    let tank: Tank = serde_json::from_value(value).ok()?;
    *texts = texts_of(&tank.seated().to_value(), Tank::FIELDS, units);
    None
}

fn add_thing(texts: &mut Value, kind: &str, units: &Units) -> Option<String> {
    let What::Kinds(kinds) = &Thing::FIELDS
        .iter()
        .find(|field| matches!(field.what, What::Kinds(_)))?
        .what
    else {
        return None;
    };
    let kind = kinds.iter().find(|of| of.id == kind)?;
    let tank = tank_of(texts, units).unwrap_or_default();
    let what: ThingKind =
        serde_json::from_value(serde_json::json!({ kind.id: (kind.part.blank)() })).ok()?;
    let thing = Thing {
        what: what.fitted(&tank),
        ..Thing::new(0, "", tank.usual_place(&what), what.clone())
    };
    let mut blank = texts_of(&serde_json::to_value(thing).ok()?, Thing::FIELDS, units);
    let entries = part_at(texts, "")?
        .entry("things")
        .or_insert_with(|| Value::Array(Vec::new()))
        .as_array_mut()?;
    blank["number"] = Value::from(next_number(entries));
    blank["name"] = Value::from(free_name(entries, kind.words));
    entries.push(blank);
    Some(format!("/things/{}", entries.len() - 1))
}

/// The tank that is typed, if it makes sense as far as it goes.
fn tank_of(texts: &Value, units: &Units) -> Option<Tank> {
    serde_json::from_value(from_texts(texts, Tank::FIELDS, units).ok()?).ok()
}

fn copy(texts: &mut Value, pointer: &str) -> Option<String> {
    let (parent, key) = pointer.rsplit_once('/')?;
    let field = field_at(parent)?;
    let entries = texts.pointer_mut(parent)?.as_array_mut()?;
    let mut copied = entries.get(key.parse::<usize>().ok()?)?.clone();
    if copied.get("number").is_some() {
        copied["number"] = Value::from(next_number(entries));
        let name = name_of(&copied, field, 0);
        copied["name"] = Value::from(free_name(
            entries,
            name.trim_end_matches(|letter: char| letter.is_ascii_digit())
                .trim_end(),
        ));
        // Beside the original, so that it can be seen and taken hold of.
        if let Some(x) = copied
            .get("x_cm")
            .and_then(Value::as_str)
            .and_then(|x| x.replace(',', ".").parse::<f64>().ok())
        {
            copied["x_cm"] = Value::from(reed_core::units::plain(x + 4.0));
        }
    }
    entries.push(copied);
    Some(format!("{parent}/{}", entries.len() - 1))
}

fn next_number(entries: &[Value]) -> String {
    let numbers = entries
        .iter()
        .filter_map(|entry| entry.get("number")?.as_str()?.parse::<u32>().ok());
    numbers.max().unwrap_or(0).saturating_add(1).to_string()
}

/// "Outlet", or "Outlet 2" if that is taken.
fn free_name(entries: &[Value], kind: &str) -> String {
    let mut letters = kind.chars();
    let kind: String = letters
        .next()
        .map(|first| first.to_uppercase().chain(letters).take(34).collect())
        .unwrap_or_default();
    let taken = |name: &str| {
        entries
            .iter()
            .any(|entry| entry.get("name").is_some_and(|its| its == name))
    };
    let numbered = (2..).map(|number| format!("{kind} {number}"));
    std::iter::once(kind.clone())
        .chain(numbered)
        .find(|name| !taken(name))
        .unwrap_or(kind)
}

#[cfg(test)]
mod tests {
    use super::Command;
    use reed_core::document::start;
    use reed_core::field::{Described, texts_of};
    use reed_core::tank::Tank;
    use reed_core::units::Units;
    use serde_json::Value;

    fn typed() -> Value {
        texts_of(
            &start::by_id("planted-canister")
                .expect("listed")
                .tank()
                .to_value(),
            Tank::FIELDS,
            &Units::BASE,
        )
    }

    #[test]
    fn things_are_added_copied_locked_and_taken_out() {
        let mut texts = typed();
        let before = texts["things"].as_array().expect("things").len();
        let done = |texts: &mut Value, button: &str| {
            Command::read(button, "outlet").apply(texts, &Units::BASE)
        };
        assert_eq!(
            done(&mut texts, "add-thing"),
            Some(format!("/things/{before}"))
        );
        assert_eq!(
            (
                texts["things"][before]["name"].clone(),
                texts["things"][before]["number"].clone()
            ),
            ("Outlet".into(), "6".into())
        );
        assert_eq!(
            done(&mut texts, "copy:/things/0"),
            Some(format!("/things/{}", before + 1))
        );
        assert_eq!(texts["things"][before + 1]["name"], "Flared outlet 2");
        done(&mut texts, "lock:/things/1");
        assert_eq!(texts["things"][1]["locked"], "yes");
        done(&mut texts, "remove:/things/0");
        assert_eq!(
            texts["things"].as_array().expect("things").len(),
            before + 1
        );
        assert_eq!(
            done(&mut texts, "add:/filters/0/trays/1/media"),
            Some("/filters/0/trays/1/media/2".to_owned())
        );
        done(&mut texts, "earlier:/filters/0/trays/2");
        assert_eq!(texts["filters"][0]["trays"][1]["name"], "top basket");
        done(&mut texts, "add:/filters/0/sump");
        assert_eq!(
            texts["filters"][0]["sump"]["chambers"]
                .as_array()
                .expect("chambers")
                .len(),
            3
        );
    }

    #[test]
    fn buttons_that_point_nowhere_do_nothing() {
        let mut texts = typed();
        for button in [
            "remove:/things/99",
            "copy:/nothing/1",
            "add:/name",
            "add:/../x",
            "earlier:/things/0",
            "lock:",
            "remove:",
            "remove:/glass",
            "dance",
        ] {
            assert_eq!(
                Command::read(button, "teapot").apply(&mut texts, &Units::BASE),
                None,
                "{button}"
            );
        }
        assert_eq!(texts, typed());
    }
}
