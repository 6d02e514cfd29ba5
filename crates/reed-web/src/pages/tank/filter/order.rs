//! Media in another order: one tap for the order that serves them, or one of them moved.

use axum::extract::State;
use axum::response::Redirect;
use axum_extra::extract::Form;
use reed_core::tank::{At, Filter};
use reed_store::{TankId, tanks};

use super::of_number;
use crate::error::PageError;
use crate::pages::ids::Ids;
use crate::state::App;

/// The number of a filter in an address.
pub(super) struct FilterNumber(pub(super) u32);

impl From<i64> for FilterNumber {
    fn from(number: i64) -> Self {
        Self(u32::try_from(number).unwrap_or(u32::MAX))
    }
}

/// Puts the media into the order that serves them.
pub(super) async fn mend(
    State(app): State<App>,
    Ids(id, FilterNumber(number)): Ids<TankId, FilterNumber>,
) -> Result<Redirect, PageError> {
    change(
        app,
        id,
        number,
        "Media in the order of the water",
        |filter| {
            *filter = filter.in_order();
            Ok(())
        },
    )
    .await
}

#[derive(serde::Deserialize)]
pub(super) struct Moved {
    /// `tray-0-1`: the second medium of the first tray.
    from: String,
    /// The same: before which it goes.
    to: String,
}

/// Moves a medium.
pub(super) async fn move_medium(
    State(app): State<App>,
    Ids(id, FilterNumber(number)): Ids<TankId, FilterNumber>,
    Form(moved): Form<Moved>,
) -> Result<Redirect, PageError> {
    let no_place = |text: &str| {
        PageError::Refused(format!(
            "“{text}” is no place of a medium in this filter; take one of those on the page."
        ))
    };
    let from = place(&moved.from).ok_or_else(|| no_place(&moved.from))?;
    let to = place(&moved.to).ok_or_else(|| no_place(&moved.to))?;
    change(app, id, number, "A medium moved", move |filter| {
        filter
            .move_medium(from, to)
            .map_err(|_| no_place(&moved.to))
    })
    .await
}

/// A stop and a place in it, as forms name them.
pub(super) fn place(text: &str) -> Option<(At, usize)> {
    let mut parts = text.split('-');
    let (list, stop, medium) = (
        parts.next()?,
        parts.next()?.parse().ok()?,
        parts.next()?.parse().ok()?,
    );
    let at = match list {
        "tray" => At::Tray(stop),
        "chamber" => At::Chamber(stop),
        _ => return None,
    };
    parts.next().is_none().then_some((at, medium))
}

/// The same as forms name it.
pub(super) fn place_words(at: At, medium: usize) -> String {
    match at {
        At::Tray(stop) => format!("tray-{stop}-{medium}"),
        At::Chamber(stop) => format!("chamber-{stop}-{medium}"),
    }
}

async fn change(
    app: App,
    id: TankId,
    number: u32,
    why: &'static str,
    make: impl FnOnce(&mut Filter) -> Result<(), PageError> + Send + 'static,
) -> Result<Redirect, PageError> {
    let now = app.clock.now().utc;
    app.write(move |db| {
        let mut tank = tanks::latest(db, id)?.tank;
        let index = tank
            .filters
            .iter()
            .position(|filter| filter.number.0 == number);
        of_number(&tank, number)?;
        let before = tank.clone();
        if let Some(filter) = index.and_then(|index| tank.filters.get_mut(index))
            && let Err(refused) = make(filter)
        {
            return Ok(Err(refused));
        }
        if tank != before {
            tanks::revise(db, id, &tank, why, now)?;
        }
        Ok(Ok(Redirect::to(&format!(
            "/tanks/{id}/filter?f={number}#inside"
        ))))
    })
    .await?
}
