//! A round of glances: what is looked at on one walk, since going to the tank is half of the
//! effort.

use super::check::{Check, START_MINUTES};
use super::decision::Decision;
use super::next_check::CheckOutlook;
use super::prospect::Prospect;

/// More than so many looks at once are a form to fill in.
const MOST_LOOKS: usize = 6;
/// A look that tells less than this, beside what is looked at anyway, is left out. Bits. A
/// judgement.
const LEAST_BITS: f64 = 0.01;
/// A look that tells less than this share of what the round tells for each minute is left out.
const LEAST_SHARE: f64 = 0.5;
/// What is seen along with something else at the same place costs this, to read the question and to
/// answer. Minutes, from memory.
const SEEN_ALONG_MINUTES: f64 = 0.25;

/// The glances that go with this one, itself among them: places among the proposals, in the order
/// in which they are passed.
///
/// Each is the one that tells most for its time beside those taken already. Answers count as
/// independent of each other where the faults are known.
pub(super) fn with(
    first: usize,
    outlook: &CheckOutlook,
    of_sets: &[f64],
    prospects: &[Prospect],
    decision: &Decision,
) -> Vec<usize> {
    let check = |place: usize| outlook.proposals[place].check;
    let Some(station) = check(first).station() else {
        return vec![first];
    };
    let mut branches = vec![of_sets.to_vec()];
    let mut told = decision.bits(&branches, &prospects[first]);
    split(&mut branches, &prospects[first]);
    let mut looks = vec![first];
    let mut others: Vec<usize> = (0..prospects.len())
        .filter(|other| *other != first && check(*other).station() == Some(station))
        .collect();
    while looks.len() < MOST_LOOKS {
        let minutes = |with: &[usize]| {
            minutes_of(
                &looks
                    .iter()
                    .chain(with)
                    .map(|place| check(*place))
                    .collect::<Vec<_>>(),
            )
        };
        let so_far = minutes(&[]);
        let rate = |(other, bits): &(usize, f64)| bits / (minutes(&[*other]) - so_far);
        let told_by = others
            .iter()
            .map(|other| (*other, decision.bits(&branches, &prospects[*other])));
        let best = told_by.max_by(|a, b| rate(a).total_cmp(&rate(b)));
        let Some((other, bits)) =
            best.filter(|best| best.1 >= LEAST_BITS && rate(best) >= LEAST_SHARE * told / so_far)
        else {
            break;
        };
        split(&mut branches, &prospects[other]);
        looks.push(other);
        others.retain(|left| *left != other);
        told += bits;
    }
    looks.sort_by_key(|place| check(*place).gives_at());
    looks
}

/// Parts each branch by the answers of one more look.
fn split(branches: &mut Vec<Vec<f64>>, prospect: &Prospect) {
    let parted = |weights: &Vec<f64>| -> Vec<Vec<f64>> {
        let with = |chances: &Vec<f64>| {
            weights
                .iter()
                .zip(chances)
                .map(|(weight, chance)| weight * chance)
                .collect()
        };
        prospect.0.iter().map(with).collect()
    };
    *branches = branches.iter().flat_map(parted).collect();
}

/// Minutes of a round: it is started once, and whoever watches a place for one thing sees the next
/// there too.
pub fn minutes_of(looks: &[&Check]) -> f64 {
    let longest_before = |index: usize| {
        let before = looks[..index]
            .iter()
            .filter(|other| other.gives_at() == looks[index].gives_at());
        before.map(|other| other.minutes).reduce(f64::max)
    };
    let minutes = |(index, look): (usize, &&Check)| match longest_before(index) {
        Some(longest) => (look.minutes - longest).max(0.0) + SEEN_ALONG_MINUTES.min(look.minutes),
        None => look.minutes,
    };
    START_MINUTES
        + looks.iter().enumerate().map(minutes).sum::<f64>()
        + looks.iter().map(|check| check.euros).sum::<f64>()
}

#[cfg(test)]
mod tests {
    use super::{START_MINUTES, minutes_of};
    use crate::diagnosis::check::looks::{ACROSS_SURFACE, ALONG_SURFACE, AT_GILLS, AT_HEIGHT};

    #[test]
    fn whoever_watches_a_place_sees_the_next_thing_there_too() {
        let [surface, gills] = [&ACROSS_SURFACE, &AT_GILLS].map(|check| minutes_of(&[check]));
        assert!((surface - START_MINUTES - ACROSS_SURFACE.minutes).abs() < 1e-9);
        // The gills are watched for a minute; that the fish stand high is seen meanwhile, in
        // whichever order they are asked.
        let both = [
            minutes_of(&[&AT_GILLS, &AT_HEIGHT]),
            minutes_of(&[&AT_HEIGHT, &AT_GILLS]),
        ];
        assert!(
            both.iter().all(|both| (both - gills - 0.25).abs() < 1e-9),
            "{both:?}"
        );
        let alone: f64 = [&ACROSS_SURFACE, &ALONG_SURFACE, &AT_GILLS, &AT_HEIGHT]
            .map(|check| minutes_of(&[check]))
            .iter()
            .sum();
        assert!(
            minutes_of(&[&ACROSS_SURFACE, &ALONG_SURFACE, &AT_GILLS, &AT_HEIGHT]) < alone - 1.0
        );
    }
}
