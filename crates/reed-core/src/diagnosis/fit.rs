//! How well what is known explains the evidence: signs that nothing explains, pieces that
//! contradict each other.

use super::belief::{Belief, Likelihoods};
use super::evidence::Piece;
use super::focus::Focus;
use super::origin::Origin;

/// A sign that no suspect explains well.
#[derive(Clone, Debug, PartialEq)]
pub struct Unexplained {
    /// What was seen.
    pub says: String,
    /// Chance that none of the faults brought it about.
    pub chance: f64,
}

/// Two pieces of evidence that hardly go together: one of them may be wrong.
#[derive(Clone, Debug, PartialEq)]
pub struct Contradiction {
    /// What they say.
    pub pieces: [String; 2],
    /// How many times rarer the first is, given all the rest, than by itself.
    pub times_rarer: f64,
}

/// A sign is called unexplained from here: while little was asked even what a fault brought about
/// is often put down to chance. A judgement.
const UNEXPLAINED: f64 = 0.85;
/// What shows more often than this without any fault needs no explanation.
const RARE: f64 = 0.03;
/// Pieces are called contradictory from here.
const CONTRADICTORY: f64 = 3.0;

/// The signs that no fault explains, worst first.
///
/// A noisy-OR shows either by its leak or by a fault. Of a sign that was seen the chance that no
/// fault brought it about is `leak · q / (1 − (1 − leak) · q)` under a set, where q is the chance
/// that none of its faults does; the mean over the sets as they are believed in is taken.
pub(super) fn unexplained(focus: &Focus, pieces: &[Piece]) -> Vec<Unexplained> {
    let of_sets = focus
        .posterior
        .of_sets()
        .expect("no evidence is impossible");
    let mut found: Vec<Unexplained> = pieces
        .iter()
        .zip(&focus.likelihoods)
        .filter(|(piece, _)| piece.origin == Origin::Seen)
        .filter_map(|(piece, likelihoods)| {
            let Likelihoods::Noisy { leak, absent, .. } = likelihoods else {
                return None;
            };
            if *leak > RARE {
                return None;
            }
            let none = focus.posterior.hypotheses().products(absent);
            let by_leak = |none: f64| leak * none / (1.0 - (1.0 - leak) * none);
            let chance = of_sets
                .iter()
                .zip(none)
                .map(|(probability, none)| probability * by_leak(none))
                .sum();
            Some(Unexplained {
                says: piece.says.clone(),
                chance,
            })
        })
        .filter(|unexplained| unexplained.chance > UNEXPLAINED)
        .collect();
    found.sort_by(|a, b| b.chance.total_cmp(&a.chance));
    found
}

/// The seen or read pieces that the rest of the evidence speaks against, each with the one that
/// does so most; worst first.
///
/// Of each piece its chance by itself over its chance given all others is taken; then that other
/// piece without which it would be least surprising.
pub(super) fn contradictions(focus: &Focus, pieces: &[Piece]) -> Vec<Contradiction> {
    let told: Vec<usize> = (0..pieces.len())
        .filter(|piece| matches!(pieces[*piece].origin, Origin::Seen | Origin::Read))
        .collect();
    let without = |belief: &Belief, piece: usize| {
        let mut belief = belief.clone();
        belief.take_out(&focus.likelihoods[piece]);
        belief
    };
    let mut found: Vec<Contradiction> = Vec::new();
    for &piece in &told {
        let mut alone = focus.prior.clone();
        alone.weigh(&focus.likelihoods[piece]);
        let by_itself = alone.evidence() / focus.prior.evidence();
        let given_the_rest = |all: &Belief| all.evidence() / without(all, piece).evidence();
        let times_rarer = by_itself / given_the_rest(&focus.posterior);
        if times_rarer < CONTRADICTORY {
            continue;
        }
        let others = told.iter().filter(|other| **other != piece);
        let least_surprising = others
            .map(|other| (*other, given_the_rest(&without(&focus.posterior, *other))))
            .max_by(|a, b| a.1.total_cmp(&b.1));
        let Some((other, _)) = least_surprising else {
            continue;
        };
        let pair = [piece, other].map(|piece| pieces[piece].says.clone());
        if !found
            .iter()
            .any(|known| known.pieces.iter().all(|says| pair.contains(says)))
        {
            found.push(Contradiction {
                pieces: pair,
                times_rarer,
            });
        }
    }
    found.sort_by(|a, b| b.times_rarer.total_cmp(&a.times_rarer));
    found
}
