//! The pages. To add one: its file and template, its `mod` and its line in [`routes`].

mod case;
mod handbook;
mod number;
mod rounds;
mod tank;

use axum::Router;

use crate::state::App;

/// Every page.
pub(crate) fn routes() -> Router<App> {
    Router::new().merge(rounds::routes()).merge(tank::routes()).merge(case::routes()).merge(handbook::routes())
}
