//! The search for plans: through every set of up to four changes, leaving out what cannot become
//! good enough, and of the good ones a few that truly differ.

use super::goal::Aim;
use super::reckoner::{LIKELY, Reckoned, Reckoner, meets, trouble};
use super::{MOST_CHANGES, Price, Stage, stages};
use crate::diagnosis::Distress;
use crate::diagnosis::fault::Fault;
use crate::remedy::change::{self, Change, Phase};
use crate::remedy::{Offer, first_aid};

/// In what a plan is the best.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Way {
    /// Least left undone for its effort, over everything that may be wrong.
    Foremost,
    /// Of what can be done at once with what is at hand.
    Tonight,
    /// Least money of those that reach about as much.
    Cheapest,
    /// Fewest minutes of those.
    LeastWork,
    /// Least to be regretted if another suspect is the one.
    MostRobust,
}

impl Way {
    /// In the keeper's words.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Foremost => "Best on the whole",
            Self::Tonight => "Tonight",
            Self::Cheapest => "Cheapest",
            Self::LeastWork => "Least work",
            Self::MostRobust => "Right for the second suspect too",
        }
    }
}

/// A plan.
#[derive(Clone, Debug)]
pub struct Plan {
    /// What it comes to.
    pub reckoned: Reckoned,
    /// In what it is the best.
    pub ways: Vec<Way>,
    /// What is done when.
    pub stages: Vec<Stage>,
    /// What it leaves unsolved, as sentences.
    pub unsolved: Vec<String>,
}

/// A change that seems to serve and stands in no plan, and why.
#[derive(Clone, Debug)]
pub struct Lost {
    /// The change.
    pub change: &'static Change,
    /// Why, as a sentence.
    pub why: String,
}

/// How far a search is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Progress {
    /// Sets that were reckoned.
    pub reckoned: usize,
    /// Sets that were left out, since they could not become good enough.
    pub left_out: usize,
}

/// What was found.
#[derive(Clone, Debug)]
pub struct Found {
    /// Two to four plans where there are so many that differ; the foremost first.
    pub plans: Vec<Plan>,
    /// What else seemed to serve.
    pub lost: Vec<Lost>,
    /// How much was looked at.
    pub progress: Progress,
    /// It was broken off: the plans are the best so far.
    pub broken_off: bool,
}

/// At most so many changes are combined. A judgement: four of fourteen are 1470 sets.
const MOST_CANDIDATES: usize = 14;
/// A change that meets no fault likelier than this is combined only if it serves another goal. A
/// judgement.
const WORTH_COMBINING: f64 = 0.03;
/// Plans whose loss is so much above the best one's are not laid beside it. A judgement.
const SLACK: f64 = 0.3;
/// A plan that leaves no more undone than this above the foremost reaches about as much. A
/// judgement.
const ABOUT_AS_MUCH: f64 = 0.1;
/// Plans are the same where they share more than this of their changes. A judgement.
const SAME: f64 = 0.5;
/// At most so many plans are laid side by side.
const MOST_PLANS: usize = 4;
/// Tonight somebody has so long, minutes. A judgement.
const AN_EVENING_MIN: f64 = 60.0;
/// What is at hand costs no more than this, euros: a dose, a spare.
const AT_HAND_EUROS: f64 = 2.0;
/// What works tonight shows it within so many hours.
const BY_TOMORROW_H: f64 = 24.0;
/// One that raises oxygen by so much seems to serve, mg/L: the spread of a good kit. A judgement.
const GAINS_MG_L: f64 = 0.3;
/// So many of the best single changes are explained where they stand in no plan.
const EXPLAINED: usize = 6;

/// Changes that leave things as they are: beside another they mean nothing.
const ALONE: [&str; 3] = ["none-needed", "accept", "observe"];

/// Changes that undo each other.
const OPPOSED: &[(&str, &str)] = &[
    ("feed-less", "feed-up"),
    ("shorten-interval", "lengthen-interval"),
    ("add-plants", "thin-plants"),
    ("remove-chemical-media", "ammonia-media-last"),
    ("remove-chemical-media", "carbon-short-term"),
    ("stop-additives", "add-bacteria-product"),
    ("stop-additives", "add-sludge-eaters"),
    ("add-bacteria-product", "add-sludge-eaters"),
    // One opening does both: the pad goes when the rest is rinsed.
    ("clean-mechanical", "replace-floss"),
    ("change-sock", "open-sock"),
    ("bigger-changes", "small-changes-often"),
    ("stir-bed-in-parts", "thin-bed"),
    ("move-air-source", "move-intake"),
    ("fix-air-stones", "clean-air-stone"),
    ("fix-air-stones", "restore-air"),
    ("clean-air-stone", "restore-air"),
    ("add-surface-powerhead", "add-wave-maker"),
];

