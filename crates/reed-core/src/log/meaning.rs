//! What an entry means: to the diagnosis, to the water, to the tank file. From what is declared of
//! its kind, and from what it says beyond its amount.

use jiff::civil::DateTime;

use super::details::{How, WORST_GRADE};
use super::effect::Effect;
use super::entry::{Entry, On};
use crate::tank::{Portion, Tank};

/// A refill so many degrees below the tank is colder, common practice, no source; and one that
/// takes the whole tank down by so many is a jump, as the question about it says.
const COLDER_C: f64 = 2.0;
const JUMP_C: f64 = 3.0;

/// Letters of a note at most. A judgement.
pub const LONGEST_NOTE: usize = 4000;

impl Entry {
    /// Ids of the findings that it answers with yes, of this tank.
    pub fn tells(&self, tank: &Tank) -> Vec<&'static str> {
        let Some(kind) = self.kind() else {
            return Vec::new();
        };
        let enough = |at_least: f64| self.amount.is_none_or(|amount| amount >= at_least);
        let mut told: Vec<&'static str> = kind
            .tells
            .iter()
            .filter(|tells| enough(tells.at_least))
            .map(|tells| tells.finding)
            .collect();
        for cleaned in &self.details.cleaned {
            match cleaned.how {
                How::Tap => told.push("media-rinsed-under-tap"),
                How::Replaced => told.extend(["media-replaced", "filter-or-media-new"]),
                How::TankWater | How::Halves => {}
            }
        }
        if let Some(refill) = self.details.refill_c {
            let below = tank.temperature.as_celsius() - refill;
            let step = below * self.share_changed(tank).unwrap_or(0.0);
            told.extend((below >= COLDER_C).then_some("refill-colder"));
            told.extend((step.abs() >= JUMP_C).then_some("temperature-step"));
        }
        told.extend((self.details.conditioned == Some(false)).then_some("conditioner-forgotten"));
        told.sort_unstable();
        told.dedup();
        told
    }

    /// What it does to the water of this tank.
    pub fn effects(&self, tank: &Tank) -> Vec<Effect> {
        let Some(kind) = self.kind() else {
            return Vec::new();
        };
        let mut effects = Vec::new();
        if let Some(does) = kind.does {
            let amount = match kind.amount {
                Some(_) => self.amount_taken(tank),
                // What has no amount does the same each time.
                None => Some(0.0),
            };
            effects.extend(amount.map(does));
        }
        let shares = self.details.cleaned.iter().filter_map(|cleaned| {
            let share = self.share_of_tray(tank, cleaned.tray)?;
            match cleaned.how {
                How::Tap => Some(Effect::TapRinse(share)),
                How::Replaced => Some(Effect::NewMedia(share)),
                How::TankWater | How::Halves => None,
            }
        });
        effects.extend(shares);
        effects.extend((self.details.conditioned == Some(false)).then_some(Effect::Chlorine));
        effects
    }

    /// The tank as it is after this, where that differs from what its file says.
    pub fn makes(&self, tank: &Tank) -> Option<Tank> {
        self.kind()?.makes?(tank, self).filter(|after| after != tank)
    }

    /// Why it can do nothing in a tank, as a sentence; `None` where it can.
    pub fn idle_in(&self, tank: &Tank) -> Option<&'static str> {
        let media = tank
            .filters
            .iter()
            .any(|filter| filter.media().next().is_some());
        let idle = |effect: Effect| match effect {
            Effect::Animals(_) if tank.stock.iter().all(|group| group.count == 0) => Some(
                "No animals are entered in this tank, so it is not known what those would be fed. Enter them, or enter how much more is fed.",
            ),
            Effect::TapRinse(_) | Effect::NewMedia(_) if !media => {
                Some("No media are entered in this tank’s filters. Enter them first.")
            }
            Effect::AmmoniaMedium(_) | Effect::NitrateMedium(_) if tank.filters.is_empty() => {
                Some("This tank has no filter whose water could pass a medium. Enter one first.")
            }
            _ => None,
        };
        self.effects(tank).into_iter().find_map(idle)
    }

    /// Why it cannot be of this tank, the name of its field first; `None` where it can. What is
    /// longer than any note, or graded beyond the worst, is refused too.
    pub fn fault(&self, tank: &Tank) -> Option<String> {
        if self.when.to < self.when.from {
            return Some(format!(
                "from: {} is not accepted. It lies after the end, {}.",
                self.when.from, self.when.to
            ));
        }
        if self.note.chars().count() > LONGEST_NOTE {
            return Some(format!(
                "note: it has {} letters; at most {LONGEST_NOTE} are kept.",
                self.note.chars().count()
            ));
        }
        if let On::Filter(number) = &self.on
            && tank.filters.iter().all(|filter| filter.number != *number)
        {
            return Some(format!("on: this tank has no filter {number}."));
        }
        let grades = self.details.grades.iter();
        if let Some((layer, grade)) = grades.into_iter().find(|(_, grade)| **grade > WORST_GRADE) {
            return Some(format!(
                "details: {} is graded {grade}; the worst is {WORST_GRADE}.",
                layer.words()
            ));
        }
        let (measure, amount) = (self.kind()?.amount, self.amount?);
        match measure {
            Some(measure) if (measure.low..=measure.high).contains(&amount) => None,
            Some(measure) => Some(format!(
                "amount: {amount} is not accepted; give {} to {}{}.",
                measure.low,
                measure.high,
                measure.unit_after_a_number()
            )),
            None => Some("amount: a thing of this kind has none.".to_owned()),
        }
    }

    /// Whether it is dated to come, and is of a kind that nobody plans.
    pub fn is_yet_to_come(&self, now: DateTime) -> bool {
        self.when.from > now && self.kind().is_some_and(|kind| kind.never_planned)
    }

    /// The amount that models take it for.
    fn amount_taken(&self, tank: &Tank) -> Option<f64> {
        let usual = self.kind()?.amount?.usual;
        self.amount.or_else(|| {
            // Whoever does not say how much was changed changed what is changed by habit.
            if self.happening == "change" {
                Some(tank.practice.change_share.as_percent())
            } else {
                usual
            }
        })
    }

    fn share_changed(&self, tank: &Tank) -> Option<f64> {
        self.effects(tank)
            .into_iter()
            .find_map(|effect| match effect {
                Effect::Change(share) => Some(share),
                _ => None,
            })
    }

    /// The share of all surface in media that a tray of the filter it is about holds.
    fn share_of_tray(&self, tank: &Tank, tray: usize) -> Option<f64> {
        let filter = tank
            .filters
            .iter()
            .find(|filter| self.on.is_filter(tank, filter.number))?;
        let surface = |media: &[Portion]| media.iter().map(Portion::surface_m2).sum::<f64>();
        let all: f64 = tank
            .filters
            .iter()
            .flat_map(|filter| &filter.trays)
            .map(|tray| surface(&tray.media))
            .sum();
        let of_tray = surface(&filter.trays.get(tray.checked_sub(1)?)?.media);
        (all > 0.0 && of_tray > 0.0).then(|| of_tray / all)
    }
}
