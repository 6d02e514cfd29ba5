//! What moves the water through a filter and what holds it back: laws of pipes, beds and pumps. What
//! a filter is made of stands with the tank, in `tank::filter`.

pub mod bed;
pub mod hose;
pub mod operating;
pub mod plumbed;
pub mod pump;
pub mod water;

pub use bed::Bed;
pub use hose::Hose;
pub use operating::{Operating, System, operating_point};
pub use plumbed::clean_flow;
pub use pump::Pump;
pub use water::Water;

/// Acceleration of free fall, m/s², exact by definition (ISO 80000-3, 2019).
pub const GRAVITY: f64 = 9.806_65;

/// Litres an hour as cubic metres a second.
pub(crate) fn m3_per_s(l_per_h: f64) -> f64 {
    l_per_h / 3.6e6
}
