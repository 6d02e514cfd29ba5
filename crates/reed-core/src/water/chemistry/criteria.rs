//! How much ammonia is too much: limits of authorities, by pH and temperature.
//!
//! They protect wild communities with sensitive mussels; aquarium fish survive more. They are
//! limits, not goals.

use crate::units::{NitrogenForm, Temperature};

/// Mean of an hour that must not be exceeded, mg TAN as N per litre, with or without salmon and
/// trout. EPA 822-R-13-001 (2013), from memory; 17 at pH 7 and 20 °C as published.
pub fn epa_acute_mg_l(temperature: Temperature, ph: f64, with_trout: bool) -> f64 {
    let celsius = temperature.as_celsius();
    let bracket = 0.7249
        * (0.0114 / (1.0 + 10f64.powf(7.204 - ph)) + 1.6181 / (1.0 + 10f64.powf(ph - 7.204)));
    let mussels = 23.12 * 10f64.powf(0.036 * (20.0 - celsius));
    if with_trout {
        let trout = 0.275 / (1.0 + 10f64.powf(7.204 - ph)) + 39.0 / (1.0 + 10f64.powf(ph - 7.204));
        trout.min(bracket * mussels)
    } else {
        bracket * mussels.min(51.93)
    }
}

/// Mean of thirty days that must not be exceeded, mg TAN as N per litre. The same source; 1.9 at pH
/// 7 and 20 °C as published. No four days may exceed two and a half times as much.
pub fn epa_chronic_mg_l(temperature: Temperature, ph: f64) -> f64 {
    let bracket = 0.0278 / (1.0 + 10f64.powf(7.688 - ph)) + 1.1994 / (1.0 + 10f64.powf(ph - 7.688));
    0.8876 * bracket * 2.126 * 10f64.powf(0.028 * (20.0 - temperature.as_celsius().max(7.0)))
}

/// Nitrite to act on, mg N/L, in soft fresh water; sea water forgives far more. From memory.
pub const NITRITE_LIMIT_MG_L: f64 = 0.1;

/// Long-term limit of un-ionised ammonia for fish, mg NH₃ as N per litre: 0.025 mg/L of NH₃. EIFAC
/// 1970, from memory.
pub const EIFAC_NH3_N_MG_L: f64 = 0.021;

/// The same as it is printed: the report gives the molecule.
pub const fn eifac_words(nitrogen: NitrogenForm) -> &'static str {
    match nitrogen {
        NitrogenForm::Ion => "0.025 mg/L NH₃",
        NitrogenForm::Nitrogen => "0.021 mg/L N",
    }
}
