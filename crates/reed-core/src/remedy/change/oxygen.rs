//! Changes that bring oxygen in, or keep it.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::buys::{Measure, air_hose_m, buy, catalysts, one, plants, stones};
use super::{Block, Change, Phase, Proof, UNPLUG_FIRST, Wanted, careful, is_fresh_water, step};
use crate::diagnosis::Answer;
use crate::diagnosis::fault::{bystander, oxygen};
use crate::diagnosis::finding::fish;
use crate::tank::thing::Kind;
use crate::tank::{Analyte, Bubbles, Planting, Purpose, Running, Surface, Tank};
use crate::units::Length;

/// Every change of this file.
pub(super) const ALL: &[&Change] = &[
    &RAISE_OR_AIM_OUTLET,
    &ADD_SURFACE_POWERHEAD,
    &TILT_WAVE_MAKER_UP,
    &ADD_AIR_STONE,
    &CLEAN_AIR_STONE,
    &FIX_AIR_STONES,
    &RESTORE_AIR,
    &NIGHT_AERATION,
    &BREAK_FILM,
    &ADD_SPONGE_FILTER,
    &ADD_PEROXIDE_CATALYST,
    &REDUCE_CO2,
    &ADD_PLANTS,
    &THIN_PLANTS,
    &FIX_HEATER_OR_ROOM,
    &LOWER_TEMPERATURE_SLOWLY,
];

const LOOK_AT_MUCK: &str =
    "Look at the bed again after two days: a stream turned up no longer sweeps it.";
const DRIP_LOOP: &str = "Leads hang in a drip loop below the socket; use a residual-current device. Damaged lead: stop.";

fn has_air(tank: &Tank) -> Result<(), &'static str> {
    if tank.air_sources().next().is_none() {
        Err("There is no air stone or sponge filter in the tank.")
    } else {
        Ok(())
    }
}

fn is_warm(tank: &Tank) -> Result<(), &'static str> {
    match tank.temperature_now {
        Some(now) if now.as_celsius() > tank.temperature.as_celsius() + 0.5 => Ok(()),
        _ => Err("The water is not known to be warmer than intended."),
    }
}

/// Air runs again as it was meant to.
fn running_again(tank: &Tank) -> Tank {
    let mut running = tank.clone();
    running.set_running(|now| {
        if now == Running::Stopped {
            Running::Always
        } else {
            now
        }
    });
    running
}

/// The first thing to try.
pub(super) static RAISE_OR_AIM_OUTLET: Change = Change {
    id: "raise-or-aim-outlet",
    title: "Raise the outlet, or aim it up, until the surface dances",
    what: "The stream you already have breaks the surface, and a broken surface lets in several times as much oxygen as a still one.",
    phase: Phase::Alive,
    cures: &[&oxygen::STILL_SURFACE, &oxygen::OUTLET_SLIPPED],
    eases: &[
        &oxygen::TOO_WARM,
        &oxygen::OXYGEN_DEMAND_HIGH,
        &bystander::CO2_HIGH,
    ],
    in_the_model: Some(Tank::with_outlets_raised),
    by_moving: &[Kind::Outlet, Kind::InternalFilter],
    minutes: 5.0,
    steps: &[
        careful(
            "Dry your hands; see that water level and lid leave the outlet in reach.",
            "Unplug before hands go in near pumps and heaters. A heater that will stand dry: off, and cooled for 15 minutes.",
        ).lasting(15),
        step("Raise the outlet until it sits at the surface, or turn it some 20° upwards."),
        step(
            "Switch on. Look across the surface: no part of it may be a mirror, and nothing may splash over the rim.",
        ),
        step(
            "Tighten the clip. Mark the height on the pipe or take a photo, so that a slip can be seen next time.",
        ),
    ],
    look_after: LOOK_AT_MUCK,
    ..Change::BLANK
};

/// A pump of its own.
pub(super) static ADD_SURFACE_POWERHEAD: Change = Change {
    id: "add-surface-powerhead",
    title: "Hang a small powerhead under the surface",
    what: "A pump of its own keeps the surface broken, whatever the filter does.",
    phase: Phase::Alive,
    cures: &[&oxygen::STILL_SURFACE],
    eases: &[&oxygen::SURFACE_FILM, &oxygen::OUTLET_SLIPPED],
    in_the_model: Some(Tank::with_surface_powerhead),
    euros: 30.0,
    minutes: 20.0,
    buys: &[buy("Powerhead for the surface", one, Measure::Pieces)],
    steps: &[
        careful(
            "Fix it a hand's breadth under the surface, tilted slightly up, along the longest free stretch.",
            UNPLUG_FIRST,
        ),
        careful(
            "Plug in and look across the surface; turn it down if fish are pushed about.",
            DRIP_LOOP,
        ),
    ],
    look_after: "Watch long-finned and slow fish for a day: they need a quiet corner.",
    ..Change::BLANK
};

