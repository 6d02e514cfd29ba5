//! Changes that habit makes, moved to another day; and what else of the log the Water page plans.

use axum::extract::State;
use axum::response::Redirect;
use axum_extra::extract::Form;
use jiff::ToSpan;
use jiff::civil::DateTime;
use reed_core::log::{Effect, Entry, Happening, When};
use reed_core::units::span_of_days;
use reed_store::{TankId, entries};

use crate::error::PageError;
use crate::forms::{Carried, for_date_field};
use crate::pages::ids::Id;
use crate::pages::tank::log::moment;
use crate::state::App;

pub(super) fn back(id: TankId) -> Redirect {
    Redirect::to(&format!("/tanks/{id}/water#ahead"))
}

/// An effect on the water as an entry of the log.
pub(super) fn plan_entry(effect: Effect, at: DateTime) -> Entry {
    let (id, amount) = effect.happening();
    let kind = Happening::by_id(id).expect("every effect is that of a kind");
    Entry {
        amount,
        ..Entry::of(kind, When::minute(at))
    }
}

#[derive(serde::Deserialize)]
pub(super) struct HabitMoved {
    from: String,
    to: String,
}

/// Moves one change that habit would make: it is left out there, and planned here.
pub(super) async fn move_habit(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(moved): Form<HabitMoved>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now();
    let read = |text: &str| {
        moment(text, &now, &Carried::default())
            .map(|when| when.likely())
            .map_err(|refusal| PageError::Refused(refusal.to_string()))
    };
    let (from, to) = (read(&moved.from)?, read(&moved.to)?);
    app.write(move |db| {
        let practice = reed_store::tanks::latest(db, id)?.tank.practice;
        let share = practice.change_share.as_percent() / 100.0;
        entries::add(db, id, &plan_entry(Effect::Skip, from), now.utc)?;
        entries::add(db, id, &plan_entry(Effect::Change(share), to), now.utc)
    })
    .await?;
    Ok(back(id))
}

/// The wall clock so many days from a moment, for a date field.
pub(super) fn days_from(now: DateTime, days: f64) -> String {
    let later = now
        .checked_add(span_of_days(days).unwrap_or_default())
        .unwrap_or_else(|_| now.saturating_add(0.days()));
    for_date_field(later)
}
