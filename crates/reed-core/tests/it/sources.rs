//! The project's own text, for laws about how it is written.

use std::fs;
use std::path::{Path, PathBuf};

/// Every file of this kind in these folders beside this crate.
pub(crate) fn files(folders: &[&str], kind: &str) -> Vec<PathBuf> {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
    let mut folders: Vec<PathBuf> = folders.iter().map(|folder| root.join(folder)).collect();
    let mut found = Vec::new();
    while let Some(folder) = folders.pop() {
        for entry in fs::read_dir(&folder).expect("a folder") {
            let path = entry.expect("an entry").path();
            if path.is_dir() {
                folders.push(path);
            } else if path.extension().is_some_and(|extension| extension == kind) {
                found.push(path);
            }
        }
    }
    found.sort();
    found
}

/// Every source file of these folders beside this crate, but for files of tests.
pub(crate) fn sources(folders: &[&str]) -> Vec<PathBuf> {
    let mut found = files(folders, "rs");
    found.retain(|path| !path.ends_with("tests.rs"));
    found
}

/// A file without its tests.
pub(crate) fn code_of(path: &Path) -> String {
    let text = fs::read_to_string(path).expect("a source");
    text.split("#[cfg(test)]\nmod ")
        .next()
        .expect("a first part")
        .to_owned()
}
