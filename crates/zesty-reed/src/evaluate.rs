//! How good the diagnosis is on made-up cases whose truth is known, as a report.

use std::fmt::Write as _;

use reed_core::document::start;
use reed_core::rehearsal::laws::{Law, laws};
use reed_core::rehearsal::water::{ANALYTES, HeldByAnalyte, of_all, water_ahead};
use reed_core::rehearsal::{Bin, CERTAIN, Order, Race, Rehearsal, Score};

/// Off by up to this factor, and so many answers mistaken, in the world that is not as believed.
const OFF: (f64, f64) = (2.0, 0.05);

/// Rehearses in a world as believed and in one that is not, as a report in Markdown.
pub(crate) fn run(cases: usize, seed: u64) -> String {
    // The report goes to standard output; whoever waits wants to know for how long.
    eprintln!(
        "Playing {cases} cases in each of two worlds: about a minute for every thirty on two cores."
    );
    let tanks: Vec<_> = start::ALL.iter().map(start::Start::tank).collect();
    let score = |factor: f64, mistaken: f64| {
        Rehearsal {
            cases,
            seed,
            factor,
            mistaken,
        }
        .play(&tanks)
    };
    let mut out = report(cases, seed, &[score(1.0, 0.0), score(OFF.0, OFF.1)]);
    out.push_str("\n### Laws, over the whole catalogue\n\n| Law | Tried on | Times | Broken |\n|---|---|---:|---:|\n");
    for Law {
        says,
        tried_on,
        tried,
        broken,
    } in laws()
    {
        // Writing to a string cannot fail.
        let _ = writeln!(out, "| {says} | {tried_on} | {tried} | {} |", broken.len());
        broken
            .iter()
            .for_each(|place| eprintln!("Broken: {says}: {place}"));
    }
    days_ahead(&mut out, cases, seed);
    out
}

/// Simulated tanks of each story for each case of the diagnosis, at most so many.
const MOST_TANKS: usize = 200;

/// How often the bands of the days ahead held what a simulator of its own made of the tanks.
fn days_ahead(out: &mut String, cases: usize, seed: u64) {
    let stories = water_ahead(cases.min(MOST_TANKS), seed);
    out.push_str("\n### Days ahead, on tanks of another simulator\n\nIn the band of nine tenths, 3, 7 and 14 days ahead; (above it); of those truly over the limit.\n\n| Story |");
    let (titles, lines): (Vec<String>, Vec<&str>) = ANALYTES
        .iter()
        .map(|(analyte, _)| (format!(" {} |", analyte.label), "---:|"))
        .unzip();
    // Writing to a string cannot fail.
    let _ = writeln!(out, "{}\n|---|{}", titles.concat(), lines.concat());
    let all = of_all(&stories);
    for (story, held) in stories.iter().chain(&[("all", all)]) {
        let _ = writeln!(out, "| {story} |{}", held_words(held));
    }
}

fn held_words(held: &HeldByAnalyte) -> String {
    let words = held.iter().map(|held| {
        let over = if held.over == 0 {
            String::new()
        } else {
            format!("; {} of {}", percent(held.share_over()), held.over)
        };
        let above = held.above as f64 / held.all.max(1) as f64;
        format!(
            " {} of {} ({}){over} |",
            percent(held.share()),
            held.all,
            percent(above)
        )
    });
    words.collect()
}

fn report(cases: usize, seed: u64, scores: &[Score; 2]) -> String {
    let mut out = String::new();
    // Writing to a string cannot fail.
    let _ = writeln!(
        out,
        "Made by `zesty-reed evaluate --cases {cases} --seed {seed}`.\n"
    );
    let _ = writeln!(
        out,
        "| | As believed | Off by up to {}×, {:.0} % mistaken |\n|---|---:|---:|",
        OFF.0,
        OFF.1 * 100.0
    );
    for (what, of) in MEASURES {
        let _ = writeln!(out, "| {what} | {} | {} |", of(&scores[0]), of(&scores[1]));
    }
    races(&mut out, scores);
    for (moment, when) in [
        "when opened",
        "when acting is due",
        "when nothing is left to ask",
    ]
    .into_iter()
    .enumerate()
    {
        reliability(&mut out, scores, moment, when);
    }
    out
}

