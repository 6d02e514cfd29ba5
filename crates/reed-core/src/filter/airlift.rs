//! Water that rising air lifts through the riser of a sponge filter.

use super::operating::where_spent;
use super::{GRAVITY, Hose, Pump, Water, m3_per_s};
use crate::tank::thing::Air;

/// A riser with air let in at its foot.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct AirLift {
    /// Its inner width, m.
    pub bore: f64,
    /// From where air comes in to its mouth, m.
    pub length: f64,
    /// How much of that is below the water surface, m.
    pub submerged: f64,
    /// Air, L/h.
    pub air_l_per_h: f64,
}

impl AirLift {
    /// Of a thing that lets air rise in the tank, its foot so deep below the surface, m.
    pub fn of(air: &Air, foot_below_surface: f64) -> Self {
        /// Of the riser, m. A judgement.
        const BORE: f64 = 0.025;
        // Air comes in at its foot and leaves at its mouth.
        let length = (air.above.as_cm() / 100.0).max(0.01);
        Self {
            bore: BORE,
            length,
            submerged: foot_below_surface.clamp(0.0, length),
            air_l_per_h: air.flow.as_litres_per_hour(),
        }
    }

    /// As a pump: what it lifts against nothing, but no more than its label says, since the sponge
    /// and the bends of the riser hold back too; and the head at which nothing flows, with a straight
    /// line between.
    pub fn as_pump(&self, label_l_per_h: f64, water: &Water) -> Pump {
        Pump::Straight {
            most_head: (self.submerged - self.length * (1.0 - self.air_share(0.0))).max(1e-3),
            most_flow: self.lifts(water).clamp(1.0, label_l_per_h.max(1.0)),
        }
    }

    /// Share of the riser that is air when so much water goes up with it, L/h: air rises faster than
    /// the mixture, by Nicklin, Wilkes & Davidson 1962.
    fn air_share(&self, water_l_per_h: f64) -> f64 {
        /// Of the mean speed, in the middle of a pipe, published: Nicklin and others 1962.
        const PROFILE: f64 = 1.2;
        /// Of a long bubble in still water, over √(gD), published: Nicklin and others 1962.
        const SLUG: f64 = 0.35;
        let area = std::f64::consts::FRAC_PI_4 * self.bore * self.bore;
        let [air, water] = [self.air_l_per_h, water_l_per_h].map(|flow| m3_per_s(flow) / area);
        air / (PROFILE * (air + water) + SLUG * (GRAVITY * self.bore).sqrt())
    }

    /// Water that it lifts, L/h: as much as makes the column of water and air in the riser, with what
    /// rubs along its wall and comes to rest at its mouth, weigh as the water outside. 0 where the
    /// air does not reach.
    pub fn lifts(&self, water: &Water) -> f64 {
        /// Water for air, a bound that is never met. A judgement.
        const MOST_PER_AIR: f64 = 200.0;
        let spare = |flow: f64| {
            let liquid = 1.0 - self.air_share(flow);
            let pipe = Hose {
                bore: self.bore,
                length: self.length,
                fittings: super::hose::fitting::ENTRANCE + super::hose::fitting::EXIT,
                roughness: 0.0,
            };
            // The water in the riser is faster than it would be alone, by the room that air takes.
            self.submerged - self.length * liquid - pipe.loss(flow / liquid, water) * liquid
        };
        // No air lifts so many times its own volume of water.
        where_spent(spare, MOST_PER_AIR * self.air_l_per_h).unwrap_or(0.0)
    }
}
