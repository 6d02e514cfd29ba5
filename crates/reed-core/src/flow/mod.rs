//! The tank as the flow solver sees it, and what the flow means to its keeper.
//!
//! [`TankScene`] turns a [`Tank`](crate::tank::Tank) into a scene of `reed_flow`, in metres from the
//! front left corner of the bed's surface. [`Facts`] keeps what a survey of it found as plain data,
//! [`words`] says it.

mod compare;
mod drift_trial;
mod facts;
mod scene;
pub mod search;
pub mod words;

pub use compare::{Compared, Verdict, compared};
pub use drift_trial::{DriftTrial, FoodRelease, Trust, says};
pub use facts::{Facts, Intake, Range, Spot, key};
pub use scene::{LeftOut, TankScene};
