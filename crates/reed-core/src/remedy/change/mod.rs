//! Corrective changes. One card each, in the file of its family.
//!
//! `in_the_model` turns the tank into the changed tank, `acts` says on what else it acts; what that
//! is worth is computed (`remedy::effect`). Money and
//! minutes are common practice, no source. To add a change: the card, and its line in its file's
//! list.

mod biology;
mod buys;
mod care;
mod current;
mod filter;
mod makes;
mod moved;
mod oxygen;
mod unseen;
mod water;

pub use buys::{Buy, Measure};
pub use moved::MOST_PLACES;

use jiff::civil::DateTime;

use crate::diagnosis::fault::Fault;
use crate::diagnosis::finding::{Finding, biology as sign, upkeep};
use crate::diagnosis::{Answer, Observed};
use crate::log::{Entry, Happening, When};
use crate::tank::thing::Kind;
use crate::tank::{Analyte, Moves, Purpose, Tank};
use crate::water::nitrogen::KIT_ZERO_MG_L;

/// One step, with what to mind while doing it.
#[derive(Debug)]
pub struct Step {
    /// What to do.
    pub text: &'static str,
    /// What to mind; empty when there is nothing.
    pub caution: &'static str,
    /// How long it takes by the clock, s, where a clock helps.
    pub seconds: Option<u32>,
}

impl Step {
    /// The same, with a clock of so many minutes beside it.
    pub(super) const fn lasting(self, minutes: u32) -> Self {
        Self {
            seconds: Some(60 * minutes),
            ..self
        }
    }
}

/// What a proof should show.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Wanted {
    /// Oxygen as forecast, and above the level to act on.
    OxygenAsForecast,
    /// Oxygen that is good without anything having been done for it.
    OxygenStaysGood,
    /// At most this much of it.
    AtMost(&'static Analyte, f64),
    /// At least this much more of it than was read last before the change.
    RisenBy(&'static Analyte, f64),
    /// The temperature the keeper means the tank to have, within 1.5 °C.
    IntendedTemperature,
    /// All filters together move again what they move clean, by bucket and watch.
    FlowBack,
    /// No reading: the sign is gone when looked for again.
    Gone(&'static Finding),
}

impl Wanted {
    /// What has to be read; `None` where looking is enough.
    pub const fn analyte(self) -> Option<&'static Analyte> {
        match self {
            Self::OxygenAsForecast | Self::OxygenStaysGood => Some(Analyte::OXYGEN),
            Self::AtMost(analyte, _) | Self::RisenBy(analyte, _) => Some(analyte),
            Self::IntendedTemperature => Some(Analyte::TEMPERATURE),
            Self::FlowBack => Some(Analyte::FLOW),
            Self::Gone(_) => None,
        }
    }

    /// Id as stored: of what is read, or of the sign.
    pub fn id(self) -> &'static str {
        match self {
            Self::Gone(sign) => sign.id,
            _ => self.analyte().map_or("", |analyte| analyte.id),
        }
    }
}

/// The reading or the look that shows whether the change worked.
#[derive(Debug)]
pub struct Proof {
    /// What it should show.
    pub wanted: Wanted,
    /// When, in words.
    pub when: &'static str,
    /// Not before so many hours.
    pub after_hours: f64,
}

/// On what a change acts beside the oxygen of the tank, so that the models that hold it say what it
/// does.
#[derive(Clone, Copy, Debug)]
pub enum Acts {
    /// On what `in_the_model` makes of the tank, or on the water by what it `logs`.
    InTheModel,
    /// On the tank, which it makes so.
    Makes(fn(&Tank) -> Tank),
    /// On the dirt in the filters: it is out.
    Cleans,
    /// On where things stand: to these places, of which the flow of the tank chooses; none where
    /// the tank has nothing to move.
    Moves(fn(&Tank) -> Vec<Moves>),
    /// On nothing that a model here holds, and why.
    Unseen(&'static str),
}

/// At which step of a recovery a change has its place, first to last. Common practice, no source.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Phase {
    /// To look or read once more, before anything is changed.
    Look,
    /// What keeps animals alive: oxygen, poison, temperature.
    Alive,
    /// Where and how strongly the water moves, and what lets air in.
    Flow,
    /// Cleaning, by parts.
    Clean,
    /// What filters hold.
    Media,
    /// Habits.
    Routine,
    /// Feeding, upward.
    Feed,
    /// What only looks better.
    Looks,
}

/// What a change takes from the colony in the filters by being made.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Disturbs {
    /// Nothing.
    Nothing,
    /// A filter is opened; what carries bacteria is spared.
    Filter,
    /// Part of what carries bacteria is rinsed or replaced.
    Colony,
}

/// What speaks against a change for now.
#[derive(Debug)]
pub struct Block {
    /// Whether it does.
    pub when: fn(&Observed) -> bool,
    /// Why, as a sentence.
    pub why: &'static str,
}

