//! Which share of the ammonia is the poisonous un-ionised form.

use crate::units::{Salinity, Temperature};

/// Share of total ammonia that is NH₃, 0 to 1, in fresh water.
///
/// Formula: `f = 1 / (1 + 10^(pKa − pH))`, `pKa = 0.09018 + 2729.92 / T`, T in kelvin. Source:
/// Emerson, Russo, Lund & Thurston 1975, J. Fish. Res. Board Can. 32:2379. In sea water the share
/// is about a quarter lower for a meter set with the usual buffers.
///
/// ```
/// use reed_core::{units::Temperature, water::chemistry::un_ionised_share};
/// assert!((un_ionised_share(Temperature::celsius(25.0), 8.0) - 0.0537).abs() < 1e-4);
/// ```
pub fn un_ionised_share(temperature: Temperature, ph: f64) -> f64 {
    let pka = 0.090_18 + 2729.92 / temperature.as_kelvin();
    1.0 / (1.0 + 10f64.powf(pka - ph))
}

/// How much smaller the share is in sea water of 35 g/kg, for a meter set with the usual buffers:
/// Clegg & Whitfield 1995, rounded; a fifth more or less is within what is claimed.
const LESS_IN_THE_SEA: f64 = 0.25;

/// The same in water with salt: between fresh water and the sea in proportion.
pub fn un_ionised_share_in(temperature: Temperature, ph: f64, salinity: Salinity) -> f64 {
    un_ionised_share(temperature, ph)
        * (1.0 - LESS_IN_THE_SEA * (salinity.as_g_per_kg() / 35.0).min(1.0))
}
