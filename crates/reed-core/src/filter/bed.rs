//! A bed of media: what it takes of the pressure.

use super::{GRAVITY, Water, m3_per_s};

/// What a bed is made of, as far as water that passes it is concerned.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Fill {
    /// Rings, balls, grains.
    Grains {
        /// Width of one, m.
        width: f64,
        /// Share of the bed that is water, 0 to 1.
        porosity: f64,
    },
    /// Foam, floss, pads: open cells.
    Foam {
        /// Darcy's permeability, m².
        permeability: f64,
        /// Forchheimer's factor of inertia.
        inertia: f64,
    },
}

impl Fill {
    /// Foam of so many pores per inch. The permeability of open-cell foams falls with the square of
    /// the width of their pores; 1.6e-7 m² at 10 pores per inch and the factor of inertia are from
    /// memory, right to a factor of two.
    pub fn foam(pores_per_inch: f64) -> Self {
        /// m² at ten pores per inch, from memory.
        const AT_TEN: f64 = 1.6e-7;
        /// From memory.
        const INERTIA: f64 = 0.1;
        Self::Foam {
            permeability: AT_TEN * (10.0 / pores_per_inch).powi(2),
            inertia: INERTIA,
        }
    }
}

/// A bed of media that the water passes.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Bed {
    /// Across the stream, m².
    pub area: f64,
    /// Along the stream, m.
    pub depth: f64,
    /// What it is made of.
    pub fill: Fill,
    /// How many times what the clean bed takes: 1 is clean. What settles in it fills the narrowest
    /// ways first, so a clogged bed takes hundreds of times as much long before it is full.
    pub clogging: f64,
}

impl Bed {
    /// Pressure lost at a flow in L/h, Pa, times what clogs it. Grains by Ergun 1952: up to a
    /// porosity of 0.5 other correlations give 0.72 to 1.19 of it; above 0.6 it is drawn out beyond
    /// what was measured. Foam by Darcy 1856 and Forchheimer 1901.
    pub fn pressure_loss(&self, l_per_h: f64, water: &Water) -> f64 {
        let speed = m3_per_s(l_per_h) / self.area;
        let per_metre = match self.fill {
            Fill::Grains { width, porosity } => {
                let solid = 1.0 - porosity;
                let ways = porosity.powi(3);
                let viscous =
                    150.0 * water.viscosity * solid * solid * speed / (ways * width * width);
                let inertial = 1.75 * water.density * solid * speed * speed / (ways * width);
                viscous + inertial
            }
            Fill::Foam {
                permeability,
                inertia,
            } => {
                let viscous = water.viscosity * speed / permeability;
                let inertial = inertia * water.density * speed * speed / permeability.sqrt();
                viscous + inertial
            }
        };
        self.clogging * self.depth * per_metre
    }

    /// The same as a head, m of water.
    pub fn loss(&self, l_per_h: f64, water: &Water) -> f64 {
        self.pressure_loss(l_per_h, water) / (water.density * GRAVITY)
    }

    /// The same bed when dirt fills this share of its ways, 0 to below 1. Narrower by `1 − share`
    /// they take `(1 − share)⁻³` times as much: the cube of Kozeny 1927.
    #[must_use]
    pub fn filled(self, share: f64) -> Self {
        Self {
            clogging: (1.0 - share.clamp(0.0, MOST_FILLED)).powi(-3),
            ..self
        }
    }
}

/// Ways are never filled further: something always seeps. A judgement.
pub const MOST_FILLED: f64 = 0.98;

#[cfg(test)]
mod tests {
    use super::{Bed, Fill};
    use crate::filter::Water;

    /// Darcy's law alone, by hand: 1 cm/s through 5 cm of 10⁻⁸ m² takes μ·v·L/K.
    #[test]
    fn foam_takes_what_darcy_says_and_finer_foam_more() {
        let water = Water::of(25.0, 0.0);
        let bed = |fill| Bed {
            area: 0.01,
            depth: 0.05,
            fill,
            clogging: 1.0,
        };
        let slow = bed(Fill::Foam {
            permeability: 1e-8,
            inertia: 0.0,
        });
        let by_hand = 8.9e-4 * 0.01 * 0.05 / 1e-8;
        assert!((slow.pressure_loss(360.0, &water) / by_hand - 1.0).abs() < 1e-3);
        let [coarse, fine] = [10.0, 30.0].map(|ppi| bed(Fill::foam(ppi)).loss(400.0, &water));
        // Clean coarse foam costs millimetres. Common practice, no source.
        assert!(
            coarse < 0.005 && fine > 4.0 * coarse && fine < 0.03,
            "{coarse} {fine}"
        );
        let half = bed(Fill::foam(30.0)).filled(0.5);
        assert!((half.clogging - 8.0).abs() < 1e-12);
    }
}
