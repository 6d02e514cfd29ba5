//! The relations as a page prints them, made from the figures that they are computed with.

use super::demand::{
    BED_MG_PER_M2_H, CATALYST_MG_PER_DAY, NITROGEN_PER_PROTEIN, OXYGEN_PER_FEED,
    OXYGEN_PER_NITROGEN, OXYGEN_PER_ROTTING, RESPIRATION_ML_H, RESPIRATION_POWER, RESPIRATION_Q10,
    plant_respiration_share,
};
use super::exchange::{OXYGEN_IN_AIR_G_PER_L, SATURATION_20_C_MG_L, THETA};
use crate::tank::Planting;

/// By how much exchange grows with the temperature.
fn warmth() -> String {
    format!("{}^(T − 20)", THETA.value)
}

/// Through the surface.
pub fn surface() -> String {
    format!("kL · area · (saturation − level) · {}", warmth())
}

/// Out of air bubbles.
pub fn bubbles() -> String {
    format!(
        "uptake per metre · depth · air · {} g/L · (saturation − level)/{} · {}",
        OXYGEN_IN_AIR_G_PER_L.value,
        SATURATION_20_C_MG_L.value,
        warmth()
    )
}

/// With falling water.
pub fn fall() -> String {
    "flow · (1 − 1/r) · (saturation − level), r by Gameson's weir relation".to_owned()
}

/// What animals breathe, without their activity.
pub fn routine_respiration() -> String {
    format!(
        "{} · W^{} mL/h at 20 °C each, ×{} per 10 °C",
        RESPIRATION_ML_H.value, RESPIRATION_POWER.value, RESPIRATION_Q10.value
    )
}

/// What animals breathe.
pub fn respiration() -> String {
    format!("{}, × activity", routine_respiration())
}

/// Ammonia nitrogen that the feed sets free.
pub fn nitrogen_from_feed() -> String {
    format!("feed · protein · {}", NITROGEN_PER_PROTEIN.value)
}

/// What bacteria use that turn it into nitrate.
pub fn nitrification() -> String {
    format!("{} · {}", nitrogen_from_feed(), OXYGEN_PER_NITROGEN.value)
}

/// What droppings and leftovers use.
pub fn waste() -> String {
    format!(
        "{} g per g of dry feed; wet feed by its protein",
        OXYGEN_PER_FEED.value
    )
}

/// What rots whole.
pub fn rotting() -> String {
    format!("{} g per g of dry matter", OXYGEN_PER_ROTTING.value)
}

/// What plants breathe.
pub fn plants() -> String {
    let [usual, overgrown] = [Planting::Moderate, Planting::Overgrown]
        .map(|planting| plant_respiration_share(planting).value * 100.0);
    format!("{usual} % of the day's production (overgrown: {overgrown} %), over 24 h")
}

/// What the bed breathes.
pub fn bed() -> String {
    format!(
        "{} mg per m² and hour, half as much again where it is not siphoned",
        BED_MG_PER_M2_H.value
    )
}

/// What peroxide catalysts give.
pub fn catalysts() -> String {
    format!("{} mg per device and day", CATALYST_MG_PER_DAY.value)
}
