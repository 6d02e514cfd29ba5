//! What each cell of the water has seen, for pictures: how long ago the surface, and how many of
//! the bubbles.

use crate::field::Field;
use crate::measure::bubbles::{self, Rise};
use crate::measure::surfacing;

/// A number to each cell, x fastest, as [`Field::cell`] counts them.
#[derive(Clone, Debug, PartialEq)]
pub struct Maps {
    /// Mean seconds since the water there was at the surface.
    pub since_surface: Vec<f32>,
    /// Share of the micro-bubbles that pass through.
    pub bubbles: Vec<f32>,
}

impl Maps {
    /// By following so many particles back to the surface, and so many bubbles up from their
    /// sources, m.
    pub fn of(field: &Field, sources: &[[f32; 3]], particles: usize, bubbles: usize) -> Self {
        Self {
            since_surface: since_surface(field, particles),
            bubbles: passing(field, sources, bubbles),
        }
    }
}

/// Every step of a way back to the surface tells the age of the water where it was: what was still
/// to go.
fn since_surface(field: &Field, particles: usize) -> Vec<f32> {
    let cells = field.grid().cells.iter().product();
    let (mut sums, mut counts) = (vec![0.0_f32; cells], vec![0_u32; cells]);
    surfacing::each_way_back(&field.reversed(), particles, |way, seconds| {
        for (at, gone) in way {
            let cell = field.index(field.cell(*at));
            sums[cell] += seconds - gone;
            counts[cell] += 1;
        }
    });
    let (sums, counts) = pooled(field, &sums, &counts);
    let known = sums
        .iter()
        .zip(&counts)
        .map(|(sum, count)| (*count > 0).then_some(sum / *count as f32));
    filled(field, known.collect())
}

/// Together with what the neighbours saw: a few ways through one cell say little.
fn pooled(field: &Field, sums: &[f32], counts: &[u32]) -> (Vec<f32>, Vec<u32>) {
    let around = |cell: [usize; 3]| {
        field
            .grid()
            .beside(cell)
            .chain([cell])
            .map(|cell| field.index(cell))
    };
    let sum = |cell| around(cell).map(|index| sums[index]).sum();
    let count = |cell| around(cell).map(|index| counts[index]).sum();
    (
        field.grid().all().map(sum).collect(),
        field.grid().all().map(count).collect(),
    )
}

/// Cells that nothing came through get the mean of their neighbours, from the known ones outwards;
/// rock stays at zero.
fn filled(field: &Field, mut known: Vec<Option<f32>>) -> Vec<f32> {
    let grid = field.grid();
    loop {
        let found: Vec<(usize, f32)> = grid
            .all()
            .filter(|cell| known[field.index(*cell)].is_none() && !field.is_solid(*cell))
            .filter_map(|cell| {
                let beside: Vec<f32> = grid
                    .beside(cell)
                    .filter_map(|other| known[field.index(other)])
                    .collect();
                (!beside.is_empty()).then(|| {
                    (
                        field.index(cell),
                        beside.iter().sum::<f32>() / beside.len() as f32,
                    )
                })
            })
            .collect();
        if found.is_empty() {
            return known.into_iter().map(Option::unwrap_or_default).collect();
        }
        for (index, mean) in found {
            known[index] = Some(mean);
        }
    }
}

/// Share of the bubbles that pass each cell, each counted once.
fn passing(field: &Field, sources: &[[f32; 3]], each: usize) -> Vec<f32> {
    let mut shares = vec![0.0; field.grid().cells.iter().product()];
    let mut last = vec![0; shares.len()];
    let share = 1.0 / (sources.len() * each).max(1) as f32;
    for (index, source) in sources.iter().enumerate() {
        for bubble in 0..each {
            let number = index * each + bubble + 1;
            bubbles::follow(field, number as u64, *source, Rise::Micro, |at| {
                let cell = field.index(field.cell(at));
                if last[cell] != number {
                    last[cell] = number;
                    shares[cell] += share;
                }
                true
            });
        }
    }
    shares
}

#[cfg(test)]
mod tests {
    use super::Maps;
    use crate::field::Field;
    use crate::grid::Grid;

    /// In still water with eddies of one strength the mean age is that of diffusion to the surface,
    /// z in from the bed: (d² − z²) / 2ν for a depth d. The surface is met to half a cell, for
    /// particles step. Bubbles rise straight.
    #[test]
    fn still_water_ages_as_diffusion_has_it_and_bubbles_go_up() {
        let (h, viscosity) = (0.05, 1e-3);
        let grid = Grid {
            cells: [10, 4, 8],
            h,
        };
        let thick = vec![viscosity; grid.len()];
        let field = Field::new(
            &grid,
            &[grid.zeros(), grid.zeros(), grid.zeros()],
            &thick,
            &vec![false; grid.len()],
        );
        let maps = Maps::of(&field, &[[0.1, 0.1, 0.05]], 3000, 300);
        let depth = 8.0 * h;
        for k in [0, 3, 6] {
            let z = (k as f32 + 0.5) * h;
            let mean = (0..10)
                .flat_map(|i| (0..4).map(move |j| [i, j, k]))
                .map(|cell| maps.since_surface[field.index(cell)])
                .sum::<f32>()
                / 40.0;
            let [least, most] =
                [depth, depth + h / 2.0].map(|depth| (depth * depth - z * z) / (2.0 * viscosity));
            assert!(
                mean > 0.95 * least && mean < 1.05 * most,
                "{mean} s at {z} m, not from {least} to {most}"
            );
        }
        let share = |i: usize, k: usize| {
            (0..4)
                .map(|j| maps.bubbles[field.index([i, j, k])])
                .sum::<f32>()
        };
        assert!(
            share(2, 3) + share(1, 3) > 0.5 && share(8, 3) < 0.05,
            "{} and {}",
            share(2, 3),
            share(8, 3)
        );
    }

    /// Rock has no age, and a corner that no particle found has that of its neighbours.
    #[test]
    fn rock_is_empty_and_what_was_not_seen_is_filled() {
        let grid = Grid {
            cells: [4, 3, 3],
            h: 0.1,
        };
        let mut solid = vec![false; grid.len()];
        solid[grid.at(1, 1, 0)] = true;
        let still = [grid.zeros(), grid.zeros(), grid.zeros()];
        let field = Field::new(&grid, &still, &vec![1e-4; grid.len()], &solid);
        let rock = (0..36)
            .find(|index| {
                grid.all()
                    .nth(*index)
                    .is_some_and(|cell| field.is_solid(cell))
            })
            .expect("a rock");
        let mut known = vec![None; 36];
        known[35] = Some(7.0);
        let filled = super::filled(&field, known);
        assert!(
            filled
                .iter()
                .enumerate()
                .all(|(index, value)| if index == rock {
                    *value == 0.0
                } else {
                    (*value - 7.0).abs() < 1e-6
                })
        );
    }
}
