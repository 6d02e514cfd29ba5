//! A narrower view: only the sets of the likeliest faults.
//!
//! Why a fault is suspected, what would change the order, which pieces contradict each other: these questions weigh the
//! evidence again and again. With the whole catalogue the sets of the likeliest faults are a fiftieth of all, and what the
//! others hold moves no answer by more than its last digit shown.

use super::belief::{Belief, FaultSet, Likelihoods};
use super::evidence::Piece;

/// So many of the likeliest faults are in view.
const LIKELY: usize = 16;

/// The likeliest faults before and after the evidence.
pub(super) struct Focus {
    pub(super) likely: FaultSet,
    pub(super) prior: Belief,
    pub(super) posterior: Belief,
    /// Of each piece of evidence, in its order.
    pub(super) likelihoods: Vec<Likelihoods>,
}

impl Focus {
    /// The view, given what the evidence made of each fault; those asked about are in it too.
    pub(super) fn of(prior: &Belief, pieces: &[Piece], of_faults: &[f64], asked: &[usize]) -> Self {
        let mut order: Vec<usize> = (0..of_faults.len()).collect();
        order.sort_by(|a, b| of_faults[*b].total_cmp(&of_faults[*a]));
        let likely = order.into_iter().take(LIKELY).chain(asked.iter().copied()).fold(FaultSet::NONE, FaultSet::with);
        let sets = prior.hypotheses().sets().iter().enumerate();
        let kept: Vec<usize> = sets.filter(|(_, set)| set.only(likely) == **set).map(|(index, _)| index).collect();
        let prior = prior.restricted(&kept);
        let likelihoods: Vec<Likelihoods> = pieces.iter().map(|piece| piece.likelihoods.restricted(&kept)).collect();
        let mut posterior = prior.clone();
        posterior.weigh_all(likelihoods.iter());
        Self { likely, prior, posterior, likelihoods }
    }

    /// Place of the likeliest fault by a belief, and its probability.
    pub(super) fn first(belief: &Belief) -> (usize, f64) {
        let of_faults = belief.of_faults().expect("no evidence is impossible");
        of_faults.into_iter().enumerate().max_by(|a, b| a.1.total_cmp(&b.1)).unwrap_or((0, 0.0))
    }
}
