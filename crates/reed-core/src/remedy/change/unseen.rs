//! Why some changes have no number: what no model here holds, said once.
#![allow(missing_docs, reason = "each is a sentence")]

pub(super) const AIR: &str =
    "Not computed: how much air is in there is not known. The outlet shows it within hours.";
pub(super) const ANIMALS: &str =
    "Not computed: how animals take to it is in no model here. Watch them.";
pub(super) const BED: &str =
    "Not computed: what lies in a bed, and what it gives off, is in no model here.";
pub(super) const BY_THE_PACKET: &str =
    "Not computed: what a dose raises stands on its packet; the reading afterwards shows it.";
pub(super) const CLAIM: &str =
    "No effect is reckoned: it is a claim, and nothing that was published here bears it out.";
pub(super) const DAYS_AHEAD: &str =
    "Not computed here: ask “What if” with it on Water, where the days ahead are reckoned.";
pub(super) const DIRT_OF_A_CORNER: &str =
    "Not computed: how much dirt lies there is not known. It is gone when you see that it is.";
pub(super) const EVAPORATES: &str =
    "Not computed here: Filter’s Air and Levels say how many days evaporation leaves.";
pub(super) const GAS: &str =
    "Not computed here: Water’s Changes says how much gas a refill of what temperature brings.";
pub(super) const INTERVAL: &str =
    "Not computed here: Filter says when to open it next, and what that rests on.";
pub(super) const KINDS: &str =
    "Not computed for one kind before it is chosen: Filter lays them side by side for this tank.";
pub(super) const LOOSE: &str = "Not computed: how far it has got loose, worn or furred is not known. A bucket test before and after shows it.";
pub(super) const ON_DRIFT: &str =
    "Not computed on this page: the flow model does. Try it on Drift.";
pub(super) const PLANTS_OVER_WEEKS: &str = "Not computed: how much plants or a bed take after weeks differs from tank to tank by more than the model could tell.";
pub(super) const POISON: &str = "Not computed: how much of it is in the water is not known. The reading, or the animals, show it.";
pub(super) const SOCK: &str =
    "Not computed: the model knows no sock that stands open; dirt goes on to the next chamber.";
pub(super) const WATCHING: &str = "It changes nothing by itself: it shows more of what there is.";
