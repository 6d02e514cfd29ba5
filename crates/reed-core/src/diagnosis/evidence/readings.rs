//! Readings, each against what is expected under every hypothesis, or against a limit.

use jiff::civil::DateTime;

use super::super::belief::{FaultSet, Likelihoods};
use super::super::case::Case;
use super::super::finding::limits::Limit;
use super::super::finding::{Finding, filter};
use super::super::hypothesis_space::HypothesisSpace;
use super::super::observed::Observed;
use super::super::origin::Origin;
use super::instruments::{OxygenKit, Thermometer, oxygen_kits, too_warm};
use super::{Piece, crossed, per_class};
use crate::outlook::forecast::DOUBTS;
use crate::statistics::normal_below;
use crate::tank::{Analyte, Filter, Reading, Tank};
use crate::units::{Units, days_of};

/// A reading's density with a trace of "anything can be", over a scale of this width. Without it a
/// handful of readings that contradict each other, more than the faults of one set can excuse,
/// would leave no hypothesis at all.
fn never_impossible(density: f64, scale: f64) -> f64 {
    /// Less than this beside what is read is nothing: numeric.
    const TRACE: f64 = 1e-6;
    (1.0 - TRACE) * density + TRACE / scale
}

pub(super) fn oxygen(
    space: &HypothesisSpace,
    reading: &Reading,
    index: usize,
    units: &Units,
) -> Piece {
    let misread = space.misread_of(index);
    let of_kit = |kit: OxygenKit| {
        [
            never_impossible(kit.density(reading.value), OxygenKit::CARD_MG_L),
            kit.density_off(reading.value),
        ]
    };
    let of_tanks: Vec<[[f64; 2]; DOUBTS]> =
        oxygen_kits(space, reading.hour_of_day(), reading.spread)
            .into_iter()
            .map(|kits| kits.map(of_kit))
            .collect();
    let likelihoods = per_class(space, |class, doubt| {
        let off = space.hypotheses.classes()[class].has(misread);
        of_tanks[space.tank_of(class)][doubt][usize::from(off)]
    });
    let says = format!(
        "Oxygen {} at {}",
        reading.print(units),
        reading.taken_at.strftime("%H:%M")
    );
    Piece {
        origin: Origin::Read,
        says,
        alarms: reading.value < space.act_below(),
        likelihoods,
    }
}

pub(super) fn temperature(
    space: &HypothesisSpace,
    tank: &Tank,
    reading: &Reading,
    index: usize,
    units: &Units,
) -> Piece {
    let misread = space.misread_of(index);
    let warm = too_warm(space);
    let thermometer = Thermometer::in_tank(tank, reading.spread);
    let [usual, too_warm] = [false, true].map(|too_warm| {
        never_impossible(
            thermometer.density(reading.value, too_warm),
            Thermometer::SCALE_C,
        )
    });
    let off = thermometer.density_off(reading.value);
    let mut of_sets = vec![usual; space.hypotheses.sets().len()];
    let mut put = |fault: usize, density: f64| {
        space
            .hypotheses
            .each_holding(FaultSet::NONE.with(fault), |set| of_sets[set] = density);
    };
    warm.into_iter().for_each(|warm| put(warm, too_warm));
    put(misread, off);
    let likelihoods = Likelihoods::PerSet(of_sets);
    let alarms = thermometer.is_beyond_usual(reading.value);
    Piece {
        origin: Origin::Read,
        says: format!("Water at {}", reading.print(units)),
        alarms,
        likelihoods,
    }
}

/// A threshold judged with its spread, never quite sure; the less doubt is left, the rarer such a
/// reading is without a fault.
pub(super) fn sureness(z: f64, rarer: f64) -> f64 {
    normal_below(z).clamp(0.02, 1.0 - 0.02 * rarer)
}

/// Latest reading of an analyte with its place in the list.
pub(super) fn latest<'a>(
    observed: &'a Observed,
    analyte: &Analyte,
) -> Option<(usize, &'a Reading)> {
    observed
        .readings
        .iter()
        .enumerate()
        .filter(|(_, reading)| reading.analyte == analyte)
        .max_by_key(|(_, reading)| reading.taken_at)
}

/// How much rarer a reading so far beyond its limit is without a fault than with one. A judgement.
///
/// Both go beyond it by an exponential excess, that of a fault by twice as much on average: from
/// one [`step_beyond`] on it is half as frequent without a fault with each further one. Nearer to
/// the limit, where it would speak for a sound tank, it says nothing.
pub(super) fn rarer_beyond(over: f64, limit: f64, above: bool) -> f64 {
    /// No evidence is stronger than this, a judgement.
    const AT_MOST: f64 = 1.0 / 256.0;
    (1.0 - over / step_beyond(limit, above))
        .exp2()
        .clamp(AT_MOST, 1.0)
}

/// By how much beyond its limit a reading has to lie to be told from one just beyond: the limit
/// once more, or a fourth of the room below it.
fn step_beyond(limit: f64, above: bool) -> f64 {
    limit.max(1e-9) / if above { 1.0 } else { 4.0 }
}

