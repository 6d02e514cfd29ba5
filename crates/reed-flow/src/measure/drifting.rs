//! A particle that drifts with the water, sinks or rises in it, and is jostled by eddies.

use crate::field::Field;

/// A particle on its way. Everything it does is settled by its seed: the same on one thread or
/// many.
pub(crate) struct Drifter<'a> {
    field: &'a Field,
    rng: fastrand::Rng,
    /// Where it is, m.
    pub(crate) at: [f32; 3],
    /// Own speed upwards, m/s; negative for what sinks.
    rises: f32,
}

/// What a step ran into.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Met {
    /// Nothing.
    Water,
    /// The bed, or the top of a rock.
    Ground,
    /// The surface.
    Surface,
}

/// Share of a cell's edge that a step may cover.
const STEP_CELLS: f32 = 0.5;
/// Speed below which a particle counts as this fast for its step, m/s: in still water nothing has
/// to be resolved.
const SLOWEST: f32 = 0.004;

impl<'a> Drifter<'a> {
    pub(crate) fn new(field: &'a Field, seed: u64, at: [f32; 3], rises: f32) -> Self {
        Self {
            field,
            rng: fastrand::Rng::with_seed(seed),
            at,
            rises,
        }
    }

    /// A number from −1 to 1 of the variance of a throw of ±1/√3.
    fn throw(&mut self) -> f32 {
        2.0 * self.rng.f32() - 1.0
    }

    /// Something of this probability comes true.
    pub(crate) fn chance(&mut self, probability: f32) -> bool {
        self.rng.f32() < probability
    }

    /// Lifts it to somewhere between these heights above where it is, m.
    pub(crate) fn lift(&mut self, [least, most]: [f32; 2]) {
        self.at[2] += least + (most - least) * self.rng.f32();
        self.at[2] = self.at[2].min(self.field.size()[2]);
    }

    /// Moves it on; returns what it ran into and the seconds that went by.
    ///
    /// Midpoint rule in the mean flow; on top a random walk of variance 2 ν dt along each axis,
    /// with the drift ∇ν without which particles would gather where eddies are weak (Visser 1997,
    /// from memory).
    pub(crate) fn step(&mut self) -> (Met, f32) {
        let h = self.field.grid().h;
        let (here, slopes) = self.field.with_slopes(self.at);
        let [u, v, w, viscosity] = here;
        let speed = [u, v, w + self.rises];
        let fastest = u.abs() + v.abs() + w.abs() + self.rises.abs();
        // In the longest step eddies carry it over about a cell.
        let longest = h * h / (6.0 * viscosity.max(1e-7));
        let dt = (STEP_CELLS * h / fastest.max(SLOWEST)).min(longest);
        // Halfway is a quarter of a cell on at most: the slopes here reach so far.
        let halfway: [f32; 4] = std::array::from_fn(|part| {
            let rises = (0..3).map(|axis| slopes[axis][part] * speed[axis]);
            here[part] + 0.5 * dt * rises.sum::<f32>()
        });
        // Thrice the variance, since a throw has a third of that of a coin.
        let jostle = (6.0 * halfway[3].max(0.0) * dt).sqrt();
        let mut next = self.at;
        for (axis, next) in next.iter_mut().enumerate() {
            let own = if axis == 2 { self.rises } else { 0.0 };
            *next += dt * (halfway[axis] + own + slopes[axis][3]) + jostle * self.throw();
        }
        (self.arrive(next), dt)
    }

    /// Takes the particle to a place, as far as the walls and rocks let it.
    fn arrive(&mut self, mut next: [f32; 3]) -> Met {
        let size = self.field.size();
        for axis in 0..2 {
            if next[axis] < 0.0 {
                next[axis] = -next[axis];
            } else if next[axis] > size[axis] {
                next[axis] = 2.0 * size[axis] - next[axis];
            }
            next[axis] = next[axis].clamp(0.0, size[axis]);
        }
        let mut met = Met::Water;
        if next[2] <= 0.0 {
            (next[2], met) = (0.0, Met::Ground);
        } else if next[2] >= size[2] {
            (next[2], met) = (size[2], Met::Surface);
        }
        let cell = self.field.cell(next);
        if self.field.is_solid(cell) {
            let mut above = cell;
            above[2] = self.field.cell(self.at)[2];
            if above[2] > cell[2] && !self.field.is_solid(above) {
                // Down onto a rock: it lies on top.
                next[2] = (cell[2] + 1) as f32 * self.field.grid().h;
                self.at = next;
                return Met::Ground;
            }
            // Against its side, or under it: it stays where it was.
            return met;
        }
        self.at = next;
        met
    }
}

/// Evenly scattered places of the water, without those in rock: the low-discrepancy sequence of the
/// plastic number's three- dimensional kin (Roberts 2018, from memory), so that a few hundred are
/// as good as thousands of random ones.
pub(crate) fn scattered(field: &Field, count: usize) -> Vec<[f32; 3]> {
    const STEPS: [f64; 3] = [
        0.819_172_513_396_164_4,
        0.671_043_606_703_789_2,
        0.549_700_477_901_970_3,
    ];
    let size = field.size();
    let mut places = Vec::with_capacity(count);
    // A box that is rock all over would never fill.
    for index in 1..=20 * count {
        #[expect(clippy::cast_possible_truncation, reason = "a share of a side")]
        let place = std::array::from_fn(|axis| {
            (0.5 + STEPS[axis] * index as f64).fract() as f32 * size[axis]
        });
        if !field.is_solid(field.cell(place)) {
            places.push(place);
            if places.len() == count {
                break;
            }
        }
    }
    places
}

#[cfg(test)]
mod tests {
    use super::{Drifter, Met, scattered};
    use crate::field::Field;
    use crate::grid::Grid;

    fn still(viscosity: f32) -> Field {
        let grid = Grid {
            cells: [10, 10, 10],
            h: 0.1,
        };
        let speeds = [grid.zeros(), grid.zeros(), grid.zeros()];
        Field::new(
            &grid,
            &speeds,
            &vec![viscosity; grid.len()],
            &vec![false; grid.len()],
        )
    }

    /// Einstein 1905: the mean squared distance along an axis is 2 ν t.
    #[test]
    fn eddies_spread_particles_by_the_square_root_of_time() {
        let field = still(1e-4);
        let (mut sum, mut seconds) = (0.0, 0.0);
        for seed in 0..400 {
            let mut drifter = Drifter::new(&field, seed, [0.5; 3], 0.0);
            seconds = 0.0;
            while seconds < 20.0 {
                seconds += drifter.step().1;
            }
            sum += (drifter.at[0] - 0.5).powi(2);
        }
        let ratio = sum / 400.0 / (2.0 * 1e-4 * seconds);
        assert!((ratio - 1.0).abs() < 0.15, "{ratio}");
    }

    #[test]
    fn what_sinks_reaches_the_bed_in_its_time_and_places_are_even() {
        let field = still(1e-9);
        let mut drifter = Drifter::new(&field, 7, [0.5, 0.5, 0.8], -0.01);
        let mut seconds = 0.0;
        loop {
            let (met, dt) = drifter.step();
            seconds += dt;
            if met == Met::Ground {
                break;
            }
        }
        assert!((seconds - 80.0).abs() < 6.0, "{seconds}");
        let places = scattered(&field, 1000);
        for axis in 0..3 {
            let lower = places.iter().filter(|place| place[axis] < 0.5).count();
            assert!((490..=510).contains(&lower), "{lower} of 1000 along {axis}");
        }
    }
}
