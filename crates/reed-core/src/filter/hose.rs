//! Hoses and their fittings: what they take of a pump's head.

use super::{GRAVITY, Water, m3_per_s};

/// Up to here the stream lies still in itself; above, it whirls. Published: Avila and others 2011.
/// Between it and some 4000 a stream may do either, and what is computed is off by tens of percent.
pub const LAMINAR_BELOW: f64 = 2040.0;

/// What fittings take, in heads of the speed in the hose: textbook values, from memory.
pub mod fitting {
    /// Into a hose with a sharp edge, from memory.
    pub const ENTRANCE: f64 = 0.5;
    /// Out of it, exact: all of the speed is lost.
    pub const EXIT: f64 = 1.0;
    /// A sharp right angle, from memory.
    pub const ELBOW: f64 = 0.9;
    /// An open ball valve with a bore as wide as the hose, from memory.
    pub const VALVE: f64 = 0.1;
}

/// A hose with what stands in it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Hose {
    /// Inner width, m.
    pub bore: f64,
    /// m.
    pub length: f64,
    /// All fittings together, in heads of the speed in the hose; see [`fitting`].
    pub fittings: f64,
    /// Height of what grows on or is moulded into its wall, m; 0 is smooth.
    pub roughness: f64,
}

impl Hose {
    /// Speed at a flow in L/h, m/s.
    pub fn speed(&self, l_per_h: f64) -> f64 {
        m3_per_s(l_per_h) / (std::f64::consts::FRAC_PI_4 * self.bore * self.bore)
    }

    /// Reynolds number at a flow in L/h.
    pub fn reynolds(&self, l_per_h: f64, water: &Water) -> f64 {
        water.density * self.speed(l_per_h) * self.bore / water.viscosity
    }

    /// Head lost at a flow in L/h along the wall, and in the fittings, m of water: Darcy–Weisbach.
    pub fn losses(&self, l_per_h: f64, water: &Water) -> [f64; 2] {
        let speed = self.speed(l_per_h);
        let of_speed = speed * speed / (2.0 * GRAVITY);
        let friction = friction(self.reynolds(l_per_h, water), self.roughness / self.bore);
        [
            friction * self.length / self.bore * of_speed,
            self.fittings * of_speed,
        ]
    }

    /// Head lost at a flow in L/h, m of water.
    pub fn loss(&self, l_per_h: f64, water: &Water) -> f64 {
        self.losses(l_per_h, water).iter().sum()
    }
}

/// Darcy's friction factor of a pipe at a Reynolds number, by the height of its roughness over its
/// width: Poiseuille's below [`LAMINAR_BELOW`], Colebrook 1939 above. 0 where nothing moves: the
/// loss is then 0 as well.
pub fn friction(reynolds: f64, roughness: f64) -> f64 {
    /// Steps of Newton's method, numeric: from Haaland's formula on each doubles the digits.
    const STEPS: usize = 3;
    if reynolds <= 0.0 {
        return 0.0;
    }
    if reynolds < LAMINAR_BELOW {
        return 64.0 / reynolds;
    }
    // Colebrook, for x = 1/√f: x = −2 lg(ε/3.7 + 2.51 x/Re).
    let (rough, smooth) = (roughness / 3.7, 2.51 / reynolds);
    let mut x = -1.8 * (rough.powf(1.11) + 6.9 / reynolds).log10();
    for _ in 0..STEPS {
        let inside = rough + smooth * x;
        let residual = x + 2.0 * inside.log10();
        let slope = 1.0 + 2.0 * smooth / (inside * std::f64::consts::LN_10);
        x -= residual / slope;
    }
    1.0 / (x * x)
}
