//! A narrower view: only the sets of the likeliest faults.
//!
//! Why a fault is suspected, what would change the order, which pieces contradict each other: these
//! questions weigh the evidence again and again. With the whole catalogue the sets of the likeliest
//! faults are a fiftieth of all, and what the others hold moves no answer by more than its last
//! digit shown.

use super::belief::{Belief, FaultSet, Likelihoods};
use super::evidence::Piece;

/// So many of the likeliest faults are in view.
const LIKELY: usize = 16;

/// The likeliest faults before and after the evidence.
pub(super) struct Focus {
    pub(super) likely: FaultSet,
    /// Those faults that account for something seen or read: who comes first is asked among them.
    suspects: FaultSet,
    pub(super) prior: Belief,
    pub(super) posterior: Belief,
    /// Of each piece of evidence, in its order.
    pub(super) likelihoods: Vec<Likelihoods>,
}

impl Focus {
    /// The view, given what the evidence made of each fault and which account for any of it; those
    /// asked about are in it too.
    pub(super) fn of(
        prior: &Belief,
        pieces: &[Piece],
        of_faults: &[f64],
        suspects: FaultSet,
        asked: &[usize],
    ) -> Self {
        let mut order: Vec<usize> = (0..of_faults.len()).collect();
        order.sort_by(|a, b| of_faults[*b].total_cmp(&of_faults[*a]));
        let likely = order
            .into_iter()
            .take(LIKELY)
            .chain(asked.iter().copied())
            .fold(FaultSet::NONE, FaultSet::with);
        let sets = prior.hypotheses().sets().iter().enumerate();
        let kept: Vec<usize> = sets
            .filter(|(_, set)| set.only(likely) == **set)
            .map(|(index, _)| index)
            .collect();
        let prior = prior.restricted(&kept);
        let likelihoods: Vec<Likelihoods> = pieces
            .iter()
            .map(|piece| piece.likelihoods.restricted(&kept))
            .collect();
        let mut posterior = prior.clone();
        posterior.weigh_all(likelihoods.iter());
        Self {
            likely,
            suspects,
            prior,
            posterior,
            likelihoods,
        }
    }

    /// Place of the likeliest suspect by a belief.
    pub(super) fn first(&self, belief: &Belief) -> usize {
        let of_faults = belief.of_faults().expect("no evidence is impossible");
        self.suspects
            .iter()
            .max_by(|a, b| of_faults[*a].total_cmp(&of_faults[*b]))
            .unwrap_or(0)
    }
}
