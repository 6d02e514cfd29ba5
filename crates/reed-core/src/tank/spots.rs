//! Heights and distances at which things that move water are set as a rule.

use super::Tank;

/// From the middle of a thing to its wall, cm. A judgement.
const FROM_WALL_CM: f64 = 4.0;
/// A mouth that is to stir the surface lies so far below it, cm. A judgement.
const BELOW_SURFACE_CM: f64 = 3.0;
/// The middle of a low intake lies so far above the bed, cm: a hand's breadth. Common practice, no
/// source.
const ABOVE_BED_CM: f64 = 8.0;

impl Tank {
    /// From a wall to the middle of a thing that is fixed on it, cm; less in a small tank.
    pub fn off_wall_cm(&self) -> f64 {
        FROM_WALL_CM
            .min(self.glass.width.as_cm() / 4.0)
            .min(self.glass.length.as_cm() / 4.0)
    }

    /// Height of the middle of a low intake above the tank's floor, cm.
    pub fn low_cm(&self) -> f64 {
        let bed = self.bed_level_cm();
        (bed + ABOVE_BED_CM).min(f64::midpoint(bed, self.water_depth.as_cm()))
    }

    /// Height of a mouth that is to stir the surface above the tank's floor, cm.
    pub fn near_surface_cm(&self) -> f64 {
        (self.water_depth.as_cm() - BELOW_SURFACE_CM).max(self.bed_level_cm())
    }
}
