//! What the fields of a tank are, as data: one table that forms, checks, differences in words and
//! the published schema read.
//!
//! A type declared with `described!` has a row per field; [`Described::FIELDS`] of the tank is the
//! whole tree. A new field is a new row; a new kind of value is an implementation of [`FieldValue`]
//! and an arm in each module here.

mod check;
mod differ;
mod of_units;
#[cfg(feature = "schema")]
mod schema;
mod typed;

pub use check::{check, days_after};
pub use differ::differences;
#[cfg(feature = "schema")]
pub(crate) use schema::narrow;
pub use typed::{from_texts, keep_untouched, name_of, print, texts_of, tree};

use serde_json::Value;

use crate::choice::Choice;
use crate::units::Unit;

/// One field.
#[derive(Debug)]
pub struct Field {
    /// Key in documents and last token of the JSON pointer in forms.
    pub key: &'static str,
    /// In the keeper's words.
    pub label: &'static str,
    /// A sentence of help.
    pub help: &'static str,
    /// What it takes.
    pub what: What,
    /// It may be left empty.
    pub optional: bool,
    /// Lowest and highest: the value in base units, the letters of words, the entries of a list.
    pub range: (f64, f64),
}

/// What a field takes.
#[derive(Debug)]
pub enum What {
    /// A number in one of these units, the base unit first.
    Amount(&'static [Unit]),
    /// A whole number.
    Whole,
    /// The number by which other parts know this one; given by the program.
    Serial,
    /// The number of a filter of the tank.
    FilterRef,
    /// Text.
    Words,
    /// One of a list.
    OneOf(&'static [Choice]),
    /// Yes or no.
    YesNo,
    /// A date.
    Day,
    /// An hour of the day, stored as hours since midnight.
    Clock,
    /// A part with fields of its own.
    Part(PartOf),
    /// Several parts of one sort.
    List(PartOf),
    /// A part of one of several kinds.
    Kinds(&'static [KindOf]),
    /// Kept, but nobody's to edit.
    Kept,
}

/// A sort of part: its fields, and what a new one is before anything is typed.
#[derive(Debug)]
pub struct PartOf {
    /// The fields in the order in which a form asks for them.
    pub fields: &'static [Field],
    /// A new one as a document has it.
    pub blank: fn() -> Value,
}

impl PartOf {
    /// The sort of this type.
    pub const fn of<T: Described>() -> Self {
        Self {
            fields: T::FIELDS,
            blank: blank::<T>,
        }
    }
}

/// One kind that a part can be of.
#[derive(Debug)]
pub struct KindOf {
    /// Id as in the document.
    pub id: &'static str,
    /// In the keeper's words.
    pub words: &'static str,
    /// Its fields.
    pub part: PartOf,
}

/// A type with a table of its fields. Its default is what a keeper most often has.
pub trait Described: Default + serde::Serialize {
    /// The fields in the order in which a form asks for them.
    const FIELDS: &'static [Field];
}

fn blank<T: Described>() -> Value {
    serde_json::to_value(T::default()).expect("plain data can be written as JSON")
}

/// A type that a field can have.
pub trait FieldValue {
    /// What the field takes.
    const WHAT: What;
    /// It may be left empty.
    const OPTIONAL: bool = false;
}

impl<T: Described> FieldValue for T {
    const WHAT: What = What::Part(PartOf::of::<T>());
}

impl<T: Described> FieldValue for Vec<T> {
    const WHAT: What = What::List(PartOf::of::<T>());
}

impl<T: FieldValue> FieldValue for Option<T> {
    const WHAT: What = T::WHAT;
    const OPTIONAL: bool = true;
}

/// Implements [`FieldValue`] for types of other crates.
macro_rules! takes {
    ($($type:ty => $what:ident;)+) => { $(impl FieldValue for $type { const WHAT: What = What::$what; })+ };
}

takes! {
    u32 => Whole;
    String => Words;
    bool => YesNo;
    jiff::civil::Date => Day;
}

/// One step further down a JSON pointer.
fn below(pointer: &str, token: impl std::fmt::Display) -> String {
    format!("{pointer}/{token}")
}

/// "Return left, bore": the part a field belongs to and the field.
fn in_context(context: &str, label: &str) -> String {
    if context.is_empty() {
        return label.to_owned();
    }
    let mut letters = label.chars();
    let keeps_capital = label.chars().nth(1).is_some_and(char::is_uppercase);
    let label = match letters.next() {
        Some(first) if !keeps_capital => first.to_lowercase().chain(letters).collect(),
        _ => label.to_owned(),
    };
    format!("{context}, {label}")
}
