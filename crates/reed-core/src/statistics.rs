//! The normal curve, and the band that every forecast of oxygen and of flow is drawn with.

/// Half-width of the band that is drawn, in standard deviations: four in five readings should fall
/// inside. By definition.
pub const BAND: f64 = 1.28;

/// Normal distribution function: chance of being below `z` standard deviations.
///
/// Abramowitz & Stegun 1964, 7.1.26: absolute error below 1.5e-7, far finer than any figure it
/// serves here.
pub fn normal_below(z: f64) -> f64 {
    let x = z.abs() / std::f64::consts::SQRT_2;
    let t = 1.0 / (1.0 + 0.327_591_1 * x);
    let poly = t
        * (0.254_829_592
            + t * (-0.284_496_736
                + t * (1.421_413_741 + t * (-1.453_152_027 + t * 1.061_405_429))));
    let upper = 0.5 * poly * (-x * x).exp();
    if z >= 0.0 { 1.0 - upper } else { upper }
}

/// Density of a normal distribution.
pub fn normal_density(value: f64, mean: f64, sd: f64) -> f64 {
    (-0.5 * ((value - mean) / sd).powi(2)).exp() / (sd * (2.0 * std::f64::consts::PI).sqrt())
}

#[cfg(test)]
mod tests {
    use super::normal_below;

    /// Quantiles as in any table of the normal distribution.
    #[test]
    fn the_normal_distribution_meets_its_table() {
        for (z, below) in [
            (0.0, 0.5),
            (1.0, 0.841_345),
            (-1.96, 0.024_998),
            (2.576, 0.995_002),
        ] {
            assert!((normal_below(z) - below).abs() < 1e-6, "{z}");
        }
    }
}
