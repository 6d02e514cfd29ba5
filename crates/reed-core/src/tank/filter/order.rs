//! Whether the water meets the media in the order that serves them, and the order that does.
//! Common practice, no source.

use super::chemical::Species;
use super::{At, Filter, FilterKind, Medium, Portion, Stage, SumpRole};
use crate::tank::{Conditioner, Tank};
use crate::units::Volume;

/// Media may stand so far above what a tray holds before it is said that they are packed. A
/// judgement.
pub(in crate::tank) const PACKED_OVER: f64 = 1.05;

/// A pad that fills less than this share of its tray leaves a way beside it. A judgement.
const BYPASSED_BELOW: f64 = 0.25;

/// Less than this, in litres, is a crumb that nobody moves. A judgement.
const LEAST_LITRES: f64 = 0.01;

/// There is no such tray, chamber or medium.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct NoSuchPlace;

/// What is wrong with the media of a filter.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Wrong {
    /// A medium that takes one substance out stands before the media for bacteria.
    ChemicalFirst(Medium),
    /// A fine stage stands before a coarse one.
    FineFirst,
    /// Nothing holds the finest dirt.
    NoFine,
    /// A cartridge carries the colony, and is thrown away with it.
    CartridgeOnly,
    /// More media than the tray holds: this share of what it holds.
    Packed(f64),
    /// Media for bacteria reach above the running level.
    InAir,
    /// Fine media that do not fill the section they lie in: water goes past them.
    Bypassed,
}

/// Something wrong, and where.
#[derive(Clone, Debug, PartialEq)]
pub struct Misplaced {
    /// What.
    pub wrong: Wrong,
    /// At which stop, where it is one.
    pub at: Option<At>,
}

impl Wrong {
    /// Another order of the same media mends it.
    pub const fn is_mended_by_order(self) -> bool {
        matches!(self, Self::ChemicalFirst(_) | Self::FineFirst)
    }

    /// What is wrong, in the keeper's words.
    pub fn words(self) -> String {
        match self {
            Self::ChemicalFirst(medium) => {
                format!(
                    "{} comes before the media for bacteria",
                    capital(medium.words())
                )
            }
            Self::FineFirst => "A fine stage comes before a coarse one".to_owned(),
            Self::NoFine => "Nothing holds the finest dirt".to_owned(),
            Self::CartridgeOnly => "A cartridge is all there is".to_owned(),
            Self::Packed(share) => {
                format!("Packed to {:.0} % of what it holds", 100.0 * share)
            }
            Self::InAir => "Media reach above the running level".to_owned(),
            Self::Bypassed => "Fine media leave a part of the section open".to_owned(),
        }
    }

    /// Why it matters.
    pub const fn reason(self) -> &'static str {
        match self {
            Self::ChemicalFirst(medium) => match medium.takes() {
                Some(_) => {
                    "It takes what the bacteria live on, as long as it lasts, and hides that the colony starves. Put it last."
                }
                None => {
                    "Ahead of the others it only fouls early, and then does nothing. Put it last."
                }
            },
            Self::FineFirst => {
                "It catches everything, coarse dirt too, and is closed within days. Coarse first, then finer."
            }
            Self::NoFine => {
                "What is fine comes back to the tank, and clouds it, or settles between the media for bacteria."
            }
            Self::CartridgeOnly => {
                "It is thrown away every few weeks, and the colony on it. Cut a sponge to fit behind or instead of it."
            }
            Self::Packed(_) => {
                "Water finds little room between: less flow, more dirt held back at one spot, and gas drawn out of the water behind it. Take out what does not lie loosely."
            }
            Self::InAir => {
                "What stands above the water dries and dies. Lower it, or raise the running level."
            }
            Self::Bypassed => {
                "Water takes the open way past it. A pad lies flat over the whole section."
            }
        }
    }
}

fn capital(words: &str) -> String {
    let mut letters = words.chars();
    letters.next().map_or_else(String::new, |first| {
        first.to_uppercase().chain(letters).collect()
    })
}

/// Where a medium belongs along the way: a sock, which is changed every few days, is the first
/// catch though it is fine.
fn place_in_order(medium: Medium) -> (bool, Stage) {
    (medium != Medium::Sock, medium.stage())
}

