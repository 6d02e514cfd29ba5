//! The floors of the core: whoever stands on one looks down, never up.

use std::collections::BTreeMap;
use std::path::Path;

use crate::sources::{code_of, sources};

/// The modules of the core from the ground up; those of one floor do not know each other.
const CORE: &[&[&str]] = &[
    &["choice", "figure", "statistics", "units"],
    &["field"],
    &["tank"],
    &["log", "sensor"],
    &["document", "water"],
    &["filter"],
    &["flow"],
    &["twin"],
    &["outlook"],
    &["alarm", "diagnosis"],
    &["remedy"],
    &["routine"],
    &["rehearsal"],
];

/// The same of the diagnosis. The cards name each other, and some are weighed from all that was
/// observed: they share one floor, in which every file may know every other.
const DIAGNOSIS: &[&[&str]] = &[
    &["belief", "distress", "origin"],
    &[
        "case", "check", "declined", "fault", "finding", "losses", "observed", "record",
    ],
    &["hypothesis_space"],
    &["evidence"],
    &["located"],
    &["differential"],
    &["file", "focus", "prospect"],
    &["decision", "explain", "fit", "turning", "world"],
    &["next_check"],
    &["round"],
    &["lookahead"],
    &["account"],
];

/// The floor on which files may know each other.
const CARDS: &str = "check";

#[test]
fn the_core_looks_down_only() {
    looks_down(&[], CORE);
}

#[test]
fn the_diagnosis_looks_down_only() {
    looks_down(&["diagnosis"], DIAGNOSIS);
}

/// Every module below `within` stands on a floor, and what it names stands on a lower one.
fn looks_down(within: &[&str], floors: &[&[&str]]) {
    let floor_of: BTreeMap<&str, usize> = (floors.iter().enumerate())
        .flat_map(|(floor, modules)| modules.iter().map(move |module| (*module, floor)))
        .collect();
    let folder = within.iter().fold(
        Path::new(env!("CARGO_MANIFEST_DIR")).join("../reed-core/src"),
        |folder, module| folder.join(module),
    );
    let (mut wrong, mut looked_at) = (Vec::new(), 0);
    for file in sources(&["reed-core/src"]) {
        let Ok(inside) = file.strip_prefix(&folder) else {
            continue;
        };
        let module: Vec<String> = module_of(inside);
        let Some(own) = module
            .first()
            .filter(|own| *own != "lib" && *own != "macros")
        else {
            continue;
        };
        let Some(floor) = floor_of.get(own.as_str()) else {
            wrong.push(format!("{own} stands on no floor"));
            continue;
        };
        let own_path: Vec<String> = (within.iter().map(|module| (*module).to_owned()))
            .chain(module.iter().cloned())
            .collect();
        for named in named_modules(&without_comments(&code_of(&file)), &own_path) {
            let is_within = named.len() > within.len()
                && named.iter().zip(within).all(|(one, other)| one == other);
            let Some(other) = named.get(within.len()).filter(|_| is_within) else {
                continue;
            };
            let Some(above) = floor_of.get(other.as_str()) else {
                continue;
            };
            looked_at += 1;
            let may =
                above < floor || other == own || above == floor && floors[*floor].contains(&CARDS);
            if !may {
                wrong.push(format!("{} looks up to {other}", inside.display()));
            }
        }
    }
    wrong.sort();
    wrong.dedup();
    assert!(wrong.is_empty(), "{wrong:#?}");
    assert!(
        looked_at > 50,
        "{looked_at} paths seen: is the code read at all?"
    );
}

/// The module of a file: `twin/mod.rs` is `twin`, `twin/numbers.rs` is `twin::numbers`.
fn module_of(file: &Path) -> Vec<String> {
    let without = file.with_extension("");
    let mut parts: Vec<String> = without
        .iter()
        .map(|part| part.to_string_lossy().into_owned())
        .collect();
    if parts.last().is_some_and(|last| last == "mod") {
        parts.pop();
    }
    parts
}

/// A text without its comments.
fn without_comments(text: &str) -> String {
    let line = |line: &str| line.split("//").next().map(str::to_owned);
    text.lines().filter_map(line).collect::<Vec<_>>().join("\n")
}

/// Every path that begins with `crate` or `super`, from the root of the crate; of a list in braces
/// each entry.
fn named_modules(code: &str, own: &[String]) -> Vec<Vec<String>> {
    let mut found = Vec::new();
    for start in ["crate::", "super::"] {
        for (at, _) in code.match_indices(start) {
            let is_start = !code[..at].ends_with(|before: char| {
                before.is_alphanumeric() || before == '_' || before == ':'
            });
            if is_start {
                expand(&code[at..], &mut Vec::new(), &mut found);
            }
        }
    }
    let rooted = |path: Vec<String>| {
        let ups = path.iter().take_while(|part| *part == "super").count();
        let rest = path
            .into_iter()
            .skip_while(|part| part == "super" || part == "crate");
        let base = if ups == 0 {
            &[][..]
        } else {
            &own[..own.len().saturating_sub(ups)]
        };
        base.iter().cloned().chain(rest).collect()
    };
    found.into_iter().map(rooted).collect()
}

/// Reads one path, or every entry of a list, and returns what follows.
fn expand<'a>(text: &'a str, before: &mut Vec<String>, found: &mut Vec<Vec<String>>) -> &'a str {
    let text = text.trim_start();
    let known = before.len();
    if let Some(mut list) = text.strip_prefix('{') {
        loop {
            list = expand(list, before, found).trim_start();
            match list.strip_prefix(',') {
                Some(more) if !more.trim_start().starts_with('}') => list = more,
                Some(more) => return more.trim_start().trim_start_matches('}'),
                None => return list.strip_prefix('}').unwrap_or(list),
            }
        }
    }
    let end = text.find(|letter: char| !(letter.is_alphanumeric() || letter == '_'));
    let (word, rest) = text.split_at(end.unwrap_or(text.len()));
    before.push(word.to_owned());
    let rest = match rest.strip_prefix("::") {
        Some(more) => expand(more, before, found),
        None => {
            found.push(before.clone());
            rest
        }
    };
    before.truncate(known);
    rest
}

/// The reader of paths reads what it is meant to: else a floor would be kept by not looking.
#[test]
fn every_path_is_seen() {
    let own = [
        "diagnosis".to_owned(),
        "evidence".to_owned(),
        "readings".to_owned(),
    ];
    let seen: Vec<String> = named_modules(
        "use super::super::belief::{FaultSet, Likelihoods};\nuse crate::{tank::{Tank, kit::Kit}, twin};",
        &own,
    )
    .iter()
    .map(|path| path.join("::"))
    .collect();
    assert_eq!(
        seen,
        [
            "tank::Tank",
            "tank::kit::Kit",
            "twin",
            "diagnosis::belief::FaultSet",
            "diagnosis::belief::Likelihoods"
        ]
    );
}
