//! A case in plain words, to read out or to send to somebody who helps.

use std::fmt::Write as _;

use reed_core::diagnosis::{Advice, Answer};

use super::Weighed;
use crate::case_file::CaseStage;
use crate::clock::Moment;
use crate::view::{number_lines, percent, since, when};

/// Suspects told.
const TOLD: usize = 4;

pub(super) fn of(weighed: &Weighed, moment: &Moment) -> String {
    let Weighed {
        file,
        differential,
        account,
        outlook,
        advice,
        ..
    } = weighed;
    let (tank, units) = (file.tank(), &file.units);
    let observed = file.observed(moment.wall);
    let mut out = String::new();
    // Writing to a string cannot fail.
    let mut line = |text: &str| {
        let _ = writeln!(out, "{text}");
    };
    line(&format!(
        "{}, {}",
        tank.name,
        moment.wall.strftime("%-d %B %Y, %H:%M")
    ));
    for number in number_lines(tank, units) {
        line(&format!("  {}: {}", number.label, number.value));
    }
    line("\nSeen");
    let (yes, no): (Vec<_>, Vec<_>) = observed
        .answers
        .iter()
        .partition(|answered| answered.answer == Answer::Yes);
    for answered in yes {
        line(&format!(
            "  {} ({})",
            answered.finding.says,
            since(answered.at, moment.wall)
        ));
    }
    for answered in no {
        line(&format!("  {}", answered.finding.says_not));
    }
    if observed.answers.is_empty() {
        line("  Nothing yet");
    }
    line("\nRead");
    for reading in &observed.readings {
        line(&format!(
            "  {} {} ({})",
            reading.analyte.label,
            reading.print(units),
            when(reading.taken_at, moment.wall)
        ));
    }
    if observed.readings.is_empty() {
        line("  Nothing yet");
    }
    line("\nSuspected");
    for suspect in differential
        .of_this_case()
        .filter(|suspect| suspect.about.is_none())
        .take(TOLD)
    {
        line(&format!(
            "  {}: {}",
            suspect.fault.title,
            percent(suspect.probability)
        ));
    }
    line(&format!(
        "  Nothing is wrong: {}",
        percent(differential.healthy)
    ));
    for unexplained in &account.unexplained {
        line(&format!(
            "  Explained by none of these: {}",
            unexplained.says
        ));
    }
    for contradiction in &account.contradictions {
        line(&format!(
            "  Hardly goes together: “{}” and “{}”",
            contradiction.pieces[0], contradiction.pieces[1]
        ));
    }
    match (file.stage(), file.choice(), advice) {
        (CaseStage::Doing, Some(choice), _) => {
            line(&format!("\nBeing done: {}", choice.change.title))
        }
        (CaseStage::Proving, Some(choice), _) => line(&format!(
            "\nDone: {}. Still to be proved.",
            choice.change.title
        )),
        (CaseStage::Looking, _, Advice::Look { looks }) => {
            let titles: Vec<&str> = looks
                .iter()
                .map(|place| outlook.proposals[*place].check.title)
                .collect();
            line(&format!("\nTo be looked at next: {}", titles.join("; ")));
        }
        _ => {}
    }
    for choice in &file.choices {
        for proof in &choice.proofs {
            line(&format!("Tried: {}. {}", choice.change.title, proof.words));
        }
    }
    out
}
