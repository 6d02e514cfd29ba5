//! What a set of changes comes to: the same models as for one, run on the tank that all of them
//! make.

use std::cell::RefCell;
use std::collections::HashMap;
use std::rc::Rc;

use super::goal::Goal;
use super::{Price, Prices};
use crate::diagnosis::fault::Fault;
use crate::diagnosis::{Case, Differential};
use crate::outlook::forecast::Forecast;
use crate::remedy::change::{Acts, Change, Disturbs, Phase};
use crate::remedy::offer::{EASED, EFFORT_WORTH_EVERYTHING, meets_one};
use crate::tank::{Analyte, Tank};
use crate::twin::numbers::{capacity_ratio, nitrate_peak_mg_l};
use crate::units::masses::NITRATE_PER_NITROGEN;

/// What the models say of a tank.
#[derive(Clone, Debug)]
pub struct Outcome {
    /// The settled day of oxygen, over all tanks that are believed in.
    pub day: Forecast,
    /// How many times bacteria carry what is fed; none without feed.
    pub capacity: Option<f64>,
    /// Nitrate just before a water change, once settled, mg/L of the ion; over tap water as it was
    /// read, else without any.
    pub nitrate_mg_l: f64,
    /// Share of the clean flow that the weakest filter moves; none where none was measured.
    pub flow_left: Option<f64>,
}

/// What a set of changes comes to.
#[derive(Clone, Debug)]
pub struct Reckoned {
    /// The changes, in the order in which they are made.
    pub changes: Vec<&'static Change>,
    /// Money and minutes together.
    pub price: Price,
    /// Chance that every fault that is there is met, or at least eased; where nothing is wrong, none
    /// is left.
    pub meets_cause: f64,
    /// Of each goal how sure it is afterwards, in the order of [`Reckoner::goals`].
    pub chances: Vec<f64>,
    /// What is left undone, and what it costs: less is better.
    pub loss: f64,
    /// The same without money, minutes and trouble.
    pub undone: f64,
    /// What is left undone if just this suspect is the one, in the order of
    /// [`Reckoner::likely`]; goals and trouble with it.
    pub if_only: Vec<f64>,
}

/// So many sets of faults are reckoned with, likeliest first. A judgement: the rest is rarer than
/// one in a thousand each.
const SCENARIOS: usize = 160;

/// A suspect this likely is named where a plan does not meet it, and must not be regretted. A
/// judgement.
pub(super) const LIKELY: f64 = 0.08;

/// What every further change takes from being able to tell what helped. A judgement.
const EACH_MORE: f64 = 0.02;
/// What disturbing the colony is worth avoiding. Judgements.
const OPENING: f64 = 0.01;
const COLONY: f64 = 0.03;
/// Weighs sets of changes for one case.
pub struct Reckoner<'a> {
    case: &'a Case,
    differential: &'a Differential,
    prices: &'a Prices,
    /// Sets of faults with their probability.
    scenarios: Vec<(Vec<&'static Fault>, f64)>,
    /// The suspects that are likely enough to be regretted, if one of them alone is it.
    likely: Vec<&'static Fault>,
    goals: Vec<Goal>,
    /// By ids of the changes that act on the tank.
    known: RefCell<HashMap<Vec<&'static str>, Rc<Outcome>>>,
}

impl<'a> Reckoner<'a> {
    /// For a case that was weighed.
    pub fn new(case: &'a Case, differential: &'a Differential, prices: &'a Prices) -> Self {
        let now = Rc::new(outcome(case, differential, &[]));
        Self {
            scenarios: scenarios(differential),
            likely: differential
                .of_this_case()
                .filter(|suspect| suspect.probability >= LIKELY)
                .map(|suspect| suspect.fault)
                .collect(),
            goals: Goal::all(case, &now),
            known: RefCell::new(HashMap::from([(Vec::new(), now)])),
            case,
            differential,
            prices,
        }
    }

    /// What has to be reached, beside meeting the cause.
    pub fn goals(&self) -> &[Goal] {
        &self.goals
    }

