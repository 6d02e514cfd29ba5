//! What instruments show: under a fault, that it has no fixed size; and when they are off, as
//! instruments err.

use super::super::fault::oxygen::TOO_WARM;
use super::super::hypothesis_space::HypothesisSpace;
use crate::outlook::forecast::{DOUBTS, MODEL_RESIDUAL_MG_L};
use crate::statistics::{normal_below, normal_density};
use crate::tank::Tank;

/// A normal distribution with an exponential excess upon it: what has no upper end, but is rarer
/// the further.
#[derive(Clone, Copy, Debug)]
struct Excess {
    mean: f64,
    spread: f64,
}

impl Excess {
    /// An excess that is small against the spread cannot be told from it, and its formula runs out
    /// of digits.
    fn new(mean: f64, spread: f64) -> Self {
        Self {
            mean: mean.max(0.3 * spread),
            spread,
        }
    }

    fn density(&self, over: f64) -> f64 {
        let Self { mean, spread } = *self;
        (spread * spread / (2.0 * mean * mean) - over / mean).exp()
            * normal_below(over / spread - spread / mean)
            / mean
    }

    /// Chance of less than this.
    fn below(&self, over: f64) -> f64 {
        normal_below(over / self.spread) - self.mean * self.density(over)
    }
}

/// How an instrument errs when it is off: by a step or a few either way, the rarer the further; a
/// broken one, of which there are few, shows anything on its scale.
#[derive(Clone, Copy, Debug)]
struct Off {
    /// On average.
    by: f64,
    broken: f64,
    scale: f64,
}

impl Off {
    fn density(&self, from_truth: f64) -> f64 {
        (1.0 - self.broken) * (-from_truth.abs() / self.by).exp() / (2.0 * self.by)
            + self.broken / self.scale
    }

    /// What it is off by, by these draws.
    fn by(&self, draws: Draws) -> f64 {
        draws.sign * self.by * draws.exponential
    }
}

/// Draws that decide what an instrument shows in a made-up world.
#[derive(Clone, Copy, Debug)]
pub(in crate::diagnosis) struct Draws {
    /// Exponential, mean one.
    pub(in crate::diagnosis) exponential: f64,
    /// Standard normal.
    pub(in crate::diagnosis) normal: f64,
    /// Minus or plus one.
    pub(in crate::diagnosis) sign: f64,
}

/// What a thermometer shows in a tank: near what is usual, or, where the water is too warm,
/// anything above it, the rarer the further: a heater that sticks has no degree at which it stops.
/// One that is off shows something near what is usual.
pub(in crate::diagnosis) struct Thermometer {
    usual_c: f64,
    spread_c: f64,
    off: Off,
}

impl Thermometer {
    /// Water moves about what is usual by as much. A judgement.
    const ABOUT_C: f64 = 0.8;
    /// Water that is too warm is so at least, and by so much more on average, °C. From memory.
    const WARM_FROM_C: f64 = 1.0;
    const WARMER_C: f64 = 4.0;
    /// One that is off is so by so many of its spreads on average.
    const OFF_BY: f64 = 4.0;
    const BROKEN: f64 = 1e-3;
    /// From a cold to a hot room, °C.
    pub(super) const SCALE_C: f64 = 20.0;

    pub(in crate::diagnosis) fn in_tank(tank: &Tank, kit_spread_c: f64) -> Self {
        let off = Off {
            by: Self::OFF_BY * kit_spread_c,
            broken: Self::BROKEN,
            scale: Self::SCALE_C,
        };
        Self {
            usual_c: tank.temperature.as_celsius(),
            spread_c: Self::ABOUT_C.hypot(kit_spread_c),
            off,
        }
    }

    fn excess(&self) -> Excess {
        Excess::new(Self::WARMER_C, self.spread_c)
    }

    /// Chance that it shows less than this.
    pub(in crate::diagnosis) fn below(&self, shown_c: f64, too_warm: bool) -> f64 {
        let over = shown_c - self.usual_c;
        if too_warm {
            self.excess().below(over - Self::WARM_FROM_C)
        } else {
            normal_below(over / self.spread_c)
        }
    }

