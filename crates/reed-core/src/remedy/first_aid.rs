//! What keeps animals alive before the cause is known: it comes before the diagnosis, which goes on
//! beside it. Common practice, no source.

use super::change::{Step, careful, step};
use crate::diagnosis::finding::{Finding, biology, events, upkeep};
use crate::diagnosis::{Answer, Case, Distress, Observed};
use crate::figure::Figure;
use crate::tank::{Analyte, Reading};
use crate::water::chemistry;

/// Help that cannot wait.
#[derive(Debug)]
pub struct FirstAid {
    /// As something to do.
    pub title: &'static str,
    /// Whether it is needed now.
    needed: fn(&Case) -> bool,
    /// Steps, in order.
    pub steps: &'static [Step],
    /// A change of water belongs to it whose size follows from readings.
    pub sizes_a_change: bool,
}

/// What happened so many days ago at most is still urgent. A judgement.
const URGENT_DAYS: f64 = 2.0;

fn lately(observed: &Observed, event: &Finding) -> bool {
    observed.happened_within(event, URGENT_DAYS)
}

const GLOVES: &str = "Read the label; gloves.";

/// Gulping, losses.
static BREATH: FirstAid = FirstAid {
    title: "First, help them breathe",
    needed: |case| Distress::worst_of(&case.observed.answers).is_some_and(Distress::is_urgent),
    steps: &[
        careful(
            "Turn the outlet up until the surface dances, or hang an air stone in.",
            "Unplug before hands go in near pumps and heaters.",
        ),
        step("Feed nothing today. Lid open, no direct sun."),
        careful(
            "If tap water went in without conditioner: dose it now, for the whole tank.",
            GLOVES,
        ),
        step("Then go on below: the cause is still there."),
    ],
    sizes_a_change: false,
};

/// Chlorine burns gills within hours.
static CHLORINE: FirstAid = FirstAid {
    title: "First, bind the chlorine",
    needed: |case| lately(&case.observed, &events::CONDITIONER_FORGOTTEN),
    steps: &[
        careful("Dose conditioner now, for the whole tank's volume.", GLOVES),
        step("Outlet up or air stone in: burnt gills need more oxygen."),
        step("Test ammonia today and tomorrow: bound chloramine leaves it behind."),
    ],
    sizes_a_change: false,
};

/// Soap strips gills.
static SOAP: FirstAid = FirstAid {
    title: "First, thin out the soap",
    needed: |case| lately(&case.observed, &upkeep::SOAP_NEAR_TANK),
    steps: &[
        careful(
            "Take foam off with plain paper, then change half of the water, conditioned and within 1 °C.",
            "Heater and pumps off before the level drops; start the siphon by bulb, never by mouth.",
        ),
        step(
            "Air stone in, fresh carbon in the filter. Fish that gulp or roll: into clean, tempered, aired water now.",
        ),
        step("Ask a fish vet about the gills. Then go on below."),
    ],
    sizes_a_change: false,
};

/// Hydrogen sulphide from a bed that rots.
static SULPHIDE: FirstAid = FirstAid {
    title: "First, air: rotten eggs are hydrogen sulphide",
    needed: |case| yes(&case.observed, &biology::SMELL_ROTTEN_EGG),
    steps: &[
        careful(
            "Air the room, children and animals out of it.",
            "It dulls the nose: no smell any more is no proof that it is gone.",
        ),
        step(
            "Outlet up or air stone in. Leave the bed alone: stirring it sets all of it free at once.",
        ),
        step(
            "Fish that gulp or lie on their side: into clean, tempered, aired water. Ask a fish vet.",
        ),
    ],
    sizes_a_change: false,
};

