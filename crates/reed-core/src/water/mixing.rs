//! Water poured together: temperature, and the gas it then holds too much of.

use super::oxygen::saturation;
use crate::units::{Pressure, Salinity, Temperature};

/// Temperature of a tank of which a fraction is replaced, °C.
pub fn mixed_celsius(tank: f64, refill: f64, fraction: f64) -> f64 {
    (1.0 - fraction) * tank + fraction * refill
}

/// Share of hot water that gives a wanted temperature, 0 to 1; `None` where the two taps cannot.
pub fn share_of_hot(cold_celsius: f64, hot_celsius: f64, wanted_celsius: f64) -> Option<f64> {
    let share = (wanted_celsius - cold_celsius) / (hot_celsius - cold_celsius);
    (share.is_finite() && (0.0..=1.0).contains(&share)).then_some(share)
}

/// Nitrogen gas that air-saturated water holds, µmol/kg: Hamme & Emerson 2004, from memory; 15.0
/// mg/L in fresh water at 20 °C.
fn nitrogen_umol_kg(celsius: f64, salinity: f64) -> f64 {
    let scaled = ((298.15 - celsius) / (273.15 + celsius)).ln();
    let fresh = 6.429_31 + scaled * (2.927_04 + scaled * (4.325_31 + scaled * 4.691_49));
    let salt = -7.441_29e-3 + scaled * (-8.025_66e-3 + scaled * -1.467_75e-2);
    (fresh + salinity * salt).exp()
}

/// Total gas pressure, percent of what air-saturated water has, when a fraction of a tank is
/// replaced by air-saturated water of another temperature and all of it comes back to the tank's:
/// colder water brings more gas than warmer can hold. Oxygen by Benson & Krause 1984, nitrogen by
/// Hamme & Emerson 2004, weighed as in air. `None` outside of their fits.
///
/// The US criterion is 110 % (EPA 1976); about 103 % for young fish (from memory).
pub fn total_gas_percent(
    tank: Temperature,
    refill: Temperature,
    fraction: f64,
    salinity: Salinity,
    pressure: Pressure,
) -> Option<f64> {
    /// Share of oxygen in dry air by volume, published: ICAO 1964.
    const OXYGEN_IN_AIR: f64 = 0.2095;
    let oxygen = |at: Temperature| {
        saturation(at, salinity, pressure)
            .ok()
            .map(|held| held.as_mg_l())
    };
    let nitrogen = |at: Temperature| nitrogen_umol_kg(at.as_celsius(), salinity.as_g_per_kg());
    let over = |here: f64, there: f64| ((1.0 - fraction) * here + fraction * there) / here;
    let oxygen = over(oxygen(tank)?, oxygen(refill)?);
    let nitrogen = over(nitrogen(tank), nitrogen(refill));
    Some(100.0 * (OXYGEN_IN_AIR * oxygen + (1.0 - OXYGEN_IN_AIR) * nitrogen))
}

#[cfg(test)]
mod tests {
    use super::{mixed_celsius, nitrogen_umol_kg, share_of_hot, total_gas_percent};
    use crate::units::{Pressure, Salinity, Temperature};

    /// 30 % of 10 °C into 25 °C gives about 110 %, 50 % of 20 °C 104 % (computed from the same two
    /// sources elsewhere).
    #[test]
    fn cold_refills_bring_too_much_gas() {
        assert!(
            (nitrogen_umol_kg(20.0, 0.0) * 28.013e-3 - 15.0).abs() < 0.1,
            "mg/kg at 20 °C"
        );
        let percent = |refill: f64, fraction: f64| {
            let at = Temperature::celsius;
            total_gas_percent(
                at(25.0),
                at(refill),
                fraction,
                Salinity::default(),
                Pressure::kilopascals(101.325),
            )
            .expect("inside the fits")
        };
        assert!(
            (percent(10.0, 0.3) - 110.0).abs() < 1.5,
            "{}",
            percent(10.0, 0.3)
        );
        assert!(
            (percent(20.0, 0.5) - 104.0).abs() < 1.0,
            "{}",
            percent(20.0, 0.5)
        );
        assert!((percent(25.0, 0.5) - 100.0).abs() < 1e-9);
    }

    #[test]
    fn taps_are_mixed() {
        assert!((mixed_celsius(25.0, 15.0, 0.3) - 22.0).abs() < 1e-12);
        assert!((share_of_hot(10.0, 60.0, 25.0).expect("between them") - 0.3).abs() < 1e-12);
        assert!(
            share_of_hot(10.0, 60.0, 5.0).is_none() && share_of_hot(20.0, 20.0, 25.0).is_none()
        );
    }
}
