//! What has to be shown before a fault counts as gone: what the card of the change says, and the
//! signs and readings by which the fault itself was known.

use super::super::change::{Change, Wanted};
use crate::diagnosis::fault::{Fault, Strength};
use crate::diagnosis::finding::{Finding, Kind, Place, biology, current, filter, fish, places};
use crate::diagnosis::{Answer, Case, Differential, Distress, Observed};
use crate::tank::{Analyte, Reading};
use crate::units::masses::NITRATE_PER_NITROGEN;
use crate::water::nitrogen::KIT_ZERO_MG_L;

/// One thing that has to be shown.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Part {
    /// What.
    pub wanted: Wanted,
    /// When, in words.
    pub when: &'static str,
    /// Not before so many hours after the change.
    pub after_hours: f64,
}

/// At most so many things are asked to be shown. A judgement: who has to look at six things looks
/// at none.
const MOST: usize = 4;

/// All that has to be shown in this case: `before` is the case as it stood when the changes were
/// chosen, `faults` what they were chosen against, likeliest first.
///
/// What the card of each change says comes first; of the faults follow the signs that were seen and
/// that they show often, and the readings that convicted them.
pub fn parts(changes: &[&Change], faults: &[&Fault], before: &Case) -> Vec<Part> {
    let of_cards = changes.iter().map(|change| of_card(change, faults, before));
    let of_faults = faults
        .iter()
        .flat_map(|fault| of_fault(fault, changes, before));
    let mut parts: Vec<Part> = Vec::new();
    for part in of_cards.chain(of_faults) {
        if !parts.iter().any(|known| is_same(known.wanted, part.wanted)) {
            parts.push(part);
        }
    }
    // A look that could only prove nothing is not asked for beside one that can.
    if parts.len() > 1 {
        let tells = |part: &Part| match part.wanted {
            Wanted::Gone(sign) => seen(&before.observed, sign),
            _ => true,
        };
        if parts.iter().any(tells) {
            parts.retain(tells);
        }
    }
    parts.truncate(MOST);
    parts
}

/// The same reading or look answers both.
fn is_same(one: Wanted, other: Wanted) -> bool {
    match (one, other) {
        (Wanted::Gone(one), Wanted::Gone(other)) => one == other,
        _ => one.analyte().is_some() && one.analyte() == other.analyte(),
    }
}

fn of_card(change: &Change, faults: &[&Fault], before: &Case) -> Part {
    let wanted = wanted(change, before);
    let proof = &change.proof;
    let own = Part {
        wanted,
        when: proof.when,
        after_hours: proof.after_hours,
    };
    let shows_weak_flow = |fault: &&Fault| {
        fault
            .signs
            .iter()
            .any(|(sign, _)| *sign == &filter::FLOW_WEAK)
    };
    match wanted {
        Wanted::Gone(sign) if sign == &filter::FLOW_WEAK && flow_is_measured(before) => flow_back(),
        // Nothing was seen that could be gone: what a bucket says needs no eye.
        Wanted::Gone(sign)
            if !seen(&before.observed, sign)
                && faults.iter().any(shows_weak_flow)
                && flow_is_measured(before) =>
        {
            flow_back()
        }
        Wanted::Gone(sign) if proof.wanted != wanted => looked_for(sign),
        _ => own,
    }
}

/// The signs of a fault that were seen, and the readings that convicted it.
fn of_fault(fault: &Fault, changes: &[&Change], before: &Case) -> Vec<Part> {
    let observed = &before.observed;
    let mut parts = Vec::new();
    let harms_breath =
        fault.in_the_model.is_some() || fault.distress.iter().any(|chance| *chance > 0.0);
    if harms_breath && let Some(rung) = worst_rung(observed) {
        parts.push(looked_for(rung));
    }
    let mut signs: Vec<_> = fault
        .signs
        .iter()
        .filter(|(_, strength)| *strength != Strength::Seldom)
        .collect();
    signs.sort_by(|one, other| other.1.chance().total_cmp(&one.1.chance()));
    for (sign, _) in signs {
        match sign.kind {
            Kind::Sign if *sign == &filter::FLOW_WEAK && flow_is_measured(before) => {
                parts.push(flow_back());
            }
            Kind::Sign if is_looked_at_again(sign) && seen(observed, sign) => {
                parts.push(looked_for(sign));
            }
            Kind::Read(limit) if limit.above && limit.less.is_none() => {
                let beyond = observed
                    .latest(limit.analyte)
                    .is_some_and(|reading| reading.value > limit.value + reading.spread);
                if beyond {
                    parts.push(Part {
                        wanted: Wanted::AtMost(limit.analyte, limit.value),
                        ..of_readings(changes)
                    });
                }
            }
            Kind::Estimated(_) if is_of_nitrogen(sign) => {
                parts.extend(worst_nitrogen(observed).map(|analyte| Part {
                    wanted: Wanted::AtMost(analyte, KIT_ZERO_MG_L),
                    ..of_readings(changes)
                }));
            }
            _ => {}
        }
    }
    parts
}

