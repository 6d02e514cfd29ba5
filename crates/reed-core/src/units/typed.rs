//! Numbers as keepers type them, and the one sentence that is said when they make no sense.

use super::Unit;

/// Why a typed or stored value was not taken: names the field, the value and what would be
/// accepted.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("{label}: “{given}” is not accepted. {accepted}")]
pub struct Refusal {
    /// Place of the field: a name in a form, or the JSON pointer in a tank.
    pub field: String,
    /// The field in the keeper's words.
    pub label: String,
    /// What was given, as typed.
    pub given: String,
    /// What would be accepted, a whole sentence.
    pub accepted: String,
}

impl Refusal {
    /// A refusal; an empty value is called "nothing".
    pub fn new(
        field: impl Into<String>,
        label: impl Into<String>,
        given: &str,
        accepted: impl Into<String>,
    ) -> Self {
        let given = if given.trim().is_empty() {
            "nothing"
        } else {
            given.trim()
        };
        Self {
            field: field.into(),
            label: label.into(),
            given: given.to_owned(),
            accepted: accepted.into(),
        }
    }
}

/// Reads a number, with a decimal point or comma, with or without a unit ("24,5", "76 F", "53
/// gal"), in base units.
///
/// Without a unit it is in the `usual` one. `None` when it is no finite number or the unit is
/// unknown.
pub fn read_amount(text: &str, units: &'static [Unit], usual: &Unit) -> Option<f64> {
    let tidy = text.trim().replace(['−', '–'], "-").replace(',', ".");
    let end = tidy
        .find(|c: char| !(c.is_ascii_digit() || matches!(c, '.' | '-' | '+')))
        .unwrap_or(tidy.len());
    let (number, symbol) = (tidy[..end].trim().parse::<f64>().ok()?, tidy[end..].trim());
    let unit = if symbol.is_empty() {
        usual
    } else {
        find_unit(symbol, units)?
    };
    Some(unit.to_base(number)).filter(|base| base.is_finite())
}

fn find_unit(text: &str, units: &'static [Unit]) -> Option<&'static Unit> {
    let wanted = text.to_lowercase();
    let wanted = wanted.trim_start_matches('°');
    units.iter().find(|unit| {
        unit.symbol.to_lowercase().trim_start_matches('°') == wanted || unit.also.contains(&wanted)
    })
}

/// A number without needless zeros: at most three decimals, more for small numbers, so that four
/// digits always tell.
pub fn plain(value: f64) -> String {
    let decimals = if value == 0.0 || value.abs() >= 1.0 {
        3
    } else {
        6
    };
    let text = format!("{value:.decimals$}");
    let text = text.trim_end_matches('0').trim_end_matches('.');
    if text == "-0" {
        "0".to_owned()
    } else {
        text.to_owned()
    }
}

/// What a field of amounts accepts, as a sentence.
pub fn accepted_amount(low: f64, high: f64, units: &'static [Unit], usual: &Unit) -> String {
    let others: Vec<_> = units.iter().map(|unit| unit.symbol).collect();
    let understood = if others.len() > 1 {
        format!(" (units understood: {})", others.join(", "))
    } else {
        String::new()
    };
    let (low, high) = (plain(usual.from_base(low)), plain(usual.from_base(high)));
    format!("Give a number from {low} to {high} {}", usual.symbol)
        .trim_end()
        .to_owned()
        + &understood
        + "."
}

#[cfg(test)]
mod tests {
    use super::{accepted_amount, plain, read_amount};
    use crate::units::{Quantity, Temperature, Volume};

    #[test]
    fn typed_text_is_read_with_comma_unit_and_blanks() {
        let read = |text| read_amount(text, Temperature::UNITS, &Temperature::UNITS[0]);
        for (text, celsius) in [
            ("24,5", 24.5),
            (" 25 ", 25.0),
            ("77 F", 25.0),
            ("77°F", 25.0),
            ("25 °c", 25.0),
            ("−3", -3.0),
        ] {
            assert!((read(text).expect(text) - celsius).abs() < 1e-9, "{text}");
        }
        let gallons = read_amount("53", Volume::UNITS, &Volume::UNITS[1]).expect("usual unit");
        assert!((gallons - 200.626_824_552).abs() < 1e-9);
        for text in ["abc", "", "25 gal", "NaN", "1e999", "--4", "inf", "°"] {
            assert_eq!(read(text), None, "{text}");
        }
    }

    #[test]
    fn what_is_accepted_is_said_in_the_usual_unit() {
        let words = accepted_amount(0.0, 40.0, Temperature::UNITS, &Temperature::UNITS[1]);
        assert_eq!(
            words,
            "Give a number from 32 to 104 °F (units understood: °C, °F)."
        );
        assert_eq!(
            (plain(0.012_345), plain(170.0), plain(-0.0)),
            ("0.012345".to_owned(), "170".to_owned(), "0".to_owned())
        );
    }
}