    /// The sets of faults that are reckoned with.
    pub(super) fn scenarios(&self) -> &[(Vec<&'static Fault>, f64)] {
        &self.scenarios
    }

    /// The suspects that are likely enough to be regretted.
    pub(super) fn likely(&self) -> &[&'static Fault] {
        &self.likely
    }

    /// What a change costs here.
    pub(super) fn price(&self, change: &Change) -> Price {
        self.prices.of(change)
    }

    /// The case that is reckoned for.
    pub(super) fn case(&self) -> &Case {
        self.case
    }

    /// What was weighed of it.
    pub(super) fn differential(&self) -> &Differential {
        self.differential
    }

    /// What the models say after these changes.
    pub fn outcome(&self, changes: &[&'static Change]) -> Rc<Outcome> {
        let acting: Vec<&'static Change> = changes
            .iter()
            .copied()
            .filter(|change| acts_on_the_tank(change))
            .collect();
        let mut key: Vec<&'static str> = acting.iter().map(|change| change.id).collect();
        key.sort_unstable();
        if let Some(known) = self.known.borrow().get(&key) {
            return Rc::clone(known);
        }
        let outcome = Rc::new(outcome(self.case, self.differential, &acting));
        self.known.borrow_mut().insert(key, Rc::clone(&outcome));
        outcome
    }

    /// What these changes come to; `None` where one of them does not fit the tank that the others
    /// make.
    pub fn reckon(&self, changes: &[&'static Change]) -> Option<Reckoned> {
        let changes = self.in_order(changes);
        if !fit_together(&changes, &self.case.tank) {
            return None;
        }
        let outcome = self.outcome(&changes);
        let price: Price = changes.iter().map(|change| self.prices.of(change)).sum();
        let left = |faults: &[&'static Fault]| -> f64 {
            faults
                .iter()
                .map(|fault| 1.0 - meets(&changes, fault))
                .sum()
        };
        let cause: f64 = self
            .scenarios
            .iter()
            .map(|(faults, probability)| probability * left(faults))
            .sum();
        let meets_cause = self
            .scenarios
            .iter()
            .filter(|(faults, _)| faults.iter().all(|fault| meets(&changes, fault) >= EASED))
            .map(|(_, probability)| probability)
            .sum();
        let chances: Vec<f64> = self.goals.iter().map(|goal| goal.after(&outcome)).collect();
        let short: f64 = self
            .goals
            .iter()
            .zip(&chances)
            .map(|(goal, chance)| goal.weight * (1.0 - chance))
            .sum();
        let undone = cause + short;
        let trouble = trouble(&changes, price);
        let if_only = self
            .likely
            .iter()
            .map(|fault| left(&[*fault]) + short + trouble)
            .collect();
        Some(Reckoned {
            changes,
            price,
            meets_cause,
            chances,
            loss: undone + trouble,
            undone,
            if_only,
        })
    }

    /// Chance that every fault that is there is met with nothing changed: that none is.
    pub fn reckon_nothing(&self) -> f64 {
        let empty = self
            .scenarios
            .iter()
            .filter(|(faults, _)| faults.is_empty());
        empty.map(|(_, probability)| probability).sum()
    }

    /// The changes in the order in which they are made.
    pub(super) fn in_order(&self, changes: &[&'static Change]) -> Vec<&'static Change> {
        in_order(changes, |change| meets_one(change, self.differential))
    }
}

/// The likeliest sets of faults, brought to a sum of one; of each set only what accounts for
/// anything here. What the tank file alone makes likely is no reason to change this and that.
fn scenarios(differential: &Differential) -> Vec<(Vec<&'static Fault>, f64)> {
    let of_this_case: Vec<&Fault> = differential
        .of_this_case()
        .map(|suspect| suspect.fault)
        .collect();
    let mut scenarios = differential.scenarios(SCENARIOS);
    let total: f64 = scenarios.iter().map(|(_, probability)| probability).sum();
    for (faults, probability) in &mut scenarios {
        faults.retain(|fault| of_this_case.contains(fault));
        *probability /= total;
    }
    scenarios
}

/// Money, minutes, and what it takes from the colony and from being able to tell what helped.
pub(super) fn trouble(changes: &[&Change], price: Price) -> f64 {
    let disturbed: f64 = changes
        .iter()
        .map(|change| match change.disturbs {
            Disturbs::Nothing => 0.0,
            Disturbs::Filter => OPENING,
            Disturbs::Colony => COLONY,
        })
        .sum();
    #[expect(clippy::cast_precision_loss, reason = "a handful of changes")]
    let more = EACH_MORE * changes.len() as f64;
    (price.euros + price.minutes) / EFFORT_WORTH_EVERYTHING + disturbed + more
}

/// The order in which changes are made: what keeps animals alive, then what meets the likeliest
/// suspect, then by the phases of a recovery.
fn in_order(
    changes: &[&'static Change],
    likeliest: impl Fn(&Change) -> f64,
) -> Vec<&'static Change> {
    let leads = changes
        .iter()
        .filter(|change| !matches!(change.phase, Phase::Look | Phase::Alive | Phase::Feed))
        .max_by(|one, other| {
            // Of two as likely always the same one.
            likeliest(one)
                .total_cmp(&likeliest(other))
                .then_with(|| other.id.cmp(one.id))
        })
        .map(|change| change.id);
    let mut changes = changes.to_vec();
    changes.sort_by_key(|change| {
        let turn = match change.phase {
            Phase::Look | Phase::Alive => 0,
            _ if leads == Some(change.id) => 1,
            _ => 2,
        };
        (turn, change.phase)
    });
    changes
}

/// How much of a fault these changes take away: all, half or nothing.
pub(super) fn meets(changes: &[&'static Change], fault: &Fault) -> f64 {
    let is_in = |faults: &[&Fault]| faults.iter().any(|one| std::ptr::eq(*one, fault));
    changes
        .iter()
        .map(|change| {
            if is_in(change.cures) {
                1.0
            } else if is_in(change.eases) {
                EASED
            } else {
                0.0
            }
        })
        .fold(0.0, f64::max)
}

fn acts_on_the_tank(change: &Change) -> bool {
    change.in_the_model.is_some() || matches!(change.acts, Acts::Makes(_) | Acts::Cleans)
}

/// Each fits the tank that those before it make.
fn fit_together(changes: &[&'static Change], tank: &Tank) -> bool {
    if let [only] = changes {
        return only.suits(tank).is_ok();
    }
    let mut so_far = tank.clone();
    changes.iter().all(|change| {
        let fits = change.suits(&so_far).is_ok();
        if fits && acts_on_the_tank(change) {
            so_far = change.makes_of(&so_far);
        }
        fits
    })
}

/// The tank that these changes make together.
pub fn after(changes: &[&'static Change], tank: &Tank) -> Tank {
    changes
        .iter()
        .fold(tank.clone(), |tank, change| change.makes_of(&tank))
}

fn outcome(case: &Case, differential: &Differential, changes: &[&'static Change]) -> Outcome {
    let all_of = |tank: &Tank| after(changes, tank);
    let tank = all_of(&case.tank);
    let cleaned = changes
        .iter()
        .any(|change| matches!(change.acts, Acts::Cleans));
    let tap = case
        .observed
        .latest(Analyte::TAP_NITRATE)
        .map_or(0.0, |read| read.value * NITRATE_PER_NITROGEN);
    let weakest = case
        .tank
        .filters
        .iter()
        .filter_map(crate::tank::Filter::flow_left)
        .min_by(f64::total_cmp);
    Outcome {
        day: differential.believed.forecast(all_of),
        capacity: capacity_ratio(&tank),
        nitrate_mg_l: nitrate_peak_mg_l(&tank, tap),
        flow_left: weakest.map(|left| if cleaned { 1.0 } else { left }),
    }
}
