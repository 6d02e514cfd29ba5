//! Tries kept by name: each beside the tank as it stands, on one scale, to be adopted or discarded.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect};
use axum_extra::extract::Form;
use reed_core::diagnosis::Differential;
use reed_core::outlook::forecast::Forecast;
use reed_core::remedy::change::{self, Change};
use reed_core::tank::thing::Kind;
use reed_core::tank::{Immovable, Moves, Tank};
use reed_core::twin::Stirring;
use reed_core::units::Units;
use reed_store::choices::{self, Chosen};
use reed_store::{CaseId, TankId, TryId, cases, settings, tries};

use super::packed;
use super::tries::{Standing, both, standing};
use crate::case_file::CaseFile;
use crate::error::PageError;
use crate::flows::Flow;
use crate::pages::ids::{Id, Ids};
use crate::state::App;
use crate::view::{Frame, Tab, comparing_sheet};

/// Longest name of a try.
const LONGEST_NAME: usize = 60;

#[derive(serde::Deserialize)]
pub(super) struct NewTry {
    moves: String,
    #[serde(default)]
    name: String,
}

/// Keeps a try by name.
pub(super) async fn add(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(input): Form<NewTry>,
) -> Result<Redirect, PageError> {
    let name = input.name.trim().to_owned();
    if name.is_empty() || name.chars().count() > LONGEST_NAME || name.chars().any(char::is_control)
    {
        return Err(PageError::Refused(format!(
            "Name of the try: “{name}” is not accepted. Give 1 to {LONGEST_NAME} letters on one line."
        )));
    }
    let moves: Moves = input.moves.parse()?;
    let tank = standing(&app, id).await?;
    let moves = Moves::between(&tank, &moves.applied_to(&tank)?);
    if moves.0.is_empty() {
        return Err(PageError::Refused(
            "Nothing stands elsewhere in this try: there is nothing to keep.".to_owned(),
        ));
    }
    let at = app.clock.now().utc;
    let kept = app
        .write(move |db| tries::add(db, id, &name, &moves, at))
        .await?;
    Ok(Redirect::to(&format!("/tanks/{id}/tries/{kept}")))
}

/// A try beside the tank.
#[derive(Template, WebTemplate)]
#[template(path = "pages/try.html")]
pub(super) struct TryPage {
    frame: Frame,
    id: TankId,
    kept: tries::KeptTry,
    /// What stands elsewhere in it.
    lines: Vec<String>,
    /// Why it can no longer be, or what is known of it.
    beside: Result<Beside, Immovable>,
    adopt: Option<Adopt>,
}

/// Both arrangements.
struct Beside {
    now: String,
    tried: String,
    standing: Standing,
    /// Share of all muck at rest in each part of the bed, row after row from the front:
    /// "0.1,0.2;…", now and tried.
    rests: [String; 2],
    bed: f64,
    height: f64,
    width: f64,
}

/// The open case of the tank, for which the try can be taken.
struct Adopt {
    case: CaseId,
    /// Changes that are done by moving what is moved here, best first.
    changes: Vec<&'static Change>,
    /// Another change is under way.
    busy: bool,
}

fn rests(flow: &Flow) -> String {
    let Flow::Known(facts) = flow else {
        return String::new();
    };
    let row = |parts: &[reed_core::flow::Range]| {
        parts
            .iter()
            .map(|part| format!("{:.4}", part.likely))
            .collect::<Vec<_>>()
            .join(",")
    };
    facts
        .rests
        .iter()
        .map(|parts| row(parts))
        .collect::<Vec<_>>()
        .join(";")
}

async fn beside(
    app: &App,
    id: TankId,
    now: &Tank,
    moves: &Moves,
    units: &Units,
) -> Result<Result<Beside, Immovable>, PageError> {
    let tried = match moves.applied_to(now) {
        Ok(tried) => tried,
        Err(refused) => return Ok(Err(refused)),
    };
    let (now_flow, tried_flow) = both(app, id, now, &tried).await?;
    Ok(Ok(Beside {
        now: comparing_sheet(now, units),
        tried: comparing_sheet(&tried, units),
        standing: Standing::of(&now_flow, &tried_flow),
        rests: [rests(&now_flow), rests(&tried_flow)],
        bed: now.bed_level_cm(),
        height: now.glass.height.as_cm(),
        width: now.glass.width.as_cm(),
    }))
}

pub(super) async fn show(
    State(app): State<App>,
    Ids(id, number): Ids<TankId, TryId>,
) -> Result<TryPage, PageError> {
    let (kept, units, open) = app
        .read(move |db| {
            let open = cases::of_tank(db, id)?
                .into_iter()
                .find(|case| case.closed.is_none());
            Ok((tries::find(db, id, number)?, settings::units(db)?, open))
        })
        .await?;
    let now = standing(&app, id).await?;
    let lines = kept.moves.words(&now, &units);
    let beside = beside(&app, id, &now, &kept.moves, &units).await?;
    let adopt = match open {
        Some(case) if beside.is_ok() => Some(adoptable(&app, case.id, &kept.moves).await?),
        _ => None,
    };
    Ok(TryPage {
        frame: Frame::new(
            "try",
            format!("{}: “{}” beside what is", now.name, kept.name),
        )
        .of_tank(id, &now.name, Tab::Drift),
        id,
        kept,
        lines,
        beside,
        adopt,
    })
}

