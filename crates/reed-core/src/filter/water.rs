//! Density and viscosity of the water that is moved.

/// Water as far as its motion is concerned.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Water {
    /// kg/m³.
    pub density: f64,
    /// Dynamic viscosity, Pa s.
    pub viscosity: f64,
}

impl Water {
    /// Water of a temperature in °C and a salinity in g/kg, at one atmosphere. Good from 0 to 40 °C
    /// and up to 42 g/kg.
    pub fn of(celsius: f64, salinity: f64) -> Self {
        Self {
            density: density(celsius, salinity),
            viscosity: fresh_viscosity(celsius) * salt_factor(celsius, salinity),
        }
    }
}

/// A polynomial, the constant first.
fn polynomial(coefficients: &[f64], x: f64) -> f64 {
    coefficients
        .iter()
        .rev()
        .fold(0.0, |sum, coefficient| sum * x + coefficient)
}

/// kg/m³: the one-atmosphere equation of state, published: Millero & Poisson 1981 (UNESCO 1983).
fn density(celsius: f64, salinity: f64) -> f64 {
    /// Of pure water. Published: Millero & Poisson 1981.
    const PURE: [f64; 6] = [
        999.842_594,
        6.793_952e-2,
        -9.095_290e-3,
        1.001_685e-4,
        -1.120_083e-6,
        6.536_336e-9,
    ];
    /// Per g/kg. Published: Millero & Poisson 1981.
    const FIRST: [f64; 5] = [0.824_493, -4.0899e-3, 7.6438e-5, -8.2467e-7, 5.3875e-9];
    /// Per (g/kg)^1.5. Published: Millero & Poisson 1981.
    const HALF: [f64; 3] = [-5.724_66e-3, 1.0227e-4, -1.6546e-6];
    /// Per (g/kg)². Published: Millero & Poisson 1981.
    const SECOND: f64 = 4.8314e-4;
    polynomial(&PURE, celsius)
        + polynomial(&FIRST, celsius) * salinity
        + polynomial(&HALF, celsius) * salinity.powf(1.5)
        + SECOND * salinity * salinity
}

/// Pa s: a fit to the viscosity of pure water, Sharqawy, Lienhard & Zubair 2010, from memory; it
/// meets the international formulation (IAPWS 2008) within 0.02 %.
fn fresh_viscosity(celsius: f64) -> f64 {
    4.2844e-5 + 1.0 / (0.157 * (celsius + 64.993).powi(2) - 91.296)
}

/// How much more viscous salt makes it: Sharqawy, Lienhard & Zubair 2010, from memory.
fn salt_factor(celsius: f64, salinity: f64) -> f64 {
    /// From memory: Sharqawy, Lienhard & Zubair 2010.
    const FIRST: [f64; 3] = [1.541, 1.998e-2, -9.52e-5];
    /// From memory: Sharqawy, Lienhard & Zubair 2010.
    const SECOND: [f64; 3] = [7.974, -7.561e-2, 4.724e-4];
    let share = salinity / 1000.0;
    1.0 + polynomial(&FIRST, celsius) * share + polynomial(&SECOND, celsius) * share * share
}
