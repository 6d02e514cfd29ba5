//! The dirt that comes to a filter, and how long each of its beds takes it.

use super::dirt::DIRT_PER_FEED;
use super::{Catch, Plumbing};
use crate::tank::thing::Inlet;
use crate::tank::{Filter, Tank};
use crate::water::oxygen::demand::dry_feed_g;

/// Share of all dirt that reaches filters where no flow was computed: the rest rots on the bed or is
/// siphoned off. A judgement.
pub const CAUGHT_UNLESS_COMPUTED: f64 = 0.5;

/// What a pre-filter sponge on the intake keeps from what follows. Keepers say that a filter behind
/// one is opened about half as often; common practice, no source.
pub const PREFILTER_KEEPS: f64 = 0.5;

/// The dirt that a filter takes in.
#[derive(Clone, Debug, PartialEq)]
pub struct Load {
    /// Dry dirt that enters it, g a day.
    pub g_per_day: f64,
    /// Of each bed, in order: dry dirt that stays in it, g a day.
    pub stays_g_per_day: Vec<f64>,
    /// Of each bed: days until dirt fills it, from clean.
    pub days_to_fill: Vec<f64>,
}

impl Load {
    /// Of a filter of a tank, `caught` being the share of all dirt that its own intakes catch.
    pub fn of(tank: &Tank, filter: &Filter, plumbing: &Plumbing, caught: f64) -> Self {
        let all = DIRT_PER_FEED * dry_feed_g(tank.mean_feed(), tank.feed_protein);
        let kept_out = if has_prefilter(tank, filter) {
            PREFILTER_KEEPS
        } else {
            0.0
        };
        let g_per_day = all * caught * (1.0 - kept_out);
        let path = filter.path();
        let (mut coming, mut stays, mut days) = (g_per_day, Vec::new(), Vec::new());
        for laid in &plumbing.beds {
            let stop = path.iter().find(|stop| stop.at == laid.at);
            let Some(portion) = stop.and_then(|stop| stop.media.get(laid.portion)) else {
                continue;
            };
            let catch = Catch::of(portion.medium);
            let held = coming * catch.share;
            stays.push(held);
            days.push(portion.litres.as_litres() * catch.holds_g_per_l / held.max(1e-9));
            coming -= held;
        }
        Self {
            g_per_day,
            stays_g_per_day: stays,
            days_to_fill: days,
        }
    }

    /// The bed that is full first and its days from clean to full.
    pub fn first_full(&self) -> Option<(usize, f64)> {
        let days = self.days_to_fill.iter().copied().enumerate();
        days.min_by(|one, other| one.1.total_cmp(&other.1))
    }
}

/// A sponge stands over an intake of this filter.
pub fn has_prefilter(tank: &Tank, filter: &Filter) -> bool {
    tank.things.iter().any(|thing| {
        let form = thing.what.form();
        thing.is_of(filter.number) && form.inlet() == Inlet::Tube { has_sponge: true }
    })
}

/// Share of all dirt that a filter catches where no flow was computed: by its share of the water
/// that all filters move.
pub fn caught_by_flow(tank: &Tank, filter: &Filter) -> f64 {
    let all = tank.filter_flow_l_per_h().max(1e-9);
    CAUGHT_UNLESS_COMPUTED * filter.flow().as_litres_per_hour() / all
}
