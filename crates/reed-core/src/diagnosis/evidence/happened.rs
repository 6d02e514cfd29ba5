//! What an event says of the faults that follow it, by its age.
//!
//! In an ordinary tank the latest such event is `a` days old with density λe^(−λa), λ being one
//! over the usual interval. Under a fault that it precedes with strength s there is besides, this
//! surely, the event that brought the fault about, older than `a` with chance S(a) and of age `a`
//! with density g(a). So the latest event is of age `a` with density (1 − s) · λe^(−λa) + s · (S(a)
//! · λe^(−λa) + g(a) · e^(−λa)), and a yes multiplies the fault's odds by (1 − s) + s · (S(a) +
//! g(a) / λ). It never weighs less than a no, which multiplies them by 1 − s; one from long ago
//! comes to the same as a no.
//!
//! g is flat within the window of the fault and falls with the fourth power of the age beyond it,
//! so that no date is a cliff: a date moved by a twentieth moves the odds by less than a quarter.
//! The shape is a judgement, no source.

use super::Piece;
use crate::diagnosis::belief::Likelihoods;
use crate::diagnosis::fault::{BuildsUp, Fault, Precedes};
use crate::diagnosis::finding::{Finding, Kind, events};
use crate::diagnosis::hypothesis_space::HypothesisSpace;
use crate::diagnosis::observed::{Answered, Observed};
use crate::diagnosis::origin::Origin;
use crate::document::Answer;
use crate::statistics::normal_below;
use crate::units::days_of;

/// Share of the faults that show within their window of the event. A judgement.
const WITHIN_WINDOW: f64 = 0.75;

/// Share of openings that leave what has built up where it was: another stage was rinsed. Common
/// practice, no source. A judgement.
const LEFT_AS_IT_WAS: f64 = 0.3;

/// Who says no has not seen such a thing for this many times its usual interval. A judgement.
pub(in crate::diagnosis) const MEMORY: f64 = 2.0;

/// Chance that the event behind a fault is older, and density of its age, at an age in windows of
/// the fault.
fn since_cause(windows: f64) -> (f64, f64) {
    if windows <= 1.0 {
        (1.0 - WITHIN_WINDOW * windows, WITHIN_WINDOW)
    } else {
        (
            (1.0 - WITHIN_WINDOW) * windows.powi(-3),
            WITHIN_WINDOW * windows.powi(-4),
        )
    }
}

/// Age of the event behind a fault, in windows of the fault, that this share of them is younger
/// than.
pub(in crate::diagnosis) fn age_of_cause(share: f64) -> f64 {
    if share <= WITHIN_WINDOW {
        share / WITHIN_WINDOW
    } else {
        ((1.0 - WITHIN_WINDOW) / (1.0 - share)).cbrt()
    }
}

/// Factor on the odds of a fault when the event that precedes it happened so many days ago.
fn preceded(link: &Precedes, usual_days: f64, age_days: f64) -> f64 {
    let (older, density) = since_cause(age_days.max(0.0) / link.window_days);
    let latest =
        older + density / events::ordinarily_within(link.event, usual_days, link.window_days);
    let strength = link.strength.chance();
    (1.0 - strength) + strength * latest
}

/// Factor on the odds of a fault that builds up, so many days after it was last undone: the chance
/// that it is there by then, 1 − exp(−(a/τ)²), over its average in ordinary tanks.
pub(in crate::diagnosis) fn built_up(builds: &BuildsUp, usual_days: f64, age_days: f64) -> f64 {
    let there = 1.0 - (-(age_days.max(0.0) / builds.days).powi(2)).exp();
    LEFT_AS_IT_WAS + (1.0 - LEFT_AS_IT_WAS) * there / ordinarily_built_up(builds.days / usual_days)
}

/// `built_up` at its highest, after any length of time.
pub(in crate::diagnosis) fn wholly_built_up(builds: &BuildsUp, usual_days: f64) -> f64 {
    built_up(builds, usual_days, f64::INFINITY)
}

/// Average of 1 − exp(−(a/τ)²) over ages with density λe^(−λa), in closed form; `intervals` is τ ·
/// λ. Good to 1e-4 up to four intervals.
fn ordinarily_built_up(intervals: f64) -> f64 {
    let below = normal_below(-intervals / std::f64::consts::SQRT_2);
    1.0 - intervals * std::f64::consts::PI.sqrt() * (intervals * intervals / 4.0).exp() * below
}

/// Factor of a yes of this age, or of a no, on the odds of a fault.
fn factor(fault: &Fault, finding: &Finding, usual_days: f64, age_days: Option<f64>) -> f64 {
    let preceded = fault
        .events
        .iter()
        .find(|link| link.event == finding)
        .map_or(1.0, |link| match age_days {
            Some(age) => preceded(link, usual_days, age),
            None => 1.0 - link.strength.chance(),
        });
    let builds = fault
        .builds_up
        .as_ref()
        .filter(|builds| builds.since == finding);
    preceded
        * builds.map_or(1.0, |builds| {
            built_up(builds, usual_days, age_days.unwrap_or(MEMORY * usual_days))
        })
}

