//! A V-cycle on ever coarser grids: what a pressure solve costs, made linear in the number of cells.
//!
//! The equation of a cell is `Σ a · (φ − φ_neighbour) = b` over its six faces, a the open area of a face in units of h², so
//! that rocks are faces of no area. A coarse face has the summed area of its fine ones over twice the distance; a coarse cell
//! without any open face is left alone.

/// One grid of the hierarchy, padded by one cell on each side; x fastest.
#[derive(Clone, Debug)]
pub(crate) struct Level {
    cells: [usize; 3],
    strides: [usize; 3],
    /// By axis: open area of the lower face of each cell.
    open: [Vec<f32>; 3],
    /// Sum of a cell's six areas.
    own: Vec<f32>,
    /// One over it; zero for a cell without any.
    inverse: Vec<f32>,
    /// Room for a row.
    sums: Vec<f32>,
    solution: Vec<f32>,
    right: Vec<f32>,
}

/// Sweeps before and after the coarser grid is asked.
const SWEEPS: usize = 2;
/// Sweeps on the coarsest grid.
const SWEEPS_AT_THE_BOTTOM: usize = 8;

impl Level {
    /// A grid with these open areas, given by axis and cell, without padding.
    pub(crate) fn new(cells: [usize; 3], open: impl Fn(usize, [usize; 3]) -> f32) -> Self {
        let row = cells[0] + 2;
        let strides = [1, row, row * (cells[1] + 2)];
        let len = row * (cells[1] + 2) * (cells[2] + 2);
        let mut level = Self {
            cells,
            strides,
            open: std::array::from_fn(|_| vec![0.0; len]),
            own: vec![0.0; len],
            inverse: vec![0.0; len],
            sums: vec![0.0; cells[0]],
            solution: vec![0.0; len],
            right: vec![0.0; len],
        };
        for axis in 0..3 {
            for cell in level.all() {
                // The lowest face is a wall, whatever is said of it.
                let at = level.at(cell);
                level.open[axis][at] = if cell[axis] == 0 { 0.0 } else { open(axis, cell) };
            }
        }
        for cell in level.all() {
            let at = level.at(cell);
            let sum: f32 = (0..3).map(|axis| level.open[axis][at] + level.open[axis][at + strides[axis]]).sum();
            level.own[at] = sum;
            level.inverse[at] = if sum > 0.0 { 1.0 / sum } else { 0.0 };
        }
        level
    }

    /// The grid of twice the spacing along every axis that has more than one cell; `None` if there is nothing to coarsen.
    fn coarser(&self) -> Option<Self> {
        if self.cells.iter().all(|n| *n <= 2) {
            return None;
        }
        let factor = self.factors();
        let cells: [usize; 3] = std::array::from_fn(|axis| self.cells[axis].div_ceil(factor[axis]));
        Some(Self::new(cells, |axis, coarse| {
            // The fine faces in the plane of the coarse one.
            let mut sum = 0.0;
            let across = [0, 1, 2].map(|other| if other == axis { 1 } else { factor[other] });
            for offset in offsets(across) {
                let fine: [usize; 3] = std::array::from_fn(|other| coarse[other] * factor[other] + offset[other]);
                if (0..3).all(|other| fine[other] < self.cells[other]) {
                    sum += self.open[axis][self.at(fine)];
                }
            }
            sum / factor[axis] as f32
        }))
    }

    fn factors(&self) -> [usize; 3] {
        self.cells.map(|n| if n > 1 { 2 } else { 1 })
    }

    /// How many numbers a field of it holds.
    pub(crate) fn len(&self) -> usize {
        self.inverse.len()
    }

    /// The cells that hold water: those with an open face.
    pub(crate) fn wet(&self) -> impl Iterator<Item = [usize; 3]> {
        self.all().filter(|cell| self.inverse[self.at(*cell)] > 0.0)
    }

    /// Place of a cell.
    pub(crate) const fn at(&self, cell: [usize; 3]) -> usize {
        (cell[0] + 1) * self.strides[0] + (cell[1] + 1) * self.strides[1] + (cell[2] + 1) * self.strides[2]
    }

    fn all(&self) -> impl Iterator<Item = [usize; 3]> + use<> {
        offsets(self.cells)
    }

    fn rows(&self) -> impl Iterator<Item = (usize, usize)> + use<> {
        rows(self.cells, self.strides)
    }

