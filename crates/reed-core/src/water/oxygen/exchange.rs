//! How oxygen gets in: through the surface, out of bubbles, with falling water.
//!
//! Each term is an exchange flow in m³/h: litres of water brought to saturation per hour, divided
//! by 1000. Times the deficit in g/m³ (= mg/L) it is grams of oxygen per hour, and divided by the
//! tank's volume it is a rate per hour.

use crate::figure::Figure;
use crate::tank::{AirSource, Bubbles, FallingWater, Surface};
use crate::units::Temperature;

/// Growth of gas exchange per °C (ASCE/EPA surface and diffused aeration practice): `θ^(T − 20)`.
pub(super) const THETA: Figure = Figure::published(
    1.024,
    "ASCE 2-06, Measurement of Oxygen Transfer in Clean Water",
);

/// Oxygen in a litre of air at about 20 °C, in grams.
pub(super) const OXYGEN_IN_AIR_G_PER_L: Figure =
    Figure::published(0.279, "20.95 % of dry air by volume, an ideal gas");

/// Saturation at 20 °C, fresh, one atmosphere, in mg/L: the state the transfer efficiencies are
/// quoted for.
pub(super) const SATURATION_20_C_MG_L: Figure = Figure::published(9.092, "Benson & Krause 1984");

/// Surface stirred by a plume, m² per L/h of air.
const PLUME_AREA_M2_PER_L_H: Figure = Figure::from_memory(0.001);

/// Transfer velocity above a bubble plume at 20 °C, m/h.
const PLUME_VELOCITY_M_H: Figure = Figure::from_memory(0.10);

/// How much faster exchange runs at this temperature than at 20 °C.
pub fn temperature_factor(temperature: Temperature) -> f64 {
    THETA.value.powf(temperature.as_celsius() - 20.0)
}

/// Transfer velocity of a surface at 20 °C, m/h.
pub const fn transfer_velocity_m_h(surface: Surface) -> Figure {
    Figure::from_memory(match surface {
        Surface::Filmed => 0.010,
        Surface::Still => 0.025,
        Surface::Rippled => 0.080,
        Surface::Broken => 0.200,
    })
}

/// Transfer velocity of a clean surface that moves, at 20 °C, m/h: a straight line from a still
/// one, through gentle ripples at 4 cm/s, to a broken one at 12.
pub fn velocity_by_speed_m_h(cm_per_s: f64) -> f64 {
    let still = transfer_velocity_m_h(Surface::Still).value;
    still + VELOCITY_PER_SPEED.value * cm_per_s
}

/// How it grows, m/h for each cm/s.
const VELOCITY_PER_SPEED: Figure = Figure::from_memory(0.014);

/// Through the open surface, so many times as brisk as it looks. `OTR = kL · A · (C* − C)`, the
/// plume's patch at its own velocity where that is faster.
pub fn surface_m3_h(
    surface: Surface,
    brisk: f64,
    area_m2: f64,
    plume_area_m2: f64,
    temperature: Temperature,
) -> f64 {
    let quiet = brisk * transfer_velocity_m_h(surface).value;
    let stirred = plume_area_m2.min(area_m2);
    (quiet * (area_m2 - stirred) + quiet.max(PLUME_VELOCITY_M_H.value) * stirred)
        * temperature_factor(temperature)
}

/// Surface that the plume of this air source keeps stirred, m².
pub fn plume_area_m2(air: &AirSource) -> f64 {
    air.flow.as_litres_per_hour() * PLUME_AREA_M2_PER_L_H.value
}

/// Share of a bubble's oxygen taken up per metre of depth.
pub const fn uptake_per_metre(bubbles: Bubbles) -> Figure {
    Figure::from_memory(match bubbles {
        Bubbles::Coarse => 0.025,
        Bubbles::Fine => 0.060,
    })
}

/// Out of the rising bubbles: `uptake · depth · air · oxygen in air · (C* − C)/C*20 · θ^(T−20)`.
pub fn bubbles_m3_h(air: &AirSource, temperature: Temperature) -> f64 {
    let uptake = uptake_per_metre(air.bubbles).value * air.depth.as_metres();
    uptake * air.flow.as_litres_per_hour() * OXYGEN_IN_AIR_G_PER_L.value
        / SATURATION_20_C_MG_L.value
        * temperature_factor(temperature)
}

