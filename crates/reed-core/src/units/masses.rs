//! Masses of ions and hardness against each other, by definition of the atomic masses.

/// Mass of the ammonium ion per mass of its nitrogen. A judgement.
pub const AMMONIUM_PER_NITROGEN: f64 = 1.288;
/// Mass of the ammonia molecule per mass of its nitrogen.
pub const AMMONIA_PER_NITROGEN: f64 = 1.216;
/// Mass of the nitrite ion per mass of its nitrogen.
pub const NITRITE_PER_NITROGEN: f64 = 3.284;
/// Mass of the nitrate ion per mass of its nitrogen.
pub const NITRATE_PER_NITROGEN: f64 = 4.427;
/// German degrees of hardness in a milliequivalent per litre.
pub const DEGREES_PER_MEQ: f64 = 2.804;
/// Calcium carbonate in a German degree of hardness, mg/L.
pub const CALCIUM_CARBONATE_PER_DEGREE: f64 = 17.848;
/// Calcium carbonate in a milliequivalent, mg.
pub const CALCIUM_CARBONATE_PER_MEQ: f64 = 50.04;
