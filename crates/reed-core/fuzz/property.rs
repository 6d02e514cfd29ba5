//! What must hold for any text given as a file: it is read or refused with words, never more; what
//! was read and is written is read again as the same.

use reed_core::document::Document;

/// Checks one text.
pub(crate) fn holds(text: &str) {
    match Document::read(text) {
        Ok(opened) => {
            let written = opened.document.write();
            let again = Document::read(&written).expect("what the program writes it reads");
            assert_eq!(again.document, opened.document, "{written}");
        }
        Err(refused) => {
            assert!(refused.0.iter().all(|why| !why.is_empty()) && !refused.0.is_empty());
        }
    }
}
