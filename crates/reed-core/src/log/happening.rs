//! Kinds of things that happen to a tank, each declared once with all that it means.

use super::effect::Effect;
use super::kinds;
use crate::tank::{Analyte, Tank};
use crate::units::{Unit, Units};

/// A kind of thing that happens.
pub struct Happening {
    /// Stable id, in files and addresses.
    pub id: &'static str,
    /// As a line of the log.
    pub label: &'static str,
    /// What a keeper types for it, in small letters; the first is the one that is suggested.
    pub words: &'static [&'static str],
    /// With which others it is listed.
    pub family: Family,
    /// On what it happens.
    pub on: OnWhat,
    /// It happens to a tank and is never planned.
    pub never_planned: bool,
    /// What its amount is, where it has one.
    pub amount: Option<Measure>,
    /// What it tells the diagnosis.
    pub tells: &'static [Tells],
    /// What it does to the water, from its amount.
    pub does: Option<fn(f64) -> Effect>,
    /// Ids of the tasks of the routine that it completes.
    pub completes: &'static [&'static str],
    /// What it makes true of the tank, from its amount; `None` where it changes nothing that the
    /// tank file says.
    pub makes: Option<Makes>,
}

/// What of a tank file an entry makes true: the tank as it is afterwards, from the amount, the
/// name of what it happened on and the day; `None` where it does not apply to this tank.
pub type Makes = fn(&Tank, &super::Entry) -> Option<Tank>;

impl PartialEq for Happening {
    fn eq(&self, other: &Self) -> bool {
        self.id == other.id
    }
}

impl std::fmt::Debug for Happening {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "Happening({})", self.id)
    }
}

choice_set! {
    /// With what others a kind is listed.
    Family:
    #[default] Water = "water", "Water";
    Filter = "filter", "Filter and equipment";
    Animals = "animals", "Animals";
    Food = "food", "Food";
    Added = "added", "Put into the water";
    Around = "around", "Around the tank";
    Routine = "routine", "Routine";
}

/// On what something of a kind happens.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum OnWhat {
    /// The whole tank.
    Tank,
    /// A filter, where it is said which.
    Filter,
    /// A group of animals, where it is said which.
    Group,
}

/// The amount of a kind.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Measure {
    /// The unit in which it is stored.
    pub unit: &'static str,
    /// No less than this.
    pub low: f64,
    /// No more than this.
    pub high: f64,
    /// What it is taken for where nobody said; `None`: then it does nothing to the water.
    pub usual: Option<f64>,
    /// Whether keepers read and type it in units of their own.
    pub quantity: Quantity,
}

/// Whether the unit of an amount follows the keeper's choice.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Quantity {
    /// It is always the same.
    Fixed,
    /// As the keeper reads ammonia.
    Ammonia,
}

impl Measure {
    /// In a unit that is always the same.
    pub(super) const fn fixed(unit: &'static str, low: f64, high: f64) -> Self {
        Self {
            unit,
            low,
            high,
            usual: None,
            quantity: Quantity::Fixed,
        }
    }

    /// A share in percent.
    pub(super) const fn percent(of: &'static str) -> Self {
        Self::fixed(of, 1.0, 100.0)
    }

    /// The unit with a space before it; nothing where it has none.
    pub fn unit_after_a_number(&self) -> String {
        if self.unit.is_empty() {
            String::new()
        } else {
            format!(" {}", self.unit)
        }
    }

    /// The unit as the keeper reads it; `None` where it is always the same.
    pub fn unit_for(&self, units: &Units) -> Option<&'static Unit> {
        match self.quantity {
            Quantity::Fixed => None,
            Quantity::Ammonia => Some(units.of(Analyte::AMMONIA.units)),
        }
    }
}

/// A finding that an entry answers with yes.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Tells {
    /// Id of the finding.
    pub finding: &'static str,
    /// From this amount on; an entry without an amount was told because it was enough.
    pub at_least: f64,
}

/// Tells a finding whatever its amount.
pub(super) const fn tells(finding: &'static str) -> Tells {
    Tells {
        finding,
        at_least: f64::NEG_INFINITY,
    }
}

impl Happening {
    /// A kind of which nothing is declared yet but its family.
    pub(super) const fn blank(family: Family) -> Self {
        Self {
            id: "",
            label: "",
            words: &[],
            family,
            on: OnWhat::Tank,
            never_planned: false,
            amount: None,
            tells: &[],
            does: None,
            completes: &[],
            makes: None,
        }
    }

    /// Every kind, family by family.
    pub fn all() -> impl Iterator<Item = &'static Self> {
        kinds::ALL.iter().copied().flatten()
    }

    /// The kind with this id.
    pub fn by_id(id: &str) -> Option<&'static Self> {
        Self::all().find(|kind| kind.id == id)
    }

    /// The kind as which a finding is logged that was answered with yes: the first that tells it.
    pub fn of_finding(finding: &str) -> Option<&'static Self> {
        let tells = |kind: &&Self| kind.tells.iter().any(|tells| tells.finding == finding);
        Self::all().find(tells)
    }
}
