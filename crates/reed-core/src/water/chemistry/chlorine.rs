//! Chlorine and chloramine of tap water, and what a conditioner leaves of them.

/// Ammonia nitrogen that a milligram of chloramine, as chlorine, leaves behind when its chlorine is
/// taken: 14.007/70.906, by stoichiometry of monochloramine.
pub const NITROGEN_PER_CHLORAMINE: f64 = 14.007 / 70.906;

/// Conditioner for so much water by what its label gives for 100 L. For all the water that needs
/// it: a tank that is filled from the hose is dosed for the whole tank.
pub fn conditioner_ml(litres: f64, ml_per_100_l: f64) -> f64 {
    litres * ml_per_100_l / 100.0
}

#[cfg(test)]
mod tests {
    use super::{NITROGEN_PER_CHLORAMINE, conditioner_ml};

    /// Water works hold some 2 mg/L of chloramine: it leaves 0.4 mg/L N of ammonia, four times what
    /// a kit shows as zero.
    #[test]
    fn chloramine_leaves_ammonia() {
        assert!((2.0 * NITROGEN_PER_CHLORAMINE - 0.395).abs() < 1e-3);
        assert!((conditioner_ml(60.0, 5.0) - 3.0).abs() < 1e-12);
    }
}
