//! The range a field accepts, and the one sentence that is said when a value is outside it or is no number.

use std::marker::PhantomData;

use super::Quantity;

/// Why a typed or stored value was not taken: names the field, the value and what would be accepted.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("{label}: “{given}” is not accepted. {accepted}")]
pub struct Refusal {
    /// Id of the field, as in the form and the document.
    pub field: &'static str,
    /// The field in the keeper's words.
    pub label: &'static str,
    /// What was given, as typed.
    pub given: String,
    /// What would be accepted, a whole sentence.
    pub accepted: String,
}

/// A field that holds a quantity between two limits (both included).
#[derive(Clone, Copy, Debug)]
pub struct Span<Q> {
    /// Id of the field.
    pub field: &'static str,
    /// The field in the keeper's words.
    pub label: &'static str,
    low: f64,
    high: f64,
    quantity: PhantomData<Q>,
}

impl<Q: Quantity> Span<Q> {
    /// A span in base units.
    pub const fn new(field: &'static str, label: &'static str, low: f64, high: f64) -> Self {
        Self { field, label, low, high, quantity: PhantomData }
    }

    /// Checks a value that is already a quantity.
    ///
    /// # Errors
    /// When it is outside the span or not finite.
    pub fn check(&self, value: Q) -> Result<Q, Refusal> {
        let base = value.base();
        if base.is_finite() && base >= self.low && base <= self.high {
            return Ok(value);
        }
        Err(self.refuse(&format!("{} {}", plain(base), Q::UNITS[0].symbol)))
    }

    /// Reads typed text: a number, with a decimal point or comma, with or without a unit ("24,5", "76 F", "53 gal").
    ///
    /// # Errors
    /// When the text is empty, no number, has an unknown unit or lies outside the span; the refusal carries the text.
    pub fn read(&self, text: &str) -> Result<Q, Refusal> {
        let text = text.trim();
        let tidy = text.replace(['−', '–'], "-").replace(',', ".");
        let end = tidy.find(|c: char| !(c.is_ascii_digit() || matches!(c, '.' | '-' | '+'))).unwrap_or(tidy.len());
        let (number, unit) = (tidy[..end].trim(), tidy[end..].trim());
        let unit = if unit.is_empty() { Some(&Q::UNITS[0]) } else { find_unit::<Q>(unit) };
        match (number.parse::<f64>(), unit) {
            (Ok(number), Some(unit)) => self.check(Q::from_base(unit.to_base(number))).map_err(|_| self.refuse(text)),
            _ => Err(self.refuse(text)),
        }
    }

    /// What is accepted, as a sentence.
    pub fn accepted(&self) -> String {
        let symbols: Vec<_> = Q::UNITS.iter().map(|unit| unit.symbol).collect();
        let units = if symbols.len() > 1 { format!(" (units understood: {})", symbols.join(", ")) } else { String::new() };
        format!("Give a number from {} to {} {}{units}.", plain(self.low), plain(self.high), symbols[0])
    }

    fn refuse(&self, given: &str) -> Refusal {
        let given = if given.is_empty() { "nothing" } else { given }.to_owned();
        Refusal { field: self.field, label: self.label, given, accepted: self.accepted() }
    }
}

fn find_unit<Q: Quantity>(text: &str) -> Option<&'static super::Unit> {
    let wanted = text.to_lowercase();
    let wanted = wanted.trim_start_matches('°');
    Q::UNITS.iter().find(|unit| unit.symbol.to_lowercase().trim_start_matches('°') == wanted || unit.also.contains(&wanted))
}

/// A number without needless zeros.
fn plain(value: f64) -> String {
    let text = format!("{value:.3}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

#[cfg(test)]
mod tests {
    use super::Span;
    use crate::units::{Temperature, Volume};

    const WATER: Span<Temperature> = Span::new("temperature", "Water temperature", 0.0, 42.0);

    #[test]
    fn typed_text_is_read_with_comma_unit_and_blanks() {
        let volume = Span::<Volume>::new("net_volume", "Water", 1.0, 20_000.0);
        for (text, celsius) in [("24,5", 24.5), (" 25 ", 25.0), ("77 F", 25.0), ("77°F", 25.0), ("25 °c", 25.0)] {
            assert!((WATER.read(text).expect(text).as_celsius() - celsius).abs() < 1e-9, "{text}");
        }
        assert!((volume.read("53 gal").expect("gallons").as_litres() - 200.626_824_552).abs() < 1e-9);
    }

    #[test]
    fn nonsense_is_refused_with_field_value_and_what_is_accepted() {
        for text in ["abc", "", "900", "-3", "25 gal", "NaN", "1e999", "--4", "inf"] {
            let refusal = WATER.read(text).expect_err(text).to_string();
            let named = if text.is_empty() { "nothing" } else { text };
            assert!(refusal.starts_with(&format!("Water temperature: “{named}” is not accepted.")), "{refusal}");
            assert!(refusal.contains("from 0 to 42 °C"), "{refusal}");
        }
    }
}