pub(super) static TILT_WAVE_MAKER_UP: Change = Change {
    id: "tilt-wave-maker-up",
    title: "Tilt the wave maker up",
    what: "The pump that moves the water moves the surface too once it points slightly up.",
    phase: Phase::Alive,
    cures: &[&oxygen::STILL_SURFACE],
    eases: &[&oxygen::AERATION_STOPPED],
    fits: |tank| {
        if tank.has_wave_maker() {
            Ok(())
        } else {
            Err("There is no powerhead or wave maker in the tank.")
        }
    },
    in_the_model: Some(Tank::with_powerheads_up),
    by_moving: &[Kind::Powerhead],
    minutes: 3.0,
    steps: &[
        careful(
            "Unplug it, tilt it some 10° upwards, plug in.",
            "Unplug before hands get wet.",
        ),
        step("Look across the surface: no part of it may be a mirror."),
    ],
    look_after: LOOK_AT_MUCK,
    ..Change::BLANK
};

pub(super) static ADD_AIR_STONE: Change = Change {
    id: "add-air-stone",
    title: "Add an air stone",
    what: "Bubbles give up some oxygen on their way, and the plume keeps a patch of surface broken.",
    phase: Phase::Alive,
    eases: &[
        &oxygen::STILL_SURFACE,
        &oxygen::OXYGEN_DEMAND_HIGH,
        &oxygen::AERATION_STOPPED,
        &oxygen::TOO_WARM,
        &bystander::CO2_HIGH,
        &bystander::CHLORINE_EXPOSURE,
    ],
    in_the_model: Some(|tank| tank.with_air_stone("Air stone", 150.0, Running::Always)),
    euros: 25.0,
    minutes: 15.0,
    buys: &[
        buy("Air stone", one, Measure::Pieces),
        buy("Air pump", one, Measure::Pieces),
        buy("Air hose", air_hose_m, Measure::Metres),
    ],
    steps: &[
        careful(
            "Set the stone near the bed, away from every filter intake: an intake takes bubbles in.",
            UNPLUG_FIRST,
        ),
        careful(
            "Hang the pump above the water level, or fit a check valve in the tube.",
            "Below the water level and without a valve, the tank siphons onto the floor through the pump when the power fails.",
        ),
        careful("Switch on: a plume should break the surface.", DRIP_LOOP),
    ],
    look_after: "Listen to the filter: if it gulps, the stone is too near its intake.",
    ..Change::BLANK
};

pub(super) static CLEAN_AIR_STONE: Change = Change {
    id: "clean-air-stone",
    title: "Clean the air stone",
    what: "A stone that is furred up lets little air through. A clean one gives fine bubbles again.",
    phase: Phase::Alive,
    eases: &[&oxygen::AERATION_STOPPED],
    fits: has_air,
    in_the_model: Some(|tank| {
        let mut clean = running_again(tank);
        for thing in &mut clean.things {
            if let Some(bubbles) = thing.what.form_mut().bubbles_mut() {
                *bubbles = Bubbles::Fine;
            }
        }
        clean
    }),
    euros: 3.0,
    minutes: 20.0,
    buys: &[buy("Air stone", stones, Measure::Pieces)],
    steps: &[
        careful(
            "Switch the pump off, take the stone out, brush it under the tap.",
            "Unplug first. Lift the tube above the water level before you pull it off the pump.",
        ),
        step(
            "Let it dry, or boil it for ten minutes. If air still comes only here and there, fit a new stone.",
        ).lasting(10),
        step("Back in, switch on, look for an even plume."),
    ],
    ..Change::BLANK
};

