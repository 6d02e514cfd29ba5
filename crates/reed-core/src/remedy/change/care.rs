//! Changes of load, water and attention.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::buys::{Measure, buy, one};
use super::unseen::{ANIMALS, POISON, WATCHING};
use super::{ANIMALS_THIN, Acts, Change, Phase, Proof, Wanted, careful, step};
use crate::diagnosis::fault::{biology, bystander, current, filter, oxygen, water};
use crate::diagnosis::finding::places;
use crate::tank::{Analyte, Tank};
use crate::units::Mass;

/// Every change of this file.
pub(super) const ALL: &[&Change] = &[
    &REMOVE_WASTE,
    &FEED_LESS,
    &REHOME_STOCK,
    &WATER_CHANGE,
    &DECHLORINATE_NOW,
    &DAILY_TESTS,
    &REPEAT_TEST,
    &OBSERVE,
    &NONE_NEEDED,
    &FISH_VET,
];

pub(super) static REMOVE_WASTE: Change = Change {
    id: "remove-waste",
    title: "Take out what rots",
    what: "What is out of the water uses no oxygen in it.",
    phase: Phase::Alive,
    cures: &[&oxygen::OXYGEN_DEMAND_HIGH],
    eases: &[&biology::LOAD_JUMP],
    in_the_model: Some(|tank| Tank {
        rotting: Mass::default(),
        ..tank.clone()
    }),
    minutes: 20.0,
    steps: &[
        careful(
            "Count the animals and look for the one that is missing: behind rocks, in the intake, on the floor.",
            "Unplug heater and pumps before hands go in. Gloves, and no open cuts.",
        ),
        careful(
            "Siphon leftovers and heaps off the bed into a white bucket.",
            "Start the siphon by bulb or by filling the hose, never by mouth. Rotten-egg smell: stop, air the room.",
        ),
        step("Top up with conditioned water of the same temperature."),
    ],
    look_after: "Test ammonia daily for a week: what rotted has left some behind.",
    ..Change::BLANK
};

pub(super) static FEED_LESS: Change = Change {
    id: "feed-less",
    title: "Feed half for two weeks",
    what: "Less feed means less waste to rot and less ammonia for bacteria to burn with oxygen.",
    phase: Phase::Alive,
    cures: &[&biology::LOAD_JUMP, &biology::BACTERIAL_BLOOM],
    eases: &[
        &oxygen::OXYGEN_DEMAND_HIGH,
        &bystander::GILL_POISONING,
        &biology::TOO_LITTLE_BIOLOGY,
        &biology::NOT_CYCLED,
        &water::PHOSPHATE_ALGAE,
    ],
    not_while: &[ANIMALS_THIN],
    in_the_model: Some(|tank| Tank {
        feed: Mass::grams(tank.feed.as_grams() / 2.0),
        ..tank.clone()
    }),
    minutes: 2.0,
    steps: &[step(
        "Halve each portion, or skip every second day. What is not eaten in half a minute was too much.",
    )],
    look_after: "Look at bellies: neither hollow nor round.",
    ..Change::BLANK
};

pub(super) static REHOME_STOCK: Change = Change {
    id: "rehome-stock",
    title: "Find a home for a quarter of the stock",
    what: "Fewer animals breathe less and eat less.",
    phase: Phase::Alive,
    eases: &[&oxygen::OXYGEN_DEMAND_HIGH, &biology::TOO_LITTLE_BIOLOGY],
    fits: |tank| {
        if tank.stock.iter().any(|group| group.count > 1) {
            Ok(())
        } else {
            Err("There are no groups of animals to thin out.")
        }
    },
    in_the_model: Some(|tank| {
        let mut fewer = tank.clone();
        for group in &mut fewer.stock {
            group.count = (group.count * 3).div_ceil(4);
        }
        fewer.feed = Mass::grams(tank.feed.as_grams() * 0.75);
        fewer
    }),
    minutes: 120.0,
    steps: &[step(
        "Ask other keepers or a shop. Never release animals into nature.",
    )],
    ..Change::BLANK
};

pub(super) static WATER_CHANGE: Change = Change {
    id: "water-change",
    title: "Change a third of the water",
    what: "A third less of whatever poisons it, at once. The colony lives on surfaces, not in the water: it loses nothing.",
    phase: Phase::Alive,
    cures: &[&bystander::GILL_POISONING],
    eases: &[
        &bystander::CHLORINE_EXPOSURE,
        &biology::NOT_CYCLED,
        &biology::LOAD_JUMP,
        &biology::LOW_ALKALINITY,
        &water::NITRATE_BUILD_UP,
        &water::RESIDUAL_MEDICINE,
        &water::OVER_TREATMENT,
    ],
    euros: 1.0,
    minutes: 40.0,
    logs: Some(("change", Some(33.0))),
    steps: &[
        careful(
            "Heater and pumps off, then siphon a third out through the bed.",
            "A heater must cool for 15 minutes before it stands dry. Start the siphon by bulb, never by mouth.",
        ).lasting(15),
        careful(
            "Refill with conditioned water within 1 °C of the tank's.",
            "A refill with a higher pH turns ammonia poisonous: compare the pH first where ammonia was read.",
        ),
        step("Pumps on, then the heater."),
    ],
    proof: Proof {
        wanted: Wanted::AtMost(Analyte::NITRITE, 0.1),
        when: "In two hours, and daily for a week.",
        after_hours: 2.0,
    },
    if_not: "Change again, feed nothing for a day, and ask a fish vet about salt: it is a medicine.",
    ..Change::BLANK
};

