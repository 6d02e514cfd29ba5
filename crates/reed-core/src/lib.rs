//! The keeper's job, without a screen: what stands in the tank, what it does, what is wrong, what
//! to change.
//!
//! Read in this order: [`tank`] (what stands there) → [`twin`] (what it does) → [`outlook`] (what
//! comes) → [`diagnosis`] (which faults, how sure, why) → [`remedy`] (what a change would do: the
//! same twin again). [`water`] holds the relations the twin is made of, [`filter`] those of pumps,
//! hoses and beds, [`flow`] what the solver of
//! `reed_flow` says of the drawing, [`document`] the open file format, [`units`] and [`figure`] the
//! numbers everything is written in. Each looks down only; see the floors in `ARCHITECTURE.md`.
//!
//! There is no clock, file, database or markup in this crate: the hour and the date are arguments.

#[macro_use]
mod macros;

pub mod alarm;
pub mod choice;
pub mod diagnosis;
pub mod document;
pub mod field;
pub mod figure;
pub mod filter;
pub mod flow;
pub mod log;
pub mod outlook;
pub mod rehearsal;
pub mod remedy;
pub mod routine;
pub mod sensor;
pub mod statistics;
pub mod tank;
pub mod twin;
pub mod units;
pub mod water;
