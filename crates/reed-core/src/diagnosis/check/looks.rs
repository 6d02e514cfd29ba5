//! Checks that need eyes, nose, memory or little more.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::{Check, Gives};
use crate::diagnosis::finding::{events, fish, places};

/// Every check of this file.
pub const ALL: &[&Check] = &[
    &AT_GILLS,
    &AT_HEIGHT,
    &AT_MOUTHS,
    &AT_LOSSES,
    &AT_COLOUR,
    &AT_SKIN,
    &AT_TEMPER,
    &AT_STEADY_LOSSES,
    &AT_STARTLE,
    &AT_AGE,
    &WATCH_QUIETLY,
    &ACROSS_SURFACE,
    &ALONG_SURFACE,
    &AT_OUTLET,
    &OUTLET_AGAINST_MARK,
    &AT_ONSET,
    &AT_BED,
    &SMELL,
    &SEARCH_FOR_WASTE,
    &AERATE_SAMPLE,
    &CHLORINE_STRIP,
    &AIR_RUNNING,
    &AT_MOVES,
    &AT_STOCKING,
    &AT_FEEDING,
    &AT_HEADS,
    &AT_CHANGES,
    &AT_CONDITIONER,
];

pub static AT_GILLS: Check = Check {
    id: "look-pumping-gills",
    title: "Watch the gills",
    how: "Pick three fish that only cruise and watch jaws and gill covers for half a minute each. Not while they feed or chase, and not right after lights-on.",
    minutes: 1.0,
    watch_seconds: Some(90),
    gives: Gives::Answer(&fish::PUMPING_GILLS),
    ..Check::BLANK
};

/// See where the fish stand.
pub static AT_HEIGHT: Check = Check {
    id: "look-keeps-to-top",
    title: "See where the fish stand",
    how: "Step back two paces. Note whether they use the whole height or hang in the top third or in the return's stream.",
    minutes: 0.25,
    gives: Gives::Answer(&fish::KEEPS_TO_TOP),
    ..Check::BLANK
};

pub static AT_MOUTHS: Check = Check {
    id: "look-gasping",
    title: "Look for gulping mouths",
    how: "Look along the surface from the side for mouths at the air.",
    minutes: 0.25,
    gives: Gives::Answer(&fish::GASPING),
    ..Check::BLANK
};

pub static AT_LOSSES: Check = Check {
    id: "look-deaths-overnight-largest-first",
    title: "Recall the losses",
    how: "Think back: who died, and was it found in the morning? Big and fast swimmers go first when oxygen runs out.",
    minutes: 0.5,
    recalled: true,
    gives: Gives::Answer(&fish::DEATHS_OVERNIGHT),
    ..Check::BLANK
};

pub static AT_COLOUR: Check = Check {
    id: "look-pale-listless",
    title: "Judge colour and appetite",
    how: "Compare their colour with a good day. Offer a pinch of food: do they come at once?",
    minutes: 1.0,
    gives: Gives::Answer(&fish::PALE_LISTLESS),
    ..Check::BLANK
};

/// Look for rubbing and clamped fins.
pub static AT_SKIN: Check = Check {
    id: "look-irritated",
    title: "Look for rubbing and clamped fins",
    how: "Watch for a minute: does anyone flash against a stone, or hold its fins tight?",
    caution: "Sick animals: ask a fish vet.",
    minutes: 1.0,
    watch_seconds: Some(60),
    gives: Gives::Answer(&fish::IRRITATED),
    ..Check::BLANK
};

pub static AT_TEMPER: Check = Check {
    id: "look-bullied",
    title: "Look for bullying",
    how: "Watch for a minute: is anyone chased or bitten more than before?",
    minutes: 1.0,
    watch_seconds: Some(60),
    gives: Gives::Answer(&fish::BULLIED),
    ..Check::BLANK
};

