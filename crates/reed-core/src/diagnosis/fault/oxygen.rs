//! Faults that lower the oxygen. How far they do, and so how the fish suffer, the twin computes for
//! this very tank.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::Strength::{NearlyAlways, Often, Usually};
use super::bystander::CO2_HIGH;
use super::{Fault, Need, Precedes, Rate};
use crate::diagnosis::check::{looks, readings};
use crate::diagnosis::finding::{computed, events, fish, places};
use crate::tank::{Planting, Running, Surface, Tank};
use crate::twin::{Stirring, Twin};
use crate::units::Mass;

/// Every fault of this file.
pub const ALL: &[&Fault] = &[
    &STILL_SURFACE,
    &OUTLET_SLIPPED,
    &TOO_WARM,
    &OXYGEN_DEMAND_HIGH,
    &AERATION_STOPPED,
    &NIGHT_PLANT_DEMAND,
    &SURFACE_FILM,
];

/// The surface hardly moves, for whatever reason.
pub static STILL_SURFACE: Fault = Fault {
    id: "still-surface",
    title: "The surface is too still",
    what: "Oxygen comes in through a moving surface. A mirror lets in a fraction of it.",
    rate: Rate::Common,
    signs: &[
        (&places::SURFACE_FLAT, NearlyAlways),
        (&places::OUTLET_UNDER_SURFACE, Often),
        (&fish::PALE_LISTLESS, Often),
        (&fish::BULLIED, Often),
    ],
    settled_by: &[&looks::ACROSS_SURFACE, &readings::OXYGEN],
    in_the_model: Some(|tank| with_surface(tank, Surface::Still)),
    brings: &[&SURFACE_FILM, &CO2_HIGH],
    ..Fault::BLANK
};

/// The outlet moved and no longer reaches the surface.
pub static OUTLET_SLIPPED: Fault = Fault {
    id: "outlet-slipped",
    title: "The outlet has slipped under the surface",
    what: "The filter runs as ever, but its stream no longer stirs the surface: a clip gave way, or it went back differently after cleaning.",
    rate: Rate::Uncommon,
    signs: &[
        (&places::SURFACE_FLAT, NearlyAlways),
        (&places::OUTLET_UNDER_SURFACE, NearlyAlways),
        (&places::OUTLET_OFF_ITS_MARK, NearlyAlways),
        (&places::SUDDEN_ONSET, Usually),
        (&fish::PALE_LISTLESS, Often),
        (&fish::BULLIED, Often),
    ],
    events: &[Precedes {
        event: &events::EQUIPMENT_MOVED,
        strength: Usually,
        window_days: 7.0,
    }],
    settled_by: &[&looks::OUTLET_AGAINST_MARK],
    in_the_model: Some(|tank| with_surface(tank, Surface::Still)),
    brings: &[&SURFACE_FILM, &CO2_HIGH],
    ..Fault::BLANK
};

pub static TOO_WARM: Fault = Fault {
    id: "too-warm",
    title: "The water is too warm",
    what: "Warm water holds less oxygen while every animal breathes more: a stuck heater, a hot room, lamps.",
    rate: Rate::Common,
    signs: &[(&fish::PALE_LISTLESS, Often)],
    settled_by: &[&readings::TEMPERATURE],
    in_the_model: Some(|tank| {
        let warm = tank.temperature.warmer_by(TOO_WARM_BY_C);
        // A temperature that was read stays as read.
        Tank {
            temperature_now: tank.temperature_now.or(Some(warm)),
            ..tank.clone()
        }
    }),
    ..Fault::BLANK
};

/// How far above the intended temperature a tank with this fault usually is, °C. From memory.
pub const TOO_WARM_BY_C: f64 = 4.0;

/// More is used than came to be usual.
pub static OXYGEN_DEMAND_HIGH: Fault = Fault {
    id: "oxygen-demand-high",
    title: "Something uses up the oxygen",
    what: "Too many animals, too much feed, or something rotting: a dead fish behind a rock, a heap of leftovers.",
    rate: Rate::Common,
    signs: &[
        (&places::WASTE_FOUND, Usually),
        (&places::MUCK_EVERYWHERE, Often),
        (&places::SMELL_MUSTY, Often),
        (&fish::PALE_LISTLESS, Often),
        (&fish::BULLIED, Often),
    ],
    events: &[
        Precedes {
            event: &events::STOCK_ADDED,
            strength: Often,
            window_days: 14.0,
        },
        Precedes {
            event: &events::FEEDING_RAISED,
            strength: Often,
            window_days: 14.0,
        },
        Precedes {
            event: &events::ANIMAL_MISSING,
            strength: Often,
            window_days: 14.0,
        },
    ],
    settled_by: &[&looks::SEARCH_FOR_WASTE],
    in_the_model: Some(|tank| Tank {
        rotting: rotting_that_doubles_demand(tank),
        ..tank.clone()
    }),
    boundless: true,
    ..Fault::BLANK
};

