//! The application in a browser.
//!
//! [`run`] serves until told to stop. `pages` holds a file (or folder) per page: its routes, its
//! view, its handlers; templates mirror them. `view` turns numbers into words and drawings. No rule
//! of the trade lives here: pages ask the core and print.

mod alarms;
pub mod api;
mod assets;
mod case_file;
mod clock;
mod controls;
mod error;
mod everything;
mod example;
mod flows;
mod forms;
mod gate;
mod imports;
mod pages;
mod picture;
mod reach;
mod revision_cache;
mod router;
mod routines;
mod server;
mod state;
mod telling;
mod typed;
mod view;
mod visit;

use std::future::Future;

pub use clock::{Clock, Moment};
pub use everything::write_everything;
pub use reach::Reach;
pub use router::router;
pub use server::Door;
pub use state::App;
use tokio::runtime::Handle;

/// Serves the application at these doors until `stop` resolves; requests under way are finished.
/// Answers are made on the threads of `answering`: a runtime of their own keeps connections free of
/// what takes long.
pub async fn run(
    doors: Vec<Door>,
    app: App,
    answering: Handle,
    stop: impl Future<Output = ()> + Send,
) {
    server::serve(doors, router(app), answering, stop).await;
}
