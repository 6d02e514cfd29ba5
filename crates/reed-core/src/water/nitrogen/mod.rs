//! Nitrogen: from food to ammonia, nitrite and nitrate, on surfaces, and out with the water that is
//! changed.

pub mod capture;
pub mod changes;
pub mod cycle;
mod surface;

pub use changes::peak_between_changes;
pub use surface::{
    HALF_AT_OXYGEN_MG_L, HALF_AT_TAN_MG_L, KIT_ZERO_MG_L, MOST_G_M2_DAY, PER_DEGREE,
    areal_rate_g_m2_day,
};

/// Mass of the nitrate ion per mass of its nitrogen.
pub const NITRATE_PER_NITROGEN: f64 = 4.427;
/// Mass of the nitrite ion per mass of its nitrogen.
pub const NITRITE_PER_NITROGEN: f64 = 3.284;
/// German degrees of carbonate hardness in a milliequivalent of alkalinity per litre.
pub const DKH_PER_MEQ: f64 = 2.804;
