//! A V-cycle on ever coarser grids: what a pressure solve costs, made linear in the number of
//! cells.
//!
//! The equation of a cell is `Σ a · (φ − φ_neighbour) = b` over its six faces, a the open area of a
//! face in units of h², so that rocks are faces of no area. A coarse face has the summed area of
//! its fine ones over twice the distance; a coarse cell without any open face is left alone.

use std::ops::Range;

use multiversion::multiversion;

use crate::grid::{Axis, Grid, ahead, behind};

/// One grid of the hierarchy.
#[derive(Clone, Debug)]
pub(crate) struct Level {
    grid: Grid,
    /// By axis: open area of the lower face of each cell.
    open: [Vec<f32>; 3],
    /// Sum of a cell's six areas.
    own: Vec<f32>,
    /// One over it, by colour of the chequerboard: zero in cells of the other colour, and in those
    /// without any open face.
    inverse: [Vec<f32>; 2],
    solution: Vec<f32>,
    right: Vec<f32>,
    /// Room for a layer.
    room: Vec<f32>,
}

/// Colours swept before the coarser grid is asked; afterwards the same in the opposite order.
const SWEEPS: [usize; 4] = [0, 1, 0, 1];
/// How often on the coarsest grid, each way.
const SWEEPS_AT_THE_BOTTOM: usize = 4;

impl Level {
    /// A grid with these open areas, given by axis and cell.
    pub(crate) fn new(grid: Grid, open: impl Fn(Axis, [usize; 3]) -> f32) -> Self {
        let zeros = || grid.zeros();
        let mut level = Self {
            grid,
            open: [zeros(), zeros(), zeros()],
            own: zeros(),
            inverse: [zeros(), zeros()],
            solution: zeros(),
            right: zeros(),
            room: Vec::new(),
        };
        for axis in 0..3 {
            // The lowest face is a wall, whatever is said of it.
            for cell in grid.all().filter(|cell| cell[axis] > 0) {
                level.open[axis][grid.at(cell[0], cell[1], cell[2])] = open(axis, cell);
            }
        }
        for [i, j, k] in grid.all() {
            let at = grid.at(i, j, k);
            let sum: f32 = (0..3)
                .map(|axis| level.open[axis][at] + level.open[axis][at + grid.strides()[axis]])
                .sum();
            level.own[at] = sum;
            level.inverse[(i + j + k) % 2][at] = if sum > 0.0 { 1.0 / sum } else { 0.0 };
        }
        level
    }

    /// The grid of twice the spacing along every axis that has more than one cell; `None` if there
    /// is nothing to coarsen.
    fn coarser(&self) -> Option<Self> {
        let fine = self.grid;
        if fine.cells.iter().all(|n| *n <= 2) {
            return None;
        }
        let factor = self.factors();
        let cells: [usize; 3] = std::array::from_fn(|axis| fine.cells[axis].div_ceil(factor[axis]));
        Some(Self::new(
            Grid {
                cells,
                h: 2.0 * fine.h,
            },
            |axis, coarse| {
                // The fine faces in the plane of the coarse one.
                let mut sum = 0.0;
                let across = [0, 1, 2].map(|other| if other == axis { 1 } else { factor[other] });
                for offset in (Grid {
                    cells: across,
                    h: fine.h,
                })
                .all()
                {
                    let [i, j, k] =
                        std::array::from_fn(|other| coarse[other] * factor[other] + offset[other]);
                    if i < fine.cells[0] && j < fine.cells[1] && k < fine.cells[2] {
                        sum += self.open[axis][fine.at(i, j, k)];
                    }
                }
                sum / factor[axis] as f32
            },
        ))
    }

    fn factors(&self) -> [usize; 3] {
        self.grid.cells.map(|n| if n > 1 { 2 } else { 1 })
    }

    /// 1 in the cells that hold water, those with an open face; 0 elsewhere.
    pub(crate) fn wet(&self) -> Vec<f32> {
        self.own
            .iter()
            .map(|own| if *own > 0.0 { 1.0 } else { 0.0 })
            .collect()
    }