/// What is told of a rehearsal: in words, and how it is made from its score.
type Measure = (&'static str, fn(&Score) -> String);

/// Each of them.
const MEASURES: [Measure; 14] = [
    ("Cases", |score| score.cases.to_string()),
    ("First suspect guilty, when opened", |score| {
        percent(score.top_1[0])
    }),
    ("One of the first three guilty, when opened", |score| {
        percent(score.top_3[0])
    }),
    ("First suspect guilty, when acting is due", |score| {
        percent(score.top_1[1])
    }),
    (
        "One of the first three guilty, when acting is due",
        |score| percent(score.top_3[1]),
    ),
    (
        "First suspect guilty, when nothing is left to ask",
        |score| percent(score.top_1[2]),
    ),
    (
        "One of the first three guilty, when nothing is left to ask",
        |score| percent(score.top_3[2]),
    ),
    ("Foremost change right, when acting is due", |score| {
        percent(score.right_change)
    }),
    (
        "Rounds until acting is due (glances on one walk are one)",
        |score| format!("{:.1}", score.until_acting[0]),
    ),
    ("Checks until acting is due", |score| {
        format!("{:.1}", score.until_acting[1])
    }),
    ("Minutes until acting is due", |score| {
        format!("{:.0}", score.until_acting[2])
    }),
    (
        "Brier score of every suspect, when acting is due",
        |score| format!("{:.4}", score.brier),
    ),
    ("Brier score of the mere base rate", |score| {
        format!("{:.4}", score.brier_of_base_rate)
    }),
    ("Mean error of the stated probabilities", |score| {
        format!("{:.2} points", score.calibration_error * 100.0)
    }),
];

/// How soon something becomes certain, by the order in which is asked.
fn races(out: &mut String, scores: &[Score; 2]) {
    let mut row = |what: &str, order: Order, of: &dyn Fn(&Race) -> String| {
        let [believed, off] =
            [&scores[0], &scores[1]].map(|score| race(score, order).map_or(String::new(), of));
        let _ = writeln!(out, "| {what} | {believed} | {off} |");
    };
    for order in Order::ALL {
        let what = format!(
            "Cases in which something becomes {} likely, {}",
            percent(CERTAIN),
            words(order)
        );
        row(&what, order, &|race| percent(race.certain));
    }
    let fewer = |other: f64, own: f64| format!("({:.0} % fewer)", 100.0 * (1.0 - own / other));
    for order in [Order::Fixed, Order::Random] {
        let what = format!("Checks until then, {} against its own", words(order));
        row(&what, order, &|race| {
            let [[other, _], [own, _]] = race.spent;
            format!("{other:.1} : {own:.1} {}", fewer(other, own))
        });
        let what = format!("Minutes until then, {} against its own", words(order));
        row(&what, order, &|race| {
            let [[_, other], [_, own]] = race.spent;
            format!("{other:.0} : {own:.0} {}", fewer(other, own))
        });
    }
}

/// What was stated at a moment of a case against what came true.
fn reliability(out: &mut String, scores: &[Score; 2], moment: usize, when: &str) {
    let _ = writeln!(out, "\n### Stated and true, {when}\n");
    let _ = writeln!(
        out,
        "| Stated | As believed: statements | mean stated | came true | Off: statements | mean stated | came true |"
    );
    let _ = writeln!(out, "|---|---:|---:|---:|---:|---:|---:|");
    for bin in &scores[0].reliability[moment] {
        let other = scores[1].reliability[moment]
            .iter()
            .find(|other| other.edges.map(f64::to_bits) == bin.edges.map(f64::to_bits));
        let edges = format!("{}–{}", percent(bin.edges[0]), percent(bin.edges[1]));
        let _ = writeln!(
            out,
            "| {edges} | {} | {} |",
            cells(bin),
            other.map_or("| |".to_owned(), cells)
        );
    }
}

fn cells(bin: &Bin) -> String {
    format!(
        "{} | {:.1} % | {:.1} %",
        bin.statements,
        bin.stated * 100.0,
        bin.came_true * 100.0
    )
}

fn race(score: &Score, order: Order) -> Option<&Race> {
    score.until_certain.iter().find(|race| race.order == order)
}

fn percent(share: f64) -> String {
    format!("{:.0} %", share * 100.0)
}

const fn words(order: Order) -> &'static str {
    match order {
        Order::Own => "in its own order",
        Order::Fixed => "in the order of the catalogue",
        Order::Random => "in random order",
    }
}
