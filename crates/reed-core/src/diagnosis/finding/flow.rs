//! What the flow model computes from the drawing of the tank; never asked. The limits are
//! judgements, no source.
//!
//! It speaks of the layout as drawn alone. Whether the tank has left its drawing (an outlet that
//! slipped, a pad that choked, a film) it cannot know, so no such fault shows a finding of this
//! file.
#![allow(missing_docs, reason = "a card's title says what it is")]

use super::{Finding, Kind, Place, Told};
use crate::flow::{Facts, words};

/// Every finding of this file.
pub const ALL: &[&Finding] = &[
    &INTAKE_CAPTURE,
    &INTAKE_BUBBLES,
    &LOOP_OPPOSED,
    &DEAD_VOLUME,
    &MUCK_BESIDE_ROCK,
];

const fn modelled(
    id: &'static str,
    says: &'static str,
    says_not: &'static str,
    leak: f64,
    tell: fn(&Facts) -> Option<Told>,
) -> Finding {
    Finding {
        id,
        place: Place::Known,
        says,
        says_not,
        asks: "",
        leak,
        kind: Kind::Modelled(tell),
        look: None,
    }
}

/// Intakes that catch less than this share of what would come by at the best place are in the wrong
/// one: one that draws there catches half as much again. A judgement.
const POOR_CATCH: f64 = 0.8;
/// More than this share of small bubbles taken in is many.
const MANY_BUBBLES: f64 = 0.05;
/// Streams that spend more than this share of their thrust against each other are opposed.
const OPPOSED: f64 = 0.3;
/// An intake that catches less than this share of what another does sits where the loop brings
/// nothing.
const IDLE: f64 = 0.25;
/// More than this share of slow water is much.
const MUCH_SLOW: f64 = 0.35;
/// More muck than this many times that of open bed beside rock is a shadow.
const SHADOW: f64 = 1.5;

/// What the intakes catch, and with it how much stays lying, against what one at the best place
/// would.
pub static INTAKE_CAPTURE: Finding = modelled(
    "intake-capture",
    "By the flow model the intakes catch little of the muck",
    "By the flow model the intakes sit where the muck comes by",
    0.25,
    |facts| {
        let share = facts.caught_of_best()?;
        let best = facts.best.first()?.muck * 100.0;
        let caught = facts.caught() * 100.0;
        let says = format!(
            "By the flow model the intakes catch {caught:.0} % of the muck; at the best place one would meet {best:.0} %"
        );
        Some(Told {
            sureness: share.sure_below(POOR_CATCH),
            says,
        })
    },
);
/// Bubbles from outlets and air stones that come to an intake.
pub static INTAKE_BUBBLES: Finding = modelled(
    "intake-bubble-share",
    "By the flow model many small bubbles come to an intake",
    "By the flow model few bubbles come to an intake",
    0.1,
    |facts| {
        let worst = facts
            .intakes
            .iter()
            .max_by(|a, b| a.bubbles.likely.total_cmp(&b.bubbles.likely))?;
        let says = format!(
            "By the flow model {} takes in {} of small bubbles",
            worst.name,
            words::percent(worst.bubbles)
        );
        Some(Told {
            sureness: 1.0 - worst.bubbles.sure_below(MANY_BUBBLES),
            says,
        })
    },
);
/// Streams that face each other, or an intake where the loop brings nothing while another has
/// plenty.
pub static LOOP_OPPOSED: Finding = modelled(
    "loop-opposed",
    "By the flow model the filters work against each other",
    "By the flow model the filters work with each other",
    0.1,
    |facts| {
        let idle = facts.worst_over_best()?;
        let facing = if facts.facing > OPPOSED { 0.9 } else { 0.1 };
        let says = if facts.facing > OPPOSED {
            format!(
                "By the flow model {:.0} % of the thrust is spent by streams against each other",
                facts.facing * 100.0
            )
        } else {
            format!(
                "By the flow model the worst intake catches {} of what the best one does",
                words::percent(idle)
            )
        };
        Some(Told {
            sureness: idle.sure_below(IDLE).max(facing),
            says,
        })
    },
);
pub static DEAD_VOLUME: Finding = modelled(
    "dead-volume",
    "By the flow model much of the water stands",
    "By the flow model little of the water stands",
    0.15,
    |facts| {
        let says = format!(
            "By the flow model {} of the water is slower than 1 cm/s",
            words::percent(facts.slow)
        );
        Some(Told {
            sureness: 1.0 - facts.slow.sure_below(MUCH_SLOW),
            says,
        })
    },
);
/// In the lee of rock.
pub static MUCK_BESIDE_ROCK: Finding = modelled(
    "bed-muck-share",
    "By the flow model muck gathers beside the rock",
    "By the flow model muck does not gather beside the rock",
    0.1,
    |facts| {
        let says = format!(
            "By the flow model {} times as much muck lies beside rock as on open bed",
            words::number(facts.shadow, 1)
        );
        (facts.shadow.high > 0.0).then(|| Told {
            sureness: 1.0 - facts.shadow.sure_below(SHADOW),
            says,
        })
    },
);
