//! Readings, each against what is expected under every hypothesis, or against a limit.

use super::super::belief::{FaultSet, Likelihoods};
use super::super::fault::oxygen::TOO_WARM;
use super::super::finding::limits::Limit;
use super::super::finding::{Finding, filter};
use super::super::observed::Observed;
use super::super::space::Space;
use super::{Origin, Piece, crossed, per_class};
use crate::forecast::{DOUBTS, MODEL_RESIDUAL_MG_L, normal_below, normal_density};
use crate::numbers::Numbers;
use crate::tank::{Analyte, Reading, Tank};
use crate::units::Units;

/// Spread between the twin and a reading of oxygen with this kit.
pub(in crate::diagnosis) fn oxygen_spread(kit_spread: f64) -> f64 {
    kit_spread.hypot(MODEL_RESIDUAL_MG_L.value)
}

/// A reading's density with a trace of "anything can be", over a scale of this width. Without it a handful of readings that
/// contradict each other, more than the faults of one set can excuse, would leave no hypothesis at all.
fn never_impossible(density: f64, scale: f64) -> f64 {
    const TRACE: f64 = 1e-6;
    (1.0 - TRACE) * density + TRACE / scale
}

pub(super) fn oxygen(space: &Space, reading: &Reading, index: usize, units: &Units) -> Piece {
    /// A misread value may be anything a card shows, mg/L.
    const CARD_MG_L: f64 = 12.0;
    let misread = space.misread_of(index);
    let spread = oxygen_spread(reading.spread);
    let expected: Vec<[f64; DOUBTS]> = space.at_hour(reading.hour_of_day());
    let likelihoods = per_class(space, |class, doubt| {
        if space.hypotheses.classes()[class].has(misread) {
            1.0 / CARD_MG_L
        } else {
            never_impossible(normal_density(reading.value, expected[class][doubt], spread), CARD_MG_L)
        }
    });
    Piece { origin: Origin::Read, says: format!("Oxygen {} at {}", reading.print(units), reading.taken_at.strftime("%H:%M")), likelihoods }
}

/// What a thermometer shows in a tank: near what is usual, or, where the water is too warm, anything above it, the rarer the
/// further: a heater that sticks has no degree at which it stops. One that is off shows something near what is usual.
pub(in crate::diagnosis) struct Thermometer {
    usual_c: f64,
    spread_c: f64,
    kit_spread_c: f64,
}

impl Thermometer {
    /// Water moves about what is usual by as much.
    const ABOUT_C: f64 = 0.8;
    /// Water that is too warm is so at least, and by so much more on average, °C. From memory.
    const WARM_FROM_C: f64 = 1.0;
    const WARMER_C: f64 = 4.0;
    /// One that is off is so by so many of its spreads on average; a broken one, of which there are so few, shows anything.
    const OFF_BY: f64 = 4.0;
    const BROKEN: f64 = 1e-3;
    /// From a cold to a hot room, °C.
    const SCALE_C: f64 = 20.0;

    pub(in crate::diagnosis) fn in_tank(tank: &Tank, kit_spread_c: f64) -> Self {
        Self { usual_c: tank.temperature.as_celsius(), spread_c: Self::ABOUT_C.hypot(kit_spread_c), kit_spread_c }
    }

    /// Chance that it shows less than this.
    pub(in crate::diagnosis) fn below(&self, shown_c: f64, too_warm: bool) -> f64 {
        if too_warm {
            let over = shown_c - self.usual_c - Self::WARM_FROM_C;
            normal_below(over / self.spread_c) - Self::WARMER_C * self.warm_density(over)
        } else {
            normal_below((shown_c - self.usual_c) / self.spread_c)
        }
    }

    /// Density of an exponential excess, blurred by the spread.
    fn warm_density(&self, over_c: f64) -> f64 {
        let (mean, spread) = (Self::WARMER_C, self.spread_c);
        (spread * spread / (2.0 * mean * mean) - over_c / mean).exp() * normal_below(over_c / spread - spread / mean) / mean
    }

    fn density(&self, shown_c: f64, too_warm: bool) -> f64 {
        let over = shown_c - self.usual_c;
        if too_warm { self.warm_density(over - Self::WARM_FROM_C) } else { normal_density(shown_c, self.usual_c, self.spread_c) }
    }

    /// Density where it is off, either way.
    fn density_off(&self, shown_c: f64) -> f64 {
        let off = Self::OFF_BY * self.kit_spread_c;
        (1.0 - Self::BROKEN) * (-(shown_c - self.usual_c).abs() / off).exp() / (2.0 * off) + Self::BROKEN / Self::SCALE_C
    }

