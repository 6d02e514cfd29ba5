//! How likely fish show that they lack oxygen, given how little there is.
//!
//! The signs form a ladder: whoever gulps at the surface also pumps. One ladder is one piece of
//! evidence, or its rungs would be counted four times over.

use crate::figure::Figure;

/// Rungs: pumping gills, keeping to the top, gulping, losses overnight with the largest first.
pub(super) const RUNGS: usize = 4;

/// Chance of each rung or a higher one without any listed cause. A judgement.
pub(super) const LEAK: [f64; RUNGS] = [0.05, 0.03, 0.010, 0.003];

/// Chance of each rung or a higher one when oxygen is as low as can be lived with.
const AT_WORST: [Figure; RUNGS] = [
    Figure::from_memory(0.85),
    Figure::from_memory(0.70),
    Figure::from_memory(0.50),
    Figure::from_memory(0.25),
];

/// Oxygen in mg/L at the lowest point of the day, and how much of the worst it does. Limits from
/// memory: most fish are distressed below 4 mg/L, few above 7.
const HARM: [(f64, f64); 5] = [
    (4.0, 1.0),
    (5.0, 0.85),
    (6.0, 0.50),
    (7.0, 0.15),
    (8.0, 0.02),
];

/// Chance of each rung or a higher one from this much oxygen. The upper rungs need more harm than
/// the lower ones.
pub(super) fn chances(lowest_mg_l: f64) -> [f64; RUNGS] {
    let harm = harm(lowest_mg_l);
    let squared = harm * harm;
    [
        AT_WORST[0].value * harm,
        AT_WORST[1].value * harm,
        AT_WORST[2].value * squared,
        AT_WORST[3].value * squared,
    ]
}

fn harm(mg_l: f64) -> f64 {
    if mg_l <= HARM[0].0 {
        return HARM[0].1;
    }
    HARM.windows(2)
        .find(|pair| mg_l <= pair[1].0)
        .map_or(HARM[4].1, |pair| {
            pair[0].1 + (mg_l - pair[0].0) / (pair[1].0 - pair[0].0) * (pair[1].1 - pair[0].1)
        })
}

#[cfg(test)]
mod tests {
    use super::chances;

    #[test]
    fn less_oxygen_and_lower_rungs_are_always_likelier() {
        let levels = [2.0, 4.5, 5.5, 6.5, 7.5, 9.0];
        for pair in levels.windows(2) {
            let (low, high) = (chances(pair[0]), chances(pair[1]));
            assert!(
                low.iter().zip(high).all(|(low, high)| *low >= high),
                "{pair:?}"
            );
            assert!(high.is_sorted_by(|a, b| a >= b), "{high:?}");
        }
    }
}
