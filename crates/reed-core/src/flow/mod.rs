//! The tank as the flow solver sees it, and what the flow means to its keeper.
//!
//! [`Drawn`] turns a [`Tank`](crate::tank::Tank) into a scene of `reed_flow`, in metres from the
//! front left corner of the bed's surface. [`Facts`] keeps what a survey of it found as plain data,
//! [`words`] says it.

mod compare;
mod drift_test;
mod facts;
mod scene;
pub mod search;
pub mod words;

pub use compare::{Compared, Verdict, compared};
pub use drift_test::{DriftTest, Pinch, Trust, says};
pub use facts::{Facts, Intake, Range, Spot, key};
pub use scene::{Drawn, LeftOut};
