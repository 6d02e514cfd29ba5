//! All routes and, in their order, the layers around them.

use std::net::IpAddr;
use std::time::Duration;

use axum::Router;
use axum::extract::{DefaultBodyLimit, MatchedPath, Request};
use axum::http::{HeaderName, HeaderValue, StatusCode, header};
use axum::middleware::{Next, from_fn, map_response};
use axum::response::{IntoResponse as _, Response};
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
                PageError::Failed("a handler stopped unexpectedly".into()).into_response()
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
        // A page of somebody else’s that made its own name point here is told nothing.
        .layer(from_fn(to_this_machine_alone))
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
        .layer(TraceLayer::new_for_http().make_span_with(span))
}

/// Refuses what is asked under a name that is not this machine's own, or by a page of elsewhere.
async fn to_this_machine_alone(request: Request, next: Next) -> Response {
    match stranger(&request) {
        None => next.run(request).await,
        Some(name) => PageError::Refused(format!(
            "this program answers on this machine alone, at localhost, and not as or to “{name}”"
        ))
        .into_response(),
    }
}

/// The name that is not this machine's, under which or from whose page something is asked. Browsers
/// send both; what has none comes from no browser.
fn stranger(request: &Request) -> Option<String> {
    let said = |name: HeaderName| {
        let value = request.headers().get(name);
        value
            .and_then(|value| value.to_str().ok())
            .unwrap_or_default()
    };
    // Sockets are asked for by GET, which pages of elsewhere may send.
    let origin = said(header::ORIGIN);
    let origin = origin.split_once("://").map_or(origin, |(_, host)| host);
    [said(header::HOST), origin]
        .into_iter()
        .find(|name| !is_this_machine(name))
        .map(str::to_owned)
}

/// A name of this machine alone, with or without a port; or none.
fn is_this_machine(host: &str) -> bool {
    let name = match host.rsplit_once(':') {
        Some((name, port)) if port.bytes().all(|digit| digit.is_ascii_digit()) => name,
        _ => host,
    };
    let name = name.trim_start_matches('[').trim_end_matches(']');
    name.is_empty()
        || name.eq_ignore_ascii_case("localhost")
        || name
            .parse::<IpAddr>()
            .is_ok_and(|address| address.is_loopback())
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

#[cfg(test)]
mod tests {
    use super::is_this_machine;

    #[test]
    fn only_names_of_this_machine_are_its_own() {
        for own in [
            "",
            "localhost",
            "LOCALHOST:8737",
            "127.0.0.1",
            "127.0.0.1:80",
            "127.8.8.8:1",
            "[::1]",
            "[::1]:8737",
        ] {
            assert!(is_this_machine(own), "{own}");
        }
        for other in [
            "evil.example",
            "evil.example:8737",
            "localhost.evil.example",
            "192.168.1.7:8737",
            "0.0.0.0",
            "[::]:1",
            "127.0.0.1.evil.example:8737",
            "localhost:8737:8737",
            "::ffff:1.2.3.4",
        ] {
            assert!(!is_this_machine(other), "{other}");
        }
    }
}