pub(super) static FIX_AIR_STONES: Change = Change {
    id: "fix-air-stones",
    title: "Fasten the air stones near the bed again",
    what: "A stone that floated up gives its bubbles no way to travel. At the bed each bubble takes part for longer.",
    phase: Phase::Alive,
    eases: &[&oxygen::AERATION_STOPPED],
    fits: has_air,
    in_the_model: Some(|tank| {
        let mut fixed = running_again(tank);
        for thing in &mut fixed.things {
            if thing.what.form_mut().bubbles_mut().is_some() {
                thing.z = Length::cm(tank.stone_height());
            }
        }
        fixed
    }),
    euros: 2.0,
    minutes: 10.0,
    buys: &[buy("Suction cups for air stones", stones, Measure::Pieces)],
    steps: &[
        careful(
            "Switch the pump off. Press the stone's sucker onto a clean patch of glass near the bed, or tie the tube to a rock.",
            "Unplug before hands go in.",
        ),
        step("Switch on, look for an even plume."),
    ],
    ..Change::BLANK
};

pub(super) static RESTORE_AIR: Change = Change {
    id: "restore-air",
    title: "Get what has stopped running again",
    what: "Air pump, falling water or wave maker do again what they did before.",
    phase: Phase::Alive,
    cures: &[&oxygen::AERATION_STOPPED],
    fits: |tank| {
        if tank.air_sources().next().is_none()
            && tank.falls().next().is_none()
            && !tank.has_wave_maker()
        {
            Err("There is no air source, falling water or wave maker in the tank.")
        } else {
            Ok(())
        }
    },
    in_the_model: Some(|tank| {
        let mut restored = running_again(tank);
        if restored.has_wave_maker() {
            restored.surface = restored.surface.max(Surface::Rippled);
        }
        restored
    }),
    euros: 8.0,
    minutes: 15.0,
    buys: &[buy("Diaphragm for the air pump", one, Measure::Pieces)],
    steps: &[
        careful(
            "See that it has power; follow lead, tube and valve for a kink, a closed tap, a loose end.",
            "Unplug before opening anything. Damaged lead: stop.",
        ),
        step(
            "Pull the tube off the air pump: no breath of air means a torn diaphragm (a few euros, or a new pump).",
        ),
        step("For falling water: clear the intake, top up so that it reaches the lip."),
        step("Switch on and look: bubbles or falling water as on a good day."),
    ],
    ..Change::BLANK
};

pub(super) static NIGHT_AERATION: Change = Change {
    id: "night-aeration",
    title: "Run air while the lights are off",
    what: "Air at night carries the tank over the hours in which plants take oxygen instead of giving it.",
    phase: Phase::Alive,
    cures: &[&oxygen::NIGHT_PLANT_DEMAND],
    fits: |tank| {
        if tank.plants.planting == Planting::None {
            Err("There are no plants.")
        } else {
            Ok(())
        }
    },
    in_the_model: Some(|tank| {
        if tank.air_sources().next().is_none() {
            tank.with_air_stone("Air stone, by night", 150.0, Running::Night)
        } else {
            running_again(tank)
        }
    }),
    euros: 30.0,
    minutes: 20.0,
    buys: &[
        buy("Air stone", one, Measure::Pieces),
        buy("Air pump", one, Measure::Pieces),
        buy("Timer", one, Measure::Pieces),
    ],
    steps: &[
        step(
            "Set an air stone near the bed, away from the intake; pump above the water level or with a check valve.",
        ),
        careful(
            "Put the pump on a timer: on when the lights go off, off when they come on.",
            DRIP_LOOP,
        ),
    ],
    look_after: "With dosed carbon dioxide: see that it is off at night too.",
    ..Change::BLANK
};

pub(super) static BREAK_FILM: Change = Change {
    id: "break-film",
    title: "Take the film off and keep the surface moving",
    what: "Without the skin, gas passes again; a moving surface keeps a new one from forming.",
    phase: Phase::Alive,
    cures: &[&oxygen::SURFACE_FILM],
    in_the_model: Some(|tank| Tank {
        surface: tank.surface.max(Surface::Rippled),
        ..tank.clone()
    }),
    euros: 1.0,
    minutes: 10.0,
    steps: &[
        careful(
            "Filter off. Lay plain paper towels flat on the surface and draw them across; take a fresh one until no greasy edge is left.",
            "Plain paper only: scent and soap are poison.",
        ),
        step("Filter on; turn the outlet up until the surface ripples all over."),
        step("Feed less oily food for a week."),
    ],
    look_after: LOOK_AT_MUCK,
    ..Change::BLANK
};

