//! Ids in addresses, typed as what they stand for; anything else is an address that has no page.

use axum::extract::{FromRequestParts, Path};
use axum::http::request::Parts;

use crate::error::{PageError, no_such_page};

/// The one id in an address.
pub(super) struct Id<T>(pub(super) T);

/// The two ids in an address.
pub(super) struct Ids<T, U>(pub(super) T, pub(super) U);

impl<S: Send + Sync, T: From<i64>> FromRequestParts<S> for Id<T> {
    type Rejection = PageError;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, PageError> {
        match Path::<i64>::from_request_parts(parts, state).await {
            Ok(Path(id)) => Ok(Self(id.into())),
            Err(_) => Err(no_such_page().await),
        }
    }
}

impl<S: Send + Sync, T: From<i64>, U: From<i64>> FromRequestParts<S> for Ids<T, U> {
    type Rejection = PageError;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, PageError> {
        match Path::<(i64, i64)>::from_request_parts(parts, state).await {
            Ok(Path((one, other))) => Ok(Self(one.into(), other.into())),
            Err(_) => Err(no_such_page().await),
        }
    }
}
