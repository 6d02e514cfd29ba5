//! What of a tank is to be drawn, as it stands in the address.

use jiff::civil::{Date, DateTime};
use jiff::{SignedDuration, Span as Days};
use reed_core::tank::{Analyte, analyte};
use reed_core::units::{days_of, span_of_days};
use reed_store::TankId;

use crate::view::Span;

/// A span that can be chosen.
pub(super) struct SpanChoice {
    pub(super) id: &'static str,
    pub(super) words: &'static str,
    /// Its length; `None` for everything, and for one that is typed.
    days: Option<i64>,
}

pub(super) const SPANS: &[SpanChoice] = &[
    SpanChoice {
        id: "week",
        words: "a week",
        days: Some(7),
    },
    SpanChoice {
        id: "month",
        words: "a month",
        days: Some(31),
    },
    SpanChoice {
        id: "quarter",
        words: "three months",
        days: Some(92),
    },
    SpanChoice {
        id: "year",
        words: "a year",
        days: Some(366),
    },
    SpanChoice {
        id: "all",
        words: "everything",
        days: None,
    },
    SpanChoice {
        id: "own",
        words: "from a day to a day",
        days: None,
    },
];

/// Drawn without being asked.
const USUAL: &str = "quarter";

/// The days ahead are as long as this part of what lies behind, within these.
const AHEAD_SHARE: f64 = 0.25;
const AHEAD_DAYS: (f64, f64) = (2.0, 60.0);

/// What is asked for.
#[derive(Clone, Debug, Default)]
pub(super) struct Asked {
    /// Nothing was: all is as it usually is.
    pub(super) is_usual: bool,
    pub(super) read: Vec<&'static Analyte>,
    pub(super) span: String,
    pub(super) from: String,
    pub(super) to: String,
    /// The tank it is compared with.
    pub(super) beside: Option<TankId>,
    /// With the days ahead.
    pub(super) ahead: bool,
}

impl Asked {
    pub(super) fn of(pairs: &[(String, String)]) -> Self {
        let said = |name: &str| {
            let found = pairs.iter().find(|(key, _)| key == name);
            found.map_or_else(String::new, |(_, value)| value.trim().to_owned())
        };
        let read = pairs.iter().filter(|(key, _)| key == "read");
        Self {
            is_usual: pairs.is_empty(),
            read: read.filter_map(|(_, id)| analyte(id)).collect(),
            span: if pairs.is_empty() {
                USUAL.to_owned()
            } else {
                said("span")
            },
            from: said("from"),
            to: said("to"),
            beside: said("beside").parse().ok().map(TankId),
            ahead: pairs.is_empty() || said("ahead") == "yes",
        }
    }

    /// The days behind and ahead that are meant; `first` is the first day of which anything is
    /// known.
    ///
    /// # Errors
    /// In a sentence, where a day is none, or the second lies before the first.
    pub(super) fn span(&self, now: DateTime, first: Option<DateTime>) -> Result<Span, String> {
        let choice = SPANS.iter().find(|choice| choice.id == self.span);
        if self.span == "own" {
            let [from, to] = [("From", &self.from), ("To", &self.to)].map(|(name, text)| {
                text.parse::<Date>().map_err(|_| {
                    format!("{name}: “{text}” is not accepted. Give a day, such as 2026-03-10.")
                })
            });
            let (from, to) = (from?, to?);
            // To the end of the day that is named.
            let to = to.checked_add(Days::new().days(1)).unwrap_or(to);
            let days = days_of(to.at(0, 0, 0, 0).duration_since(from.at(0, 0, 0, 0)));
            if days <= 0.0 {
                return Err(format!(
                    "To: {} lies before {}. Give a day that is later.",
                    self.to, self.from
                ));
            }
            return Ok(Span {
                from: from.at(0, 0, 0, 0),
                days,
            });
        }
        let behind = match choice.and_then(|choice| choice.days) {
            Some(days) => SignedDuration::from_hours(24 * days),
            None => first.map_or(SignedDuration::from_hours(24), |first| {
                now.duration_since(first)
                    .max(SignedDuration::from_hours(24))
            }),
        };
        let ahead = if self.ahead {
            (AHEAD_SHARE * days_of(behind)).clamp(AHEAD_DAYS.0, AHEAD_DAYS.1)
        } else {
            0.0
        };
        let from = now.checked_sub(behind).unwrap_or(now);
        let to = now
            .checked_add(span_of_days(ahead).unwrap_or_default())
            .unwrap_or(now);
        Ok(Span {
            from,
            days: days_of(to.duration_since(from)),
        })
    }

    /// This is the tank it is compared with.
    pub(super) fn is_beside(&self, tank: &TankId) -> bool {
        self.beside == Some(*tank)
    }

    /// The same as an address has it.
    pub(super) fn query(&self) -> String {
        if self.is_usual {
            return String::new();
        }
        let beside = self
            .beside
            .map_or_else(String::new, |tank| tank.to_string());
        let mut query = form_urlencoded::Serializer::for_suffix(String::from("?"), 1);
        for analyte in &self.read {
            query.append_pair("read", analyte.id);
        }
        for (name, value) in [
            ("span", self.span.as_str()),
            ("from", &self.from),
            ("to", &self.to),
            ("beside", &beside),
            ("ahead", if self.ahead { "yes" } else { "" }),
        ] {
            if !value.is_empty() {
                query.append_pair(name, value);
            }
        }
        query.finish()
    }
}
