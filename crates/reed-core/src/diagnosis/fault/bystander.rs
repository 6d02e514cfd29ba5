//! What shows the same signs while the oxygen is good, or only seems to be wrong.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::Strength::{NearlyAlways, Often, Usually};
use super::{Fault, Need, Precedes, Rate};
use crate::diagnosis::check::{looks, readings};
use crate::diagnosis::finding::{computed, events, fish, places};

/// Every fault of this file.
pub const ALL: &[&Fault] = &[
    &GILL_POISONING,
    &CO2_HIGH,
    &CHLORINE_EXPOSURE,
    &SURFACE_BY_NATURE,
    &NOT_THE_WATER,
    &MISREAD_TEST,
];

pub static GILL_POISONING: Fault = Fault {
    id: "gill-poisoning",
    title: "Ammonia or nitrite hurts the gills",
    what: "The water holds enough oxygen, but poisoned gills or blood cannot take it up.",
    rate: Rate::Common,
    signs: &[
        (&computed::TOXIC_NITROGEN, NearlyAlways),
        (&fish::IRRITATED, Usually),
        (&fish::PALE_LISTLESS, Often),
        (&fish::DEATHS_STEADY, Often),
    ],
    distress: [0.70, 0.50, 0.40, 0.08],
    settled_by: &[&readings::NITRITE, &readings::AMMONIA],
    ..Fault::BLANK
};

pub static CO2_HIGH: Fault = Fault {
    id: "co2-high",
    title: "Too much carbon dioxide",
    what: "Dosed for plants, or trapped under a still surface. Fish cannot get rid of their own, whatever the oxygen.",
    rate: Rate::Uncommon,
    signs: &[
        (&computed::CO2_DOSED, Usually),
        (&computed::CO2_COMPUTED, NearlyAlways),
        (&places::SAMPLE_PH_RISES, NearlyAlways),
        (&places::SURFACE_FLAT, Often),
    ],
    distress: [0.70, 0.50, 0.40, 0.05],
    settled_by: &[&looks::AERATE_SAMPLE],
    ..Fault::BLANK
};

pub static CHLORINE_EXPOSURE: Fault = Fault {
    id: "chlorine-exposure",
    title: "Chlorine from tap water",
    what: "Untreated tap water burns gills within the hour, and the filter's bacteria with them.",
    rate: Rate::Uncommon,
    signs: &[
        (&places::CHLORINE_STRIP_COLOURS, NearlyAlways),
        (&fish::IRRITATED, Usually),
        (&places::SUDDEN_ONSET, Usually),
    ],
    distress: [0.75, 0.70, 0.65, 0.08],
    events: &[
        Precedes {
            event: &events::WATER_CHANGED,
            strength: NearlyAlways,
            window_days: 1.0,
        },
        Precedes {
            event: &events::CONDITIONER_FORGOTTEN,
            strength: NearlyAlways,
            window_days: 1.0,
        },
    ],
    settled_by: &[&looks::CHLORINE_STRIP],
    ..Fault::BLANK
};

/// That is how they live.
pub static SURFACE_BY_NATURE: Fault = Fault {
    id: "surface-by-nature",
    title: "These animals live at the surface",
    what: "Labyrinth fish and many others breathe air or live at the top. Nothing is wrong with the water.",
    rate: Rate::Common,
    needs: Some(Need {
        else_out: "The tank file lists no animal that breathes air or lives at the top by nature.",
        met: crate::tank::Tank::has_air_breathers,
    }),
    signs: &[
        (&computed::SPECIES_BREATHES_AIR, NearlyAlways),
        (&fish::SIGNS_GONE_WHEN_WATCHED, Often),
    ],
    distress: [0.72, 0.70, 0.10, 0.01],
    against: &[&places::SUDDEN_ONSET],
    settled_by: &[&looks::WATCH_QUIETLY],
    ..Fault::BLANK
};

pub static NOT_THE_WATER: Fault = Fault {
    id: "not-the-water",
    title: "It is not the water",
    what: "Fish that are old, or were startled by a light or a chase, breathe fast for a while.",
    rate: Rate::Uncommon,
    signs: &[
        (&fish::STARTLED, Usually),
        (&fish::FISH_OLD, Often),
        (&fish::SIGNS_GONE_WHEN_WATCHED, NearlyAlways),
        (&fish::IRRITATED, Often),
        (&fish::DEATHS_STEADY, Often),
    ],
    distress: [0.50, 0.12, 0.04, 0.01],
    settled_by: &[&looks::WATCH_QUIETLY],
    ..Fault::BLANK
};

/// The reading is off. One copy per reading.
pub static MISREAD_TEST: Fault = Fault {
    id: "misread-test",
    title: "The reading is off",
    what: "Old reagents, poor light, a bubble in the vial. One odd reading is repeated before anything is done about it.",
    rate: Rate::Common,
    settled_by: &[&readings::REPEAT],
    ..Fault::BLANK
};
