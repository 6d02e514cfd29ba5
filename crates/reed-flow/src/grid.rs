//! Where numbers stand: cubic cells in a padded box, x fastest.

/// A direction: 0 along x (to the right), 1 along y (to the back), 2 along z (up).
pub type Axis = usize;

/// Cells kept around the box on each side, so that no loop asks where it is.
pub(crate) const PAD: usize = 2;

/// A box of cubic cells.
///
/// Every field is one slice of [`Grid::len`] numbers over the padded box, indexed by [`Grid::at`]. A speed along an axis
/// stands on the lower face of its cell across that axis: `u[at(i, j, k)]` is that of the water going from cell i − 1 to
/// cell i. The faces 0 and n are the walls.
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

    /// The starts of all rows along x, by j and k.
    pub(crate) fn rows(&self) -> impl Iterator<Item = usize> + use<> {
        let grid = *self;
        (0..grid.cells[2]).flat_map(move |k| (0..grid.cells[1]).map(move |j| grid.at(0, j, k)))
    }
}

/// Largest absolute value; eight at a time, since a plain fold of maxima is done one by one.
pub(crate) fn largest(values: &[f32]) -> f32 {
    let (eights, rest) = values.as_chunks::<8>();
    let mut lanes = [0.0_f32; 8];
    for eight in eights {
        for (most, value) in lanes.iter_mut().zip(eight) {
            *most = most.max(value.abs());
        }
    }
    lanes.iter().chain(rest).fold(0.0, |most, value| most.max(value.abs()))
}
