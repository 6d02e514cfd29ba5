//! How water carries its own speed, and how friction evens it out.

use crate::grid::{Axis, Grid, PAD};

/// Adds to `change` (m/s²) what fluxes do to one speed: carried by the water, less friction.
///
/// The flux of the speed along `component` in direction `along`, over the face between two of its control volumes, is
/// `a · φ − ν · (φ₊ − φ₋) / h`: a the speed of the water there (the mean of the two nearest), φ the speed carried, taken
/// upstream and steepened by the limiter.
pub(crate) fn add_fluxes(
    grid: &Grid,
    speeds: &[Vec<f32>; 3],
    viscosity: &[f32],
    component: Axis,
    along: Axis,
    flux: &mut [f32],
    change: &mut [f32],
) {
    let strides = grid.strides();
    let (across, down) = (strides[component], strides[along]);
    let (carried, carrier) = (&speeds[component], &speeds[along]);
    let per_h = 1.0 / grid.h;
    // One flux more than control volumes in its own direction. The face on the upper wall is left out: it is closed.
    let count: [usize; 3] = std::array::from_fn(|axis| grid.cells[axis] + usize::from(axis == along));
    for row in rows(grid, count) {
        let span = |start: usize| start..start + count[0];
        let (a, a_too) = (&carrier[span(row)], &carrier[span(row - across)]);
        let (upper, lower) = (&carried[span(row)], &carried[span(row - down)]);
        let (above, below) = (&carried[span(row + down)], &carried[span(row - 2 * down)]);
        let (thick, thick_too) = (&viscosity[span(row)], &viscosity[span(row - down)]);
        for (i, flux) in flux[span(row)].iter_mut().enumerate() {
            let a = 0.5 * (a[i] + a_too[i]);
            let forward = lower[i] + half_slope(lower[i] - below[i], upper[i] - lower[i]);
            let backward = upper[i] + half_slope(upper[i] - above[i], lower[i] - upper[i]);
            let friction = 0.5 * (thick[i] + thick_too[i]) * (upper[i] - lower[i]) * per_h;
            *flux = a.max(0.0) * forward + a.min(0.0) * backward - friction;
        }
    }
    for row in grid.rows() {
        let span = |start: usize| start..start + grid.cells[0];
        let (enters, leaves) = (&flux[span(row)], &flux[span(row + down)]);
        for (i, change) in change[span(row)].iter_mut().enumerate() {
            *change += (enters[i] - leaves[i]) * per_h;
        }
    }
}

/// Starts of rows along x over so many places from the first kept one.
fn rows(grid: &Grid, count: [usize; 3]) -> impl Iterator<Item = usize> + use<> {
    let grid = *grid;
    debug_assert!((0..3).all(|axis| count[axis] <= grid.cells[axis] + PAD));
    (0..count[2]).flat_map(move |k| (0..count[1]).map(move |j| grid.at(0, j, k)))
}

/// Half the limited slope by which the upstream value is steepened, from the differences upstream and downstream: Koren 1993,
/// `max(0, min(2 r, (1 + 2 r) / 3, 2))` times the difference upstream, r their ratio; written without the ratio.
fn half_slope(upstream: f32, downstream: f32) -> f32 {
    let (up, down) = (upstream.abs(), downstream.abs());
    let steepest = (2.0 * up).min(2.0 * down).min((up + 2.0 * down) * (1.0 / 3.0));
    // Zero at an extremum: there the two differences point opposite ways.
    let agree = 0.5 * (1.0_f32.copysign(upstream) + 1.0_f32.copysign(downstream));
    0.5 * agree * steepest
}

#[cfg(test)]
mod tests {
    use super::half_slope;

    #[test]
    fn the_limiter_is_third_order_where_smooth_and_flat_at_an_extremum() {
        // A straight line keeps its slope; a parabola gets the third-order value (1 + 2 r) / 6 of the difference upstream.
        assert!((half_slope(1.0, 1.0) - 0.5).abs() < 1e-6);
        assert!((half_slope(1.0, 1.5) - (1.0 + 3.0) / 6.0).abs() < 1e-6);
        assert!((half_slope(-1.0, -1.5) + (1.0 + 3.0) / 6.0).abs() < 1e-6);
        assert!(half_slope(1.0, -1.0).abs() < 1e-9 && half_slope(0.0, 1.0).abs() < 1e-9);
        // Steep steps are held to twice the smaller difference.
        assert!((half_slope(0.1, 10.0) - 0.1).abs() < 1e-6);
    }
}
