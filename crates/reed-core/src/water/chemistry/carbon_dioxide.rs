//! Carbon dioxide from pH and carbonate hardness.

use crate::units::Concentration;

/// Dissolved carbon dioxide.
///
/// Formula: `CO2 = 44 · Alk · 10^(pK1 − pH)`, Alk in mmol/L (1 dKH = 1/2.804 mmol/L), pK1 = 6.35 at 25 °C.
/// Source: Plummer & Busenberg 1982, Geochim. Cosmochim. Acta 46:1011. Reads too high where humic acids or phosphate
/// buffers set the pH.
///
/// ```
/// use reed_core::water::chemistry::from_ph_and_kh;
/// assert!((from_ph_and_kh(7.0, 4.0).as_mg_l() - 14.1).abs() < 0.1);
/// ```
pub fn from_ph_and_kh(ph: f64, kh_dkh: f64) -> Concentration {
    const DKH_PER_MMOL: f64 = 2.804;
    const PK1_25_C: f64 = 6.35;
    Concentration::mg_l(44.0 * kh_dkh / DKH_PER_MMOL * 10f64.powf(PK1_25_C - ph))
}
