//! Where a guess has come to on its way.

use super::setting::{Setting, grains};
use crate::tank::{Medium, PerSpecies, Species};
use crate::water::nitrogen::capture::Grains;
use crate::water::nitrogen::cycle::State;

/// Where a guess has come to.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Reached {
    pub(super) state: State,
    /// Times as much as usual is fed.
    pub(super) feed: f64,
    /// Media that take ammonia, and nitrate.
    pub(super) media: PerSpecies<Option<Grains>>,
}

impl Reached {
    /// A fresh medium that takes a species goes in, last in the path of all the flow.
    pub(super) fn put_in(
        &mut self,
        species: Species,
        medium: Medium,
        litres: f64,
        setting: &Setting,
    ) {
        self.media[species] = grains(medium, litres, setting.flow_l_per_h, setting.litres, false);
        self.state.taken[species] = 0.0;
    }
}
