//! Dissolved substances other than oxygen.

mod ammonia;
mod carbon_dioxide;
mod chlorine;
mod criteria;

pub use ammonia::{un_ionised_share, un_ionised_share_in};
pub use carbon_dioxide::{PK1_25_C, from_ph_and_kh, ph_from};
pub use chlorine::{NITROGEN_PER_CHLORAMINE, conditioner_ml};
pub use criteria::{
    EIFAC_NH3_N_MG_L, NITRITE_LIMIT_MG_L, eifac_words, epa_acute_mg_l, epa_chronic_mg_l,
};
