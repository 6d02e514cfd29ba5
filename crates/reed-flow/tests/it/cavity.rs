//! A lid drags the water of a square box round: the standard case of incompressible flow.

use reed_flow::{Flow, Grid, Wall};

/// Least horizontal speed on the vertical middle line at Re 100, lid speed 1: −0.21404; greatest and least vertical speed on
/// the horizontal middle line: 0.17957, −0.25380. Spectral values in the manner of Botella & Peyret 1998, from memory.
const U_LEAST: f32 = -0.214_04;
const V_MOST: f32 = 0.179_57;
const V_LEAST: f32 = -0.253_80;

#[test]
fn the_driven_cavity_reaches_the_spectral_extrema() {
    let n = 64;
    let stick = [Wall::Stick([0.0; 3]); 2];
    let lid = [Wall::Stick([0.0; 3]), Wall::Stick([1.0, 0.0, 0.0])];
    let grid = Grid { cells: [n, 1, n], h: 1.0 / n as f32 };
    let mut flow = Flow::at_rest(grid, [stick, [Wall::Slip; 2], lid], 0.01, |_| false);
    let mut seconds = 0.0;
    while seconds < 25.0 {
        let dt = flow.longest_step();
        flow.step(dt);
        seconds += dt;
    }
    let middle = n / 2;
    let u = (0..n).map(|k| flow.speed(0)[grid.at(middle, 0, k)]);
    let v: Vec<f32> = (0..n).map(|i| flow.speed(2)[grid.at(i, 0, middle)]).collect();
    let u_least = u.fold(f32::INFINITY, f32::min);
    let (v_least, v_most) = v.iter().fold((f32::INFINITY, f32::NEG_INFINITY), |(least, most), v| (least.min(*v), most.max(*v)));
    for (found, published) in [(u_least, U_LEAST), (v_least, V_LEAST), (v_most, V_MOST)] {
        assert!((found / published - 1.0).abs() < 0.02, "{found} where {published} was published");
    }
    assert!(flow.divergence() < 1e-4, "{}", flow.divergence());
}
