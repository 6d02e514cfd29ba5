//! Faults of filters: what clogs, what lets air in, what sheds gas, what leaks. Common practice, no
//! source.
//!
//! *Bubbles* in a row of signs stand for the ways to see them: at the outlet, in the water, or,
//! where they are fine and many, as a haze that a glass of the water is rid of within a minute.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::Strength::{Itself, NearlyAlways, Often, Seldom, Usually};
use super::{BuildsUp, Fault, Need, Precedes, Rate};
use crate::diagnosis::finding::{biology, computed, current, events, filter, fish, flow, upkeep};
use crate::tank::thing::Inlet;
use crate::tank::{FilterKind, Planting, Tank};

/// Every fault of this file.
pub const ALL: &[&Fault] = &[
    &TRAPPED_AIR_NEW,
    &TRAPPED_AIR_CLEANED,
    &SELF_PURGE,
    &CLOGGED_FINE_MEDIA,
    &OVER_PACKED_MEDIA,
    &CLOGGED_PREFILTER,
    &CLOGGED_BIOLOGICAL_MEDIA,
    &HOSE_FOULED_OR_KINKED,
    &TAPS_OR_COUPLING,
    &AIR_LOCK,
    &IMPELLER_DIRTY_OR_WORN,
    &JOINT_LOOSE,
    &INTAKE_FITTING_EXPOSED,
    &SEAL_LEAK,
    &HOSE_CRACK,
    &BODY_CRACK,
    &AIR_SOURCE_NEAR_INTAKE,
    &PLANT_GAS_AT_INTAKE,
    &COLD_REFILL_GAS,
    &RETURN_CHAMBER_LOW,
    &OUTLET_DRAWS_AIR,
    &GAS_COLLECTED,
    &MOTOR_COVER_LEAK,
    &EXPOSED_HOB_MEDIA,
    &SOCK_BYPASS,
    &SUMP_OVERFULL,
    &ANIMALS_DRAWN_IN,
];

fn some_filter(tank: &Tank, kind: impl Fn(FilterKind) -> bool) -> bool {
    tank.filters.iter().any(|filter| kind(filter.kind))
}

/// Closed, in the cabinet, with hoses.
fn has_canister(tank: &Tank) -> bool {
    some_filter(tank, |kind| kind.design().is_canister)
}

const CANISTER: Option<Need> = Some(Need {
    else_out: "The tank file lists no canister filter.",
    met: has_canister,
});
const SUMP: Option<Need> = Some(Need {
    else_out: "The tank file lists no sump.",
    met: |tank| some_filter(tank, |kind| kind == FilterKind::Sump),
});
const A_FILTER: Option<Need> = Some(Need {
    else_out: "The tank file lists no filter.",
    met: |tank| !tank.filters.is_empty(),
});
const PLUMBED: Option<Need> = Some(Need {
    else_out: "The tank file lists no filter with hoses.",
    met: |tank| some_filter(tank, |kind| kind.design().is_plumbed),
});

pub static TRAPPED_AIR_NEW: Fault = Fault {
    id: "trapped-air-new",
    title: "Air from new media is still coming out",
    what: "New media and new housings hold air for up to a week and give it off steadily.",
    rate: Rate::Common,
    needs: A_FILTER,
    signs: &[
        (&filter::OUTLET_BUBBLES_CONSTANT, Usually),
        (&filter::BUBBLES_IN_WATER, Usually),
        (&biology::CLOUDY_WHITE, Seldom),
    ],
    events: &[Precedes {
        event: &upkeep::FILTER_OR_MEDIA_NEW,
        strength: NearlyAlways,
        window_days: 10.0,
    }],
    seen_by: &[&upkeep::FILTER_OR_MEDIA_NEW],
    ..Fault::BLANK
};

