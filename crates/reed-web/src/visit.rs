//! What belongs to the request that is being answered: known wherever a page is made, without being
//! handed down to it.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};

use axum::extract::{Request, State};
use axum::http::{HeaderMap, HeaderName, HeaderValue};
use axum::middleware::Next;
use axum::response::Response;
use jiff::{SignedDuration, Timestamp};

use crate::state::App;

/// The number of a request, in the answer and in the log.
const REQUEST_ID: HeaderName = HeaderName::from_static("x-request-id");
/// Drawn by a page for what it kept while the network was away.
const KEPT_ID: HeaderName = HeaderName::from_static("x-kept-id");
/// When that was typed.
const TYPED_AT: HeaderName = HeaderName::from_static("x-typed-at");

/// A page sends what it kept within so long; what is older is as of now.
const KEPT_FOR: SignedDuration = SignedDuration::from_hours(90 * 24);

tokio::task_local! {
    static VISIT: Visit;
}

/// A request that is being answered.
#[derive(Clone, Debug, Default)]
pub(crate) struct Visit {
    /// Its number, in the log too.
    pub(crate) id: String,
    /// What a page kept and sends now.
    pub(crate) kept: Option<Kept>,
    /// Nothing is written: the file is damaged.
    pub(crate) is_damaged: bool,
}

/// What a page kept while the network was away.
#[derive(Clone, Debug)]
pub(crate) struct Kept {
    pub(crate) id: String,
    /// When it was typed.
    pub(crate) typed_at: Timestamp,
    /// Its first write notes that it came.
    is_noted: Arc<AtomicBool>,
}

impl Kept {
    fn of(headers: &HeaderMap, now: Timestamp) -> Option<Self> {
        let said = |name: HeaderName| headers.get(name).and_then(|value| value.to_str().ok());
        let id = said(KEPT_ID).filter(|id| (8..=64).contains(&id.len()))?;
        let typed_at = said(TYPED_AT).and_then(|text| text.parse().ok());
        let typed_at = typed_at
            .filter(|at: &Timestamp| *at <= now && *at >= now - KEPT_FOR)
            .unwrap_or(now);
        Some(Self {
            id: id.to_owned(),
            typed_at,
            is_noted: Arc::default(),
        })
    }

    /// Whether this is the first to note that it came.
    pub(crate) fn notes_first(&self) -> bool {
        !self.is_noted.swap(true, Ordering::Relaxed)
    }
}

/// Something of the request that is being answered; none outside of one.
pub(crate) fn current<T>(read: impl FnOnce(&Visit) -> T) -> Option<T> {
    VISIT.try_with(read).ok()
}

/// The same work, to be done on another thread with what is known here.
pub(crate) fn carried<T>(work: impl FnOnce() -> T) -> impl FnOnce() -> T {
    let visit = current(Clone::clone);
    move || match visit {
        Some(visit) => VISIT.sync_scope(visit, work),
        None => work(),
    }
}

/// Numbers the request and has it known.
pub(crate) async fn numbered(State(app): State<App>, mut request: Request, next: Next) -> Response {
    static NEXT: AtomicU64 = AtomicU64::new(1);
    let now = app.clock.now().utc;
    let id = format!(
        "{:x}-{}",
        std::process::id(),
        NEXT.fetch_add(1, Ordering::Relaxed)
    );
    let visit = Visit {
        kept: Kept::of(request.headers(), now),
        is_damaged: !app.store().damage().is_empty(),
        id,
    };
    request.extensions_mut().insert(visit.clone());
    let number = HeaderValue::from_str(&visit.id);
    let mut answer = VISIT.scope(visit, next.run(request)).await;
    if let Ok(number) = number {
        answer.headers_mut().insert(REQUEST_ID, number);
    }
    answer
}
