//! Tries: what the water would do if things stood elsewhere, beside what it does now.
//!
//! A try is a list of moves in the address, not a record: it costs nothing to leave it. Kept by
//! name it has a page of its own: see [`kept`](super::kept).

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use reed_core::flow::{Compared, compared};
use reed_core::tank::{Moves, Tank};
use reed_store::{TankId, tanks};

use super::packed;
use crate::error::PageError;
use crate::flows::{self, Flow, Wanted};
use crate::pages::ids::Id;
use crate::state::App;

/// What is tried.
#[derive(serde::Deserialize)]
pub(super) struct Tried {
    /// As [`Moves`] are written.
    moves: String,
}

/// A try beside the tank as it stands.
#[derive(Template, WebTemplate)]
#[template(path = "parts/try.html")]
struct TryPart {
    id: TankId,
    moves: String,
    /// A name for it, should it be kept.
    name: String,
    standing: Standing,
}

/// How far the comparison of two flows is.
pub(super) enum Standing {
    /// Percent done.
    UnderWay(u8),
    /// Both are known.
    Compared(Vec<Compared>),
    /// There is nothing to compare, and why.
    Nothing(String),
}

impl Standing {
    pub(super) fn of(now: &Flow, tried: &Flow) -> Self {
        let nothing = |why: &str| Self::Nothing(why.to_owned());
        match (now, tried) {
            (Flow::Known(now), Flow::Known(tried)) => Self::Compared(compared(now, tried)),
            (Flow::Failed, _) | (_, Flow::Failed) => {
                nothing("The flow model failed on this arrangement; the log says how.")
            }
            (Flow::Unknown, _) | (_, Flow::Unknown) => {
                nothing("The program runs without its flow model.")
            }
            (_, Flow::UnderWay(share)) => Self::UnderWay(flows::whole_percent(*share)),
            (Flow::UnderWay(_), _) => Self::UnderWay(0),
            (_, Flow::Still) => nothing("Nothing would move the water then."),
            (Flow::Still, _) => nothing("Nothing moves the water now."),
        }
    }
}

/// The flows of a tank and of a try of it, asked for where they are not known.
pub(super) async fn both(
    app: &App,
    id: TankId,
    now: &Tank,
    tried: &Tank,
) -> Result<(Flow, Flow), PageError> {
    let (standing, moved) = (now.clone(), tried.clone());
    let (of_now, of_tried) = app
        .read(move |db| {
            Ok((
                flows::kept(db, id, &standing)?,
                flows::kept(db, id, &moved)?,
            ))
        })
        .await?;
    Ok((
        app.flow(now, of_now.as_ref(), Wanted::AsItStands),
        app.flow(tried, of_tried.as_ref(), Wanted::Tried),
    ))
}

/// The tank as it stands.
pub(super) async fn standing(app: &App, id: TankId) -> Result<Tank, PageError> {
    app.read(move |db| Ok(tanks::latest(db, id)?.tank)).await
}

pub(super) async fn show(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Query(input): Query<Tried>,
) -> Result<Response, PageError> {
    let now = standing(&app, id).await?;
    let tried = input
        .moves
        .parse()
        .and_then(|moves: Moves| Ok((moves.applied_to(&now)?, moves)));
    // Refused, the part says so where the try would stand: what is dragged on the drawing stays.
    let (status, name, standing) = match tried {
        Ok((tried, moves)) => {
            let (now_flow, tried_flow) = both(&app, id, &now, &tried).await?;
            (
                StatusCode::OK,
                name_of(&moves, &now),
                Standing::of(&now_flow, &tried_flow),
            )
        }
        Err(refused) => (
            StatusCode::UNPROCESSABLE_ENTITY,
            String::new(),
            Standing::Nothing(refused.to_string()),
        ),
    };
    Ok((
        status,
        TryPart {
            id,
            moves: input.moves,
            name,
            standing,
        },
    )
        .into_response())
}

/// A name for a try: what is moved in it.
fn name_of(moves: &Moves, tank: &Tank) -> String {
    let names: Vec<&str> = moves
        .0
        .iter()
        .filter_map(|one| Some(tank.thing(one.thing)?.name.as_str()))
        .collect();
    format!("{} moved", names.join(", "))
}

/// The packed speeds of a try.
pub(super) async fn field(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Query(input): Query<Tried>,
) -> Result<impl IntoResponse, PageError> {
    let moves: Moves = input.moves.parse()?;
    let tried = moves.applied_to(&standing(&app, id).await?)?;
    packed(&app, tried).await
}

/// Makes a try the tank as it stands; the history leads back.
pub(super) async fn keep(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(input): Form<Tried>,
) -> Result<Redirect, PageError> {
    let moves: Moves = input.moves.parse()?;
    let now = standing(&app, id).await?;
    let tried = moves.applied_to(&now)?;
    let moved = Moves::between(&now, &tried);
    if !moved.0.is_empty() {
        let why = format!("Tried in Drift and kept: {}", name_of(&moved, &now));
        let at = app.clock.now().utc;
        app.write(move |db| tanks::revise(db, id, &tried, &why, at))
            .await?;
    }
    Ok(Redirect::to(&format!("/tanks/{id}/drift")))
}
