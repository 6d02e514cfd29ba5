//! One of a closed set from which a keeper chooses.

/// One choice of a closed set.
#[derive(Clone, Copy, Debug)]
pub struct Choice {
    /// Id as in the document.
    pub id: &'static str,
    /// In the keeper's words.
    pub words: &'static str,
}
