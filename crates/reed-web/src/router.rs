//! All routes and, in their order, the layers around them.

use std::time::Duration;

use axum::Router;
use axum::extract::{DefaultBodyLimit, MatchedPath, Request};
use axum::http::{HeaderName, HeaderValue, StatusCode, header};
use axum::middleware::{from_fn, from_fn_with_state, map_response};
use axum::response::IntoResponse as _;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::compression::predicate::{DefaultPredicate, NotForContentType, Predicate as _};
use tower_http::csrf::CsrfLayer;
use tower_http::limit::RequestBodyLimitLayer;
use tower_http::set_header::SetResponseHeaderLayer;
use tower_http::timeout::{RequestBodyTimeoutLayer, TimeoutLayer};
use tower_http::trace::TraceLayer;

use crate::error::{PageError, in_our_words, no_such_page};
use crate::state::App;
use crate::typed::with_what_was_typed;
use crate::{api, assets, example, gate, pages, reach, visit};

/// No form of the application comes near this.
const LARGEST_BODY: usize = 1024 * 1024;

/// Scripts, styles and fonts from here alone, nothing inline, nobody frames us.
const CONTENT_SECURITY: &str = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; manifest-src 'self'; worker-src 'self'; \
     connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";

/// A photo over a weak network, years of a probe, all records.
const LONG: Duration = Duration::from_secs(15 * 60);
/// A sender that sends nothing for so long has gone.
const PAUSE: Duration = Duration::from_secs(20);

/// The whole application.
pub fn router(app: App) -> Router {
    let example = app
        .example()
        .map(|example| example::routes(pages::routes().fallback(no_such_page), example));
    let within = |time| TimeoutLayer::with_status_code(StatusCode::SERVICE_UNAVAILABLE, time);
    let up_to = |bytes| RequestBodyLimitLayer::new(bytes);
    let quick = Router::new()
        .merge(pages::routes())
        .merge(pages::own())
        .layer(up_to(LARGEST_BODY))
        .layer(within(app.patience));
    let long = Router::new()
        .merge(api::routes().layer(up_to(api::LARGEST_POST)))
        .merge(pages::uploads().layer(up_to(pages::import::LARGEST_UPLOAD)))
        .merge(pages::sheets().layer(up_to(pages::tank::log::bring::LARGEST_SHEET)))
        .merge(pages::pictures().layer(up_to(pages::tank::log::photos::LARGEST_UPLOAD)))
        .merge(pages::data::routes().layer(up_to(LARGEST_BODY)))
        .merge(pages::data::uploads().layer(up_to(pages::data::LARGEST_ARCHIVE)))
        .layer(within(LONG));
    let pages = Router::new()
        .merge(quick)
        .merge(long)
        .fallback(no_such_page)
        .with_state(app.clone())
        .merge(example.unwrap_or_default().layer(within(app.patience)))
        // Innermost first: a panic becomes a page before it is compressed or timed.
        .layer(CatchPanicLayer::custom(
            |_: Box<dyn std::any::Any + Send>| {
                PageError::Failed("a handler stopped unexpectedly".into()).into_response()
            },
        ))
        .layer(DefaultBodyLimit::disable())
        // Writes only from our own pages.
        .layer(CsrfLayer::new())
        .layer(from_fn_with_state(app.clone(), gate::only_who_may))
        // What the layers above refuse is a page too.
        .layer(map_response(in_our_words))
        .layer(from_fn(with_what_was_typed))
        .layer(RequestBodyTimeoutLayer::new(PAUSE))
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
        // A page of somebody else’s that made its own name point here is told nothing.
        .layer(from_fn_with_state(app.clone(), reach::under_own_names))
        .layer(TraceLayer::new_for_http().make_span_with(span))
        .layer(from_fn_with_state(app, visit::numbered))
        .layer(fixed_header(
            header::CONTENT_SECURITY_POLICY,
            CONTENT_SECURITY,
        ))
        .layer(fixed_header(header::X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .layer(fixed_header(header::REFERRER_POLICY, "same-origin"))
        .layer(fixed_header(
            HeaderName::from_static("cross-origin-opener-policy"),
            "same-origin",
        ))
        .layer(fixed_header(
            HeaderName::from_static("cross-origin-resource-policy"),
            "same-origin",
        ))
        .layer(fixed_header(
            HeaderName::from_static("permissions-policy"),
            "camera=(), geolocation=(), microphone=(), payment=(), usb=()",
        ))
}

/// What the log says beside everything that happens while a request is answered: the route, under
/// which requests of a kind can be counted, and the path, which holds the ids.
fn span(request: &Request) -> tracing::Span {
    let route = request.extensions().get::<MatchedPath>();
    let visit = request.extensions().get::<visit::Visit>();
    tracing::error_span!(
        "request",
        id = visit.map_or("", |visit| &*visit.id),
        method = %request.method(),
        route = route.map_or("none", MatchedPath::as_str),
        path = request.uri().path(),
    )
}

fn fixed_header(name: HeaderName, value: &'static str) -> SetResponseHeaderLayer<HeaderValue> {
    SetResponseHeaderLayer::overriding(name, HeaderValue::from_static(value))
}