fn oppose(one: &Change, other: &Change) -> bool {
    OPPOSED
        .iter()
        .any(|pair| *pair == (one.id, other.id) || *pair == (other.id, one.id))
}

/// These may stand in one plan.
pub fn go_together(changes: &[&'static Change]) -> bool {
    let alone = changes.iter().any(|change| ALONE.contains(&change.id));
    let pairs = || {
        changes
            .iter()
            .enumerate()
            .flat_map(|(place, one)| changes[place + 1..].iter().map(move |other| (one, other)))
    };
    (changes.len() == 1 || !alone) && !pairs().any(|(one, other)| oppose(one, other))
}

/// The changes worth combining: those that meet a suspect, and those that serve a goal that is not
/// reached; best first.
pub fn candidates(reckoner: &Reckoner<'_>, offers: &[Offer]) -> Vec<&'static Change> {
    let open: Vec<_> = reckoner
        .goals()
        .iter()
        .enumerate()
        .filter(|(_, goal)| goal.now < goal.wanted)
        .collect();
    let serves_a_goal = |change: &'static Change| {
        reckoner.reckon(&[change]).is_some_and(|reckoned| {
            open.iter()
                .any(|(place, goal)| reckoned.chances[*place] > goal.now + WORTH_COMBINING)
        })
    };
    let first = reckoner.differential().first();
    let alarmed = !reckoner.differential().alarms.is_empty();
    let leaves_it = |change: &Change| {
        ALONE.contains(&change.id) && (alarmed || meets_of(reckoner, change) < first.probability)
    };
    let mut worth: Vec<(&'static Change, f64)> = offers
        .iter()
        .filter(|offer| offer.treats && offer.not_now.is_none() && !leaves_it(offer.change))
        .filter(|offer| {
            meets_of(reckoner, offer.change) >= WORTH_COMBINING || serves_a_goal(offer.change)
        })
        .map(|offer| (offer.change, offer.score))
        .collect();
    worth.sort_by(|one, other| other.1.total_cmp(&one.1));
    // Feeding up may fit only the tank that another change makes: it is no offer by itself.
    let fed = change::all().filter(|change| {
        change.phase == Phase::Feed
            && meets_of(reckoner, change) >= WORTH_COMBINING
            && change.blocked_by(&reckoner.case().observed).is_none()
            && !worth.iter().any(|(known, _)| known.id == change.id)
    });
    let best = worth.iter().map(|(change, _)| *change);
    best.take(MOST_CANDIDATES).chain(fed).collect()
}

/// Chance of the likeliest fault that a change is for.
fn meets_of(reckoner: &Reckoner<'_>, change: &Change) -> f64 {
    let faults = change.cures.iter().chain(change.eases);
    faults
        .map(|fault| reckoner.differential().probability(fault))
        .fold(0.0, f64::max)
}

/// A search under way.
struct Walk<'r, 'c, G> {
    reckoner: &'r Reckoner<'c>,
    candidates: &'r [&'static Change],
    /// Asked after each set.
    go_on: G,
    kept: Vec<Reckoned>,
    best: f64,
    progress: Progress,
    broken_off: bool,
}

impl<G: FnMut(Progress) -> bool> Walk<'_, '_, G> {
    /// Every set that grows from this one by candidates from `from` on, of exactly `size` changes.
    fn grow(&mut self, chosen: &mut Vec<&'static Change>, from: usize, size: usize) {
        if self.broken_off {
            return;
        }
        if chosen.len() == size {
            self.progress.reckoned += 1;
            if let Some(reckoned) = self.reckoner.reckon(chosen) {
                self.best = self.best.min(reckoned.loss);
                self.kept.push(reckoned);
            }
            self.broken_off = !(self.go_on)(self.progress);
            return;
        }
        for next in from..self.candidates.len() {
            chosen.push(self.candidates[next]);
            if go_together(chosen) {
                if self.least(chosen, next + 1) > self.best + SLACK {
                    self.progress.left_out += 1;
                } else {
                    self.grow(chosen, next + 1, size);
                }
            }
            chosen.pop();
        }
    }

    /// No set that grows from this one can have less loss: its trouble only grows, and no more is
    /// met than all the rest together would meet.
    fn least(&self, chosen: &[&'static Change], from: usize) -> f64 {
        let mut all = chosen.to_vec();
        all.extend(&self.candidates[from..]);
        let price: Price = chosen
            .iter()
            .map(|change| self.reckoner.price(change))
            .sum();
        let undone: f64 = self
            .reckoner
            .scenarios()
            .iter()
            .map(|(faults, probability)| {
                let left: f64 = faults.iter().map(|fault| 1.0 - meets(&all, fault)).sum();
                probability * left
            })
            .sum();
        undone + trouble(chosen, price)
    }
}

/// Goes through every set of up to four of these changes. `go_on` is asked after each; where it
/// says no, the best so far are given.
pub fn search(
    reckoner: &Reckoner<'_>,
    offers: &[Offer],
    candidates: &[&'static Change],
    go_on: impl FnMut(Progress) -> bool,
) -> Found {
    let mut walk = Walk {
        reckoner,
        candidates,
        go_on,
        kept: Vec::new(),
        best: f64::INFINITY,
        progress: Progress {
            reckoned: 0,
            left_out: 0,
        },
        broken_off: false,
    };
    // Small sets first: whoever breaks off has those.
    for size in 1..=MOST_CHANGES {
        walk.grow(&mut Vec::new(), 0, size);
    }
    let (best, progress, broken_off) = (walk.best, walk.progress, walk.broken_off);
    let mut kept = walk.kept;
    let urgent = is_urgent(reckoner);
    kept.retain(|reckoned| {
        reckoned.loss <= best + SLACK || urgent && works_tonight(reckoner, reckoned)
    });
    kept.sort_by(|one, other| one.loss.total_cmp(&other.loss));
    let plans = that_differ(reckoner, &kept);
    let lost = lost(reckoner, offers, &plans);
    Found {
        plans,
        lost,
        progress,
        broken_off,
    }
}

/// It keeps animals alive with what is at hand, in an evening, and shows it by tomorrow.
fn works_tonight(reckoner: &Reckoner<'_>, reckoned: &Reckoned) -> bool {
    reckoned.price.minutes <= AN_EVENING_MIN
        && reckoned.changes.iter().all(|change| {
            change.phase <= Phase::Alive
                && change.proof.after_hours <= BY_TOMORROW_H
                && reckoner.price(change).euros <= AT_HAND_EUROS
        })
}

/// The best in each way, those that are the same told as one.
fn that_differ(reckoner: &Reckoner<'_>, kept: &[Reckoned]) -> Vec<Plan> {
    let Some(foremost) = kept.first() else {
        return Vec::new();
    };
    let as_good = || {
        kept.iter()
            .filter(|reckoned| reckoned.undone <= foremost.undone + ABOUT_AS_MUCH)
    };
    let least = |value: &dyn Fn(&Reckoned) -> f64| {
        as_good().min_by(|one, other| {
            value(one)
                .total_cmp(&value(other))
                .then(one.loss.total_cmp(&other.loss))
        })
    };
    let bests = [
        (Way::Foremost, Some(foremost)),
        (
            Way::Tonight,
            kept.iter()
                .find(|reckoned| works_tonight(reckoner, reckoned)),
        ),
        (Way::Cheapest, least(&|reckoned| reckoned.price.euros)),
        (Way::LeastWork, least(&|reckoned| reckoned.price.minutes)),
        (Way::MostRobust, most_robust(reckoner, kept)),
    ];
    let mut plans: Vec<Plan> = Vec::new();
    for (way, best) in bests {
        let Some(best) = best else { continue };
        let known = plans
            .iter()
            .position(|plan| shared(&plan.reckoned.changes, &best.changes) > SAME);
        match known {
            Some(place) if plans[place].reckoned.changes == best.changes => {
                plans[place].ways.push(way);
            }
            None if plans.len() < MOST_PLANS => plans.push(plan(reckoner, best, way)),
            Some(_) | None => {}
        }
    }
    // A keeper who has only one way has no choice: the best that shares nothing with it.
    if let [only] = &plans[..] {
        let other = kept
            .iter()
            .filter(|reckoned| reckoned.undone <= foremost.undone + SLACK)
            .find(|reckoned| shared(&only.reckoned.changes, &reckoned.changes) <= 0.0);
        if let Some(other) = other {
            plans.push(Plan {
                ways: Vec::new(),
                ..plan(reckoner, other, Way::Foremost)
            });
        }
    }
    plans
}

fn plan(reckoner: &Reckoner<'_>, reckoned: &Reckoned, way: Way) -> Plan {
    Plan {
        stages: stages(reckoner, &reckoned.changes, None),
        unsolved: unsolved(reckoner, reckoned),
        reckoned: reckoned.clone(),
        ways: vec![way],
    }
}

/// Share of all their changes that two plans have in common.
fn shared(one: &[&Change], other: &[&Change]) -> f64 {
    let common = one.iter().filter(|change| other.contains(change)).count();
    let all = one.len() + other.len() - common;
    #[expect(clippy::cast_precision_loss, reason = "a handful of changes")]
    let share = common as f64 / all.max(1) as f64;
    share
}

/// The plan whose largest regret is the least: over every likely suspect, how much worse it is than
/// the best plan if just that one is it.
fn most_robust<'k>(reckoner: &Reckoner<'_>, kept: &'k [Reckoned]) -> Option<&'k Reckoned> {
    let best: Vec<f64> = (0..reckoner.likely().len())
        .map(|suspect| {
            kept.iter()
                .map(|reckoned| reckoned.if_only[suspect])
                .fold(f64::INFINITY, f64::min)
        })
        .collect();
    let regret = |reckoned: &Reckoned| {
        reckoned
            .if_only
            .iter()
            .zip(&best)
            .map(|(loss, best)| loss - best)
            .fold(0.0, f64::max)
    };
    kept.iter().min_by(|one, other| {
        regret(one)
            .total_cmp(&regret(other))
            .then(one.loss.total_cmp(&other.loss))
    })
}

/// What a set of changes leaves unsolved, as sentences.
pub fn unsolved(reckoner: &Reckoner<'_>, reckoned: &Reckoned) -> Vec<String> {
    let goals = reckoner.goals().iter().zip(&reckoned.chances);
    let short = goals
        .filter(|(goal, chance)| goal.weight > 0.0 && **chance < goal.wanted)
        .map(|(goal, chance)| {
            format!(
                "{}: {:.0} % sure, where {:.0} % is wanted.",
                goal.aim.words(),
                100.0 * chance,
                100.0 * goal.wanted
            )
        });
    let left = |fault: &Fault| meets(&reckoned.changes, fault);
    let suspects = reckoner
        .differential()
        .of_this_case()
        .filter(|suspect| suspect.probability >= LIKELY)
        .filter_map(|suspect| {
            let percent = 100.0 * suspect.probability;
            match left(suspect.fault) {
                met if met >= 1.0 => None,
                met if met > 0.0 => Some(format!(
                    "“{}” ({percent:.0} %) is eased, its cause stays.",
                    suspect.fault.title
                )),
                _ => Some(format!(
                    "“{}” ({percent:.0} %) is not met.",
                    suspect.fault.title
                )),
            }
        });
    short.chain(suspects).collect()
}

/// Of the best single changes those that stand in no plan, each with why.
fn lost(reckoner: &Reckoner<'_>, offers: &[Offer], plans: &[Plan]) -> Vec<Lost> {
    let Some(foremost) = plans.first() else {
        return Vec::new();
    };
    let stands = |change: &Change| {
        plans
            .iter()
            .any(|plan| plan.reckoned.changes.iter().any(|one| one.id == change.id))
    };
    let serves =
        |offer: &&Offer| meets_of(reckoner, offer.change) >= LIKELY || offer.gain_mg_l > GAINS_MG_L;
    offers
        .iter()
        .filter(serves)
        .filter(|offer| !stands(offer.change))
        .take(EXPLAINED)
        .map(|offer| Lost {
            change: offer.change,
            why: why_lost(reckoner, offer, foremost),
        })
        .collect()
}

fn why_lost(reckoner: &Reckoner<'_>, offer: &Offer, foremost: &Plan) -> String {
    if let Some(why) = offer.not_now {
        return why.to_owned();
    }
    if ALONE.contains(&offer.change.id) {
        return "It leaves things as they are, and something is likelier to be wrong.".to_owned();
    }
    if !offer.treats {
        return "It is meant for oxygen, and would raise none here.".to_owned();
    }
    let mut with = foremost.reckoned.changes.clone();
    with.push(offer.change);
    if foremost
        .reckoned
        .changes
        .iter()
        .any(|change| ALONE.contains(&change.id))
    {
        return "By what is likeliest nothing needs to be changed.".to_owned();
    }
    if !go_together(&with) {
        return "The first plan does the same, or the opposite of it.".to_owned();
    }
    let price = reckoner.price(offer.change);
    let costs = format!("{:.0} min and {:.0} €", price.minutes, price.euros);
    match reckoner.reckon(&with) {
        None => "It does not fit the tank that the first plan makes.".to_owned(),
        Some(both) => {
            let gained = foremost.reckoned.undone - both.undone;
            if gained < 0.01 {
                format!(
                    "Beside the first plan it would add nothing that is reckoned here, for {costs}."
                )
            } else {
                format!(
                    "Beside the first plan it would take away {:.0} of a hundred parts of what is left, for {costs}.",
                    100.0 * gained / foremost.reckoned.undone.max(1e-9)
                )
            }
        }
    }
}

/// First aid is due, fish show distress, or oxygen is likelier short than not: what keeps animals
/// alive is not made one thing at a time.
pub(super) fn is_urgent(reckoner: &Reckoner<'_>) -> bool {
    let case = reckoner.case();
    let in_distress = Distress::worst_of(&case.observed.answers).is_some();
    let oxygen = reckoner
        .goals()
        .iter()
        .any(|goal| goal.aim == Aim::Oxygen && goal.now < LIKELIER_THAN_NOT);
    in_distress || oxygen || !first_aid::due(case).is_empty()
}

/// By definition.
const LIKELIER_THAN_NOT: f64 = 0.5;
