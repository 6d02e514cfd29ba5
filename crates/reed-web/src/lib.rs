//! The application in a browser.
//!
//! [`run`] serves until told to stop. `pages` holds a file (or folder) per page: its routes, its
//! view, its handlers; templates mirror them. `view` turns numbers into words and drawings. No rule
//! of the trade lives here: pages ask the core and print.

mod assets;
mod case_file;
mod clock;
mod error;
mod example;
mod flows;
mod forms;
mod imports;
mod pages;
mod picture;
mod revision_cache;
mod router;
mod state;
mod view;

use std::future::Future;

pub use clock::{Clock, Moment};
pub use router::router;
pub use state::App;
use tokio::net::TcpListener;

/// Serves the application on this socket until `stop` resolves; requests under way are finished.
///
/// # Errors
/// When the socket fails.
pub async fn run(
    listener: TcpListener,
    app: App,
    stop: impl Future<Output = ()> + Send + 'static,
) -> std::io::Result<()> {
    axum::serve(listener, router(app))
        .with_graceful_shutdown(stop)
        .await
}
