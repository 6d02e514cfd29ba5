//! The log of a tank: everything dated, in one place.
//!
//! An [`Entry`] says what happened or is planned, when and how exactly that is known, on what, and
//! how much. What such a thing means is declared once, at its [`Happening`]: what it tells the
//! diagnosis, what it does to the water, what of the tank file it makes true, and in which words a
//! keeper types it. Every model reads the same entries, so that none is asked what another knows.

mod details;
mod effect;
mod entry;
mod happening;
mod kinds;
mod meaning;
pub mod quick;
pub mod sheet;
mod when;

pub use details::{BeyondBound, Cleaned, Details, How, Layer, WORST_GRADE, WaterInside};
pub use effect::Effect;
pub use entry::{Entry, On};
pub use happening::{Family, Happening, Makes, Measure, OnWhat, Quantity, Tells};
pub use meaning::LONGEST_NOTE;
pub use when::{ROUGHLY, Rough, When};
