//! The nitrogen of a tank, days ahead: ammonia, nitrite, nitrate and carbonate hardness, corrected
//! by the keeper's readings.
//!
//! [`Setting`] says what of a tank sets its course, [`Event`]s change it, [`NitrogenBelief`] holds what is
//! not known exactly as a crowd of guesses weighed by the readings, [`NitrogenOutlook`] is where they go
//! from here, as bands. The equations are those of [`cycle`](crate::water::nitrogen::cycle).
//!
//! What changes them comes from the log of the tank ([`crate::log`]); to add an effect: its variant there, and what it
//! does in `event.rs`.

mod belief;
mod course;
pub mod cycling;
pub mod emergency;
pub mod event;
mod guess;
mod outlook;
mod reached;
mod setting;

#[cfg(test)]
mod tests;

pub use belief::{Learned, NitrogenBelief};
pub use event::{Event, events_of, is_masked, with_habit};
pub use guess::Guess;
pub use outlook::{Bands, NitrogenOutlook};
pub use setting::{Setting, Tap, parts};
