//! Each piece of evidence as a likelihood over the hypotheses: one place where findings, readings and the twin meet.

use super::belief::{FaultSet, Likelihoods, NoisyOr, likelihood};
use super::distress::RUNGS;
use super::fault::oxygen::{TOO_WARM, TOO_WARM_BY_C};
use super::finding::limits::Limit;
use super::finding::{self, Finding, Kind, computed, events, filter, upkeep};
use super::observed::{Answer, Answered, Observed};
use super::space::{Candidate, Space};
use crate::forecast::{DOUBTS, MODEL_RESIDUAL_MG_L, normal_below, normal_density};
use crate::tank::{Analyte, Reading, Tank};
use crate::units::{Temperature, Units};
use crate::water::chemistry;
use crate::water::nitrogen::KIT_ZERO_MG_L;

/// Where a piece of evidence comes from.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Origin {
    /// Answered by the keeper.
    Seen,
    /// Measured.
    Read,
    /// Stands in the tank file.
    File,
    /// Computed from readings.
    Computed,
}

/// A piece of evidence.
#[derive(Clone, Debug)]
pub(super) struct Piece {
    pub(super) origin: Origin,
    /// What it says, in the keeper's words.
    pub(super) says: String,
    pub(super) likelihoods: Likelihoods,
}

/// Nitrite, as N, from which to act. From memory, for soft fresh water.
const NITRITE_LIMIT_MG_L: f64 = 0.1;
/// Un-ionised ammonia, as N, that is harmful for long: EIFAC 1970 gives 0.025 mg/L as NH3.
const NH3_LIMIT_MG_L: f64 = 0.021;
/// Carbon dioxide that is the usual ceiling of tanks that dose it. From memory.
const CO2_LIMIT_MG_L: f64 = 30.0;
/// pH to assume beside an ammonia reading when none was read. From memory.
const USUAL_PH: f64 = 7.5;
/// Spread of the logarithm of what is computed from a pH: 0.2 of a pH is a factor of 1.6.
const PH_LOG_SPREAD: f64 = 0.5;
/// Chance that the half of the nitrogen poisons that was not read is high. From memory.
const UNREAD_IS_HIGH: f64 = 0.3;

/// All the evidence there is, in the order: file, answers, readings, computed.
pub(super) fn gather(space: &Space, tank: &Tank, observed: &Observed) -> Vec<Piece> {
    let mut pieces = Vec::new();
    for known in finding::all() {
        match known.kind {
            Kind::Fact(holds) => pieces.push(sign(space, known, if holds(tank) { 1.0 } else { 0.0 }, Origin::File)),
            Kind::Estimated(sureness) => {
                pieces.extend(sureness(tank, observed).map(|sureness| sign(space, known, sureness, Origin::Computed)));
            }
            Kind::Read(limit) => pieces.extend(against_limit(space, observed, known, limit)),
            // The others are answered, or computed from several readings, below.
            Kind::Sign | Kind::Rung(_) | Kind::Event { .. } | Kind::Computed => {}
        }
    }
    pieces.extend(age_of_tank(space, tank, observed));
    let flat = &finding::places::SURFACE_FLAT;
    if tank.surface <= crate::tank::Surface::Still && observed.answer(flat).is_none() {
        pieces.push(sign(space, flat, 1.0, Origin::File));
    }
    for answered in &observed.answers {
        match answered.finding.kind {
            // Bubbles at the outlet are the bubbles in the water: they are weighed where they come from.
            Kind::Sign if answered.finding == &filter::BUBBLES_IN_WATER && seen_at_outlet(observed) => {}
            Kind::Sign => {
                let sureness = if answered.answer == Answer::Yes { 1.0 } else { 0.0 };
                pieces.push(sign(space, answered.finding, sureness, Origin::Seen));
            }
            Kind::Event { .. } => pieces.push(event(space, answered, observed, Origin::Seen)),
            // Rungs are one piece together; what is read off the file or computed is not answered.
            Kind::Rung(_) | Kind::Fact(_) | Kind::Estimated(_) | Kind::Read(_) | Kind::Computed => {}
        }
    }
    pieces.extend(ladder(space, observed));
    for index in observed.weighed() {
        let reading = &observed.readings[index];
        if reading.analyte == Analyte::OXYGEN {
            pieces.push(oxygen(space, reading, index, &observed.units));
        } else if reading.analyte == Analyte::TEMPERATURE {
            pieces.push(temperature(space, tank, reading, index, &observed.units));
        }
    }
    pieces.extend(nitrogen(space, tank, observed));
    pieces.extend(carbon_dioxide(space, observed));
    pieces
}