/// Raising pH or hardness makes ammonia poisonous.
const AMMONIA_THERE: Block = Block {
    when: |observed| {
        observed
            .latest(Analyte::AMMONIA)
            .is_some_and(|reading| reading.value > KIT_ZERO_MG_L + reading.spread)
    },
    why: "Ammonia was read: a higher pH would turn it into poison. Lower it first.",
};

/// More feed makes more of it.
const AMMONIA_FIRST: Block = Block {
    why: "Ammonia was read: more feed makes more of it. First it has to stay at zero.",
    ..AMMONIA_THERE
};

/// A large refill of a higher pH does the same.
const AMMONIA_THERE_AND_TAP_HIGHER: Block = Block {
    when: |observed| {
        let higher = observed
            .latest(Analyte::TAP_PH)
            .zip(observed.latest(Analyte::PH))
            .is_some_and(|(tap, tank)| tap.value > tank.value + 0.3);
        higher && (AMMONIA_THERE.when)(observed)
    },
    why: "Ammonia was read and the tap's pH is higher: a large refill would turn it into poison. Change small parts, or lower the ammonia first.",
};

/// Adsorbents take the medicine out.
const IN_TREATMENT: Block = Block {
    when: |observed| {
        /// Usual length of a course, days. From memory.
        const COURSE_DAYS: f64 = 10.0;
        observed.happened_within(&upkeep::MEDICATED, COURSE_DAYS)
    },
    why: "A medicine is in the water: this would take it out. Wait until the course is over.",
};

/// Hungry animals are not put on half of their feed.
const ANIMALS_THIN: Block = Block {
    when: |observed| {
        observed
            .answer(&sign::THIN_FISH)
            .is_some_and(|answered| answered.answer == Answer::Yes)
    },
    why: "Fish are thin: less feed would starve them. Lower the load another way.",
};

/// Before hands and a device go into the water.
const UNPLUG_FIRST: &str = "Unplug every pump and the heater before hands go in; a heater that may stand dry must cool for 15 minutes first.";

/// Plants for tanks are plants of fresh water.
fn is_fresh_water(tank: &Tank) -> Result<(), &'static str> {
    if tank.salinity.is_salt_water() {
        Err("In salt water these plants do not grow.")
    } else {
        Ok(())
    }
}

/// A corrective change.
#[derive(Debug)]
pub struct Change {
    /// Stable id.
    pub id: &'static str,
    /// In the keeper's words, as something to do.
    pub title: &'static str,
    /// What it does, in a sentence.
    pub what: &'static str,
    /// At which step of a recovery it has its place.
    pub phase: Phase,
    /// What it takes from the colony.
    pub disturbs: Disturbs,
    /// Faults whose cause it removes.
    pub cures: &'static [&'static Fault],
    /// Faults whose harm it lessens while their cause stays.
    pub eases: &'static [&'static Fault],
    /// It is the right thing when nothing is wrong.
    pub when_healthy: bool,
    /// What the tank must have; otherwise why it does not fit, as a sentence.
    pub fits: fn(&Tank) -> Result<(), &'static str>,
    /// Purposes for which it does harm, and why.
    pub blocked_in: &'static [(Purpose, &'static str)],
    /// When it must not be relied on, or would do harm, and why.
    pub not_while: &'static [Block],
    /// Makes the change to the tank; `None` if the twin cannot compute what it does yet.
    pub in_the_model: Option<fn(&Tank) -> Tank>,
    /// On what else it acts.
    pub acts: Acts,
    /// Ids of the kinds of things that are moved or turned, where that is all there is to do: such
    /// a change can be tried in the flow model.
    pub by_moving: &'static [Kind],
    /// As what it goes into the log once it is done: id of the kind, and the amount where the change
    /// has one. What it changes of the tank's description is no part of it.
    pub logs: Option<(&'static str, Option<f64>)>,
    /// Money, euros.
    pub euros: f64,
    /// Minutes of work.
    pub minutes: f64,
    /// What has to be bought for it.
    pub buys: &'static [Buy],
    /// Steps, in order.
    pub steps: &'static [Step],
    /// What to look at afterwards that it was not meant to touch.
    pub look_after: &'static str,
    /// How to prove it.
    pub proof: Proof,
    /// What to do if it did not work.
    pub if_not: &'static str,
}

impl PartialEq for Change {
    fn eq(&self, other: &Self) -> bool {
        self.id == other.id
    }
}

impl Change {
    /// What goes into the log once it is done.
    pub fn entry(&self, at: DateTime, note: String) -> Option<Entry> {
        let (id, amount) = self.logs?;
        let kind = Happening::by_id(id)?;
        Some(Entry {
            amount,
            note,
            ..Entry::of(kind, When::minute(at))
        })
    }