/// Filter and air at once.
pub(super) static ADD_SPONGE_FILTER: Change = Change {
    id: "add-sponge-filter",
    title: "Add an air-driven sponge filter",
    what: "Its bubbles work like an air stone's, and the sponge becomes a second home for the filter's bacteria.",
    phase: Phase::Alive,
    eases: &[&oxygen::STILL_SURFACE, &oxygen::OXYGEN_DEMAND_HIGH],
    in_the_model: Some(|tank| tank.with_sponge_filter(100.0)),
    euros: 30.0,
    minutes: 20.0,
    buys: &[
        buy("Sponge filter", one, Measure::Pieces),
        buy("Air pump", one, Measure::Pieces),
        buy("Air hose", air_hose_m, Measure::Metres),
    ],
    steps: &[
        careful(
            "Rinse the sponge in tank water, set it where its plume is free.",
            UNPLUG_FIRST,
        ),
        careful(
            "Connect the air; pump above the water level or with a check valve.",
            DRIP_LOOP,
        ),
    ],
    look_after: "A new sponge grows its bacteria over weeks: leave the old filter as it is.",
    ..Change::BLANK
};

pub(super) static ADD_PEROXIDE_CATALYST: Change = Change {
    id: "add-peroxide-catalyst",
    title: "Add a peroxide catalyst",
    what: "Peroxide breaks down into water and oxygen on a catalyst. A standing help for small tanks that takes days.",
    phase: Phase::Media,
    eases: &[&oxygen::OXYGEN_DEMAND_HIGH],
    blocked_in: &[
        (
            Purpose::Treatment,
            "Peroxide is a medicine itself: never on top of another one.",
        ),
        (Purpose::Transport, "It takes days to work."),
    ],
    not_while: &[Block {
        when: |observed| {
            observed
                .answer(&fish::GASPING)
                .is_some_and(|answered| answered.answer == Answer::Yes)
        },
        why: "It takes days to work: never an answer to gulping fish.",
    }],
    in_the_model: Some(|tank| {
        let mut helped = tank.clone();
        let by_volume = (tank.net_volume().as_litres() / 30.0)
            .ceil()
            .clamp(1.0, 4.0);
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "1 to 4 by the line above"
        )]
        let added = by_volume as u32;
        helped.peroxide_catalysts = (tank.peroxide_catalysts + added).min(20);
        helped
    }),
    euros: 20.0,
    minutes: 10.0,
    buys: &[buy("Peroxide device", catalysts, Measure::Pieces)],
    steps: &[
        careful(
            "Fill the container as its label says, with about 1 cm of air left; one catalyst for each 30 L.",
            "Peroxide: gloves and goggles, never mixed with anything.",
        ),
        step("Set it in; note the date and refill as the label says: a running cost."),
    ],
    proof: Proof {
        wanted: Wanted::OxygenAsForecast,
        when: "On the third day, just before the lights come on.",
        after_hours: 60.0,
    },
    if_not: "Break the surface instead: that works at once and costs nothing.",
    ..Change::BLANK
};

pub(super) static REDUCE_CO2: Change = Change {
    id: "reduce-co2",
    title: "Turn the carbon dioxide down",
    what: "Fish give their own carbon dioxide off again.",
    phase: Phase::Alive,
    cures: &[&bystander::CO2_HIGH],
    fits: |tank| {
        if tank.co2_dosed {
            Ok(())
        } else {
            Err("No carbon dioxide is dosed.")
        }
    },
    in_the_model: Some(|tank| Tank {
        co2_dosed: false,
        ..tank.clone()
    }),
    minutes: 5.0,
    steps: &[
        careful(
            "Close the valve of the cylinder now, by hand, and break the surface.",
            "The cylinder is under high pressure: no tools on it, keep it upright, air the room; a valve that does not close is the dealer's to mend.",
        ),
        step(
            "From tomorrow dose half, from an hour after lights-on, and stop an hour before lights-off.",
        ),
    ],
    look_after: "Watch the pH: it rises as the gas leaves; keep the rise slow where ammonia was read.",
    proof: Proof {
        wanted: Wanted::RisenBy(Analyte::PH, 0.3),
        when: "Two hours later: as the gas leaves, the pH rises by 0.3 or more. Read it before you start, too.",
        after_hours: 2.0,
    },
    ..Change::BLANK
};

