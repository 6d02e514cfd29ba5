//! A number together with where it comes from, so that a page can say so and a keeper can distrust
//! it.

/// Where a figure comes from.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Source {
    /// A published source, named.
    Published(&'static str),
    /// Common practice among keepers; nobody published it.
    CommonPractice,
    /// Given from memory of the literature or the trade, not checked against a copy: treat as
    /// editable.
    FromMemory,
}

impl Source {
    /// The source in the words a page prints.
    pub fn words(self) -> &'static str {
        match self {
            Source::Published(name) => name,
            Source::CommonPractice => "common practice, no source",
            Source::FromMemory => "from memory, not checked against a copy",
        }
    }
}

/// A value with its source. The unit stands in the name of the constant that holds it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Figure {
    /// The number itself.
    pub value: f64,
    /// Where it comes from.
    pub source: Source,
}

impl Figure {
    /// A figure from a published source.
    pub const fn published(value: f64, name: &'static str) -> Self {
        Self {
            value,
            source: Source::Published(name),
        }
    }

    /// A figure keepers use without a source.
    pub const fn common_practice(value: f64) -> Self {
        Self {
            value,
            source: Source::CommonPractice,
        }
    }

    /// A figure from memory.
    pub const fn from_memory(value: f64) -> Self {
        Self {
            value,
            source: Source::FromMemory,
        }
    }
}
