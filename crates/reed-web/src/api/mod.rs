//! What devices and other programs talk to: JSON over HTTP, described in OpenAPI 3.1 from this code.

mod device;
mod intake;
mod readings;

use axum::extract::Request;
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::routing::{get, post};
use axum::{Json, Router};
use reed_store::devices::{self, Device};
use serde::Serialize;
use utoipa::OpenApi;
use utoipa::openapi::security::{Http, HttpAuthScheme, SecurityScheme};

pub(crate) use intake::Intake;
pub(crate) use readings::LARGEST_POST;

use crate::error::PageError;
use crate::state::App;

/// Below this everything is told to whoever shows the token of a device, and to nobody else.
const PLACE: &str = "/api/v1/";

pub(crate) fn routes() -> Router<App> {
    Router::new()
        .route("/api/v1/readings", post(readings::take))
        .route("/api/v1/device", get(device::show))
        .route("/api/v1/openapi.json", get(described))
        .fallback(no_such_address)
}

/// Let past the passphrase: each address asks for a token of its own.
pub(crate) fn is_address(path: &str) -> bool {
    path.starts_with(PLACE)
}

/// Why something was not taken.
#[derive(Debug, Serialize, utoipa::ToSchema)]
pub(crate) struct Problem {
    /// In a sentence, for whoever reads the log of the device.
    #[schema(example = "Show the token of a device: “Authorization: Bearer …”.")]
    pub(crate) why: String,
}

/// An answer that is no success.
pub(crate) fn problem(status: StatusCode, why: impl Into<String>) -> Response {
    (status, Json(Problem { why: why.into() })).into_response()
}

/// The device whose token is shown.
async fn device(app: &App, headers: &HeaderMap) -> Result<Option<Device>, PageError> {
    let shown = headers.get(header::AUTHORIZATION);
    let token = shown
        .and_then(|shown| shown.to_str().ok())
        .and_then(|shown| shown.strip_prefix("Bearer "));
    match token {
        Some(token) => {
            let token = token.trim().to_owned();
            app.read(move |db| devices::by_token(db, &token)).await
        }
        None => Ok(None),
    }
}

/// To whom shows no token that is known.
fn unknown_token() -> Response {
    problem(
        StatusCode::UNAUTHORIZED,
        "No device shows this token. Show it as “Authorization: Bearer …”; a new one is made on the page Devices of the tank.",
    )
}

async fn no_such_address(request: Request) -> Response {
    let why = format!(
        "There is nothing at {}. What there is stands in {PLACE}openapi.json.",
        request.uri().path()
    );
    problem(StatusCode::NOT_FOUND, why)
}

#[derive(OpenApi)]
#[openapi(
    info(
        title = "Zesty Reed",
        description = "Readings of devices. Each device has a token of its own, made on the page Devices of its tank."
    ),
    paths(device::show, readings::take),
    components(schemas(Problem)),
    modifiers(&Tokens)
)]
struct Api;

/// Says how a device shows who it is.
struct Tokens;

impl utoipa::Modify for Tokens {
    fn modify(&self, openapi: &mut utoipa::openapi::OpenApi) {
        let scheme = SecurityScheme::Http(Http::new(HttpAuthScheme::Bearer));
        openapi
            .components
            .get_or_insert_default()
            .add_security_scheme("device", scheme);
    }
}

/// The description, as text that ends with a line.
pub fn openapi() -> String {
    let text = Api::openapi().to_pretty_json();
    text.map_or_else(|_| String::new(), |text| text + "\n")
}

async fn described() -> impl IntoResponse {
    ([(header::CONTENT_TYPE, "application/json")], openapi())
}
