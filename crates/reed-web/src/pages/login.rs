//! Where the passphrase is asked for.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Query, Request, State};
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use axum::{RequestExt as _, extract::Form};
use serde::Deserialize;

use crate::error::PageError;
use crate::gate;
use crate::state::App;
use crate::view::Frame;

/// Its address.
pub(crate) const PATH: &str = "/login";

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route(PATH, get(show).post(enter))
        .route("/logout", post(leave))
}

/// Its address for somebody who wants to go on to another one.
pub(crate) fn address(to: &str) -> String {
    let mut query = form_urlencoded::Serializer::for_suffix(format!("{PATH}?"), PATH.len() + 1);
    query.append_pair("to", to).finish()
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/login.html")]
struct LoginPage {
    frame: Frame,
    to: String,
    refused: String,
    /// Others on the network could read along.
    is_in_clear: bool,
}

/// Where to go on to.
#[derive(Deserialize)]
struct Asked {
    #[serde(default)]
    to: String,
}

#[derive(Deserialize)]
struct Given {
    #[serde(default)]
    passphrase: String,
    #[serde(default)]
    to: String,
}

/// An address of this program alone.
fn own(to: &str) -> &str {
    let is_path = to.starts_with('/') && !to.starts_with("//") && !to.contains(['\\', '\r', '\n']);
    if is_path { to } else { "/" }
}

fn page(to: &str, refused: String, is_by_tls: bool, app: &App) -> LoginPage {
    LoginPage {
        frame: Frame::new("login", "The passphrase"),
        to: own(to).to_owned(),
        refused,
        is_in_clear: app.reach().is_beyond && !is_by_tls,
    }
}

async fn show(State(app): State<App>, Query(asked): Query<Asked>, request: Request) -> Response {
    if !app.has_passphrase() {
        return Redirect::to(own(&asked.to)).into_response();
    }
    page(
        &asked.to,
        String::new(),
        gate::peer(&request).is_by_tls,
        &app,
    )
    .into_response()
}

async fn enter(State(app): State<App>, request: Request) -> Result<Response, PageError> {
    let peer = gate::peer(&request);
    let Ok(Form(given)) = request.extract::<Form<Given>, _>().await else {
        return Ok(StatusCode::BAD_REQUEST.into_response());
    };
    if let Err(wait) = app.guesses().count(peer.address.ip()) {
        let seconds = wait.as_secs() + 1;
        let words = format!(
            "That was wrong several times. Try again in {seconds} second{}.",
            if seconds == 1 { "" } else { "s" }
        );
        let page = page(&given.to, words, peer.is_by_tls, &app);
        let after = [(header::RETRY_AFTER, seconds.to_string())];
        return Ok((StatusCode::TOO_MANY_REQUESTS, after, page).into_response());
    }
    let turn = app.comparing().acquire_owned().await;
    let (access, now) = (app.access(), app.clock.now().utc);
    let passphrase = given.passphrase;
    let token = app
        .blocking(move |_| access.log_in(&passphrase, now))
        .await?;
    drop(turn);
    Ok(match token {
        Some(token) => (
            gate::cookie(Some(token), peer.is_by_tls),
            Redirect::to(own(&given.to)),
        )
            .into_response(),
        None if !app.has_passphrase() => Redirect::to(own(&given.to)).into_response(),
        None => {
            let words = "That is not the passphrase. It is the one that was set with “zesty-reed passphrase”; capitals count.".to_owned();
            let page = page(&given.to, words, peer.is_by_tls, &app);
            (StatusCode::UNPROCESSABLE_ENTITY, page).into_response()
        }
    })
}

async fn leave(State(app): State<App>, headers: HeaderMap) -> Result<Response, PageError> {
    if let Some(token) = gate::shown(&headers) {
        let access = app.access();
        app.blocking(move |_| access.log_out(&token)).await?;
    }
    Ok((gate::cookie(None, false), Redirect::to(PATH)).into_response())
}

#[cfg(test)]
mod tests {
    use super::{address, own};

    #[test]
    fn it_leads_nowhere_else() {
        for away in [
            "https://evil.example",
            "//evil.example",
            "/\\evil.example",
            "evil",
            "",
            "/a\r\nb",
        ] {
            assert_eq!(own(away), "/", "{away}");
        }
        assert_eq!(own("/tanks/1?x=2"), "/tanks/1?x=2");
        assert_eq!(
            address("/tanks/1?x=2&y"),
            "/login?to=%2Ftanks%2F1%3Fx%3D2%26y"
        );
    }
}
