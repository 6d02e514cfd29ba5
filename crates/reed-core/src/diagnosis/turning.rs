//! What would change the order: evidence that carries it alone, answers that would turn it,
//! strengths it depends on.

use super::belief::Likelihoods;
use super::evidence::Piece;
use super::fault::Fault;
use super::focus::Focus;
use super::hypothesis_space::HypothesisSpace;
use super::origin::Origin;

/// Without this piece of evidence another fault would come first.
#[derive(Clone, Debug)]
pub struct Hinge {
    /// What it says.
    pub says: String,
    /// What would come first.
    pub then_first: &'static Fault,
}

/// How much weaker the links of the first suspect to the evidence are made, to see whether it stays
/// first. A judgement.
const WEAKENED: [f64; 4] = [1.25, 1.5, 2.0, MOST_WEAKENED];
/// The most that is tried.
pub const MOST_WEAKENED: f64 = 3.0;

/// The seen or read pieces without any one of which another fault would come first.
pub(super) fn hinges(space: &HypothesisSpace, focus: &Focus, pieces: &[Piece]) -> Vec<Hinge> {
    let first = focus.first(&focus.posterior);
    let turned = |(piece, likelihoods): (&Piece, &Likelihoods)| {
        if !matches!(piece.origin, Origin::Seen | Origin::Read) {
            return None;
        }
        let mut without = focus.posterior.clone();
        without.take_out(likelihoods);
        let then = focus.first(&without);
        (then != first).then(|| Hinge {
            says: piece.says.clone(),
            then_first: space.candidates[then].fault,
        })
    };
    pieces
        .iter()
        .zip(&focus.likelihoods)
        .filter_map(turned)
        .collect()
}

/// The least factor among those tried by which the stated strengths of the first suspect can be too
/// high before another comes first; `None` if it stays first at all of them.
pub(super) fn sensitivity(focus: &Focus) -> Option<f64> {
    let first = focus.first(&focus.posterior);
    WEAKENED.into_iter().find(|factor| {
        let mut belief = focus.prior.clone();
        for likelihoods in &focus.likelihoods {
            belief.weigh(&weakened(likelihoods, first, *factor));
        }
        focus.first(&belief) != first
    })
}

/// The same evidence with a weaker link to one fault.
fn weakened(likelihoods: &Likelihoods, fault: usize, factor: f64) -> Likelihoods {
    let weaker = |absent: &[f64]| {
        let mut absent = absent.to_vec();
        absent[fault] = 1.0 - (1.0 - absent[fault]) / factor;
        absent
    };
    match likelihoods {
        Likelihoods::Noisy {
            sureness,
            leak,
            absent,
            factors,
            unless,
        } => Likelihoods::Noisy {
            sureness: *sureness,
            leak: *leak,
            absent: weaker(absent),
            factors: factors.clone(),
            unless: *unless,
        },
        // Of a plain no and of an event the factor moves towards one.
        Likelihoods::PerFault(healthy, of_faults) => {
            let mut of_faults = of_faults.clone();
            of_faults[fault] = 1.0 + (of_faults[fault] - 1.0) / factor;
            Likelihoods::PerFault(*healthy, of_faults)
        }
        other => other.clone(),
    }
}
