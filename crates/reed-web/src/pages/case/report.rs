//! The report for whoever owns the tank: found, done, left for next time, to buy. One page, to be
//! printed or sent.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use reed_core::diagnosis::{Answer, Case};
use reed_core::remedy::{Change, Shopping};
use reed_core::tank::{Analyte, Reading};
use reed_store::CaseId;

use super::super::ids::Id;
use super::planned::DutyLine;
use super::{Weighed, headline, weigh};
use crate::case_file::CaseStage;
use crate::clock::Moment;
use crate::error::PageError;
use crate::state::App;
use crate::view::{Frame, Tab, number_lines, percent, when};

#[derive(Template, WebTemplate)]
#[template(path = "pages/case_report.html")]
pub(super) struct ReportPage {
    frame: Frame,
    case: CaseId,
    name: String,
    headline: String,
    today: String,
    numbers: Vec<(String, String)>,
    seen: Vec<String>,
    readings: Vec<String>,
    suspects: Vec<String>,
    done: Vec<DoneLine>,
    left: Vec<String>,
    duties: Vec<DutyLine>,
    buys: Vec<(&'static str, String, String)>,
    euros: String,
}

/// A change that was made.
struct DoneLine {
    title: String,
    at: String,
    outcome: String,
}

pub(super) async fn show(
    State(app): State<App>,
    Id(case): Id<CaseId>,
) -> Result<ReportPage, PageError> {
    let weighed = weigh(&app, case, None).await?;
    Ok(ReportPage::of(&weighed, &app.clock.now()))
}

impl ReportPage {
    fn of(weighed: &Weighed, moment: &Moment) -> Self {
        let file = &weighed.file;
        let tank = file.tank_now();
        let to_come: Vec<&'static Change> = file
            .stages_to_come()
            .iter()
            .flat_map(|stage| stage.changes.clone())
            .collect();
        let under_way: Vec<&'static Change> = file
            .choice()
            .filter(|choice| !choice.is_done())
            .map(|choice| choice.changes.clone())
            .unwrap_or_default();
        let to_do: Vec<&'static Change> = under_way.iter().chain(&to_come).copied().collect();
        let shopping = Shopping::of(&to_do, tank, &file.prices);
        let first = file
            .choices
            .first()
            .map_or_else(|| weighed.case.clone(), |choice| file.before(choice));
        let seen = first
            .observed
            .answers
            .iter()
            .filter(|answered| answered.answer == Answer::Yes)
            .map(|answered| answered.finding.says.to_owned());
        let suspects: Vec<String> = match file.choices.first().map(|choice| &choice.against) {
            Some(against) if !against.is_empty() => {
                against.iter().map(|fault| fault.title.to_owned()).collect()
            }
            _ => weighed
                .differential
                .of_this_case()
                .filter(|suspect| suspect.about.is_none())
                .take(3)
                .map(|suspect| format!("{}: {}", suspect.fault.title, percent(suspect.probability)))
                .collect(),
        };
        let mut left: Vec<String> = to_do.iter().map(|change| change.title.to_owned()).collect();
        if let (CaseStage::Looking, Some(plan)) = (file.stage(), weighed.foremost()) {
            let titles: Vec<&str> = plan.iter().map(|change| change.title).collect();
            left.push(format!("Proposed: {}", titles.join("; ")));
        }
        Self {
            frame: Frame::new(
                "case-report",
                format!("Report: {}, case {}", tank.name, file.case.id),
            )
            .of_tank(file.case.tank_id, &tank.name, Tab::Case),
            case: file.case.id,
            name: tank.name.clone(),
            headline: headline(
                reed_core::diagnosis::Distress::worst_of(&first.observed.answers),
                &first.observed,
            ),
            today: moment.wall.strftime("%-d %B %Y").to_string(),
            numbers: number_lines(tank, &file.units)
                .into_iter()
                .map(|line| (line.label.to_owned(), line.value))
                .collect(),
            seen: seen.collect(),
            readings: readings(weighed, &first),
            suspects,
            done: file
                .choices
                .iter()
                .filter_map(|choice| {
                    let done = choice.done_wall?;
                    let outcome = choice.proofs.last().map_or_else(
                        || "Not proved yet.".to_owned(),
                        |proof| {
                            let overall = file.proving(choice).overall;
                            let verdict =
                                super::next::verdict_words(overall.verdict, overall.is_final);
                            format!("{verdict}. {}", proof.words)
                        },
                    );
                    Some(DoneLine {
                        title: choice.title(),
                        at: when(done, moment.wall),
                        outcome,
                    })
                })
                .collect(),
            left,
            duties: file
                .duties
                .iter()
                .map(|duty| DutyLine::of(duty, moment))
                .collect(),
            buys: shopping
                .items
                .iter()
                .map(|item| (item.what, item.amount_words(), item.for_what.join("; ")))
                .collect(),
            euros: super::changes::money(shopping.euros),
        }
    }
}

/// The latest of each thing that was read: before the first change, and since.
fn readings(weighed: &Weighed, first: &Case) -> Vec<String> {
    let file = &weighed.file;
    let made = file.choices.first().and_then(|choice| choice.done_wall);
    let line = |analyte: &&'static Analyte| {
        let before = first.observed.latest(analyte);
        let since = file
            .readings
            .iter()
            .filter(|stored| !stored.is_struck() && stored.reading.analyte == *analyte)
            .filter(|stored| made.is_some_and(|made| stored.reading.taken_at >= made))
            .max_by_key(|stored| stored.reading.taken_at);
        let print = |reading: &Reading| reading.print(&file.units);
        let words = match (
            before.map(print),
            since.map(|stored| print(&stored.reading)),
        ) {
            (None, None) => return None,
            (Some(before), None) => before,
            (None, Some(since)) => format!("{since} (after the change)"),
            (Some(before), Some(since)) => format!("{before}, after the change {since}"),
        };
        Some(format!("{} {words}", analyte.label))
    };
    Analyte::ALL.iter().filter_map(line).collect()
}
