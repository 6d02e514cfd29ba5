//! A water change sized to bring poison under its limit, without a jump that harms as much.

use crate::units::Concentration;
use crate::units::{Salinity, Temperature};
use crate::water::chemistry::{
    EIFAC_NH3_N_MG_L, NITRITE_LIMIT_MG_L, from_ph_and_kh, ph_from, un_ionised_share_in,
};
use crate::water::nitrogen::changes::after_change;

/// What is read of some water.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Water {
    /// Total ammonia, mg N/L.
    pub tan: f64,
    /// Nitrite, mg N/L.
    pub nitrite: f64,
    /// pH.
    pub ph: f64,
    /// Carbonate hardness, dKH.
    pub kh: f64,
}

/// One change of a plan, with what it leaves.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct EmergencyStep {
    /// Share of the water.
    pub fraction: f64,
    /// What it leaves, once surplus carbon dioxide has gone off: its pH is the highest that comes.
    pub after: Water,
    /// Un-ionised ammonia then, mg N/L.
    pub nh3: f64,
}

/// What to do.
#[derive(Clone, Debug, PartialEq)]
pub enum Emergency {
    /// Ammonia and nitrite are under their limits.
    NotNeeded {
        /// Un-ionised ammonia, mg N/L.
        nh3: f64,
    },
    /// These changes, hours apart.
    Change(Vec<EmergencyStep>),
    /// No change of this tap water may be made, or none helps: why, as a sentence.
    Refused(String),
}

/// No more of the water goes in one change. A judgement.
pub const LARGEST: f64 = 0.5;
/// One change moves pH by no more. A judgement.
pub const PH_STEP: f64 = 0.4;
/// One change moves carbonate hardness by no more, dKH. A judgement.
pub const KH_STEP: f64 = 2.0;
/// More changes than this are no plan for a day.
const MOST_STEPS: usize = 6;
/// Water at rest with room air holds about so much carbon dioxide, mg/L. From memory.
const AT_REST_CO2_MG_L: f64 = 1.0;

fn nh3(water: &Water, temperature: Temperature, salinity: Salinity) -> f64 {
    water.tan * un_ionised_share_in(temperature, water.ph, salinity)
}

/// What a change leaves: hardness mixes, carbon dioxide mixes and what is above that of water at
/// rest may go off, so that the pH is the highest that may come.
fn mixed(tank: &Water, tap: &Water, fraction: f64) -> Water {
    let mix = |here: f64, there: f64| after_change(here, there, fraction);
    let kh = mix(tank.kh, tap.kh);
    let co2 = |water: &Water| from_ph_and_kh(water.ph, water.kh).as_mg_l();
    // Tap water may carry gas of its pipes; in the tank it comes to what the tank holds.
    let held = mix(co2(tank), co2(tap).min(co2(tank))).max(AT_REST_CO2_MG_L.min(co2(tank)));
    Water {
        tan: mix(tank.tan, tap.tan),
        nitrite: mix(tank.nitrite, tap.nitrite),
        ph: ph_from(Concentration::mg_l(held), kh),
        kh,
    }
}