/// An event that happened, or did not.
pub(super) fn event(
    space: &HypothesisSpace,
    answered: &Answered,
    observed: &Observed,
    origin: Origin,
) -> Piece {
    let Kind::Event { usual_days } = answered.finding.kind else {
        unreachable!("{} is no event", answered.finding.id)
    };
    let age = days_of(observed.now.duration_since(answered.at));
    let age_days = (answered.answer == Answer::Yes).then_some(age);
    let factors = space
        .candidates
        .iter()
        .map(|candidate| factor(candidate.fault, answered.finding, usual_days, age_days));
    let says = match age_days {
        None => answered.finding.says_not.to_owned(),
        Some(days) if days < 1.0 => format!("{}, within a day", answered.finding.says),
        Some(days) if days < 1.5 => format!("{}, a day ago", answered.finding.says),
        Some(days) => format!("{}, {days:.0} days ago", answered.finding.says),
    };
    Piece {
        origin,
        says,
        alarms: false,
        likelihoods: Likelihoods::PerFault(1.0, factors.collect()),
    }
}

#[cfg(test)]
mod tests {
    use super::{MEMORY, age_of_cause, built_up, factor, ordinarily_built_up, since_cause};
    use crate::diagnosis::fault::{self, Fault};
    use crate::diagnosis::finding::{self, Finding, Kind};

    /// Every fault with every event that it says something about: the event's usual interval, the
    /// fault's own time.
    fn links() -> Vec<(&'static Fault, &'static Finding, f64, Option<f64>)> {
        let events = finding::all().filter_map(|finding| match finding.kind {
            Kind::Event { usual_days } => Some((finding, usual_days)),
            _ => None,
        });
        let about = |fault: &'static Fault, finding: &Finding, usual: f64| {
            let window = fault
                .events
                .iter()
                .find(|link| link.event == finding)
                .map(|link| link.window_days);
            let builds = fault
                .builds_up
                .as_ref()
                .is_some_and(|builds| builds.since == finding);
            (window.is_some() || builds).then_some((usual, window))
        };
        let links: Vec<_> = events
            .flat_map(|(finding, usual)| {
                fault::all().filter_map(move |fault| {
                    about(fault, finding, usual)
                        .map(|(usual, window)| (fault, finding, usual, window))
                })
            })
            .collect();
        assert!(links.len() > 30, "{}", links.len());
        links
    }

    /// Ages from minutes to decades, each a twentieth older than the one before.
    fn ages() -> impl Iterator<Item = f64> {
        (0..300).map(|step| 0.01 * 1.05_f64.powi(step))
    }

    #[test]
    fn a_yes_never_weighs_less_than_a_no_whatever_its_age_and_a_no_never_raises() {
        for (fault, finding, usual, window) in
            links().into_iter().filter(|(.., window)| window.is_some())
        {
            let no = factor(fault, finding, usual, None);
            assert!(no < 1.0, "{}: no {} raises it", fault.id, finding.id);
            for age in ages() {
                let yes = factor(fault, finding, usual, Some(age));
                assert!(
                    yes >= no,
                    "{}: {} {age:.2} days ago weighs {yes}, less than no, {no}",
                    fault.id,
                    finding.id
                );
                let can_still_show = window.is_some_and(|window| age <= window);
                assert!(
                    yes >= 1.0 || !can_still_show,
                    "{}: {} {age:.2} days ago lowers it to {yes}",
                    fault.id,
                    finding.id
                );
            }
        }
    }

    #[test]
    fn a_date_moved_by_a_twentieth_moves_no_odds_by_more_than_a_quarter() {
        for (fault, finding, usual, _) in links() {
            let weights: Vec<f64> = ages()
                .map(|age| factor(fault, finding, usual, Some(age)))
                .collect();
            for pair in weights.windows(2) {
                let moved = (pair[1] / pair[0]).max(pair[0] / pair[1]);
                assert!(
                    moved <= 1.25,
                    "{} after {}: by {moved}",
                    fault.id,
                    finding.id
                );
            }
        }
    }

    #[test]
    fn what_builds_up_is_likelier_the_longer_it_was_left() {
        for (fault, finding, usual, _) in links() {
            let Some(builds) = fault
                .builds_up
                .as_ref()
                .filter(|builds| builds.since == finding)
            else {
                continue;
            };
            let weights: Vec<f64> = ages().map(|age| built_up(builds, usual, age)).collect();
            assert!(weights.is_sorted(), "{}", fault.id);
            assert!(
                weights[0] < 0.5
                    && built_up(builds, usual, 300.0) > 1.2 * built_up(builds, usual, 150.0),
                "{}",
                fault.id
            );
            assert!(
                built_up(builds, usual, MEMORY * usual) > 1.0,
                "{}: a no says that it was left for long",
                fault.id
            );
        }
    }

    /// Against sums over many thin slices, which share nothing with the closed forms.
    #[test]
    fn densities_and_averages_are_what_a_sum_makes_of_them() {
        let slices = |to: f64, of: &dyn Fn(f64) -> f64| {
            (0..400_000)
                .map(|at| (f64::from(at) + 0.5) * to / 400_000.0)
                .map(of)
                .sum::<f64>()
        };
        for intervals in [0.5, 1.0, 2.0, 4.0] {
            let summed = slices(40.0, &|x| {
                (-x).exp() * (1.0 - (-(x / intervals).powi(2)).exp())
            }) * 40.0
                / 400_000.0;
            assert!(
                (ordinarily_built_up(intervals) - summed).abs() < 1e-4,
                "{intervals}: {summed}"
            );
        }
        for windows in [0.3, 1.0, 2.0, 5.0] {
            let younger = slices(windows, &|x| since_cause(x).1) * windows / 400_000.0;
            assert!(
                (1.0 - since_cause(windows).0 - younger).abs() < 1e-4,
                "{windows}: {younger}"
            );
            assert!(
                (age_of_cause(younger) - windows).abs() < 1e-2 * windows,
                "{windows}"
            );
        }
    }
}
