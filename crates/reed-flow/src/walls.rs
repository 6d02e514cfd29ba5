//! What happens at the edge of the box.

use crate::grid::{Axis, Grid, PAD};

/// A wall, or the surface.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Wall {
    /// Water slides along it: the surface, and smooth glass seen from a coarse grid.
    Slip,
    /// Water slides along it and is held back by `coefficient · |u| · u`, as a wall does whose own layer is thinner than a cell.
    Rough(f32),
    /// Water sticks to it; it may move itself, along x, y, z, in m/s (what it would do across itself is not looked at).
    Stick([f32; 3]),
}

/// The six walls: by axis, the lower and the upper one.
pub type Walls = [[Wall; 2]; 3];

/// Fills the padding of the speed along one axis, so that the walls act on it.
///
/// Across a wall no water goes: the face on it is set to zero and what lies behind is the mirrored opposite. Along a wall the
/// speed behind it is what it is before it (slip), or as much beyond the wall's own speed as before it is short of it (stick).
pub(crate) fn fill(grid: &Grid, walls: &Walls, component: Axis, speed: &mut [f32]) {
    let strides = grid.strides();
    for axis in 0..3 {
        let (n, step) = (grid.cells[axis], strides[axis]);
        for start in plane(grid, axis) {
            // `start` is the padded position below the first kept cell.
            let first = start + PAD * step;
            if axis == component {
                speed[first] = 0.0;
                speed[first + n * step] = 0.0;
                speed[first - step] = -speed[first + step];
                speed[first - 2 * step] = if n > 1 { -speed[first + 2 * step] } else { 0.0 };
                speed[first + (n + 1) * step] = -speed[first + (n - 1) * step];
                continue;
            }
            for (side, wall) in walls[axis].iter().enumerate() {
                for behind in 1..=PAD {
                    // A box of one cell mirrors that cell twice.
                    let depth = behind.min(n);
                    let (inner, outer) = match side {
                        0 => (first + (depth - 1) * step, first - behind * step),
                        _ => (first + (n - depth) * step, first + (n + behind - 1) * step),
                    };
                    speed[outer] = match wall {
                        Wall::Slip | Wall::Rough(_) => speed[inner],
                        Wall::Stick(own) => 2.0 * own[component] - speed[inner],
                    };
                }
            }
        }
    }
}

/// Adds to `change` (m/s²) what rough walls do to the speed along one axis.
pub(crate) fn add_drag(grid: &Grid, walls: &Walls, component: Axis, speed: &[f32], change: &mut [f32]) {
    let strides = grid.strides();
    for axis in (0..3).filter(|axis| *axis != component) {
        let sides = [0, grid.cells[axis] - 1];
        for (wall, beside) in walls[axis].iter().zip(sides) {
            let Wall::Rough(coefficient) = wall else { continue };
            for start in plane(grid, axis) {
                let at = start + (PAD + beside) * strides[axis];
                change[at] -= coefficient * speed[at].abs() * speed[at] / grid.h;
            }
        }
    }
}

/// The padded positions with coordinate −PAD along an axis, over the whole padded plane across it.
fn plane(grid: &Grid, axis: Axis) -> impl Iterator<Item = usize> + use<> {
    let strides = grid.strides();
    let [one, other] = match axis {
        0 => [1, 2],
        1 => [0, 2],
        _ => [0, 1],
    };
    let (many, more) = (grid.cells[one] + 2 * PAD, grid.cells[other] + 2 * PAD);
    (0..more).flat_map(move |b| (0..many).map(move |a| a * strides[one] + b * strides[other]))
}