/// What broke the surface has stopped.
pub static AERATION_STOPPED: Fault = Fault {
    id: "aeration-stopped",
    title: "What stirred the surface has stopped",
    what: "The air pump failed, a stone is blocked, a tube kinked, or water no longer falls into the tank.",
    rate: Rate::Common,
    needs: Some(Need {
        else_out: "The tank has no air stone, sponge filter, falling water or wave maker that could stop.",
        met: |tank| {
            tank.air_sources().next().is_some()
                || tank.falls().next().is_some()
                || tank.has_wave_maker()
        },
    }),
    signs: &[
        (&places::SUDDEN_ONSET, Usually),
        (&places::SURFACE_FLAT, Often),
        (&fish::PALE_LISTLESS, Often),
        (&fish::BULLIED, Often),
    ],
    events: &[Precedes {
        event: &events::AIR_SOURCE_STOPPED,
        strength: NearlyAlways,
        window_days: 3.0,
    }],
    settled_by: &[&looks::AIR_RUNNING],
    in_the_model: Some(|tank| {
        let mut stopped = tank.clone();
        stopped.set_running(|_| Running::Stopped);
        if tank.has_wave_maker() {
            stopped.surface = tank.surface.min(Surface::Still);
        }
        stopped
    }),
    ..Fault::BLANK
};

/// Plants take at night what they gave by day.
pub static NIGHT_PLANT_DEMAND: Fault = Fault {
    id: "night-plant-demand",
    title: "Plants use up the oxygen at night",
    what: "Plants give oxygen in the light and take it in the dark. A thicket with little surface movement is lowest just before the lights come on.",
    rate: Rate::Uncommon,
    needs: Some(Need {
        else_out: "There are no plants.",
        met: |tank| tank.plants.planting != Planting::None,
    }),
    signs: &[(&computed::PLANTS_DENSE, NearlyAlways)],
    settled_by: &[&readings::OXYGEN],
    in_the_model: Some(|tank| {
        let mut grown = tank.clone();
        grown.plants.planting = Planting::Overgrown;
        grown
    }),
    ..Fault::BLANK
};

pub static SURFACE_FILM: Fault = Fault {
    id: "surface-film",
    title: "A film seals the surface",
    what: "Fat and protein from food, or bacteria on a quiet surface, form a film that gas hardly passes.",
    rate: Rate::Uncommon,
    signs: &[
        (&places::SURFACE_FILM, NearlyAlways),
        (&fish::PALE_LISTLESS, Often),
    ],
    settled_by: &[&looks::ALONG_SURFACE],
    in_the_model: Some(|tank| with_surface(tank, Surface::Filmed)),
    ..Fault::BLANK
};

fn with_surface(tank: &Tank, at_best: Surface) -> Tank {
    Tank {
        surface: tank.surface.min(at_best),
        ..tank.clone()
    }
}

/// Rotting matter that uses as much oxygen as everything else in the tank together, and what rots
/// there already.
fn rotting_that_doubles_demand(tank: &Tank) -> Mass {
    let demand_mg_h = Twin::course_of(tank, Stirring::AS_IT_LOOKS)
        .demand_mg_l_h
        .max(0.0)
        * tank.net_volume().as_litres();
    let one_gram_mg_h = crate::water::oxygen::demand::rotting_mg_h(Mass::grams(1.0));
    Mass::grams(tank.rotting.as_grams() + demand_mg_h / one_gram_mg_h)
}

#[cfg(test)]
mod tests {
    use super::{ALL, OXYGEN_DEMAND_HIGH};
    use crate::tank::{Activity, Planting, Running, StockGroup, Surface, Tank};
    use crate::twin::{Stirring, Twin};
    use crate::units::{Length, Mass};

    /// Everything in it that any fault of the family needs.
    fn full() -> Tank {
        let mut tank = Tank::plain("Full", Length::cm(80.0), Length::cm(35.0), Length::cm(40.0));
        tank.surface = Surface::Broken;
        tank.plants.planting = Planting::Sparse;
        tank = tank.with_air_stone("Stone", 100.0, Running::Always);
        tank.stock.push(StockGroup::weighing(
            "small fish",
            20,
            Mass::grams(2.0),
            Activity::Usual,
        ));
        tank.feed = Mass::grams(0.8);
        tank
    }

    #[test]
    fn every_fault_of_the_family_lowers_the_lowest_oxygen_of_a_tank_that_can_have_it() {
        let tank = full();
        let sound = Twin::of(&tank).day.lowest().1;
        for fault in ALL {
            assert!(
                fault.needs.as_ref().is_none_or(|need| (need.met)(&tank)),
                "{}",
                fault.id
            );
            let faulty = Twin::of(&fault.put_into(&tank)).day.lowest().1;
            assert!(
                faulty < sound - 0.1,
                "{}: {sound:.2} → {faulty:.2}",
                fault.id
            );
        }
    }

    #[test]
    fn a_hidden_load_doubles_the_demand() {
        let (sound, faulty) = (
            Twin::course_of(&full(), Stirring::AS_IT_LOOKS),
            Twin::course_of(&OXYGEN_DEMAND_HIGH.put_into(&full()), Stirring::AS_IT_LOOKS),
        );
        assert!((faulty.demand_mg_l_h / sound.demand_mg_l_h - 2.0).abs() < 1e-9);
    }
}
