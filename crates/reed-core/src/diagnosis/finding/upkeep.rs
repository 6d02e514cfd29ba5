//! What was done to the filter, and how often such a thing is done in an ordinary tank. Common practice, no source.

use super::{Finding, Kind, Place};
use crate::diagnosis::check::{Check, Gives};

/// An event with its question, asked of whoever looks after the tank.
macro_rules! happened {
    ($($(#[$doc:meta])* $name:ident = $id:literal, every $usual_days:literal; $says:literal, not $not:literal, asks $asks:literal;)+) => {
        /// Every finding of this file, in the order in which they are asked.
        pub const ALL: &[&Finding] = &[$(&$name),+];

        $($(#[$doc])*
        pub static $name: Finding = Finding {
            id: $id,
            place: Place::Event,
            says: $says,
            says_not: $not,
            asks: $asks,
            leak: 0.03,
            kind: Kind::Event { usual_days: $usual_days },
            look: Some(&Check {
                id: concat!("recall-", $id),
                title: concat!("Recall: ", $says),
                how: "Ask everyone who touches the tank; look at its records.",
                minutes: 0.5,
                gives: Gives::Answer(&$name),
                ..Check::BLANK
            }),
        };)+
    };
}

happened! {
    /// Opened and rinsed.
    FILTER_CLEANED = "filter-cleaned", every 60.0;
        "the filter had been cleaned", not "the filter had not been cleaned", asks "Has the filter been opened or cleaned?";
    /// New media hold air for days.
    FILTER_OR_MEDIA_NEW = "filter-or-media-new", every 365.0;
        "filter or media are new", not "neither filter nor media are new", asks "Is the filter new, or have new media gone in?";
    /// Packed again.
    MEDIA_REPLACED = "media-replaced", every 180.0;
        "media had been replaced", not "no media had been replaced", asks "Have media been replaced or added?";
    /// Cold water carries more gas.
    REFILL_COLDER = "refill-colder", every 30.0;
        "the refill was colder than the tank", not "the refill was as warm as the tank", asks "Did colder water go in at the last water change?";
    /// It changed the current.
    SECOND_FILTER_ADDED = "second-filter-added", every 730.0;
        "a second filter had been added", not "no filter had been added", asks "Has a second filter been added?";
    /// Does not fade soon.
    SOAP_NEAR_TANK = "soap-near-tank", every 730.0;
        "soap or detergent had been used near the tank", not "no soap came near the tank", asks "Has soap, detergent or glass cleaner been used near the tank, or a bucket that held it?";
    /// The motor cover was off.
    IMPELLER_SERVICED = "impeller-serviced", every 180.0;
        "the impeller had been taken out", not "the impeller had not been touched", asks "Has the impeller been taken out or the motor cover opened?";
}
