//! Whether the water meets the media in the order that serves them.

use super::chemical::Species;
use super::{Filter, Medium, Stage};
use crate::tank::{Conditioner, Tank};

impl Filter {
    /// A medium that takes this species comes before the biological media.
    pub fn has_first(&self, species: Species) -> bool {
        self.has_before(
            |medium| medium.takes_species(species),
            |medium| medium.stage() == Stage::Biological,
        )
    }

    /// Some medium for which `first` holds comes before one for which `second` does.
    fn has_before(&self, first: impl Fn(Medium) -> bool, second: impl Fn(Medium) -> bool) -> bool {
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

    /// In some filter a fine stage comes before a coarse one. A sock is changed every few days,
    /// before it can choke what follows.
    pub fn has_fine_before_coarse(&self) -> bool {
        let is_fine = |medium: Medium| medium.stage() == Stage::Fine && medium != Medium::Sock;
        self.filters
            .iter()
            .any(|filter| filter.has_before(is_fine, |second| second.stage() == Stage::Coarse))
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
