//! The pages. To add one: its file and template, its `mod` and its line in [`routes`].

mod case;
mod handbook;
mod ids;
pub(crate) mod import;
mod rounds;
mod settings;
pub(crate) mod tank;

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

/// Every other page.
pub(crate) fn routes() -> Router<App> {
    Router::new()
        .merge(rounds::routes())
        .merge(tank::routes())
        .merge(case::routes())
        .merge(handbook::routes())
        .merge(settings::routes())
}
