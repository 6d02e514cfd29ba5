//! Whether the water meets the media in the order that serves them.

use super::{Filter, Medium, Stage};
use crate::tank::{Conditioner, Tank};

impl Medium {
    /// It takes ammonia out of the water.
    pub const fn takes_ammonia(self) -> bool {
        matches!(self, Self::AmmoniaResin | Self::AdsorbentPad)
    }
}

impl Filter {
    /// Some medium for which `first` holds comes before one for which `second` does.
    fn has_before(&self, first: impl Fn(Medium) -> bool, second: impl Fn(Medium) -> bool) -> bool {
        self.media().skip_while(|portion| !first(portion.medium)).any(|portion| second(portion.medium))
    }
}

impl Tank {
    /// In some filter a medium takes ammonia out before the biological media see it.
    pub fn takes_ammonia_before_its_colony(&self) -> bool {
        let biological = |medium: Medium| medium.stage() == Stage::Biological;
        self.filters.iter().any(|filter| filter.has_before(Medium::takes_ammonia, biological))
    }

    /// In some filter a fine stage comes before a coarse one.
    pub fn has_fine_before_coarse(&self) -> bool {
        self.filters.iter().any(|filter| filter.has_before(|first| first.stage() == Stage::Fine, |second| second.stage() == Stage::Coarse))
    }

    /// A medium or the usual conditioner binds ammonia here: a zero of it says nothing about the colony.
    pub fn binds_ammonia(&self) -> bool {
        let medium = self.filters.iter().flat_map(Filter::media).any(|portion| portion.medium.takes_ammonia());
        medium || self.practice.conditioner == Conditioner::BindsAmmonia
    }
}