/// Just opened. Keepers say two or three hours; the question knows no finer span than today.
pub static TRAPPED_AIR_CLEANED: Fault = Fault {
    id: "trapped-air-cleaned",
    title: "Air from the last cleaning is still coming out",
    what: "A filter that was open sheds air for two or three hours, steadily or in bursts; one gush at the restart is normal.",
    rate: Rate::Common,
    needs: A_FILTER,
    signs: &[
        (&filter::OUTLET_BUBBLES_CONSTANT, Usually),
        (&filter::BUBBLES_IN_WATER, Usually),
        (&biology::CLOUDY_WHITE, Seldom),
        (&filter::OUTLET_BUBBLES_BURSTS, Often),
    ],
    events: &[Precedes {
        event: &upkeep::FILTER_CLEANED,
        strength: NearlyAlways,
        window_days: 0.3,
    }],
    seen_by: &[&upkeep::FILTER_CLEANED],
    ..Fault::BLANK
};

pub static SELF_PURGE: Fault = Fault {
    id: "self-purge",
    title: "The filter purges itself, as it should",
    what: "Some canisters stop and restart to shed air, within two minutes of switching on and every 12 to 24 hours.",
    rate: Rate::Uncommon,
    needs: CANISTER,
    signs: &[
        (&filter::STOPS_AND_RESTARTS, Itself),
        (&computed::FILTER_PURGES_ITSELF, NearlyAlways),
        (&filter::OUTLET_BUBBLES_BURSTS, Usually),
    ],
    seen_by: &[&filter::STOPS_AND_RESTARTS],
    ..Fault::BLANK
};

/// The commonest lasting cause of bubbles.
pub static CLOGGED_FINE_MEDIA: Fault = Fault {
    id: "clogged-fine-media",
    title: "The fine pad is choked",
    what: "Dirt in the fine stage lowers the pressure behind it until gas comes out of the water. The flow may still look full.",
    rate: Rate::Common,
    needs: A_FILTER,
    signs: &[
        (&filter::FINE_MEDIA_CLOGGED, Itself),
        (&filter::OUTLET_BUBBLES_CONSTANT, Usually),
        (&filter::OUTLET_BUBBLES_BURSTS, Often),
        (&filter::BUBBLES_IN_WATER, Usually),
        (&biology::CLOUDY_WHITE, Seldom),
        (&filter::FLOW_WEAK, Often),
        (&filter::AIR_UNDER_LID, Often),
        (&current::MUCK_ONE_PILE, Seldom),
        (&computed::FINE_BEFORE_COARSE, Seldom),
    ],
    builds_up: Some(BuildsUp {
        since: &upkeep::FILTER_CLEANED,
        days: 120.0,
    }),
    brings: &[&GAS_COLLECTED, &EXPOSED_HOB_MEDIA],
    seen_by: &[&filter::FINE_MEDIA_CLOGGED],
    ..Fault::BLANK
};

pub static OVER_PACKED_MEDIA: Fault = Fault {
    id: "over-packed-media",
    title: "The media are packed too tight",
    what: "Trays filled to the last corner let little water through and pull gas out of it.",
    rate: Rate::Uncommon,
    needs: A_FILTER,
    signs: &[
        (&filter::MEDIA_PACKED_TIGHT, Itself),
        (&filter::FLOW_WEAK, Usually),
        (&filter::OUTLET_BUBBLES_CONSTANT, Often),
        (&filter::BUBBLES_IN_WATER, Often),
        (&biology::CLOUDY_WHITE, Seldom),
    ],
    events: &[Precedes {
        event: &upkeep::MEDIA_REPLACED,
        strength: Usually,
        window_days: 60.0,
    }],
    seen_by: &[&filter::MEDIA_PACKED_TIGHT],
    ..Fault::BLANK
};

pub static CLOGGED_PREFILTER: Fault = Fault {
    id: "clogged-prefilter",
    title: "The intake sponge is full",
    what: "The sponge that keeps dirt out of the filter keeps the water out too.",
    rate: Rate::Common,
    needs: Some(Need {
        else_out: "No intake in the tank file has a sponge.",
        met: Tank::has_intake_sponge,
    }),
    signs: &[
        (&filter::PREFILTER_DIRTY, Itself),
        (&filter::FLOW_WEAK, NearlyAlways),
        (&current::MUCK_ONE_PILE, Often),
    ],
    seen_by: &[&filter::PREFILTER_DIRTY],
    ..Fault::BLANK
};