    /// `Σ a · (φ − φ_neighbour)` in every cell of a layer.
    pub(crate) fn apply(&self, layer: Range<usize>, values: &[f32], out: &mut [f32]) {
        apply(
            layer,
            self.grid.strides(),
            &self.open,
            &self.own,
            values,
            out,
        );
    }

    /// Gauss–Seidel over the chequerboard, colour by colour as given.
    ///
    /// Each colour follows the one before it a layer behind, which it no longer can tell from done:
    /// memory is gone through once for all of them.
    fn sweep(&mut self, colours: &[usize]) {
        let layers = self.grid.cells[2];
        for front in 0..layers + colours.len() {
            for (lag, colour) in colours.iter().enumerate() {
                if let Some(k) = front.checked_sub(lag).filter(|k| *k < layers) {
                    self.relax_layer(k, *colour);
                }
            }
        }
    }

    /// The sweep of one colour over a solution of zero, which misses the whole right side.
    fn relax_from_zero(&mut self, colour: usize) {
        scale(&mut self.solution, &self.inverse[colour], &self.right);
    }

    fn relax_layer(&mut self, k: usize, colour: usize) {
        let layer = self.grid.layer(k);
        self.miss(layer.clone());
        relax(
            &mut self.solution[layer.clone()],
            &self.inverse[colour][layer],
            &self.room,
        );
    }

    /// Fills the room with by how much the right side of a layer is missed.
    fn miss(&mut self, layer: Range<usize>) {
        self.room.resize(layer.len(), 0.0);
        misses(
            layer,
            self.grid.strides(),
            &self.open,
            &self.own,
            &self.solution,
            &self.right,
            &mut self.room,
        );
    }
}

/// For each cell of a layer, `then(its place in the layer, the sum over the six faces of area times
/// what lies beyond)`.
#[inline(always)]
fn beyond(
    layer: Range<usize>,
    strides: [usize; 3],
    open: &[Vec<f32>; 3],
    values: &[f32],
    mut then: impl FnMut(usize, f32),
) {
    let n = layer.len();
    let [x, y, z] = strides;
    let [ox, oy, oz] = open;
    let (left, right, x_low, x_up) = (
        &values[behind(&layer, x)],
        &values[ahead(&layer, x)],
        &ox[layer.clone()],
        &ox[ahead(&layer, x)],
    );
    let (front, back, y_low, y_up) = (
        &values[behind(&layer, y)],
        &values[ahead(&layer, y)],
        &oy[layer.clone()],
        &oy[ahead(&layer, y)],
    );
    let (under, over, z_low, z_up) = (
        &values[behind(&layer, z)],
        &values[ahead(&layer, z)],
        &oz[layer.clone()],
        &oz[ahead(&layer, z)],
    );
    // Said once, so that nothing is checked cell by cell.
    let (left, right, x_low, x_up) = (&left[..n], &right[..n], &x_low[..n], &x_up[..n]);
    let (front, back, y_low, y_up) = (&front[..n], &back[..n], &y_low[..n], &y_up[..n]);
    let (under, over, z_low, z_up) = (&under[..n], &over[..n], &z_low[..n], &z_up[..n]);
    for i in 0..n {
        let along_x = x_low[i] * left[i] + x_up[i] * right[i];
        let along_y = y_low[i] * front[i] + y_up[i] * back[i];
        then(
            i,
            along_x + along_y + z_low[i] * under[i] + z_up[i] * over[i],
        );
    }
}

#[multiversion(targets("x86_64+avx2"))]
fn apply(
    layer: Range<usize>,
    strides: [usize; 3],
    open: &[Vec<f32>; 3],
    own: &[f32],
    values: &[f32],
    out: &mut [f32],
) {
    let n = layer.len();
    let (own, here, out) = (
        &own[layer.clone()][..n],
        &values[layer.clone()][..n],
        &mut out[layer.clone()][..n],
    );
    beyond(layer, strides, open, values, |i, beyond| {
        out[i] = own[i] * here[i] - beyond;
    });
}

