//! What to change, what that would do, and whether it did.
//!
//! [`change`] is a catalogue of cards. No card says what it achieves: [`offers`] makes the change to
//! every tank that is believed in and runs the twin again; [`plan`] does so with several at once.
//! [`proof`] compares a later reading with what was forecast.

pub mod change;
pub mod choosing;
pub mod duty;
pub mod effect;
pub mod first_aid;
mod offer;
pub mod plan;
pub mod proof;
pub mod service;
pub mod shopping;

pub use change::Change;
pub use duty::{Deed, Duty, duties};
pub use effect::Effects;
pub use offer::{EFFORT_WORTH_EVERYTHING, Offer, advice, offers};
pub use shopping::{Item, Shopping};
