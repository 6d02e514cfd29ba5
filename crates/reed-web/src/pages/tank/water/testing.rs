//! Tests: a reading is entered, with its test step by step and its clock.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use axum_extra::extract::Form;
use reed_core::tank::kit::{self, Kit, Shows};
use reed_core::tank::{Analyte, Tank};
use reed_core::units::Salinity;
use reed_store::{TankId, readings, tanks};

use super::habit::back;
use super::part::{Part, PartFrame};
use crate::error::PageError;
use crate::forms::{ReadingInput, store};
use crate::pages::ids::Id;
use crate::pages::now::Watching;
use crate::state::App;
use crate::view::{Frame, Keeper, ReadingForm, when};

/// Readings shown, newest first.
const SHOWN: usize = 12;
/// How far back they are looked for, days.
const BACK_DAYS: i64 = 60;

#[derive(Template, WebTemplate)]
#[template(path = "pages/water/tests.html")]
pub(super) struct TestsPage {
    frame: Frame,
    part: PartFrame,
    reading_form: ReadingForm,
    guides: Vec<Guide>,
    /// What was read lately, newest first: what, value, when.
    latest: Vec<[String; 3]>,
}

/// A test step by step.
struct Guide {
    id: &'static str,
    title: &'static str,
    /// Text, and seconds by the clock.
    steps: Vec<(&'static str, u32)>,
    /// It is read against a card of colours.
    is_colour: bool,
}

impl Guide {
    fn all(salinity: Salinity) -> Vec<Self> {
        let salt = salinity.is_salt_water();
        let guide = |kit: &&'static Kit| Self {
            id: kit.id,
            title: kit.title,
            steps: kit
                .steps
                .iter()
                .map(|step| {
                    (
                        step.text,
                        if salt {
                            step.seconds_in_salt
                        } else {
                            step.seconds
                        },
                    )
                })
                .collect(),
            is_colour: kit.shows == Shows::Colour,
        };
        kit::ALL.iter().map(guide).collect()
    }
}

/// A test that is asked for.
#[derive(serde::Deserialize)]
pub(super) struct Asked {
    /// Id of its kit.
    #[serde(default)]
    kit: String,
}

fn action(id: TankId) -> String {
    format!("/tanks/{id}/water/readings")
}

/// The page with this form, and the tank it is about.
async fn page(
    app: &App,
    id: TankId,
    form: impl FnOnce(&Keeper) -> ReadingForm + Send + 'static,
) -> Result<TestsPage, PageError> {
    let now = app.clock.now().wall;
    let watching = Watching::of(app);
    app.read(move |db| {
        let tank: Tank = tanks::latest(db, id)?.tank;
        let keeper = Keeper::load(db)?;
        let since = now - jiff::SignedDuration::from_hours(24 * BACK_DAYS);
        let stored = readings::latest_since(db, id, since, SHOWN)?;
        let line = |reading: &reed_core::tank::Reading| {
            [
                reading.analyte.label.to_owned(),
                reading.print(&keeper.units),
                when(reading.taken_at, now),
            ]
        };
        let (frame, part) = PartFrame::read(db, &watching, Part::Tests, (id, &tank.name))?;
        Ok(TestsPage {
            frame,
            part,
            reading_form: form(&keeper),
            guides: Guide::all(tank.salinity),
            latest: stored
                .iter()
                .rev()
                .map(|stored| line(&stored.reading))
                .collect(),
        })
    })
    .await
}

pub(super) async fn show(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Query(asked): Query<Asked>,
) -> Result<TestsPage, PageError> {
    let kit = kit::by_id(&asked.kit)
        .unwrap_or_else(|| kit::first_for(Analyte::AMMONIA))
        .id;
    page(&app, id, move |keeper| {
        ReadingForm::blank("reading", action(id), kit, keeper)
    })
    .await
}

/// A reading, entered here; the days ahead follow from it.
pub(super) async fn add_reading(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(input): Form<ReadingInput>,
) -> Result<Response, PageError> {
    let now = app.clock.now();
    match input.parse(&now, &app.units().await?) {
        Ok(reading) => {
            app.write(move |db| store(db, id, &input, &reading, now.utc))
                .await?;
            Ok(back(id).into_response())
        }
        Err(refusals) => {
            let page = page(&app, id, move |keeper| {
                ReadingForm::typed("reading", action(id), input, refusals, keeper)
            })
            .await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}
