//! Carbon dioxide from pH and carbonate hardness.

use crate::units::Concentration;
use crate::units::masses::DEGREES_PER_MEQ;

/// First constant of carbonic acid at 25 °C (Plummer & Busenberg 1982).
pub const PK1_25_C: f64 = 6.35;

/// Dissolved carbon dioxide.
///
/// Formula: `CO2 = 44 · Alk · 10^(pK1 − pH)`, Alk in mmol/L, pK1 at 25 °C. Source: Plummer &
/// Busenberg 1982, Geochim. Cosmochim. Acta 46:1011. Reads too high where humic acids or phosphate
/// buffers set the pH.
///
/// ```
/// use reed_core::water::chemistry::from_ph_and_kh;
/// assert!((from_ph_and_kh(7.0, 4.0).as_mg_l() - 14.1).abs() < 0.1);
/// ```
pub fn from_ph_and_kh(ph: f64, kh_dkh: f64) -> Concentration {
    Concentration::mg_l(44.0 * kh_dkh / DEGREES_PER_MEQ * 10f64.powf(PK1_25_C - ph))
}

/// The pH of water with so much carbon dioxide and carbonate hardness: [`from_ph_and_kh`] turned
/// round.
pub fn ph_from(co2: Concentration, kh_dkh: f64) -> f64 {
    PK1_25_C + (44.0 * kh_dkh.max(1e-3) / DEGREES_PER_MEQ / co2.as_mg_l().max(1e-3)).log10()
}