pub static CLOGGED_BIOLOGICAL_MEDIA: Fault = Fault {
    id: "clogged-biological-media",
    title: "An old sponge is choked for good",
    what: "Left for years, its pores close: water goes past it, and the bacteria inside starve.",
    rate: Rate::Uncommon,
    needs: A_FILTER,
    signs: &[
        (&filter::SPONGE_CHOKED, Itself),
        (&filter::SPONGE_OLD, Usually),
        (&filter::FLOW_WEAK, Usually),
        (&filter::SPONGE_CRUMBLING, Often),
    ],
    seen_by: &[&filter::SPONGE_CHOKED],
    ..Fault::BLANK
};

pub static HOSE_FOULED_OR_KINKED: Fault = Fault {
    id: "hose-fouled-or-kinked",
    title: "A hose is kinked or furred",
    what: "A flattened bend or a brown lining takes a good part of the flow.",
    rate: Rate::Uncommon,
    needs: PLUMBED,
    signs: &[
        (&filter::HOSE_KINKED, Itself),
        (&filter::FLOW_WEAK, Usually),
    ],
    seen_by: &[&filter::HOSE_KINKED],
    ..Fault::BLANK
};

pub static TAPS_OR_COUPLING: Fault = Fault {
    id: "taps-or-coupling",
    title: "A tap is half shut, or the coupling not seated",
    what: "After a cleaning one lever is forgotten, or the coupling catches only on one side.",
    rate: Rate::Uncommon,
    needs: CANISTER,
    signs: &[
        (&filter::TAPS_NOT_OPEN, Itself),
        (&filter::FLOW_WEAK, Usually),
        (&filter::FLOW_STOPPED, Often),
    ],
    events: &[Precedes {
        event: &upkeep::FILTER_CLEANED,
        strength: Usually,
        window_days: 1.0,
    }],
    seen_by: &[&filter::TAPS_NOT_OPEN],
    ..Fault::BLANK
};

pub static AIR_LOCK: Fault = Fault {
    id: "air-lock",
    title: "The filter is air-locked",
    what: "Air left in the head keeps the pump from drawing water.",
    rate: Rate::Uncommon,
    needs: CANISTER,
    signs: &[
        (&filter::FLOW_STOPPED, Usually),
        (&filter::GURGLE_OR_RATTLE, Usually),
        (&filter::AIR_UNDER_LID, Usually),
    ],
    events: &[Precedes {
        event: &upkeep::FILTER_CLEANED,
        strength: NearlyAlways,
        window_days: 1.0,
    }],
    seen_by: &[&filter::AIR_UNDER_LID],
    ..Fault::BLANK
};

pub static IMPELLER_DIRTY_OR_WORN: Fault = Fault {
    id: "impeller-dirty-or-worn",
    title: "The impeller is dirty or worn",
    what: "Slime, a hair or a snail shell on the impeller, or a worn shaft: noise, and less flow.",
    rate: Rate::Common,
    needs: A_FILTER,
    signs: &[
        (&filter::IMPELLER_DIRTY, Itself),
        (&filter::GURGLE_OR_RATTLE, Usually),
        (&filter::FLOW_WEAK, Usually),
        (&filter::OUTLET_BUBBLES_CONSTANT, Often),
        (&filter::BUBBLES_IN_WATER, Often),
        (&biology::CLOUDY_WHITE, Seldom),
    ],
    events: &[Precedes {
        event: &upkeep::IMPELLER_SERVICED,
        strength: Seldom,
        window_days: 60.0,
    }],
    seen_by: &[&filter::IMPELLER_DIRTY],
    ..Fault::BLANK
};