/// A reading that convicted is taken again when the slowest of the changes has had its time.
fn of_readings(changes: &[&Change]) -> Part {
    let slowest = changes
        .iter()
        .map(|change| &change.proof)
        .max_by(|one, other| one.after_hours.total_cmp(&other.after_hours));
    Part {
        wanted: Wanted::OxygenAsForecast,
        when: slowest.map_or("Tomorrow.", |proof| proof.when),
        after_hours: slowest.map_or(12.0, |proof| proof.after_hours),
    }
}

fn is_of_nitrogen(sign: &Finding) -> bool {
    use crate::diagnosis::finding::computed::{NITROGEN_MEASURABLE, TOXIC_NITROGEN};
    *sign == NITROGEN_MEASURABLE || *sign == TOXIC_NITROGEN
}

/// A look that needs no filter to be opened, at what is there and not at what happened.
fn is_looked_at_again(sign: &Finding) -> bool {
    sign.place != Place::Event
        && !sign.asks.is_empty()
        && sign
            .look
            .is_none_or(|look| !look.opens_filter && !look.recalled)
}

fn worst_rung(observed: &Observed) -> Option<&'static Finding> {
    let rung = |finding: &'static Finding| match finding.kind {
        Kind::Rung(rung) => Some((rung, finding)),
        _ => None,
    };
    let seen = observed
        .answers
        .iter()
        .filter(|answered| answered.answer == Answer::Yes)
        .filter_map(|answered| rung(answered.finding));
    seen.max_by_key(|(rung, _)| *rung)
        .map(|(_, finding)| finding)
}

/// A flow was measured before the change, so that it can be compared.
fn flow_is_measured(before: &Case) -> bool {
    read_before(before, Analyte::FLOW).is_some()
}

/// What was read last before a change; of the flow also what a bucket test of the only filter gave.
pub fn read_before(before: &Case, analyte: &'static Analyte) -> Option<Reading> {
    let read = before.observed.latest(analyte).cloned();
    let by_bucket = || match &before.tank.filters[..] {
        [only] if analyte == Analyte::FLOW => {
            let day = only
                .measured_on
                .map_or(before.observed.now, |day| day.at(12, 0, 0, 0));
            let flow = only.measured?.as_litres_per_hour();
            Some(Reading::usual(analyte, flow, day.min(before.observed.now)))
        }
        _ => None,
    };
    read.or_else(by_bucket)
}

/// So many faults a choice is made against at most; beside the likeliest those this likely.
/// Judgements.
const AGAINST: usize = 4;
const AGAINST_FROM: f64 = 0.15;

/// The suspects that changes are chosen against: those of this case that they are for, likeliest
/// first.
pub fn against(changes: &[&Change], differential: &Differential) -> Vec<&'static Fault> {
    let mut met: Vec<(&'static Fault, f64)> = differential
        .of_this_case()
        .filter(|suspect| changes.iter().any(|change| change.is_for(suspect.fault)))
        .map(|suspect| (suspect.fault, suspect.probability))
        .collect();
    met.sort_by(|one, other| other.1.total_cmp(&one.1));
    met.into_iter()
        .enumerate()
        .filter(|(place, (_, probability))| *place == 0 || *probability >= AGAINST_FROM)
        .map(|(_, (fault, _))| fault)
        .take(AGAINST)
        .collect()
}

fn flow_back() -> Part {
    Part {
        wanted: Wanted::FlowBack,
        when: "In an hour, once the air of the restart is out: bucket and watch, as before.",
        after_hours: 1.0,
    }
}

/// How long a sign may still be there although its cause is gone.
fn looked_for(sign: &'static Finding) -> Part {
    let (after_hours, when) = lingers(sign);
    Part {
        wanted: Wanted::Gone(sign),
        when,
        after_hours,
    }
}

/// The rung of distress that only a morning shows.
const OVERNIGHT: usize = 3;

