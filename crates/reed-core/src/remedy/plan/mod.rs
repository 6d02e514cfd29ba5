//! Plans: sets of up to four changes that together reach what has to be reached, and the order in
//! which they are made.
//!
//! [`Reckoner`] says what any set of changes comes to, by the same models as a single one;
//! [`search`] goes through the sets and keeps a few that truly differ; [`stages`] says what is done
//! tonight, this week and later; [`try_in_water`] what it makes of the flow.

mod currents;
mod goal;
mod price;
mod reckoner;
mod search;
mod stages;

pub use currents::{Currents, Helps, Step, Tried, alters_flow, try_in_water};
pub use goal::{Aim, Goal};
pub use price::{MOST_EUROS, MOST_MINUTES, Price, Prices};
pub use reckoner::{Outcome, Reckoned, Reckoner, after};
pub use search::{Found, Lost, Plan, Progress, Way, candidates, go_together, search, unsolved};
pub use stages::{Stage, Visit, stages};

/// At most so many changes make a plan. A judgement: who changes more at once learns nothing.
pub const MOST_CHANGES: usize = 4;
