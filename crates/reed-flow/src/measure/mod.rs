//! What a flow means: how briskly the surface moves, where the bed is slow, where muck comes to
//! rest, what an intake catches.
//!
//! Each measure takes a [`Field`](crate::Field) and gives one number or one map. How far such a
//! number can be trusted is told by taking it again under other assumptions: see
//! [`Survey`](crate::Survey).

pub(crate) mod bubbles;
pub(crate) mod drifting;
pub(crate) mod facing;
pub(crate) mod food_release;
pub(crate) mod maps;
pub(crate) mod muck;
pub(crate) mod places;
pub(crate) mod speeds;
pub(crate) mod surfacing;

pub use bubbles::{Rise, taken_in};
pub use facing::facing;
pub use food_release::drifted;
pub use maps::Maps;
pub use muck::{BINS, Deposit, Muck};
pub use places::{IntakePlace, Places};
pub use speeds::{
    BedCurrent, GENTLE, SLOW, bed_current, bed_speed, gentle_share, loop_turns, mean_speed,
    slow_share, surface_renewal, surface_speed,
};
pub use surfacing::seconds_since_surface;
