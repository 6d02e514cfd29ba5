//! Carbon dioxide and pH of a tank through a day: the twin's budget, corrected by what pH and
//! hardness say.
//!
//! Breath, surface and plants give the shape of the day; how high it stands is believed to within a
//! factor, which readings of pH, each with the hardness read nearest to it, narrow.

use jiff::civil::DateTime;

use crate::tank::{Analyte, Reading, Tank};
use crate::twin::{Stirring, Twin};
use crate::units::Concentration;
use crate::units::days_of;
use crate::water::carbon;
use crate::water::chemistry::{from_ph_and_kh, ph_from};

/// Hardness where none was read, dKH. From memory: a middling one.
pub const USUAL_DKH: f64 = 6.0;
/// Standard deviation of the logarithm of what the budget gives. A judgement: within a factor of
/// two, as a rule.
pub const BUDGET_LOG_SPREAD: f64 = 0.6;
/// What one reading is off for reasons of its own, besides the kit: the weather in the room, a day
/// unlike the others. A judgement.
const DAY_LOG_SPREAD: f64 = 0.2;
/// However many readings, the shape of the day stays as doubtful as this. A judgement.
const LEAST_LOG_SPREAD: f64 = 0.15;
/// Readings older than this say nothing of now, days; a pH needs a hardness within as many.
const FRESH_DAYS: f64 = 30.0;
/// A colour step of pH moves what follows from it by this factor's logarithm.
const LOG_PER_PH: f64 = std::f64::consts::LN_10;

/// Standard deviations on either side that hold nine in ten. By definition.
pub const BAND: f64 = 1.645;

/// What is believed of a tank's carbon dioxide.
#[derive(Clone, Debug, PartialEq)]
pub struct Acidity {
    /// A settled day, likeliest, before readings.
    day: carbon::Day,
    /// Times as much as the budget has, likeliest.
    pub factor: f64,
    /// One standard deviation of the logarithm of the carbon dioxide.
    pub log_spread: f64,
    /// Carbonate hardness that it stands with, dKH.
    pub dkh: f64,
    /// The hardness was read.
    pub dkh_is_read: bool,
    /// How many readings of pH counted.
    pub readings: usize,
}

impl Acidity {
    /// Of a tank at a moment, with whatever was read.
    pub fn of(tank: &Tank, stirring: Stirring, readings: &[Reading], now: DateTime) -> Self {
        let day = Twin::stirred(tank, stirring).carbon_dioxide(tank);
        let days_between =
            |one: DateTime, other: DateTime| days_of(one.duration_since(other)).abs();
        let hardness_near = |at: DateTime| {
            let near = readings
                .iter()
                .filter(|reading| reading.analyte == Analyte::KH);
            near.min_by(|one, other| {
                days_between(one.taken_at, at).total_cmp(&days_between(other.taken_at, at))
            })
            .filter(|reading| days_between(reading.taken_at, at) < FRESH_DAYS)
        };
        // Gaussian in the logarithm: what the budget says, then each reading, weighed by how sure
        // it is.
        let (mut weight, mut sum, mut count) = (BUDGET_LOG_SPREAD.powi(-2), 0.0, 0);
        for reading in readings.iter().filter(|reading| {
            reading.analyte == Analyte::PH && days_between(reading.taken_at, now) < FRESH_DAYS
        }) {
            let Some(hardness) = hardness_near(reading.taken_at) else {
                continue;
            };
            let read = from_ph_and_kh(reading.value, hardness.value.max(0.1)).as_mg_l();
            let spread = (LOG_PER_PH * reading.spread)
                .hypot(hardness.spread / hardness.value.max(0.5))
                .hypot(DAY_LOG_SPREAD);
            weight += spread.powi(-2);
            sum += (read / day.at(reading.hour_of_day())).ln() * spread.powi(-2);
            count += 1;
        }
        let dkh = hardness_near(now).map(|reading| reading.value);
        Self {
            day,
            factor: (sum / weight).exp(),
            log_spread: weight.powf(-0.5).max(LEAST_LOG_SPREAD),
            dkh: dkh.unwrap_or(USUAL_DKH),
            dkh_is_read: dkh.is_some(),
            readings: count,
        }
    }

