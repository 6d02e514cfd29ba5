//! Checks that give a reading.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::{Check, Gives};
use crate::tank::Analyte;

/// Every check of this file.
pub const ALL: &[&Check] = &[
    &OXYGEN,
    &TEMPERATURE,
    &AMMONIA,
    &NITRITE,
    &PH,
    &KH,
    &NITRATE,
    &FLOW,
    &GH,
    &PHOSPHATE,
    &COPPER,
    &TAP_AMMONIA,
    &TAP_NITRATE,
    &TAP_PH,
    &REPEAT,
];

pub static OXYGEN: Check = Check {
    id: "read-oxygen-dusk-dawn",
    title: "Read the oxygen",
    how: "Best just before the lights come on, when it is lowest, and once more at dusk. A reading now still tells much: the hour is taken into account.",
    caution: "Gloves and goggles with the reagents.",
    minutes: 6.0,
    euros: 0.5,
    gives: Gives::Reading(Analyte::OXYGEN),
    ..Check::BLANK
};
pub static TEMPERATURE: Check = Check {
    id: "second-thermometer",
    title: "Read the temperature with a second thermometer",
    how: "Hold a thermometer you trust in open water for a minute, away from the heater. Compare with the one on the pane.",
    caution: "A heater that stays hot to the touch in warm water is stuck: unplug it, let it cool, then take it out.",
    minutes: 1.0,
    watch_seconds: Some(60),
    gives: Gives::Reading(Analyte::TEMPERATURE),
    ..Check::BLANK
};
pub static AMMONIA: Check = Check {
    id: "read-ammonia",
    title: "Test ammonia",
    how: "Test tank water in daylight, vial against the white of the card. Enter it as nitrogen: a card in NH4 shows 1.29 times as much.",
    caution: "Gloves and goggles with the reagents.",
    minutes: 8.0,
    euros: 0.5,
    gives: Gives::Reading(Analyte::AMMONIA),
    ..Check::BLANK
};
pub static NITRITE: Check = Check {
    id: "read-nitrite",
    title: "Test nitrite",
    how: "Test tank water in daylight, vial against the white of the card. Any repeatable reading above zero is a fault.",
    caution: "Gloves and goggles with the reagents.",
    minutes: 6.0,
    euros: 0.5,
    gives: Gives::Reading(Analyte::NITRITE),
    ..Check::BLANK
};
pub static PH: Check = Check {
    id: "read-ph",
    title: "Test the pH",
    how: "Test tank water in daylight. With the carbonate hardness it tells the carbon dioxide, with the ammonia how poisonous that is.",
    minutes: 3.0,
    euros: 0.3,
    gives: Gives::Reading(Analyte::PH),
    ..Check::BLANK
};
pub static KH: Check = Check {
    id: "read-kh",
    title: "Test the carbonate hardness",
    how: "Count drops until the colour turns; swirl after each.",
    minutes: 3.0,
    euros: 0.3,
    gives: Gives::Reading(Analyte::KH),
    ..Check::BLANK
};
/// By eye a loss of a quarter goes unnoticed.
pub static FLOW: Check = Check {
    id: "flow-test",
    title: "Measure the flow",
    how: "Bucket and watch, three times, at the outlet's usual height. By eye a loss of a quarter goes unnoticed.",
    caution: "Keep the level above the heater meanwhile, or switch it off and let it cool.",
    minutes: 8.0,
    gives: Gives::Reading(Analyte::FLOW),
    ..Check::BLANK
};
pub static NITRATE: Check = Check {
    id: "read-nitrate",
    title: "Test nitrate",
    how: "Shake reagents and vial as long as the leaflet says, or it reads too low. Best just before a water change, when it is highest.",
    caution: "Gloves and goggles with the reagents.",
    minutes: 8.0,
    euros: 0.5,
    gives: Gives::Reading(Analyte::NITRATE),
    ..Check::BLANK
};
pub static GH: Check = Check {
    id: "read-gh",
    title: "Test the general hardness",
    how: "Count drops until the colour turns; swirl after each. The tap water too, where refills are softened.",
    minutes: 3.0,
    euros: 0.3,
    gives: Gives::Reading(Analyte::GH),
    ..Check::BLANK
};
pub static PHOSPHATE: Check = Check {
    id: "read-phosphate",
    title: "Test phosphate",
    how: "Rinse the vial with tank water, never with dish soap: soaps hold phosphate. Look down on the white of the card.",
    caution: "Gloves and goggles with the reagents.",
    minutes: 8.0,
    euros: 0.6,
    gives: Gives::Reading(Analyte::PHOSPHATE),
    ..Check::BLANK
};
pub static COPPER: Check = Check {
    id: "read-copper",
    title: "Test copper",
    how: "Test tank water in daylight; any repeatable reading above zero is too much for shrimp and snails.",
    caution: "Gloves and goggles with the reagents.",
    minutes: 8.0,
    euros: 0.8,
    gives: Gives::Reading(Analyte::COPPER),
    ..Check::BLANK
};
/// What comes in with the refill.
pub static TAP_AMMONIA: Check = Check {
    id: "read-tap-ammonia",
    title: "Test the tap water for ammonia",
    how: "The same kit with fresh tap water, conditioned as for a refill.",
    caution: "Gloves and goggles with the reagents.",
    minutes: 8.0,
    euros: 0.5,
    gives: Gives::Reading(Analyte::TAP_AMMONIA),
    ..Check::BLANK
};
/// What comes in with the refill.
pub static TAP_NITRATE: Check = Check {
    id: "read-tap-nitrate",
    title: "Test the tap water for nitrate",
    how: "The same kit with tap water. The waterworks publishes it too.",
    caution: "Gloves and goggles with the reagents.",
    minutes: 8.0,
    euros: 0.5,
    gives: Gives::Reading(Analyte::TAP_NITRATE),
    ..Check::BLANK
};
pub static TAP_PH: Check = Check {
    id: "read-tap-ph",
    title: "Test the pH of the tap water",
    how: "Let a glass of it stand for a night first: fresh from the tap it holds carbon dioxide of its own.",
    minutes: 4.0,
    euros: 0.3,
    gives: Gives::Reading(Analyte::TAP_PH),
    ..Check::BLANK
};
pub static REPEAT: Check = Check {
    id: "repeat-test",
    title: "Repeat the reading",
    how: "Clean vial, fresh sample, daylight, the vial against the white of the card. With another kit or a second pair of eyes if there is one.",
    minutes: 6.0,
    euros: 0.5,
    gives: Gives::Repeat,
    ..Check::BLANK
};
