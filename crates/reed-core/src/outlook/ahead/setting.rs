//! What of a tank sets the course of its nitrogen.

use jiff::civil::{Date, DateTime};

use crate::figure::Figure;
use crate::outlook::acidity::USUAL_DKH;
use crate::tank::{Conditioner, Medium, PerSpecies, Planting, Portion, Species, Tank, areas};
use crate::twin::numbers::Numbers;
use crate::twin::{Stirring, Twin};
use crate::units::Temperature;
use crate::units::masses::DEGREES_PER_MEQ;
use crate::water::nitrogen::capture::{Grains, captured_by_grains};
use crate::water::nitrogen::cycle::State;
use crate::water::nitrogen::peak_between_changes;

/// What can be rinsed or replaced at once, with its share of all surface in media: all of it, each
/// filter, each tray.
pub fn parts(tank: &Tank) -> Vec<(String, f64)> {
    let all: f64 = tank
        .filters
        .iter()
        .flat_map(|filter| filter.media())
        .map(Portion::surface_m2)
        .sum();
    let mut parts = vec![("All media".to_owned(), all)];
    for filter in &tank.filters {
        if tank.filters.len() > 1 {
            parts.push((
                filter.name.clone(),
                filter.media().map(Portion::surface_m2).sum(),
            ));
        }
        if filter.trays.len() > 1 {
            for (index, tray) in filter.trays.iter().enumerate() {
                let name = if tray.name.is_empty() {
                    format!("tray {}", index + 1)
                } else {
                    tray.name.clone()
                };
                parts.push((
                    format!("{}, {name}", filter.name),
                    tray.media.iter().map(Portion::surface_m2).sum(),
                ));
            }
        }
    }
    parts
        .into_iter()
        .filter(|(_, m2)| *m2 > 0.0)
        .map(|(name, m2)| (name, m2 / all))
        .collect()
}

/// What sets the course.
#[derive(Clone, Debug, PartialEq)]
pub struct Setting {
    /// Water, L.
    pub litres: f64,
    /// Nitrogen set free by the feed, mg N/L and day.
    pub load: f64,
    /// On so many days of seven.
    pub fed_days: f64,
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
    /// Since which day from now readings of ammonia, and of nitrate, say nothing: a binder or a
    /// medium masks them. Minus infinity for ever.
    pub masked: PerSpecies<Option<f64>>,
    /// Media that take ammonia, and nitrate, with the day from now on which they went in, if that
    /// is known.
    pub media: PerSpecies<Option<(Grains, Option<f64>)>>,
    /// Water through all filters, L/h.
    pub flow_l_per_h: f64,
    /// How many animals there are.
    pub animals: f64,
}

/// What comes out of the tap, as far as it was read.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Tap {
    /// Total ammonia, mg N/L.
    pub ammonia: Option<f64>,
    /// Nitrate, mg N/L.
    pub nitrate: Option<f64>,
    /// Carbonate hardness, dKH.
    pub dkh: Option<f64>,
}

/// After so many days a colony has settled, unless something happened to it. A judgement.
const SETTLED_DAYS: f64 = 75.0;

/// Share of the nitrogen that plants take, by how densely they grow. From memory; what grows fast
/// takes more.
const fn taken_by(planting: Planting) -> Figure {
    Figure::from_memory(match planting {
        Planting::None => 0.02,
        Planting::Sparse => 0.1,
        Planting::Moderate => 0.3,
        Planting::Dense => 0.5,
        Planting::Overgrown => 0.6,
    })
}

/// A medium of so many litres in so much flow of a tank.
pub(super) fn grains(
    medium: Medium,
    litres: f64,
    flow_l_per_h: f64,
    tank_litres: f64,
    is_first: bool,
) -> Option<Grains> {
    let takes = medium.takes()?;
    Some(Grains {
        passes_per_day: flow_l_per_h * 24.0 / tank_litres,
        per_pass: captured_by_grains(litres, flow_l_per_h, takes.contact_s.value),
        holds: litres * takes.holds_g_per_l.value * 1000.0 / tank_litres,
        is_first,
    })
}