fn seen_at_outlet(observed: &Observed) -> bool {
    [&filter::OUTLET_BUBBLES_CONSTANT, &filter::OUTLET_BUBBLES_BURSTS]
        .into_iter()
        .any(|finding| observed.answer(finding).is_some_and(|answered| answered.answer == Answer::Yes))
}

/// The node of a sign: its leak and the faults that show it.
pub(super) fn node(candidates: &[Candidate], finding: &Finding) -> NoisyOr {
    let links = candidates.iter().enumerate().filter_map(|(index, candidate)| {
        let (_, strength) = candidate.fault.signs.iter().find(|(sign, _)| *sign == finding)?;
        Some((index, strength.chance()))
    });
    NoisyOr { leak: finding.leak, links: links.collect() }
}

fn sign(space: &Space, finding: &Finding, sureness: f64, origin: Origin) -> Piece {
    let node = node(&space.candidates, finding);
    let speaks_against = |candidate: &Candidate| sureness > 0.5 && candidate.fault.against.contains(&finding);
    let tenths: Vec<f64> = space.candidates.iter().map(|candidate| if speaks_against(candidate) { 0.1 } else { 1.0 }).collect();
    let likelihoods = if sureness <= 0.0 {
        // A plain no: none of the faults present brought it about.
        Likelihoods::PerFault(1.0 - node.leak, node.absent(space.candidates.len()))
    } else {
        let chances = node.chances(&space.hypotheses).into_iter().zip(space.hypotheses.products(&tenths));
        Likelihoods::PerSet(chances.map(|(chance, tenths)| likelihood(chance, sureness) * tenths).collect())
    };
    let says = if sureness > 0.5 { finding.says } else { finding.says_not };
    Piece { origin, says: says.to_owned(), likelihoods }
}

/// Factor on the odds of each linked fault: how likely the event is in its window with the fault, over without.
fn event(space: &Space, answered: &Answered, observed: &Observed, origin: Origin) -> Piece {
    let age_days = observed.now.duration_since(answered.at).as_secs_f64() / 86_400.0;
    let happened = answered.answer == Answer::Yes;
    let factor = |candidate: &Candidate| {
        candidate.fault.events.iter().find(|link| link.event == answered.finding).map_or(1.0, |link| {
            let (with, without) = (link.strength.chance(), events::chance_at_any_time(answered.finding, link.window_days));
            let in_window = happened && age_days <= link.window_days;
            if in_window { with / without } else { (1.0 - with) / (1.0 - without) }
        })
    };
    let factors = space.candidates.iter().map(factor).collect();
    let says = match (happened, age_days) {
        (false, _) => answered.finding.says_not.to_owned(),
        (true, days) if days < 1.0 => format!("{}, within a day", answered.finding.says),
        (true, days) => format!("{}, {days:.0} days ago", answered.finding.says),
    };
    Piece { origin, says, likelihoods: Likelihoods::PerFault(1.0, factors) }
}

/// The day the tank was set up, if its file says so and nobody answered.
fn age_of_tank(space: &Space, tank: &Tank, observed: &Observed) -> Option<Piece> {
    let finding = &upkeep::TANK_SET_UP;
    let day = tank.set_up.filter(|_| observed.answer(finding).is_none())?;
    let answered = Answered { finding, answer: Answer::Yes, at: day.at(0, 0, 0, 0) };
    Some(event(space, &answered, observed, Origin::File))
}

/// The latest reading against a limit; where a difference counts, of both.
fn against_limit(space: &Space, observed: &Observed, finding: &Finding, limit: &Limit) -> Option<Piece> {
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
    let node = node(&space.candidates, finding);
    let misread: Vec<usize> = readings.into_iter().map(|index| space.misread_of(index)).collect();
    let of = |set: FaultSet| likelihood(node.chance(set), if misread.iter().any(|fault| set.has(*fault)) { 0.5 } else { sureness });
    Some(Piece { origin: Origin::Read, says: read, likelihoods: per_set(space, of) })
}

/// What the answers say about the ladder: at least this rung (none for "no rung is known"), and below that one.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Rungs {
    pub(super) at_least: Option<usize>,
    pub(super) below: Option<usize>,
}

impl Rungs {
    /// The highest rung seen counts; a no counts only above it, since whoever gulps also pumps.
    pub(super) fn of(observed: &Observed) -> Self {
        let answered = |wanted: Answer| {
            observed.answers.iter().filter(move |answered| answered.answer == wanted).filter_map(|answered| match answered.finding.kind {
                Kind::Rung(rung) => Some(rung),
                _ => None,
            })
        };
        let at_least = answered(Answer::Yes).max();
        let below = answered(Answer::No).filter(|rung| at_least.is_none_or(|seen| *rung > seen)).min();
        Self { at_least, below }
    }