    pub(super) fn density(&self, shown_c: f64, too_warm: bool) -> f64 {
        let over = shown_c - self.usual_c;
        if too_warm {
            self.excess().density(over - Self::WARM_FROM_C)
        } else {
            normal_density(shown_c, self.usual_c, self.spread_c)
        }
    }

    /// Whether it shows so much, or so little, that no sound tank explains it: three spreads away.
    pub(super) fn is_beyond_usual(&self, shown_c: f64) -> bool {
        (shown_c - self.usual_c).abs() > 3.0 * self.spread_c
    }

    /// Density where it is off, either way.
    pub(super) fn density_off(&self, shown_c: f64) -> f64 {
        self.off.density(shown_c - self.usual_c)
    }

    /// What it shows by these draws.
    pub(in crate::diagnosis) fn shows(&self, too_warm: bool, off: bool, draws: Draws) -> f64 {
        match (off, too_warm) {
            (true, _) => self.usual_c + self.off.by(draws),
            (false, true) => {
                self.usual_c
                    + Self::WARM_FROM_C
                    + Self::WARMER_C * draws.exponential
                    + self.spread_c * draws.normal
            }
            (false, false) => self.usual_c + self.spread_c * draws.normal,
        }
    }
}

/// What an oxygen kit shows. The twin reckons each fault at its usual size; how far it lowers the
/// oxygen in this tank varies about that, and now and then is much more: a carcass may be a big
/// one. A kit that is off errs by a step or two of its card.
#[derive(Clone, Copy, Debug)]
pub(in crate::diagnosis) struct OxygenKit {
    /// As the twin has it, mg/L.
    expected: f64,
    /// By how much that is below the same tank without the faults, mg/L.
    lowered: f64,
    /// By how much more it is now and then, mg/L.
    worse: f64,
    spread: f64,
}

impl OxygenKit {
    /// By which share of what it is reckoned to lower a fault varies, as one standard deviation. A
    /// judgement.
    const VARIES: f64 = 0.2;
    /// In so many cases it is worse than reckoned, by as much again on average. A judgement.
    const WORSE: f64 = 0.14;
    /// What has no upper end is worse by so much on average at least, mg/L. A judgement.
    const BOUNDLESS_MG_L: f64 = 2.5;
    /// One that is off is so by as much on average, mg/L: a step of a colour card, or half of one.
    /// From memory.
    const OFF: Off = Off {
        by: 1.3,
        broken: 0.001,
        scale: Self::CARD_MG_L,
    };
    /// What a card shows, mg/L. A judgement.
    pub(super) const CARD_MG_L: f64 = 12.0;

    /// Given what is expected with the faults and without any, and the spread of the kit, all in
    /// mg/L; and whether one of the faults has no upper end.
    pub(in crate::diagnosis) fn new(
        expected: f64,
        with_no_fault: f64,
        boundless: bool,
        kit_spread: f64,
    ) -> Self {
        let lowered = (with_no_fault - expected).max(0.0);
        let worse = lowered.max(if boundless { Self::BOUNDLESS_MG_L } else { 0.0 });
        Self {
            expected,
            lowered,
            worse,
            spread: kit_spread.hypot(MODEL_RESIDUAL_MG_L.value),
        }
    }

    /// Spread about what is reckoned, of kit and fault.
    fn about(&self) -> f64 {
        self.spread.hypot(Self::VARIES * self.lowered)
    }

    /// What is worse than reckoned, and in which share of cases; of a fault that lowers nothing
    /// there is no worse.
    fn worse(&self) -> Option<(f64, Excess)> {
        (self.lowered > 0.0).then(|| (Self::WORSE, Excess::new(self.worse, self.spread)))
    }

    pub(super) fn density(&self, shown: f64) -> f64 {
        let as_reckoned = normal_density(shown, self.expected, self.about());
        self.worse().map_or(as_reckoned, |(share, worse)| {
            (1.0 - share) * as_reckoned + share * worse.density(self.expected - shown)
        })
    }