impl Filter {
    /// A medium that takes this species comes before the biological media.
    pub fn has_first(&self, species: Species) -> bool {
        self.comes_before(
            |medium| medium.takes_species(species),
            |medium| medium.stage() == Stage::Biological,
        )
    }

    /// A fine stage comes before a coarse one. A sock is changed every few days, before it can choke
    /// what follows.
    pub fn has_fine_before_coarse(&self) -> bool {
        self.comes_before(
            |medium| medium.stage() == Stage::Fine && medium != Medium::Sock,
            |second| second.stage() == Stage::Coarse,
        )
    }

    /// Everything wrong with its media, along the way.
    pub fn misplaced(&self) -> Vec<Misplaced> {
        let mut found = Vec::new();
        let mut is_wrong = |wrong: Wrong, at: Option<At>| found.push(Misplaced { wrong, at });
        let path = self.path();
        let stages = || {
            path.iter()
                .flat_map(|stop| stop.media.iter().map(move |portion| (stop, portion.medium)))
        };
        let last = |stage: Stage| {
            let all: Vec<Stage> = stages().map(|(_, medium)| medium.stage()).collect();
            all.iter().rposition(|own| *own == stage)
        };
        for (index, (stop, medium)) in stages().enumerate() {
            if medium.stage() == Stage::Chemical && last(Stage::Biological) > Some(index) {
                is_wrong(Wrong::ChemicalFirst(medium), Some(stop.at));
            }
            if medium.stage() == Stage::Fine
                && medium != Medium::Sock
                && last(Stage::Coarse) > Some(index)
            {
                is_wrong(Wrong::FineFirst, Some(stop.at));
            }
        }
        for stop in &path {
            if let Some(fill) = stop.fill().filter(|fill| *fill > PACKED_OVER) {
                is_wrong(Wrong::Packed(fill), Some(stop.at));
            }
            let fine = stop
                .media
                .iter()
                .any(|portion| portion.medium.stage() == Stage::Fine);
            // A bed of grains may be shallow; a pad that is all there is leaves room beside it.
            if fine
                && stop.media.len() == 1
                && stop.fill().is_some_and(|fill| fill < BYPASSED_BELOW)
            {
                is_wrong(Wrong::Bypassed, Some(stop.at));
            }
        }
        let media: Vec<Medium> = stages().map(|(_, medium)| medium).collect();
        let has = |stage: Stage| media.iter().any(|medium| medium.stage() == stage);
        let wants_floss = self.kind.design().is_canister || self.kind == FilterKind::Sump;
        if wants_floss && !media.is_empty() && !has(Stage::Fine) {
            is_wrong(Wrong::NoFine, None);
        }
        if self.kind.design().takes_cartridge && media == [Medium::Floss] {
            is_wrong(Wrong::CartridgeOnly, None);
        }
        found.extend(self.in_air());
        found
    }

    /// Chambers whose media for bacteria reach above the running level.
    fn in_air(&self) -> impl Iterator<Item = Misplaced> {
        let path = self.path().into_iter();
        let stands = path.filter(|stop| matches!(stop.at, At::Chamber(_)));
        let reaches: Vec<At> = stands
            .filter(|stop| stop.fill().is_some_and(|fill| fill > 1.0))
            .filter(|stop| {
                stop.media
                    .iter()
                    .any(|portion| portion.medium.stage() == Stage::Biological)
            })
            .map(|stop| stop.at)
            .collect();
        reaches.into_iter().map(|at| Misplaced {
            wrong: Wrong::InAir,
            at: Some(at),
        })
    }

