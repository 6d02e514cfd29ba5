//! What happens at the edge of the box.

use crate::grid::{Axis, Grid, PAD};

/// A wall, or the surface.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Wall {
    /// Water slides along it: the surface, and smooth glass seen from a coarse grid.
    Slip,
    /// Water slides along it and is held back by `coefficient · |u| · u`, as a wall does whose own
    /// layer is thinner than a cell.
    Rough(f32),
    /// Water sticks to it; it may move itself, along x, y, z, in m/s (what it would do across
    /// itself is not looked at).
    Stick([f32; 3]),
}

/// The six walls: by axis, the lower and the upper one.
pub type Walls = [[Wall; 2]; 3];

/// Fills the padding of the speed along one axis, so that the walls act on it.
///
/// Across a wall no water goes: the face on it is set to zero and what lies behind is the mirrored
/// opposite. Along a wall the speed behind it is what it is before it (slip), or as much beyond the
/// wall's own speed as before it is short of it (stick).
pub(crate) fn fill(grid: &Grid, walls: &Walls, component: Axis, speed: &mut [f32]) {
    for (axis, sides) in walls.iter().enumerate() {
        let (n, step) = (grid.cells[axis], grid.strides()[axis]);
        for first in firsts(grid, axis) {
            if axis == component {
                speed[first..first + step].fill(0.0);
                speed[first + n * step..first + (n + 1) * step].fill(0.0);
                for behind in 1..=PAD {
                    // Of a box of one cell only the walls are behind the walls.
                    let depth = behind.min(n);
                    mirror(
                        speed,
                        first + depth * step,
                        first - behind * step,
                        step,
                        -1.0,
                        0.0,
                    );
                    if behind < PAD {
                        mirror(
                            speed,
                            first + (n - depth) * step,
                            first + (n + behind) * step,
                            step,
                            -1.0,
                            0.0,
                        );
                    }
                }
                continue;
            }
            for (side, wall) in sides.iter().enumerate() {
                let (sign, offset) = match wall {
                    Wall::Slip | Wall::Rough(_) => (1.0, 0.0),
                    Wall::Stick(own) => (-1.0, 2.0 * own[component]),
                };
                for behind in 1..=PAD {
                    // A box of one cell mirrors that cell twice.
                    let depth = behind.min(n);
                    let (inner, outer) = match side {
                        0 => (first + (depth - 1) * step, first - behind * step),
                        _ => (first + (n - depth) * step, first + (n + behind - 1) * step),
                    };
                    mirror(speed, inner, outer, step, sign, offset);
                }
            }
        }
    }
}

/// `speed[to] = offset + sign · speed[from]` over so many places.
fn mirror(speed: &mut [f32], from: usize, to: usize, count: usize, sign: f32, offset: f32) {
    if count == 1 {
        speed[to] = offset + sign * speed[from];
        return;
    }
    let (from, to) = if from < to {
        let (lower, upper) = speed.split_at_mut(to);
        (&lower[from..from + count], &mut upper[..count])
    } else {
        let (lower, upper) = speed.split_at_mut(from);
        (&upper[..count], &mut lower[to..to + count])
    };
    to.iter_mut()
        .zip(from)
        .for_each(|(to, from)| *to = offset + sign * from);
}

/// Adds to `change` (m/s²) what rough walls do to the speed along one axis.
pub(crate) fn add_drag(
    grid: &Grid,
    walls: &Walls,
    component: Axis,
    speed: &[f32],
    change: &mut [f32],
) {
    for axis in (0..3).filter(|axis| *axis != component) {
        let step = grid.strides()[axis];
        for (wall, beside) in walls[axis].iter().zip([0, grid.cells[axis] - 1]) {
            let Wall::Rough(coefficient) = wall else {
                continue;
            };
            let share = coefficient / grid.h;
            for first in firsts(grid, axis) {
                let places = first + beside * step..first + (beside + 1) * step;
                change[places.clone()]
                    .iter_mut()
                    .zip(&speed[places])
                    .for_each(|(change, speed)| *change -= share * speed.abs() * speed);
            }
        }
    }
}

/// Where the first cell along an axis stands, for all stretches of as many places as the axis has
/// stride: single places along x, padded rows along y, the whole padded layer along z.
fn firsts(grid: &Grid, axis: Axis) -> impl Iterator<Item = usize> + use<> {
    let step = grid.strides()[axis];
    (0..grid.len())
        .step_by(step * (grid.cells[axis] + 2 * PAD))
        .map(move |start| start + PAD * step)
}
