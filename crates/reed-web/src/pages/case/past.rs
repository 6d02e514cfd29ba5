//! A case as it stood after each entry: what was known, who was suspected, what was asked next.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use reed_core::diagnosis::Differential;
use reed_store::CaseId;

use super::super::ids::Ids;
use super::evidence::entry_words;
use crate::case_file::CaseFile;
use crate::error::{PageError, no_such_page};
use crate::state::App;
use crate::view::{Frame, Tab, percent, when};

/// Suspects shown.
const SHOWN: usize = 6;

#[derive(Template, WebTemplate)]
#[template(path = "pages/case_past.html")]
pub(super) struct PastPage {
    frame: Frame,
    case: CaseId,
    number: usize,
    of: usize,
    at: String,
    entry: String,
    suspects: Vec<PastSuspect>,
    healthy: [String; 2],
    next: String,
}

/// A suspect then, and before the entry.
struct PastSuspect {
    title: &'static str,
    before: String,
    then: String,
    /// Widths of its bars before and then, percent.
    widths: [f64; 2],
    /// An arrow where it rose or fell by more than a point.
    moved: &'static str,
}

/// The page of one entry, from 1.
pub(super) async fn show(
    State(app): State<App>,
    Ids(case, number): Ids<CaseId, i64>,
) -> Result<PastPage, PageError> {
    let clock = app.clock.clone();
    let page = app.read(move |db| {
        let file = CaseFile::load(db, case, &clock)?;
        let entries = file.entries();
        let Some(entry) = usize::try_from(number)
            .ok()
            .filter(|number| *number >= 1)
            .and_then(|number| entries.get(number - 1))
        else {
            return Ok(None);
        };
        let number = usize::try_from(number).unwrap_or(1);
        let at = clock.wall_at(entry.at());
        let [before, then] = [number - 1, number].map(|entries| {
            let case = file.after(entries, &clock).as_seen(at);
            (Differential::of(&case), case)
        });
        let (differential, case_then) = &then;
        let suspect = |suspect: &reed_core::diagnosis::Suspect| {
            let earlier = before.0.probability(suspect.fault);
            PastSuspect {
                title: suspect.fault.title,
                before: percent(earlier),
                then: percent(suspect.probability),
                widths: [earlier * 100.0, suspect.probability * 100.0],
                moved: match suspect.probability - earlier {
                    by if by > 0.01 => "↑",
                    by if by < -0.01 => "↓",
                    _ => "",
                },
            }
        };
        let outlook = differential.outlook(case_then);
        Ok(Some(PastPage {
            frame: Frame::new("case-past", format!("Case {case}, entry {number}")).of_tank(
                file.case.tank_id,
                &file.tank_now().name,
                Tab::Case,
            ),
            case,
            number,
            of: entries.len(),
            at: when(at, clock.now().wall),
            entry: entry_words(entry, &file.units),
            suspects: differential
                .of_this_case()
                .filter(|suspect| suspect.about.is_none())
                .take(SHOWN)
                .map(suspect)
                .collect(),
            healthy: [percent(before.0.healthy), percent(differential.healthy)],
            next: outlook
                .proposals
                .first()
                .map_or("", |proposal| proposal.check.title)
                .to_owned(),
        }))
    });
    match page.await? {
        Some(page) => Ok(page),
        None => Err(no_such_page().await),
    }
}