    /// The same media in the order that serves them: each tray and chamber takes no more than it
    /// held or holds, and what does not fit into one goes on into the next.
    #[must_use]
    pub fn in_order(&self) -> Self {
        let path = self.path();
        let rooms: Vec<(At, f64)> = path
            .iter()
            .filter(|stop| !self.is_kept_empty(stop.at))
            .map(|stop| {
                (
                    stop.at,
                    stop.litres().max(stop.holds.map_or(0.0, Volume::as_litres)),
                )
            })
            .collect();
        let mut media: Vec<Portion> = path
            .iter()
            .flat_map(|stop| stop.media.iter().cloned())
            .collect();
        media.sort_by_key(|portion| place_in_order(portion.medium));
        let mut ordered = self.clone();
        for stop in &path {
            ordered.media_at(stop.at).clear();
        }
        let mut waiting = media.into_iter();
        let mut next = waiting.next();
        for (index, (at, room)) in rooms.iter().enumerate() {
            let mut left = if index + 1 == rooms.len() {
                f64::INFINITY
            } else {
                *room
            };
            while let Some(portion) = next.take() {
                let litres = portion.litres.as_litres();
                if litres <= left + LEAST_LITRES {
                    left -= litres;
                    ordered.media_at(*at).push(portion);
                    next = waiting.next();
                    continue;
                }
                if left > LEAST_LITRES {
                    let here = Portion {
                        litres: Volume::litres(left),
                        ..portion.clone()
                    };
                    ordered.media_at(*at).push(here);
                    next = Some(Portion {
                        litres: Volume::litres(litres - left),
                        ..portion
                    });
                } else {
                    next = Some(portion);
                }
                break;
            }
        }
        ordered
    }

    /// The chamber of the return pump, and one for plants, stay without media that were not there.
    fn is_kept_empty(&self, at: At) -> bool {
        let (At::Chamber(index), Some(sump)) = (at, &self.sump) else {
            return false;
        };
        let chamber = sump.chambers.get(index);
        chamber.is_some_and(|chamber| {
            chamber.media.is_empty()
                && matches!(
                    chamber.role,
                    SumpRole::Return | SumpRole::Refugium | SumpRole::Settling
                )
        })
    }

    fn media_at(&mut self, at: At) -> &mut Vec<Portion> {
        match at {
            At::Tray(index) => &mut self.trays[index].media,
            At::Chamber(index) => {
                let sump = self.sump.as_mut().expect("the stop is of its sump");
                &mut sump.chambers[index].media
            }
        }
    }

    /// Moves a portion of medium from one stop to another, to this place among what is there.
    ///
    /// # Errors
    /// When there is no such stop or portion.
    pub fn move_medium(&mut self, from: (At, usize), to: (At, usize)) -> Result<(), NoSuchPlace> {
        let known = |filter: &Self, at: At| filter.path().iter().any(|stop| stop.at == at);
        if !known(self, from.0) || !known(self, to.0) || from.1 >= self.media_at(from.0).len() {
            return Err(NoSuchPlace);
        }
        let portion = self.media_at(from.0).remove(from.1);
        let there = self.media_at(to.0);
        there.insert(to.1.min(there.len()), portion);
        Ok(())
    }

    /// Some medium for which `first` holds comes before one for which `second` does.
    fn comes_before(
        &self,
        first: impl Fn(Medium) -> bool,
        second: impl Fn(Medium) -> bool,
    ) -> bool {
        self.media()
            .skip_while(|portion| !first(portion.medium))
            .any(|portion| second(portion.medium))
    }
}

impl Tank {
    /// In some filter a medium takes ammonia out before the biological media see it.
    pub fn takes_ammonia_before_its_colony(&self) -> bool {
        self.filters
            .iter()
            .any(|filter| filter.has_first(Species::Ammonia))
    }

    /// In some filter a fine stage comes before a coarse one.
    pub fn has_fine_before_coarse(&self) -> bool {
        self.filters.iter().any(Filter::has_fine_before_coarse)
    }

    /// A medium or the usual conditioner binds ammonia here: a zero of it says nothing about the
    /// colony.
    pub fn binds_ammonia(&self) -> bool {
        let medium = self
            .filters
            .iter()
            .flat_map(Filter::media)
            .any(|portion| portion.medium.takes_species(Species::Ammonia));
        medium || self.practice.conditioner == Conditioner::BindsAmmonia
    }
    /// A medium takes nitrate here.
    pub fn takes_nitrate(&self) -> bool {
        self.filters
            .iter()
            .flat_map(Filter::media)
            .any(|portion| portion.medium.takes_species(Species::Nitrate))
    }
}
