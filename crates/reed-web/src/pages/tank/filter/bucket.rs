//! The bucket test of a filter, entered.

use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse as _, Redirect, Response};
use axum_extra::extract::Form;
use reed_core::filter::bucket::Bucket;
use reed_core::filter::history::BUCKET;
use reed_core::log::{Details, Entry, Happening, On, When};
use reed_store::{TankId, tanks};

use super::order::FilterNumber;
use super::overview::FilterPage;
use super::{Asked, of_number};
use crate::error::PageError;
use crate::forms::Refusals;
use crate::pages::ids::Ids;
use crate::pages::tank::log;
use crate::state::App;

/// As typed.
#[derive(Clone, Default, serde::Deserialize)]
#[serde(default)]
pub(super) struct BucketInput {
    pub(super) litres: String,
    #[serde(rename = "run-1")]
    pub(super) run_1: String,
    #[serde(rename = "run-2")]
    pub(super) run_2: String,
    #[serde(rename = "run-3")]
    pub(super) run_3: String,
}

pub(super) async fn enter(
    State(app): State<App>,
    Ids(id, FilterNumber(number)): Ids<TankId, FilterNumber>,
    Form(input): Form<BucketInput>,
) -> Result<Response, PageError> {
    let now = app.clock.now();
    let runs = [&*input.run_1, &*input.run_2, &*input.run_3];
    let test = match Bucket::read(&input.litres, &runs) {
        Ok(test) => test,
        Err(refusals) => {
            let typed = Some((input, Refusals::of(refusals)));
            let page = app
                .read(move |db| {
                    FilterPage::read(db, id, Asked { f: Some(number) }, now.wall, typed)
                })
                .await?;
            return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
        }
    };
    app.write(move |db| {
        let tank = tanks::latest(db, id)?.tank;
        let filter = of_number(&tank, number)?;
        let kind = Happening::by_id(BUCKET).expect("in the catalogue");
        let entry = Entry {
            on: On::Filter(filter.number),
            details: Details {
                runs: test.runs.clone(),
                ..Details::default()
            },
            ..Entry::of(kind, When::minute(now.wall)).with_amount(test.mean().round())
        };
        log::enter(db, id, &entry, &[], true, &now)?;
        Ok(Redirect::to(&format!("/tanks/{id}/filter?f={number}#bucket")).into_response())
    })
    .await
}