    /// Chance that it shows less than this.
    pub(in crate::diagnosis) fn below(&self, shown: f64) -> f64 {
        let as_reckoned = normal_below((shown - self.expected) / self.about());
        self.worse().map_or(as_reckoned, |(share, worse)| {
            (1.0 - share) * as_reckoned + share * (1.0 - worse.below(self.expected - shown))
        })
    }

    pub(super) fn density_off(&self, shown: f64) -> f64 {
        Self::OFF.density(shown - self.expected)
    }

    /// What it shows by these draws, in a tank whose fault has this size.
    pub(in crate::diagnosis) fn shows(&self, size: Size, off: bool, draws: Draws) -> f64 {
        let worse = match self.worse() {
            Some((share, worse)) if size.uniform < share => size.exponential * worse.mean,
            _ => size.normal * Self::VARIES * self.lowered,
        };
        self.expected - worse
            + if off {
                Self::OFF.by(draws)
            } else {
                self.spread * draws.normal
            }
    }
}

/// Draws that decide how far a fault lowers the oxygen in a made-up world, the same for each
/// reading of it.
#[derive(Clone, Copy, Debug)]
pub(in crate::diagnosis) struct Size {
    /// Between zero and one.
    pub(in crate::diagnosis) uniform: f64,
    /// Exponential, mean one.
    pub(in crate::diagnosis) exponential: f64,
    /// Standard normal.
    pub(in crate::diagnosis) normal: f64,
}

/// Kits at this hour under each tank that faults make: `[tank][doubt]`.
pub(in crate::diagnosis) fn oxygen_kits(
    space: &HypothesisSpace,
    hour: f64,
    kit_spread: f64,
) -> Vec<[OxygenKit; DOUBTS]> {
    let expected = space.at_hour(hour);
    let with_no_fault = expected[space.tank_of(0)];
    let of_tank = |(expected, boundless): (&[f64; DOUBTS], bool)| {
        std::array::from_fn(|doubt| {
            OxygenKit::new(expected[doubt], with_no_fault[doubt], boundless, kit_spread)
        })
    };
    expected
        .iter()
        .zip(space.boundless())
        .map(of_tank)
        .collect()
}

/// Place of the fault that warms the water.
pub(in crate::diagnosis) fn too_warm(space: &HypothesisSpace) -> Option<usize> {
    space.position(&TOO_WARM)
}

#[cfg(test)]
mod tests {
    use super::{Excess, OxygenKit, Thermometer};
    use crate::tank::Tank;
    use crate::units::Length;

    /// The chance of less is the integral of the density, by the midpoint rule.
    #[test]
    fn chances_and_densities_belong_together() {
        let adds_up = |name: &str,
                       from: f64,
                       to: f64,
                       density: &dyn Fn(f64) -> f64,
                       below: &dyn Fn(f64) -> f64| {
            const STEPS: i32 = 4000;
            let step = (to - from) / f64::from(STEPS);
            let sum: f64 = (0..STEPS)
                .map(|at| density(from + (f64::from(at) + 0.5) * step) * step)
                .sum();
            assert!(
                (sum - (below(to) - below(from))).abs() < 1e-4,
                "{name}: {sum} {}",
                below(to) - below(from)
            );
        };
        let excess = Excess::new(2.0, 0.6);
        adds_up("excess", -4.0, 5.0, &|over| excess.density(over), &|over| {
            excess.below(over)
        });
        for (expected, without, boundless) in
            [(7.5, 7.5, false), (4.5, 7.5, false), (7.3, 7.5, true)]
        {
            let kit = OxygenKit::new(expected, without, boundless, 0.5);
            adds_up("oxygen", -8.0, 8.0, &|shown| kit.density(shown), &|shown| {
                kit.below(shown)
            });
        }
        let tank = Tank::plain("Test", Length::cm(80.0), Length::cm(35.0), Length::cm(40.0));
        let thermometer = Thermometer::in_tank(&tank, 0.5);
        for too_warm in [false, true] {
            adds_up(
                "water",
                20.0,
                34.0,
                &|shown| thermometer.density(shown, too_warm),
                &|shown| thermometer.below(shown, too_warm),
            );
        }
    }
}