/// Nitrite or un-ionised ammonia that harms within a day.
static NITROGEN: FirstAid = FirstAid {
    title: "First, thin out the poison",
    needed: |case| {
        let nitrite = case
            .observed
            .latest(Analyte::NITRITE)
            .is_some_and(|reading| reading.value >= URGENT_NITRITE_MG_L.value);
        nitrite || un_ionised_mg_l(case).is_some_and(|value| value >= URGENT_NH3_MG_L.value)
    },
    steps: &[
        step("Feed nothing until it reads zero: what is eaten today is ammonia tomorrow."),
        careful(
            "Change a third to half of the water, conditioned and within 1 °C. Test the tap's pH first: with ammonia there, water of a higher pH poisons.",
            "Heater and pumps off before the level drops; start the siphon by bulb, never by mouth.",
        ),
        step(
            "Outlet up or air stone in. Read again in the evening; leave the filter and its media alone.",
        ),
    ],
    sizes_a_change: true,
};

/// Copper kills animals without a backbone at levels that cure fish.
static COPPER: FirstAid = FirstAid {
    title: "First, the animals without a backbone out of the copper",
    needed: |case| {
        let copper = case
            .observed
            .latest(Analyte::COPPER)
            .is_some_and(|reading| reading.value >= URGENT_COPPER_MG_L.value);
        copper && case.tank.has_invertebrates()
    },
    steps: &[
        step(
            "Move shrimps, snails, crayfish, corals to water without copper, of the same temperature.",
        ),
        step("Fresh carbon or a metal-binding pad into the filter. Read again tomorrow."),
        careful(
            "Change half of the water, conditioned.",
            "Heater and pumps off before the level drops; start the siphon by bulb, never by mouth.",
        ),
    ],
    sizes_a_change: false,
};

/// A heater that stays on.
static HEAT: FirstAid = FirstAid {
    title: "First, stop the heat",
    needed: |case| {
        let above = |reading: &Reading| reading.value - case.tank.temperature.as_celsius();
        case.observed
            .latest(Analyte::TEMPERATURE)
            .is_some_and(|reading| above(reading) >= URGENT_HEAT_C.value)
    },
    steps: &[
        careful(
            "Unplug the heater.",
            "Let it cool before it comes out of the water: hot glass bursts.",
        ),
        step(
            "Outlet up, air stone in, lid open: warm water holds less oxygen and the animals need more of it.",
        ),
        step("Let it cool by itself, at most 1 °C an hour. No ice, no cold water into the tank."),
    ],
    sizes_a_change: false,
};

/// Nitrite, as N, from which to act today. From memory, for soft fresh water.
const URGENT_NITRITE_MG_L: Figure = Figure::from_memory(0.3);
/// Un-ionised ammonia, as N, from which to act today. From memory: twice the level that harms for
/// long.
const URGENT_NH3_MG_L: Figure = Figure::from_memory(0.05);
/// Copper that shrimps and snails do not stand. From memory.
const URGENT_COPPER_MG_L: Figure = Figure::from_memory(0.1);
/// Above the usual temperature of the tank, °C. From memory.
const URGENT_HEAT_C: Figure = Figure::from_memory(5.0);

fn yes(observed: &Observed, sign: &Finding) -> bool {
    observed
        .answer(sign)
        .is_some_and(|answered| answered.answer == Answer::Yes)
}

/// Un-ionised ammonia by the latest readings of ammonia and pH; without a pH there is none to say.
fn un_ionised_mg_l(case: &Case) -> Option<f64> {
    let observed = &case.observed;
    let (ammonia, ph) = (
        observed.latest(Analyte::AMMONIA)?,
        observed.latest(Analyte::PH)?,
    );
    Some(ammonia.value * chemistry::un_ionised_share(case.water_temperature(), ph.value))
}

/// The help that is needed now, most urgent first.
pub fn due(case: &Case) -> Vec<&'static FirstAid> {
    [
        &SULPHIDE, &SOAP, &CHLORINE, &COPPER, &NITROGEN, &HEAT, &BREATH,
    ]
    .into_iter()
    .filter(|aid| (aid.needed)(case))
    .collect()
}
