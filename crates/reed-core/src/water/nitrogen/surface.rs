//! Nitrification on a surface: what a settled square metre turns over.

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

/// Ammonia nitrogen that a settled surface turns over, g per m² and day: Monod in ammonia and
/// oxygen.
pub fn areal_rate_g_m2_day(tan_mg_l: f64, oxygen_mg_l: f64, temperature: Temperature) -> f64 {
    let monod = |value: f64, half: Figure| value.max(0.0) / (value.max(0.0) + half.value);
    MOST_G_M2_DAY.value
        * monod(tan_mg_l, HALF_AT_TAN_MG_L)
        * monod(oxygen_mg_l, HALF_AT_OXYGEN_MG_L)
        * PER_DEGREE.value.powf(temperature.as_celsius() - 25.0)
}

/// The same as a page prints it.
pub fn areal_rate_formula() -> String {
    format!(
        "rmax · TAN/(K + TAN) · O₂/(Ko + O₂) · {}^(T − 25)",
        PER_DEGREE.value
    )
}

#[cfg(test)]
mod tests {
    use super::areal_rate_g_m2_day;
    use crate::units::Temperature;

    #[test]
    fn half_the_most_at_each_half_and_eight_percent_per_degree() {
        let rate =
            |tan, oxygen, celsius| areal_rate_g_m2_day(tan, oxygen, Temperature::celsius(celsius));
        assert!(
            (rate(0.5, 1e12, 25.0) - 0.3).abs() < 1e-9
                && (rate(1e12, 1.0, 25.0) - 0.3).abs() < 1e-9
        );
        assert!((rate(0.5, 7.0, 26.0) / rate(0.5, 7.0, 25.0) - 1.08).abs() < 1e-12);
    }
}