    /// What most cards share.
    const BLANK: Self = Self {
        id: "",
        title: "",
        what: "",
        phase: Phase::Routine,
        disturbs: Disturbs::Nothing,
        cures: &[],
        eases: &[],
        when_healthy: false,
        fits: |_| Ok(()),
        blocked_in: &[],
        not_while: &[],
        in_the_model: None,
        acts: Acts::InTheModel,
        by_moving: &[],
        logs: None,
        euros: 0.0,
        minutes: 0.0,
        buys: &[],
        steps: &[],
        look_after: "",
        proof: Proof {
            wanted: Wanted::OxygenAsForecast,
            when: "Next morning, just before the lights come on: that is when oxygen is lowest.",
            after_hours: 8.0,
        },
        if_not: "Keep the change, log the reading, and look at the suspects again: the new reading is evidence too.",
    };

    /// Whether it makes sense in this tank.
    ///
    /// # Errors
    /// Why it does not: the tank lacks what it works on, or its purpose forbids it.
    pub fn suits(&self, tank: &Tank) -> Result<(), &'static str> {
        match self
            .blocked_in
            .iter()
            .find(|(purpose, _)| *purpose == tank.purpose)
        {
            Some((_, why)) => Err(why),
            None => self.may_meet(tank).and_then(|()| (self.fits)(tank)),
        }
    }

    /// It removes the cause of a fault, or lessens its harm.
    pub fn is_for(&self, fault: &Fault) -> bool {
        self.cures.iter().chain(self.eases).any(|one| *one == fault)
    }

    /// Why it must not be relied on now, if so.
    pub fn blocked_by(&self, observed: &Observed) -> Option<&'static str> {
        self.not_while
            .iter()
            .find(|block| (block.when)(observed))
            .map(|block| block.why)
    }

    /// Whether any fault that it is for can be in this tank: a sock is changed only where there is
    /// a sump.
    fn may_meet(&self, tank: &Tank) -> Result<(), &'static str> {
        let mut lacking = None;
        for fault in self.cures.iter().chain(self.eases) {
            match &fault.needs {
                Some(need) if !(need.met)(tank) => lacking = lacking.or(Some(need.else_out)),
                _ => return Ok(()),
            }
        }
        lacking.map_or(Ok(()), Err)
    }

    /// It is done by moving or turning things of these kinds, and nothing else.
    pub fn is_done_by_moving(&self, kinds: &[Kind]) -> bool {
        !kinds.is_empty() && kinds.iter().all(|kind| self.by_moving.contains(kind))
    }

    /// The tank after the change. One that the twin cannot compute yet leaves it as it is.
    #[must_use]
    pub fn apply(&self, tank: &Tank) -> Tank {
        self.in_the_model
            .map_or_else(|| tank.clone(), |alter| alter(tank))
    }

    /// The tank after the change, as far as any model holds it.
    #[must_use]
    pub fn makes_of(&self, tank: &Tank) -> Tank {
        let after = self.apply(tank);
        match self.acts {
            Acts::Makes(makes) => makes(&after),
            Acts::InTheModel | Acts::Cleans | Acts::Moves(_) | Acts::Unseen(_) => after,
        }
    }
}

pub(super) const fn step(text: &'static str) -> Step {
    careful(text, "")
}

pub(super) const fn careful(text: &'static str, caution: &'static str) -> Step {
    Step {
        text,
        caution,
        seconds: None,
    }
}

/// Every change.
pub fn all() -> impl Iterator<Item = &'static Change> {
    [
        oxygen::ALL,
        filter::ALL,
        current::ALL,
        biology::ALL,
        water::ALL,
        care::ALL,
    ]
    .into_iter()
    .flatten()
    .copied()
}

/// The change with this id.
pub fn by_id(id: &str) -> Option<&'static Change> {
    all().find(|change| change.id == id)
}

#[cfg(test)]
mod tests {

    use super::{all, by_id};
    use crate::diagnosis::fault;

    #[test]
    fn every_fault_is_cured_by_some_change() {
        for fault in fault::all() {
            assert!(
                all().any(|change| change.cures.contains(&fault)),
                "{} has no cure",
                fault.id
            );
        }
    }

    #[test]
    fn every_card_is_whole() {
        for change in all() {
            assert_eq!(
                by_id(change.id),
                Some(change),
                "{} is listed twice",
                change.id
            );
            assert!(
                !change.title.is_empty() && change.what.ends_with('.') && !change.steps.is_empty(),
                "{}",
                change.id
            );
            assert!(
                !change.proof.when.is_empty()
                    && change.proof.after_hours >= 0.0
                    && change.if_not.ends_with('.'),
                "{}",
                change.id
            );
            assert!(
                change.minutes >= 0.0 && change.euros >= 0.0,
                "{}",
                change.id
            );
        }
    }
}
