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
    /// One over the sum of a cell's six areas; zero for a cell without any.
    inverse: Vec<f32>,
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
            inverse: vec![0.0; len],
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

    /// Starts of the rows along x with their parity.
    fn rows(&self) -> impl Iterator<Item = (usize, usize)> + use<> {
        let (cells, strides) = (self.cells, self.strides);
        (0..cells[2]).flat_map(move |k| (0..cells[1]).map(move |j| (1 + (j + 1) * strides[1] + (k + 1) * strides[2], (j + k) % 2)))
    }

    /// Sum over the six faces of area times what lies beyond.
    fn beyond(&self, values: &[f32], at: usize) -> f32 {
        let [x, y, z] = self.strides;
        let [ox, oy, oz] = &self.open;
        ox[at] * values[at - x]
            + ox[at + x] * values[at + x]
            + oy[at] * values[at - y]
            + oy[at + y] * values[at + y]
            + oz[at] * values[at - z]
            + oz[at + z] * values[at + z]
    }

    /// `Σ a · (φ − φ_neighbour)` in every cell.
    pub(crate) fn apply(&self, values: &[f32], out: &mut [f32]) {
        for (row, _) in self.rows() {
            for at in row..row + self.cells[0] {
                let inverse = self.inverse[at];
                out[at] = if inverse > 0.0 { values[at] / inverse - self.beyond(values, at) } else { 0.0 };
            }
        }
    }

    /// Gauss–Seidel over the cells of one colour of the chequerboard.
    fn sweep(&mut self, colour: usize) {
        for (row, parity) in self.rows() {
            for at in (row + (parity + colour) % 2..row + self.cells[0]).step_by(2) {
                self.solution[at] = (self.right[at] + self.beyond(&self.solution, at)) * self.inverse[at];
            }
        }
    }
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

/// What is left of the right side, summed into the coarse cells.
fn restrict(fine: &Level, coarse: &mut Level) {
    coarse.right.fill(0.0);
    let factor = fine.factors();
    for k in 0..fine.cells[2] {
        for j in 0..fine.cells[1] {
            let row = fine.at([0, j, k]);
            let below = coarse.at([0, j / factor[1], k / factor[2]]);
            for i in 0..fine.cells[0] {
                let at = row + i;
                let inverse = fine.inverse[at];
                if inverse > 0.0 {
                    let left = fine.right[at] + fine.beyond(&fine.solution, at) - fine.solution[at] / inverse;
                    coarse.right[below + i / factor[0]] += left;
                }
            }
        }
    }
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
