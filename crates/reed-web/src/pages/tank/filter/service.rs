//! The service sheet of a filter: steps that are ticked, and the entry that ends it.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State as AppState};
use axum::response::Redirect;
use axum_extra::extract::Form;
use jiff::SignedDuration;
use jiff::civil::DateTime;
use reed_core::remedy::service::{Sheet, sheet};
use reed_core::units::{Quantity as _, Volume};
use reed_store::{StoreError, TankId, entries, service, tanks};

use super::order::FilterNumber;
use super::{AskedFilter, Part, PartFrame, Seen, of_number};
use crate::error::PageError;
use crate::pages::ids::{Id, Ids};
use crate::pages::tank::log;
use crate::state::App;
use crate::view::{Frame, percent};

/// A sheet that lay so long is begun anew, hours.
const OVER_AFTER: SignedDuration = SignedDuration::from_hours(72);

#[derive(Template, WebTemplate)]
#[template(path = "pages/filter/service.html")]
pub(super) struct ServicePage {
    frame: Frame,
    part: PartFrame,
    id: TankId,
    seen: Option<SheetView>,
}

struct SheetView {
    number: u32,
    name: String,
    tank: String,
    day: String,
    facts: Vec<(&'static str, String)>,
    steps: Vec<StepView>,
    done: usize,
    form: String,
}

struct StepView {
    id: &'static str,
    words: String,
    caution: Option<&'static str>,
    is_done: bool,
}

pub(super) async fn show(
    AppState(app): AppState<App>,
    Id(id): Id<TankId>,
    Query(asked): AskedFilter,
) -> Result<ServicePage, PageError> {
    let now = app.clock.now().wall;
    let page = app
        .read(move |db| {
            let seen = Seen::read(db, id, asked, now)?;
            let (frame, part) = seen.framed(Part::Service);
            let view = match &seen.filter {
                Some((filter, state)) => {
                    let changes = entries::of_kinds(db, id, &["change"])?;
                    let changed = changes.iter().filter(|kept| kept.entry.when.from <= now);
                    let last_change = changed.map(|kept| kept.entry.when.likely().date()).max();
                    let sheet = sheet(&seen.tank, filter, state, now.date(), last_change);
                    let since = begins(state.history.opened, now);
                    let ticked = service::ticked(db, id, filter.number, since)?;
                    Some(SheetView::of(&seen, &sheet, &ticked))
                }
                None => None,
            };
            Ok(ServicePage {
                frame,
                part,
                id,
                seen: view,
            })
        })
        .await?;
    Ok(page)
}

/// What was ticked before this is of an older sheet: before the last opening, or days ago.
fn begins(opened: Option<DateTime>, now: DateTime) -> DateTime {
    let lay = now.checked_sub(OVER_AFTER).unwrap_or(now);
    opened.map_or(lay, |opened| opened.max(lay))
}

impl SheetView {
    fn of(seen: &Seen, sheet: &Sheet, ticked: &[String]) -> Self {
        let (number, name) = seen
            .filter
            .as_ref()
            .map(|(filter, _)| (filter.number, filter.name.clone()))
            .unwrap_or_default();
        let litres = |value: f64| seen.units.print(value, Volume::UNITS, 0);
        let yes = |is: bool, yes: &str, no: &str| if is { yes.to_owned() } else { no.to_owned() };
        let steps: Vec<StepView> = sheet
            .steps
            .iter()
            .map(|step| StepView {
                id: step.id,
                words: step.words.clone(),
                caution: step.caution,
                is_done: ticked.iter().any(|id| id == step.id),
            })
            .collect();
        Self {
            number: number.0,
            name,
            tank: seen.tank.name.clone(),
            day: seen.now.date().strftime("%-d %B %Y").to_string(),
            facts: vec![
                ("Tank water to set aside", litres(sheet.rinse_l)),
                ("Of the colony at once, at most", percent(sheet.safe_share)),
                (
                    "Water change",
                    yes(sheet.with_change, "due: with this", "not due"),
                ),
                (
                    "Seals",
                    yes(sheet.seals_due, "due: the whole set", "not due"),
                ),
                ("Impeller", yes(sheet.impeller_due, "due", "next time")),
            ],
            done: steps.iter().filter(|step| step.is_done).count(),
            steps,
            form: log::opening_form(seen.id, &seen.tank, &seen.units, number).unwrap_or_default(),
        }
    }
}

#[derive(serde::Deserialize)]
pub(super) struct Ticked {
    step: String,
    /// `yes`, or the tick is taken back.
    #[serde(default)]
    done: String,
}

pub(super) async fn tick(
    AppState(app): AppState<App>,
    Ids(id, FilterNumber(number)): Ids<TankId, FilterNumber>,
    Form(ticked): Form<Ticked>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().wall;
    app.write(move |db| {
        let seen = Seen::read(db, id, super::Asked { f: Some(number) }, now)?;
        let Some((filter, state)) = &seen.filter else {
            return Ok(Err(PageError::Refused(
                "This tank has no filter.".to_owned(),
            )));
        };
        // With a water change or without: what is due may have changed since the sheet was shown.
        let is_step = [None, Some(now.date())].into_iter().any(|changed| {
            let sheet = sheet(&seen.tank, filter, state, now.date(), changed);
            sheet.steps.iter().any(|step| step.id == ticked.step)
        });
        if !is_step {
            let words = format!(
                "“{}” is no step of this sheet. Open it again and take one of those it has.",
                ticked.step
            );
            return Ok(Err(PageError::Refused(words)));
        }
        let since = begins(state.history.opened, now);
        service::tick(
            db,
            (id, filter.number),
            &ticked.step,
            ticked.done == "yes",
            (now, since),
        )?;
        Ok(Ok(Redirect::to(&format!(
            "/tanks/{id}/filter/service?f={number}"
        ))))
    })
    .await?
}

/// Begins the sheet anew: every tick is taken back.
pub(super) async fn anew(
    AppState(app): AppState<App>,
    Ids(id, FilterNumber(number)): Ids<TankId, FilterNumber>,
) -> Result<Redirect, PageError> {
    app.write(move |db| {
        let tank = tanks::latest(db, id)?.tank;
        let filter = of_number(&tank, number)?.number;
        service::clear(db, id, filter)?;
        Ok::<_, StoreError>(Redirect::to(&format!(
            "/tanks/{id}/filter/service?f={number}"
        )))
    })
    .await
}
