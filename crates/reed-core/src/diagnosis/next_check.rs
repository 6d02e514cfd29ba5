//! What to look at next: the check that is expected to tell most for its effort.

use super::case::Case;
use super::check::{self, Check, Gives};
use super::differential::{Differential, Weighed};
use super::fault::Fault;
use super::finding::{computed, upkeep};
use super::observed::Observed;
use super::prospect::{Ahead, Asker};
use crate::tank::Analyte;

/// A check worth doing.
#[derive(Clone, Debug)]
pub struct Proposal {
    /// The check.
    pub check: &'static Check,
    /// What is read by it: for a repeat, what is in doubt.
    pub analyte: Option<&'static Analyte>,
    /// What it is expected to tell about the set of faults, in bits.
    pub bits: f64,
    /// Bits per minute of effort: what proposals are sorted by.
    pub bits_per_minute: f64,
    /// For the best ones, if they are questions: the two faults it tells apart best, with the
    /// chance of a yes under each.
    pub tells_apart: Option<[(&'static Fault, f64); 2]>,
}

/// What can be looked at next.
pub struct CheckOutlook {
    /// Checks worth doing, best first.
    pub proposals: Vec<Proposal>,
    /// What each of their answers would mean.
    pub(super) ahead: Ahead,
    /// The reading without which no act is safe: place among the proposals; and how likely it shows
    /// poison.
    pub(super) before_acting: Option<(usize, f64)>,
}

/// Below this many bits a check is not proposed at all. A judgement.
const LEAST_BITS: f64 = 0.005;
/// Sets below this probability are left out of the comparison of checks.
const NEGLIGIBLE: f64 = 5e-5;
/// A filter that was opened within so many days is left shut: each opening disturbs its colony.
/// Common practice.
const LEFT_SHUT_DAYS: f64 = 7.0;
/// A misread this likely is worth a repeat.
const DOUBTFUL: f64 = 0.05;
/// Whoever read something so often has no doubt left that one more reading takes away.
const MOST_TIMES: usize = 3;
/// Ammonia or nitrite this likely is tested for before anything is done: it kills within a day, and
/// many a change makes it worse.
const POISON_POSSIBLE: f64 = 0.3;
/// For so many of the best it is said what they tell apart.
const TOLD_APART: usize = 8;

impl Differential {
    /// What to look at next; of the case that was weighed.
    pub fn outlook(&self, case: &Case) -> CheckOutlook {
        CheckOutlook::of(self, case)
    }
}

impl CheckOutlook {
    fn of(differential: &Differential, case: &Case) -> Self {
        let observed = &case.observed;
        let Weighed {
            space,
            posterior,
            of_faults,
            ..
        } = &differential.weighed;
        let of_sets = posterior.of_sets().expect("no evidence is impossible");
        // The questions are only compared with each other; sets this unlikely do not change their
        // order.
        let kept: Vec<usize> = (0..of_sets.len())
            .filter(|set| of_sets[*set] >= NEGLIGIBLE)
            .collect();
        let belief = posterior.restricted(&kept);
        let of_sets = belief.of_sets().expect("no evidence is impossible");
        let asker = Asker {
            space,
            belief: &belief,
            of_sets: &of_sets,
            case,
        };
        let doubtful = observed
            .weighed()
            .into_iter()
            .map(|index| {
                (
                    of_faults[space.misread_of(index)],
                    observed.readings[index].analyte,
                )
            })
            .filter(|(chance, analyte)| {
                *chance > DOUBTFUL && times_read(observed, analyte) < MOST_TIMES
            })
            .max_by(|a, b| a.0.total_cmp(&b.0))
            .map(|(_, analyte)| analyte);
        let left_shut = opened_lately(observed);
        let mut found: Vec<_> = check::all()
            .filter(|check| !(observed.is_declined(check) || check.opens_filter && left_shut))
            .filter_map(|check| {
                let (analyte, prospect) = asker.prospect(check, doubtful)?;
                let bits = asker.bits(&prospect);
                let proposal = Proposal {
                    check,
                    analyte,
                    bits,
                    bits_per_minute: bits / check.effort_minutes(),
                    tells_apart: None,
                };
                (bits >= LEAST_BITS).then_some((proposal, prospect))
            })
            .collect();
        found.sort_by(|a, b| b.0.bits_per_minute.total_cmp(&a.0.bits_per_minute));
        let (mut proposals, prospects): (Vec<_>, Vec<_>) = found.into_iter().unzip();
        let poison = asker.chance(&computed::NITROGEN_MEASURABLE);
        let tests_for_poison =
            |proposal: &Proposal| proposal.check.reads() == Some(Analyte::AMMONIA);
        let before_acting = proposals
            .iter()
            .position(tests_for_poison)
            .filter(|_| poison > POISON_POSSIBLE)
            .map(|place| (place, poison));
        for proposal in proposals.iter_mut().take(TOLD_APART) {
            if let Gives::Answer(finding) = &proposal.check.gives {
                proposal.tells_apart = asker.tells_apart(finding, of_faults);
            }
        }
        let ahead = Ahead::new(belief.hypotheses().sets().to_vec(), of_sets, prospects);
        Self {
            proposals,
            ahead,
            before_acting,
        }
    }
}

fn times_read(observed: &Observed, analyte: &Analyte) -> usize {
    observed
        .readings
        .iter()
        .filter(|reading| reading.analyte == analyte)
        .count()
}

/// Some filter was opened so lately that it should be left shut.
fn opened_lately(observed: &Observed) -> bool {
    [
        &upkeep::FILTER_CLEANED,
        &upkeep::MEDIA_REPLACED,
        &upkeep::IMPELLER_SERVICED,
    ]
    .into_iter()
    .any(|event| observed.happened_within(event, LEFT_SHUT_DAYS))
}