    /// What it shows, by draws from the exponential and the standard normal distribution and a sign.
    pub(in crate::diagnosis) fn shows(&self, too_warm: bool, off: bool, exponential: f64, normal: f64, sign: f64) -> f64 {
        match (off, too_warm) {
            (true, _) => self.usual_c + sign * Self::OFF_BY * self.kit_spread_c * exponential,
            (false, true) => self.usual_c + Self::WARM_FROM_C + Self::WARMER_C * exponential + self.spread_c * normal,
            (false, false) => self.usual_c + self.spread_c * normal,
        }
    }
}

pub(super) fn temperature(space: &Space, tank: &Tank, reading: &Reading, index: usize, units: &Units) -> Piece {
    let misread = space.misread_of(index);
    let warm = space.position(&TOO_WARM);
    let thermometer = Thermometer::in_tank(tank, reading.spread);
    let [usual, too_warm] =
        [false, true].map(|too_warm| never_impossible(thermometer.density(reading.value, too_warm), Thermometer::SCALE_C));
    let off = thermometer.density_off(reading.value);
    let of = |set: &FaultSet| match (set.has(misread), warm.is_some_and(|warm| set.has(warm))) {
        (true, _) => off,
        (false, true) => too_warm,
        (false, false) => usual,
    };
    let likelihoods = Likelihoods::PerSet(space.hypotheses.sets().iter().map(of).collect());
    Piece { origin: Origin::Read, says: format!("Water at {}", reading.print(units)), likelihoods }
}

/// A threshold judged with its spread, never quite sure.
pub(super) fn sureness(z: f64) -> f64 {
    normal_below(z).clamp(0.02, 0.98)
}

/// Latest reading of an analyte with its place in the list.
pub(super) fn latest<'a>(observed: &'a Observed, analyte: &Analyte) -> Option<(usize, &'a Reading)> {
    observed.readings.iter().enumerate().filter(|(_, reading)| reading.analyte == analyte).max_by_key(|(_, reading)| reading.taken_at)
}

/// How much rarer a reading so far beyond its limit is, without a fault, than one just beyond: half as frequent with each
/// further limit's worth, as far as that can be told. Below a limit there is no room for it. A judgement.
fn rarer_beyond(over: f64, limit: &Limit) -> f64 {
    const AT_MOST: f64 = 1.0 / 256.0;
    if limit.above { (-over.max(0.0) / limit.value).exp2().max(AT_MOST) } else { 1.0 }
}

/// The latest reading against a limit; where a difference counts, of both.
pub(super) fn against_limit(space: &Space, observed: &Observed, finding: &Finding, limit: &Limit) -> Option<Piece> {
    let (index, reading) = latest(observed, limit.analyte)?;
    let (mut value, mut spread, mut readings) = (reading.value, reading.spread, vec![index]);
    let mut read = format!("{} {}", limit.analyte.label, reading.print(&observed.units));
    if let Some(less) = limit.less {
        let (index, other) = latest(observed, less)?;
        (value, spread) = (value - other.value, spread.hypot(other.spread));
        readings.push(index);
        read = format!("{read}, {} {}", less.label, other.print(&observed.units));
    }
    let over = if limit.above { value - limit.value } else { limit.value - value };
    let rarer = rarer_beyond(over, limit);
    let sureness = normal_below(over / spread.max(1e-3)).clamp(0.02, 1.0 - 0.02 * rarer);
    let misread = readings.into_iter().fold(FaultSet::NONE, |misread, index| misread.with(space.misread_of(index)));
    Some(Piece { origin: Origin::Read, says: read, likelihoods: crossed(space, finding, sureness, misread, rarer) })
}

/// Flow that counts as weak, as a share of what the clean filters should give; and how well that is known. From memory.
const WEAK_SHARE: f64 = 0.7;
const CLEAN_FLOW_SPREAD: f64 = 0.2;

/// A measured flow against what the clean filters should give. It takes the place of what was seen by eye.
pub(super) fn flow(space: &Space, tank: &Tank, observed: &Observed) -> Option<Piece> {
    let (index, reading) = latest(observed, Analyte::FLOW)?;
    let clean = Numbers::of(tank).flow_l_per_h;
    let sureness = sureness((WEAK_SHARE * clean - reading.value) / reading.spread.hypot(CLEAN_FLOW_SPREAD * clean));
    let likelihoods = crossed(space, &filter::FLOW_WEAK, sureness, FaultSet::NONE.with(space.misread_of(index)), 1.0);
    let says =
        format!("Flow {}, where clean filters should give {}", reading.print(&observed.units), Analyte::FLOW.print(clean, &observed.units));
    Some(Piece { origin: Origin::Read, says, likelihoods })
}
