//! Which filter: where there are several, a finding of a filter belongs to one, and so does the
//! fault that shows it.
//!
//! A fault that can sit in any of them sits in each alike, until findings tell them apart: what was
//! seen at one filter was not seen at the others. Faults are weighed by what the tank shows; what
//! it shows *where* is weighed here, for each fault as if it sat in one filter: findings at the
//! same filter go together, findings at two hardly do.

use super::belief::Likelihoods;
use super::case::Case;
use super::evidence::{Piece, WEAK_SHARE, built_up, node};
use super::fault::Fault;
use super::finding::{Finding, Kind, filter, upkeep};
use super::hypothesis_space::{Candidate, HypothesisSpace};
use super::observed::Observed;
use super::origin::Origin;
use crate::document::Answer;
use crate::tank::{Serial, Tank};
use crate::units::days_of;

/// What was seen where.
pub(super) struct Located {
    /// The evidence in it, beside what each finding says of the tank.
    pub(super) piece: Piece,
    /// By candidate, in which filter it sits if it is there, likeliest first; empty where nothing
    /// tells.
    pub(super) of_faults: Vec<Vec<(Serial, f64)>>,
}

/// A finding that was seen at some filters and not at the others.
struct Seen {
    finding: &'static Finding,
    at: Vec<Serial>,
    /// Chance that it shows at a filter with no fault: that it shows at any, shared among them.
    leak: f64,
    /// Chance that a fault brings it about, by candidate.
    strengths: Vec<f64>,
}

impl Located {
    /// `None` with one filter, or where nobody said which.
    pub(super) fn of(space: &HypothesisSpace, case: &Case) -> Option<Self> {
        let Case { tank, observed } = case;
        let filters: Vec<Serial> = tank.filters.iter().map(|filter| filter.number).collect();
        let mut seen = seen(space, &filters, observed);
        seen.extend(measured_weak(space, tank, observed));
        let opened = Opened::of(tank, observed);
        if filters.len() < 2 || seen.is_empty() && opened.is_none() {
            return None;
        }
        let since = |candidate: &Candidate, filter: Serial| {
            opened
                .as_ref()
                .map_or(1.0, |opened| opened.factor(candidate.fault, filter))
        };
        let mut factors = vec![1.0; space.candidates.len()];
        let mut of_faults = vec![Vec::new(); space.candidates.len()];
        for (place, candidate) in space.candidates.iter().enumerate() {
            let builds = opened.is_some() && candidate.fault.builds_up.is_some();
            if seen.iter().all(|seen| seen.strengths[place] <= 0.0) && !builds {
                continue;
            }
            let mut eligible: Vec<Serial> = filters
                .iter()
                .copied()
                .filter(|filter| can_sit_in(candidate, tank, *filter))
                .collect();
            // What takes several filters at once sits in any of them.
            if eligible.is_empty() {
                eligible.clone_from(&filters);
            }
            let weights: Vec<f64> = eligible
                .iter()
                .map(|filter| weight(&seen, place, *filter) * since(candidate, *filter))
                .collect();
            let total: f64 = weights.iter().sum();
            // What the findings say of the tank as a whole is weighed already.
            let weighed: f64 = seen
                .iter()
                .map(|seen| whole(seen, place, filters.len()))
                .product();
            let weighed_since = opened
                .as_ref()
                .map_or(1.0, |opened| opened.weighed(candidate.fault));
            factors[place] = total / weights.len() as f64 / (weighed * weighed_since);
            let mut shares: Vec<(Serial, f64)> = eligible
                .into_iter()
                .zip(weights.iter().map(|weight| weight / total))
                .collect();
            shares.sort_by(|a, b| b.1.total_cmp(&a.1));
            of_faults[place] = shares;
        }
        let names = |at: &[Serial]| {
            let those = tank
                .filters
                .iter()
                .filter(|filter| at.contains(&filter.number))
                .map(|filter| filter.name.as_str());
            those.collect::<Vec<_>>().join(", ")
        };
        let mut says: Vec<String> = seen
            .iter()
            .map(|seen| format!("“{}” at {}", seen.finding.says, names(&seen.at)))
            .collect();
        says.extend(opened.as_ref().map(|opened| opened.says(tank)));
        let piece = Piece {
            origin: Origin::Seen,
            says: says.join("; "),
            alarms: false,
            likelihoods: Likelihoods::PerFault(1.0, factors),
        };
        Some(Self { piece, of_faults })
    }
}

/// How long ago each filter was opened, where more than one is there to tell apart.
struct Opened {
    /// By filter, days; a filter of which that is not known says nothing.
    days: Vec<(Serial, f64)>,
    /// What the tank as a whole is weighed by: the latest of them.
    latest_days: f64,
    usual_days: f64,
}

