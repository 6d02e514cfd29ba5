//! Readings, each against what is expected under every hypothesis, or against a limit.

use super::super::belief::{FaultSet, Likelihoods};
use super::super::fault::oxygen::{TOO_WARM, TOO_WARM_BY_C};
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

/// Mean and spread of the temperature to read, with and without the fault.
pub(in crate::diagnosis) fn expected_temperature(tank: &Tank, too_warm: bool) -> (f64, f64) {
    let usual = tank.temperature.as_celsius();
    if too_warm { (usual + TOO_WARM_BY_C, 2.0) } else { (usual, 0.8) }
}

pub(super) fn temperature(space: &Space, tank: &Tank, reading: &Reading, index: usize, units: &Units) -> Piece {
    /// A misread thermometer may show anything from a cold to a hot room, °C.
    const SCALE_C: f64 = 20.0;
    let misread = space.misread_of(index);
    let warm = space.position(&TOO_WARM);
    let [usual, too_warm] = [false, true].map(|too_warm| {
        let (mean, spread) = expected_temperature(tank, too_warm);
        never_impossible(normal_density(reading.value, mean, spread.hypot(reading.spread)), SCALE_C)
    });
    let of = |set: &FaultSet| match (set.has(misread), warm.is_some_and(|warm| set.has(warm))) {
        (true, _) => 1.0 / SCALE_C,
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
    let sureness = sureness(over / spread.max(1e-3));
    let misread = readings.into_iter().fold(FaultSet::NONE, |misread, index| misread.with(space.misread_of(index)));
    Some(Piece { origin: Origin::Read, says: read, likelihoods: crossed(space, finding, sureness, misread) })
}

/// Flow that counts as weak, as a share of what the clean filters should give; and how well that is known. From memory.
const WEAK_SHARE: f64 = 0.7;
const CLEAN_FLOW_SPREAD: f64 = 0.2;

/// A measured flow against what the clean filters should give. It takes the place of what was seen by eye.
pub(super) fn flow(space: &Space, tank: &Tank, observed: &Observed) -> Option<Piece> {
    let (index, reading) = latest(observed, Analyte::FLOW)?;
    let clean = Numbers::of(tank).flow_l_per_h;
    let sureness = sureness((WEAK_SHARE * clean - reading.value) / reading.spread.hypot(CLEAN_FLOW_SPREAD * clean));
    let likelihoods = crossed(space, &filter::FLOW_WEAK, sureness, FaultSet::NONE.with(space.misread_of(index)));
    let says =
        format!("Flow {}, where clean filters should give {}", reading.print(&observed.units), Analyte::FLOW.print(clean, &observed.units));
    Some(Piece { origin: Origin::Read, says, likelihoods })
}
