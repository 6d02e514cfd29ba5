//! What keeps animals alive before the cause is known: it comes before the diagnosis, which goes on beside it. Common
//! practice, no source.

use super::change::{Step, careful, step};
use crate::diagnosis::finding::{Finding, events, upkeep};
use crate::diagnosis::{Answer, Distress, Observed};

/// Help that cannot wait.
#[derive(Debug)]
pub struct FirstAid {
    /// As something to do.
    pub title: &'static str,
    /// Whether it is needed now.
    needed: fn(&Observed) -> bool,
    /// Steps, in order.
    pub steps: &'static [Step],
}

/// What happened so many hours ago at most is still urgent.
const URGENT_HOURS: f64 = 48.0;

fn lately(observed: &Observed, event: &Finding) -> bool {
    observed.answer(event).is_some_and(|answered| {
        answered.answer == Answer::Yes && observed.now.duration_since(answered.at).as_secs_f64() <= URGENT_HOURS * 3600.0
    })
}

const GLOVES: &str = "Read the label; gloves.";

/// Gulping, losses.
static BREATH: FirstAid = FirstAid {
    title: "First, help them breathe",
    needed: |observed| Distress::worst_of(&observed.answers).is_some_and(Distress::is_urgent),
    steps: &[
        careful(
            "Turn the outlet up until the surface dances, or hang an air stone in.",
            "Unplug before hands go in near pumps and heaters.",
        ),
        step("Feed nothing today. Lid open, no direct sun."),
        careful("If tap water went in without conditioner: dose it now, for the whole tank.", GLOVES),
        step("Then go on below: the cause is still there."),
    ],
};

/// Chlorine burns gills within hours.
static CHLORINE: FirstAid = FirstAid {
    title: "First, bind the chlorine",
    needed: |observed| lately(observed, &events::CONDITIONER_FORGOTTEN),
    steps: &[
        careful("Dose conditioner now, for the whole tank's volume.", GLOVES),
        step("Outlet up or air stone in: burnt gills need more oxygen."),
        step("Test ammonia today and tomorrow: bound chloramine leaves it behind."),
    ],
};

/// Soap strips gills.
static SOAP: FirstAid = FirstAid {
    title: "First, thin out the soap",
    needed: |observed| lately(observed, &upkeep::SOAP_NEAR_TANK),
    steps: &[
        careful(
            "Take foam off with plain paper, then change half of the water, conditioned and within 1 °C.",
            "Heater and pumps off before the level drops; start the siphon by bulb, never by mouth.",
        ),
        step("Air stone in, fresh carbon in the filter. Fish that gulp or roll: into clean, tempered, aired water now."),
        step("Ask a fish vet about the gills. Then go on below."),
    ],
};

/// The help that is needed now, most urgent first.
pub fn due(observed: &Observed) -> Vec<&'static FirstAid> {
    [&SOAP, &CHLORINE, &BREATH].into_iter().filter(|aid| (aid.needed)(observed)).collect()
}
