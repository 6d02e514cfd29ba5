//! Faults of the current: where intakes and outlets sit, what stands in the way, what is left
//! lying. And foam. Common practice, no source. What can be told from the drawing of the tank is.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::Strength::{Itself, NearlyAlways, Often, Usually};
use super::{Fault, Need, Precedes, Rate};
use crate::diagnosis::finding::{computed, current, fish, flow, places, upkeep};
use crate::tank::Tank;
use crate::tank::thing::{Form, Inlet, Rest};

/// Every fault of this file.
pub const ALL: &[&Fault] = &[
    &INTAKE_MISPLACED,
    &OPPOSED_FLOW,
    &STRUCTURE_SHADOW,
    &FLOW_TOO_LOW,
    &STAGNANT_BEHIND_BACKGROUND,
    &MID_WATER_JET,
    &CURRENT_TOO_STRONG,
    &BED_WASTE,
    &WASTE_FOAM,
    &SOAP_CONTAMINATION,
    &BUBBLE_NEST_NORMAL,
];

fn some(tank: &Tank, can: impl Fn(&dyn Form) -> bool) -> bool {
    tank.things.iter().any(|thing| can(thing.what.form()))
}

/// It misses most of the dirt.
pub static INTAKE_MISPLACED: Fault = Fault {
    id: "intake-misplaced",
    title: "The intake sits where the dirt does not come by",
    what: "An outlet at the top of one end rolls the whole tank: dirt comes to rest low on the outlet's own end. An intake elsewhere meets fast, clean water.",
    rate: Rate::Common,
    needs: Some(Need {
        else_out: "The tank file lists no intake.",
        met: |tank| {
            some(tank, |form| {
                matches!(
                    form.inlet(),
                    Inlet::Tube { .. } | Inlet::Weir | Inlet::Slits
                )
            })
        },
    }),
    signs: &[
        (&current::FOOD_PASSES_INTAKE, NearlyAlways),
        (&current::MUCK_ONE_PILE, Often),
        (&places::MUCK_EVERYWHERE, Often),
        (&current::FAST_FAR_END, Often),
        (&flow::INTAKE_CAPTURE, NearlyAlways),
    ],
    seen_by: &[&current::FOOD_PASSES_INTAKE],
    ..Fault::BLANK
};

/// Two filters against each other.
pub static OPPOSED_FLOW: Fault = Fault {
    id: "opposed-flow",
    title: "Two filters work against each other",
    what: "A second filter with its intake at the other end often breaks the loop that carried dirt home: one heap grows until it is siphoned off. In some tanks one at each end catches more; the tank's own flow says which.",
    rate: Rate::Uncommon,
    needs: Some(Need {
        else_out: "The tank file lists fewer than two filters.",
        met: |tank| tank.filters.len() > 1,
    }),
    signs: &[
        (&current::MUCK_ONE_PILE, NearlyAlways),
        (&current::FOOD_RESTS_BETWEEN, Itself),
        (&computed::INTAKES_AT_BOTH_ENDS, NearlyAlways),
        (&flow::LOOP_OPPOSED, Usually),
    ],
    events: &[Precedes {
        event: &upkeep::SECOND_FILTER_ADDED,
        strength: Usually,
        window_days: 90.0,
    }],
    seen_by: &[&current::FOOD_RESTS_BETWEEN],
    ..Fault::BLANK
};

pub static STRUCTURE_SHADOW: Fault = Fault {
    id: "structure-shadow",
    title: "A rock or root shades the bed from the stream",
    what: "Behind a mass in the middle the water stands; what falls there stays.",
    rate: Rate::Common,
    needs: Some(Need {
        else_out: "The tank file lists no rock or root.",
        met: |tank| some(tank, |form| form.stance().rest != Rest::Held),
    }),
    signs: &[
        (&current::MUCK_BEHIND_STRUCTURE, Itself),
        (&flow::MUCK_BESIDE_ROCK, Usually),
        (&flow::DEAD_VOLUME, Often),
    ],
    seen_by: &[&current::MUCK_BEHIND_STRUCTURE],
    ..Fault::BLANK
};

/// By the clean filter, or every clog would be a small filter too.
pub static FLOW_TOO_LOW: Fault = Fault {
    id: "flow-too-low",
    title: "There is too little flow for this tank",
    what: "Even clean, the filters move the water less than three times an hour, and nothing else moves it: dirt stays where it falls.",
    rate: Rate::Common,
    needs: Some(Need {
        else_out: "By the tank file the clean filters move the water at least three times an hour, or a powerhead does.",
        met: Tank::has_little_flow,
    }),
    signs: &[
        (&places::MUCK_EVERYWHERE, NearlyAlways),
        (&current::MUCK_ONE_PILE, Often),
        (&current::FOOD_PASSES_INTAKE, Usually),
        (&flow::DEAD_VOLUME, Usually),
        (&flow::INTAKE_CAPTURE, Often),
    ],
    seen_by: &[&current::FOOD_PASSES_INTAKE],
    ..Fault::BLANK
};

