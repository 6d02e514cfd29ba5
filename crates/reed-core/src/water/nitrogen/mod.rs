//! Nitrogen: from food to ammonia, nitrite and nitrate, on surfaces, and out with the water that is
//! changed.

pub mod capture;
pub mod changes;
pub mod cycle;
mod surface;

pub use changes::peak_between_changes;
pub use surface::{
    HALF_AT_OXYGEN_MG_L, HALF_AT_TAN_MG_L, KIT_ZERO_MG_L, MOST_G_M2_DAY, PER_DEGREE,
    areal_rate_formula, areal_rate_g_m2_day,
};
