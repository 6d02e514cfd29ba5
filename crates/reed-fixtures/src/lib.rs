//! Scenes and reference tables for tests and benches; never part of the application.
//!
//! `reference/*.csv` were made with independent libraries; each names its source and tolerance in
//! its head.

pub mod keepers;
pub mod reference;
pub mod tanks;

use std::path::PathBuf;

/// The examples of the open file that ship with the project, by file name.
///
/// # Panics
/// When the folder cannot be read.
pub fn examples() -> Vec<(String, String)> {
    documents_in("../../examples")
}

/// Files as version 1 of the format had them: what released programs wrote must be read for ever.
///
/// # Panics
/// When the folder cannot be read.
pub fn version_1() -> Vec<(String, String)> {
    documents_in("released/zesty-reed-1")
}

/// Files as version 2 of the format wrote them: name and text.
pub fn version_2() -> Vec<(String, String)> {
    documents_in("released/zesty-reed-2")
}

fn documents_in(folder: &str) -> Vec<(String, String)> {
    let mut files: Vec<_> =
        std::fs::read_dir(PathBuf::from(env!("CARGO_MANIFEST_DIR")).join(folder))
            .expect("the folder is part of the project")
            .map(|entry| entry.expect("readable").path())
            .filter(|path| path.to_string_lossy().ends_with(".reed.json"))
            .map(|path| {
                (
                    path.file_name()
                        .expect("a file")
                        .to_string_lossy()
                        .into_owned(),
                    std::fs::read_to_string(&path).expect("readable"),
                )
            })
            .collect();
    files.sort();
    files
}

/// One example by the start of its file name.
///
/// # Panics
/// When there is none.
pub fn example(name: &str) -> String {
    examples()
        .into_iter()
        .find(|(file, _)| file.starts_with(name))
        .unwrap_or_else(|| panic!("no example {name}"))
        .1
}
