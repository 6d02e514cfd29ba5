//! Oxygen: how much water can hold, what brings it in, what uses it up, and the day that follows.
//!
//! [`saturation`] and [`atmosphere`] say what water holds. [`exchange`] (surface, bubbles, falling
//! water) and [`demand`] (animals, bacteria, plants, waste) are the terms. [`Course`] integrates
//! them over a day in closed form and [`Outage`] over a power cut.

pub mod atmosphere;
mod day;
pub mod demand;
pub mod exchange;
pub mod formulas;
mod outage;
mod saturation;

pub use day::{CEILING, Course, Leg, Settled};
pub use outage::{Outage, Reaches};
pub use saturation::{OutsideFit, saturation};
