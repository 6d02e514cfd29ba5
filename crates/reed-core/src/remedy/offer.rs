//! Changes for this case, each with its computed effect, best first.

use super::change::{self, Change, Wanted};
use crate::diagnosis::fault::Fault;
use crate::diagnosis::lookahead::Act;
use crate::diagnosis::{Advice, CheckOutlook, Differential, Distress, Observed};
use crate::outlook::forecast::Forecast;
use crate::tank::{Analyte, Tank};

/// A change with what it would do to the tank that is believed in.
#[derive(Clone, Debug)]
pub struct Offer {
    /// The change.
    pub change: &'static Change,
    /// The settled day after it; `None` where the twin cannot compute the change.
    pub after: Option<Forecast>,
    /// How much it raises the lowest point of the day, mg/L; zero where it cannot be computed.
    pub gain_mg_l: f64,
    /// Chance that a fault it cures is there; one it only eases counts half.
    pub fits_cause: f64,
    /// Chance that the lowest point stays above the level to act on, now and afterwards.
    pub safe_now: f64,
    /// The same after the change; as now where it cannot be computed.
    pub safe_after: f64,
    /// Why it must not be relied on now, if so.
    pub not_now: Option<&'static str>,
    /// False for a change that is meant for oxygen and does nothing for it here: it treats no
    /// cause, whatever its card says.
    pub(super) treats: bool,
    /// What offers are sorted by.
    pub(super) score: f64,
}

/// A fault that is only eased counts so much of one that is cured. A judgement.
pub(super) const EASED: f64 = 0.5;

/// A change worth less than this share of the foremost one is not laid beside it. A judgement.
const WORTH_COMPARING: f64 = 0.2;

impl Offer {
    /// Whether it is worth laying beside the foremost one.
    pub fn is_worth_comparing_with(&self, foremost: &Self) -> bool {
        // Where even the foremost must not be relied on now, its score is below zero; it is shown
        // all the same.
        self.score >= foremost.score.min(WORTH_COMPARING * foremost.score)
    }
}

/// Minutes or euros that weigh as much as turning a certain danger into certain safety, or meeting a
/// cause that is certain. A judgement.
pub const EFFORT_WORTH_EVERYTHING: f64 = 300.0;

/// The expected day as it is now, and every change that fits, best first.
///
/// What counts: the chance of the likeliest fault that the change meets, the chance that it lifts
/// the lowest oxygen above the level to act on, less effort and money. To leave all as it is comes
/// first only where that is likelier to be right than the first suspect, and nothing alarms.
pub fn offers(differential: &Differential, observed: &Observed) -> (Forecast, Vec<Offer>) {
    let believed = &differential.believed;
    let now = believed.forecast(Tank::clone);
    let safe_now = now.chance_lowest_above(now.act_below());
    // Where neither fish nor a kit speak of oxygen, more of it is worth something only as far as it
    // meets a cause.
    let oxygen_speaks = Distress::worst_of(&observed.answers).is_some()
        || observed.latest(Analyte::OXYGEN).is_some();
    let mut offers: Vec<Offer> = change::all()
        .filter(|change| change.suits(believed.likeliest()).is_ok())
        .map(|change| {
            let after = change.in_the_model.map(|alter| believed.forecast(alter));
            let gain_mg_l = after
                .as_ref()
                .map_or(0.0, |after| after.lowest - now.lowest);
            let safe_after = after.as_ref().map_or(safe_now, |after| {
                after.chance_lowest_above(after.act_below())
            });
            let fits_cause = fits_cause(change, differential);
            let not_now = change.blocked_by(observed);
            let at_stake = if oxygen_speaks { 1.0 } else { fits_cause };
            let mut score = meets_one(change, differential) + at_stake * (safe_after - safe_now)
                - (change.minutes + change.euros) / EFFORT_WORTH_EVERYTHING;
            if not_now.is_some() {
                score -= 1.0;
            }
            if leaves_it(change, differential)
                && (!differential.alarms.is_empty()
                    || fits_cause < differential.first().probability)
            {
                score -= 1.0;
            }
            let treats = !(gain_mg_l <= 0.05
                && after.is_some()
                && change.proof.wanted == Wanted::OxygenAsForecast);
            if !treats {
                score -= meets_one(change, differential);
            }
            Offer {
                change,
                after,
                gain_mg_l,
                fits_cause,
                safe_now,
                safe_after,
                not_now,
                treats,
                score,
            }
        })
        .collect();
    offers.sort_by(|a, b| b.score.total_cmp(&a.score));
    first_things_first(&mut offers, differential.first().fault);
    (now, offers)
}

/// What is for the first suspect stands among the first two, whatever cheaper or broader change is
/// worth more on average.
fn first_things_first(offers: &mut [Offer], first: &'static Fault) {
    let is_for = |offer: &Offer, faults: &[&Fault]| {
        faults.contains(&first) && offer.treats && offer.not_now.is_none()
    };
    let cure = offers
        .iter()
        .position(|offer| is_for(offer, offer.change.cures));
    let place = cure.or_else(|| {
        offers
            .iter()
            .position(|offer| is_for(offer, offer.change.eases))
    });
    if let Some(place) = place.filter(|place| *place > 1) {
        offers[1..=place].rotate_right(1);
    }
}

/// Whether one of these changes is due now, or a look first.
pub fn advice(differential: &Differential, outlook: &CheckOutlook, offers: &[Offer]) -> Advice {
    let sound = differential.alarms.is_empty();
    let leave = Act {
        cures: &[],
        eases: &[],
        when_healthy: sound,
        minutes: 0.0,
    };
    let changes = offers
        .iter()
        .filter(|offer| offer.treats && offer.not_now.is_none())
        .map(|Offer { change, .. }| Act {
            cures: change.cures,
            eases: change.eases,
            when_healthy: change.when_healthy && sound,
            minutes: change.minutes + change.euros,
        });
    outlook.advice(differential, &changes.chain([leave]).collect::<Vec<_>>())
}

/// It leaves things as they are, and the first suspect with them.
fn leaves_it(change: &Change, differential: &Differential) -> bool {
    let first = differential.first().fault;
    let asks_nothing = change.when_healthy || change.minutes + change.euros <= 0.0;
    asks_nothing && !change.is_for(first)
}

/// Chance of the likeliest fault that the change is for; one that it only eases counts half. Many
/// small chances do not add up to a cause.
pub(super) fn meets_one(change: &Change, differential: &Differential) -> f64 {
    let most = |faults: &[&Fault], share: f64| {
        faults
            .iter()
            .map(|fault| share * differential.probability(fault))
            .fold(0.0, f64::max)
    };
    let healthy = if change.when_healthy && differential.alarms.is_empty() {
        differential.healthy
    } else {
        0.0
    };
    most(change.cures, 1.0)
        .max(most(change.eases, EASED))
        .max(healthy)
}

/// Chance that at least one fault that the change is for is there; a fault that is only eased
/// counts half.
fn fits_cause(change: &Change, differential: &Differential) -> f64 {
    let without = |faults: &[&Fault], share: f64| {
        faults
            .iter()
            .map(|fault| 1.0 - share * differential.probability(fault))
            .product::<f64>()
    };
    let none = without(change.cures, 1.0) * without(change.eases, EASED);
    let healthy = if change.when_healthy && differential.alarms.is_empty() {
        differential.healthy
    } else {
        0.0
    };
    (1.0 - none + healthy).min(1.0)
}
