//! What has to be bought for a change, and how much of it this tank takes. Amounts are common
//! practice, no source.

use crate::tank::thing::Inlet;
use crate::tank::{Stage, Tank};

/// In what something is measured.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Measure {
    /// Whole pieces.
    Pieces,
    /// Litres of a medium.
    Litres,
    /// Metres of hose or tube.
    Metres,
}

/// Something to buy.
#[derive(Debug)]
pub struct Buy {
    /// What.
    pub what: &'static str,
    /// How much this tank takes.
    pub amount: fn(&Tank) -> f64,
    /// In what that is.
    pub measure: Measure,
}

pub(super) const fn buy(what: &'static str, amount: fn(&Tank) -> f64, measure: Measure) -> Buy {
    Buy {
        what,
        amount,
        measure,
    }
}

pub(super) fn one(_: &Tank) -> f64 {
    1.0
}

pub(super) fn half_litre(_: &Tank) -> f64 {
    0.5
}

pub(super) fn medium_l(_: &Tank) -> f64 {
    super::makes::MORE_MEDIA_L
}

/// From the bottom of the tank to a shelf above it, and some to spare.
pub(super) fn air_hose_m(tank: &Tank) -> f64 {
    (tank.water_depth.as_cm() / 100.0 + 1.5).ceil()
}

/// The height of the tank.
pub(super) fn riser_m(tank: &Tank) -> f64 {
    tank.water_depth.as_cm() / 100.0
}

#[expect(clippy::cast_precision_loss, reason = "a handful")]
pub(super) fn stones(tank: &Tank) -> f64 {
    let stones = tank
        .things
        .iter()
        .filter(|thing| thing.what.form().air().is_some());
    stones.count().max(1) as f64
}

/// One for each 30 L, at most two.
pub(super) fn catalysts(tank: &Tank) -> f64 {
    (tank.net_volume().as_litres() / 30.0)
        .ceil()
        .clamp(1.0, 2.0)
}

/// One for each 15 L, at most twelve.
pub(super) fn plants(tank: &Tank) -> f64 {
    (tank.net_volume().as_litres() / 15.0)
        .ceil()
        .clamp(2.0, 12.0)
}

#[expect(clippy::cast_precision_loss, reason = "a handful")]
pub(super) fn filters(tank: &Tank) -> f64 {
    tank.filters.len().max(1) as f64
}

#[expect(clippy::cast_precision_loss, reason = "a handful")]
pub(super) fn bare_intakes(tank: &Tank) -> f64 {
    let bare = tank
        .things
        .iter()
        .filter(|thing| thing.what.form().inlet() == Inlet::Tube { has_sponge: false });
    bare.count().max(1) as f64
}

/// Half of all foam.
pub(super) fn half_of_foam_l(tank: &Tank) -> f64 {
    let media = tank.filters.iter().flat_map(|filter| filter.media());
    let litres: f64 = media
        .filter(|portion| matches!(portion.medium.stage(), Stage::Coarse | Stage::Medium))
        .map(|portion| portion.litres.as_litres())
        .sum();
    (litres / 2.0).max(0.2)
}

/// Every hose, and a tenth to spare: one cut too short idles the filter.
pub(super) fn hose_m(tank: &Tank) -> f64 {
    let metres: f64 = tank
        .filters
        .iter()
        .flat_map(|filter| [filter.suction_hose, filter.return_hose])
        .flatten()
        .map(|hose| hose.as_cm() / 100.0)
        .sum();
    if metres > 0.0 {
        (1.1 * metres).ceil()
    } else {
        3.0
    }
}
