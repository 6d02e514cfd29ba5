//! Made-up tanks to look at, for somebody who has entered none: the whole application once more,
//! over a store of its own, below `/example`, where nothing can be entered.
//!
//! Pages are those of the application, with their addresses moved below `/example` on the way out.

use axum::Router;
use axum::body::Body;
use axum::extract::Request;
use axum::http::{HeaderValue, Method, StatusCode, header};
use axum::middleware::{Next, from_fn};
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use reed_core::document::start;

use crate::error::PageError;
use crate::state::App;
use crate::view::{Mood, draw};

const PLACE: &str = "/example";
/// Pages that stay where they are.
const OWN: &[&str] = &["/data", "/at-the-tank"];

/// Stands above every page of the example.
const BANNER: &str = r#"<aside class="example-bar" aria-label="An example">An example, made up: look at everything, nothing is kept. <a href="/">Back to your own tanks</a></aside>"#;

/// No page comes near this.
const LARGEST_PAGE: usize = 8 * 1024 * 1024;

/// The application over the example's store, to be served below `/example`.
pub(crate) fn routes(pages: Router<App>, example: App) -> Router {
    let there = async || Redirect::to(PLACE);
    Router::new()
        .nest(
            PLACE,
            pages.with_state(example).layer(from_fn(only_to_look_at)),
        )
        .route("/example/", get(there))
}

/// What one of the tanks looks like.
pub(crate) fn picture() -> String {
    start::by_id("community-internal")
        .map_or_else(String::new, |start| draw(&start.tank(), Mood::AtEase))
}

async fn only_to_look_at(request: Request, next: Next) -> Response {
    if !matches!(*request.method(), Method::GET | Method::HEAD) {
        return PageError::OnlyAnExample.into_response();
    }
    let mut response = next.run(request).await;
    if let Some(moved) = response
        .headers()
        .get(header::LOCATION)
        .and_then(|place| place.to_str().ok())
        .filter(|place| place.starts_with('/'))
    {
        if let Ok(moved) = HeaderValue::from_str(&format!("{PLACE}{moved}")) {
            response.headers_mut().insert(header::LOCATION, moved);
        }
        return response;
    }
    let is_page = response
        .headers()
        .get(header::CONTENT_TYPE)
        .is_some_and(|kind| kind.as_bytes().starts_with(b"text/html"));
    if !is_page {
        return response;
    }
    let (mut parts, body) = response.into_parts();
    let Ok(bytes) = axum::body::to_bytes(body, LARGEST_PAGE).await else {
        return StatusCode::INTERNAL_SERVER_ERROR.into_response();
    };
    parts.headers.remove(header::CONTENT_LENGTH);
    Response::from_parts(parts, Body::from(moved(&String::from_utf8_lossy(&bytes))))
}

/// A page with its addresses below `/example`; assets stay where they are.
fn moved(page: &str) -> String {
    let page = page
        .replace("=\"/\"", &format!("=\"{PLACE}\""))
        .replace("=\"/", &format!("=\"{PLACE}/"));
    let page = page
        .replace(&format!("=\"{PLACE}/example"), &format!("=\"{PLACE}"))
        .replace(&format!("=\"{PLACE}/assets/"), "=\"/assets/");
    // Pages about the program itself are not about these tanks.
    let page = OWN.iter().fold(page, |page, own| {
        page.replace(&format!("=\"{PLACE}{own}\""), &format!("=\"{own}\""))
    });
    match page.find("<main") {
        Some(at) => format!("{}{BANNER}{}", &page[..at], &page[at..]),
        None => page,
    }
}

#[cfg(test)]
mod tests {
    use super::moved;

    #[test]
    fn addresses_move_and_assets_stay() {
        let page = r#"<a href="/">x</a><link href="/assets/a.css"><form action="/tanks/1"><main data-fetch="/cases/1"><a href="https://x">"#;
        let expected = r#"<a href="/example">x</a><link href="/assets/a.css"><form action="/example/tanks/1">"#;
        let page = moved(page);
        assert!(page.starts_with(expected), "{page}");
        assert!(
            page.contains(r#"data-fetch="/example/cases/1""#)
                && page.contains("Back to your own tanks")
                && page.contains("https://x")
        );
    }
}
