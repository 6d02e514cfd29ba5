//! How long ago the water was last at the surface.

use crate::field::Field;
use crate::measure::drifting::{Drifter, Met, scattered};

/// Longest that is looked back, s: an hour without the surface is long whatever it is.
const LONGEST: f32 = 1800.0;

/// Seconds since water was last at the surface: the time that this share of it stays below, such as
/// 0.95; by following so many particles back through a field whose speeds are turned round
/// ([`Field::reversed`]). At most half an hour.
pub fn seconds_since_surface(reversed: &Field, share: f32, particles: usize) -> f32 {
    let mut times = Vec::with_capacity(particles);
    each_way_back(reversed, particles, |_, seconds| times.push(seconds));
    times.sort_by(f32::total_cmp);
    #[expect(
        clippy::cast_possible_truncation,
        clippy::cast_sign_loss,
        reason = "an index of a few hundred"
    )]
    let index = (share * times.len() as f32) as usize;
    times
        .get(index.min(times.len().saturating_sub(1)))
        .copied()
        .unwrap_or(0.0)
}

/// Follows particles back to the surface; `then` is told the places of each on its way, each with
/// the seconds gone by till there, and how long the whole way took.
pub(crate) fn each_way_back(
    reversed: &Field,
    particles: usize,
    mut then: impl FnMut(&[([f32; 3], f32)], f32),
) {
    let mut way = Vec::new();
    for (seed, from) in scattered(reversed, particles).into_iter().enumerate() {
        let mut drifter = Drifter::new(reversed, seed as u64, from, 0.0);
        let mut seconds = 0.0;
        way.clear();
        while seconds < LONGEST {
            way.push((drifter.at, seconds));
            let (met, dt) = drifter.step();
            seconds += dt;
            if met == Met::Surface {
                break;
            }
        }
        then(&way, seconds);
    }
}
