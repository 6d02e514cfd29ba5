//! The amount in a part of the quick line.

use super::Token;
use super::words::{NUMBERS, UNITS};
use crate::log::happening::{Happening, Measure, Quantity};
use crate::tank::{Analyte, Tank};
use crate::units::{Quantity as _, Units, Volume, plain, read_amount};

/// What an amount is read against.
pub(super) struct Amount<'a> {
    pub(super) kind: &'static Happening,
    pub(super) measure: Measure,
    pub(super) tank: &'a Tank,
    pub(super) units: &'a Units,
}

impl Amount<'_> {
    /// Takes the first number there is, with its unit; `None` where there is none.
    ///
    /// # Errors
    /// A sentence, when it lies outside of what the kind accepts.
    pub(super) fn take(&self, tokens: &mut [Token<'_>]) -> Result<Option<f64>, String> {
        for place in 0..tokens.len() {
            if tokens[place].is_used {
                continue;
            }
            let alone = tokens[place].small.clone();
            let with_next = tokens
                .get(place + 1)
                .filter(|next| !next.is_used)
                .map(|next| format!("{alone} {}", next.small));
            let (amount, many) = match with_next.and_then(|text| self.read(&text)) {
                Some(amount) => (amount, 2),
                None => match self.read(&alone) {
                    Some(amount) => (amount, 1),
                    None => continue,
                },
            };
            let Measure {
                low, high, unit, ..
            } = self.measure;
            if !(low..=high).contains(&amount) {
                return Err(format!(
                    "{}: “{}” is not accepted. Give a number from {} to {}{unit}. It is kept as a note.",
                    self.kind.label,
                    tokens[place].word,
                    plain(low),
                    plain(high)
                ));
            }
            tokens[place..place + many]
                .iter_mut()
                .for_each(|token| token.is_used = true);
            return Ok(Some(amount));
        }
        Ok(None)
    }

    /// A number with a unit that this kind takes, in the unit of the kind.
    fn read(&self, text: &str) -> Option<f64> {
        let (number, unit) = number_and_unit(text)?;
        let own = UNITS.iter().find(|(own, _)| *own == self.measure.unit);
        let factor = own.and_then(|(_, units)| units.iter().find(|(known, _)| *known == unit));
        if self.measure.quantity == Quantity::Ammonia {
            // Milligrams in a litre are those that the keeper reads.
            let usual = self.units.of(Analyte::AMMONIA.units);
            return read_amount(text, Analyte::AMMONIA.units, usual)
                .or_else(|| factor.map(|(_, factor)| usual.to_base(number * factor)));
        }
        if unit.is_empty() {
            return Some(number);
        }
        let is_share = self.measure.unit.starts_with('%');
        if is_share && matches!(unit, "%" | "percent") {
            return Some(number);
        }
        if let Some((_, factor)) = factor {
            return Some(number * factor);
        }
        // So many litres of the water are a share of it.
        if is_share && self.kind.id == "change" {
            let usual = self.units.of(Volume::UNITS);
            let litres = litres(unit)
                .map(|factor| number * factor)
                .or_else(|| read_amount(text, Volume::UNITS, usual))?;
            let all = self.tank.net_volume().as_litres();
            return (all > 0.0).then(|| (litres / all * 1000.0).round() / 10.0);
        }
        None
    }
}

fn litres(unit: &str) -> Option<f64> {
    let (_, units) = UNITS.iter().find(|(own, _)| *own == "L")?;
    let found = units.iter().find(|(known, _)| *known == unit)?;
    Some(found.1)
}

/// “30 %” is 30 and “%”, “€6,50” 6.5 and “€”, “two” 2 and nothing.
fn number_and_unit(text: &str) -> Option<(f64, &str)> {
    if let Some((_, number)) = NUMBERS.iter().find(|(word, _)| *word == text) {
        return Some((*number, ""));
    }
    let is_figure = |letter: char| letter.is_ascii_digit() || matches!(letter, '.' | ',');
    let from = text.find(|letter: char| letter.is_ascii_digit())?;
    let length = text[from..]
        .find(|letter: char| !is_figure(letter))
        .unwrap_or(text.len() - from);
    let number = text[from..from + length]
        .trim_end_matches(['.', ','])
        .replace(',', ".")
        .parse::<f64>()
        .ok()?;
    let (before, after) = (text[..from].trim(), text[from + length..].trim());
    match (before, after) {
        ("", after) => Some((number, after)),
        // A sign of money stands before its number, “x” before its factor.
        (before @ ("€" | "$" | "£" | "x"), "") => Some((number, before)),
        _ => None,
    }
}
