//! What the suspects rest on, in words: what nothing explains, what does not go together, what would change the order.

use reed_core::diagnosis::Account;

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
        let hinge = account.hinges.iter().map(|hinge| format!("Without “{}”, “{}” would come first.", hinge.says, hinge.then_first.title));
        let strengths = match account.turns_at {
            Some(factor) => format!("It loses the first place if its links to the evidence are {factor} times weaker than stated."),
            None => "It stays first even if its links to the evidence are three times weaker than stated.".to_owned(),
        };
        Self {
            unexplained: account.unexplained.iter().map(|unexplained| unexplained.says.clone()).collect(),
            contradictions: account.contradictions.iter().take(SHOWN).map(|contradiction| contradiction.pieces.clone()).collect(),
            hinges: hinge.chain([strengths]).collect(),
        }
    }
}