pub(super) static DECHLORINATE_NOW: Change = Change {
    id: "dechlorinate-now",
    title: "Dose conditioner for the whole tank, now",
    what: "Conditioner binds chlorine within minutes. It must be dosed for all the water it has to treat.",
    phase: Phase::Alive,
    cures: &[&bystander::CHLORINE_EXPOSURE],
    euros: 3.0,
    minutes: 5.0,
    acts: Acts::Unseen(POISON),
    buys: &[buy("Plain conditioner", one, Measure::Pieces)],
    steps: &[
        careful(
            "Dose by the label for the full volume of the tank, spread along the stream.",
            "Read the label; gloves.",
        ),
        step("Break the surface: gills that are burnt need every bit of oxygen."),
        step("Dip a strip after ten minutes: it should stay white."),
    ],
    look_after: "The filter's bacteria may be hurt: test ammonia and nitrite daily for a week.",
    proof: Proof {
        wanted: Wanted::Gone(&places::CHLORINE_STRIP_COLOURS),
        when: "With another strip, after ten minutes. Then test ammonia daily for a week.",
        after_hours: 0.1,
    },
    ..Change::BLANK
};

pub(super) static DAILY_TESTS: Change = Change {
    id: "daily-tests",
    title: "Test ammonia and nitrite daily for a week",
    what: "A colony that was hurt shows it within days; you see it before the fish do.",
    phase: Phase::Alive,
    eases: &[
        &bystander::GILL_POISONING,
        &bystander::CHLORINE_EXPOSURE,
        &biology::COLONY_HURT_BY_CLEANING,
        &biology::COLONY_HURT_BY_MEDICINE,
        &biology::COLONY_STARVED,
        &biology::LOAD_JUMP,
    ],
    euros: 5.0,
    minutes: 70.0,
    acts: Acts::Unseen(WATCHING),
    buys: &[buy(
        "Drop kits for ammonia and nitrite",
        one,
        Measure::Pieces,
    )],
    steps: &[step(
        "Same hour, same light, logged here. Above the limits: change a third of the water that day.",
    )],
    proof: Proof {
        wanted: Wanted::AtMost(Analyte::NITRITE, 0.1),
        when: "Every day for a week.",
        after_hours: 20.0,
    },
    ..Change::BLANK
};

pub(super) static REPEAT_TEST: Change = Change {
    id: "repeat-test",
    title: "Repeat the reading before anything else",
    what: "One odd reading is no reason to change a tank.",
    phase: Phase::Look,
    cures: &[&bystander::MISREAD_TEST],
    euros: 0.5,
    minutes: 6.0,
    acts: Acts::Unseen(WATCHING),
    steps: &[step(
        "Clean vial, fresh sample, daylight, the vial against the white of the card; reagents within their date. Enter it as one more reading.",
    )],
    proof: Proof {
        wanted: Wanted::OxygenAsForecast,
        when: "Now.",
        after_hours: 0.0,
    },
    ..Change::BLANK
};

pub(super) static OBSERVE: Change = Change {
    id: "observe",
    title: "Watch for three days, change nothing",
    what: "Nothing in the water explains it; what passes by itself passes within days.",
    phase: Phase::Look,
    cures: &[&bystander::NOT_THE_WATER],
    eases: &[&water::TEMPERATURE_SHOCK],
    when_healthy: true,
    minutes: 15.0,
    acts: Acts::Unseen(WATCHING),
    steps: &[step(
        "Five quiet minutes a day at the same hour, lights on. Note gills, height in the water, appetite.",
    ).lasting(5)],
    proof: Proof {
        wanted: Wanted::OxygenStaysGood,
        when: "On the third morning, just before the lights come on.",
        after_hours: 48.0,
    },
    if_not: "Open the case again with what you saw, and ask a fish vet.",
    ..Change::BLANK
};

pub(super) static NONE_NEEDED: Change = Change {
    id: "none-needed",
    title: "Leave everything as it is",
    what: "Nothing is broken: these animals live like this, or this filter works like this. Changing a healthy tank only disturbs it.",
    phase: Phase::Look,
    cures: &[
        &bystander::SURFACE_BY_NATURE,
        &filter::SELF_PURGE,
        &current::BUBBLE_NEST_NORMAL,
    ],
    when_healthy: true,
    minutes: 1.0,
    acts: Acts::Unseen(WATCHING),
    steps: &[step(
        "Write into the log what you saw, so that a change from it will be noticed.",
    )],
    proof: Proof {
        wanted: Wanted::OxygenStaysGood,
        when: "On the third morning, just before the lights come on.",
        after_hours: 48.0,
    },
    ..Change::BLANK
};

pub(super) static FISH_VET: Change = Change {
    id: "fish-vet",
    title: "Ask a fish vet",
    what: "Gills and illness cannot be judged from water alone.",
    phase: Phase::Alive,
    eases: &[&bystander::NOT_THE_WATER, &bystander::GILL_POISONING],
    euros: 60.0,
    minutes: 60.0,
    acts: Acts::Unseen(ANIMALS),
    steps: &[careful(
        "Take the readings from here, a photo or a short film, and what was changed in the last month.",
        "No medicine on suspicion: most of them cost oxygen or the colony.",
    )],
    ..Change::BLANK
};