    /// For a row, the sum over the six faces of area times what lies beyond. Rows are taken as slices: nothing is checked
    /// cell by cell, and the loop vectorises.
    fn beyond(&self, values: &[f32], row: usize, sums: &mut [f32]) {
        let [_, y, z] = self.strides;
        let n = sums.len();
        let [ox, oy, oz] = &self.open;
        let (left, right, x_low, x_up) = (&values[row - 1..][..n], &values[row + 1..][..n], &ox[row..][..n], &ox[row + 1..][..n]);
        let (front, back, y_low, y_up) = (&values[row - y..][..n], &values[row + y..][..n], &oy[row..][..n], &oy[row + y..][..n]);
        let (under, over, z_low, z_up) = (&values[row - z..][..n], &values[row + z..][..n], &oz[row..][..n], &oz[row + z..][..n]);
        for i in 0..n {
            let along_x = x_low[i] * left[i] + x_up[i] * right[i];
            let along_y = y_low[i] * front[i] + y_up[i] * back[i];
            sums[i] = along_x + along_y + z_low[i] * under[i] + z_up[i] * over[i];
        }
    }

    /// `Σ a · (φ − φ_neighbour)` in every cell.
    pub(crate) fn apply(&self, values: &[f32], out: &mut [f32]) {
        let n = self.cells[0];
        for (row, _) in self.rows() {
            let sums = &mut out[row..row + n];
            self.beyond(values, row, sums);
            for ((sum, value), own) in sums.iter_mut().zip(&values[row..]).zip(&self.own[row..]) {
                *sum = own * value - *sum;
            }
        }
    }

    /// Gauss–Seidel over the cells of one colour of the chequerboard.
    fn sweep(&mut self, colour: usize) {
        let [_, y, z] = self.strides;
        let n = self.cells[0];
        let Self { open: [ox, oy, oz], inverse, right, solution, sums, .. } = self;
        let sums = &mut sums[..n];
        let (cells, strides) = (self.cells, self.strides);
        for (row, parity) in rows(cells, strides) {
            let (front, back, y_low, y_up) = (&solution[row - y..][..n], &solution[row + y..][..n], &oy[row..][..n], &oy[row + y..][..n]);
            let (under, over, z_low, z_up) = (&solution[row - z..][..n], &solution[row + z..][..n], &oz[row..][..n], &oz[row + z..][..n]);
            let right = &right[row..][..n];
            for i in 0..n {
                sums[i] = right[i] + y_low[i] * front[i] + y_up[i] * back[i] + z_low[i] * under[i] + z_up[i] * over[i];
            }
            let inverse = &inverse[row..][..n];
            let areas = &ox[row..][..=n];
            // One cell more on either side: what is beyond the wall counts with no area.
            let along = &mut solution[row - 1..][..n + 2];
            for i in ((parity + colour) % 2..n).step_by(2) {
                along[i + 1] = (sums[i] + areas[i] * along[i] + areas[i + 1] * along[i + 2]) * inverse[i];
            }
        }
    }
}

/// Starts of the rows along x with their parity.
fn rows(cells: [usize; 3], strides: [usize; 3]) -> impl Iterator<Item = (usize, usize)> {
    (0..cells[2]).flat_map(move |k| (0..cells[1]).map(move |j| (1 + (j + 1) * strides[1] + (k + 1) * strides[2], (j + k) % 2)))
}

/// All cells of a box, x fastest.
fn offsets(count: [usize; 3]) -> impl Iterator<Item = [usize; 3]> {
    (0..count[2]).flat_map(move |k| (0..count[1]).flat_map(move |j| (0..count[0]).map(move |i| [i, j, k])))
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

    /// One V-cycle from zero: roughly the solution for this right side. Symmetric, so that it may precondition conjugate
    /// gradients: on the way up the colours come in the opposite order.
    pub(crate) fn cycle(&mut self, right: &[f32]) -> &[f32] {
        self.levels[0].right.copy_from_slice(right);
        self.descend(0);
        &self.levels[0].solution
    }

    fn descend(&mut self, depth: usize) {
        let (fine, coarser) = self.levels[depth..].split_first_mut().expect("a level to each depth");
        fine.solution.fill(0.0);
        let Some(coarse) = coarser.first_mut() else {
            for _ in 0..SWEEPS_AT_THE_BOTTOM {
                fine.sweep(0);
                fine.sweep(1);
            }
            for _ in 0..SWEEPS_AT_THE_BOTTOM {
                fine.sweep(1);
                fine.sweep(0);
            }
            return;
        };
        for _ in 0..SWEEPS {
            fine.sweep(0);
            fine.sweep(1);
        }
        restrict(fine, coarse);
        self.descend(depth + 1);
        let (fine, coarser) = self.levels[depth..].split_first_mut().expect("a level to each depth");
        prolong(&coarser[0], fine);
        for _ in 0..SWEEPS {
            fine.sweep(1);
            fine.sweep(0);
        }
    }
}

