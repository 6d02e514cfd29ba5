//! Air pressure by height above the sea.

use crate::units::{Altitude, Pressure};

/// Pressure of the standard atmosphere at this height. Weather moves the true pressure by about ±3
/// %.
///
/// Formula: `P = 101.325 (1 − 2.25577e−5 h)^5.25588` kPa, h in metres. Source: ICAO standard
/// atmosphere (Doc 7488).
pub fn pressure_at(altitude: Altitude) -> Pressure {
    Pressure::kilopascals(101.325 * (1.0 - 2.255_77e-5 * altitude.as_metres()).powf(5.255_88))
}
