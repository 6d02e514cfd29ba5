//! What moves the water through a filter and what holds it back: laws of pipes, beds and pumps. What
//! a filter is made of stands with the tank, in `tank::filter`.

pub mod air;
pub mod airlift;
pub mod bed;
pub mod bucket;
pub mod clogging;
pub mod cut;
pub mod dirt;
pub mod history;
pub mod hose;
pub mod judged;
pub mod load;
pub mod operating;
pub mod plumbed;
pub mod pump;
pub mod rise;
pub mod state;
pub mod sump_levels;
pub mod water;

pub use airlift::AirLift;
pub use bed::{Bed, Fill};
pub use clogging::Clogging;
pub use dirt::Catch;
pub use history::History;
pub use hose::Hose;
pub use load::Load;
pub use operating::{Operating, System, operating_point};
pub use plumbed::{Laid, Plumbing, Pressed, Taken};
pub use pump::Pump;
pub use state::State;
pub use water::Water;

/// Acceleration of free fall, m/s², exact by definition (ISO 80000-3, 2019).
pub const GRAVITY: f64 = 9.806_65;

/// Litres an hour as cubic metres a second.
pub(crate) fn m3_per_s(l_per_h: f64) -> f64 {
    l_per_h / 3.6e6
}
