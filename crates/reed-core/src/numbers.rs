//! The arithmetic that is otherwise skipped: turnover, stock, load, media.

use crate::ahead::areas;
use crate::figure::Figure;
use crate::tank::Tank;
use crate::twin::Twin;
use crate::water::nitrogen::{KIT_ZERO_MG_L, NITRATE_PER_NITROGEN, areal_rate_g_m2_day, peak_between_changes};
use crate::water::oxygen::demand::NITROGEN_PER_PROTEIN;

/// What a litre of sintered media weighs as it lies, kg.
pub const SINTERED_KG_PER_L: Figure = Figure::from_memory(0.74);

/// A tank in numbers.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Numbers {
    /// Water through all filters, L/h, by label.
    pub rated_l_per_h: f64,
    /// Water through all filters to reckon with, L/h: measured, or the usual share of the label.
    pub flow_l_per_h: f64,
    /// Times the water passes the filters per hour.
    pub turnover_per_h: f64,
    /// Mass of all animals, g.
    pub stock_g: f64,
    /// Animals per litre of water, g/L.
    pub stock_g_per_l: f64,
    /// Ammonia nitrogen set free each day, g: feed · protein · 0.092 (Timmons & Ebeling).
    pub nitrogen_g_per_day: f64,
    /// Media in all filters, L.
    pub media_l: f64,
    /// Surface in the media that bacteria can use, m².
    pub media_m2: f64,
    /// The same with panes, rocks and the upper bed, m².
    pub surface_m2: f64,
}

impl Numbers {
    /// The numbers of a tank.
    pub fn of(tank: &Tank) -> Self {
        let litres = tank.net_volume().as_litres();
        let flow = tank.filters.iter().map(|filter| filter.flow().as_litres_per_hour()).sum::<f64>();
        let media = || tank.filters.iter().flat_map(|filter| filter.media());
        let stock = tank.stock_mass().as_grams();
        let areas = areas(tank);
        Self {
            rated_l_per_h: tank.filters.iter().map(|filter| filter.rated.as_litres_per_hour()).sum(),
            flow_l_per_h: flow,
            turnover_per_h: flow / litres,
            stock_g: stock,
            stock_g_per_l: stock / litres,
            nitrogen_g_per_day: tank.feed.as_grams() * tank.feed_protein.as_percent() / 100.0 * NITROGEN_PER_PROTEIN.value,
            media_l: media().map(|portion| portion.litres.as_litres()).sum(),
            media_m2: areas.iter().filter(|area| area.in_filter).map(|area| area.m2).sum(),
            surface_m2: areas.iter().map(|area| area.m2).sum(),
        }
    }
}

/// How many times the surfaces carry the bacteria that the feed needs, with ammonia at a kit's zero and the lowest oxygen of
/// the day; `None` without feed.
pub fn capacity_ratio(tank: &Tank) -> Option<f64> {
    let numbers = Numbers::of(tank);
    let rate = areal_rate_g_m2_day(KIT_ZERO_MG_L, Twin::of(tank).day.lowest().1, tank.water_temperature());
    (numbers.nitrogen_g_per_day > 0.0).then(|| numbers.surface_m2 * rate / numbers.nitrogen_g_per_day)
}

/// Surface that would carry just what the feed needs, m²; zero without feed.
pub fn surface_needed_m2(tank: &Tank) -> f64 {
    capacity_ratio(tank).map_or(0.0, |ratio| Numbers::of(tank).surface_m2 / ratio)
}

/// Nitrate just before each water change once it has settled, mg/L of the ion, over tap water with so much of it.
pub fn nitrate_peak_mg_l(tank: &Tank, tap_mg_l: f64) -> f64 {
    let days = f64::from(tank.practice.change_every_days);
    let gain = Numbers::of(tank).nitrogen_g_per_day * 1000.0 * days / tank.net_volume().as_litres() * NITRATE_PER_NITROGEN;
    peak_between_changes(tap_mg_l, gain, tank.practice.change_share.as_percent() / 100.0)
}
