//! Small drawings of a yes and of a no, since people recognise sooner than they read. Drawn with
//! the pen of the tank's drawing: water, fish and lines in the same colours.
//!
//! To add one: the finding's line in its place below, from the shapes below it. All lie in a field of 80
//! by 50.

use reed_core::diagnosis::Answer;
use reed_core::diagnosis::finding::Finding;

/// What this finding looks like where it is so, or not; nothing where it is not drawn.
pub(crate) fn sketch(finding: &Finding, answer: Answer) -> Option<String> {
    let [yes, no] = drawn(finding.id)?;
    let shapes = if answer == Answer::Yes { yes } else { no };
    Some(format!(
        r#"<svg class="sketch" viewBox="0 0 80 50" aria-hidden="true">{shapes}</svg>"#
    ))
}

/// The yes and the no of a finding.
fn drawn(finding: &str) -> Option<[String; 2]> {
    [surface, outlet, animals, water, bed, filter]
        .into_iter()
        .find_map(|place| place(finding))
}

/// Water in which nothing is seen.
fn clear() -> String {
    still("")
}

/// At the surface.
fn surface(finding: &str) -> Option<[String; 2]> {
    Some(match finding {
        "surface-flat" => [still(&line("M14 20h12M34 20h12M54 20h12")), moving("")],
        "surface-film" => [
            still(r#"<path class="sk-film" d="M10 12H34M40 12H56M62 12H71"/>"#),
            clear(),
        ],
        "foam-stays" => [
            still(&rings(&[
                (30, 10, 4),
                (38, 8, 5),
                (46, 10, 4),
                (34, 5, 3),
                (43, 4, 3),
                (53, 11, 2),
            ])),
            moving(&rings(&[(30, 16, 1)])),
        ],
        "water-level-low" => [at_level(22, MARK), at_level(12, MARK)],
        _ => return None,
    })
}

/// At the outlet.
fn outlet(finding: &str) -> Option<[String; 2]> {
    Some(match finding {
        "outlet-under-surface" => [
            still(&[PIPE, &line("M24 27h22M24 31h16")].concat()),
            moving(&[PIPE, &line("M24 25L48 12M24 29L40 22")].concat()),
        ],
        "outlet-mid-water" => [
            still(&[DEEP_PIPE, &line("M24 34h26")].concat()),
            moving(&[PIPE, &line("M24 25L48 12")].concat()),
        ],
        "outlet-draws-air" => [
            still(
                &[
                    PIPE,
                    &line("M36 12C38 18 32 20 26 25M48 12C44 20 36 24 26 27"),
                    &rings(&[(33, 24, 1), (38, 28, 1), (44, 26, 1)]),
                ]
                .concat(),
            ),
            still(&[PIPE, &line("M24 26h26")].concat()),
        ],
        "outlet-bubbles-constant" => [
            still(
                &[
                    PIPE,
                    &rings(&[
                        (28, 24, 1),
                        (33, 27, 1),
                        (38, 24, 1),
                        (43, 27, 1),
                        (48, 24, 1),
                        (53, 26, 1),
                        (58, 23, 1),
                    ]),
                ]
                .concat(),
            ),
            still(&[PIPE, &line("M26 26h30")].concat()),
        ],
        "outlet-bubbles-bursts" => [
            still(
                &[
                    PIPE,
                    &rings(&[
                        (30, 25, 3),
                        (35, 22, 2),
                        (34, 29, 2),
                        (62, 22, 3),
                        (67, 26, 2),
                        (64, 29, 2),
                    ]),
                    &line("M41 26h14"),
                ]
                .concat(),
            ),
            still(&[PIPE, &line("M26 26h30")].concat()),
        ],
        "flow-weak" => [
            still(&[PIPE, &line("M25 26h9m-3-3l3 3-3 3")].concat()),
            still(&[PIPE, &line("M25 26h36m-4-4l4 4-4 4")].concat()),
        ],
        _ => return None,
    })
}

/// Of the animals.
fn animals(finding: &str) -> Option<[String; 2]> {
    Some(match finding {
        "pumping-gills" => [
            [fish(38, 27, 0, "sk-fish"), line("M40 21c-4 4-4 8 0 12M36 20c-5 5-5 10 0 14M58 22l4-3M59 27h5M58 32l4 3")].concat(),
            [fish(38, 27, 0, "sk-fish"), line("M41 23c-2 3-2 5 0 8")].concat(),
        ],
        "keeps-to-top" => [
            still(&[fish(24, 18, 0, "sk-fish"), fish(44, 17, 0, "sk-fish"), fish(62, 19, 0, "sk-fish")].concat()),
            still(&[fish(24, 18, 0, "sk-fish"), fish(52, 28, 0, "sk-fish"), fish(28, 38, 0, "sk-fish")].concat()),
        ],
        "gasping" => [
            still(&[fish(30, 21, -48, "sk-fish"), fish(54, 21, -48, "sk-fish"), rings(&[(40, 9, 2), (63, 8, 2)])].concat()),
            still(&[fish(28, 30, 0, "sk-fish"), fish(54, 24, 0, "sk-fish")].concat()),
        ],
        "pale-listless" => [still(&fish(40, 39, 8, "sk-pale")), still(&fish(40, 26, 0, "sk-fish"))],
        "irritated" => [
            still(&[STONE, &fish(34, 34, 38, "sk-fish"), &line("M26 40l-4 3M46 26l5-3M30 25l-2-5")].concat()),
            still(&[STONE, &fish(34, 24, 0, "sk-fish")].concat()),
        ],
        "bullied" => [
            still(&[fish(26, 28, 0, "sk-fish"), small_fish(58, 20, -20), line("M40 26l8-3m-4-1l4 1-2 4")].concat()),
            still(&[fish(26, 34, 0, "sk-fish"), small_fish(58, 20, 0)].concat()),
        ],
        "thin-fish" => [
            r#"<path class="sk-fish" d="M20 22C30 16 48 16 60 24C50 27 46 25 40 25C32 25 28 28 20 26L10 18V32Z"/>"#.to_owned() + EYE,
            r#"<path class="sk-fish" d="M20 23C30 15 48 15 60 24C50 36 32 38 20 27L10 18V32Z"/>"#.to_owned() + EYE,
        ],
        "pushed-by-current" => [
            still(&[fish(46, 28, -24, "sk-fish"), line("M8 20h20M8 28h22M8 36h20M25 17l4 3-4 3M27 25l4 3-4 3")].concat()),
            still(&fish(42, 28, 0, "sk-fish")),
        ],
        "bubbles-on-fish" => [
            [fish(40, 25, 0, "sk-fish"), rings(&[(34, 19, 2), (42, 18, 2), (48, 21, 2), (36, 31, 2), (45, 31, 2), (26, 21, 2)])].concat(),
            fish(40, 25, 0, "sk-fish"),
        ],
        _ => return None,
    })
}

/// At the filter.
fn filter(finding: &str) -> Option<[String; 2]> {
    Some(match finding {
        "fine-media-clogged" => [pad("sk-muck"), pad("sk-clean")],
        "prefilter-dirty" => [sponge("sk-muck"), sponge("sk-clean")],
        "gurgle-or-rattle" => [
            canister(&line("M58 16l4 4-4 4 4 4-4 4M66 14l4 5-4 5 4 5-4 5")),
            canister(""),
        ],
        "air-under-lid" => [
            canister(
                &[
                    r#"<rect class="sk-air" x="24" y="14" width="30" height="9"/>"#,
                    &line("M24 23h30"),
                ]
                .concat(),
            ),
            canister(""),
        ],
        "damp-or-drip" => [
            canister(
                r#"<path class="sk-drop" d="M62 26c3 5 4 7 0 9c-4-2-3-4 0-9ZM50 48c2-4 24-4 26 0Z"/>"#,
            ),
            canister(""),
        ],
        "hose-kinked" => [
            line_thick("M10 10C30 10 36 22 40 24L34 28C40 34 50 40 70 40"),
            line_thick("M10 10C34 10 44 40 70 40"),
        ],

        _ => return None,
    })
}

/// In the water.
fn water(finding: &str) -> Option<[String; 2]> {
    Some(match finding {
        "bubbles-in-water" => [
            still(&rings(&[
                (16, 20, 1),
                (24, 32, 1),
                (30, 22, 1),
                (36, 38, 1),
                (42, 18, 1),
                (48, 30, 1),
                (54, 22, 1),
                (60, 36, 1),
                (66, 19, 1),
                (20, 40, 1),
            ])),
            clear(),
        ],
        "bubbles-on-panes" => [
            still(&rings(&[
                (8, 18, 2),
                (7, 26, 2),
                (9, 34, 2),
                (7, 41, 1),
                (72, 17, 2),
                (73, 25, 2),
                (71, 33, 2),
                (73, 40, 1),
            ])),
            clear(),
        ],
        "particles-drifting" => [
            still(&spots(
                "sk-muck",
                &[
                    (18, 22, 1),
                    (26, 34, 1),
                    (34, 20, 1),
                    (40, 30, 1),
                    (48, 38, 1),
                    (54, 22, 1),
                    (62, 32, 1),
                    (66, 18, 1),
                    (22, 41, 1),
                ],
            )),
            clear(),
        ],
        "cloudy-white" => [with_plant("sk-haze"), with_plant("")],
        "tint-brown" => [with_plant("sk-brown"), with_plant("")],
        _ => return None,
    })
}

/// On the bed.
fn bed(finding: &str) -> Option<[String; 2]> {
    Some(match finding {
        "nuisance-algae" => [
            still(&line(
                "M12 46c-3-6 3-8 0-14M18 46c-3-5 2-8-1-12M26 46c3-6-3-9 1-15M58 46c-3-6 3-8 0-13M66 46c3-6-3-9 1-16M72 30c-4-2-2-6-4-8",
            )),
            clear(),
        ],
        "muck-everywhere" => [
            still(&spots(
                "sk-muck",
                &[
                    (10, 43, 3),
                    (18, 44, 2),
                    (26, 43, 3),
                    (35, 44, 2),
                    (43, 43, 3),
                    (52, 44, 2),
                    (60, 43, 3),
                    (69, 44, 3),
                ],
            )),
            clear(),
        ],
        "muck-one-pile" => [
            still(r#"<path class="sk-muck" d="M44 46C50 34 62 34 70 46Z"/>"#),
            clear(),
        ],
        "muck-behind-structure" => [
            still(
                &[
                    STONE,
                    r#"<path class="sk-muck" d="M57 46C60 38 68 38 72 46Z"/>"#,
                ]
                .concat(),
            ),
            still(STONE),
        ],
        "bed-black-or-gassing" => [
            still(
                &[
                    r#"<rect class="sk-sand" x="4" y="38" width="72" height="8"/>"#,
                    &spots("sk-black", &[(20, 43, 4), (44, 44, 3), (62, 42, 4)]),
                    &rings(&[(44, 33, 2), (46, 25, 2)]),
                ]
                .concat(),
            ),
            still(r#"<rect class="sk-sand" x="4" y="38" width="72" height="8"/>"#),
        ],
        _ => return None,
    })
}

/// An outlet below the surface, in the left end.
const PIPE: &str = r#"<path class="sk-line" d="M13 2V26H23V30H9V2"/>"#;
/// The same deep down.
const DEEP_PIPE: &str = r#"<path class="sk-line" d="M13 2V32H23V36H9V2"/>"#;
/// A stone on the bed.
const STONE: &str = r#"<path class="sk-stone" d="M38 46C40 34 50 32 56 40L58 46Z"/>"#;
/// The mark at which the water stands as a rule.
const MARK: &str = r#"<path class="sk-mark" d="M66 12h10"/>"#;
const EYE: &str = r#"<circle class="sk-eye" cx="54" cy="22" r="1.4"/>"#;

/// A tank whose water stands so high, with something in it.
fn at_level(top: i32, inside: &str) -> String {
    let depth = 46 - top;
    format!(
        r#"<rect class="sk-water" x="4" y="{top}" width="72" height="{depth}"/><path class="sk-line" d="M4 {top}H76"/><path class="sk-line" d="M4 4V46H76V4"/>{inside}"#
    )
}

/// A tank with a still surface.
fn still(inside: &str) -> String {
    format!(r##"<use href="#sk-still"/>{inside}"##)
}

/// A tank whose surface dances.
fn moving(inside: &str) -> String {
    format!(r##"<use href="#sk-moving"/>{inside}"##)
}

/// What many of them share; stands once on a page that shows any.
pub(crate) fn sketch_symbols() -> String {
    let surface = "M4 13C8 8 12 8 16 13S24 17 28 12S36 8 40 13S48 17 52 12S60 8 64 13S72 16 76 12";
    format!(
        r#"<svg class="visually-hidden" aria-hidden="true"><symbol id="sk-still" viewBox="0 0 80 50">{}</symbol><symbol id="sk-moving" viewBox="0 0 80 50"><path class="sk-water" d="{surface}V46H4Z"/><path class="sk-line" d="{surface}"/><path class="sk-line" d="M4 4V46H76V4"/></symbol></svg>"#,
        at_level(12, "")
    )
}

/// A tank with a plant, seen through this veil; none where it is empty.
fn with_plant(veil: &str) -> String {
    let plant = r#"<path class="sk-plant" d="M30 46C28 36 34 30 28 20M30 40C36 36 38 32 38 26M30 38C24 34 22 30 22 26"/>"#;
    let veiled = if veil.is_empty() {
        String::new()
    } else {
        format!(r#"<rect class="{veil}" x="4" y="12" width="72" height="34"/>"#)
    };
    still(&[plant, &fish(56, 30, 0, "sk-fish"), &veiled].concat())
}

fn fish(x: i32, y: i32, turned: i32, class: &str) -> String {
    format!(
        r#"<g transform="translate({x} {y}) rotate({turned})"><path class="{class}" d="M-10 0C-5 -6 5 -6 11 0C5 6 -5 6 -10 0L-16 -5V5Z"/><circle class="sk-eye" cx="6" cy="-1.5" r="1.3"/></g>"#
    )
}

fn small_fish(x: i32, y: i32, turned: i32) -> String {
    format!(
        r#"<g transform="translate({x} {y}) rotate({turned}) scale(0.6)">{}</g>"#,
        fish(0, 0, 0, "sk-fish")
    )
}

fn rings(at: &[(i32, i32, i32)]) -> String {
    at.iter()
        .map(|(x, y, r)| format!(r#"<circle class="sk-ring" cx="{x}" cy="{y}" r="{r}"/>"#))
        .collect()
}

fn spots(class: &str, at: &[(i32, i32, i32)]) -> String {
    at.iter()
        .map(|(x, y, r)| {
            format!(
                r#"<ellipse class="{class}" cx="{x}" cy="{y}" rx="{}" ry="{r}"/>"#,
                r + 2
            )
        })
        .collect()
}

fn line(path: &str) -> String {
    format!(r#"<path class="sk-line" d="{path}"/>"#)
}

fn line_thick(path: &str) -> String {
    format!(r#"<path class="sk-hose" d="{path}"/><path class="sk-hose-in" d="{path}"/>"#)
}

/// A pad of fine floss, its pores full or open.
fn pad(pores: &str) -> String {
    let rows = [16, 25, 34]
        .into_iter()
        .flat_map(|y| [16, 28, 40, 52, 64].map(|x| (x, y, 2)));
    let pores = spots(pores, &rows.collect::<Vec<_>>());
    format!(r#"<rect class="sk-line" x="8" y="9" width="64" height="33" rx="3"/>{pores}"#)
}

/// The sponge on an intake.
fn sponge(pores: &str) -> String {
    let rows = [
        (32, 24, 2),
        (42, 22, 2),
        (50, 26, 2),
        (34, 34, 2),
        (44, 33, 2),
        (50, 39, 2),
        (36, 42, 2),
    ];
    format!(
        r#"<path class="sk-line" d="M36 2V16M44 2V16"/><rect class="sk-line" x="26" y="16" width="30" height="31" rx="5"/>{}"#,
        spots(pores, &rows)
    )
}

fn canister(more: &str) -> String {
    format!(
        r#"<rect class="sk-water" x="24" y="14" width="30" height="32"/><path class="sk-line" d="M24 14H54V46H24ZM22 14c0-4 2-6 6-6h22c4 0 6 2 6 6ZM32 8V2M46 8V2"/>{more}"#
    )
}

#[cfg(test)]
mod tests {
    use super::{Answer, sketch};
    use reed_core::diagnosis::finding;

    #[test]
    fn a_yes_never_looks_like_a_no_and_the_looks_asked_most_are_drawn() {
        let drawn: Vec<_> = finding::all()
            .filter(|finding| sketch(finding, Answer::Yes).is_some())
            .collect();
        for finding in &drawn {
            assert_ne!(
                sketch(finding, Answer::Yes),
                sketch(finding, Answer::No),
                "{}",
                finding.id
            );
        }
        assert!(drawn.len() >= 30, "{}", drawn.len());
    }
}
