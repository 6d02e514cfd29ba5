//! The drift test: what real water did with a pinch of food, entered, held against the flow, kept.

use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use reed_core::flow::{DriftTrial, FoodRelease, says};
use reed_core::tank::Tank;
use reed_core::units::{Length, Quantity, Refusal, Units, read_amount};
use reed_flow::Field;
use reed_store::drift_trials::KeptDriftTrial;
use reed_store::{DriftTrialId, TankId, drift_trials};

use super::page;
use crate::clock::{Clock, Moment};
use crate::error::PageError;
use crate::flows;
use crate::forms::{Carried, Refusals};
use crate::pages::ids::{Id, Ids};
use crate::state::App;
use crate::view::when;

/// A test as typed.
#[derive(Clone, Default, serde::Deserialize)]
pub(super) struct TestInput {
    #[serde(default)]
    pub(super) pinch: String,
    #[serde(default)]
    pub(super) from_x: String,
    #[serde(default)]
    pub(super) from_y: String,
    #[serde(default)]
    pub(super) to_x: String,
    #[serde(default)]
    pub(super) to_y: String,
    #[serde(default)]
    pub(super) to_z: String,
    #[serde(default)]
    pub(super) seconds: String,
    #[serde(flatten)]
    pub(super) carried: Carried,
}

impl TestInput {
    /// What can be refused.
    pub(super) const FIELDS: [&'static str; 6] =
        ["from_x", "from_y", "to_x", "to_y", "to_z", "seconds"];

    /// The places as typed: field, label, text.
    pub(super) fn places(&self) -> [(&'static str, &'static str, &str); 5] {
        [
            ("from_x", "Let go, from the left", &self.from_x),
            ("from_y", "Let go, from the front", &self.from_y),
            ("to_x", "Seen, from the left", &self.to_x),
            ("to_y", "Seen, from the front", &self.to_y),
            ("to_z", "Seen, above the floor", &self.to_z),
        ]
    }

    /// Nothing typed yet; a minute is watched.
    pub(super) fn blank() -> Self {
        Self {
            pinch: FoodRelease::default().id().to_owned(),
            seconds: "60".to_owned(),
            ..Self::default()
        }
    }

    fn parse(&self, tank: &Tank, units: &Units) -> Result<DriftTrial, Vec<Refusal>> {
        let mut refused = Vec::new();
        let mut read = |(field, label, text): (&str, &str, &str)| {
            let value = read_amount(text, Length::UNITS, units.of(Length::UNITS));
            if value.is_none() {
                let accepted = format!(
                    "Give a number, in {} unless it says otherwise, or tap the place on the drawing.",
                    units.of(Length::UNITS).symbol
                );
                refused.push(Refusal::new(field, label, text, accepted));
            }
            value.unwrap_or_default()
        };
        let [from_x, from_y, x, y, z] = self.places().map(&mut read);
        let seconds = self.seconds.trim().replace(',', ".").parse();
        if seconds.is_err() {
            refused.push(Refusal::new(
                "seconds",
                "Seconds",
                &self.seconds,
                "Give a number of seconds, such as 60.",
            ));
        }
        let pinch = FoodRelease::by_id(&self.pinch).unwrap_or_default();
        let test = DriftTrial {
            pinch,
            from_cm: [from_x, from_y],
            to_cm: [x, y, z],
            seconds: seconds.unwrap_or_default(),
        };
        let unread: Vec<String> = refused
            .iter()
            .map(|refusal| refusal.field.clone())
            .collect();
        refused.extend(
            test.refusals(tank, units)
                .into_iter()
                .filter(|refusal| !unread.contains(&refusal.field)),
        );
        if refused.is_empty() {
            Ok(test)
        } else {
            Err(refused)
        }
    }
}

/// A test that was entered, ready to print.
pub(super) struct TestLine {
    pub(super) id: DriftTrialId,
    pub(super) at: String,
    pub(super) words: String,
    pub(super) says: &'static str,
    pub(super) is_struck: bool,
}

impl TestLine {
    pub(super) fn of(kept: &KeptDriftTrial, clock: &Clock, now: &Moment, units: &Units) -> Self {
        let print = |cm: f64| units.print(cm, Length::UNITS, 0);
        let [x, y, z] = kept.test.to_cm;
        Self {
            id: kept.id,
            at: when(clock.wall_at(kept.made_at), now.wall),
            words: format!(
                "{}, after {:.0} s at {} from the left, {} from the front, {} above the floor",
                kept.test.pinch.words(),
                kept.test.seconds,
                print(x),
                print(y),
                print(z)
            ),
            says: says(kept.factor),
            is_struck: kept.is_struck,
        }
    }
}

/// Keeps a test; a refused one is shown again as typed.
pub(super) async fn add(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(input): Form<TestInput>,
) -> Result<Response, PageError> {
    let units = input.carried.units(app.units().await?);
    let tank = super::tries::standing(&app, id).await?;
    let test = match input.parse(&tank, &units) {
        Ok(test) => test,
        Err(refused) => {
            let page = page(&app, id, input, Refusals::of(refused)).await?;
            return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
        }
    };
    let now = app.clock.now().utc;
    let bed = tank.bed_level_cm();
    let kept = app
        .write(move |db| {
            let Some(field) =
                flows::kept_field(db, &tank)?.and_then(|packed| Field::unpacked(&packed))
            else {
                return Ok(false);
            };
            drift_trials::add(db, id, &test, test.held_against(&field, bed), now)?;
            Ok(true)
        })
        .await?;
    if kept {
        Ok(Redirect::to(&format!("/tanks/{id}/drift#drift-test")).into_response())
    } else {
        let words = "The flow of this tank is not computed yet; enter the test again when it is."
            .to_owned();
        let page = page(&app, id, input, Refusals::single("flow", words)).await?;
        Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
    }
}

pub(super) async fn strike(
    State(app): State<App>,
    Ids(id, test): Ids<TankId, DriftTrialId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().utc;
    set_struck(&app, id, test, Some(now)).await
}

pub(super) async fn restore(
    State(app): State<App>,
    Ids(id, test): Ids<TankId, DriftTrialId>,
) -> Result<Redirect, PageError> {
    set_struck(&app, id, test, None).await
}

async fn set_struck(
    app: &App,
    id: TankId,
    test: DriftTrialId,
    struck: Option<jiff::Timestamp>,
) -> Result<Redirect, PageError> {
    app.write(move |db| drift_trials::set_struck(db, id, test, struck))
        .await?;
    Ok(Redirect::to(&format!("/tanks/{id}/drift#drift-test")))
}
