//! A case in a file, weighed on the command line: the same core as the pages.

use std::fmt::Write as _;
use std::path::Path;

use anyhow::Context;
use jiff::Zoned;
use reed_core::diagnosis::check::Check;
use reed_core::diagnosis::{
    ALSO_TRUE, Account, Advice, Case, CheckOutlook, Contradiction, Differential, Grasp, Observed,
    Proposal, Suspect, round,
};
use reed_core::document::{Document, Opened};
use reed_core::outlook::forecast::Forecast;
use reed_core::remedy::{Offer, advice, offers};
use serde_json::{Value, json};

/// Suspects and changes printed.
const SHOWN: usize = 5;

/// Suspects of the case in a file with reasons, the next check, and changes with forecasts; with
/// the flow of the tank as drawn settled first, if asked for, as the pages do.
pub(crate) fn run(file: &Path, as_json: bool, with_flow: bool) -> anyhow::Result<String> {
    let text = std::fs::read_to_string(file)
        .with_context(|| format!("{} cannot be read", file.display()))?;
    let Opened { document, unknown } =
        Document::read(&text).with_context(|| format!("{} was not taken", file.display()))?;
    if !unknown.is_empty() {
        eprintln!(
            "Not known to this program and left aside: {}",
            unknown.join(", ")
        );
    }
    let mut case = document.case(Zoned::now().datetime())?;
    if with_flow {
        case.observed.flow = crate::flow::settled(&document.tank).map(|(_, facts)| facts);
    }
    let differential = Differential::of(&case);
    let outlook = differential.outlook(&case);
    let (now, offers) = offers(&differential, &case.observed);
    Ok(if as_json {
        format!(
            "{:#}\n",
            to_json(&document, &differential, &outlook, &now, &offers)
        )
    } else {
        to_text(&case, &differential, &outlook, &now, &offers)
    })
}

fn to_text(
    case: &Case,
    differential: &Differential,
    outlook: &CheckOutlook,
    now: &Forecast,
    offers: &[Offer],
) -> String {
    let account = differential.account(&[]);
    [
        format!("{}\n", case.tank.name),
        suspects(differential, &account, &case.observed),
        doubts(differential, &account),
        next_step(differential, &account, outlook, offers),
        changes(now, offers),
    ]
    .concat()
}

fn suspects(differential: &Differential, account: &Account, observed: &Observed) -> String {
    let mut out = "\nSuspects\n".to_owned();
    for suspect in differential.of_this_case().take(SHOWN) {
        // Writing to a string cannot fail.
        let _ = writeln!(
            out,
            "  {:>4.0} %  {}{}",
            suspect.probability * 100.0,
            suspect.fault.title,
            which_reading(observed, suspect)
        );
        if let Some(cause) = suspect.brought_by {
            let _ = writeln!(out, "          Probably because of: {}", cause.title);
        }
        let reasons = account
            .why(suspect)
            .into_iter()
            .flat_map(|why| &why.reasons);
        for reason in reasons.filter(|reason| reason.weight.abs() >= 0.1) {
            let _ = writeln!(out, "          {:>7}  {}", reason.factor(), reason.says);
        }
    }
    let _ = writeln!(
        out,
        "  {:>4.0} %  Nothing is wrong",
        differential.healthy * 100.0
    );
    if !differential.alarms.is_empty() {
        let alarms = differential.alarms.join("; ");
        let _ = writeln!(out, "          It would leave unexplained: {alarms}");
    }
    out
}

/// What is true besides, what nothing explains, and what hardly goes together.
fn doubts(differential: &Differential, account: &Account) -> String {
    let mut out = String::new();
    for suspect in differential.also_true(ALSO_TRUE) {
        let _ = writeln!(
            out,
            "\nPossible, though nothing seen here points to it ({:.0} %): {}",
            suspect.probability * 100.0,
            suspect.fault.title
        );
    }
    for unexplained in &account.unexplained {
        let _ = writeln!(out, "\nExplained by nothing here: {}", unexplained.says);
    }
    for Contradiction {
        pieces: [one, other],
        times_rarer,
    } in &account.contradictions
    {
        let _ = writeln!(
            out,
            "\nHardly goes together ({times_rarer:.0} times rarer than by itself):\n  {one}\n  {other}"
        );
    }
    out
}

fn next_step(
    differential: &Differential,
    account: &Account,
    outlook: &CheckOutlook,
    offers: &[Offer],
) -> String {
    match advice(differential, outlook, offers) {
        Advice::Look { looks } => {
            let checks: Vec<&Check> =
                looks.iter().map(|place| outlook.proposals[*place].check).collect();
            let mut out = format!("\nLook next ({:.0} min)\n", round::minutes_of(&checks).ceil());
            for check in checks {
                let _ = writeln!(out, "  {}\n    {}", check.title, check.how);
            }
            out
        }
        acting @ Advice::Act if account.grasp(differential, &acting) == Grasp::Lost => {
            "\nI do not know: what was seen fits nothing on the list well, and no check would tell much more.\n".to_owned()
        }
        Advice::Act => "\nTime to act: no check is worth its effort any more.\n".to_owned(),
    }
}

