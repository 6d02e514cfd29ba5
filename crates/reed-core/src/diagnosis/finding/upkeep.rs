//! What was done to filter and water, and how often such a thing is done in an ordinary tank.
//! Common practice, no source.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::{Finding, Kind, Place};
use crate::diagnosis::check::{Check, Gives};

/// An event with its question, asked of whoever looks after the tank.
macro_rules! happened {
    ($($(#[$doc:meta])* $name:ident = $id:literal, every $usual_days:literal; $says:literal, not $not:literal, asks $asks:literal;)+) => {
        /// Every finding of this file, in the order in which they are asked.
        pub const ALL: &[&Finding] = &[$(&$name),+];

        $($(#[$doc])*
        pub static $name: Finding = Finding {
            id: $id,
            place: Place::Event,
            says: $says,
            says_not: $not,
            asks: $asks,
            leak: 0.03,
            kind: Kind::Event { usual_days: $usual_days },
            look: Some(&Check {
                id: concat!("recall-", $id),
                title: $asks,
                how: "Ask everyone who touches the tank; look at its records.",
                minutes: 0.5,
                recalled: true,
                gives: Gives::Answer(&$name),
                ..Check::BLANK
            }),
        };)+
    };
}

happened! {
    FILTER_CLEANED = "filter-cleaned", every 60.0;
        "The filter had been cleaned", not "The filter had not been cleaned", asks "Has the filter been opened or cleaned?";
    /// New media hold air for days.
    FILTER_OR_MEDIA_NEW = "filter-or-media-new", every 365.0;
        "Filter or media are new", not "Neither filter nor media are new", asks "Is the filter new, or have new media gone in?";
    MEDIA_REPLACED = "media-replaced", every 180.0;
        "Media had been replaced", not "No media had been replaced", asks "Have media been replaced or added?";
    /// Cold water carries more gas.
    REFILL_COLDER = "refill-colder", every 30.0;
        "The refill was colder than the tank", not "The refill was as warm as the tank", asks "Did colder water go in at the last water change?";
    SECOND_FILTER_ADDED = "second-filter-added", every 730.0;
        "A second filter had been added", not "No filter had been added", asks "Has a second filter been added?";
    SOAP_NEAR_TANK = "soap-near-tank", every 730.0;
        "Soap or detergent had been used near the tank", not "No soap came near the tank", asks "Has soap, detergent or glass cleaner been used near the tank, or a bucket that held it?";
    /// It kills what lives in them.
    MEDIA_RINSED_UNDER_TAP = "media-rinsed-under-tap", every 120.0;
        "Media had been rinsed under the tap", not "No media were rinsed under the tap", asks "Have media been rinsed under the tap?";
    TANK_SET_UP = "tank-set-up", every 1095.0;
        "The tank had been set up anew", not "The tank is not new", asks "Has the tank been set up, or started anew?";
    /// The colony had no oxygen.
    PUMP_STOPPED = "pump-stopped", every 180.0;
        "A filter pump had stood still for hours", not "No filter pump stood still", asks "Has a filter stood still for more than an hour or two?";
    LOW_OXYGEN_EPISODE = "low-oxygen-episode", every 365.0;
        "Oxygen had been low", not "Oxygen had not been low", asks "Has oxygen been low for a night or more?";
    MEDICATED = "medicated", every 180.0;
        "The tank had been medicated", not "The tank was not medicated", asks "Has medicine been used in the tank?";
    /// It kills the colony too.
    ANTIBIOTIC_USED = "antibiotic-used", every 730.0;
        "An antibiotic had been used", not "No antibiotic was used", asks "Has an antibiotic been used in the tank?";
    COPPER_USED = "copper-used", every 36500.0;
        "Copper had been used", not "Copper was never used", asks "Has copper ever been used in this tank: a medicine, a snail killer, copper pipes?";
    CHEMICAL_MEDIA_ADDED = "chemical-media-added", every 180.0;
        "A chemical medium had gone in", not "No chemical medium went in", asks "Has resin, zeolite, carbon or an adsorbent pad gone into the filter?";
    /// It hides ammonia, from the kit or from the colony.
    BINDING_CONDITIONER_USED = "binding-conditioner-used", every 120.0;
        "A conditioner that binds ammonia had been used", not "No conditioner that binds ammonia was used", asks "Has a conditioner that also binds ammonia been used?";
    BACTERIA_DOSED = "bacteria-dosed", every 180.0;
        "A bacteria product had been dosed", not "No bacteria product was dosed", asks "Has a bacteria product been dosed?";
    FED_BY_STAND_IN = "fed-by-stand-in", every 180.0;
        "Someone else had fed the fish", not "Nobody else fed the fish", asks "Has somebody else fed the fish?";
    FOOD_CHANGED = "food-changed", every 120.0;
        "The food had been changed", not "The food is as before", asks "Has the food been changed?";
    TEMPERATURE_STEP = "temperature-step", every 180.0;
        "The temperature had jumped by 3 °C or more", not "The temperature did not jump", asks "Has the temperature jumped by 3 °C or more within hours, at a refill for example?";
    /// The motor cover was off.
    IMPELLER_SERVICED = "impeller-serviced", every 180.0;
        "The impeller had been taken out", not "The impeller had not been touched", asks "Has the impeller been taken out or the motor cover opened?";
}