/// Fills `out`, a layer, with by how much the right side is missed.
#[multiversion(targets("x86_64+avx2"))]
fn misses(
    layer: Range<usize>,
    strides: [usize; 3],
    open: &[Vec<f32>; 3],
    own: &[f32],
    values: &[f32],
    right: &[f32],
    out: &mut [f32],
) {
    let n = layer.len();
    let (own, here) = (&own[layer.clone()][..n], &values[layer.clone()][..n]);
    let (right, out) = (&right[layer.clone()][..n], &mut out[..n]);
    beyond(layer, strides, open, values, |i, beyond| {
        out[i] = right[i] + beyond - own[i] * here[i];
    });
}

/// Takes out of each cell what its equation misses; `inverse` is zero where nothing is to change.
#[multiversion(targets("x86_64+avx2"))]
fn relax(values: &mut [f32], inverse: &[f32], misses: &[f32]) {
    for ((value, inverse), misses) in values.iter_mut().zip(inverse).zip(misses) {
        *value += inverse * misses;
    }
}

/// Fills `values` with what `misses` asks of cells that stand at zero.
#[multiversion(targets("x86_64+avx2"))]
fn scale(values: &mut [f32], inverse: &[f32], misses: &[f32]) {
    for ((value, inverse), misses) in values.iter_mut().zip(inverse).zip(misses) {
        *value = inverse * misses;
    }
}

/// A grid with all its coarser ones, finest first.
#[derive(Clone, Debug)]
pub(crate) struct Multigrid {
    levels: Vec<Level>,
}

impl Multigrid {
    pub(crate) fn new(finest: Level) -> Self {
        let mut levels = vec![finest];
        while let Some(coarser) = levels[levels.len() - 1].coarser() {
            levels.push(coarser);
        }
        Self { levels }
    }

    pub(crate) fn finest(&self) -> &Level {
        &self.levels[0]
    }

    /// One V-cycle from zero: roughly the solution for this right side. Symmetric, so that it may
    /// precondition conjugate gradients: on the way up the colours come in the opposite order.
    pub(crate) fn cycle(&mut self, right: &[f32]) -> &[f32] {
        self.levels[0].right.copy_from_slice(right);
        self.descend(0);
        &self.levels[0].solution
    }

    fn descend(&mut self, depth: usize) {
        let (fine, coarser) = self.levels[depth..]
            .split_first_mut()
            .expect("a level to each depth");
        fine.relax_from_zero(SWEEPS[0]);
        let mut back = SWEEPS;
        back.reverse();
        let Some(coarse) = coarser.first_mut() else {
            fine.sweep(&SWEEPS[1..]);
            (1..SWEEPS_AT_THE_BOTTOM).for_each(|_| fine.sweep(&SWEEPS));
            (0..SWEEPS_AT_THE_BOTTOM).for_each(|_| fine.sweep(&back));
            return;
        };
        fine.sweep(&SWEEPS[1..]);
        restrict(fine, coarse);
        self.descend(depth + 1);
        let (fine, coarser) = self.levels[depth..]
            .split_first_mut()
            .expect("a level to each depth");
        prolong(&coarser[0], fine);
        fine.sweep(&back);
    }
}

/// What is left of the right side, summed into the coarse cells. Nothing is left in a cell without
/// open faces: nothing was asked of it.
fn restrict(fine: &mut Level, coarse: &mut Level) {
    coarse.right.fill(0.0);
    let factor = fine.factors();
    let (n, row) = (fine.grid.cells[0], fine.grid.strides()[1]);
    for (k, layer) in fine.grid.layers().enumerate() {
        fine.miss(layer);
        for (j, left) in fine.room.chunks(row).enumerate() {
            let below = coarse.grid.at(0, j / factor[1], k / factor[2]);
            let into = coarse.right[below..].iter_mut();
            if factor[0] == 1 {
                into.zip(&left[..n]).for_each(|(into, one)| *into += one);
            } else {
                let (pairs, odd) = left[..n].as_chunks::<2>();
                let odd = odd.iter().map(|one| [*one, 0.0]);
                into.zip(pairs.iter().copied().chain(odd))
                    .for_each(|(into, [one, other])| *into += one + other);
            }
        }
    }
}

