//! What the animals show.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::{Finding, Kind, Place};

/// Signs that animals have died, beside the highest rung of distress.
pub const DEATHS: &[&Finding] = &[
    &DEATHS_STEADY,
    &super::biology::DEATHS_INVERTEBRATES,
    &super::biology::NEWCOMERS_DIE,
];

/// Every finding of this file, in the order in which they are asked.
pub const ALL: &[&Finding] = &[
    &PUMPING_GILLS,
    &KEEPS_TO_TOP,
    &GASPING,
    &DEATHS_OVERNIGHT,
    &PALE_LISTLESS,
    &IRRITATED,
    &BULLIED,
    &DEATHS_STEADY,
    &STARTLED,
    &FISH_OLD,
    &SIGNS_GONE_WHEN_WATCHED,
];

const fn sign(
    id: &'static str,
    says: &'static str,
    says_not: &'static str,
    asks: &'static str,
    leak: f64,
) -> Finding {
    Finding {
        id,
        place: Place::Fish,
        says,
        says_not,
        asks,
        leak,
        kind: Kind::Sign,
        look: None,
    }
}

const fn rung(
    rung: usize,
    id: &'static str,
    says: &'static str,
    says_not: &'static str,
    asks: &'static str,
) -> Finding {
    Finding {
        id,
        place: Place::Fish,
        says,
        says_not,
        asks,
        leak: super::super::distress::LEAK[rung],
        kind: Kind::Rung(rung),
        look: None,
    }
}

/// First rung: breathing hard at rest.
pub static PUMPING_GILLS: Finding = rung(
    0,
    "pumping-gills",
    "Gills pump hard at rest",
    "Gills move calmly",
    "Do jaws and gill covers pump hard in fish that are only cruising? (Not while feeding, chasing, or just after lights-on.)",
);
/// Second rung: seeking the surface.
pub static KEEPS_TO_TOP: Finding = rung(
    1,
    "keeps-to-top",
    "Fish keep to the top",
    "Fish use the whole height",
    "Do fish hang in the top third or in the return's stream?",
);
pub static GASPING: Finding = rung(
    2,
    "gasping",
    "Fish gulp at the surface",
    "No fish gulps",
    "Do fish gulp at the surface with the mouth at the air?",
);
/// Fourth rung: losses by morning.
pub static DEATHS_OVERNIGHT: Finding = rung(
    3,
    "deaths-overnight-largest-first",
    "Losses by morning, the largest first",
    "No losses overnight",
    "Were fish dead in the morning, the big or fast ones before the rest?",
);
pub static PALE_LISTLESS: Finding = sign(
    "pale-listless",
    "Fish are pale and slow to feed",
    "Colour and appetite are good",
    "Are fish pale, or slow to come and feed?",
    0.05,
);
pub static IRRITATED: Finding = sign(
    "irritated",
    "Fish rub themselves or clamp their fins",
    "No rubbing, fins spread",
    "Do fish rub against things or clamp their fins?",
    0.02,
);
pub static BULLIED: Finding = sign(
    "bullied",
    "Some fish are bullied more than before",
    "Nobody is bullied",
    "Are some fish chased or bitten more than before?",
    0.05,
);
pub static DEATHS_STEADY: Finding = sign(
    "deaths-steady",
    "One fish after another dies",
    "No steady losses",
    "Has one fish after another died over days or weeks?",
    0.02,
);
/// A harmless reason to breathe fast.
pub static STARTLED: Finding = sign(
    "startled-lights-just-on",
    "The lights had just come on, or something startled them",
    "Nothing had startled them",
    "Had the lights just come on, or had something startled the fish?",
    0.05,
);
pub static FISH_OLD: Finding = sign(
    "fish-old",
    "The fish concerned are old",
    "The fish concerned are not old",
    "Are the fish concerned near the end of their usual life?",
    0.05,
);
/// Settles whether the water is to blame at all.
pub static SIGNS_GONE_WHEN_WATCHED: Finding = sign(
    "signs-gone-when-watched",
    "After 20 quiet minutes the signs were gone",
    "After 20 quiet minutes the signs were still there",
    "Sit still before the tank for 20 minutes, lights on: are the signs gone by then?",
    0.02,
);
