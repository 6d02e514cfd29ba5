//! The pages. To add one: its file and template, its `mod` and its line in [`routes`].

mod case;
pub(crate) mod data;
mod handbook;
mod ids;
pub(crate) mod import;
pub(crate) mod login;
mod near;
mod now;
mod prices;
mod rounds;
mod settings;
pub(crate) mod tank;
mod visit;

pub(crate) use case::KnownCases;
pub(crate) use visit::is_feed;

use axum::Router;

use crate::state::App;

/// Pages that take files, and so larger requests than the others.
pub(crate) fn uploads() -> Router<App> {
    import::routes()
}

/// Pages that take sheets with years of readings.
pub(crate) fn sheets() -> Router<App> {
    tank::log::bring::uploads()
}

/// Addresses that take pictures.
pub(crate) fn pictures() -> Router<App> {
    tank::log::photos::uploads()
}

/// Pages about the program itself, which the example has none of its own of.
pub(crate) fn own() -> Router<App> {
    Router::new().merge(login::routes()).merge(near::routes())
}

/// Every other page.
pub(crate) fn routes() -> Router<App> {
    Router::new()
        .merge(now::routes())
        .merge(rounds::routes())
        .merge(tank::routes())
        .merge(case::routes())
        .merge(handbook::routes())
        .merge(prices::routes())
        .merge(settings::routes())
        .merge(visit::routes())
}