/// By how much a reading lies beyond its limit, by a draw from the exponential distribution of mean
/// one, with and without a fault.
pub(in crate::diagnosis) fn beyond_by(
    exponential: f64,
    with_fault: bool,
    limit: f64,
    above: bool,
) -> f64 {
    let halvings = if with_fault { 1.0 } else { 2.0 };
    step_beyond(limit, above) * exponential / (halvings * std::f64::consts::LN_2)
}

/// The latest reading against a limit; where a difference counts, of both.
pub(super) fn against_limit(
    space: &HypothesisSpace,
    observed: &Observed,
    finding: &Finding,
    limit: &Limit,
) -> Option<Piece> {
    let (index, reading) = latest(observed, limit.analyte)?;
    let (mut value, mut spread, mut readings) = (reading.value, reading.spread, vec![index]);
    let mut read = format!("{} {}", limit.analyte.label, reading.print(&observed.units));
    if let Some(less) = limit.less {
        let (index, other) = latest(observed, less)?;
        (value, spread) = (value - other.value, spread.hypot(other.spread));
        readings.push(index);
        read = format!("{read}, {} {}", less.label, other.print(&observed.units));
    }
    let (over, spread) = (
        if limit.above {
            value - limit.value
        } else {
            limit.value - value
        },
        spread.max(1e-3),
    );
    let rarer = rarer_beyond(over, limit.value, limit.above);
    let sureness = sureness(over / spread, rarer);
    let misread = readings.into_iter().fold(FaultSet::NONE, |misread, index| {
        misread.with(space.misread_of(index))
    });
    let alarms = sureness > 0.5;
    Some(Piece {
        origin: Origin::Read,
        says: read,
        alarms,
        likelihoods: crossed(space, finding, sureness, misread, rarer),
    })
}

/// Flow that counts as weak, as a share of what the clean filters should give; and how well that is
/// known. From memory.
pub(in crate::diagnosis) const WEAK_SHARE: f64 = 0.7;
const CLEAN_FLOW_SPREAD: f64 = 0.2;

/// How well a bucket knows the share of the flow that is left. From memory.
const BUCKET_SPREAD: f64 = 0.1;
/// A flow that was full says nothing of now after so many days. A judgement.
const FULL_FOR_DAYS: f64 = 14.0;

/// The weakest filter whose flow was measured by bucket clean and since: its name and what is left.
/// One that was weak is so until it is opened; one that was full may be clogged by now.
pub(in crate::diagnosis) fn weakest_by_bucket(tank: &Tank, now: DateTime) -> Option<(&str, f64)> {
    let of_filter = |filter: &Filter| {
        let left = filter.flow_left()?;
        let age = filter
            .measured_on
            .map(|day| days_of(now.duration_since(day.at(0, 0, 0, 0))));
        (left < WEAK_SHARE || age.is_some_and(|age| age <= FULL_FOR_DAYS)).then_some(left)
    };
    let known = tank.filters.iter();
    known
        .filter_map(|filter| Some((filter.name.as_str(), of_filter(filter)?)))
        .min_by(|one, other| one.1.total_cmp(&other.1))
}

/// What a bucket says of the flow, where nobody has judged it by eye since.
fn by_bucket(space: &HypothesisSpace, tank: &Tank, observed: &Observed) -> Option<Piece> {
    let (name, left) = weakest_by_bucket(tank, observed.now)?;
    if observed.answer(&filter::FLOW_WEAK).is_some() {
        return None;
    }
    let rarer = rarer_beyond(WEAK_SHARE - left, WEAK_SHARE, false);
    let sureness = sureness((WEAK_SHARE - left) / BUCKET_SPREAD, rarer);
    Some(Piece {
        origin: Origin::Record,
        says: format!(
            "By bucket {name} moves {:.0} % of what it moved clean",
            100.0 * left
        ),
        alarms: false,
        likelihoods: crossed(space, &filter::FLOW_WEAK, sureness, FaultSet::NONE, rarer),
    })
}

/// A measured flow against what the clean filters should give. It takes the place of what was seen
/// by eye.
pub(super) fn flow(space: &HypothesisSpace, Case { tank, observed }: &Case) -> Option<Piece> {
    let Some((index, reading)) = latest(observed, Analyte::FLOW) else {
        return by_bucket(space, tank, observed);
    };
    let clean: f64 = tank
        .filters
        .iter()
        .map(|filter| filter.flow_when_clean().as_litres_per_hour())
        .sum();
    let (weak, spread) = (
        WEAK_SHARE * clean,
        reading.spread.hypot(CLEAN_FLOW_SPREAD * clean),
    );
    let rarer = rarer_beyond(weak - reading.value, weak, false);
    let sureness = sureness((weak - reading.value) / spread, rarer);
    let likelihoods = crossed(
        space,
        &filter::FLOW_WEAK,
        sureness,
        FaultSet::NONE.with(space.misread_of(index)),
        rarer,
    );
    let says = format!(
        "Flow {}, where clean filters should give {}",
        reading.print(&observed.units),
        Analyte::FLOW.print(clean, &observed.units)
    );
    Some(Piece {
        origin: Origin::Read,
        says,
        alarms: false,
        likelihoods,
    })
}
