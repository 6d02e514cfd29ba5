//! Charts of a tank: anything that was read over any span, with what is expected, its limits, what
//! happened meanwhile, and another tank beside it; as a page, a picture and a sheet.

mod asked;
mod drawn;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use axum::routing::get;
use reed_core::log::sheet::{Shown, write_shown};
use reed_core::tank::Analyte;
use reed_core::units::Units;
use reed_store::TankId;

use self::asked::{Asked, SPANS};
use self::drawn::{Drawn, Expected};
use super::files::attachment;
use crate::error::PageError;
use crate::pages::ids::Id;
use crate::state::App;
use crate::view::{Frame, Tab, stacked, when};

/// Rows of a table of one thing at most.
const ROWS: usize = 24;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/tanks/{tank}/charts", get(show))
        .route("/tanks/{tank}/charts/expected", get(expected))
        .route("/tanks/{tank}/charts.svg", get(picture))
        .route("/tanks/{tank}/charts.csv", get(sheet))
}

/// Something that can be drawn.
struct Choice {
    id: &'static str,
    words: &'static str,
    is_chosen: bool,
}

/// A chart.
struct Figure {
    words: String,
    /// What was read last.
    latest: String,
    svg: String,
    rows: Vec<Row>,
    unit: &'static str,
}

/// A few points of a chart, in numbers.
struct Row {
    tank: String,
    when: String,
    least: String,
    mean: String,
    most: String,
    many: u32,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/charts.html")]
struct ChartsPage {
    frame: Frame,
    id: TankId,
    name: String,
    asked: Asked,
    refused: String,
    choices: Vec<Choice>,
    spans: Vec<Choice>,
    others: Vec<(TankId, String)>,
    drawn: DrawnView,
    /// Where the same comes from with what is expected, which takes longer to compute.
    expected: Option<String>,
    /// The same as a picture and as a sheet.
    query: String,
}

/// The charts, and what they are drawn of.
struct DrawnView {
    sister: Option<String>,
    figures: Vec<Figure>,
    lanes: String,
}

/// The charts alone, with what is expected.
#[derive(Template, WebTemplate)]
#[template(path = "parts/charts_drawn.html")]
struct DrawnPart {
    drawn: DrawnView,
}

async fn read(
    app: &App,
    id: TankId,
    asked: Asked,
    with: Expected,
) -> Result<Result<Drawn, String>, PageError> {
    let now = app.clock.now().wall;
    app.read(move |db| drawn::read(db, id, &asked, with, now))
        .await
}

/// The charts with what is expected, for the page that shows them without at once.
async fn expected(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Query(pairs): Query<Vec<(String, String)>>,
) -> Result<DrawnPart, PageError> {
    let drawn = read(&app, id, Asked::of(&pairs), Expected::Computed).await?;
    let drawn = drawn.map_err(PageError::Refused)?;
    Ok(DrawnPart {
        drawn: DrawnView::of(&app, &drawn),
    })
}

async fn show(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Query(pairs): Query<Vec<(String, String)>>,
) -> Result<Response, PageError> {
    let asked = Asked::of(&pairs);
    match read(&app, id, asked.clone(), Expected::Left).await? {
        Ok(drawn) => Ok(ChartsPage::of(&app, id, asked, String::new(), drawn).into_response()),
        Err(why) => {
            // Drawn as usual, with what was typed still in the form.
            let usual = Asked {
                span: "quarter".to_owned(),
                ..asked.clone()
            };
            let drawn = read(&app, id, usual, Expected::Left)
                .await?
                .map_err(PageError::Refused)?;
            let page = ChartsPage::of(&app, id, asked, why, drawn);
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

impl ChartsPage {
    fn of(app: &App, id: TankId, asked: Asked, refused: String, drawn: Drawn) -> Self {
        let view = DrawnView::of(app, &drawn);
        let query = asked.query();
        let is_ahead = drawn.is_ahead;
        Self {
            frame: Frame::new("charts", format!("{}: charts", drawn.tank.name)).of_tank(
                id,
                &drawn.tank.name,
                Tab::Log,
            ),
            id,
            choices: drawn
                .choices
                .iter()
                .map(|(analyte, is_chosen)| Choice {
                    id: analyte.id,
                    words: analyte.label,
                    is_chosen: *is_chosen,
                })
                .collect(),
            spans: SPANS
                .iter()
                .map(|span| Choice {
                    id: span.id,
                    words: span.words,
                    is_chosen: span.id == asked.span,
                })
                .collect(),
            others: drawn.others,
            drawn: view,
            expected: is_ahead.then(|| format!("/tanks/{id}/charts/expected{query}")),
            query,
            name: drawn.tank.name,
            asked,
            refused,
        }
    }
}

impl DrawnView {
    fn of(app: &App, drawn: &Drawn) -> Self {
        let now = app.clock.now().wall;
        let figure = |(course, (analyte, points)): (
            &crate::view::Course,
            &(&'static Analyte, Vec<Shown>),
        )| {
            let unit = drawn.units.of(analyte.units);
            let own = points
                .iter()
                .rev()
                .find(|point| point.tank == drawn.tank.name);
            Figure {
                words: course.title.clone(),
                latest: own.map_or_else(String::new, |point| {
                    format!(
                        "{}, {}",
                        analyte.print(point.mean, &drawn.units),
                        when(point.to, now)
                    )
                }),
                svg: course.draw(),
                rows: rows(points, &drawn.units),
                unit: unit.symbol,
            }
        };
        let figures = drawn.courses.iter().zip(&drawn.shown).map(figure).collect();
        Self {
            sister: drawn.sister.clone(),
            figures,
            lanes: drawn.lanes.draw(),
        }
    }
}

/// Points in numbers, no more than can be read.
fn rows(points: &[Shown], units: &Units) -> Vec<Row> {
    let together = points.len().div_ceil(ROWS).max(1);
    let of_tank = points.chunk_by(|one, other| one.tank == other.tank);
    let row = |shown: Shown| {
        let unit = units.of(shown.analyte.units);
        let print = |value: f64| {
            let decimals = shown.analyte.decimals;
            format!("{:.decimals$}", unit.from_base(value))
        };
        Row {
            when: if shown.from == shown.to {
                shown.from.strftime("%-d %b %Y %H:%M").to_string()
            } else {
                format!(
                    "{} – {}",
                    shown.from.strftime("%-d %b %Y"),
                    shown.to.strftime("%-d %b %Y")
                )
            },
            least: print(shown.least),
            mean: print(shown.mean),
            most: print(shown.most),
            many: shown.many,
            tank: shown.tank,
        }
    };
    of_tank
        .flat_map(|points| points.chunks(together).filter_map(Shown::together))
        .map(row)
        .collect()
}

async fn picture(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Query(pairs): Query<Vec<(String, String)>>,
) -> Result<impl IntoResponse, PageError> {
    let drawn = read(&app, id, Asked::of(&pairs), Expected::Computed).await?;
    let drawn = drawn.map_err(PageError::Refused)?;
    let svg = stacked(&drawn.courses, &drawn.lanes);
    Ok(attachment("image/svg+xml", &drawn.tank.name, "svg", svg))
}

async fn sheet(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Query(pairs): Query<Vec<(String, String)>>,
) -> Result<impl IntoResponse, PageError> {
    let drawn = read(&app, id, Asked::of(&pairs), Expected::Computed).await?;
    let drawn = drawn.map_err(PageError::Refused)?;
    let points = drawn.shown.iter().flat_map(|(_, points)| points);
    let text = write_shown(points, &drawn.units);
    let kind = "text/csv; charset=utf-8; header=present";
    Ok(attachment(kind, &drawn.tank.name, "csv", text))
}
