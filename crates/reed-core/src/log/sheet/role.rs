//! What a column of a sheet holds.

use crate::log::quick::analyte_named;
use crate::tank::{Analyte, analyte};

/// What a column holds.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Role {
    /// Nothing that is taken in.
    Ignore,
    /// The day, with or without its hour.
    When,
    /// The end, where it is a span.
    Until,
    /// The hour, where it has a column of its own.
    Time,
    /// What was read or happened.
    What,
    /// The value or amount.
    Value,
    /// Its unit.
    Unit,
    /// The spread of a reading.
    Spread,
    /// The kit of a reading.
    Kit,
    /// On what it happened.
    On,
    /// A note.
    Note,
    /// What an entry says beyond that, as this program writes it.
    Details,
    /// Whether it is withdrawn.
    Withdrawn,
    /// Values of one analyte; nothing where it was not read.
    Of(&'static Analyte),
}

/// The roles that are no analyte: id in forms and header of our own sheets, in words, and the names
/// that other programs give such a column, in small letters.
const NAMES: &[(Role, &str, &str, &[&str])] = &[
    (Role::Ignore, "", "leave out", &[]),
    (
        Role::When,
        "from",
        "Date",
        &[
            "date",
            "day",
            "datum",
            "timestamp",
            "date/time",
            "datetime",
            "when",
            "taken",
            "taken_at",
        ],
    ),
    (Role::Until, "to", "End", &["until", "end"]),
    (Role::Time, "time", "Hour", &["hour", "uhrzeit", "zeit"]),
    (
        Role::What,
        "what",
        "What",
        &[
            "parameter",
            "test",
            "type",
            "event",
            "measurement",
            "kind",
            "analyte",
        ],
    ),
    (
        Role::Value,
        "value",
        "Value or amount",
        &["amount", "result", "reading", "wert"],
    ),
    (Role::Unit, "unit", "Unit", &["units", "einheit"]),
    (
        Role::Spread,
        "spread",
        "Uncertainty",
        &["uncertainty", "error", "±"],
    ),
    (Role::Kit, "kit", "Kit", &["method", "test kit"]),
    (
        Role::On,
        "on",
        "On what",
        &["filter", "equipment", "species", "group"],
    ),
    (
        Role::Note,
        "note",
        "Note",
        &[
            "notes",
            "comment",
            "comments",
            "remark",
            "remarks",
            "bemerkung",
        ],
    ),
    (
        Role::Details,
        "details",
        "Details, as written by this program",
        &[],
    ),
    (Role::Withdrawn, "withdrawn", "Withdrawn", &[]),
];

impl Role {
    /// Every role, in the order of a list.
    pub fn all() -> impl Iterator<Item = Self> {
        let named = NAMES.iter().map(|(role, ..)| *role);
        named.chain(Analyte::ALL.iter().copied().map(Self::Of))
    }

    /// Id in forms.
    pub fn id(self) -> &'static str {
        match self {
            Self::Of(analyte) => analyte.id,
            role => role.named().map_or("", |(_, id, ..)| id),
        }
    }

    /// In words.
    pub fn words(self) -> &'static str {
        match self {
            Self::Of(analyte) => analyte.label,
            role => role.named().map_or("", |(_, _, words, _)| words),
        }
    }

    /// The role with this id.
    pub fn by_id(id: &str) -> Option<Self> {
        Self::all().find(|role| role.id() == id)
    }

    fn named(self) -> Option<&'static (Self, &'static str, &'static str, &'static [&'static str])> {
        NAMES.iter().find(|(role, ..)| *role == self)
    }

    /// No two columns can hold it.
    pub(super) fn is_alone(self) -> bool {
        self != Self::Ignore
    }

    /// By the name of a column, “NO3 (mg/L)” for one, and by its values where the name tells
    /// nothing.
    pub(super) fn guess<'a>(name: &str, values: impl Iterator<Item = &'a str>) -> Self {
        let small = name.to_lowercase();
        let bare = small
            .split(['(', '[', '/'])
            .next()
            .unwrap_or_default()
            .trim();
        for name in [small.as_str(), bare] {
            let known = NAMES
                .iter()
                .find(|(_, id, _, names)| !id.is_empty() && *id == name || names.contains(&name));
            if let Some((role, ..)) = known {
                return *role;
            }
            if let Some(analyte) = analyte(name).or_else(|| analyte_named(name)) {
                return Self::Of(analyte);
            }
        }
        // A column of figures with two signs between them, whatever it is called, is one of dates.
        let mut values = values.filter(|value| !value.trim().is_empty()).peekable();
        let is_date = |value: &str| {
            let date = value.split([' ', 'T']).next().unwrap_or_default();
            date.len() >= 6
                && date.matches(['-', '.', '/']).count() == 2
                && date
                    .chars()
                    .all(|letter| letter.is_ascii_digit() || "-./".contains(letter))
        };
        if values.peek().is_some() && values.all(is_date) {
            Self::When
        } else {
            Self::Ignore
        }
    }
}
