//! What was typed is not lost when it could not be stored: the page that says so has it in a form that
//! sends it again, with or without scripts.

use axum::body::{Body, to_bytes};
use axum::extract::Request;
use axum::http::{Method, header};
use axum::middleware::Next;
use axum::response::Response;

use crate::error::Failure;

/// Bytes of a form that is kept while it is being answered.
const MOST: usize = 256 * 1024;

/// A form as it was sent.
#[derive(Clone, Debug)]
pub(crate) struct Typed {
    /// To where.
    pub(crate) action: String,
    /// Its fields.
    pub(crate) fields: Vec<(String, String)>,
}

impl Typed {
    fn of(action: String, body: &[u8]) -> Self {
        let fields = form_urlencoded::parse(body).into_owned().collect();
        Self { action, fields }
    }

    /// What somebody typed or chose, to be read and copied; without what the page put in itself.
    pub(crate) fn words(&self) -> String {
        const UNSEEN: &[&str] = &["units", "zone", "back", "passphrase"];
        let seen = |(name, value): &&(String, String)| {
            !UNSEEN.contains(&&**name) && !value.trim().is_empty()
        };
        let values = self.fields.iter().filter(seen).map(|(_, value)| &**value);
        values.collect::<Vec<_>>().join(", ")
    }
}

/// Has the page of a failure keep what was typed into the form that failed.
pub(crate) async fn with_what_was_typed(request: Request, next: Next) -> Response {
    let kind = request.headers().get(header::CONTENT_TYPE);
    let is_form = *request.method() == Method::POST
        && kind.is_some_and(|kind| {
            kind.as_bytes()
                .starts_with(b"application/x-www-form-urlencoded")
        });
    let length = request.headers().get(header::CONTENT_LENGTH);
    let is_small = length
        .and_then(|length| length.to_str().ok()?.parse().ok())
        .is_some_and(|length: usize| length <= MOST);
    // A passphrase is not shown to whoever stands beside.
    if !(is_form && is_small) || request.uri().path() == crate::pages::login::PATH {
        return next.run(request).await;
    }
    let action = request.uri().path().to_owned();
    let (parts, body) = request.into_parts();
    let (request, typed) = match to_bytes(body, MOST).await {
        Ok(bytes) => {
            let typed = Typed::of(action, &bytes);
            (Request::from_parts(parts, Body::from(bytes)), Some(typed))
        }
        // It did not arrive whole; the page says so.
        Err(_) => (Request::from_parts(parts, Body::empty()), None),
    };
    let answer = next.run(request).await;
    match (answer.extensions().get::<Failure>(), typed) {
        (Some(failure), Some(typed)) if failure.was_not_stored() => failure.page(Some(typed)),
        _ => answer,
    }
}
