//! What a keeper sees when a page cannot be given: one enum, one mapping to status and words.

use askama::Template;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use reed_core::tank::Immovable;
use reed_store::{Cause, StoreError, in_full};

use crate::typed::Typed;
use crate::view::Frame;
use crate::visit;

/// Why a page cannot be given.
#[derive(Debug)]
pub(crate) enum PageError {
    /// There is no such thing.
    NotFound(String),
    /// The request makes no sense here: an unknown id in a form, a step that is not due.
    Refused(String),
    /// Something was to be entered into the example.
    OnlyAnExample,
    /// A record is such that this version of the program cannot read it.
    Unreadable(String),
    /// A page of elsewhere asked.
    NotFromHere,
    /// The passphrase was not given, or was changed since.
    NotLoggedIn,
    /// What a page kept was stored before: it may forget it.
    SentBefore,
    /// Nothing can be written, and why.
    NotWritten(&'static str),
    /// Something failed that the keeper cannot mend; the log says what, and why, and why that.
    Failed(Cause),
}

impl From<StoreError> for PageError {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::NotFound { .. } => Self::NotFound(error.to_string()),
            StoreError::Closed { .. }
            | StoreError::AnotherOpen { .. }
            | StoreError::Stopped
            | StoreError::Full { .. }
            | StoreError::NotTaken(_) => Self::Refused(error.to_string()),
            StoreError::Unreadable { .. } => Self::Unreadable(error.in_full()),
            StoreError::SentBefore => Self::SentBefore,
            StoreError::Damaged => Self::NotWritten(
                "The records are damaged, and nothing is written to them until a copy is put back.",
            ),
            StoreError::Sqlite { .. } | StoreError::File { .. } => match error.why_not_written() {
                Some(why) => {
                    tracing::error!("{}", error.in_full());
                    Self::NotWritten(why)
                }
                None => Self::Failed(error.into()),
            },
            StoreError::Busy | StoreError::Newer | StoreError::Migration(_) => {
                Self::Failed(error.into())
            }
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
    /// What was typed and not stored.
    typed: Option<Typed>,
    /// It may have been stored all the same, too late to say so: sent again it would be there twice.
    may_be_done: bool,
}

/// What a page of a failure says; with the answer, so that a layer can have it say more.
#[derive(Clone, Debug)]
pub(crate) struct Failure {
    status: StatusCode,
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
            Self::Unreadable(words) => (
                StatusCode::UNPROCESSABLE_ENTITY,
                "This cannot be read",
                format!("{words}. It is kept as it is; everything else goes on."),
                "The rounds offer the latest state that can be read; “Your data” has the copies from before.",
            ),
            Self::NotFromHere => (
                StatusCode::FORBIDDEN,
                NOT_FROM_HERE,
                ONLY_OWN_PAGES.to_owned(),
                "Nothing was changed.",
            ),
            Self::NotLoggedIn => (
                StatusCode::UNAUTHORIZED,
                "The passphrase first",
                "Nothing was stored: the passphrase was not given on this device, or was changed since.".to_owned(),
                "Give the passphrase in another tab (the rounds ask for it), then send what you typed again here.",
            ),
            Self::SentBefore => return StatusCode::NO_CONTENT.into_response(),
            Self::NotWritten(why) => (
                StatusCode::INSUFFICIENT_STORAGE,
                "It could not be stored",
                why.to_owned(),
                "Nothing is half stored.",
            ),
            Self::OnlyAnExample => (
                StatusCode::FORBIDDEN,
                "Only an example",
                "These tanks are made up, and nothing about them is kept.".to_owned(),
                "Enter a tank of your own: two minutes, and all of this is about yours.",
            ),
            Self::Failed(cause) => {
                tracing::error!("{}", in_full(&*cause));
                let number = visit::current(|visit| visit.id.clone()).unwrap_or_default();
                (
                    StatusCode::INTERNAL_SERVER_ERROR,
                    "Something failed",
                    format!(
                        "Nothing you entered before was lost. The log of the program says what happened, under number {number}."
                    ),
                    "Try once more.",
                )
            }
        };
        Failure {
            status,
            title,
            words,
            hint,
        }
        .page(None)
    }
}

impl Failure {
    /// What was typed was not stored, as far as is known.
    pub(crate) fn was_not_stored(&self) -> bool {
        self.status.is_server_error() || self.status == StatusCode::UNAUTHORIZED
    }

    /// Its page, with what was typed.
    pub(crate) fn page(&self, typed: Option<Typed>) -> Response {
        let page = ErrorPage {
            frame: Frame::new("error", self.title),
            title: self.title,
            words: self.words.clone(),
            hint: self.hint,
            typed,
            may_be_done: self.status == StatusCode::SERVICE_UNAVAILABLE,
        };
        let mut answer = match page.render() {
            Ok(html) => (self.status, axum::response::Html(html)).into_response(),
            Err(_) => (self.status, self.title).into_response(),
        };
        answer.extensions_mut().insert(self.clone());
        answer
    }
}

const NOT_FROM_HERE: &str = "Not from here";
const ONLY_OWN_PAGES: &str =
    "Only the program’s own pages may ask for this. Open the page itself and do it from there.";

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
        StatusCode::FORBIDDEN => (NOT_FROM_HERE, ONLY_OWN_PAGES),
        StatusCode::UNAUTHORIZED => (
            "The passphrase first",
            "It was not given on this device, or was changed since.",
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
    Failure {
        status,
        title,
        words: words.to_owned(),
        hint: "Go back: what you typed is still there.",
    }
    .page(None)
}

/// For paths that no page has.
pub(crate) async fn no_such_page() -> PageError {
    PageError::NotFound("There is no page at this address.".to_owned())
}

#[cfg(test)]
mod tests {
    use super::{Failure, StatusCode, Typed};
    use axum::body::to_bytes;

    /// What was typed stands on the page of every failure; what may have been stored all the same is
    /// not offered to be stored twice.
    #[tokio::test]
    async fn only_what_was_surely_not_stored_is_offered_to_be_sent_again() {
        for (status, is_offered) in [
            (StatusCode::INTERNAL_SERVER_ERROR, true),
            (StatusCode::INSUFFICIENT_STORAGE, true),
            (StatusCode::UNAUTHORIZED, true),
            (StatusCode::SERVICE_UNAVAILABLE, false),
        ] {
            let failure = Failure {
                status,
                title: "It failed",
                words: String::new(),
                hint: "",
            };
            assert!(failure.was_not_stored());
            let typed = Typed {
                action: "/tanks/1/log".to_owned(),
                fields: vec![("note".to_owned(), "typed with care".to_owned())],
            };
            let page = failure.page(Some(typed)).into_body();
            let bytes = to_bytes(page, usize::MAX).await.expect("a page");
            let page = String::from_utf8_lossy(&bytes);
            assert!(page.contains("typed with care"));
            assert_eq!(page.contains("Send it again"), is_offered, "{status}");
        }
    }
}
