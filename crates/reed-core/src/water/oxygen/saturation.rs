//! Oxygen that water holds in balance with moist air.

use crate::units::{Concentration, Pressure, Quantity, Salinity, Temperature};

/// An input lies outside the range over which the relation was fitted.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[error("oxygen saturation is known for {name} from {low} to {high}, not for {given}")]
pub struct OutsideFit {
    /// Which input, with its unit.
    pub name: &'static str,
    /// Lower end of the fit.
    pub low: f64,
    /// Upper end of the fit.
    pub high: f64,
    /// What was given.
    pub given: f64,
}

/// Dissolved oxygen at saturation with moist air at this total pressure.
///
/// Formula, T in kelvin, t in °C, P in atmospheres: `ln C* = −139.34411 + 1.575701e5/T −
/// 6.642308e7/T² + 1.243800e10/T³ − 8.621949e11/T⁴ − S(1.7674e−2 − 10.754/T + 2140.7/T²)`; `C = C*
/// · P · (1 − Pwv/P)(1 − θP) / ((1 − Pwv)(1 − θ))`. Source: Benson & Krause 1984, Limnol. Oceanogr.
/// 29:620, as printed in Standard Methods 4500-O and USGS Office of Water Quality Technical
/// Memorandum 2011.03. Valid for 0–40 °C, salinity 0–40, 50–115 kPa.
///
/// # Errors
/// [`OutsideFit`] when an input lies outside those ranges or is not finite.
///
/// ```
/// use reed_core::{units::{Pressure, Salinity, Temperature}, water::oxygen::saturation};
/// let held = saturation(Temperature::celsius(20.0), Salinity::default(), Pressure::STANDARD).unwrap();
/// assert!((held.as_mg_l() - 9.092).abs() < 5e-4);
/// ```
pub fn saturation(
    temperature: Temperature,
    salinity: Salinity,
    pressure: Pressure,
) -> Result<Concentration, OutsideFit> {
    let celsius = within("water temperature in °C", temperature, 0.0, 40.0)?;
    let s = within("salinity in g/kg", salinity, 0.0, 40.0)?;
    let p =
        within("air pressure in kPa", pressure, 50.0, 115.0)? / Pressure::STANDARD.as_kilopascals();
    let t = temperature.as_kelvin();
    let fresh = -139.344_11 + 1.575_701e5 / t - 6.642_308e7 / t.powi(2) + 1.243_800e10 / t.powi(3)
        - 8.621_949e11 / t.powi(4);
    let salt = s * (1.7674e-2 - 1.0754e1 / t + 2.1407e3 / t.powi(2));
    let vapour = (11.8571 - 3840.70 / t - 216_961.0 / t.powi(2)).exp();
    let theta = 0.000_975 - 1.426e-5 * celsius + 6.436e-8 * celsius.powi(2);
    let pressure_factor =
        p * (1.0 - vapour / p) * (1.0 - theta * p) / ((1.0 - vapour) * (1.0 - theta));
    Ok(Concentration::mg_l((fresh - salt).exp() * pressure_factor))
}

fn within<Q: Quantity>(
    name: &'static str,
    quantity: Q,
    low: f64,
    high: f64,
) -> Result<f64, OutsideFit> {
    let given = quantity.base();
    // Not `given < low || given > high`: that would let NaN through.
    if given >= low && given <= high {
        Ok(given)
    } else {
        Err(OutsideFit {
            name,
            low,
            high,
            given,
        })
    }
}
