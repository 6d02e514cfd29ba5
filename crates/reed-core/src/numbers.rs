//! The arithmetic that is otherwise skipped: turnover, stock, load, media.

use crate::tank::Tank;
use crate::water::oxygen::demand::NITROGEN_PER_PROTEIN;

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
}

impl Numbers {
    /// The numbers of a tank.
    pub fn of(tank: &Tank) -> Self {
        let litres = tank.net_volume().as_litres();
        let flow = tank.filters.iter().map(|filter| filter.flow().as_litres_per_hour()).sum::<f64>();
        let media = || tank.filters.iter().flat_map(|filter| filter.media());
        let stock = tank.stock_mass().as_grams();
        Self {
            rated_l_per_h: tank.filters.iter().map(|filter| filter.rated.as_litres_per_hour()).sum(),
            flow_l_per_h: flow,
            turnover_per_h: flow / litres,
            stock_g: stock,
            stock_g_per_l: stock / litres,
            nitrogen_g_per_day: tank.feed.as_grams() * tank.feed_protein.as_percent() / 100.0 * NITROGEN_PER_PROTEIN.value,
            media_l: media().map(|portion| portion.litres.as_litres()).sum(),
            media_m2: media().map(|portion| portion.litres.as_litres() * portion.medium.surface_m2_per_l().value).sum(),
        }
    }
}