/// Sizes it. Temperatures are taken as matched; see [`mixing`](crate::water::mixing).
pub fn emergency(
    tank: &Water,
    tap: &Water,
    temperature: Temperature,
    salinity: Salinity,
) -> Emergency {
    let poison = |water: &Water| {
        (nh3(water, temperature, salinity) / EIFAC_NH3_N_MG_L)
            .max(water.nitrite / NITRITE_LIMIT_MG_L)
    };
    let before = poison(tank);
    if before <= 1.0 {
        return Emergency::NotNeeded {
            nh3: nh3(tank, temperature, salinity),
        };
    }
    if tap.nitrite >= NITRITE_LIMIT_MG_L && tank.nitrite > NITRITE_LIMIT_MG_L {
        return Emergency::Refused(
            "The tap water holds nitrite itself: no change of it brings nitrite down.".to_owned(),
        );
    }
    let (mut here, mut steps) = (*tank, Vec::new());
    while poison(&here) > 1.0 {
        // The largest that neither jumps nor makes poison; the smallest that is enough, if one is.
        let allowed = |fraction: f64| {
            let after = mixed(&here, tap, fraction);
            (after.ph - here.ph).abs() <= PH_STEP && (after.kh - here.kh).abs() <= KH_STEP
        };
        let fractions = (1..=50)
            .map(|percent| f64::from(percent) / 100.0)
            .filter(|fraction| *fraction <= LARGEST && allowed(*fraction));
        let Some(fraction) = fractions
            .clone()
            .find(|fraction| poison(&mixed(&here, tap, *fraction)) <= 1.0)
            .or_else(|| {
                fractions.min_by(|one, other| {
                    poison(&mixed(&here, tap, *one)).total_cmp(&poison(&mixed(&here, tap, *other)))
                })
            })
        else {
            return Emergency::Refused(
                "Even a hundredth of this tap water moves pH or hardness too fast. Look for other water.".to_owned(),
            );
        };
        let after = mixed(&here, tap, fraction);
        if poison(&after) >= poison(&here) * 0.999 {
            return Emergency::Refused(
                "The tap water is harder or of a higher pH: with so much ammonia in the tank, changing it makes more poison, not less. \
                 Bind or take the ammonia out first, feed nothing, and change with softer water."
                    .to_owned(),
            );
        }
        steps.push(EmergencyStep {
            fraction,
            after,
            nh3: nh3(&after, temperature, salinity),
        });
        here = after;
        if steps.len() == MOST_STEPS && poison(&here) > 1.0 {
            return Emergency::Refused(format!(
                "{MOST_STEPS} changes of this water, as large as pH and hardness allow, do not bring it under its limit. Move the animals, or bind the ammonia."
            ));
        }
    }
    Emergency::Change(steps)
}

#[cfg(test)]
mod tests {
    use super::{Emergency, Water, emergency};
    use crate::units::{Salinity, Temperature};
    use crate::water::chemistry::{EIFAC_NH3_N_MG_L, NITRITE_LIMIT_MG_L};

    const TAP: Water = Water {
        tan: 0.0,
        nitrite: 0.0,
        ph: 7.4,
        kh: 6.0,
    };

    fn plan(tank: Water, tap: Water) -> Emergency {
        emergency(&tank, &tap, Temperature::celsius(25.0), Salinity::default())
    }

    #[test]
    fn it_is_as_large_as_needed_and_in_steps_where_it_must_be() {
        let tank = Water {
            tan: 0.1,
            nitrite: 0.0,
            ph: 7.2,
            kh: 6.0,
        };
        assert!(matches!(plan(tank, TAP), Emergency::NotNeeded { .. }));
        let Emergency::Change(steps) = plan(
            Water {
                nitrite: 0.15,
                ..tank
            },
            TAP,
        ) else {
            panic!("a third is enough")
        };
        assert!(
            steps.len() == 1
                && (steps[0].fraction - 0.34).abs() < 0.011
                && steps[0].after.nitrite <= NITRITE_LIMIT_MG_L,
            "{steps:?}"
        );
        let Emergency::Change(steps) = plan(
            Water {
                nitrite: 0.5,
                ..tank
            },
            TAP,
        ) else {
            panic!("several are")
        };
        assert!(
            steps.len() == 3 && steps.iter().all(|step| step.fraction <= 0.5),
            "{steps:?}"
        );
        let Emergency::Change(steps) = plan(
            Water {
                tan: 1.5,
                ph: 7.8,
                ..tank
            },
            Water { ph: 7.0, ..TAP },
        ) else {
            panic!("it helps")
        };
        assert!(steps.last().expect("a step").nh3 <= EIFAC_NH3_N_MG_L && steps[0].nh3 > 0.0);
    }

    /// A spent tank of low pH with much ammonia, and hard tap water: a change would free the
    /// ammonia.
    #[test]
    fn a_change_that_makes_poison_is_refused_and_says_why() {
        let old = Water {
            tan: 4.0,
            nitrite: 0.15,
            ph: 6.2,
            kh: 0.6,
        };
        let Emergency::Refused(why) = plan(
            old,
            Water {
                ph: 8.0,
                kh: 12.0,
                ..TAP
            },
        ) else {
            panic!("it makes poison")
        };
        assert!(
            why.contains("makes more poison") || why.contains("too fast"),
            "{why}"
        );
        let Emergency::Refused(why) = plan(
            Water {
                nitrite: 0.5,
                ..old
            },
            Water {
                nitrite: 0.2,
                ..TAP
            },
        ) else {
            panic!("it cannot help")
        };
        assert!(why.contains("nitrite itself"), "{why}");
    }
}