/// The coarse solution, added to the cells it stands for.
fn prolong(coarse: &Level, fine: &mut Level) {
    let factor = fine.factors();
    let n = fine.grid.cells[0];
    for k in 0..fine.grid.cells[2] {
        for j in 0..fine.grid.cells[1] {
            let (row, above) = (
                fine.grid.at(0, j, k),
                coarse.grid.at(0, j / factor[1], k / factor[2]),
            );
            let (into, from) = (&mut fine.solution[row..row + n], &coarse.solution[above..]);
            if factor[0] == 1 {
                into.iter_mut()
                    .zip(from)
                    .for_each(|(into, one)| *into += one);
            } else {
                let (pairs, odd) = into.as_chunks_mut::<2>();
                odd.iter_mut()
                    .zip(&from[pairs.len()..])
                    .for_each(|(into, one)| *into += one);
                pairs
                    .iter_mut()
                    .zip(from)
                    .for_each(|(into, one)| *into = [into[0] + one, into[1] + one]);
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::{Level, Multigrid};
    use crate::grid::Grid;

    /// A rock in the middle, and a right side that sums to zero.
    fn with_rock(cells: [usize; 3]) -> (Multigrid, Vec<f32>) {
        let rock = |cell: [usize; 3]| {
            (0..3).all(|axis| cell[axis] >= cells[axis] / 3 && cell[axis] < cells[axis] / 2)
        };
        let grid = Grid { cells, h: 1.0 };
        let level = Level::new(grid, |axis, cell| {
            let mut lower = cell;
            lower[axis] -= 1;
            if rock(cell) || rock(lower) { 0.0 } else { 1.0 }
        });
        let mut right = grid.zeros();
        right[grid.at(1, 1, 1)] = 1.0;
        right[grid.at(cells[0] - 2, cells[1] - 2, cells[2] - 2)] = -1.0;
        (Multigrid::new(level), right)
    }

    fn norm(values: &[f32]) -> f64 {
        values
            .iter()
            .map(|value| f64::from(*value).powi(2))
            .sum::<f64>()
            .sqrt()
    }

    #[test]
    fn a_cycle_is_symmetric_as_conjugate_gradients_ask() {
        let (mut multigrid, one) = with_rock([24, 12, 12]);
        let mut other = vec![0.0; one.len()];
        let grid = multigrid.finest().grid;
        other[grid.at(20, 2, 9)] = 1.0;
        other[grid.at(2, 9, 2)] = -1.0;
        let dot = |a: &[f32], b: &[f32]| {
            a.iter()
                .zip(b)
                .map(|(a, b)| f64::from(*a) * f64::from(*b))
                .sum::<f64>()
        };
        let (through_one, through_other) = (
            multigrid.cycle(&one).to_vec(),
            multigrid.cycle(&other).to_vec(),
        );
        let (ab, ba) = (dot(&other, &through_one), dot(&one, &through_other));
        assert!((ab - ba).abs() < 1e-4 * ab.abs().max(ba.abs()), "{ab} {ba}");
        assert!(dot(&one, &through_one) > 0.0 && dot(&other, &through_other) > 0.0);
    }

    #[test]
    fn what_is_left_shrinks_several_times_with_every_cycle() {
        let (mut multigrid, right) = with_rock([48, 20, 20]);
        let (mut left, mut values) = (right.clone(), vec![0.0_f32; right.len()]);
        let mut before = norm(&left);
        for _ in 0..4 {
            let correction = multigrid.cycle(&left).to_vec();
            values
                .iter_mut()
                .zip(correction)
                .for_each(|(value, more)| *value += more);
            let mut applied = vec![0.0; right.len()];
            let level = multigrid.finest();
            level
                .grid
                .layers()
                .for_each(|layer| level.apply(layer, &values, &mut applied));
            left.iter_mut()
                .zip(right.iter().zip(applied))
                .for_each(|(left, (right, applied))| *left = right - applied);
            let now = norm(&left);
            assert!(now < before / 2.0, "{before} {now}");
            before = now;
        }
    }
}
