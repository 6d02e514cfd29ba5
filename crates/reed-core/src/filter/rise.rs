//! How fast small things rise or sink in still water.

use super::{GRAVITY, Water};

/// kg/m³ of air in small bubbles at the surface, 25 °C. From memory.
pub const AIR_DENSITY: f64 = 1.18;

/// Speed at which a small sphere rises or sinks in still water, m/s, by its width in m and its
/// density in kg/m³: drag by Schiller & Naumann 1935. Bubbles in an aquarium behave like rigid
/// spheres, what is dissolved in the water stiffens them; in pure water they rise up to twice as
/// fast. Waste is fluffy: off by a factor of two to five. Good up to a Reynolds number of 800.
pub fn terminal_speed(width: f64, density: f64, water: &Water) -> f64 {
    /// Halvings of the factor between the bounds, numeric.
    const HALVINGS: usize = 50;
    let pull = 4.0 / 3.0 * GRAVITY * width * (density - water.density).abs() / water.density;
    // Where drag balances the pull: Cd·v² grows with v.
    let balance = |speed: f64| {
        let reynolds = water.density * speed * width / water.viscosity;
        let drag = 24.0 / reynolds * (1.0 + 0.15 * reynolds.powf(0.687));
        drag * speed * speed - pull
    };
    let (mut less, mut more): (f64, f64) = (1e-9, 10.0);
    for _ in 0..HALVINGS {
        let middle = (less * more).sqrt();
        if balance(middle) > 0.0 {
            more = middle;
        } else {
            less = middle;
        }
    }
    less
}
