//! What an entry of the log can say beyond its amount.

use std::collections::BTreeMap;

use crate::tank::{Analyte, analyte};
use crate::units::Units;

/// Each field belongs to a few kinds; what does not apply is left out.
#[derive(Clone, Debug, Default, PartialEq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(default, rename_all = "kebab-case")]
pub struct Details {
    /// Who did it, or who says so.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub by: String,
    /// Of an opened filter: how dirty each layer was, from 0, as new, to 5, closed.
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    pub grades: BTreeMap<Layer, u8>,
    /// Of an opened filter: the colour of the water in it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub inside: Option<WaterInside>,
    /// Of an opened filter: what was cleaned and how.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub cleaned: Vec<Cleaned>,
    /// Of a bucket test: what each run gave, L/h.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub runs: Vec<f64>,
    /// Of a water change: temperature of what went in, °C.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub refill_c: Option<f64>,
    /// Of a water change: whether the tap water was conditioned.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub conditioned: Option<bool>,
    /// Of lost animals: what was seen on them.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub signs: Vec<String>,
    /// Of lost animals: their length, cm.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub size_cm: Option<f64>,
    /// What it cost, in the keeper's money.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cost: Option<f64>,
    /// Of a task that was skipped, put off or given an interval: its id.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub task: String,
    /// Of a task that was put off: the day from which it counts again.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub until: Option<jiff::civil::Date>,
    /// Of an alarm: what left its bounds, and how far.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub alarm: Option<BeyondBound>,
}

/// Something that a device read was beyond its bound.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(rename_all = "kebab-case")]
pub struct BeyondBound {
    /// Id of what was read.
    pub analyte: String,
    /// It was above its bound; else below.
    pub above: bool,
    /// The bound, in the first unit of what was read.
    pub bound: f64,
    /// The furthest of it so far.
    pub worst: f64,
    /// Minutes that it lasted; none while it lasts.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub minutes: Option<f64>,
}

impl BeyondBound {
    fn line(&self, units: &Units) -> Option<String> {
        let analyte = analyte(&self.analyte)?;
        let (far, worst) = if self.above {
            ("above", "highest")
        } else {
            ("below", "lowest")
        };
        let lasted = self.minutes.map_or_else(String::new, |minutes| {
            format!(" for {}", hours_and_minutes(minutes))
        });
        Some(format!(
            "{} {far} {}{lasted}, {worst} {}",
            analyte.label,
            analyte.print(self.bound, units),
            analyte.print(self.worst, units)
        ))
    }
}

fn hours_and_minutes(minutes: f64) -> String {
    /// By definition.
    const HOUR: f64 = 60.0;
    let whole = (minutes / HOUR).floor();
    let rest = minutes - HOUR * whole;
    if whole < 1.0 {
        format!("{rest:.0} min")
    } else {
        format!("{whole:.0} h {rest:.0} min")
    }
}

choice_set! {
    /// A layer in the path through a filter.
    Layer:
    #[default] Coarse = "coarse", "Coarse foam";
    Medium = "medium", "Medium foam";
    Fine = "fine", "Fine foam";
    Floss = "floss", "Floss";
    Biological = "biological", "Biological media";
}

choice_set! {
    /// The colour of the water in an opened filter.
    WaterInside:
    #[default] Clear = "clear", "Clear";
    Straw = "straw", "Straw";
    Tea = "tea", "Tea";
    Coffee = "coffee", "Coffee";
    Black = "black", "Black";
}

choice_set! {
    /// How something of a filter was cleaned.
    How:
    #[default] TankWater = "tank-water", "In tank water";
    Tap = "tap", "Under the tap";
    Replaced = "replaced", "Replaced by new";
    Halves = "halves", "One half in tank water";
}

/// What was cleaned of a filter.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Cleaned {
    /// The tray, counted from 1 along the path.
    pub tray: usize,
    /// How.
    pub how: How,
}

/// Most that a layer can be graded.
pub const WORST_GRADE: u8 = 5;

impl Details {
    /// Nothing is said.
    pub fn is_empty(&self) -> bool {
        *self == Self::default()
    }

    /// What was seen on lost animals, in words.
    pub(super) fn signs_in_words(&self) -> Option<String> {
        (!self.signs.is_empty()).then(|| self.signs.join(", "))
    }

    /// Everything else that is said, a line for each.
    pub fn lines(&self, units: &Units) -> Vec<String> {
        let mut lines = Vec::new();
        lines.extend(self.alarm.as_ref().and_then(|alarm| alarm.line(units)));
        let grades = self
            .grades
            .iter()
            .map(|(layer, grade)| format!("{} {grade} of {WORST_GRADE}", layer.words()));
        lines.extend(grades);
        lines.extend(
            self.inside
                .map(|inside| format!("Water inside: {}", inside.words().to_lowercase())),
        );
        lines.extend(self.cleaned.iter().map(|cleaned| {
            format!(
                "Tray {}: {}",
                cleaned.tray,
                cleaned.how.words().to_lowercase()
            )
        }));
        if !self.runs.is_empty() {
            let runs: Vec<String> = self.runs.iter().map(|run| format!("{run:.0}")).collect();
            lines.push(format!("Runs: {} L/h", runs.join(", ")));
        }
        let refill = |celsius| format!("Refill at {}", Analyte::TEMPERATURE.print(celsius, units));
        lines.extend(self.refill_c.map(refill));
        lines.extend(self.conditioned.map(|yes| {
            if yes {
                "Conditioned".to_owned()
            } else {
                "Not conditioned".to_owned()
            }
        }));
        lines.extend(self.size_cm.map(|size| format!("{size} cm long")));
        lines.extend(self.cost.map(|cost| format!("Cost {cost}")));
        lines.extend((!self.by.is_empty()).then(|| format!("By {}", self.by)));
        lines
    }
}
