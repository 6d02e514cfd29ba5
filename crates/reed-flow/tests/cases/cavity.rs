//! A lid drags the water of a square box round at Reynolds number 100: the standard case of
//! incompressible flow.

use reed_flow::{Flow, Grid, Wall};

use super::{SLIP, run};

/// Least horizontal speed on the vertical middle line, greatest and least vertical speed on the
/// horizontal one, lid speed 1: spectral values in the manner of Botella & Peyret 1998, from
/// memory.
pub(crate) const PUBLISHED: [f32; 3] = [-0.214_04, 0.179_57, -0.253_80];

/// Horizontal speed up the vertical middle line at heights 0.0547 to 0.9766: Ghia, Ghia & Shin
/// 1982, table I, from memory.
pub(crate) const GHIA_U: [(f32, f32); 14] = [
    (0.0547, -0.037_17),
    (0.0625, -0.041_92),
    (0.0703, -0.047_75),
    (0.1016, -0.064_34),
    (0.1719, -0.101_50),
    (0.2813, -0.156_62),
    (0.4531, -0.210_90),
    (0.5000, -0.205_81),
    (0.6172, -0.136_41),
    (0.7344, 0.003_32),
    (0.8516, 0.231_51),
    (0.9531, 0.687_17),
    (0.9609, 0.737_22),
    (0.9688, 0.788_71),
];

/// What came out.
pub(crate) struct Cavity {
    /// Height and horizontal speed up the vertical middle line.
    pub(crate) u: Vec<(f32, f32)>,
    /// Its least, the greatest and the least vertical speed on the horizontal middle line.
    pub(crate) extrema: [f32; 3],
    /// Divergence over the largest speed.
    pub(crate) divergence: f32,
}

/// So many cells along each side.
pub(crate) fn driven(n: usize) -> Cavity {
    let stick = [Wall::Stick([0.0; 3]); 2];
    let lid = [Wall::Stick([0.0; 3]), Wall::Stick([1.0, 0.0, 0.0])];
    let grid = Grid {
        cells: [n, 1, n],
        h: 1.0 / n as f32,
    };
    let mut flow = Flow::at_rest(grid, [stick, SLIP[1], lid], 0.01, |_| false);
    run(&mut flow, 25.0);
    let middle = n / 2;
    let u: Vec<_> = (0..n)
        .map(|k| {
            (
                (k as f32 + 0.5) * grid.h,
                flow.speed(0)[grid.at(middle, 0, k)],
            )
        })
        .collect();
    let v: Vec<f32> = (0..n)
        .map(|i| flow.speed(2)[grid.at(i, 0, middle)])
        .collect();
    let least = u.iter().fold(f32::INFINITY, |least, (_, u)| least.min(*u));
    let (v_least, v_most) = v
        .iter()
        .fold((f32::INFINITY, f32::NEG_INFINITY), |(least, most), v| {
            (least.min(*v), most.max(*v))
        });
    Cavity {
        u,
        extrema: [least, v_most, v_least],
        divergence: flow.divergence(),
    }
}