/// Hours after which a sign has to be gone, and the same in words. Common practice, no source.
fn lingers(sign: &Finding) -> (f64, &'static str) {
    const AT_ONCE: (f64, &str) = (1.0, "In an hour.");
    const TOMORROW: (f64, &str) = (12.0, "Tomorrow.");
    const THREE_DAYS: (f64, &str) = (72.0, "After three days.");
    const A_WEEK: (f64, &str) = (168.0, "After a week.");
    const TWO_WEEKS: (f64, &str) = (336.0, "After two weeks.");
    const THREE_WEEKS: (f64, &str) = (504.0, "After three weeks.");
    let is = |signs: &[&Finding]| signs.contains(&sign);
    if is(&[&biology::THIN_FISH, &biology::NUISANCE_ALGAE]) {
        return THREE_WEEKS;
    }
    if is(&[
        &fish::DEATHS_STEADY,
        &biology::DEATHS_INVERTEBRATES,
        &biology::NEWCOMERS_DIE,
        &biology::FAILED_MOULTS,
        &biology::TINT_BROWN,
        &current::FOAM_STAYS,
    ]) {
        return A_WEEK;
    }
    if is(&[
        &fish::PALE_LISTLESS,
        &biology::CLOUDY_WHITE,
        &places::SURFACE_FILM,
    ]) {
        return THREE_DAYS;
    }
    if is(&[
        &filter::OUTLET_BUBBLES_CONSTANT,
        &filter::OUTLET_BUBBLES_BURSTS,
        &filter::STOPS_AND_RESTARTS,
        &current::LEFTOVER_FOOD,
        &current::FOOD_PASSES_INTAKE,
        &current::FOOD_RESTS_BETWEEN,
    ]) {
        return TOMORROW;
    }
    match (sign.kind, sign.place) {
        // Losses by night show in the morning; the rest eases within the hour.
        (Kind::Rung(rung), _) if rung >= OVERNIGHT => TOMORROW,
        (Kind::Rung(_), _) => (
            1.0,
            "In an hour, and again next morning: quiet mouths, fish over the whole height.",
        ),
        (_, Place::Bed) => TWO_WEEKS,
        (_, Place::Fish | Place::Water) => TOMORROW,
        (_, Place::Surface | Place::Outlet | Place::Filter | Place::Event | Place::Known) => {
            AT_ONCE
        }
    }
}

/// What the card of a change wants in this case.
///
/// As a rule what it says. Of ammonia and nitrite it is the one that was read further beyond
/// its limit before, since that convicted the fault and the other may have been good all along. A
/// change whose card speaks of oxygen, chosen where neither a reading of oxygen nor short breath
/// pointed to it, is proved by the sign of the fault that was seen, if there is one; so is one
/// whose card names a sign that was not seen.
fn wanted(change: &Change, case: &Case) -> Wanted {
    let before = &case.observed;
    match change.proof.wanted {
        Wanted::AtMost(analyte, limit) if NITROGEN.contains(&analyte) => {
            Wanted::AtMost(worst_beyond(before, limit).unwrap_or(analyte), limit)
        }
        Wanted::AtMost(analyte, limit) if analyte == Analyte::NITRATE => {
            let of_tank = case.tank.limits().nitrate_ion_mg_l.value / NITRATE_PER_NITROGEN;
            Wanted::AtMost(analyte, limit.min(of_tank))
        }
        Wanted::OxygenAsForecast => {
            let about_oxygen = before.latest(Analyte::OXYGEN).is_some()
                || Distress::worst_of(&before.answers).is_some();
            match (
                about_oxygen,
                worst_nitrogen(before),
                sign_of(change, before),
            ) {
                (true, ..) | (false, None, None) => Wanted::OxygenAsForecast,
                (false, Some(analyte), _) => Wanted::AtMost(analyte, KIT_ZERO_MG_L),
                (false, None, Some(sign)) => Wanted::Gone(sign),
            }
        }
        Wanted::Gone(sign) if !seen(before, sign) => {
            sign_of(change, before).map_or(Wanted::Gone(sign), Wanted::Gone)
        }
        wanted => wanted,
    }
}

const NITROGEN: [&Analyte; 2] = [Analyte::AMMONIA, Analyte::NITRITE];

/// Of ammonia and nitrite, that which was read further beyond this limit.
fn worst_beyond(before: &Observed, limit: f64) -> Option<&'static Analyte> {
    let beyond = |analyte: &'static Analyte| {
        let reading = before.latest(analyte)?;
        Some((analyte, reading.value - limit - reading.spread)).filter(|(_, by)| *by > 0.0)
    };
    NITROGEN
        .into_iter()
        .filter_map(beyond)
        .max_by(|one, other| one.1.total_cmp(&other.1))
        .map(|(analyte, _)| analyte)
}

fn worst_nitrogen(before: &Observed) -> Option<&'static Analyte> {
    worst_beyond(before, KIT_ZERO_MG_L)
}

pub(super) fn seen(before: &Observed, finding: &Finding) -> bool {
    before
        .answer(finding)
        .is_some_and(|answered| answered.answer == Answer::Yes)
}

/// The first sign that was seen of what this change cures, or else eases.
fn sign_of(change: &Change, before: &Observed) -> Option<&'static Finding> {
    let of_faults = |faults: &'static [&'static Fault]| {
        let signs = faults
            .iter()
            .flat_map(|fault| fault.signs)
            .map(|(finding, _)| *finding);
        signs.into_iter().find(|finding| {
            matches!(finding.kind, Kind::Sign) && !finding.asks.is_empty() && seen(before, finding)
        })
    };
    of_faults(change.cures).or_else(|| of_faults(change.eases))
}
