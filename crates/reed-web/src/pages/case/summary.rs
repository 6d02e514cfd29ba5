//! A case in plain words, to read out or to send to somebody who helps.

use reed_core::diagnosis::{Advice, Answer, Case, Observed};
use reed_store::choices::Proof;

use super::Weighed;
use crate::case_file::CaseStage;
use crate::clock::Moment;
use crate::view::{number_lines, percent, since, when};

/// Suspects told.
const TOLD: usize = 4;

pub(super) fn of(weighed: &Weighed, moment: &Moment) -> String {
    let file = &weighed.file;
    let (Case { tank, observed }, units) = (&weighed.case, &file.units);
    let mut lines = vec![format!(
        "{}, {}",
        tank.name,
        moment.wall.strftime("%-d %B %Y, %H:%M")
    )];
    let numbers = number_lines(tank, units).into_iter();
    lines.extend(numbers.map(|number| format!("  {}: {}", number.label, number.value)));
    lines.push("\nSeen".to_owned());
    lines.extend(seen(observed, moment));
    lines.push("\nRead".to_owned());
    lines.extend(observed.readings.iter().map(|reading| {
        format!(
            "  {} {} ({})",
            reading.analyte.label,
            reading.print(units),
            when(reading.taken_at, moment.wall)
        )
    }));
    if observed.readings.is_empty() {
        lines.push("  Nothing yet".to_owned());
    }
    lines.push("\nSuspected".to_owned());
    lines.extend(suspected(weighed));
    lines.extend(standing(weighed));
    for choice in &file.choices {
        let tried = |proof: &Proof| format!("Tried: {}. {}", choice.title(), proof.words);
        lines.extend(choice.proofs.iter().map(tried));
    }
    lines.join("\n") + "\n"
}

/// What was seen, then what was not.
fn seen(observed: &Observed, moment: &Moment) -> Vec<String> {
    let (yes, no): (Vec<_>, Vec<_>) = observed
        .answers
        .iter()
        .partition(|answered| answered.answer == Answer::Yes);
    if observed.answers.is_empty() {
        return vec!["  Nothing yet".to_owned()];
    }
    let yes = yes.into_iter().map(|answered| {
        let at = since(answered.at, moment.wall);
        format!("  {} ({at})", answered.finding.says)
    });
    let no = no
        .into_iter()
        .map(|answered| format!("  {}", answered.finding.says_not));
    yes.chain(no).collect()
}

fn suspected(weighed: &Weighed) -> Vec<String> {
    let (differential, account) = (&weighed.differential, &weighed.account);
    let suspects = differential
        .of_this_case()
        .filter(|suspect| suspect.about.is_none())
        .take(TOLD)
        .map(|suspect| {
            format!(
                "  {}: {}",
                suspect.fault.title,
                percent(suspect.probability)
            )
        });
    let sound = format!("  Nothing is wrong: {}", percent(differential.healthy));
    let unexplained = account
        .unexplained
        .iter()
        .map(|unexplained| format!("  Explained by none of these: {}", unexplained.says));
    let contradictions = account.contradictions.iter().map(|contradiction| {
        let [one, other] = &contradiction.pieces;
        format!("  Hardly goes together: “{one}” and “{other}”")
    });
    suspects
        .chain([sound])
        .chain(unexplained)
        .chain(contradictions)
        .collect()
}

/// Where the case stands.
fn standing(weighed: &Weighed) -> Option<String> {
    let file = &weighed.file;
    Some(match (file.stage(), file.choice(), &weighed.advice) {
        (CaseStage::Doing, Some(choice), _) => format!("\nBeing done: {}", choice.title()),
        (CaseStage::Proving, Some(choice), _) => {
            format!("\nDone: {}. Still to be proved.", choice.title())
        }
        (CaseStage::Looking, _, Advice::Look { looks }) => {
            let title = |place: &usize| weighed.outlook.proposals[*place].check.title;
            let titles: Vec<&str> = looks.iter().map(title).collect();
            format!("\nTo be looked at next: {}", titles.join("; "))
        }
        _ => return None,
    })
}
