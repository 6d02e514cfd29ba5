//! Dissolved substances other than oxygen.

mod ammonia;
mod carbon_dioxide;

pub use ammonia::un_ionised_share;
pub use carbon_dioxide::from_ph_and_kh;