    /// Chance of it, from the chances of each rung or a higher one.
    pub(super) fn chance(self, chances: &[f64; RUNGS]) -> f64 {
        (self.at_least.map_or(1.0, |rung| chances[rung]) - self.below.map_or(0.0, |rung| chances[rung])).max(1e-6)
    }
}

fn ladder(space: &Space, observed: &Observed) -> Option<Piece> {
    let rungs = Rungs::of(observed);
    if rungs.at_least.is_none() && rungs.below.is_none() {
        return None;
    }
    let finding_of = |rung: usize| finding::all().find(|finding| matches!(finding.kind, Kind::Rung(own) if own == rung));
    let says = match (rungs.at_least.and_then(finding_of), rungs.below.and_then(finding_of)) {
        (Some(seen), Some(not)) => format!("{}, but not: {}", seen.says, lower_first(not.says)),
        (Some(seen), None) => seen.says.to_owned(),
        (None, not) => not.map_or("", |not| not.says_not).to_owned(),
    };
    let likelihoods = per_class(space, |class, doubt| rungs.chance(&space.rung_chances(class, doubt)));
    Some(Piece { origin: Origin::Seen, says, likelihoods })
}

fn lower_first(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_lowercase().chain(letters).collect())
}

fn per_class(space: &Space, likelihood: impl Fn(usize, usize) -> f64) -> Likelihoods {
    let all = (0..space.hypotheses.classes().len()).flat_map(|class| (0..DOUBTS).map(move |doubt| (class, doubt)));
    Likelihoods::PerClass(all.map(|(class, doubt)| likelihood(class, doubt)).collect())
}

fn per_set(space: &Space, likelihood: impl Fn(FaultSet) -> f64) -> Likelihoods {
    Likelihoods::PerSet(space.hypotheses.sets().iter().copied().map(likelihood).collect())
}

/// Spread between the twin and a reading of oxygen with this kit.
pub(super) fn oxygen_spread(kit_spread: f64) -> f64 {
    kit_spread.hypot(MODEL_RESIDUAL_MG_L.value)
}

/// A reading's density with a trace of "anything can be", over a scale of this width. Without it a handful of readings that
/// contradict each other, more than the faults of one set can excuse, would leave no hypothesis at all.
fn never_impossible(density: f64, scale: f64) -> f64 {
    const TRACE: f64 = 1e-6;
    (1.0 - TRACE) * density + TRACE / scale
}

fn oxygen(space: &Space, reading: &Reading, index: usize, units: &Units) -> Piece {
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
pub(super) fn expected_temperature(tank: &Tank, too_warm: bool) -> (f64, f64) {
    let usual = tank.temperature.as_celsius();
    if too_warm { (usual + TOO_WARM_BY_C, 2.0) } else { (usual, 0.8) }
}

fn temperature(space: &Space, tank: &Tank, reading: &Reading, index: usize, units: &Units) -> Piece {
    /// A misread thermometer may show anything from a cold to a hot room, °C.
    const SCALE_C: f64 = 20.0;
    let misread = space.misread_of(index);
    let warm = space.position(&TOO_WARM);
    let of = |set: FaultSet| {
        if set.has(misread) {
            return 1.0 / SCALE_C;
        }
        let (mean, spread) = expected_temperature(tank, warm.is_some_and(|warm| set.has(warm)));
        never_impossible(normal_density(reading.value, mean, spread.hypot(reading.spread)), SCALE_C)
    };
    let likelihoods = per_set(space, of);
    Piece { origin: Origin::Read, says: format!("Water at {}", reading.print(units)), likelihoods }
}

/// A threshold judged with its spread, never quite sure.
fn sureness(z: f64) -> f64 {
    normal_below(z).clamp(0.02, 0.98)
}

/// Latest reading of an analyte with its place in the list.
fn latest<'a>(observed: &'a Observed, analyte: &Analyte) -> Option<(usize, &'a Reading)> {
    observed.readings.iter().enumerate().filter(|(_, reading)| reading.analyte == analyte).max_by_key(|(_, reading)| reading.taken_at)
}

