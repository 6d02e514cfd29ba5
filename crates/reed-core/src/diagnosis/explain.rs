//! Why: how much each piece of evidence moved each fault, so that the parts add up to the whole.

use super::belief::Belief;
use super::evidence::Piece;
use super::focus::Focus;
use super::origin::Origin;

/// What one piece of evidence did to one fault.
#[derive(Clone, Debug, PartialEq)]
pub struct Reason {
    /// Where it comes from.
    pub origin: Origin,
    /// What it says.
    pub says: String,
    /// Change of the logarithm of the odds: positive speaks for the fault, negative against.
    pub weight: f64,
}

impl Reason {
    /// The weight as a factor on the odds: "×6" or "÷3".
    pub fn factor(&self) -> String {
        let factor = self.weight.abs().exp();
        let sign = if self.weight >= 0.0 { "×" } else { "÷" };
        if factor < 10.0 {
            format!("{sign}{factor:.1}")
        } else {
            format!("{sign}{:.0}", factor.min(9999.0))
        }
    }
}

/// Logarithm of the odds of a probability, kept finite.
pub(super) fn log_odds(probability: f64) -> f64 {
    let p = probability.clamp(1e-12, 1.0 - 1e-12);
    (p / (1.0 - p)).ln()
}

/// The reasons of each likely fault, strongest first; none for the others.
///
/// The weight of a piece is the change of the fault's log-odds when it is weighed in. That depends
/// on what was weighed in before, since faults explain each other's signs away; the mean of the
/// order of entry and its reverse is taken. Either order adds up to the same whole, so the mean
/// does too: to the odds among the sets in focus.
pub(super) fn reasons(focus: &Focus, pieces: &[Piece]) -> Vec<Vec<Reason>> {
    let Focus {
        likely,
        prior,
        likelihoods,
        ..
    } = focus;
    let faults = prior.hypotheses().faults();
    let mut weights = vec![vec![0.0; pieces.len()]; faults];
    let forward: Vec<usize> = (0..pieces.len()).collect();
    let backward: Vec<usize> = forward.iter().rev().copied().collect();
    for order in [forward, backward] {
        let mut belief = prior.clone();
        let odds = |belief: &Belief| -> Vec<f64> {
            belief
                .of_faults()
                .expect("no evidence is impossible")
                .into_iter()
                .map(log_odds)
                .collect()
        };
        let mut before = odds(&belief);
        for piece in order {
            belief.weigh(&likelihoods[piece]);
            let after = odds(&belief);
            for (fault, weights) in weights.iter_mut().enumerate() {
                weights[piece] += (after[fault] - before[fault]) / 2.0;
            }
            before = after;
        }
    }
    weights
        .into_iter()
        .enumerate()
        .map(|(fault, weights)| {
            if !likely.has(fault) {
                return Vec::new();
            }
            let mut reasons: Vec<Reason> = pieces
                .iter()
                .zip(weights)
                .map(|(piece, weight)| Reason {
                    origin: piece.origin,
                    says: piece.says.clone(),
                    weight,
                })
                .collect();
            reasons.sort_by(|a, b| b.weight.abs().total_cmp(&a.weight.abs()));
            reasons
        })
        .collect()
}
