//! What can be wrong. One card each, in the file of its family, so that strengths can be weighed
//! against each other.
//!
//! A card is data plus at most one small function, `in_the_model`, which puts the fault into the
//! tank: what it would make of the oxygen is then computed by the twin, not written down. Strengths
//! and rates are common practice, no source.

pub mod biology;
pub mod bystander;
pub mod current;
pub mod filter;
pub mod oxygen;
pub mod water;

use super::check::Check;
use super::finding::Finding;
use crate::figure::Figure;
use crate::tank::Tank;

/// How often an eye errs about what lies open before it. A judgement.
pub const EYE_ERRS: f64 = 0.03;

/// How reliably a fault shows a finding.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Strength {
    /// The finding is the fault, seen with the eyes: it is missed as often as an eye errs, and seen
    /// where it is not no oftener than [`EYE_ERRS`] of all who say so.
    Itself,
    /// ++
    NearlyAlways,
    /// +
    Usually,
    /// o
    Often,
    /// -
    Seldom,
}

impl Strength {
    /// As a chance, with where it comes from.
    pub const fn figure(self) -> Figure {
        Figure::common_practice(match self {
            Self::Itself => 1.0 - EYE_ERRS,
            Self::NearlyAlways => 0.9,
            Self::Usually => 0.7,
            Self::Often => 0.4,
            Self::Seldom => 0.1,
        })
    }

    /// As a chance.
    pub const fn chance(self) -> f64 {
        self.figure().value
    }
}

/// How common a fault is among cases that keepers open.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Rate {
    /// C
    Common,
    /// U
    Uncommon,
    /// R
    Rare,
}

impl Rate {
    /// Share before all faults are scaled to what an opened case holds.
    pub const fn share(self) -> f64 {
        match self {
            Self::Common => 0.036,
            Self::Uncommon => 0.012,
            Self::Rare => 0.0025,
        }
    }
}

/// Without this the fault cannot be.
#[derive(Debug)]
pub struct Need {
    /// Why it is out, as a sentence.
    pub else_out: &'static str,
    /// Whether the tank has it.
    pub met: fn(&Tank) -> bool,
}

/// An event that precedes a fault.
#[derive(Debug)]
pub struct Precedes {
    /// The event.
    pub event: &'static Finding,
    /// How reliably it does.
    pub strength: Strength,
    /// Within how many days three of four show.
    pub window_days: f64,
}

/// What a fault builds up from: the longer it is since this was done, the likelier it is there.
#[derive(Debug)]
pub struct BuildsUp {
    /// The event that undoes it.
    pub since: &'static Finding,
    /// Days after which it is there in 63 of 100 filters.
    pub days: f64,
}

/// A fault.
#[derive(Debug)]
pub struct Fault {
    /// Stable id.
    pub id: &'static str,
    /// In the keeper's words.
    pub title: &'static str,
    /// What happens, in one or two sentences.
    pub what: &'static str,
    /// How common it is.
    pub rate: Rate,
    /// What it takes, if anything.
    pub needs: Option<Need>,
    /// What it shows.
    pub signs: &'static [(&'static Finding, Strength)],
    /// Chance of each rung of distress by a way other than lack of oxygen, lowest rung first.
    pub distress: [f64; super::distress::RUNGS],
    /// What precedes it.
    pub events: &'static [Precedes],
    /// What it builds up from, if it does.
    pub builds_up: Option<BuildsUp>,
    /// Faults that it often brings about: told as one story with it.
    pub brings: &'static [&'static Fault],
    /// What, when seen, makes it ten times unlikelier beyond what its signs say.
    pub against: &'static [&'static Finding],
    /// What settles it; the settling finding is brought about by this fault and hardly anything
    /// else.
    pub settled_by: &'static [&'static Check],
    /// What settles it when looked at: findings with a look of their own.
    pub seen_by: &'static [&'static Finding],
    /// Puts the fault into the tank model.
    pub in_the_model: Option<fn(&Tank) -> Tank>,
    /// What it does to the oxygen has no upper end: `in_the_model` puts in what is usual.
    pub boundless: bool,
}

impl PartialEq for Fault {
    fn eq(&self, other: &Self) -> bool {
        self.id == other.id
    }
}

impl Fault {
    /// Neither needs nor signs nor anything else: what cards fill in.
    const BLANK: Self = Self {
        id: "",
        title: "",
        what: "",
        rate: Rate::Common,
        needs: None,
        signs: &[],
        distress: [0.0; super::distress::RUNGS],
        events: &[],
        builds_up: None,
        brings: &[],
        against: &[],
        settled_by: &[],
        seen_by: &[],
        in_the_model: None,
        boundless: false,
    };

