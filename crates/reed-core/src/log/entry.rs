//! An entry of the log.

use super::details::Details;
use super::happening::Happening;
use super::when::When;
use crate::tank::{Serial, Tank};
use crate::units::{Units, plain};

/// Something that happened, or is planned.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Entry {
    /// Id of the kind, such as `change`; one that this program does not know is kept and speaks to
    /// no model.
    pub happening: String,
    /// When.
    #[serde(flatten)]
    pub when: When,
    /// On what.
    #[serde(default, skip_serializing_if = "On::is_tank")]
    pub on: On,
    /// How much, in the unit of its kind; left out where nobody said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub amount: Option<f64>,
    /// In the keeper's words.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
    /// What a kind says beyond its amount.
    #[serde(default, skip_serializing_if = "Details::is_empty")]
    pub details: Details,
}

/// On what it happened.
#[derive(Clone, Debug, Default, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(rename_all = "kebab-case")]
pub enum On {
    /// The whole tank.
    #[default]
    Tank,
    /// The filter of this number.
    Filter(Serial),
    /// A group of animals, by its name.
    Group(String),
}

impl On {
    /// It is this filter of a tank: named, or the only one.
    pub fn is_filter(&self, tank: &Tank, filter: Serial) -> bool {
        match self {
            Self::Filter(number) => *number == filter,
            Self::Tank => tank.filters.len() == 1,
            Self::Group(_) => false,
        }
    }

    /// Nothing smaller than the tank is named.
    pub fn is_tank(&self) -> bool {
        *self == Self::Tank
    }
}

impl Entry {
    /// Of a kind, with nothing more said.
    pub fn of(happening: &Happening, when: When) -> Self {
        Self {
            happening: happening.id.to_owned(),
            when,
            on: On::Tank,
            amount: None,
            note: String::new(),
            details: Details::default(),
        }
    }

    /// With its amount, in the unit of its kind.
    #[must_use]
    pub fn with_amount(self, amount: f64) -> Self {
        Self {
            amount: Some(amount),
            ..self
        }
    }

    /// Its kind, if this program knows it.
    pub fn kind(&self) -> Option<&'static Happening> {
        Happening::by_id(&self.happening)
    }

    /// What and how much, in the keeper's units: “Water change, 20 %”.
    pub fn words(&self, units: &Units) -> String {
        let Some(kind) = self.kind() else {
            return format!("Something a newer version knows: {}", self.happening);
        };
        let label = match self.details.signs_in_words() {
            Some(signs) => format!("{}: {signs}", kind.label),
            None => kind.label.to_owned(),
        };
        match (self.amount, kind.amount) {
            (Some(amount), Some(measure)) => {
                let own = measure.unit_for(units);
                let amount = own.map_or(amount, |own| own.from_base(amount));
                let symbol = own.map_or(measure.unit, |own| own.symbol);
                let shown = plain((amount * 100.0).round() / 100.0);
                format!("{label}, {shown} {symbol}").trim_end().to_owned()
            }
            _ => label,
        }
    }
}
