//! What the tank file says and what is computed from readings and the twin; never asked.

use super::{Finding, Kind, Place};
use crate::numbers::Numbers;
use crate::tank::{Planting, Tank};

/// Every finding of this file.
pub const ALL: &[&Finding] = &[
    &PLANTS_DENSE,
    &SPECIES_BREATHES_AIR,
    &CO2_DOSED,
    &CO2_COMPUTED,
    &TOXIC_NITROGEN,
    &FILTER_PURGES_ITSELF,
    &TURNOVER_HIGH,
    &INTAKES_AT_BOTH_ENDS,
    &INTAKE_IN_FRONT,
];

const fn known(id: &'static str, says: &'static str, says_not: &'static str, leak: f64, kind: Kind) -> Finding {
    Finding { id, place: Place::Known, says, says_not, asks: "", leak, kind, look: None }
}

/// Dense planting.
pub static PLANTS_DENSE: Finding = known(
    "plants-dense",
    "The tank is densely planted",
    "The tank is not densely planted",
    0.15,
    Kind::Fact(|tank| tank.plants.planting >= Planting::Dense),
);
/// Labyrinth fish and the like.
pub static SPECIES_BREATHES_AIR: Finding = known(
    "species-breathes-air",
    "There are animals that breathe air or live at the top by nature",
    "No animal here breathes air by nature",
    0.15,
    Kind::Fact(crate::tank::Tank::has_air_breathers),
);
/// Carbon dioxide for plants.
pub static CO2_DOSED: Finding =
    known("co2-dosed", "Carbon dioxide is dosed", "No carbon dioxide is dosed", 0.15, Kind::Fact(|tank| tank.co2_dosed));
/// From pH and KH, against 30 mg/L.
pub static CO2_COMPUTED: Finding =
    known("co2-computed", "pH and KH mean much carbon dioxide", "pH and KH mean little carbon dioxide", 0.05, Kind::Computed);
/// Nitrite, or the un-ionised share of ammonia, above what gills stand: one quantity, one node.
pub static TOXIC_NITROGEN: Finding = known(
    "toxic-nitrogen",
    "Nitrite or un-ionised ammonia is at a harmful level",
    "Nitrite and un-ionised ammonia are harmless",
    0.02,
    Kind::Computed,
);
/// Some canisters do, on purpose.
pub static FILTER_PURGES_ITSELF: Finding = known(
    "filter-purges-itself",
    "A filter here purges itself every so many hours",
    "No filter here is known to purge itself",
    0.15,
    Kind::Fact(|tank| tank.filters.iter().any(|filter| filter.purges_every.is_some())),
);
/// More than ten times an hour, from memory.
pub static TURNOVER_HIGH: Finding = known(
    "turnover-high",
    "The filters pass the water more than ten times an hour",
    "The filters pass the water less than ten times an hour",
    0.15,
    Kind::Fact(|tank| Numbers::of(tank).turnover_per_h > 10.0),
);
/// From the drawing.
pub static INTAKES_AT_BOTH_ENDS: Finding = known(
    "intakes-at-both-ends",
    "Intakes sit at both ends of the tank",
    "The intakes sit at one end",
    0.15,
    Kind::Fact(Tank::has_intakes_at_both_ends),
);
/// From the drawing.
pub static INTAKE_IN_FRONT: Finding = known(
    "intake-in-front-of-background",
    "The intake sits in front of the background",
    "An intake sits behind the background",
    0.15,
    Kind::Fact(Tank::has_background_without_intake_behind),
);