pub static JOINT_LOOSE: Fault = Fault {
    id: "joint-loose",
    title: "A joint on the suction side lets air in",
    what: "Where a joint sits above the water level the pump draws air through it; lower down it drips instead.",
    rate: Rate::Uncommon,
    needs: PLUMBED,
    signs: &[
        (&filter::JOINT_LOOSE, Itself),
        (&filter::OUTLET_BUBBLES_CONSTANT, Usually),
        (&filter::BUBBLES_IN_WATER, Usually),
        (&biology::CLOUDY_WHITE, Seldom),
        (&filter::OUTLET_BUBBLES_BURSTS, Often),
        (&filter::DAMP_OR_DRIP, Often),
    ],
    events: &[Precedes {
        event: &upkeep::FILTER_CLEANED,
        strength: Often,
        window_days: 7.0,
    }],
    seen_by: &[&filter::JOINT_LOOSE],
    ..Fault::BLANK
};

/// The water fell below it.
pub static INTAKE_FITTING_EXPOSED: Fault = Fault {
    id: "intake-fitting-exposed",
    title: "The intake reaches out of the water",
    what: "Evaporation leaves a slit or a joint of the intake in the air.",
    rate: Rate::Uncommon,
    needs: A_FILTER,
    signs: &[
        (&filter::INTAKE_FITTING_ABOVE, Itself),
        (&filter::OUTLET_BUBBLES_CONSTANT, NearlyAlways),
        (&filter::BUBBLES_IN_WATER, NearlyAlways),
        (&biology::CLOUDY_WHITE, Seldom),
        (&filter::WATER_LEVEL_LOW, Usually),
    ],
    seen_by: &[&filter::INTAKE_FITTING_ABOVE],
    ..Fault::BLANK
};

pub static SEAL_LEAK: Fault = Fault {
    id: "seal-leak",
    title: "A seal leaks",
    what: "A flat, dry or dirty seal lets air in where the inside is below atmospheric, and drips where it is not.",
    rate: Rate::Uncommon,
    needs: CANISTER,
    signs: &[
        (&filter::LID_SEAL_BAD, Itself),
        (&filter::OUTLET_BUBBLES_CONSTANT, Usually),
        (&filter::BUBBLES_IN_WATER, Usually),
        (&biology::CLOUDY_WHITE, Seldom),
        (&filter::AIR_UNDER_LID, Usually),
        (&filter::DAMP_OR_DRIP, Often),
        (&filter::CLEANING_DID_NOT_CURE, Usually),
    ],
    seen_by: &[&filter::LID_SEAL_BAD],
    ..Fault::BLANK
};

pub static HOSE_CRACK: Fault = Fault {
    id: "hose-crack",
    title: "The suction hose has a hair crack",
    what: "It may leak inward only: air comes in, and nothing drips.",
    rate: Rate::Rare,
    needs: PLUMBED,
    signs: &[
        (&filter::HOSE_CRACKED, Itself),
        (&filter::HOSE_OLD, NearlyAlways),
        (&filter::OUTLET_BUBBLES_CONSTANT, Usually),
        (&filter::BUBBLES_IN_WATER, Usually),
        (&biology::CLOUDY_WHITE, Seldom),
        (&filter::CLEANING_DID_NOT_CURE, Usually),
    ],
    seen_by: &[&filter::HOSE_CRACKED],
    ..Fault::BLANK
};

pub static BODY_CRACK: Fault = Fault {
    id: "body-crack",
    title: "The housing is cracked",
    what: "A drop or a forced latch: it drips, or draws air.",
    rate: Rate::Rare,
    needs: A_FILTER,
    signs: &[
        (&filter::BODY_CRACKED, Itself),
        (&filter::DAMP_OR_DRIP, NearlyAlways),
        (&filter::OUTLET_BUBBLES_CONSTANT, Often),
    ],
    seen_by: &[&filter::BODY_CRACKED],
    ..Fault::BLANK
};

pub static AIR_SOURCE_NEAR_INTAKE: Fault = Fault {
    id: "air-source-near-intake",
    title: "The filter takes in bubbles from an air source",
    what: "An air stone, a sponge filter or a splashing return stands where its bubbles reach an intake.",
    rate: Rate::Common,
    needs: Some(Need {
        else_out: "The tank has no air source or falling water.",
        met: |tank| tank.air_sources().next().is_some() || tank.falls().next().is_some(),
    }),
    signs: &[
        (&filter::AIR_SOURCE_NEAR_INTAKE, Itself),
        (&flow::INTAKE_BUBBLES, Usually),
        (&filter::OUTLET_BUBBLES_CONSTANT, Usually),
        (&filter::BUBBLES_IN_WATER, Usually),
        (&biology::CLOUDY_WHITE, Seldom),
    ],
    seen_by: &[&filter::AIR_SOURCE_NEAR_INTAKE],
    ..Fault::BLANK
};

