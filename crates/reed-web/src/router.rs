//! All routes and, in their order, the layers around them.

use std::time::Duration;

use axum::Router;
use axum::extract::{DefaultBodyLimit, MatchedPath, Request};
use axum::http::{HeaderName, HeaderValue, StatusCode, header};
use axum::middleware::map_response;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::compression::predicate::{DefaultPredicate, NotForContentType, Predicate as _};
use tower_http::csrf::CsrfLayer;
use tower_http::limit::RequestBodyLimitLayer;
use tower_http::set_header::SetResponseHeaderLayer;
use tower_http::timeout::TimeoutLayer;
use tower_http::trace::TraceLayer;

use crate::error::{PageError, in_our_words, no_such_page};
use crate::state::App;
use crate::{assets, example, pages};

/// No form of the application comes near this.
const LARGEST_BODY: usize = 1024 * 1024;

/// Scripts, styles and fonts from here alone, nothing inline, nobody frames us.
const CONTENT_SECURITY: &str = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; \
     connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";

/// The whole application.
pub fn router(app: App) -> Router {
    let example = app
        .example()
        .map(|example| example::routes(pages::routes().fallback(no_such_page), example));
    let pages = Router::new()
        .merge(pages::routes().layer(RequestBodyLimitLayer::new(LARGEST_BODY)))
        .merge(pages::uploads().layer(RequestBodyLimitLayer::new(pages::import::LARGEST_UPLOAD)))
        .merge(pages::sheets().layer(RequestBodyLimitLayer::new(
            pages::tank::log::bring::LARGEST_SHEET,
        )))
        .merge(pages::pictures().layer(RequestBodyLimitLayer::new(
            pages::tank::log::photos::LARGEST_UPLOAD,
        )))
        .fallback(no_such_page)
        .with_state(app)
        .merge(example.unwrap_or_default())
        // Innermost first: a panic becomes a page before it is compressed or timed.
        .layer(CatchPanicLayer::custom(
            |_: Box<dyn std::any::Any + Send>| {
                axum::response::IntoResponse::into_response(PageError::Failed(
                    "a handler stopped unexpectedly".into(),
                ))
            },
        ))
        .layer(DefaultBodyLimit::disable())
        .layer(TimeoutLayer::with_status_code(
            StatusCode::SERVICE_UNAVAILABLE,
            Duration::from_secs(10),
        ))
        // Writes only from our own pages.
        .layer(CsrfLayer::new())
        // What the layers above refuse is a page too.
        .layer(map_response(in_our_words))
        .layer(CompressionLayer::new())
        // Pages show what the database holds now; a copy from before is wrong, also after "back".
        .layer(SetResponseHeaderLayer::if_not_present(
            header::CACHE_CONTROL,
            HeaderValue::from_static("no-store"),
        ));
    // Fonts are compressed already. Assets say themselves how long they may be kept.
    let not_fonts = DefaultPredicate::new().and(NotForContentType::const_new("font/"));
    let assets = assets::routes().layer(CompressionLayer::new().compress_when(not_fonts));
    Router::new()
        .merge(pages)
        .merge(assets)
        .layer(fixed_header(
            header::CONTENT_SECURITY_POLICY,
            CONTENT_SECURITY,
        ))
        .layer(fixed_header(header::X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .layer(fixed_header(header::REFERRER_POLICY, "same-origin"))
        .layer(TraceLayer::new_for_http().make_span_with(span))
}

/// What the log says beside everything that happens while a request is answered: the route, under
/// which requests of a kind can be counted, and the path, which holds the ids.
fn span(request: &Request) -> tracing::Span {
    let route = request.extensions().get::<MatchedPath>();
    tracing::error_span!(
        "request",
        method = %request.method(),
        route = route.map_or("none", MatchedPath::as_str),
        path = request.uri().path(),
    )
}

fn fixed_header(name: HeaderName, value: &'static str) -> SetResponseHeaderLayer<HeaderValue> {
    SetResponseHeaderLayer::overriding(name, HeaderValue::from_static(value))
}