fn changes(now: &Forecast, offers: &[Offer]) -> String {
    let mut out = format!(
        "\nChanges (oxygen now falls to {:.1} ± {:.1} mg/L)\n",
        now.lowest, now.lowest_spread
    );
    for offer in offers.iter().take(SHOWN) {
        let effect = offer.after.as_ref().map_or_else(
            || "effect not computed".to_owned(),
            |after| {
                let (lowest, spread) = (after.lowest, after.lowest_spread);
                format!(
                    "lowest {lowest:.1} ± {spread:.1} mg/L ({:+.1})",
                    offer.gain_mg_l
                )
            },
        );
        let _ = writeln!(
            out,
            "  {}: {effect}, {:.0} min, {:.0} €",
            offer.change.title, offer.change.minutes, offer.change.euros
        );
        if let Some(why) = offer.not_now {
            let _ = writeln!(out, "    Not now: {why}");
        }
    }
    out
}

/// Of a reading that is off: which one, in words.
fn which_reading(observed: &Observed, suspect: &Suspect) -> String {
    suspect.about.map_or_else(String::new, |index| {
        let reading = &observed.readings[index];
        format!(
            " ({} {})",
            reading.analyte.label,
            reading.print(&observed.units)
        )
    })
}

/// What the page asks for first: to look on, to act, or, where nothing on the list fits, to ask
/// somebody.
fn advised(differential: &Differential, outlook: &CheckOutlook, offers: &[Offer]) -> Value {
    let advice = advice(differential, outlook, offers);
    let grasp = differential.account(&[]).grasp(differential, &advice);
    match (advice, grasp) {
        (Advice::Look { looks }, _) => {
            let looks = looks.into_iter().map(|place| &outlook.proposals[place]);
            let looks =
                looks.map(|Proposal { check, analyte, .. }| json!({ "check": check.id, "reads": analyte.map(|analyte| analyte.id) }));
            json!({ "do": "look", "looks": looks.collect::<Vec<_>>() })
        }
        (Advice::Act, grasp) => {
            let what = if grasp == Grasp::Lost { "ask" } else { "act" };
            json!({ "do": what, "change": offers.first().map(|offer| offer.change.id) })
        }
    }
}

fn to_json(
    document: &Document,
    differential: &Differential,
    outlook: &CheckOutlook,
    now: &Forecast,
    offers: &[Offer],
) -> Value {
    let forecast = |forecast: &Forecast| json!({ "lowest_mg_l": forecast.lowest, "lowest_spread_mg_l": forecast.lowest_spread, "at_hour": forecast.lowest_hour });
    let account = differential.account(&[]);
    json!({
        "tank": document.tank.name,
        "healthy": differential.healthy,
        "alarms": differential.alarms,
        "suspects": differential.suspects.iter().map(|suspect| json!({
            "fault": suspect.fault.id,
            "about_reading": suspect.about,
            "probability": suspect.probability,
            "accounts_for_something": suspect.accounts,
            "brought_by": suspect.brought_by.map(|cause| cause.id),
            "why": account.why(suspect).map(|why| json!({
                "prior_log_odds": why.prior_log_odds,
                "reasons": why.reasons.iter().map(|reason| json!({ "says": reason.says, "log_odds": reason.weight })).collect::<Vec<_>>(),
            })),
        })).collect::<Vec<_>>(),
        "unexplained": account.unexplained.iter().map(|unexplained| &unexplained.says).collect::<Vec<_>>(),
        "contradictions": account.contradictions.iter().map(|contradiction| &contradiction.pieces).collect::<Vec<_>>(),
        "checks": outlook.proposals.iter().map(|proposal| json!({
            "check": proposal.check.id, "bits": proposal.bits, "minutes": proposal.check.minutes, "reads": proposal.analyte.map(|analyte| analyte.id),
        })).collect::<Vec<_>>(),
        "advice": advised(differential, outlook, offers),
        "now": forecast(now),
        "changes": offers.iter().map(|offer| json!({
            "change": offer.change.id,
            "after": offer.after.as_ref().map(forecast),
            "gain_mg_l": offer.after.as_ref().map(|_| offer.gain_mg_l),
            "fits_cause": offer.fits_cause,
            "safe_now": offer.safe_now,
            "safe_after": offer.safe_after,
            "not_now": offer.not_now,
        })).collect::<Vec<_>>(),
    })
}