/// Count the losses of the last weeks.
pub static AT_STEADY_LOSSES: Check = Check {
    id: "look-deaths-steady",
    title: "Count the losses of the last weeks",
    how: "Think back over the last weeks: one fish after another, or none?",
    minutes: 0.5,
    recalled: true,
    gives: Gives::Answer(&fish::DEATHS_STEADY),
    ..Check::BLANK
};

/// Was it only a fright?
pub static AT_STARTLE: Check = Check {
    id: "look-startled-lights-just-on",
    title: "Was it only a fright?",
    how: "Think back: had the lights just come on, a door slammed, a hand moved in the water? Fish breathe fast for a while after.",
    minutes: 0.3,
    recalled: true,
    gives: Gives::Answer(&fish::STARTLED),
    ..Check::BLANK
};

pub static AT_AGE: Check = Check {
    id: "look-fish-old",
    title: "Think of their age",
    how: "How long have you had the fish concerned, and how long does the kind usually live?",
    minutes: 0.3,
    recalled: true,
    gives: Gives::Answer(&fish::FISH_OLD),
    ..Check::BLANK
};

pub static WATCH_QUIETLY: Check = Check {
    id: "watch-quietly",
    title: "Sit still and watch",
    how: "Lights on, room quiet. Sit a metre away for 20 minutes without moving. Note whether the signs are still there at the end.",
    caution: "Not while fish gulp: stir the surface first.",
    minutes: 20.0,
    watch_seconds: Some(1200),
    gives: Gives::Answer(&fish::SIGNS_GONE_WHEN_WATCHED),
    ..Check::BLANK
};

pub static ACROSS_SURFACE: Check = Check {
    id: "look-surface-flat",
    title: "Look across the surface",
    how: "Bring your eye to the level of the water and look across it at a lamp or window. A mirror shows an unbroken picture; a moving surface breaks it up.",
    minutes: 0.25,
    gives: Gives::Answer(&places::SURFACE_FLAT),
    ..Check::BLANK
};

pub static ALONG_SURFACE: Check = Check {
    id: "look-surface-film",
    title: "Look for a film",
    how: "Look along the surface against the light, or draw a paper towel across a hand's breadth of it: a film moves as one skin and leaves a greasy edge.",
    minutes: 0.25,
    gives: Gives::Answer(&places::SURFACE_FILM),
    ..Check::BLANK
};

pub static AT_OUTLET: Check = Check {
    id: "look-outlet-under-surface",
    title: "Look at the outlet",
    how: "See how deep the outlet blows and whether its stream reaches the surface anywhere.",
    minutes: 0.25,
    gives: Gives::Answer(&places::OUTLET_UNDER_SURFACE),
    ..Check::BLANK
};

/// Compare the outlet with its mark.
pub static OUTLET_AGAINST_MARK: Check = Check {
    id: "compare-outlet",
    title: "Compare the outlet with its mark",
    how: "Hold an old photo, or the lime line on the pipe, against the outlet as it sits now. Feel whether the clip still holds.",
    caution: "Dry hands at plugs and switches.",
    minutes: 2.0,
    gives: Gives::Answer(&places::OUTLET_OFF_ITS_MARK),
    ..Check::BLANK
};

pub static AT_ONSET: Check = Check {
    id: "look-sudden-onset",
    title: "Recall when it began",
    how: "Think back: were they well yesterday, or did it creep in over days?",
    minutes: 0.3,
    recalled: true,
    gives: Gives::Answer(&places::SUDDEN_ONSET),
    ..Check::BLANK
};

pub static AT_BED: Check = Check {
    id: "look-muck-everywhere",
    title: "Look at the bed",
    how: "Look over the whole bed from the front and from above.",
    minutes: 0.25,
    gives: Gives::Answer(&places::MUCK_EVERYWHERE),
    ..Check::BLANK
};

pub static SMELL: Check = Check {
    id: "look-smell-musty",
    title: "Smell the water",
    how: "Fill a glass, hold it away from the tank and smell it.",
    caution: "A smell of rotten eggs: stop, air the room, touch nothing in the bed.",
    minutes: 0.5,
    gives: Gives::Answer(&places::SMELL_MUSTY),
    ..Check::BLANK
};

