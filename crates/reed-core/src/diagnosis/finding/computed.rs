//! What the tank file says and what is computed from readings and the twin; never asked.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::{Finding, Kind, Place};
use crate::statistics::normal_below;
use crate::tank::{Analyte, Planting, Tank};
use crate::twin::numbers::{self, Numbers};
use crate::units::masses::NITRATE_PER_NITROGEN;
use crate::water::oxygen::demand;

/// Every finding of this file.
pub const ALL: &[&Finding] = &[
    &PLANTS_DENSE,
    &SPECIES_BREATHES_AIR,
    &CO2_DOSED,
    &CO2_COMPUTED,
    &TOXIC_NITROGEN,
    &NITROGEN_MEASURABLE,
    &FILTER_PURGES_ITSELF,
    &TURNOVER_HIGH,
    &INTAKES_AT_BOTH_ENDS,
    &INTAKE_IN_FRONT,
    &BED_DEEP_FINE,
    &NO_PREFILTER,
    &MEDIA_ORDER_WRONG,
    &FINE_BEFORE_COARSE,
    &MASKED_BY_MEDIUM,
    &CAPACITY_SHORT,
    &NITRATE_PEAK_HIGH,
    &NITRATE_ABSENT,
    &FEED_BELOW_NEED,
];

const fn known(
    id: &'static str,
    says: &'static str,
    says_not: &'static str,
    leak: f64,
    kind: Kind,
) -> Finding {
    Finding {
        id,
        place: Place::Known,
        says,
        says_not,
        asks: "",
        leak,
        kind,
        look: None,
    }
}

/// What the media say, where any are listed.
fn listed_media(tank: &Tank, holds: bool) -> Option<bool> {
    tank.filters
        .iter()
        .any(|filter| filter.media().next().is_some())
        .then_some(holds)
}

/// What the places of the intakes say, where any are drawn.
fn drawn_intakes(tank: &Tank, holds: bool) -> Option<bool> {
    tank.intakes().next().is_some().then_some(holds)
}

/// What is reckoned from a keeper's figures may be off by a factor of two either way, as one
/// standard deviation. A judgement.
const RECKONED_LOG_SPREAD: f64 = 0.7;

/// How sure it is that a reckoned value lies below another, never quite.
fn sure_below(value: f64, limit: f64) -> f64 {
    normal_below((limit.max(1e-9) / value.max(1e-9)).ln() / RECKONED_LOG_SPREAD).clamp(0.02, 0.98)
}