/// What is left of the right side, summed into the coarse cells. Nothing is left in a cell without open faces: nothing was asked
/// of it.
fn restrict(fine: &mut Level, coarse: &mut Level) {
    coarse.right.fill(0.0);
    let factor = fine.factors();
    let n = fine.cells[0];
    let mut sums = std::mem::take(&mut fine.sums);
    for k in 0..fine.cells[2] {
        for j in 0..fine.cells[1] {
            let row = fine.at([0, j, k]);
            fine.beyond(&fine.solution, row, &mut sums);
            let (right, own, solution) = (&fine.right[row..][..n], &fine.own[row..][..n], &fine.solution[row..][..n]);
            for i in 0..n {
                sums[i] += right[i] - own[i] * solution[i];
            }
            let below = coarse.at([0, j / factor[1], k / factor[2]]);
            let into = &mut coarse.right[below..below + coarse.cells[0]];
            for (into, two) in into.iter_mut().zip(sums.chunks(factor[0])) {
                *into += two.iter().sum::<f32>();
            }
        }
    }
    fine.sums = sums;
}

/// The coarse solution, added to the cells it stands for.
fn prolong(coarse: &Level, fine: &mut Level) {
    let factor = fine.factors();
    for k in 0..fine.cells[2] {
        for j in 0..fine.cells[1] {
            let row = fine.at([0, j, k]);
            let above = coarse.at([0, j / factor[1], k / factor[2]]);
            for i in 0..fine.cells[0] {
                fine.solution[row + i] += coarse.solution[above + i / factor[0]];
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::{Level, Multigrid};

    /// A rock in the middle, and a right side that sums to zero.
    fn with_rock(cells: [usize; 3]) -> (Multigrid, Vec<f32>) {
        let rock = |cell: [usize; 3]| (0..3).all(|axis| cell[axis] >= cells[axis] / 3 && cell[axis] < cells[axis] / 2);
        let level = Level::new(cells, |axis, cell| {
            let mut lower = cell;
            lower[axis] -= 1;
            if rock(cell) || rock(lower) { 0.0 } else { 1.0 }
        });
        let mut right = vec![0.0; level.right.len()];
        right[level.at([1, 1, 1])] = 1.0;
        right[level.at(cells.map(|n| n - 2))] = -1.0;
        (Multigrid::new(level), right)
    }

    fn norm(values: &[f32]) -> f64 {
        values.iter().map(|value| f64::from(*value).powi(2)).sum::<f64>().sqrt()
    }

    #[test]
    fn a_cycle_is_symmetric_as_conjugate_gradients_ask() {
        let (mut multigrid, one) = with_rock([24, 12, 12]);
        let mut other = vec![0.0; one.len()];
        other[multigrid.finest().at([20, 2, 9])] = 1.0;
        other[multigrid.finest().at([2, 9, 2])] = -1.0;
        let dot = |a: &[f32], b: &[f32]| a.iter().zip(b).map(|(a, b)| f64::from(*a) * f64::from(*b)).sum::<f64>();
        let (through_one, through_other) = (multigrid.cycle(&one).to_vec(), multigrid.cycle(&other).to_vec());
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
            values.iter_mut().zip(correction).for_each(|(value, more)| *value += more);
            let mut applied = vec![0.0; right.len()];
            multigrid.finest().apply(&values, &mut applied);
            left.iter_mut().zip(right.iter().zip(applied)).for_each(|(left, (right, applied))| *left = right - applied);
            let now = norm(&left);
            assert!(now < before / 2.0, "{before} {now}");
            before = now;
        }
    }
}
