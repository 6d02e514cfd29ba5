//! The form of a tank as sections, groups and rows, from the table of its fields and what is typed.

use std::collections::BTreeMap;

use askama::Template;
use reed_core::choice::Choice;
use reed_core::field::{Described, Field, PartOf, What, name_of};
use reed_core::tank::Tank;
use reed_core::units::{Refusal, Units};
use serde_json::Value;

/// The sections: title, id, keys of the tank's fields in them.
const SECTIONS: &[(&str, &str, &[&str])] = &[
    ("This tank", "name", &["name", "purpose", "set_up"]),
    (
        "Box",
        "box",
        &["glass", "water_level_cm", "measured_volume_l", "bed"],
    ),
    ("Things in the water", "things", &["things"]),
    ("Filters", "filters", &["filters"]),
    (
        "Water and place",
        "water",
        &[
            "temperature_c",
            "temperature_now_c",
            "room_c",
            "altitude_m",
            "salinity_g_per_kg",
            "surface",
        ],
    ),
    (
        "Animals and feed",
        "stock",
        &[
            "stock",
            "feed_g_per_day",
            "feed_protein_percent",
            "rotting_g_per_day",
        ],
    ),
    (
        "Plants and light",
        "plants",
        &[
            "plants",
            "co2_dosed",
            "peroxide_catalysts",
            "peroxide_each_g",
            "peroxide_filled",
        ],
    ),
    ("How it is kept", "practice", &["practice"]),
];

/// A section of the form.
pub(super) struct SectionView {
    pub(super) title: &'static str,
    pub(super) id: &'static str,
    pub(super) content: String,
    /// How many fields in it were refused.
    pub(super) refused: usize,
    /// It shows its fields from the start.
    pub(super) open: bool,
    /// Kinds of things that can be added here.
    pub(super) kinds: Vec<(&'static str, &'static str)>,
}

/// How a row is typed.
#[derive(PartialEq, Eq)]
enum Input {
    Text(&'static str),
    Choice,
    YesNo,
    Day,
    Hidden,
}

struct Row {
    /// Name in the form: the JSON pointer.
    pointer: String,
    id: String,
    label: &'static str,
    unit: &'static str,
    help: &'static str,
    value: String,
    input: Input,
    choices: Vec<(String, String)>,
    refused: String,
}

/// A part with a heading, its rows and parts within it.
#[derive(Template)]
#[template(path = "parts/group.html")]
struct Group {
    pointer: String,
    id: String,
    title: String,
    note: String,
    rows: Vec<Row>,
    groups: Vec<Group>,
    /// Buttons below: value and words.
    adds: Vec<(String, String)>,
    /// It is an entry of a list or an optional part, and can be taken out.
    removable: bool,
    /// It can be moved before the entry above it.
    movable: bool,
    /// The number of a thing in the drawing.
    thing: Option<String>,
    locked: bool,
    /// It folds away.
    folds: bool,
    open: bool,
}

/// What building needs everywhere.
struct Typed<'a> {
    units: &'a Units,
    /// By pointer, in order: those of an entry lie together.
    refusals: BTreeMap<&'a str, String>,
    /// Number and name of each filter.
    filters: Vec<(String, String)>,
    /// Pointer of what was just added.
    fresh: Option<&'a str>,
}

/// Builds the form.
pub(super) fn sections(
    texts: &Value,
    refusals: &[Refusal],
    units: &Units,
    fresh: Option<&str>,
) -> Vec<SectionView> {
    let filters = texts["filters"].as_array().into_iter().flatten();
    let filter = |entry: &Value| {
        let number = entry["number"].as_str()?.to_owned();
        Some((
            number.clone(),
            format!("{} ({number})", entry["name"].as_str().unwrap_or("filter")),
        ))
    };
    let typed = Typed {
        units,
        refusals: refusals
            .iter()
            .map(|refusal| (refusal.field.as_str(), refusal.to_string()))
            .collect(),
        filters: filters.filter_map(filter).collect(),
        fresh,
    };
    let section = |(title, id, keys): &(&'static str, &'static str, &[&str])| {
        let fields = keys
            .iter()
            .filter_map(|key| Tank::FIELDS.iter().find(|field| field.key == *key));
        let mut group = Group::bare(String::new(), String::new());
        fields.for_each(|field| typed.field(&mut group, field, texts, ""));
        let in_section = |refusal: &&Refusal| {
            keys.iter()
                .any(|key| refusal.field.split('/').nth(1) == Some(key))
        };
        let refused = refusals.iter().filter(in_section).count();
        let has_fresh = fresh
            .and_then(|fresh| fresh.split('/').nth(1))
            .is_some_and(|key| keys.contains(&key));
        SectionView {
            title,
            id,
            content: group.to_string(),
            refused,
            open: refused > 0 || has_fresh || ["name", "box", "things"].contains(id),
            kinds: if *id == "things" {
                thing_kinds()
            } else {
                Vec::new()
            },
        }
    };
    SECTIONS.iter().map(section).collect()
}

fn thing_kinds() -> Vec<(&'static str, &'static str)> {
    let kinds = reed_core::tank::Thing::FIELDS
        .iter()
        .find_map(|field| match &field.what {
            What::Kinds(kinds) => Some(*kinds),
            _ => None,
        });
    kinds
        .into_iter()
        .flatten()
        .map(|kind| (kind.id, kind.words))
        .collect()
}

