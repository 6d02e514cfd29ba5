//! What to look at or measure next. One card each: how, how long, what with, what to mind.

pub mod looks;
pub mod readings;

use super::finding::{Finding, Place};
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
    /// Nothing is looked at: somebody has to think back.
    pub recalled: bool,
    /// How long to watch, by a clock beside it.
    pub watch_seconds: Option<u32>,
    /// What it brings.
    pub gives: Gives,
}

/// Where somebody stands who answers by a glance.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Station {
    /// In front of the tank.
    Tank,
    /// At the filter.
    Filter,
    /// At the filter, opened: it is opened once for all there is to see.
    OpenFilter,
    /// Anywhere: it is recalled, or looked up.
    Memory,
}

/// Starting anything costs this, minutes. From memory.
pub const START_MINUTES: f64 = 0.5;
/// A look is a glance up to this, minutes.
const GLANCE_MINUTES: f64 = 1.0;

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
        recalled: false,
        watch_seconds: None,
        gives: Gives::Repeat,
    };

    /// What it costs the keeper, in minutes; a euro counts as a minute, and starting anything as
    /// half of one.
    pub fn effort_minutes(&self) -> f64 {
        self.minutes + self.euros + START_MINUTES
    }

    /// Where it is answered, for a look that takes seconds, or seconds once the filter is open:
    /// looks at one station go together. `None` for everything longer, and for what needs a kit.
    pub fn station(&self) -> Option<Station> {
        let Gives::Answer(finding) = &self.gives else {
            return None;
        };
        if self.opens_filter {
            return Some(Station::OpenFilter);
        }
        if self.minutes > GLANCE_MINUTES {
            return None;
        }
        Some(match finding.place {
            _ if self.recalled => Station::Memory,
            Place::Filter => Station::Filter,
            _ => Station::Tank,
        })
    }

    /// What it is a reading of, where that does not depend on the case.
    pub const fn reads(&self) -> Option<&'static Analyte> {
        match &self.gives {
            Gives::Reading(analyte) => Some(analyte),
            Gives::Answer(_) | Gives::Repeat => None,
        }
    }

    /// Place of what is looked at, in the order in which places are passed on a walk.
    pub(super) const fn gives_at(&self) -> Option<Place> {
        match &self.gives {
            Gives::Answer(finding) => Some(finding.place),
            Gives::Reading(_) | Gives::Repeat => None,
        }
    }
}

/// The check with this id.
pub fn by_id(id: &str) -> Option<&'static Check> {
    all().find(|check| check.id == id)
}

/// The check that answers this question.
pub fn of(finding: &Finding) -> Option<&'static Check> {
    all().find(|check| matches!(&check.gives, Gives::Answer(given) if *given == finding))
}

/// Every check.
pub fn all() -> impl Iterator<Item = &'static Check> {
    let looks = super::finding::all().filter_map(|finding| finding.look);
    [looks::ALL, readings::ALL]
        .into_iter()
        .flatten()
        .copied()
        .chain(looks)
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
        let mut titles: Vec<_> = all().map(|check| check.title).collect();
        titles.sort_unstable();
        let twice: Vec<_> = titles
            .windows(2)
            .filter(|pair| pair[0] == pair[1])
            .map(|pair| pair[0])
            .collect();
        assert!(twice.is_empty(), "two checks are called {twice:?}");
        assert!(all().all(|check| check.minutes > 0.0
            && check.how.ends_with(['.', '?'])
            && !check.title.is_empty()));
        for finding in finding::all().filter(|finding| finding.place != Place::Known) {
            assert!(
                all()
                    .any(|check| matches!(&check.gives, Gives::Answer(given) if *given == finding)),
                "{} is never asked",
                finding.id
            );
        }
    }
}