pub static STAGNANT_BEHIND_BACKGROUND: Fault = Fault {
    id: "stagnant-behind-background",
    title: "The water behind the background stands",
    what: "An intake in front draws nothing from behind: what gets there stays until it is siphoned out.",
    rate: Rate::Uncommon,
    needs: Some(Need {
        else_out: "The tank file lists no background.",
        met: |tank| some(tank, |form| form.background().is_some()),
    }),
    signs: &[
        (&current::BEHIND_BACKGROUND_DIRTY, Itself),
        (&computed::INTAKE_IN_FRONT, NearlyAlways),
    ],
    seen_by: &[&current::BEHIND_BACKGROUND_DIRTY],
    ..Fault::BLANK
};

pub static MID_WATER_JET: Fault = Fault {
    id: "mid-water-jet",
    title: "The stream blows at half height",
    what: "Surface and bed hardly move while fish in the middle are pushed about: a short riser, or an outlet set too low.",
    rate: Rate::Uncommon,
    needs: Some(Need {
        else_out: "No outlet in the tank file blows at half height.",
        met: |tank| tank.has_stream_at_half_height(),
    }),
    signs: &[
        (&current::OUTLET_MID_WATER, NearlyAlways),
        (&current::PUSHED_BY_CURRENT, Usually),
        (&current::RISER_SHORT, Usually),
        (&places::SURFACE_FLAT, Often),
        (&places::MUCK_EVERYWHERE, Often),
    ],
    seen_by: &[&current::OUTLET_MID_WATER],
    ..Fault::BLANK
};

pub static CURRENT_TOO_STRONG: Fault = Fault {
    id: "current-too-strong",
    title: "The current is too strong for these fish",
    what: "Strong current everywhere tires long-finned and slow fish; they need a quiet corner.",
    rate: Rate::Uncommon,
    signs: &[
        (&current::PUSHED_BY_CURRENT, NearlyAlways),
        (&computed::TURNOVER_HIGH, Often),
        (&fish::PALE_LISTLESS, Often),
    ],
    seen_by: &[&current::PUSHED_BY_CURRENT],
    ..Fault::BLANK
};

pub static BED_WASTE: Fault = Fault {
    id: "bed-waste",
    title: "Waste lies in the bed",
    what: "Leftovers and droppings rot where they lie: they take oxygen and feed algae.",
    rate: Rate::Common,
    signs: &[
        (&current::LEFTOVER_FOOD, NearlyAlways),
        (&current::BED_NOT_SIPHONED, Usually),
        (&places::MUCK_EVERYWHERE, Often),
        (&places::SMELL_MUSTY, Often),
    ],
    seen_by: &[&current::LEFTOVER_FOOD],
    ..Fault::BLANK
};

pub static WASTE_FOAM: Fault = Fault {
    id: "waste-foam",
    title: "Dirt and protein make the water foam",
    what: "Oily food and dissolved waste let bubbles last.",
    rate: Rate::Common,
    signs: &[
        (&current::FOAM_STAYS, Usually),
        (&current::OILY_FOOD, Usually),
        (&places::SURFACE_FILM, Often),
        (&places::MUCK_EVERYWHERE, Often),
    ],
    against: &[&current::FOAM_SHORT_LIVED],
    seen_by: &[&current::OILY_FOOD],
    ..Fault::BLANK
};

pub static SOAP_CONTAMINATION: Fault = Fault {
    id: "soap-contamination",
    title: "Soap or detergent is in the water",
    what: "A rinsed bucket, a sprayed pane, hands just washed: soap strips gills, and foams.",
    rate: Rate::Rare,
    signs: &[
        (&current::FOAM_STAYS, NearlyAlways),
        (&fish::IRRITATED, Usually),
        (&fish::DEATHS_STEADY, Often),
        (&places::SUDDEN_ONSET, Usually),
    ],
    events: &[Precedes {
        event: &upkeep::SOAP_NEAR_TANK,
        strength: NearlyAlways,
        window_days: 30.0,
    }],
    seen_by: &[&upkeep::SOAP_NEAR_TANK],
    ..Fault::BLANK
};

/// Labyrinth fish raise their young so.
pub static BUBBLE_NEST_NORMAL: Fault = Fault {
    id: "bubble-nest-normal",
    title: "A fish has built a nest of bubbles",
    what: "Labyrinth fish and some others raise their young under foam. A good sign.",
    rate: Rate::Uncommon,
    signs: &[
        (&current::BUBBLE_NEST, Itself),
        (&current::FOAM_STAYS, Usually),
    ],
    seen_by: &[&current::BUBBLE_NEST],
    ..Fault::BLANK
};