/// The medium in a tank's filters that takes a species of nitrogen, with the day it went in: where
/// there are several, the one that holds most, for all that they hold together.
fn installed(
    tank: &Tank,
    species: Species,
    days_ago: &dyn Fn(Date) -> f64,
) -> Option<(Grains, Option<f64>)> {
    let litres = tank.net_volume().as_litres();
    let each: Vec<(Grains, Option<f64>)> = tank
        .filters
        .iter()
        .flat_map(|filter| {
            let (flow, is_first) = (
                filter.flow().as_litres_per_hour(),
                filter.has_first(species),
            );
            filter
                .media()
                .filter(move |portion| portion.medium.takes_species(species))
                .filter_map(move |portion: &Portion| {
                    let grains = grains(
                        portion.medium,
                        portion.litres.as_litres(),
                        flow,
                        litres,
                        is_first,
                    )?;
                    Some((grains, portion.put_in.map(|day| -days_ago(day))))
                })
        })
        .collect();
    let holds = each.iter().map(|(grains, _)| grains.holds).sum();
    let most = each
        .into_iter()
        .max_by(|one, other| one.0.holds.total_cmp(&other.0.holds));
    most.map(|(grains, since)| (Grains { holds, ..grains }, since))
}

impl Setting {
    /// Of a tank at a moment, its surface stirred as its flow has it. A tap that nobody read holds
    /// no nitrogen and has a middling hardness.
    pub fn of(tank: &Tank, stirring: Stirring, now: DateTime, tap: &Tap) -> Self {
        let litres = tank.net_volume().as_litres();
        let areas = areas(tank);
        let surface_m2 = areas.iter().map(|area| area.m2).sum::<f64>();
        let in_filters = areas
            .iter()
            .filter(|area| area.in_filter)
            .map(|area| area.m2)
            .sum::<f64>();
        let day = Twin::stirred(tank, stirring).day;
        let days_ago =
            |day: Date| f64::from(now.date().since(day).map_or(0, |span| span.get_days()));
        let age = tank.set_up.map(days_ago);
        let numbers = Numbers::of(tank);
        let since = |masks: &dyn Fn(Medium) -> bool| {
            let portions = tank
                .filters
                .iter()
                .flat_map(|filter| filter.media())
                .filter(|portion| masks(portion.medium));
            portions
                .map(|portion| {
                    portion
                        .put_in
                        .map_or(f64::NEG_INFINITY, |day| -days_ago(day))
                })
                .reduce(f64::min)
        };
        let binds = tank.practice.conditioner == Conditioner::BindsAmmonia;
        Self {
            litres,
            load: numbers.nitrogen_g_per_day * 1000.0 / litres,
            fed_days: tank.practice.feeding.fed().count().into(),
            uptake: taken_by(tank.plants.planting).value,
            surface_m2,
            in_filters: if surface_m2 > 0.0 {
                in_filters / surface_m2
            } else {
                0.0
            },
            temperature: tank.water_temperature(),
            oxygen: f64::midpoint(day.lowest().1, day.highest().1),
            tap: State {
                tan: tap.ammonia.unwrap_or(0.0),
                nitrate: tap.nitrate.unwrap_or(0.0),
                alkalinity: tap.dkh.unwrap_or(USUAL_DKH) / DEGREES_PER_MEQ,
                ..State::default()
            },
            habit: (
                tank.practice.change_share.as_percent() / 100.0,
                f64::from(tank.practice.change_every_days),
            ),
            young_days: age
                .filter(|days| *days < SETTLED_DAYS)
                .map(|days| days.max(0.0)),
            masked: PerSpecies {
                ammonia: if binds {
                    Some(f64::NEG_INFINITY)
                } else {
                    since(&|medium| medium.takes_species(Species::Ammonia))
                },
                nitrate: since(&|medium| {
                    medium.takes_species(Species::Nitrate) || medium == Medium::AdsorbentPad
                }),
            },
            media: PerSpecies::of(|species| installed(tank, species, &days_ago)),
            flow_l_per_h: numbers.flow_l_per_h,
            animals: tank.stock.iter().map(|group| f64::from(group.count)).sum(),
        }
    }

    /// Where nitrate stands between changes by habit, mg N/L: half-way from the trough to the peak.
    pub(super) fn usual_nitrate(&self) -> f64 {
        let (share, every) = self.habit;
        let gain = self.load * (1.0 - self.uptake) * every;
        peak_between_changes(self.tap.nitrate, gain, share) - gain / 2.0
    }
}