/// With water that falls through air: each litre loses the share `1 − 1/r` of its deficit.
///
/// Gameson's weir relation `r = 1 + 0.38·a·b·h(1 − 0.11h)(1 + 0.046T)`, h in metres, a = 1.25 for
/// slightly dirty water, b = 1.0 for a free fall; relation and coefficients from memory.
pub fn fall_m3_h(fall: &FallingWater, temperature: Temperature) -> f64 {
    // Both from memory, see above.
    const WATER_QUALITY: f64 = 1.25;
    const FREE_FALL: f64 = 1.0;
    let h = fall.height.as_metres();
    let r = 1.0
        + 0.38
            * WATER_QUALITY
            * FREE_FALL
            * h
            * (1.0 - 0.11 * h)
            * (1.0 + 0.046 * temperature.as_celsius());
    fall.flow.as_litres_per_hour() / 1000.0 * (1.0 - 1.0 / r)
}

#[cfg(test)]
mod tests {
    use super::{
        bubbles_m3_h, fall_m3_h, surface_m3_h, transfer_velocity_m_h, velocity_by_speed_m_h,
    };
    use crate::tank::{AirSource, Bubbles, FallingWater, Running, Surface};
    use crate::units::{FlowRate, Length, Temperature};

    const AT_20: Temperature = Temperature::celsius(20.0);

    #[test]
    fn a_livelier_surface_always_exchanges_more() {
        let flows: Vec<f64> = Surface::ALL
            .iter()
            .map(|surface| surface_m3_h(*surface, 1.0, 0.5, 0.0, AT_20))
            .collect();
        assert!(flows.is_sorted() && flows[0] > 0.0, "{flows:?}");
        assert!(
            (flows[2] - 0.04).abs() < 1e-12,
            "0.5 m² of ripples at 0.08 m/h"
        );
    }

    #[test]
    fn a_plume_helps_a_still_surface_and_never_hurts_a_broken_one() {
        assert!(
            surface_m3_h(Surface::Still, 1.0, 0.5, 0.2, AT_20)
                > surface_m3_h(Surface::Still, 1.0, 0.5, 0.0, AT_20)
        );
        let broken = |plume| surface_m3_h(Surface::Broken, 1.0, 0.5, plume, AT_20);
        assert!((broken(0.2) - broken(0.0)).abs() < 1e-12);
        assert!(
            (broken(9.0) - broken(0.0)).abs() < 1e-12,
            "a plume cannot stir more surface than there is"
        );
    }

    #[test]
    fn finer_and_deeper_bubbles_give_up_more_oxygen() {
        let air = |bubbles, cm| AirSource {
            flow: FlowRate::litres_per_hour(100.0),
            depth: Length::cm(cm),
            bubbles,
            running: Running::Always,
        };
        let coarse = bubbles_m3_h(&air(Bubbles::Coarse, 40.0), AT_20);
        // By hand: 0.025/m · 0.4 m · 100 L/h · 0.279 g/L = 0.279 g/h at full deficit of 9.092 g/m³.
        assert!((coarse - 0.279 / 9.092).abs() < 1e-9);
        assert!(bubbles_m3_h(&air(Bubbles::Fine, 40.0), AT_20) > 2.0 * coarse);
        assert!(bubbles_m3_h(&air(Bubbles::Coarse, 80.0), AT_20) > 1.99 * coarse);
    }

    #[test]
    fn a_higher_fall_brings_more_and_never_more_than_all() {
        let fall = |cm| {
            fall_m3_h(
                &FallingWater {
                    flow: FlowRate::litres_per_hour(1000.0),
                    height: Length::cm(cm),
                    running: Running::Always,
                },
                AT_20,
            )
        };
        assert!(fall(2.0) < fall(20.0) && fall(100.0) < 1.0);
    }

    /// The line by speed meets what looks say where keepers would say so.
    #[test]
    fn a_surface_that_ripples_moves_at_some_four_centimetres_a_second() {
        for (surface, cm_per_s) in [
            (Surface::Still, 0.0),
            (Surface::Rippled, 4.0),
            (Surface::Broken, 12.0),
        ] {
            let (looks, speed) = (
                transfer_velocity_m_h(surface).value,
                velocity_by_speed_m_h(cm_per_s),
            );
            assert!(
                (speed / looks - 1.0).abs() < 0.1,
                "{surface:?}: {looks} by looks, {speed} by speed"
            );
        }
    }
}