pub(super) static ADD_PLANTS: Change = Change {
    id: "add-plants",
    title: "Add plants",
    what: "Plants give oxygen in the light and take some back in the dark: the night shows whether that pays.",
    phase: Phase::Routine,
    blocked_in: &[
        (
            Purpose::Quarantine,
            "A quarantine tank stays bare: it must be seen through and disinfected.",
        ),
        (
            Purpose::Treatment,
            "Medicines kill plants, and rotting plants use oxygen.",
        ),
        (
            Purpose::Transport,
            "There is neither light nor time for plants.",
        ),
    ],
    fits: |tank| {
        if tank.plants.planting >= Planting::Dense {
            Err("The tank is densely planted already.")
        } else {
            is_fresh_water(tank)
        }
    },
    in_the_model: Some(|tank| {
        let mut planted = tank.clone();
        planted.plants.planting = tank.plants.planting.denser();
        planted
    }),
    euros: 25.0,
    minutes: 60.0,
    buys: &[buy("Plants that grow fast", plants, Measure::Pieces)],
    steps: &[step(
        "Plant from the back to the front; float what does not root. Rinse new plants and look them over for snails.",
    )],
    proof: Proof {
        wanted: Wanted::OxygenAsForecast,
        when: "After two weeks, just before the lights come on.",
        after_hours: 336.0,
    },
    ..Change::BLANK
};

pub(super) static THIN_PLANTS: Change = Change {
    id: "thin-plants",
    title: "Thin the plants",
    what: "Fewer plants take less oxygen at night and leave the stream a way to the surface.",
    phase: Phase::Routine,
    cures: &[&oxygen::NIGHT_PLANT_DEMAND],
    fits: |tank| {
        if tank.plants.planting.thinned() == tank.plants.planting {
            Err("There is little to thin.")
        } else {
            Ok(())
        }
    },
    in_the_model: Some(|tank| {
        let mut thinned = tank.clone();
        thinned.plants.planting = tank.plants.planting.thinned();
        thinned
    }),
    minutes: 40.0,
    logs: Some(("plants-cut", None)),
    steps: &[
        step(
            "Take out a third, first what floats and what rots; cut stems rather than pulling roots.",
        ),
        step("Net out every cut leaf. Never release plants into nature."),
    ],
    ..Change::BLANK
};

/// The cause of the heat.
pub(super) static FIX_HEATER_OR_ROOM: Change = Change {
    id: "fix-heater-or-room",
    title: "Stop what heats the water",
    what: "With the stuck heater unplugged, the lid open and the room cooler, the water finds its way back by itself.",
    phase: Phase::Alive,
    cures: &[&oxygen::TOO_WARM],
    fits: is_warm,
    in_the_model: Some(|tank| Tank {
        temperature_now: None,
        ..tank.clone()
    }),
    euros: 25.0,
    minutes: 15.0,
    buys: &[buy("Heater with thermostat", one, Measure::Pieces)],
    steps: &[
        careful(
            "Unplug the heater. Warm water and a heater still hot after half an hour: it is stuck, replace it.",
            "Let it cool for 15 minutes before it leaves the water, or it cracks.",
        ).lasting(15),
        step("Open the lid, shade the tank, switch lamps off, let air pass over the surface."),
        step("Break the surface meanwhile: warm water needs it most."),
    ],
    proof: Proof {
        wanted: Wanted::IntendedTemperature,
        when: "Tomorrow at this hour.",
        after_hours: 12.0,
    },
    ..Change::BLANK
};

pub(super) static LOWER_TEMPERATURE_SLOWLY: Change = Change {
    id: "lower-temperature-slowly",
    title: "Lower the temperature slowly",
    what: "Small cool refills bring the water down without the step that stresses or kills.",
    phase: Phase::Alive,
    eases: &[&oxygen::TOO_WARM],
    fits: is_warm,
    in_the_model: Some(|tank| Tank {
        temperature_now: None,
        ..tank.clone()
    }),
    minutes: 60.0,
    steps: &[
        careful(
            "Change 10 % for conditioned water some 3 °C cooler; wait an hour; read; repeat.",
            "No more than 1 °C an hour, 2 °C a day for delicate animals.",
        )
        .lasting(60),
        step("No ice in the tank: if you must, in a closed bottle that floats."),
    ],
    proof: Proof {
        wanted: Wanted::IntendedTemperature,
        when: "Tomorrow at this hour.",
        after_hours: 12.0,
    },
    ..Change::BLANK
};
