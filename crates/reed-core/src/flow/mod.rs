//! The tank as the flow solver sees it, and what the flow means to its keeper.
//!
//! [`Drawn`] turns a [`Tank`](crate::tank::Tank) into a scene of `reed_flow`, in metres from the front left corner of the bed's
//! surface. [`Facts`] keeps what a survey of it found as plain data, [`words`] says it.

mod facts;
mod scene;
pub mod words;

pub use facts::{Facts, Intake, Range, Spot, key};
pub use scene::{Drawn, LeftOut};