/// The changes of a case that this try carries out, best first.
async fn adoptable(app: &App, case: CaseId, moves: &Moves) -> Result<Adopt, PageError> {
    let (clock, moves) = (app.clock.clone(), moves.clone());
    app.read(move |db| {
        let file = CaseFile::load(db, case, &clock)?;
        let seen = file.as_seen(clock.now().wall);
        let (_, offers) = reed_core::remedy::offers(&Differential::of(&seen), &seen.observed);
        let moved: Vec<Kind> = moves
            .0
            .iter()
            .filter_map(|one| Some(file.tank_now().thing(one.thing)?.what.bare()))
            .collect();
        let changes = offers
            .into_iter()
            .map(|offer| offer.change)
            .filter(|change| change.is_done_by_moving(&moved))
            .collect();
        Ok(Adopt {
            case,
            changes,
            busy: file.choice().is_some(),
        })
    })
    .await
}

/// The packed speeds of a kept try.
pub(super) async fn field(
    State(app): State<App>,
    Ids(id, number): Ids<TankId, TryId>,
) -> Result<impl IntoResponse, PageError> {
    let kept = app.read(move |db| tries::find(db, id, number)).await?;
    packed(&app, kept.moves.applied_to(&standing(&app, id).await?)?).await
}

pub(super) async fn discard(
    State(app): State<App>,
    Ids(id, number): Ids<TankId, TryId>,
) -> Result<Redirect, PageError> {
    let at = app.clock.now().utc;
    app.write(move |db| tries::set_dropped(db, id, number, Some(at)))
        .await?;
    Ok(Redirect::to(&format!("/tanks/{id}/tries/{number}")))
}

pub(super) async fn take_back(
    State(app): State<App>,
    Ids(id, number): Ids<TankId, TryId>,
) -> Result<Redirect, PageError> {
    app.write(move |db| tries::set_dropped(db, id, number, None))
        .await?;
    Ok(Redirect::to(&format!("/tanks/{id}/tries/{number}")))
}

#[derive(serde::Deserialize)]
pub(super) struct Adoption {
    change: String,
}

/// Takes a try as the change of the tank's open case; what is promised of it is forecast with its
/// own flow.
pub(super) async fn adopt(
    State(app): State<App>,
    Ids(id, number): Ids<TankId, TryId>,
    Form(input): Form<Adoption>,
) -> Result<Redirect, PageError> {
    let change = change::by_id(&input.change).ok_or_else(|| {
        PageError::Refused(format!("“{}” is no change of this program.", input.change))
    })?;
    let (kept, open) = app
        .read(move |db| {
            let open = cases::of_tank(db, id)?
                .into_iter()
                .find(|case| case.closed.is_none());
            Ok((tries::find(db, id, number)?, open))
        })
        .await?;
    let case = open
        .ok_or_else(|| {
            PageError::Refused("No case is open in this tank: open one first.".to_owned())
        })?
        .id;
    let adopt = adoptable(&app, case, &kept.moves).await?;
    if adopt.busy {
        return Err(PageError::Refused(
            "A change is under way in this case. Finish or drop it first: one at a time tells what helped.".to_owned(),
        ));
    }
    if !adopt.changes.contains(&change) {
        return Err(PageError::Refused(format!(
            "“{}” is not done by what this try moves, or does not fit this tank.",
            change.title
        )));
    }
    let now = standing(&app, id).await?;
    let tried = kept.moves.applied_to(&now)?;
    let flows = both(&app, id, &now, &tried).await?;
    let (clock, at) = (app.clock.clone(), app.clock.now());
    app.write(move |db| {
        let file = CaseFile::load(db, case, &clock)?;
        let differential = Differential::of(&file.as_seen(at.wall));
        let (without, after) = if let (Flow::Known(before), Flow::Known(after)) = flows {
            let standing = Stirring::of(&now, Some(&before));
            let moved = forecast(&differential, standing.moved(&before, &after), |tank| {
                kept.moves.applied_to(tank).ok()
            });
            (forecast(&differential, standing, |_| None), Some(moved))
        } else {
            (differential.believed.forecast(Tank::clone), None)
        };
        let chosen = Chosen {
            changes: &[change],
            against: &reed_core::remedy::proof::against(&[change], &differential),
            plan: None,
            moves: Some(&kept.moves),
            without: &without,
            after: after.as_ref(),
        };
        choices::choose(db, case, chosen, at.utc)
    })
    .await?;
    Ok(Redirect::to(&format!("/cases/{case}#doing")))
}

/// The day to expect of the tank as it is believed to be, its surface stirred so and things moved.
/// A belief in which a thing is missing is not moved.
fn forecast(
    differential: &Differential,
    stirring: Stirring,
    moved: impl Fn(&Tank) -> Option<Tank>,
) -> Forecast {
    differential
        .believed
        .clone()
        .stirred(stirring)
        .forecast(|tank| moved(tank).unwrap_or_else(|| tank.clone()))
}
