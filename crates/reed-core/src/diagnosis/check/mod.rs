//! What to look at or measure next. One card each: how, how long, what with, what to mind.

pub mod looks;
pub mod readings;

use super::finding::Finding;
use crate::tank::Analyte;

/// What a check brings.
#[derive(Debug)]
pub enum Gives {
    /// A yes or a no.
    Answer(&'static Finding),
    /// A reading, taken at once.
    Reading(&'static Analyte),
    /// A second reading of whatever was read last and is in doubt.
    Repeat,
}

/// A check.
#[derive(Debug)]
pub struct Check {
    /// Stable id.
    pub id: &'static str,
    /// In the keeper's words, as something to do.
    pub title: &'static str,
    /// How to do it, in two or three sentences.
    pub how: &'static str,
    /// What to mind; empty when there is nothing.
    pub caution: &'static str,
    /// Minutes of the keeper's time. Common practice, no source.
    pub minutes: f64,
    /// What it costs in a kit's tests or strips, in euros. From memory.
    pub euros: f64,
    /// It takes the filter apart: its colony is disturbed, and air gets in.
    pub opens_filter: bool,
    /// How long to watch, by a clock beside it.
    pub watch_seconds: Option<u32>,
    /// What it brings.
    pub gives: Gives,
}

impl PartialEq for Check {
    fn eq(&self, other: &Self) -> bool {
        self.id == other.id
    }
}

impl Check {
    /// What most cards share.
    pub(super) const BLANK: Self = Self {
        id: "",
        title: "",
        how: "",
        caution: "",
        minutes: 0.0,
        euros: 0.0,
        opens_filter: false,
        watch_seconds: None,
        gives: Gives::Repeat,
    };

    /// What it costs the keeper, in minutes; a euro counts as a minute, and starting anything as half of one.
    pub fn effort_minutes(&self) -> f64 {
        self.minutes + self.euros + 0.5
    }
}

/// Every check.
pub fn all() -> impl Iterator<Item = &'static Check> {
    let looks = super::finding::all().filter_map(|finding| finding.look);
    [looks::ALL, readings::ALL].into_iter().flatten().copied().chain(looks)
}

#[cfg(test)]
mod tests {
    use std::collections::HashSet;

    use super::super::finding::{self, Place};
    use super::{Gives, all};

    #[test]
    fn every_check_is_whole_and_every_question_has_a_check() {
        let ids: HashSet<_> = all().map(|check| check.id).collect();
        assert_eq!(ids.len(), all().count());
        assert!(all().all(|check| check.minutes > 0.0 && check.how.ends_with(['.', '?']) && !check.title.is_empty()));
        for finding in finding::all().filter(|finding| finding.place != Place::Known) {
            assert!(all().any(|check| matches!(&check.gives, Gives::Answer(given) if *given == finding)), "{} is never asked", finding.id);
        }
    }
}
