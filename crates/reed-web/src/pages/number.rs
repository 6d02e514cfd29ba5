//! Numbers in addresses; anything else is an address that has no page.

use axum::extract::{FromRequestParts, Path};
use axum::http::request::Parts;

use crate::error::{PageError, no_such_page};

/// The one number in an address.
pub(super) struct Number(pub(super) i64);

/// The two numbers in an address.
pub(super) struct Numbers(pub(super) i64, pub(super) i64);

impl<S: Send + Sync> FromRequestParts<S> for Number {
    type Rejection = PageError;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, PageError> {
        match Path::<i64>::from_request_parts(parts, state).await {
            Ok(Path(number)) => Ok(Self(number)),
            Err(_) => Err(no_such_page().await),
        }
    }
}

impl<S: Send + Sync> FromRequestParts<S> for Numbers {
    type Rejection = PageError;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, PageError> {
        match Path::<(i64, i64)>::from_request_parts(parts, state).await {
            Ok(Path((one, other))) => Ok(Self(one, other)),
            Err(_) => Err(no_such_page().await),
        }
    }
}
