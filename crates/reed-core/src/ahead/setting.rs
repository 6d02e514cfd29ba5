//! What of a tank sets the course of its nitrogen.

use jiff::civil::DateTime;

use crate::figure::Figure;
use crate::numbers::Numbers;
use crate::tank::thing::ThingKind;
use crate::tank::{Conditioner, Medium, Planting, Tank};
use crate::twin::{Stirring, Twin};
use crate::units::Temperature;
use crate::water::nitrogen::cycle::State;
use crate::water::nitrogen::{DKH_PER_MEQ, peak_between_changes};

/// Surface of a litre of coarse bed that bacteria can use, m².
const BED_M2_PER_L: Figure = Figure::from_memory(1.0);
/// How deep water moves through gravel, and through sand, cm.
const LIVE_BED_CM: [Figure; 2] = [Figure::from_memory(3.0), Figure::from_memory(0.5)];
/// Grain from which a bed counts as gravel, mm.
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

/// Every surface of a tank: each medium of each filter, panes, rocks, the upper bed. A square metre each per wetted square metre.
pub fn areas(tank: &Tank) -> Vec<Area> {
    let media = tank.filters.iter().flat_map(|filter| {
        filter.media().map(|portion| Area {
            name: format!("{}: {:.1} L of {}", filter.name, portion.litres.as_litres(), portion.medium.words()),
            m2: portion.litres.as_litres() * portion.medium.surface_m2_per_l().value,
            in_filter: true,
        })
    });
    let (length, width, level) = (tank.glass.length.as_cm(), tank.glass.width.as_cm(), tank.water_depth.as_cm());
    let rocks: f64 = tank
        .things
        .iter()
        .filter(|thing| matches!(thing.what, ThingKind::Rock(_)))
        // A cube of as many litres: less than any rugged rock has.
        .map(|thing| 6.0 * (thing.body(tank).litres_between(0.0, level) * 1000.0).powf(2.0 / 3.0))
        .sum();
    let [gravel, sand] = LIVE_BED_CM;
    let live = if tank.bed.grain.as_mm() >= GRAVEL_MM { gravel.value } else { sand.value }.min(tank.bed.depth.as_cm());
    let other = |name: &str, m2: f64| Area { name: name.to_owned(), m2, in_filter: false };
    let panes = other("Panes", 2.0 * (length + width) * level / 10_000.0);
    let rocks = other("Rocks and roots", rocks / 10_000.0);
    let bed = other("Upper bed", length * width * live / 1000.0 * BED_M2_PER_L.value);
    media.chain([panes, rocks, bed]).filter(|area| area.m2 > 0.0).collect()
}

/// What sets the course.
#[derive(Clone, Debug, PartialEq)]
pub struct Setting {
    /// Water, L.
    pub litres: f64,
    /// Nitrogen set free by the feed, mg N/L and day.
    pub load: f64,
    /// Share of it that plants take before bacteria do.
    pub uptake: f64,
    /// Surface for bacteria, m².
    pub surface_m2: f64,
    /// Share of it that is in filters.
    pub in_filters: f64,
    /// Of the water.
    pub temperature: Temperature,
    /// Mean of the day, mg/L.
    pub oxygen: f64,
    /// Tap water, conditioned.
    pub tap: State,
    /// Share of the water changed by habit, and every how many days.
    pub habit: (f64, f64),
    /// Days since it was set up, while its colony may still be growing; `None` for a settled tank.
    pub young_days: Option<f64>,
    /// Readings of ammonia, and of nitrate, say nothing: a binder or a medium masks them.
    pub masked: [bool; 2],
}

/// After so many days a colony has settled, unless something happened to it.
const SETTLED_DAYS: f64 = 75.0;
/// Carbonate hardness of tap water that nobody measured, dKH. From memory: a middling one.
const USUAL_TAP_DKH: f64 = 6.0;

/// Share of the nitrogen that plants take, by how densely they grow. From memory; what grows fast takes more.
const fn taken_by(planting: Planting) -> Figure {
    Figure::from_memory(match planting {
        Planting::None => 0.02,
        Planting::Sparse => 0.1,
        Planting::Moderate => 0.3,
        Planting::Dense => 0.5,
        Planting::Overgrown => 0.6,
    })
}

impl Setting {
    /// Of a tank at a moment, its surface stirred as its flow has it; the tap's nitrogen, mg N/L, and hardness, dKH, where they were
    /// read.
    pub fn of(tank: &Tank, stirring: Stirring, now: DateTime, tap_ammonia: f64, tap_nitrate: f64, tap_dkh: Option<f64>) -> Self {
        let litres = tank.net_volume().as_litres();
        let areas = areas(tank);
        let surface_m2 = areas.iter().map(|area| area.m2).sum::<f64>();
        let in_filters = areas.iter().filter(|area| area.in_filter).map(|area| area.m2).sum::<f64>();
        let day = Twin::stirred(tank, stirring).day;
        let age = tank.set_up.map(|set_up| f64::from(now.date().since(set_up).map_or(0, |span| span.get_days())));
        let has = |medium: Medium| tank.filters.iter().flat_map(|filter| filter.media()).any(|portion| portion.medium == medium);
        let binds = tank.practice.conditioner == Conditioner::BindsAmmonia;
        Self {
            litres,
            load: Numbers::of(tank).nitrogen_g_per_day * 1000.0 / litres,
            uptake: taken_by(tank.plants.planting).value,
            surface_m2,
            in_filters: if surface_m2 > 0.0 { in_filters / surface_m2 } else { 0.0 },
            temperature: tank.water_temperature(),
            oxygen: f64::midpoint(day.lowest().1, day.highest().1),
            tap: State {
                tan: tap_ammonia,
                nitrate: tap_nitrate,
                alkalinity: tap_dkh.unwrap_or(USUAL_TAP_DKH) / DKH_PER_MEQ,
                ..State::default()
            },
            habit: (tank.practice.change_share.as_percent() / 100.0, f64::from(tank.practice.change_every_days)),
            young_days: age.filter(|days| *days < SETTLED_DAYS).map(|days| days.max(0.0)),
            masked: [
                binds || has(Medium::AmmoniaResin) || has(Medium::AdsorbentPad),
                has(Medium::NitrateResin) || has(Medium::AdsorbentPad),
            ],
        }
    }

    /// Where nitrate stands between changes by habit, mg N/L: half-way from the trough to the peak.
    pub(super) fn usual_nitrate(&self) -> f64 {
        let (share, every) = self.habit;
        let gain = self.load * (1.0 - self.uptake) * every;
        peak_between_changes(self.tap.nitrate, gain, share) - gain / 2.0
    }
}
