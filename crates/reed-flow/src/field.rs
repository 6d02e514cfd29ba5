//! A flow to look at: what the water does at any place of the box.

use crate::grid::Grid;

/// Speeds and mixing at the corners of the cells of a box, for sampling between them.
///
/// Corners come x fastest, then y, then z; there is one more of them along each axis than there are
/// cells.
#[derive(Clone, Debug)]
pub struct Field {
    grid: Grid,
    /// Speed along x, y, z, m/s, and viscosity, m²/s: what is asked for together lies together.
    nodes: Vec<[f32; 4]>,
    /// Which cells are rock, x fastest.
    solid: Vec<bool>,
    /// Largest viscosity.
    thickest: f32,
}

/// What the water does at a place.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Sample {
    /// Speed along x, y, z, m/s.
    pub speed: [f32; 3],
    /// Viscosity, m²/s: how eddies spread what floats in it.
    pub viscosity: f32,
    /// How it grows along x, y, z, m/s.
    pub gradient: [f32; 3],
}

impl Field {
    /// From speeds on the faces and viscosity in the middle of the padded cells of a grid; `solid`
    /// by place too.
    pub fn new(grid: &Grid, speeds: &[Vec<f32>; 3], viscosity: &[f32], solid: &[bool]) -> Self {
        let [x, y, z] = grid.cells;
        let mut nodes = Vec::with_capacity((x + 1) * (y + 1) * (z + 1));
        for k in 0..=z {
            for j in 0..=y {
                for i in 0..=x {
                    nodes.push(node(grid, speeds, viscosity, [i, j, k]));
                }
            }
        }
        let solid = grid
            .all()
            .map(|[i, j, k]| solid[grid.at(i, j, k)])
            .collect();
        Self::restored(*grid, nodes, solid)
    }

    /// From its corners and cells as they are kept.
    pub(crate) fn restored(grid: Grid, nodes: Vec<[f32; 4]>, solid: Vec<bool>) -> Self {
        let thickest = nodes.iter().fold(0.0_f32, |most, node| most.max(node[3]));
        Self {
            grid,
            nodes,
            solid,
            thickest,
        }
    }

    /// The cells between the corners.
    pub const fn grid(&self) -> &Grid {
        &self.grid
    }

    /// Length, depth and height of the box, m.
    pub fn size(&self) -> [f32; 3] {
        self.grid.cells.map(|n| n as f32 * self.grid.h)
    }

    /// Largest viscosity anywhere, m²/s.
    pub const fn thickest(&self) -> f32 {
        self.thickest
    }

    /// Speeds and viscosity at all corners, in their order.
    pub fn nodes(&self) -> &[[f32; 4]] {
        &self.nodes
    }

    /// The cell of a place, the nearest one if it is outside.
    pub fn cell(&self, place: [f32; 3]) -> [usize; 3] {
        std::array::from_fn(|axis| self.along(place[axis], axis).0)
    }

    /// A cell's place among all, x fastest.
    pub fn index(&self, [i, j, k]: [usize; 3]) -> usize {
        i + self.grid.cells[0] * (j + self.grid.cells[1] * k)
    }

    /// Whether a cell is rock.
    pub fn is_solid(&self, cell: [usize; 3]) -> bool {
        self.solid[self.index(cell)]
    }

    /// The cell along an axis, and how far into it the place is, 0 to 1.
    fn along(&self, place: f32, axis: usize) -> (usize, f32) {
        let n = self.grid.cells[axis];
        let at = (place / self.grid.h).clamp(0.0, n as f32);
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "clamped to the box"
        )]
        let below = (at as usize).min(n - 1);
        (below, at - below as f32)
    }

    /// What the water does at a place, linear between the corners around it.
    pub fn at(&self, place: [f32; 3]) -> Sample {
        let (here, slopes) = self.with_slopes(place);
        Sample {
            speed: [here[0], here[1], here[2]],
            viscosity: here[3],
            gradient: slopes.map(|slope| slope[3]),
        }
    }

    /// Speed along x, y, z, m/s, and viscosity, m²/s, at a place; and how all of them rise along x,
    /// y and z there, per m.
    pub(crate) fn with_slopes(&self, place: [f32; 3]) -> ([f32; 4], [[f32; 4]; 3]) {
        let around = self.around(place);
        let [[front, back], [front_up, back_up]] = around.along_x();
        let [_, y, z] = around.share;
        let (lower, upper) = (mix(front, back, y), mix(front_up, back_up, y));
        let [[right, right_back], [right_up, right_back_up]] = around.rises_along_x();
        let to_right = mix(
            mix(right, right_back, y),
            mix(right_up, right_back_up, y),
            z,
        );
        let to_back = mix(less(back, front), less(back_up, front_up), z);
        let slopes = [to_right, to_back, less(upper, lower)];
        let per_metre = 1.0 / self.grid.h;
        (
            mix(lower, upper, z),
            slopes.map(|slope| slope.map(|rise| rise * per_metre)),
        )
    }

    fn around(&self, place: [f32; 3]) -> Around<'_> {
        let ((i, x), (j, y), (k, z)) = (
            self.along(place[0], 0),
            self.along(place[1], 1),
            self.along(place[2], 2),
        );
        let row = self.grid.cells[0] + 1;
        let layer = row * (self.grid.cells[1] + 1);
        let lowest = i + row * j + layer * k;
        Around {
            corners: &self.nodes[lowest..lowest + layer + row + 2],
            row,
            layer,
            share: [x, y, z],
        }
    }

    /// The same water, running backwards.
    #[must_use]
    pub fn reversed(&self) -> Self {
        let nodes = self
            .nodes
            .iter()
            .map(|[u, v, w, viscosity]| [-u, -v, -w, *viscosity])
            .collect();
        Self {
            nodes,
            ..self.clone()
        }
    }

    /// Speed of the water over the top of whatever stands or lies at this place: bed or rock, in
    /// the middle of the cell above it, m/s.
    pub fn speed_over(&self, place: [f32; 3]) -> f32 {
        let [_, _, k] = self.cell(place);
        let [u, v, _] = self
            .at([place[0], place[1], (k as f32 + 0.5) * self.grid.h])
            .speed;
        u.hypot(v)
    }
}

