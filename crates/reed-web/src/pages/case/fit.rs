//! What the suspects rest on, in words: what nothing explains, what does not go together, what
//! would change the order.

use reed_core::diagnosis::fault::{self, Fault};
use reed_core::diagnosis::{Account, Differential, MOST_WEAKENED};

use super::evidence::{ReasonView, reasons};
use crate::view::percent;

/// Each a list of sentences; empty where there is nothing to say.
pub(super) struct FitView {
    /// Signs that nothing on the list explains.
    pub(super) unexplained: Vec<String>,
    /// Two pieces of evidence that hardly go together.
    pub(super) contradictions: Vec<[String; 2]>,
    /// What the first place hangs on.
    pub(super) hinges: Vec<String>,
}

/// Contradictions shown: more than two of them only say again that something is off.
const SHOWN: usize = 2;

impl FitView {
    pub(super) fn of(account: &Account) -> Self {
        let hinge = account.hinges.iter().map(|hinge| {
            format!(
                "Without “{}”, “{}” would come first.",
                hinge.says, hinge.then_first.title
            )
        });
        let strengths = match account.turns_at {
            Some(factor) => format!(
                "It loses the first place if its links to the evidence are {factor} times weaker than stated."
            ),
            None => format!(
                "It stays first even if its links to the evidence are {MOST_WEAKENED} times weaker than stated."
            ),
        };
        Self {
            unexplained: account
                .unexplained
                .iter()
                .map(|unexplained| unexplained.says.clone())
                .collect(),
            contradictions: account
                .contradictions
                .iter()
                .take(SHOWN)
                .map(|contradiction| contradiction.pieces.clone())
                .collect(),
            hinges: hinge.chain([strengths]).collect(),
        }
    }
}

/// The answer to “why not this one?”, for any fault the keeper has in mind.
pub(super) struct WhyNot {
    /// Every fault: id, title, whether it is the one asked about.
    pub(super) faults: Vec<(&'static str, &'static str, bool)>,
    /// What can be said about the one asked about.
    pub(super) says: Option<WhyNotView>,
}

/// What can be said about one fault.
pub(super) struct WhyNotView {
    pub(super) title: &'static str,
    pub(super) what: &'static str,
    /// Its probability, or why it cannot be.
    pub(super) verdict: String,
    pub(super) reasons: Vec<ReasonView>,
    /// Questions that would tell most about it, if they were answered.
    pub(super) settled_by: Vec<&'static str>,
}

impl WhyNot {
    pub(super) fn of(
        differential: &Differential,
        account: &Account,
        asked: Option<&'static Fault>,
    ) -> Self {
        let mut faults: Vec<_> = fault::all()
            .map(|fault| (fault.id, fault.title, Some(fault) == asked))
            .collect();
        faults.sort_by_key(|(_, title, _)| *title);
        Self {
            faults,
            says: asked.map(|fault| WhyNotView::of(differential, account, fault)),
        }
    }
}

impl WhyNotView {
    fn of(differential: &Differential, account: &Account, fault: &'static Fault) -> Self {
        let out = differential.ruled_out.iter().find(|out| out.fault == fault);
        let suspect = differential
            .suspects
            .iter()
            .find(|suspect| suspect.fault == fault);
        let verdict = match (out, suspect) {
            (Some(out), _) => format!("It cannot be. {}", out.why),
            (None, Some(_)) => format!(
                "{} likely, by everything that is known.",
                percent(differential.probability(fault))
            ),
            (None, None) => "There is no reading that it could be about.".to_owned(),
        };
        Self {
            title: fault.title,
            what: fault.what,
            verdict,
            reasons: suspect
                .and_then(|suspect| account.why(suspect))
                .map_or_else(Vec::new, reasons),
            settled_by: fault.settled_by.iter().map(|check| check.title).collect(),
        }
    }
}
