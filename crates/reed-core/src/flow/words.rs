//! The flow in words: what a picture shows, said.

use reed_flow::measure::BINS;

use super::facts::{Facts, Intake, Range, Spot};
use crate::units::{Length, Quantity, Units};

/// The loop, as a sentence.
pub fn turning(facts: &Facts) -> String {
    let turns = facts.loop_turns;
    if turns.low * turns.high > 0.0 && turns.likely.abs() > CLEAR_LOOP {
        let (way, surface, bed) = if turns.likely > 0.0 {
            ("clockwise", "right", "left")
        } else {
            ("counter-clockwise", "left", "right")
        };
        let wavers = if facts.unsteady { " It wavers." } else { "" };
        format!(
            "Seen from the front the loop turns {way}: to the {surface} along the surface, back to the {bed} over the bed.{wavers}"
        )
    } else if facts.unsteady {
        "Seen from the front the water does not settle to one loop.".to_owned()
    } else {
        "There is no clear loop seen from the front.".to_owned()
    }
}

/// Share of the motion that must turn one way for a loop to be told of. A judgement.
const CLEAR_LOOP: f64 = 0.2;

/// The speed of the surface, as a sentence.
pub fn surface(facts: &Facts) -> String {
    let since = facts.since_surface_min;
    format!(
        "The surface moves at {} cm/s, the water over the bed at {} cm/s; nearly all water was at the surface within {} min.",
        number(facts.surface_cm_s, 1),
        number(facts.over_bed_cm_s, 1),
        number(since, 0)
    )
}

/// Slow water, as a sentence.
pub fn slow(facts: &Facts) -> String {
    let names = ["left", "middle", "right"];
    let thirds = facts.slow_thirds;
    let most = (0..3)
        .max_by(|a, b| thirds[*a].likely.total_cmp(&thirds[*b].likely))
        .unwrap_or(0);
    let whole = percent(facts.slow);
    if facts.slow.likely < 0.02 {
        format!("Hardly any water stands: {whole} is slower than 1 cm/s.")
    } else {
        format!(
            "{whole} of the water is slower than 1 cm/s, most in the {} third ({}).",
            names[most],
            percent(thirds[most])
        )
    }
}

/// Where muck lies, as a sentence.
pub fn muck(facts: &Facts) -> String {
    let rests = percent(facts.muck_rests);
    let mut parts: Vec<(usize, usize)> = (0..BINS[1])
        .flat_map(|row| (0..BINS[0]).map(move |column| (row, column)))
        .collect();
    let likely = |part: &(usize, usize)| facts.rests[part.0][part.1].likely;
    parts.sort_by(|a, b| likely(b).total_cmp(&likely(a)));
    // A heap is a part of the bed with twice its share.
    let heaps: Vec<String> = parts
        .iter()
        .take(2)
        .filter(|part| likely(part) > 2.0 * facts.muck_rests.likely / (BINS[0] * BINS[1]) as f64)
        .map(|part| {
            format!(
                "{} ({})",
                part_of_bed(part.0, part.1),
                percent(facts.rests[part.0][part.1])
            )
        })
        .collect();
    match &heaps[..] {
        [] => format!("{rests} of the muck comes to rest, nowhere more than elsewhere."),
        [one] => format!("{rests} of the muck comes to rest, most at the {one}."),
        many => format!(
            "{rests} of the muck comes to rest, most at the {}.",
            many.join(" and at the ")
        ),
    }
}

/// A part of the bed.
pub fn part_of_bed(row: usize, column: usize) -> String {
    let along = [
        "left end",
        "left",
        "left of the middle",
        "right of the middle",
        "right",
        "right end",
    ][column];
    let across = ["front", "middle", "back"][row];
    format!("{along}, {across}")
}

/// What an intake takes in, as a sentence.
pub fn intake(intake: &Intake) -> String {
    let bubbles = if intake.bubbles.high < 0.02 {
        "no bubbles".to_owned()
    } else {
        format!("{} of small bubbles", percent(intake.bubbles))
    };
    format!(
        "{} catches {} of the muck and {bubbles}.",
        intake.name,
        percent(intake.caught)
    )
}

/// A good place for an intake, in the keeper's units.
pub fn spot(spot: &Spot, units: &Units) -> String {
    let print = |cm: f64| units.print(cm, <Length as Quantity>::UNITS, 0);
    let bubbles = if spot.bubbles < 0.02 {
        "no bubbles".to_owned()
    } else {
        format!("{:.0} % of small bubbles", spot.bubbles * 100.0)
    };
    format!(
        "{} from the left, {} from the front, {} above the floor: {:.0} % of the muck comes by, {bubbles}",
        print(spot.x_cm),
        print(spot.y_cm),
        print(spot.z_cm),
        spot.muck * 100.0
    )
}

/// A number with its band: “4.1 (3.0–6.2)”; the band is left out where it rounds to the number.
pub fn number(range: Range, decimals: usize) -> String {
    let print = |value: f64| format!("{value:.decimals$}");
    let (low, likely, high) = (print(range.low), print(range.likely), print(range.high));
    if low == high {
        likely
    } else {
        format!("{likely} ({low}–{high})")
    }
}

/// A share with its band, in percent.
pub fn percent(share: Range) -> String {
    let hundred = Range {
        low: share.low * 100.0,
        likely: share.likely * 100.0,
        high: share.high * 100.0,
    };
    format!("{} %", number(hundred, 0))
}

/// Everything, one sentence each.
pub fn all(facts: &Facts) -> Vec<String> {
    let mut sentences = vec![turning(facts), surface(facts), slow(facts), muck(facts)];
    sentences.extend(facts.intakes.iter().map(intake));
    if facts.facing > 0.2 {
        sentences.push(format!(
            "{:.0} % of the thrust is spent by streams against each other.",
            facts.facing * 100.0
        ));
    }
    if facts.shadow.low > 1.2 {
        sentences.push(format!(
            "Beside rock lies {} times as much muck as on open bed.",
            number(facts.shadow, 1)
        ));
    }
    sentences
}

/// The share of all muck that rests in each part of the bed, as a table: the back above, the front
/// below.
pub fn map(facts: &Facts) -> String {
    let mut lines = vec!["  %      left                                right".to_owned()];
    for (row, name) in ["front", "middle", "back"].into_iter().enumerate().rev() {
        let cells = facts.rests[row].iter().map(|range| {
            let [low, likely, high] =
                [range.low, range.likely, range.high].map(|share| share * 100.0);
            format!("{likely:3.0} {:<7}", format!("({low:.0}–{high:.0})"))
        });
        lines.push(format!(
            "  {name:<6} {}",
            cells.collect::<String>().trim_end()
        ));
    }
    lines.join("\n")
}