/// The corners around a place.
struct Around<'a> {
    /// From the lowest of them on.
    corners: &'a [[f32; 4]],
    /// To the next one along y, and along z.
    row: usize,
    layer: usize,
    /// How far into the cell the place is along each axis, 0 to 1.
    share: [f32; 3],
}

impl Around<'_> {
    /// What stands at the height of the place along x: below in front and at the back, then above.
    fn along_x(&self) -> [[[f32; 4]; 2]; 2] {
        let at = |start: usize| mix(self.corners[start], self.corners[start + 1], self.share[0]);
        let (row, layer) = (self.row, self.layer);
        [[at(0), at(row)], [at(layer), at(layer + row)]]
    }

    /// How much more stands at the right than at the left, in the same order.
    fn rises_along_x(&self) -> [[[f32; 4]; 2]; 2] {
        let at = |start: usize| less(self.corners[start + 1], self.corners[start]);
        let (row, layer) = (self.row, self.layer);
        [[at(0), at(row)], [at(layer), at(layer + row)]]
    }
}

/// A share of the way from one to the other.
fn mix(one: [f32; 4], other: [f32; 4], share: f32) -> [f32; 4] {
    std::array::from_fn(|part| one[part] + share * (other[part] - one[part]))
}

/// How much more the one is than the other.
fn less(one: [f32; 4], other: [f32; 4]) -> [f32; 4] {
    std::array::from_fn(|part| one[part] - other[part])
}

/// Mean of the faces and cells around a corner; beyond a wall there is what is before it.
fn node(grid: &Grid, speeds: &[Vec<f32>; 3], viscosity: &[f32], corner: [usize; 3]) -> [f32; 4] {
    // Along an axis: the two cells at the corner.
    let pair = |axis: usize| {
        [
            corner[axis].saturating_sub(1),
            corner[axis].min(grid.cells[axis] - 1),
        ]
    };
    let mut sums = [0.0; 4];
    for (axis, speed) in speeds.iter().enumerate() {
        let (one, other) = ((axis + 1) % 3, (axis + 2) % 3);
        for a in pair(one) {
            for b in pair(other) {
                let mut at = corner;
                (at[one], at[other]) = (a, b);
                sums[axis] += speed[grid.at(at[0], at[1], at[2])] / 4.0;
            }
        }
    }
    for i in pair(0) {
        for j in pair(1) {
            for k in pair(2) {
                sums[3] += viscosity[grid.at(i, j, k)] / 8.0;
            }
        }
    }
    sums
}

#[cfg(test)]
mod tests {
    use super::Field;
    use crate::grid::Grid;

    /// Straight lines come back as they are, walls let nothing through, and water slides along
    /// them.
    #[test]
    fn what_is_linear_is_sampled_exactly() {
        let grid = Grid {
            cells: [6, 4, 5],
            h: 0.1,
        };
        let mut speeds = [grid.zeros(), grid.zeros(), grid.zeros()];
        let mut viscosity = grid.zeros();
        for [i, j, k] in grid.all() {
            let at = grid.at(i, j, k);
            let [x, y, z] = grid.middle([i, j, k]);
            speeds[0][at] = if i == 0 { 0.0 } else { 0.3 + 0.2 * y - 0.1 * z };
            viscosity[at] = 1.0 + 2.0 * x - y + 3.0 * z;
        }
        let field = Field::new(&grid, &speeds, &viscosity, &vec![false; grid.len()]);
        let sample = field.at([0.27, 0.19, 0.23]);
        assert!(
            (sample.speed[0] - (0.3 + 0.038 - 0.023)).abs() < 1e-6 && sample.speed[1].abs() < 1e-9,
            "{sample:?}"
        );
        assert!(
            (sample.viscosity - (1.0 + 0.54 - 0.19 + 0.69)).abs() < 1e-5,
            "{sample:?}"
        );
        let wanted = [2.0, -1.0, 3.0];
        assert!(
            (0..3).all(|axis| (sample.gradient[axis] - wanted[axis]).abs() < 1e-4),
            "{sample:?}"
        );
        assert!(
            field.at([0.0, 0.2, 0.2]).speed[0].abs() < 1e-9,
            "nothing goes through the wall"
        );
        assert!(
            (field.at([0.3, 0.2, 0.0]).speed[0] - (0.3 + 0.04 - 0.005)).abs() < 1e-6,
            "it slides over the bed"
        );
        assert_eq!(field.cell([0.6, -1.0, 0.19]), [5, 0, 1]);
    }
}