impl Group {
    fn bare(pointer: String, title: String) -> Self {
        Self {
            id: id_of(&pointer),
            pointer,
            title,
            note: String::new(),
            rows: Vec::new(),
            groups: Vec::new(),
            adds: Vec::new(),
            removable: false,
            movable: false,
            thing: None,
            locked: false,
            folds: false,
            open: false,
        }
    }
}

/// A JSON pointer as an id of a page.
fn id_of(pointer: &str) -> String {
    format!("f{}", pointer.replace('/', "-"))
}

impl Typed<'_> {
    /// Adds what a field needs to the group of its part.
    fn field(&self, group: &mut Group, field: &Field, part: &Value, pointer: &str) {
        let place = format!("{pointer}/{}", field.key);
        let value = part.get(field.key);
        match &field.what {
            What::Part(inner) => match value {
                Some(value) => {
                    let mut part = self.part(inner, value, &place, field.label.to_owned());
                    part.removable = field.optional;
                    group.groups.push(part);
                }
                None => group.adds.push((
                    format!("add:{place}"),
                    format!("Add: {}", field.label.to_lowercase()),
                )),
            },
            What::List(inner) => {
                let entries = value
                    .and_then(Value::as_array)
                    .map_or(&[][..], Vec::as_slice);
                for (index, entry) in entries.iter().enumerate() {
                    group
                        .groups
                        .push(self.entry(field, inner, entry, index, &place));
                }
                if !matches!(field.key, "things") {
                    group.adds.push((
                        format!("add:{place}"),
                        format!("Add: {}", field.label.to_lowercase()),
                    ));
                }
            }
            What::Kinds(kinds) => {
                if let Some((kind, value)) = kinds
                    .iter()
                    .find_map(|kind| Some((kind, value?.get(kind.id)?)))
                {
                    kind.part.fields.iter().for_each(|field| {
                        self.field(group, field, value, &format!("{place}/{}", kind.id));
                    });
                    kind.words.clone_into(&mut group.note);
                }
            }
            What::Kept => {}
            _ => group.rows.push(self.row(field, value, place)),
        }
    }

    fn part(&self, part: &PartOf, value: &Value, pointer: &str, title: String) -> Group {
        let mut group = Group::bare(pointer.to_owned(), title);
        part.fields
            .iter()
            .for_each(|field| self.field(&mut group, field, value, pointer));
        group
    }

    fn entry(
        &self,
        list: &Field,
        part: &PartOf,
        entry: &Value,
        index: usize,
        place: &str,
    ) -> Group {
        let pointer = format!("{place}/{index}");
        let below = format!("{pointer}/");
        let mut from_there = self.refusals.range(below.as_str()..);
        let refused = from_there
            .next()
            .is_some_and(|(field, _)| field.starts_with(&below));
        let mut group = self.part(part, entry, &pointer, name_of(entry, list, index));
        group.removable = true;
        group.movable = index > 0 && matches!(list.key, "trays" | "media" | "chambers");
        group.folds = matches!(list.key, "things" | "filters" | "stock");
        group.open = refused || self.fresh.is_some_and(|fresh| fresh.starts_with(&pointer));
        if list.key == "things" {
            group.thing = entry["number"].as_str().map(str::to_owned);
            group.locked = entry["locked"] == "yes";
        }
        if list.key == "stock" {
            group.note = format!("{} ×", entry["count"].as_str().unwrap_or("?"));
        }
        group
    }

    fn row(&self, field: &Field, value: Option<&Value>, pointer: String) -> Row {
        let value = value.and_then(Value::as_str).unwrap_or_default().to_owned();
        let mut unit = "";
        let mut choices = Vec::new();
        let input = match &field.what {
            What::Amount(units) => {
                unit = self.units.of(units).symbol;
                Input::Text("decimal")
            }
            What::Whole => Input::Text("numeric"),
            What::OneOf(all) => {
                choices = all
                    .iter()
                    .map(|Choice { id, words }| ((*id).to_owned(), (*words).to_owned()))
                    .collect();
                Input::Choice
            }
            What::FilterRef => {
                choices.push((String::new(), "none yet".to_owned()));
                choices.extend(self.filters.iter().cloned());
                // What is typed but gone stays visible.
                if !value.is_empty() && !choices.iter().any(|(id, _)| *id == value) {
                    choices.push((value.clone(), format!("filter {value}, not there")));
                }
                Input::Choice
            }
            What::YesNo if field.key == "locked" => Input::Hidden,
            What::YesNo => Input::YesNo,
            What::Serial => Input::Hidden,
            What::Day => Input::Day,
            _ => Input::Text("text"),
        };
        let refused = self
            .refusals
            .get(pointer.as_str())
            .cloned()
            .unwrap_or_default();
        Row {
            id: id_of(&pointer),
            pointer,
            label: field.label,
            unit,
            help: field.help.trim(),
            value,
            input,
            choices,
            refused,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::SECTIONS;
    use reed_core::field::{Described, What};
    use reed_core::tank::Tank;

    #[test]
    fn every_field_of_a_tank_is_asked_for_in_one_section() {
        for field in Tank::FIELDS
            .iter()
            .filter(|field| !matches!(field.what, What::Kept))
        {
            let sections = SECTIONS
                .iter()
                .filter(|(_, _, keys)| keys.contains(&field.key))
                .count();
            assert_eq!(sections, 1, "{}", field.key);
        }
    }
}
