//! Media that take one substance out of the water: what they hold, and when they have had their
//! time.

use std::ops::{Index, IndexMut};

use super::Medium;
use crate::figure::Figure;

/// Nitrogen in the water that media can take.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Species {
    /// Ammonia and ammonium.
    Ammonia,
    /// Nitrate.
    Nitrate,
}

impl Species {
    /// Both of them.
    pub const ALL: [Self; 2] = [Self::Ammonia, Self::Nitrate];
}

/// Something for each species.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct PerSpecies<T> {
    /// For ammonia.
    pub ammonia: T,
    /// For nitrate.
    pub nitrate: T,
}

impl<T> PerSpecies<T> {
    /// What this makes of each species.
    pub fn of(mut make: impl FnMut(Species) -> T) -> Self {
        Self {
            ammonia: make(Species::Ammonia),
            nitrate: make(Species::Nitrate),
        }
    }

    /// Both, ammonia first.
    pub fn both(self) -> [T; 2] {
        [self.ammonia, self.nitrate]
    }
}

impl<T> Index<Species> for PerSpecies<T> {
    type Output = T;

    fn index(&self, species: Species) -> &T {
        match species {
            Species::Ammonia => &self.ammonia,
            Species::Nitrate => &self.nitrate,
        }
    }
}

impl<T> IndexMut<Species> for PerSpecies<T> {
    fn index_mut(&mut self, species: Species) -> &mut T {
        match species {
            Species::Ammonia => &mut self.ammonia,
            Species::Nitrate => &mut self.nitrate,
        }
    }
}

/// What a medium takes of one species.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Takes {
    /// Of which.
    pub species: Species,
    /// What a litre of it holds in fresh water when it is full, g N. In salt water far less.
    pub holds_g_per_l: Figure,
    /// Contact in which a fresh one takes two thirds of it, s.
    pub contact_s: Figure,
}

impl Medium {
    /// What it takes of nitrogen, if any.
    pub const fn takes(self) -> Option<Takes> {
        let (species, holds, contact) = match self {
            Self::AmmoniaResin => (Species::Ammonia, 1.2, 10.0),
            Self::AdsorbentPad => (Species::Ammonia, 0.3, 10.0),
            Self::NitrateResin => (Species::Nitrate, 4.0, 10.0),
            Self::FoamCoarse
            | Self::FoamMedium
            | Self::FoamFine
            | Self::Floss
            | Self::Sock
            | Self::CeramicRings
            | Self::Sintered
            | Self::PlasticBalls
            | Self::Carrier
            | Self::Lava
            | Self::Gravel
            | Self::LiveRock
            | Self::Carbon
            | Self::PhosphateRemover => return None,
        };
        Some(Takes {
            species,
            holds_g_per_l: Figure::from_memory(holds),
            contact_s: Figure::from_memory(contact),
        })
    }

    /// It takes this species out of the water.
    pub fn takes_species(self, species: Species) -> bool {
        self.takes().is_some_and(|takes| takes.species == species)
    }

    /// Days after which it comes out, whatever it still takes; `None` for what is no chemical
    /// medium.
    pub const fn comes_out_after_days(self) -> Option<Figure> {
        match self {
            // It may give back what it took.
            Self::Carbon => Some(Figure::common_practice(60.0)),
            Self::AmmoniaResin
            | Self::NitrateResin
            | Self::PhosphateRemover
            | Self::AdsorbentPad => Some(Figure::from_memory(30.0)),
            Self::FoamCoarse
            | Self::FoamMedium
            | Self::FoamFine
            | Self::Floss
            | Self::Sock
            | Self::CeramicRings
            | Self::Sintered
            | Self::PlasticBalls
            | Self::Carrier
            | Self::Lava
            | Self::Gravel
            | Self::LiveRock => None,
        }
    }
}
