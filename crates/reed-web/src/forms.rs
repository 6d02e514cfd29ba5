//! What keepers type, kept as typed until it makes sense.

use std::collections::HashMap;

use jiff::civil::DateTime;
use reed_core::tank::{Reading, kit};
use reed_core::units::{Refusal, Units, plain};
use serde::Deserialize;

/// Refusals by field, for printing beside each.
#[derive(Clone, Debug, Default)]
pub(crate) struct Refusals(HashMap<String, String>);

impl Refusals {
    /// Collects refusals; the first of each field is shown.
    pub(crate) fn of(refusals: Vec<Refusal>) -> Self {
        let mut by_field = HashMap::new();
        for refusal in refusals {
            by_field.entry(refusal.field.clone()).or_insert_with(|| refusal.to_string());
        }
        Self(by_field)
    }

    /// One sentence for one field.
    pub(crate) fn single(field: &'static str, words: String) -> Self {
        Self(HashMap::from([(field.to_owned(), words)]))
    }

    /// The sentence for a field; empty when it is fine.
    pub(crate) fn at(&self, field: &str) -> &str {
        self.0.get(field).map_or("", String::as_str)
    }

    /// Something was refused.
    pub(crate) fn any(&self) -> bool {
        !self.0.is_empty()
    }
}

/// A reading as typed.
#[derive(Clone, Debug, Default, Deserialize)]
pub(crate) struct ReadingInput {
    /// Id of the kit, which says what is measured.
    #[serde(default)]
    pub(crate) kit: String,
    /// The value.
    #[serde(default)]
    pub(crate) value: String,
    /// Its spread; empty for the kit's.
    #[serde(default)]
    pub(crate) spread: String,
    /// When.
    #[serde(default)]
    pub(crate) taken_at: String,
}

/// A moment as the browser's date field writes it.
pub(crate) fn for_date_field(at: DateTime) -> String {
    at.strftime("%Y-%m-%dT%H:%M").to_string()
}

impl ReadingInput {
    /// An empty form for this kit.
    pub(crate) fn blank(kit: &str, now: DateTime) -> Self {
        Self { kit: kit.to_owned(), taken_at: for_date_field(now), ..Self::default() }
    }

    /// Makes sense of what was typed.
    pub(crate) fn parse(&self, now: DateTime, units: &Units) -> Result<Reading, Refusals> {
        let Some(kit) = kit::by_id(&self.kit) else {
            let accepted = "Choose one of the kits in the list.".to_owned();
            return Err(Refusals::of(vec![Refusal::new("kit", "Kit", &self.kit, accepted)]));
        };
        let value = kit.analyte.read(&self.value, units);
        let spread = self.parse_spread(kit, units);
        let taken_at = self.parse_moment(now);
        match (value, spread, taken_at) {
            (Ok(value), Ok(spread), Ok(taken_at)) => Ok(Reading { analyte: kit.analyte, value, spread, taken_at, kit: Some(kit) }),
            (value, spread, taken_at) => Err(Refusals::of([value.err(), spread.err(), taken_at.err()].into_iter().flatten().collect())),
        }
    }

    fn parse_spread(&self, kit: &kit::Kit, units: &Units) -> Result<f64, Refusal> {
        let text = self.spread.trim();
        if text.is_empty() {
            return Ok(kit.spread);
        }
        let unit = units.of(kit.analyte.units);
        let most = kit.analyte.high / 4.0;
        let typed = text.replace(',', ".").parse::<f64>().ok().map(|spread| spread * unit.factor);
        typed.filter(|spread| *spread > 0.0 && *spread <= most).ok_or_else(|| {
            let (most, usual) = (plain(most / unit.factor), plain(kit.spread / unit.factor));
            let accepted = format!("Give a number above 0, at most {most} {}; leave it empty for the kit's own ± {usual}.", unit.symbol);
            Refusal::new("spread", "Uncertainty", text, accepted)
        })
    }

    fn parse_moment(&self, now: DateTime) -> Result<DateTime, Refusal> {
        let refuse = |accepted: &str| Refusal::new("taken_at", "When", &self.taken_at.replace('T', " "), accepted);
        let at: DateTime = self.taken_at.trim().parse().map_err(|_| refuse("Give a date and a time, such as 2026-03-10 08:30."))?;
        // The page may have been open for a minute, and clocks differ by seconds.
        if at > now + jiff::SignedDuration::from_mins(2) {
            return Err(refuse("That is in the future: give the moment at which it was read, up to now."));
        }
        Ok(at)
    }
}

#[cfg(test)]
mod tests {
    use super::{ReadingInput, Units};
    use jiff::civil::{DateTime, date};

    const NOW: DateTime = date(2026, 3, 10).at(8, 30, 0, 0);

    fn typed(value: &str, spread: &str, taken_at: &str) -> ReadingInput {
        ReadingInput { kit: "oxygen-drops".to_owned(), value: value.to_owned(), spread: spread.to_owned(), taken_at: taken_at.to_owned() }
    }

    #[test]
    fn an_empty_uncertainty_is_that_of_the_kit() {
        let reading = typed("5,5", "", "2026-03-10T08:20").parse(NOW, &Units::BASE).expect("sound");
        assert!((reading.value - 5.5).abs() < 1e-12 && (reading.spread - 0.5).abs() < 1e-12);
    }

    #[test]
    fn every_field_that_makes_no_sense_is_named_at_once() {
        let refusals = typed("-3", "0", "2026-03-11T08:20").parse(NOW, &Units::BASE).expect_err("nonsense");
        assert!(refusals.at("value").contains("“-3” is not accepted. Give a number from 0 to 25 mg/L."));
        assert!(refusals.at("spread").starts_with("Uncertainty: “0”"));
        assert!(refusals.at("taken_at").contains("in the future"));
        assert!(typed("5", "", "").parse(NOW, &Units::BASE).expect_err("no date").at("taken_at").contains("nothing"));
        assert!(ReadingInput::default().parse(NOW, &Units::BASE).expect_err("no kit").any());
    }
}
