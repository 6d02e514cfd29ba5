//! Styles have rooms of their own: a page's rules hold for that page alone, and nothing is styled
//! that nothing has.

use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::{Path, PathBuf};

fn assets() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("assets")
}

fn files(folder: &Path, endings: &[&str], into: &mut Vec<PathBuf>) {
    for entry in fs::read_dir(folder).expect("a folder") {
        let path = entry.expect("an entry").path();
        if path.is_dir() {
            files(&path, endings, into);
        } else if endings
            .iter()
            .any(|ending| path.to_string_lossy().ends_with(ending))
        {
            into.push(path);
        }
    }
}

fn styles(folder: &str) -> BTreeMap<String, String> {
    let mut found = Vec::new();
    files(&assets().join("css").join(folder), &[".css"], &mut found);
    let name = |path: &PathBuf| {
        path.file_stem()
            .expect("a name")
            .to_string_lossy()
            .into_owned()
    };
    found
        .iter()
        .map(|path| {
            (
                name(path),
                without_comments(&fs::read_to_string(path).expect("a style")),
            )
        })
        .collect()
}

fn without_comments(css: &str) -> String {
    css.split("/*")
        .enumerate()
        .map(|(index, part)| {
            if index == 0 {
                part
            } else {
                part.split_once("*/").map_or("", |(_, rest)| rest)
            }
        })
        .collect()
}

/// What stands before each `{`: selectors and at-rules, with the depth at which they stand.
fn heads(css: &str) -> Vec<(usize, String)> {
    let (mut depth, mut head, mut heads) = (0, String::new(), Vec::new());
    for letter in css.chars() {
        match letter {
            '{' => {
                heads.push((depth, head.trim().to_owned()));
                head.clear();
                depth += 1;
            }
            '}' => {
                head.clear();
                depth -= 1;
            }
            ';' => head.clear(),
            _ => head.push(letter),
        }
    }
    assert_eq!(depth, 0, "every brace is closed");
    heads
}

fn classes(head: &str) -> BTreeSet<String> {
    let is_name = |letter: char| letter.is_alphanumeric() || letter == '-' || letter == '_';
    head.split('.')
        .skip(1)
        .map(|rest| {
            rest.chars()
                .take_while(|letter| is_name(*letter))
                .collect::<String>()
        })
        .filter(|class| class.chars().next().is_some_and(char::is_alphabetic))
        .collect()
}

fn classes_of(css: &str) -> BTreeSet<String> {
    heads(css)
        .iter()
        .filter(|(_, head)| !head.starts_with('@'))
        .flat_map(|(_, head)| classes(head))
        .collect()
}

#[test]
fn no_class_is_styled_by_two_pages_unless_it_is_a_part() {
    let parts: BTreeSet<String> = styles("parts")
        .values()
        .flat_map(|css| classes_of(css))
        .collect();
    let mut owner: BTreeMap<String, String> = BTreeMap::new();
    for (page, css) in styles("pages") {
        for class in classes_of(&css)
            .into_iter()
            .filter(|class| !parts.contains(class))
        {
            if let Some(other) = owner.insert(class.clone(), page.clone()) {
                panic!(
                    ".{class} is styled by {page} and by {other}: give it a name of its own, or make it a part"
                );
            }
        }
    }
}

#[test]
fn every_rule_of_a_page_stands_below_the_root_of_that_page() {
    for (page, css) in styles("pages") {
        for (_, head) in heads(&css)
            .iter()
            .filter(|(depth, head)| *depth == 0 && !head.starts_with("@media"))
        {
            assert_eq!(*head, format!(".{page}-page"), "{page}.css");
        }
    }
}

#[test]
fn each_colour_is_written_once_for_day_and_night() {
    for folder in ["", "parts", "pages"] {
        for (name, css) in styles(folder) {
            assert!(
                !css.contains("prefers-color-scheme"),
                "{name}.css: use light-dark()"
            );
        }
    }
    let base = fs::read_to_string(assets().join("css/base.css")).expect("a style");
    let sheet = "--sheet: ";
    assert_eq!(base.matches(sheet).count(), 1);
}

#[test]
fn every_class_that_is_styled_is_used_somewhere() {
    let mut sources = Vec::new();
    let root = Path::new(env!("CARGO_MANIFEST_DIR"));
    files(&root.join("templates"), &[".html"], &mut sources);
    files(&root.join("src"), &[".rs"], &mut sources);
    files(&root.join("assets/js"), &[".js"], &mut sources);
    let text: String = sources
        .iter()
        .map(|path| fs::read_to_string(path).expect("a source"))
        .collect();
    let is_name = |letter: char| letter.is_alphanumeric() || letter == '-' || letter == '_';
    let words: BTreeSet<&str> = text.split(|letter: char| !is_name(letter)).collect();
    // Names that are put together of parts, those of verdicts, which the core gives, and one of the
    // sheet below ours.
    let made = |class: &str| {
        [
            "proved",
            "partly",
            "not-proved",
            "cannot-tell",
            "is-multiple",
        ]
        .contains(&class)
            || class.ends_with("-page")
            || [
                "pin-", "map-", "heap-", "band-", "curve-", "limit-", "word-", "dot-", "chart-",
            ]
            .iter()
            .any(|start| class.starts_with(start))
    };
    let styles = styles("parts").into_iter().chain(styles("pages"));
    let unused: Vec<String> = styles
        .flat_map(|(name, css)| {
            classes_of(&css)
                .into_iter()
                .map(move |class| (name.clone(), class))
        })
        .filter(|(_, class)| !words.contains(class.as_str()) && !made(class))
        .map(|(name, class)| format!("{name}.css: .{class}"))
        .collect();
    assert_eq!(unused, Vec::<String>::new(), "nothing has these classes");
}
