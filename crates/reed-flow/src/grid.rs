//! Where numbers stand: cubic cells in a padded box, x fastest.

use std::ops::Range;

/// A direction: 0 along x (to the right), 1 along y (to the back), 2 along z (up).
pub type Axis = usize;

/// Cells kept around the box on each side, so that no loop asks where it is.
pub(crate) const PAD: usize = 2;

/// A box of cubic cells.
///
/// Every field is one slice of [`Grid::len`] numbers over the padded box, indexed by [`Grid::at`].
/// A speed along an axis stands on the lower face of its cell across that axis: `u[at(i, j, k)]` is
/// that of the water going from cell i − 1 to cell i. The faces 0 and n are the walls.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Grid {
    /// Cells along x, y, z.
    pub cells: [usize; 3],
    /// Edge of a cell, m.
    pub h: f32,
}

impl Grid {
    /// How many numbers a field holds.
    pub const fn len(&self) -> usize {
        (self.cells[0] + 2 * PAD) * (self.cells[1] + 2 * PAD) * (self.cells[2] + 2 * PAD)
    }

    /// A grid without cells.
    pub const fn is_empty(&self) -> bool {
        self.cells[0] == 0 || self.cells[1] == 0 || self.cells[2] == 0
    }

    /// Step from a cell to its upper neighbour along each axis.
    pub const fn strides(&self) -> [usize; 3] {
        let row = self.cells[0] + 2 * PAD;
        [1, row, row * (self.cells[1] + 2 * PAD)]
    }

    /// Place of a cell, or of its lower faces, in a field.
    pub const fn at(&self, i: usize, j: usize, k: usize) -> usize {
        let [x, y, z] = self.strides();
        (i + PAD) * x + (j + PAD) * y + (k + PAD) * z
    }

    /// A field of zeros.
    pub fn zeros(&self) -> Vec<f32> {
        vec![0.0; self.len()]
    }

    /// All cells, x fastest.
    pub fn all(&self) -> impl Iterator<Item = [usize; 3]> + use<> {
        let [x, y, z] = self.cells;
        (0..z).flat_map(move |k| (0..y).flat_map(move |j| (0..x).map(move |i| [i, j, k])))
    }

    /// The cells that share a face with one.
    pub fn beside(&self, cell: [usize; 3]) -> impl Iterator<Item = [usize; 3]> + use<> {
        let cells = self.cells;
        (0..3)
            .flat_map(|axis| [(axis, 0), (axis, 2)])
            .filter_map(move |(axis, shifted)| {
                let mut other = cell;
                // One less, or one more.
                other[axis] = (cell[axis] + shifted)
                    .checked_sub(1)
                    .filter(|index| *index < cells[axis])?;
                Some(other)
            })
    }

    /// The middle of a cell, m from the corner of the box.
    pub fn middle(&self, cell: [usize; 3]) -> [f32; 3] {
        cell.map(|index| (index as f32 + 0.5) * self.h)
    }

    /// The places of all rows along x.
    pub(crate) fn rows(&self) -> impl Iterator<Item = Range<usize>> + use<> {
        let grid = *self;
        let row = move |j, k| grid.at(0, j, k)..grid.at(grid.cells[0], j, k);
        (0..grid.cells[2]).flat_map(move |k| (0..grid.cells[1]).map(move |j| row(j, k)))
    }

    /// The places of a layer in one stretch, from its first cell to its last, with the padding
    /// between its rows. The hot loops run over it without asking where a row ends; what they make
    /// of the padding is thrown away.
    pub(crate) fn layer(&self, k: usize) -> Range<usize> {
        self.at(0, 0, k)..self.at(self.cells[0], self.cells[1] - 1, k)
    }

    /// All layers, from the bottom.
    pub(crate) fn layers(&self) -> impl Iterator<Item = Range<usize>> + use<> {
        let grid = *self;
        (0..grid.cells[2]).map(move |k| grid.layer(k))
    }
}

/// A stretch moved on by so many places.
pub(crate) const fn ahead(stretch: &Range<usize>, by: usize) -> Range<usize> {
    stretch.start + by..stretch.end + by
}

/// A stretch moved back by so many places.
pub(crate) const fn behind(stretch: &Range<usize>, by: usize) -> Range<usize> {
    stretch.start - by..stretch.end - by
}
