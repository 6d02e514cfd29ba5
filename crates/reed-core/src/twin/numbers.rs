//! The arithmetic that is otherwise skipped: turnover, stock, load, media.

use crate::figure::Figure;
use crate::tank::{Area, Medium, Stage, Tank, areas};
use crate::twin::Twin;
use crate::units::masses::NITRATE_PER_NITROGEN;
use crate::water::nitrogen::{KIT_ZERO_MG_L, areal_rate_g_m2_day, peak_between_changes};
use crate::water::oxygen::demand::nitrogen_mg_day;

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
    /// Ammonia nitrogen set free each day, g: by feed and protein.
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
        let media = || tank.filters.iter().flat_map(|filter| filter.media());
        let stock = tank.stock_mass().as_grams();
        let areas = areas(tank);
        Self {
            rated_l_per_h: tank
                .filters
                .iter()
                .map(|filter| filter.rated.as_litres_per_hour())
                .sum(),
            flow_l_per_h: tank.filter_flow_l_per_h(),
            turnover_per_h: tank.turnover_per_h(),
            stock_g: stock,
            stock_g_per_l: stock / litres,
            nitrogen_g_per_day: nitrogen_mg_day(tank.mean_feed(), tank.feed_protein) / 1000.0,
            media_l: media().map(|portion| portion.litres.as_litres()).sum(),
            media_m2: areas
                .iter()
                .filter(|area| area.in_filter)
                .map(|area| area.m2)
                .sum(),
            surface_m2: areas.iter().map(|area| area.m2).sum(),
        }
    }
}

/// Surface that bacteria have and need.
#[derive(Clone, Debug, PartialEq)]
pub struct Capacity {
    /// Every surface.
    pub areas: Vec<Area>,
    /// What a square metre turns over with ammonia at a kit's zero, at the lowest oxygen of the
    /// day, g N/d.
    pub rate_g_m2_day: f64,
    /// What the feed sets free, g N/d.
    pub load_g_day: f64,
}

impl Capacity {
    /// Of a tank.
    pub fn of(tank: &Tank) -> Self {
        Self {
            areas: areas(tank),
            rate_g_m2_day: areal_rate_g_m2_day(
                KIT_ZERO_MG_L,
                Twin::of(tank).day.lowest().1,
                tank.water_temperature(),
            ),
            load_g_day: Numbers::of(tank).nitrogen_g_per_day,
        }
    }

    /// Surface there, m².
    pub fn have_m2(&self) -> f64 {
        self.areas.iter().map(|area| area.m2).sum()
    }

    /// Surface that would carry just what is fed, m²; zero without feed.
    pub fn need_m2(&self) -> f64 {
        self.load_g_day / self.rate_g_m2_day
    }

    /// How many times the surfaces carry what is fed; `None` without feed.
    pub fn ratio(&self) -> Option<f64> {
        (self.load_g_day > 0.0).then(|| self.have_m2() / self.need_m2())
    }
}

/// How many times the surfaces of a tank carry the bacteria that its feed needs; `None` without
/// feed.
pub fn capacity_ratio(tank: &Tank) -> Option<f64> {
    Capacity::of(tank).ratio()
}

/// The medium to reckon missing surface in: the keeper's own biological medium that has most of it,
/// else sintered glass or clay.
pub fn medium_to_add(tank: &Tank) -> Medium {
    let media = tank
        .filters
        .iter()
        .flat_map(|filter| filter.media())
        .filter(|portion| portion.medium.stage() == Stage::Biological);
    media
        .max_by(|one, other| one.surface_m2().total_cmp(&other.surface_m2()))
        .map_or(Medium::Sintered, |portion| portion.medium)
}

/// Nitrate just before each water change once it has settled, mg/L of the ion, over tap water with
/// so much of it.
pub fn nitrate_peak_mg_l(tank: &Tank, tap_mg_l: f64) -> f64 {
    let days = f64::from(tank.practice.change_every_days);
    let gain = Numbers::of(tank).nitrogen_g_per_day * 1000.0 * days / tank.net_volume().as_litres()
        * NITRATE_PER_NITROGEN;
    peak_between_changes(
        tap_mg_l,
        gain,
        tank.practice.change_share.as_percent() / 100.0,
    )
}
