//! A bed of grains: what it takes of the pressure.

use super::{GRAVITY, Water, m3_per_s};

/// A bed of media that the water passes.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Bed {
    /// Across the stream, m².
    pub area: f64,
    /// Along the stream, m.
    pub depth: f64,
    /// Width of a grain, m.
    pub grain: f64,
    /// Share of it that is water, 0 to 1.
    pub porosity: f64,
    /// How many times what the clean bed takes: 1 is clean. What settles in it fills the narrowest
    /// ways first, so a clogged bed takes hundreds of times as much long before it is full.
    pub clogging: f64,
}

impl Bed {
    /// Pressure lost at a flow in L/h, Pa: Ergun 1952, times what clogs it. Up to a porosity of 0.5
    /// other correlations give 0.72 to 1.19 of it; above 0.6 it is drawn out beyond what was measured.
    pub fn pressure_loss(&self, l_per_h: f64, water: &Water) -> f64 {
        let speed = m3_per_s(l_per_h) / self.area;
        let solid = 1.0 - self.porosity;
        let ways = self.porosity.powi(3);
        let viscous =
            150.0 * water.viscosity * solid * solid * speed / (ways * self.grain * self.grain);
        let inertial = 1.75 * water.density * solid * speed * speed / (ways * self.grain);
        self.clogging * self.depth * (viscous + inertial)
    }

    /// The same as a head, m of water.
    pub fn loss(&self, l_per_h: f64, water: &Water) -> f64 {
        self.pressure_loss(l_per_h, water) / (water.density * GRAVITY)
    }
}
