//! Nitrification on a surface, and what is left of it as nitrate.

use crate::figure::Figure;
use crate::units::Temperature;

/// Most ammonia nitrogen that a square metre of settled surface turns over in a day at 25 °C, g.
pub const MOST_G_M2_DAY: Figure = Figure::from_memory(0.6);
/// Ammonia nitrogen at which it turns over half of that, mg/L.
pub const HALF_AT_TAN_MG_L: Figure = Figure::from_memory(0.5);
/// Oxygen at which it turns over half of that, mg/L.
pub const HALF_AT_OXYGEN_MG_L: Figure = Figure::from_memory(1.0);
/// Factor per degree.
pub const PER_DEGREE: Figure = Figure::from_memory(1.08);
/// Ammonia nitrogen that kits show as zero, mg/L. Common practice.
pub const KIT_ZERO_MG_L: f64 = 0.1;
/// Mass of the nitrate ion per mass of its nitrogen.
pub const NITRATE_PER_NITROGEN: f64 = 4.427;

/// Ammonia nitrogen that a settled surface turns over, g per m² and day: Monod in ammonia and oxygen.
pub fn areal_rate_g_m2_day(tan_mg_l: f64, oxygen_mg_l: f64, temperature: Temperature) -> f64 {
    let monod = |value: f64, half: Figure| value.max(0.0) / (value.max(0.0) + half.value);
    MOST_G_M2_DAY.value
        * monod(tan_mg_l, HALF_AT_TAN_MG_L)
        * monod(oxygen_mg_l, HALF_AT_OXYGEN_MG_L)
        * PER_DEGREE.value.powf(temperature.as_celsius() - 25.0)
}

/// Where a level ends up just before each change, when so much is gained between changes and each replaces a fraction:
/// the geometric series `tap + gain / fraction`.
pub fn peak_between_changes(tap: f64, gain: f64, fraction: f64) -> f64 {
    tap + gain / fraction.max(1e-6)
}

#[cfg(test)]
mod tests {
    use super::{areal_rate_g_m2_day, peak_between_changes};
    use crate::units::Temperature;

    #[test]
    fn half_the_most_at_each_half_and_eight_percent_per_degree() {
        let rate = |tan, oxygen, celsius| areal_rate_g_m2_day(tan, oxygen, Temperature::celsius(celsius));
        assert!((rate(0.5, 1e12, 25.0) - 0.3).abs() < 1e-9 && (rate(1e12, 1.0, 25.0) - 0.3).abs() < 1e-9);
        assert!((rate(0.5, 7.0, 26.0) / rate(0.5, 7.0, 25.0) - 1.08).abs() < 1e-12);
    }

    /// The series against playing the changes one by one.
    #[test]
    fn the_peak_is_where_two_hundred_changes_end() {
        let (tap, gain, fraction) = (5.0, 8.0, 0.2);
        let peak = (0..200).fold(tap, |after_change: f64, _| tap * fraction + (after_change + gain) * (1.0 - fraction)) + gain;
        assert!((peak - peak_between_changes(tap, gain, fraction)).abs() < 1e-9);
    }
}
