//! What a keeper sees when a page cannot be given: one enum, one mapping to status and words.

use askama::Template;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use reed_core::tank::Immovable;
use reed_store::{Cause, StoreError};

use crate::view::Frame;

/// Why a page cannot be given.
#[derive(Debug)]
pub(crate) enum PageError {
    /// There is no such thing.
    NotFound(String),
    /// The request makes no sense here: an unknown id in a form, a step that is not due.
    Refused(String),
    /// Something was to be entered into the example.
    OnlyAnExample,
    /// Something failed that the keeper cannot mend; the log says what, and why, and why that.
    Failed(Cause),
}

impl From<StoreError> for PageError {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::NotFound { .. } => Self::NotFound(error.to_string()),
            StoreError::Closed { .. } | StoreError::AnotherOpen { .. } | StoreError::Stopped => {
                Self::Refused(error.to_string())
            }
            StoreError::Sqlite { .. }
            | StoreError::File { .. }
            | StoreError::Busy
            | StoreError::Newer
            | StoreError::Migration(_)
            | StoreError::Unreadable { .. } => Self::Failed(error.into()),
        }
    }
}

impl From<Immovable> for PageError {
    fn from(refused: Immovable) -> Self {
        Self::Refused(refused.to_string())
    }
}

#[derive(Template)]
#[template(path = "pages/error.html")]
struct ErrorPage {
    frame: Frame,
    title: &'static str,
    words: String,
    hint: &'static str,
}

impl IntoResponse for PageError {
    fn into_response(self) -> Response {
        let (status, title, words, hint) = match self {
            Self::NotFound(words) => (
                StatusCode::NOT_FOUND,
                "Not here",
                words,
                "It may have been put away. The rounds list everything that stands.",
            ),
            Self::Refused(words) => (
                StatusCode::UNPROCESSABLE_ENTITY,
                "That does not fit",
                words,
                "Go back: nothing was changed.",
            ),
            Self::OnlyAnExample => (
                StatusCode::FORBIDDEN,
                "Only an example",
                "These tanks are made up, and nothing about them is kept.".to_owned(),
                "Enter a tank of your own: two minutes, and all of this is about yours.",
            ),
            Self::Failed(cause) => {
                tracing::error!("{}", in_full(&*cause));
                (
                    StatusCode::INTERNAL_SERVER_ERROR,
                    "Something failed",
                    "Nothing you entered before was lost.".to_owned(),
                    "Try once more. If it stays, the log says what happened.",
                )
            }
        };
        ErrorPage::answer(status, title, words, hint)
    }
}

impl ErrorPage {
    fn answer(
        status: StatusCode,
        title: &'static str,
        words: String,
        hint: &'static str,
    ) -> Response {
        let page = Self {
            frame: Frame::new("error", title),
            title,
            words,
            hint,
        };
        match page.render() {
            Ok(html) => (status, axum::response::Html(html)).into_response(),
            Err(_) => (status, title).into_response(),
        }
    }
}

/// An error with its causes, each after a colon.
fn in_full(error: &dyn std::error::Error) -> String {
    let causes = std::iter::successors(error.source(), |cause| cause.source());
    causes.fold(error.to_string(), |words, cause| {
        format!("{words}: {cause}")
    })
}

/// What the layers below pages refuse, in our words; they answer with a line of their own.
pub(crate) async fn in_our_words(response: Response) -> Response {
    let status = response.status();
    let is_page = response
        .headers()
        .get(header::CONTENT_TYPE)
        .is_none_or(|kind| !kind.as_bytes().starts_with(b"text/plain"));
    let is_empty = !response.headers().contains_key(header::CONTENT_TYPE);
    if !(status.is_client_error() || status.is_server_error()) || (is_page && !is_empty) {
        return response;
    }
    let (title, words) = match status {
        StatusCode::FORBIDDEN => (
            "Not from here",
            "Only the program’s own pages may change something. Open the page itself and send it from there.",
        ),
        StatusCode::METHOD_NOT_ALLOWED => ("Not here", "Nothing can be sent to this address."),
        StatusCode::PAYLOAD_TOO_LARGE => (
            "Too much at once",
            "What was sent is larger than is taken here. Send it in parts.",
        ),
        StatusCode::UNSUPPORTED_MEDIA_TYPE => (
            "That does not fit",
            "What was sent is no form. Open the page itself and send it from there.",
        ),
        StatusCode::SERVICE_UNAVAILABLE => (
            "It takes too long",
            "The answer was not ready within ten seconds. Look whether it was done before you try again.",
        ),
        _ if status.is_client_error() => (
            "That does not fit",
            "The form did not arrive as it was made: a field is missing or has another name. Load its page again.",
        ),
        _ => return response,
    };
    ErrorPage::answer(
        status,
        title,
        words.to_owned(),
        "Go back: what you typed is still there.",
    )
}

/// For paths that no page has.
pub(crate) async fn no_such_page() -> PageError {
    PageError::NotFound("There is no page at this address.".to_owned())
}
