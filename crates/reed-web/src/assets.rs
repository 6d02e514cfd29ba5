//! Style, scripts and fonts, from the binary; each under an address that holds a hash of its
//! content.

use std::collections::HashMap;
use std::sync::OnceLock;

use axum::Router;
use memory_serve::{CacheControl, MemoryServe};

const MOUNT: &str = "/assets";

fn served() -> MemoryServe {
    memory_serve::load!()
        .index_file(None)
        .enable_hashed_routes(true)
        .cache_control(CacheControl::Medium)
}

/// Serves the assets.
pub(crate) fn routes<S: Clone + Send + Sync + 'static>() -> Router<S> {
    Router::new().nest(MOUNT, served().into_router())
}

/// The address of an asset that may be cached for ever, by its path under `assets/`.
pub(crate) fn url(path: &str) -> String {
    static URLS: OnceLock<HashMap<String, String>> = OnceLock::new();
    let urls = URLS.get_or_init(|| {
        served()
            .manifest()
            .iter()
            .map(|(route, hashed)| (route.to_owned(), format!("{MOUNT}{hashed}")))
            .collect()
    });
    urls.get(&format!("/{path}"))
        .cloned()
        .unwrap_or_else(|| format!("{MOUNT}/{path}"))
}
