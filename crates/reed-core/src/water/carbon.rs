//! The carbon dioxide of one well-mixed box through a day.
//!
//! `dC/dt = k·(room − C) + given − P(t)·C/(C + K)`: exchange towards what room air leaves in water,
//! what animals, bacteria and plants breathe out, and what plants take in the light. They can only
//! take what is there, so unlike the oxygen of a [`Course`](super::oxygen::Course) it has no closed
//! form: it is stepped, a quarter of an hour at a time, each step exact for the rates at its start,
//! until the day repeats itself.

use crate::figure::Figure;

/// Water at rest with room air holds about so much, mg/L: half to twice of it, by how often the
/// room is aired.
pub const ROOM_MG_L: Figure = Figure::from_memory(0.8);
/// How much slower it crosses the surface than oxygen does.
pub const SLOWER_THAN_OXYGEN: Figure = Figure::from_memory(0.95);
/// Carbon dioxide breathed out per gram of oxygen used: a respiratory quotient of 0.9 · 44/32.
pub const PER_OXYGEN_BREATHED: Figure = Figure::from_memory(1.24);
/// Carbon dioxide that plants take per gram of oxygen they give: one for one by volume, 44/32.
pub const PER_OXYGEN_MADE: Figure = Figure::published(1.375, "stoichiometry of photosynthesis");
/// Carbon dioxide that a milligram of nitrogen drives out of carbonate hardness on its way from
/// waste to nitrate: 44/14 by stoichiometry.
pub const PER_NITROGEN: Figure = Figure::published(44.0 / 14.0, "stoichiometry of nitrification");
/// Level at which plants take half as fast as they could, mg/L. Where it runs short many go over to
/// carbonates, which is left out.
pub const HALF_FOR_PLANTS_MG_L: Figure = Figure::from_memory(0.5);

/// The usual ceiling of tanks that dose it, mg/L. From memory.
pub const CEILING_MG_L: f64 = 30.0;
/// Above this fish are in distress at normal oxygen, mg/L. From memory.
pub const DISTRESS_MG_L: f64 = 40.0;

/// Steps of a day. Numeric, no result hangs on it.
pub const STEPS: usize = 96;
/// Hours of a step, exact.
const STEP_H: f64 = 24.0 / STEPS as f64;
/// A day repeats itself to within this, mg/L, or so many days were tried. Numeric, no result hangs
/// on it.
const SAME_MG_L: f64 = 1e-3;
const MOST_DAYS: usize = 60;

/// Everything that acts on it over a day, the same every day.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct CarbonCourse {
    /// Exchange, per hour, with the lights on and off.
    pub exchange_per_h: [f64; 2],
    /// Breathed out and set free, day and night, mg/L per hour.
    pub given_mg_l_h: f64,
    /// What plants would take at noon of their day, mg/L per hour.
    pub taken_peak_mg_l_h: f64,
    /// Dosed while the lights are on, mg/L per hour.
    pub dosed_mg_l_h: f64,
    /// Hour at which the lights go on, and for how many hours.
    pub lights: (f64, f64),
}

/// A day that repeats itself, mg/L at each quarter of an hour from midnight.
#[derive(Clone, Debug, PartialEq)]
pub struct Day(pub [f64; STEPS]);

impl CarbonCourse {
    /// Moves a level on by a step that begins at this hour.
    fn step(&self, level: f64, hour: f64) -> f64 {
        let (on, hours) = self.lights;
        let since = (hour + STEP_H / 2.0 - on).rem_euclid(24.0);
        let lit = since < hours;
        let exchange = self.exchange_per_h[usize::from(!lit)];
        let plants = if lit {
            self.taken_peak_mg_l_h * (std::f64::consts::PI * since / hours).sin()
        } else {
            0.0
        };
        let loss = exchange + plants / (level + HALF_FOR_PLANTS_MG_L.value);
        let gain = exchange * ROOM_MG_L.value
            + self.given_mg_l_h
            + if lit { self.dosed_mg_l_h } else { 0.0 };
        // Without any loss it would rise along a straight line, of which this is the limit.
        let left = (-loss.max(1e-9) * STEP_H).exp();
        level * left + gain / loss.max(1e-9) * (1.0 - left)
    }

    /// The day it comes to.
    pub fn settled(&self) -> Day {
        let mut day = [ROOM_MG_L.value; STEPS];
        let mut level = ROOM_MG_L.value;
        for _ in 0..MOST_DAYS {
            let midnight = level;
            for (index, slot) in day.iter_mut().enumerate() {
                *slot = level;
                level = self.step(level, index as f64 * STEP_H);
            }
            if (level - midnight).abs() < SAME_MG_L {
                break;
            }
        }
        Day(day)
    }
}

impl Day {
    /// At this hour of the day, mg/L.
    pub fn at(&self, hour: f64) -> f64 {
        let place = hour.rem_euclid(24.0) / STEP_H;
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "an index of a day"
        )]
        let index = (place as usize).min(STEPS - 1);
        let part = place - index as f64;
        self.0[index] * (1.0 - part) + self.0[(index + 1) % STEPS] * part
    }

    /// Mean of the day, mg/L.
    pub fn mean(&self) -> f64 {
        self.0.iter().sum::<f64>() / STEPS as f64
    }
}

#[cfg(test)]
mod tests {
    use super::{CarbonCourse, ROOM_MG_L};

    const FISH: CarbonCourse = CarbonCourse {
        exchange_per_h: [0.2, 0.2],
        given_mg_l_h: 0.6,
        taken_peak_mg_l_h: 0.0,
        dosed_mg_l_h: 0.0,
        lights: (9.0, 10.0),
    };

    /// In balance what is breathed out leaves through the surface: by hand, 0.6 / 0.2 above room
    /// level.
    #[test]
    fn without_plants_it_stands_where_breath_and_surface_are_even() {
        let day = FISH.settled();
        assert!(
            (day.mean() - ROOM_MG_L.value - 3.0).abs() < 0.02
                && (day.at(3.3) - day.at(15.0)).abs() < 0.02,
            "{}",
            day.mean()
        );
        let still = CarbonCourse {
            exchange_per_h: [0.05, 0.05],
            ..FISH
        }
        .settled();
        assert!(
            still.mean() > 3.0 * day.mean(),
            "a still surface keeps it in: {}",
            still.mean()
        );
    }

    /// Plants turn the day round: most before the lights, least in the afternoon, and never less
    /// than nothing.
    #[test]
    fn plants_take_it_by_day_and_no_more_than_there_is() {
        let planted = CarbonCourse {
            taken_peak_mg_l_h: 2.0,
            ..FISH
        }
        .settled();
        assert!(
            planted.at(8.9) > 3.0 && planted.at(14.5) < 1.5,
            "{} {}",
            planted.at(8.9),
            planted.at(14.5)
        );
        let thicket = CarbonCourse {
            taken_peak_mg_l_h: 50.0,
            ..FISH
        }
        .settled();
        assert!(thicket.0.iter().all(|level| *level > 0.0) && thicket.at(14.0) < 0.1);
        let dosed = CarbonCourse {
            taken_peak_mg_l_h: 2.0,
            dosed_mg_l_h: 4.0,
            ..FISH
        }
        .settled();
        assert!(dosed.at(16.0) > planted.at(16.0) + 8.0);
    }
}