/// Nitrite and ammonia together, as one ladder: nothing to read, something to read, enough to harm. Either is enough, and
/// one that was not read cannot acquit. Where a medium or conditioner binds ammonia a zero says nothing at all.
fn nitrogen(space: &Space, tank: &Tank, observed: &Observed) -> Option<Piece> {
    let (nitrite, ammonia) = (latest(observed, Analyte::NITRITE), latest(observed, Analyte::AMMONIA));
    if nitrite.is_none() && ammonia.is_none() {
        return None;
    }
    let above = |value: f64, limit: f64, spread: f64| sureness((value - limit) / spread.max(0.01));
    // Of each reading: its place, how sure something is there, how sure it harms.
    let nitrite = nitrite.map(|(index, reading)| {
        let measurable = above(reading.value, NITRITE_LIMIT_MG_L / 2.0, reading.spread);
        (index, [measurable, above(reading.value, NITRITE_LIMIT_MG_L, reading.spread)])
    });
    let ammonia = ammonia.map(|(index, reading)| {
        let ph = latest(observed, Analyte::PH).map_or(USUAL_PH, |(_, reading)| reading.value);
        let warmth =
            latest(observed, Analyte::TEMPERATURE).map_or(tank.water_temperature(), |(_, reading)| Temperature::celsius(reading.value));
        let share = chemistry::un_ionised_share(warmth, ph);
        let (value, spread) = (reading.value * share, (reading.spread * share).hypot(reading.value * share * PH_LOG_SPREAD));
        (index, [above(reading.value, KIT_ZERO_MG_L, reading.spread / 2.0), sureness((value - NH3_LIMIT_MG_L) / spread)])
    });
    let sure = |set: FaultSet, step: usize| {
        let of = |read: Option<(usize, [f64; 2])>| match read {
            Some((index, _)) if set.has(space.misread_of(index)) => 0.5,
            Some((_, sureness)) => sureness[step],
            None => UNREAD_IS_HIGH,
        };
        1.0 - (1.0 - of(nitrite)) * (1.0 - of(ammonia))
    };
    let [measurable, harmful] = [0, 1].map(|step| sure(FaultSet::NONE, step));
    if measurable <= 0.5 && hides_ammonia(tank, observed) {
        let says = "No ammonia to read, but something here binds it: that says nothing".to_owned();
        return Some(Piece { origin: Origin::Computed, says, likelihoods: Likelihoods::PerFault(1.0, vec![1.0; space.candidates.len()]) });
    }
    let nodes = [&computed::NITROGEN_MEASURABLE, &computed::TOXIC_NITROGEN].map(|finding| node(&space.candidates, finding));
    let likelihoods = per_set(space, |set| {
        let (some, much) = (sure(set, 0), sure(set, 1).min(sure(set, 0)));
        let of_some = nodes[0].chance(set);
        let of_much = nodes[1].chance(set).min(of_some);
        (1.0 - some) * (1.0 - of_some) + (some - much) * (of_some - of_much) + much * of_much
    });
    let says = match (measurable > 0.5, harmful > 0.5) {
        (_, true) => computed::TOXIC_NITROGEN.says,
        (true, false) => "Ammonia or nitrite can be read, at a level that harms no gills yet",
        _ if nitrite.is_none() => "Ammonia is harmless; nitrite was not read",
        _ if ammonia.is_none() => "Nitrite is harmless; ammonia was not read",
        _ => computed::NITROGEN_MEASURABLE.says_not,
    };
    Some(Piece { origin: Origin::Computed, says: says.to_owned(), likelihoods })
}

/// Something takes or binds ammonia here: by the tank file, or by what was done in the last weeks.
fn hides_ammonia(tank: &Tank, observed: &Observed) -> bool {
    /// How long a medium is reckoned to last, days. From memory.
    const LASTS_DAYS: f64 = 60.0;
    let lately = |event: &Finding| {
        observed.answer(event).is_some_and(|answered| {
            answered.answer == Answer::Yes && observed.now.duration_since(answered.at).as_secs_f64() < LASTS_DAYS * 86_400.0
        })
    };
    tank.binds_ammonia() || lately(&upkeep::BINDING_CONDITIONER_USED) || lately(&upkeep::CHEMICAL_MEDIA_ADDED)
}

fn carbon_dioxide(space: &Space, observed: &Observed) -> Option<Piece> {
    let ((ph_index, ph), (kh_index, kh)) = (latest(observed, Analyte::PH)?, latest(observed, Analyte::KH)?);
    let co2 = chemistry::from_ph_and_kh(ph.value, kh.value).as_mg_l();
    let sureness = sureness((co2.max(0.01) / CO2_LIMIT_MG_L).ln() / PH_LOG_SPREAD);
    let node = node(&space.candidates, &computed::CO2_COMPUTED);
    let misread = [space.misread_of(ph_index), space.misread_of(kh_index)];
    let of = |set: FaultSet| {
        let sureness = if misread.iter().any(|fault| set.has(*fault)) { 0.5 } else { sureness };
        likelihood(node.chance(set), sureness)
    };
    let likelihoods = per_set(space, of);
    Some(Piece { origin: Origin::Computed, says: format!("pH and KH mean {co2:.0} mg/L of carbon dioxide"), likelihoods })
}
