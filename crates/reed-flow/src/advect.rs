//! How water carries its own speed, and how friction evens it out.

use std::ops::Range;

use multiversion::multiversion;

use crate::grid::{Axis, Grid, ahead, behind};
use crate::lanes::least;

/// Room for the fluxes of one layer.
#[derive(Clone, Debug, Default)]
pub(crate) struct Fluxes {
    level: Vec<f32>,
    /// Through the lower side of a layer.
    below: Vec<f32>,
    /// Through its upper side.
    above: Vec<f32>,
}

impl Fluxes {
    /// Adds to `change` (m/s²) what fluxes do to the speed along `component`.
    pub(crate) fn add(
        &mut self,
        grid: &Grid,
        speeds: &[Vec<f32>; 3],
        viscosity: &[f32],
        component: Axis,
        change: &mut [f32],
    ) {
        let (strides, per_h) = (grid.strides(), 1.0 / grid.h);
        let through = |along: Axis, stretch: Range<usize>, out: &mut Vec<f32>| {
            out.resize(stretch.len(), 0.0);
            let (carried, carrier) = (&speeds[component], &speeds[along]);
            fluxes(
                out,
                stretch,
                (carried, carrier, viscosity),
                (strides[component], strides[along]),
                per_h,
            );
        };
        for k in 0..=grid.cells[2] {
            // Vertical fluxes go from layer to layer. Those over the top are zero, or of the face
            // on the upper wall, which is closed.
            let layer = grid.layer(k);
            std::mem::swap(&mut self.below, &mut self.above);
            through(2, layer.clone(), &mut self.above);
            if k > 0 {
                add_difference(
                    &mut change[behind(&layer, strides[2])],
                    &self.below,
                    &self.above,
                    per_h,
                );
            }
            if k == grid.cells[2] {
                break;
            }
            for (along, down) in strides.into_iter().enumerate().take(2) {
                // One flux more than control volumes, in its own direction.
                through(along, layer.start..layer.end + down, &mut self.level);
                add_difference(
                    &mut change[layer.clone()],
                    &self.level,
                    &self.level[down..],
                    per_h,
                );
            }
        }
    }
}

/// Fills `out` with the fluxes of the carried speed through the lower sides of the control volumes
/// of a stretch: `a · φ − ν · (φ₊ − φ₋) / h`, a the speed of the water there (the mean of the two
/// nearest), φ the speed carried, taken upstream and steepened by the limiter.
///
/// `across` leads from a cell to its neighbour along the carried speed, `down` along the carrying
/// one.
#[multiversion(targets("x86_64+avx2"))]
fn fluxes(
    out: &mut [f32],
    stretch: Range<usize>,
    (carried, carrier, viscosity): (&[f32], &[f32], &[f32]),
    (across, down): (usize, usize),
    per_h: f32,
) {
    let (lower_side, upper_side) = (behind(&stretch, down), stretch.clone());
    let (a, a_too) = (
        &carrier[stretch.clone()],
        &carrier[behind(&stretch, across)],
    );
    let (upper, lower) = (&carried[upper_side.clone()], &carried[lower_side.clone()]);
    let (above, below) = (
        &carried[ahead(&stretch, down)],
        &carried[behind(&stretch, 2 * down)],
    );
    let (thick, thick_too) = (&viscosity[upper_side], &viscosity[lower_side]);
    let n = stretch.len();
    let (out, a, a_too, upper, lower) = (
        &mut out[..n],
        &a[..n],
        &a_too[..n],
        &upper[..n],
        &lower[..n],
    );
    let (above, below, thick, thick_too) = (&above[..n], &below[..n], &thick[..n], &thick_too[..n]);
    for i in 0..n {
        let a = 0.5 * (a[i] + a_too[i]);
        let step = upper[i] - lower[i];
        let upwards = a > 0.0;
        let upstream = if upwards { lower[i] } else { upper[i] };
        let before = if upwards {
            lower[i] - below[i]
        } else {
            upper[i] - above[i]
        };
        let after = if upwards { step } else { -step };
        out[i] = a * (upstream + half_slope(before, after))
            - 0.5 * (thick[i] + thick_too[i]) * step * per_h;
    }
}

/// `change += (enters − leaves) / h`.
#[multiversion(targets("x86_64+avx2"))]
fn add_difference(change: &mut [f32], enters: &[f32], leaves: &[f32], per_h: f32) {
    for ((change, enters), leaves) in change.iter_mut().zip(enters).zip(leaves) {
        *change += (enters - leaves) * per_h;
    }
}

/// Half the limited slope by which the upstream value is steepened, from the differences upstream
/// and downstream: Koren 1993, `max(0, min(2 r, (1 + 2 r) / 3, 2))` times the difference upstream,
/// r their ratio; written without the ratio.
#[inline(always)]
fn half_slope(upstream: f32, downstream: f32) -> f32 {
    let (up, down) = (upstream.abs(), downstream.abs());
    // Halves of 2, 2 r and (1 + 2 r) / 3.
    let steepest = least(least(up, down), up * (1.0 / 6.0) + down * (1.0 / 3.0));
    // Zero at an extremum: there the two differences point opposite ways.
    if upstream * downstream > 0.0 {
        steepest.copysign(upstream)
    } else {
        0.0
    }
}

#[cfg(test)]
mod tests {
    use super::half_slope;

    #[test]
    fn the_limiter_is_third_order_where_smooth_and_flat_at_an_extremum() {
        // A straight line keeps its slope; a parabola gets the third-order value (1 + 2 r) / 6 of
        // the difference upstream.
        assert!((half_slope(1.0, 1.0) - 0.5).abs() < 1e-6);
        assert!((half_slope(1.0, 1.5) - (1.0 + 3.0) / 6.0).abs() < 1e-6);
        assert!((half_slope(-1.0, -1.5) + (1.0 + 3.0) / 6.0).abs() < 1e-6);
        assert!(half_slope(1.0, -1.0).abs() < 1e-9 && half_slope(0.0, 1.0).abs() < 1e-9);
        // Steep steps are held to twice the smaller difference.
        assert!((half_slope(0.1, 10.0) - 0.1).abs() < 1e-6);
    }
}
