//! Style, scripts and fonts, from the binary. Their common address holds a hash of all of them, so
//! that browsers may keep them for ever and scripts find each other by relative paths.

use std::borrow::Cow;
use std::sync::OnceLock;

use axum::Router;
use axum::body::Body;
use axum::extract::Path;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::routing::get;
use rust_embed::RustEmbed;

const MOUNT: &str = "/assets";

#[derive(RustEmbed)]
#[folder = "assets"]
struct Assets;

/// Serves the assets.
pub(crate) fn routes<S: Clone + Send + Sync + 'static>() -> Router<S> {
    Router::new().route(&format!("{MOUNT}/{{version}}/{{*path}}"), get(serve))
}

/// The address of an asset that may be cached for ever, by its path under `assets/`.
pub(crate) fn url(path: &str) -> String {
    format!("{MOUNT}/{}/{path}", version())
}

/// The addresses of what pages are made of, for browsers that keep them to open without a network.
pub(crate) fn kept_by_browsers() -> Vec<String> {
    // The worker is no part of a page.
    Assets::iter()
        .filter(|path| path != "js/worker.js")
        .map(|path| url(&path))
        .collect()
}

/// Tells one set of assets from any other: the beginnings of their hashes, put together. A debug
/// build reads them from the disk: start it again to have browsers fetch what was changed.
fn version() -> &'static str {
    static VERSION: OnceLock<String> = OnceLock::new();
    VERSION.get_or_init(|| {
        let mixed = Assets::iter()
            .filter_map(|path| Assets::get(&path))
            .map(|file| file.metadata.sha256_hash())
            .fold([0_u8; 8], |mixed, hash| {
                std::array::from_fn(|place| mixed[place].rotate_left(1) ^ hash[place])
            });
        mixed.iter().map(|byte| format!("{byte:02x}")).collect()
    })
}

async fn serve(Path((asked, path)): Path<(String, String)>) -> Response {
    let Some(file) = Assets::get(&path) else {
        return StatusCode::NOT_FOUND.into_response();
    };
    // An address of before an update gets what is there now, but not for ever.
    let keep = if asked == version() {
        "public, max-age=31536000, immutable"
    } else {
        "no-cache"
    };
    let headers = [
        (header::CONTENT_TYPE, content_type(&path)),
        (header::CACHE_CONTROL, keep),
    ];
    // A release holds them for as long as it runs: no copy for each request.
    let body = match file.data {
        Cow::Borrowed(held) => Body::from(held),
        Cow::Owned(read) => Body::from(read),
    };
    (headers, body).into_response()
}

fn content_type(path: &str) -> &'static str {
    match path.rsplit_once('.').map(|(_, kind)| kind) {
        Some("css") => "text/css; charset=utf-8",
        Some("js") => "text/javascript; charset=utf-8",
        Some("svg") => "image/svg+xml",
        Some("woff2") => "font/woff2",
        Some("png") => "image/png",
        Some("webmanifest") => "application/manifest+json",
        _ => "text/plain; charset=utf-8",
    }
}
