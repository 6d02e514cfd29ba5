//! Surfaces on which bacteria live, in square metres.

use super::Tank;
use super::thing::Rest;
use crate::figure::Figure;

/// Surface of a litre of coarse bed that bacteria can use, m².
const BED_M2_PER_L: Figure = Figure::from_memory(1.0);
/// How deep water moves through gravel, and through sand, cm.
const LIVE_BED_CM: [Figure; 2] = [Figure::from_memory(3.0), Figure::from_memory(0.5)];
/// Grain from which a bed counts as gravel, mm. A judgement.
const GRAVEL_MM: f64 = 2.0;

/// Some surface on which bacteria live.
#[derive(Clone, Debug, PartialEq)]
pub struct Area {
    /// Where it is.
    pub name: String,
    /// What bacteria can use of it, m².
    pub m2: f64,
    /// It is in a filter: what is done to filters is done to it.
    pub in_filter: bool,
}

/// Every surface of a tank: each medium of each filter, panes, rocks, the upper bed. A square metre
/// each per wetted square metre.
pub fn areas(tank: &Tank) -> Vec<Area> {
    let media = tank.filters.iter().flat_map(|filter| {
        filter.media().map(|portion| Area {
            name: format!(
                "{}: {:.1} L of {}",
                filter.name,
                portion.litres.as_litres(),
                portion.medium.words()
            ),
            m2: portion.surface_m2(),
            in_filter: true,
        })
    });
    let (length, width, level) = (
        tank.glass.length.as_cm(),
        tank.glass.width.as_cm(),
        tank.water_depth.as_cm(),
    );
    let rocks: f64 = tank
        .things
        .iter()
        .filter(|thing| matches!(thing.what.form().stance().rest, Rest::OnTheGround { .. }))
        // A cube of as many litres: less than any rugged rock has.
        .map(|thing| 6.0 * (thing.body(tank).litres_between(0.0, level) * 1000.0).powf(2.0 / 3.0))
        .sum();
    let [gravel, sand] = LIVE_BED_CM;
    let live = if tank.bed.grain.as_mm() >= GRAVEL_MM {
        gravel.value
    } else {
        sand.value
    }
    .min(tank.bed.depth.as_cm());
    let other = |name: &str, m2: f64| Area {
        name: name.to_owned(),
        m2,
        in_filter: false,
    };
    let panes = other("Panes", 2.0 * (length + width) * level / 10_000.0);
    let rocks = other("Rocks and roots", rocks / 10_000.0);
    let bed = other(
        "Upper bed",
        length * width * live / 1000.0 * BED_M2_PER_L.value,
    );
    media
        .chain([panes, rocks, bed])
        .filter(|area| area.m2 > 0.0)
        .collect()
}
