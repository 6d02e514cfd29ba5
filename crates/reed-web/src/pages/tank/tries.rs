//! Tries: what the water would do if things stood elsewhere, beside what it does now; and keeping a try.
//!
//! A try is a list of moves in the address, not a record: it costs nothing to leave it.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State};
use axum::http::header;
use axum::response::{IntoResponse, Redirect};
use axum_extra::extract::Form;
use reed_core::flow::{Facts, Range, words};
use reed_core::tank::Tank;
use reed_core::units::{Length, Units};
use reed_store::{TankId, tanks};

use crate::error::PageError;
use crate::flows::{self, Flow};
use crate::pages::number::Number;
use crate::state::App;

/// The moves of a try: `number:x,y,z` in centimetres, several parted by semicolons.
#[derive(serde::Deserialize)]
pub(super) struct Moves {
    moves: String,
}

impl Moves {
    /// The tank with its things moved so.
    fn applied_to(&self, tank: &Tank) -> Result<Tank, PageError> {
        let mut tried = tank.clone();
        for one in self.moves.split(';').filter(|one| !one.is_empty()) {
            move_thing(&mut tried, one)?;
        }
        Ok(tried)
    }
}

/// Moves one thing, by `number:x,y,z` in centimetres.
pub(super) fn move_thing(tank: &mut Tank, one: &str) -> Result<(), PageError> {
    let refused = || PageError::Refused(format!("“{one}” is no move: a thing’s number, a colon, and three centimetres with commas are."));
    let (number, places) = one.split_once(':').ok_or_else(refused)?;
    let number: u32 = number.parse().map_err(|_| refused())?;
    let centimetres: Vec<f64> = places.split(',').filter_map(|place| place.parse().ok()).filter(|cm: &f64| cm.is_finite()).collect();
    let [x, y, z] = centimetres[..] else { return Err(refused()) };
    let gone = || PageError::Refused(format!("There is no thing with the number {number} in this tank."));
    let thing = tank.things.iter_mut().find(|thing| thing.number.0 == number).ok_or_else(gone)?;
    (thing.x, thing.y, thing.z) = (Length::cm(x), Length::cm(y), Length::cm(z));
    match tank.refusals(&Units::default()).first() {
        Some(refusal) => Err(PageError::Refused(refusal.to_string())),
        None => Ok(()),
    }
}

/// A try beside the tank as it stands.
#[derive(Template, WebTemplate)]
#[template(path = "parts/try.html")]
pub(super) struct TryPart {
    id: TankId,
    moves: String,
    /// Percent done, while it is being computed.
    share: Option<u8>,
    rows: Vec<Row>,
}

struct Row {
    what: String,
    now: String,
    tried: String,
    verdict: &'static str,
}

impl Row {
    fn of(what: impl Into<String>, now: Range, tried: Range, print: fn(Range) -> String) -> Self {
        let verdict = match (tried.low > now.high, tried.high < now.low) {
            (true, _) => "more",
            (_, true) => "less",
            _ if (tried.likely - now.likely).abs() < 0.1 * now.likely.abs() => "the same",
            _ if tried.likely > now.likely => "perhaps more",
            _ => "perhaps less",
        };
        Self { what: what.into(), now: print(now), tried: print(tried), verdict }
    }
}

fn rows(now: &Facts, tried: &Facts) -> Vec<Row> {
    let mut rows = vec![
        Row::of("Surface, cm/s", now.surface_cm_s, tried.surface_cm_s, |range| words::number(range, 1)),
        Row::of("Water slower than 1 cm/s", now.slow, tried.slow, words::percent),
        Row::of("Muck that comes to rest", now.muck_rests, tried.muck_rests, words::percent),
    ];
    for (before, after) in now.intakes.iter().zip(&tried.intakes).filter(|(before, after)| before.thing == after.thing) {
        rows.push(Row::of(format!("{} catches of the muck", before.name), before.caught, after.caught, words::percent));
        if before.bubbles.high > 0.02 || after.bubbles.high > 0.02 {
            rows.push(Row::of(format!("{} takes in of small bubbles", before.name), before.bubbles, after.bubbles, words::percent));
        }
    }
    rows
}

async fn standing(app: &App, id: i64) -> Result<Tank, PageError> {
    app.read(move |db| Ok(tanks::latest(db, TankId(id))?.tank)).await
}

pub(super) async fn show(State(app): State<App>, Number(id): Number, Query(moves): Query<Moves>) -> Result<TryPart, PageError> {
    let now = standing(&app, id).await?;
    let tried = moves.applied_to(&now)?;
    let (of_now, of_tried) = {
        let (now, tried) = (now.clone(), tried.clone());
        app.read(move |db| Ok((flows::kept(db, &now)?, flows::kept(db, &tried)?))).await?
    };
    let (share, rows) = match (app.flow(&now, of_now.as_ref()), app.flow(&tried, of_tried.as_ref())) {
        (Flow::Known(now), Flow::Known(tried)) => (None, rows(&now, &tried)),
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a share")]
        (_, Flow::UnderWay(share)) => (Some((share.clamp(0.0, 1.0) * 100.0) as u8), Vec::new()),
        (Flow::UnderWay(_), _) => (Some(0), Vec::new()),
        _ => (None, Vec::new()),
    };
    Ok(TryPart { id: TankId(id), moves: moves.moves, share, rows })
}

/// The packed speeds of a try.
pub(super) async fn field(State(app): State<App>, Number(id): Number, Query(moves): Query<Moves>) -> Result<impl IntoResponse, PageError> {
    let tried = moves.applied_to(&standing(&app, id).await?)?;
    let field = app.read(move |db| flows::kept_field(db, &tried)).await?;
    let field = field.ok_or_else(|| PageError::NotFound("The flow of this try is not computed yet.".to_owned()))?;
    Ok(([(header::CONTENT_TYPE, "application/octet-stream")], field))
}

/// Makes a try the tank as it stands; the history leads back.
pub(super) async fn keep(State(app): State<App>, Number(id): Number, Form(moves): Form<Moves>) -> Result<Redirect, PageError> {
    let now = standing(&app, id).await?;
    let tried = moves.applied_to(&now)?;
    let moved: Vec<_> =
        tried.things.iter().zip(&now.things).filter(|(after, before)| after != before).map(|(after, _)| after.name.clone()).collect();
    let why = format!("Tried in Drift and kept: {} moved", moved.join(", "));
    let at = app.clock.now().utc;
    if !moved.is_empty() {
        app.write(move |db| tanks::revise(db, TankId(id), &tried, &why, at)).await?;
    }
    Ok(Redirect::to(&format!("/tanks/{id}/drift")))
}