pub static PLANT_GAS_AT_INTAKE: Fault = Fault {
    id: "plant-gas-at-intake",
    title: "The filter takes in oxygen from plants",
    what: "Plants that pearl near a strong intake: harmless, and gone with the light.",
    rate: Rate::Uncommon,
    needs: Some(Need {
        else_out: "There are no plants.",
        met: |tank| tank.plants.planting != Planting::None,
    }),
    signs: &[
        (&filter::PLANTS_PEARLING, NearlyAlways),
        (&filter::BUBBLES_ONLY_IN_LIGHT, NearlyAlways),
        (&filter::OUTLET_BUBBLES_CONSTANT, Usually),
        (&filter::BUBBLES_IN_WATER, Usually),
        (&biology::CLOUDY_WHITE, Seldom),
        (&computed::PLANTS_DENSE, Often),
    ],
    seen_by: &[&filter::BUBBLES_ONLY_IN_LIGHT, &filter::PLANTS_PEARLING],
    ..Fault::BLANK
};

pub static COLD_REFILL_GAS: Fault = Fault {
    id: "cold-refill-gas",
    title: "Gas comes out of a cold refill as it warms",
    what: "Cold water carries more gas than warm: as it warms up the excess settles as bubbles on panes and fish.",
    rate: Rate::Common,
    signs: &[
        (&filter::BUBBLES_ON_PANES, NearlyAlways),
        (&filter::BUBBLES_ON_FISH, Often),
        (&filter::BUBBLES_IN_WATER, Often),
        (&biology::CLOUDY_WHITE, Seldom),
    ],
    events: &[
        Precedes {
            event: &upkeep::REFILL_COLDER,
            strength: Usually,
            window_days: 0.5,
        },
        Precedes {
            event: &events::WATER_CHANGED,
            strength: Often,
            window_days: 0.5,
        },
    ],
    seen_by: &[&upkeep::REFILL_COLDER, &filter::BUBBLES_ON_PANES],
    ..Fault::BLANK
};

/// A sump's pump runs short.
pub static RETURN_CHAMBER_LOW: Fault = Fault {
    id: "return-chamber-low",
    title: "The return pump draws air",
    what: "Evaporation lowers the return chamber first: the pump takes air with the water.",
    rate: Rate::Uncommon,
    needs: SUMP,
    signs: &[
        (&filter::RETURN_CHAMBER_LOW, Itself),
        (&filter::OUTLET_BUBBLES_CONSTANT, Usually),
        (&filter::BUBBLES_IN_WATER, Usually),
        (&biology::CLOUDY_WHITE, Seldom),
        (&filter::GURGLE_OR_RATTLE, Usually),
    ],
    seen_by: &[&filter::RETURN_CHAMBER_LOW],
    ..Fault::BLANK
};

pub static OUTLET_DRAWS_AIR: Fault = Fault {
    id: "outlet-draws-air",
    title: "The outlet itself draws air at the surface",
    what: "A nozzle half out of the water pulls air into its own stream. Some keepers want it so, for the oxygen.",
    rate: Rate::Uncommon,
    needs: A_FILTER,
    signs: &[
        (&filter::OUTLET_DRAWS_AIR, Itself),
        (&filter::OUTLET_BUBBLES_CONSTANT, Usually),
        (&filter::BUBBLES_IN_WATER, Often),
        (&biology::CLOUDY_WHITE, Seldom),
    ],
    seen_by: &[&filter::OUTLET_DRAWS_AIR],
    ..Fault::BLANK
};