    /// Carbon dioxide at an hour of the day, so many standard deviations from likeliest.
    pub fn carbon_dioxide_at(&self, hour: f64, deviations: f64) -> Concentration {
        Concentration::mg_l(self.day.at(hour) * self.factor * (self.log_spread * deviations).exp())
    }

    /// Its mean of the day, so many standard deviations from likeliest.
    pub fn mean(&self, deviations: f64) -> Concentration {
        Concentration::mg_l(self.day.mean() * self.factor * (self.log_spread * deviations).exp())
    }

    /// pH at an hour of the day, so many standard deviations of carbon dioxide from likeliest: more
    /// of it, less pH.
    pub fn ph_at(&self, hour: f64, deviations: f64) -> f64 {
        ph_from(self.carbon_dioxide_at(hour, -deviations), self.dkh)
    }

    /// The hours of the day at which pH is lowest and highest.
    pub fn turns(&self) -> [f64; 2] {
        let quarters = || (0..carbon::STEPS).map(|index| index as f64 / 4.0);
        let level = |hour: &f64| self.day.at(*hour);
        let by = |one: &f64, other: &f64| level(one).total_cmp(&level(other));
        [
            quarters().max_by(by).unwrap_or(0.0),
            quarters().min_by(by).unwrap_or(0.0),
        ]
    }
}

#[cfg(test)]
mod tests {
    use jiff::SignedDuration;
    use jiff::civil::{DateTime, date};

    use super::Acidity;
    use crate::document::start;
    use crate::tank::{Analyte, Reading, Surface, Tank};
    use crate::twin::Stirring;

    const NOW: DateTime = date(2026, 3, 10).at(9, 0, 0, 0);

    /// Planted, without gas.
    fn planted() -> Tank {
        Tank {
            co2_dosed: false,
            ..start::by_id("planted-canister").expect("listed").tank()
        }
    }

    fn of(tank: &Tank, readings: &[Reading]) -> Acidity {
        Acidity::of(tank, Stirring::AS_IT_LOOKS, readings, NOW)
    }

    /// Water at rest with room air holds half to one and a half milligrams, tanks with animals and
    /// no gas a few (common practice), every tank to start from less than thirty; plants let pH
    /// rise in the light.
    #[test]
    fn tanks_hold_what_keepers_find() {
        for start in start::ALL {
            let tank = start.tank();
            let acidity = of(&tank, &[]);
            let most = acidity.carbon_dioxide_at(acidity.turns()[0], 0.0).as_mg_l();
            assert!((0.5..30.0).contains(&most), "{}: {most} mg/L", start.id);
        }
        let planted = of(&planted(), &[]);
        assert!(
            planted.ph_at(17.0, 0.0) > planted.ph_at(8.0, 0.0) + 0.1,
            "{:?}",
            planted.turns()
        );
        let mean = |surface| {
            of(
                &Tank {
                    surface,
                    ..self::planted()
                },
                &[],
            )
            .mean(0.0)
        };
        assert!(
            mean(Surface::Filmed) > mean(Surface::Broken),
            "a film keeps it in"
        );
        let gassed = of(
            &Tank {
                co2_dosed: true,
                ..self::planted()
            },
            &[],
        );
        assert!(
            gassed.ph_at(17.0, 0.0) < planted.ph_at(17.0, 0.0) - 0.3,
            "dosing in the light turns the day round"
        );
    }

    /// Three readings at one hour draw the level to what they say, and narrow it; a pH without a
    /// hardness, or an old one, says nothing.
    #[test]
    fn readings_move_and_narrow_it() {
        let before = of(&planted(), &[]);
        let at = |days: i64| NOW - SignedDuration::from_hours(24 * days);
        let ph = |days: i64| Reading::usual(Analyte::PH, 7.3, at(days));
        assert_eq!(of(&planted(), &[ph(1)]).readings, 0);
        let kh = Reading::usual(Analyte::KH, 5.0, at(2));
        assert_eq!(of(&planted(), &[ph(50), kh.clone()]).readings, 0);
        let after = of(&planted(), &[ph(1), ph(3), ph(5), kh]);
        assert!(
            after.readings == 3 && after.log_spread < 0.5 * before.log_spread,
            "{} {}",
            after.readings,
            after.log_spread
        );
        assert!(
            (after.ph_at(9.0, 0.0) - 7.3).abs() < 0.2,
            "{}",
            after.ph_at(9.0, 0.0)
        );
    }
}
