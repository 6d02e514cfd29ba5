//! Numbers that open to where they come from.

use std::borrow::Cow;

/// A number with its formula, what went into it, and the source.
pub(crate) struct Opened {
    pub(crate) label: String,
    pub(crate) value: String,
    pub(crate) formula: Cow<'static, str>,
    pub(crate) inputs: String,
    pub(crate) source: &'static str,
}

impl Opened {
    pub(crate) fn new(
        label: impl Into<String>,
        value: String,
        formula: impl Into<Cow<'static, str>>,
        inputs: String,
        source: &'static str,
    ) -> Self {
        Self {
            label: label.into(),
            value,
            formula: formula.into(),
            inputs,
            source,
        }
    }
}