pub static SEARCH_FOR_WASTE: Check = Check {
    id: "look-waste-or-carcass",
    title: "Search for something rotting",
    how: "Count the animals. Look behind the filter and under rocks and roots, lifting what can be lifted without falling. Look at the intake.",
    caution: "Unplug heater and pumps before hands go in.",
    minutes: 10.0,
    gives: Gives::Answer(&places::WASTE_FOUND),
    ..Check::BLANK
};

/// Bubble a sample and read its pH twice.
pub static AERATE_SAMPLE: Check = Check {
    id: "aerate-sample-ph",
    title: "Bubble a sample and read its pH twice",
    how: "Read the pH of a glass of tank water. Bubble it for an hour with room air, then read again: a rise of 1 means ten times as much carbon dioxide as room air would leave, 1.5 about thirty.",
    minutes: 10.0,
    euros: 1.0,
    watch_seconds: Some(3600),
    gives: Gives::Answer(&places::SAMPLE_PH_RISES),
    ..Check::BLANK
};

pub static CHLORINE_STRIP: Check = Check {
    id: "chlorine-strip",
    title: "Dip a chlorine strip",
    how: "Dip a strip in tank water and one in tap water and compare both with the card at once.",
    minutes: 2.0,
    euros: 1.0,
    gives: Gives::Answer(&places::CHLORINE_STRIP_COLOURS),
    ..Check::BLANK
};

/// See that air and falls are running.
pub static AIR_RUNNING: Check = Check {
    id: "look-air-source-stopped",
    title: "See that air and falls are running",
    how: "Look at every stone, sponge, lip and overflow: does each bubble or fall as on a good day? Listen to the air pump; follow its tube for kinks.",
    caution: "Unplug an air pump before opening it.",
    minutes: 1.0,
    gives: Gives::Answer(&events::AIR_SOURCE_STOPPED),
    ..Check::BLANK
};

pub static AT_MOVES: Check = Check {
    id: "look-equipment-moved",
    title: "Was something moved?",
    how: "Think back a week: was the filter opened, the outlet wiped, the hood lifted, the tank knocked?",
    minutes: 0.5,
    recalled: true,
    gives: Gives::Answer(&events::EQUIPMENT_MOVED),
    ..Check::BLANK
};

pub static AT_STOCKING: Check = Check {
    id: "look-stock-added",
    title: "Were animals added?",
    how: "Think back two weeks: new animals, or a brood?",
    minutes: 0.5,
    recalled: true,
    gives: Gives::Answer(&events::STOCK_ADDED),
    ..Check::BLANK
};

pub static AT_FEEDING: Check = Check {
    id: "look-feeding-raised",
    title: "Was more fed?",
    how: "Think back two weeks, and ask whoever else feeds.",
    minutes: 0.5,
    recalled: true,
    gives: Gives::Answer(&events::FEEDING_RAISED),
    ..Check::BLANK
};

pub static AT_HEADS: Check = Check {
    id: "look-animal-missing",
    title: "Count heads",
    how: "Count at feeding time, when all come out. Look on the floor around the tank too.",
    minutes: 3.0,
    gives: Gives::Answer(&events::ANIMAL_MISSING),
    ..Check::BLANK
};

pub static AT_CHANGES: Check = Check {
    id: "look-water-changed",
    title: "When was water changed?",
    how: "Think back, or look at the log: how much, and when?",
    minutes: 0.5,
    recalled: true,
    gives: Gives::Answer(&events::WATER_CHANGED),
    ..Check::BLANK
};

pub static AT_CONDITIONER: Check = Check {
    id: "look-conditioner-forgotten",
    title: "Was the refill conditioned?",
    how: "Think back: was conditioner dosed before or with the refill, for all the water it had to treat?",
    caution: "If not: dose it now, for the whole tank.",
    minutes: 0.5,
    recalled: true,
    gives: Gives::Answer(&events::CONDITIONER_FORGOTTEN),
    ..Check::BLANK
};