    /// The tank with this fault in it.
    pub fn put_into(&self, tank: &Tank) -> Tank {
        self.in_the_model
            .map_or_else(|| tank.clone(), |alter| alter(tank))
    }

    /// A copy of this fault exists for each reading that was entered, so that one misread cannot
    /// excuse several.
    pub fn is_misread(&self) -> bool {
        self == &bystander::MISREAD_TEST
    }
}

/// Every fault.
pub fn all() -> impl Iterator<Item = &'static Fault> {
    [
        oxygen::ALL,
        filter::ALL,
        current::ALL,
        biology::ALL,
        water::ALL,
        bystander::ALL,
    ]
    .into_iter()
    .flatten()
    .copied()
}

/// The fault with this id.
pub fn by_id(id: &str) -> Option<&'static Fault> {
    all().find(|fault| fault.id == id)
}

#[cfg(test)]
mod tests {
    use std::collections::HashSet;

    use super::super::check::Gives;
    use super::super::{check, finding};
    use super::{Strength, all, by_id};

    #[test]
    fn every_card_is_whole_and_every_id_unique() {
        let mut ids = HashSet::new();
        for fault in all() {
            assert!(
                ids.insert(fault.id) && !fault.title.is_empty() && fault.what.ends_with('.'),
                "{}",
                fault.id
            );
            assert!(
                !fault.settled_by.is_empty() || !fault.seen_by.is_empty(),
                "{} is settled by no check",
                fault.id
            );
            assert!(
                fault.seen_by.iter().all(|finding| finding.look.is_some()),
                "{} is seen by what nobody looks at",
                fault.id
            );
            assert!(
                fault.distress.is_sorted_by(|lower, higher| lower >= higher),
                "{}: a higher rung is never likelier",
                fault.id
            );
            assert!(
                fault
                    .distress
                    .iter()
                    .all(|chance| (0.0..1.0).contains(chance)),
                "{}",
                fault.id
            );
            assert_eq!(by_id(fault.id), Some(fault));
        }
    }

    #[test]
    fn every_fault_but_a_misread_shows_something_or_changes_the_model() {
        for fault in all().filter(|fault| !fault.is_misread()) {
            assert!(
                !fault.signs.is_empty() || fault.in_the_model.is_some(),
                "{}",
                fault.id
            );
        }
    }

    #[test]
    fn every_finding_speaks_for_or_against_something() {
        for finding in
            finding::all().filter(|finding| !matches!(finding.kind, finding::Kind::Rung(_)))
        {
            let used = all().any(|fault| {
                fault.signs.iter().any(|(sign, _)| *sign == finding)
                    || fault.events.iter().any(|link| link.event == finding)
                    || fault
                        .builds_up
                        .as_ref()
                        .is_some_and(|builds| builds.since == finding)
                    || fault.against.contains(&finding)
            });
            assert!(used, "{} tells nothing", finding.id);
        }
    }

    #[test]
    fn strengths_lie_strictly_between_never_and_always_and_above_the_leak() {
        for fault in all() {
            for (sign, strength) in fault.signs {
                assert!(
                    strength.chance() > sign.leak && strength.chance() < 1.0,
                    "{} shows {}",
                    fault.id,
                    sign.id
                );
            }
        }
        assert!(Strength::NearlyAlways.chance() > Strength::Usually.chance());
    }

    #[test]
    fn a_settling_check_asks_for_something_its_fault_bears_on() {
        for fault in all().filter(|fault| !fault.is_misread()) {
            for check in fault.settled_by {
                assert!(
                    check::all().any(|listed| listed == *check),
                    "{} is not listed",
                    check.id
                );
                if let Gives::Answer(finding) = &check.gives {
                    let shown = fault.signs.iter().any(|(sign, _)| sign == finding)
                        || fault.events.iter().any(|link| &link.event == finding);
                    assert!(
                        shown,
                        "{} settles {} by a finding it does not show",
                        check.id, fault.id
                    );
                }
            }
            for finding in fault.seen_by {
                let shown = fault.signs.iter().any(|(sign, _)| sign == finding)
                    || fault.events.iter().any(|link| &link.event == finding);
                assert!(
                    shown,
                    "{} is seen by {}, which it does not show",
                    fault.id, finding.id
                );
            }
        }
    }
}