pub static PLANTS_DENSE: Finding = known(
    "plants-dense",
    "The tank is densely planted",
    "The tank is not densely planted",
    0.15,
    Kind::Fact(|tank| Some(tank.plants.planting >= Planting::Dense)),
);
/// Labyrinth fish and the like.
pub static SPECIES_BREATHES_AIR: Finding = known(
    "species-breathes-air",
    "There are animals that breathe air or live at the top by nature",
    "No animal here breathes air by nature",
    0.15,
    Kind::Fact(|tank| Some(tank.has_air_breathers())),
);
pub static CO2_DOSED: Finding = known(
    "co2-dosed",
    "Carbon dioxide is dosed",
    "No carbon dioxide is dosed",
    0.15,
    Kind::Fact(|tank| Some(tank.co2_dosed)),
);
/// From pH and KH, against 30 mg/L.
pub static CO2_COMPUTED: Finding = known(
    "co2-computed",
    "pH and KH mean much carbon dioxide",
    "pH and KH mean little carbon dioxide",
    0.05,
    Kind::Computed,
);
/// Nitrite, or the un-ionised share of ammonia, above what gills stand: one quantity, one node.
pub static TOXIC_NITROGEN: Finding = known(
    "toxic-nitrogen",
    "Nitrite or un-ionised ammonia is at a harmful level",
    "Nitrite and un-ionised ammonia are harmless",
    0.01,
    Kind::Computed,
);
/// Any that a kit shows; whether it harms is [`TOXIC_NITROGEN`]. Two steps of one ladder: one
/// quantity, one node.
pub static NITROGEN_MEASURABLE: Finding = known(
    "nitrogen-measurable",
    "Ammonia or nitrite can be read",
    "Neither ammonia nor nitrite can be read",
    0.03,
    Kind::Computed,
);
/// Some canisters do, on purpose.
pub static FILTER_PURGES_ITSELF: Finding = known(
    "filter-purges-itself",
    "A filter here purges itself every so many hours",
    "No filter here is known to purge itself",
    0.15,
    Kind::Fact(|tank| {
        tank.filters
            .iter()
            .any(|filter| filter.purges_every.is_some())
            .then_some(true)
    }),
);
/// More than ten times an hour, from memory.
pub static TURNOVER_HIGH: Finding = known(
    "turnover-high",
    "The filters pass the water more than ten times an hour",
    "The filters pass the water less than ten times an hour",
    0.15,
    Kind::Fact(|tank| Some(Numbers::of(tank).turnover_per_h > 10.0)),
);
pub static INTAKES_AT_BOTH_ENDS: Finding = known(
    "intakes-at-both-ends",
    "Intakes sit at both ends of the tank",
    "The intakes sit at one end",
    0.15,
    Kind::Fact(|tank| drawn_intakes(tank, tank.has_intakes_at_both_ends())),
);
pub static INTAKE_IN_FRONT: Finding = known(
    "intake-in-front-of-background",
    "The intake sits in front of the background",
    "An intake sits behind the background",
    0.15,
    Kind::Fact(|tank| drawn_intakes(tank, tank.has_background_without_intake_behind())),
);
/// Deeper than oxygen reaches. 5 cm is common practice.
pub static BED_DEEP_FINE: Finding = known(
    "bed-deep-fine",
    "The bed is fine and deeper than 5 cm",
    "The bed is coarse or shallow",
    0.15,
    Kind::Fact(|tank| Some(tank.bed.depth.as_cm() >= 5.0 && tank.bed.grain.as_mm() <= 1.0)),
);
pub static NO_PREFILTER: Finding = known(
    "no-prefilter",
    "No intake has a sponge over it",
    "An intake has a sponge over it",
    0.15,
    Kind::Fact(|tank| drawn_intakes(tank, !tank.has_intake_sponge())),
);
/// Ammonia is taken before the colony meets it.
pub static MEDIA_ORDER_WRONG: Finding = known(
    "media-order-wrong",
    "A medium that takes ammonia comes before the biological media",
    "Nothing takes the ammonia before the biological media",
    0.05,
    Kind::Fact(|tank| listed_media(tank, tank.takes_ammonia_before_its_colony())),
);
/// Fine floss before coarse clogs in days.
pub static FINE_BEFORE_COARSE: Finding = known(
    "fine-before-coarse",
    "A fine stage comes before a coarse one",
    "Coarse comes before fine",
    0.05,
    Kind::Fact(|tank| listed_media(tank, tank.has_fine_before_coarse())),
);
/// A zero under it says nothing.
pub static MASKED_BY_MEDIUM: Finding = known(
    "masked-by-medium",
    "A medium or conditioner here binds ammonia",
    "Nothing here binds ammonia",
    0.15,
    Kind::Fact(|tank| {
        if tank.binds_ammonia() {
            Some(true)
        } else {
            listed_media(tank, false)
        }
    }),
);
/// The surfaces against the load; either may be off by half as much again.
pub static CAPACITY_SHORT: Finding = known(
    "capacity-short",
    "By the sum of its surfaces the tank carries fewer bacteria than its feed needs",
    "By the sum of its surfaces the tank carries bacteria enough",
    0.1,
    Kind::Estimated(|case| numbers::capacity_ratio(&case.tank).map(|ratio| sure_below(ratio, 1.0))),
);
/// What weekly changes leave, from the feed.
pub static NITRATE_PEAK_HIGH: Finding = known(
    "nitrate-peak-high",
    "By feed and water changes nitrate should peak above the usual limit",
    "By feed and water changes nitrate should stay below the usual limit",
    0.3,
    Kind::Estimated(|case| {
        let tap = case
            .observed
            .latest(Analyte::TAP_NITRATE)
            .map_or(0.0, |reading| reading.value * NITRATE_PER_NITROGEN);
        Some(sure_below(
            40.0,
            numbers::nitrate_peak_mg_l(&case.tank, tap),
        ))
    }),
);
/// What is fed for weeks ends as nitrate, unless plants or a medium take it before.
pub static NITRATE_ABSENT: Finding = known(
    "nitrate-absent",
    "Hardly any nitrate, though the tank has been fed for weeks",
    "Nitrate is there, as feeding for weeks should bring",
    0.02,
    Kind::Computed,
);
/// Half a percent of their mass a day keeps small fish alive, from memory.
pub static FEED_BELOW_NEED: Finding = known(
    "feed-below-need",
    "They get less than half a percent of their mass a day",
    "They get enough to eat",
    0.05,
    Kind::Estimated(|case| {
        let tank = &case.tank;
        let mass = tank.stock_mass().as_grams();
        (mass > 0.0).then(|| {
            sure_below(
                demand::dry_feed_g(tank.mean_feed(), tank.feed_protein) / mass,
                0.005,
            )
        })
    }),
);
