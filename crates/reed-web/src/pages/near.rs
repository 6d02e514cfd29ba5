//! At the tank: the address for the phone, and what becomes of what is typed without a network.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Request, State};
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::routing::get;
use qrcode::QrCode;
use qrcode::render::svg;
use reed_store::tanks;

use crate::assets;
use crate::gate;
use crate::state::App;
use crate::view::Frame;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/at-the-tank", get(show))
        .route("/offline", get(offline))
        .route("/sw.js", get(worker))
        .route("/health", get(health))
}

/// An address, and the same to be looked at by a camera.
struct Address {
    url: String,
    picture: String,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/near.html")]
struct NearPage {
    frame: Frame,
    addresses: Vec<Address>,
    is_beyond: bool,
    has_passphrase: bool,
    /// The page that is open was sent so that nobody could read along.
    is_by_tls: bool,
}

async fn show(State(app): State<App>, request: Request) -> NearPage {
    let reach = app.reach();
    NearPage {
        frame: Frame::new("near", "At the tank"),
        addresses: reach
            .addresses
            .iter()
            .map(|url| Address {
                url: url.clone(),
                picture: picture(url),
            })
            .collect(),
        is_beyond: reach.is_beyond,
        has_passphrase: app.has_passphrase(),
        is_by_tls: reach.is_by_tls || gate::peer(&request).is_by_tls,
    }
}

/// An address as a QR code; nothing where it is too long for one.
fn picture(url: &str) -> String {
    const SIDE: u32 = 220;
    let Ok(code) = QrCode::new(url) else {
        return String::new();
    };
    let svg = code
        .render::<svg::Color<'_>>()
        .min_dimensions(SIDE, SIDE)
        .build();
    let start = svg.find("<svg").unwrap_or(0);
    svg[start..].to_owned()
}

/// What stands in for a page that cannot be fetched; kept by the browser.
#[derive(Template, WebTemplate)]
#[template(path = "pages/offline.html")]
struct OfflinePage {
    frame: Frame,
}

async fn offline() -> OfflinePage {
    OfflinePage {
        frame: Frame::new("offline", "No connection"),
    }
}

/// The script that answers in the program's place while it cannot be reached. It stands at the top,
/// since it answers for what lies below it.
async fn worker() -> impl IntoResponse {
    const SCRIPT: &str = include_str!("../../assets/js/worker.js");
    let assets = serde_json::json!(assets::kept_by_browsers()).to_string();
    (
        [
            (header::CONTENT_TYPE, "text/javascript; charset=utf-8"),
            (header::CACHE_CONTROL, "no-cache"),
        ],
        format!("self.ASSETS = {assets};\n{SCRIPT}"),
    )
}

/// For whoever watches over the program: whether it answers from its records.
async fn health(State(app): State<App>) -> Response {
    if !app.store().damage().is_empty() {
        return (StatusCode::SERVICE_UNAVAILABLE, "damaged\n").into_response();
    }
    match app.read(tanks::count).await {
        Ok(_) => "ok\n".into_response(),
        Err(_) => (StatusCode::SERVICE_UNAVAILABLE, "unreadable\n").into_response(),
    }
}