pub static GAS_COLLECTED: Fault = Fault {
    id: "gas-collected",
    title: "A pool of gas has collected in the canister",
    what: "A canister without a purge keeps its gas: the flow falls, bubbles grow, until it is let out.",
    rate: Rate::Uncommon,
    needs: CANISTER,
    signs: &[
        (&filter::GAS_ON_TILTING, Itself),
        (&filter::AIR_UNDER_LID, NearlyAlways),
        (&filter::OUTLET_BUBBLES_CONSTANT, Usually),
        (&filter::BUBBLES_IN_WATER, Usually),
        (&biology::CLOUDY_WHITE, Seldom),
        (&filter::FLOW_WEAK, Usually),
    ],
    against: &[&computed::FILTER_PURGES_ITSELF],
    seen_by: &[&filter::GAS_ON_TILTING],
    ..Fault::BLANK
};

pub static MOTOR_COVER_LEAK: Fault = Fault {
    id: "motor-cover-leak",
    title: "The motor cover leaks",
    what: "A motor cover left loose after the impeller was out drips from a place nobody suspects.",
    rate: Rate::Uncommon,
    needs: CANISTER,
    signs: &[
        (&filter::MOTOR_COVER_DAMP, Itself),
        (&filter::DAMP_OR_DRIP, NearlyAlways),
    ],
    events: &[Precedes {
        event: &upkeep::IMPELLER_SERVICED,
        strength: NearlyAlways,
        window_days: 30.0,
    }],
    seen_by: &[&filter::MOTOR_COVER_DAMP],
    ..Fault::BLANK
};

pub static EXPOSED_HOB_MEDIA: Fault = Fault {
    id: "exposed-hob-media",
    title: "The hang-on filter's media are pushed out of the water",
    what: "Clogged media are lifted, water runs past them, and what stands in air dries and dies.",
    rate: Rate::Common,
    needs: Some(Need {
        else_out: "The tank file lists no hang-on-back filter.",
        met: |tank| some_filter(tank, |kind| kind == FilterKind::HangOnBack),
    }),
    signs: &[
        (&filter::LID_LIFTED, NearlyAlways),
        (&filter::FLOW_WEAK, Usually),
    ],
    seen_by: &[&filter::LID_LIFTED],
    ..Fault::BLANK
};

pub static SOCK_BYPASS: Fault = Fault {
    id: "sock-bypass",
    title: "Water runs past the full sock",
    what: "A sock is full after three or four days; then its dirt goes on into the tank.",
    rate: Rate::Common,
    needs: SUMP,
    signs: &[
        (&filter::SOCK_OVERFLOWING, Itself),
        (&filter::PARTICLES_DRIFTING, Usually),
    ],
    seen_by: &[&filter::SOCK_OVERFLOWING],
    ..Fault::BLANK
};

pub static SUMP_OVERFULL: Fault = Fault {
    id: "sump-overfull",
    title: "The sump would run over in a power cut",
    what: "It stands so high while it runs that what drains back has no room.",
    rate: Rate::Uncommon,
    needs: SUMP,
    signs: &[(&filter::SUMP_LEVEL_HIGH, Itself)],
    seen_by: &[&filter::SUMP_LEVEL_HIGH],
    ..Fault::BLANK
};

pub static ANIMALS_DRAWN_IN: Fault = Fault {
    id: "animals-drawn-in",
    title: "Animals are drawn into the filter",
    what: "Fry, shrimp and weak fish go where the water goes.",
    rate: Rate::Uncommon,
    needs: Some(Need {
        else_out: "Every intake in the tank file has a sponge, or there is none.",
        met: |tank| {
            tank.things
                .iter()
                .any(|thing| matches!(thing.what.form().inlet(), Inlet::Tube { .. }))
                && !tank.has_intake_sponge()
        },
    }),
    signs: &[
        (&filter::ANIMALS_IN_FILTER, Itself),
        (&computed::NO_PREFILTER, Usually),
        (&fish::DEATHS_STEADY, Seldom),
    ],
    events: &[Precedes {
        event: &events::ANIMAL_MISSING,
        strength: Usually,
        window_days: 14.0,
    }],
    seen_by: &[&filter::ANIMALS_IN_FILTER],
    ..Fault::BLANK
};
