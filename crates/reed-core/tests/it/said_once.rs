//! Every constant says where it comes from, and none is written down twice.

use reed_core::units::masses;
use reed_core::water::oxygen::demand::{NITROGEN_PER_PROTEIN, OXYGEN_PER_NITROGEN};

use crate::sources::{code_of, files, sources};

/// Words by which a constant says where it comes from.
const ORIGINS: &[&str] = &[
    "judg",
    "from memory",
    "common practice",
    "publish",
    "rehears",
    "exact",
    "stoichiometry",
    "by definition",
    "numeric",
    "such samplers",
];

/// A number without a source is one that nobody can check, change or trust.
#[test]
fn every_constant_has_a_source_or_is_a_judgement() {
    let (mut bare, mut seen) = (Vec::new(), 0);
    for path in sources(&["reed-core/src"]) {
        let code = code_of(&path);
        // Constants that stand together share what stands above them.
        let mut above = String::new();
        let mut last_was_constant = false;
        for line in code.lines() {
            let line = line.trim();
            let is_number = line.contains("const ")
                && [": f64 =", ": [f64; ", ": (f64, f64)"]
                    .iter()
                    .any(|kind| line.contains(kind))
                && !line.contains("fn ")
                && !line.starts_with("//");
            if line.starts_with("//") {
                if !last_was_constant && !above.ends_with(' ') {
                    above.clear();
                }
                above = format!("{above}{} ", line.trim_start_matches('/').trim());
                last_was_constant = false;
            } else if is_number {
                seen += 1;
                let text = above.to_lowercase();
                let by_year = text
                    .split(|letter: char| !letter.is_ascii_digit())
                    .any(|word| {
                        word.len() == 4 && (word.starts_with("19") || word.starts_with("20"))
                    });
                if !by_year && !ORIGINS.iter().any(|origin| text.contains(origin)) {
                    bare.push(format!("{}: {line}", path.display()));
                }
                last_was_constant = true;
            } else if line.contains("const ")
                || line.starts_with("#[")
                || line.ends_with("),")
                || line.ends_with(");")
                || line.starts_with('"')
            {
                last_was_constant = line.contains("const ");
            } else {
                above.clear();
                last_was_constant = false;
            }
        }
    }
    assert!(bare.is_empty(), "say where these come from: {bare:#?}");
    assert!(
        seen > 100,
        "{seen} constants seen: is the code read at all?"
    );
}

/// What a page says of a figure is made from the figure: the number itself stands in one file.
#[test]
fn no_figure_is_quoted_by_hand() {
    let figures = [
        (NITROGEN_PER_PROTEIN.value, "demand.rs"),
        (OXYGEN_PER_NITROGEN.value, "demand.rs"),
        (0.279, "exchange.rs"),
        (1.024, "exchange.rs"),
        (masses::NITRATE_PER_NITROGEN, "masses.rs"),
        (masses::NITRITE_PER_NITROGEN, "masses.rs"),
        (masses::AMMONIUM_PER_NITROGEN, "masses.rs"),
        (masses::DEGREES_PER_MEQ, "masses.rs"),
        (masses::CALCIUM_CARBONATE_PER_DEGREE, "masses.rs"),
    ];
    let mut texts: Vec<(std::path::PathBuf, String)> = sources(&[
        "reed-core/src",
        "reed-web/src",
        "reed-store/src",
        "zesty-reed/src",
    ])
    .into_iter()
    .map(|path| (path.clone(), code_of(&path)))
    .collect();
    let pages = files(&["reed-web/templates"], "html");
    texts.extend(pages.into_iter().map(|path| {
        let text = std::fs::read_to_string(&path).expect("a template");
        (path, text)
    }));
    for (figure, home) in figures {
        let digits = figure.to_string();
        let mut homes = Vec::new();
        for (path, text) in &texts {
            let whole = |(at, _): (usize, &str)| {
                let before = text[..at].chars().next_back();
                let after = text[at + digits.len()..].chars().next();
                !before.is_some_and(|letter| letter.is_ascii_digit() || letter == '.')
                    && !after.is_some_and(|letter| letter.is_ascii_digit())
            };
            if text.match_indices(&digits).any(whole) {
                homes.push(path.display().to_string());
            }
        }
        assert!(
            homes.len() == 1 && homes[0].ends_with(home),
            "{digits} belongs in {home} alone and stands in {homes:#?}"
        );
    }
}