impl Opened {
    /// `None` where the tank file dates none, or where the keeper was asked and answered for all.
    fn of(tank: &Tank, observed: &Observed) -> Option<Self> {
        let event = &upkeep::FILTER_CLEANED;
        let Kind::Event { usual_days } = event.kind else {
            return None;
        };
        if observed.answer(event).is_some() {
            return None;
        }
        let age = |at: jiff::civil::DateTime| days_of(observed.now.duration_since(at)).max(0.0);
        let latest_days = age(observed.known(event)?.at);
        let days: Vec<(Serial, f64)> = tank
            .filters
            .iter()
            .filter_map(|filter| Some((filter.number, age(filter.opened?.at(0, 0, 0, 0)))))
            .collect();
        (!days.is_empty()).then_some(Self {
            days,
            latest_days,
            usual_days,
        })
    }

    /// Factor on the odds of a fault that builds up in this filter.
    fn factor(&self, fault: &Fault, filter: Serial) -> f64 {
        let days = self.days.iter().find(|(number, _)| *number == filter);
        match (&fault.builds_up, days) {
            (Some(builds), Some((_, days))) if builds.since == &upkeep::FILTER_CLEANED => {
                built_up(builds, self.usual_days, *days)
            }
            _ => 1.0,
        }
    }

    /// The same as the tank as a whole was weighed by.
    fn weighed(&self, fault: &Fault) -> f64 {
        match &fault.builds_up {
            Some(builds) if builds.since == &upkeep::FILTER_CLEANED => {
                built_up(builds, self.usual_days, self.latest_days)
            }
            _ => 1.0,
        }
    }

    fn says(&self, tank: &Tank) -> String {
        let of_filter = |(number, days): &(Serial, f64)| {
            let filter = tank
                .filters
                .iter()
                .find(|filter| filter.number == *number)?;
            Some(format!("{} was opened {days:.0} days ago", filter.name))
        };
        self.days
            .iter()
            .filter_map(of_filter)
            .collect::<Vec<_>>()
            .join(", ")
    }
}

/// A flow by bucket well under the one of the clean filter, where nobody said which flow is weak.
fn measured_weak(space: &HypothesisSpace, tank: &Tank, observed: &Observed) -> Option<Seen> {
    let finding = &filter::FLOW_WEAK;
    let at: Vec<Serial> = tank
        .filters
        .iter()
        .filter(|filter| filter.flow_left().is_some_and(|left| left < WEAK_SHARE))
        .map(|filter| filter.number)
        .collect();
    let told = observed
        .answer(finding)
        .is_some_and(|answered| !answered.filters.is_empty());
    if at.is_empty() || told {
        return None;
    }
    let node = node(&space.candidates, finding);
    let absent = node.absent(space.candidates.len());
    Some(Seen {
        finding,
        at,
        leak: node.leak / tank.filters.len() as f64,
        strengths: absent.into_iter().map(|absent| 1.0 - absent).collect(),
    })
}

fn seen(space: &HypothesisSpace, filters: &[Serial], observed: &Observed) -> Vec<Seen> {
    let told = observed
        .answers
        .iter()
        .filter(|answered| answered.answer == Answer::Yes && answered.finding.is_of_a_filter());
    told.filter_map(|answered| {
        let at: Vec<Serial> = answered
            .filters
            .iter()
            .copied()
            .filter(|filter| filters.contains(filter))
            .collect();
        let node = node(&space.candidates, answered.finding);
        let strengths = node
            .absent(space.candidates.len())
            .into_iter()
            .map(|absent| 1.0 - absent)
            .collect();
        (!at.is_empty()).then(|| Seen {
            finding: answered.finding,
            at,
            leak: node.leak / filters.len() as f64,
            strengths,
        })
    })
    .collect()
}

/// What was seen, of a fault in this filter, against what is seen with none.
fn weight(seen: &[Seen], fault: usize, filter: Serial) -> f64 {
    let of = |seen: &Seen| {
        let chance = 1.0 - (1.0 - seen.leak) * (1.0 - seen.strengths[fault]);
        if seen.at.contains(&filter) {
            chance / seen.leak
        } else {
            (1.0 - chance) / (1.0 - seen.leak)
        }
    };
    seen.iter().map(of).product()
}

/// The same of the tank as a whole.
fn whole(seen: &Seen, fault: usize, filters: usize) -> f64 {
    let leak = seen.leak * filters as f64;
    (1.0 - (1.0 - leak) * (1.0 - seen.strengths[fault])) / leak
}

/// Whether a fault can be where this is the only filter.
fn can_sit_in(candidate: &Candidate, tank: &Tank, filter: Serial) -> bool {
    candidate
        .fault
        .needs
        .as_ref()
        .is_none_or(|need| (need.met)(&tank.with_only_filter(filter)))
}
