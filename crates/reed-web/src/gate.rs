//! The way in: where a passphrase is set, nobody sees a page without it.

use std::net::{IpAddr, Ipv4Addr, Ipv6Addr};
use std::num::NonZeroU32;
use std::time::Duration;

use axum::extract::{Request, State};
use axum::http::{HeaderMap, Method, StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse as _, Redirect, Response};
use axum_extra::extract::cookie::{Cookie, CookieJar, SameSite};
use governor::clock::{Clock as _, DefaultClock};
use governor::{DefaultKeyedRateLimiter, Quota};

use crate::api;
use crate::error::PageError;
use crate::pages::{is_feed, login};
use crate::server::Peer;
use crate::state::App;

/// What the browser shows.
const COOKIE: &str = "reed";
/// What anybody may ask for, besides what pages are made of.
const OPEN: &[&str] = &[login::PATH, "/health", "/sw.js", "/offline"];

/// So many wrong ones from one machine at once, then one in so long.
const TRIES: NonZeroU32 = NonZeroU32::new(5).expect("more than none");
const ONE_IN: Duration = Duration::from_secs(30);
/// Machines that are remembered before those that may try again are forgotten.
const MACHINES: usize = 1000;

/// How often somebody may guess.
#[derive(Debug)]
pub(crate) struct Guesses(DefaultKeyedRateLimiter<IpAddr>);

impl Default for Guesses {
    fn default() -> Self {
        let quota = Quota::with_period(ONE_IN).expect("longer than none");
        Self(DefaultKeyedRateLimiter::keyed(quota.allow_burst(TRIES)))
    }
}

impl Guesses {
    /// Counts a guess; how long to wait where there were too many.
    pub(crate) fn count(&self, from: IpAddr) -> Result<(), Duration> {
        if self.0.len() > MACHINES {
            self.0.retain_recent();
        }
        self.0
            .check_key(&machine(from))
            .map_err(|early| early.wait_time_from(DefaultClock::default().now()))
    }
}

/// One machine may have any number of addresses of the newer kind below one half.
fn machine(address: IpAddr) -> IpAddr {
    match address {
        IpAddr::V6(address) => match address.to_ipv4_mapped() {
            Some(address) => address.into(),
            None => Ipv6Addr::from_bits(address.to_bits() >> 64 << 64).into(),
        },
        v4 @ IpAddr::V4(_) => v4,
    }
}

/// Who asks; this machine itself where nobody says so.
pub(crate) fn peer(request: &Request) -> Peer {
    request.extensions().get().copied().unwrap_or(Peer {
        address: (Ipv4Addr::LOCALHOST, 0).into(),
        is_by_tls: false,
    })
}

/// What the browser of somebody shows who has logged in.
pub(crate) fn shown(headers: &HeaderMap) -> Option<String> {
    let jar = CookieJar::from_headers(headers);
    Some(jar.get(COOKIE)?.value().to_owned())
}

/// What a browser is to show from now on; with nothing, what it showed is forgotten.
pub(crate) fn cookie(token: Option<String>, is_by_tls: bool) -> CookieJar {
    let is_forgotten = token.is_none();
    let cookie = Cookie::build((COOKIE, token.unwrap_or_default()))
        .http_only(true)
        .same_site(SameSite::Strict)
        .secure(is_by_tls)
        .path("/");
    // How long it is good for is known here, not there.
    let cookie = if is_forgotten {
        cookie.removal()
    } else {
        cookie.permanent()
    };
    CookieJar::new().add(cookie)
}

/// Lets in whoever may come in, and leads the others to where the passphrase is asked for.
pub(crate) async fn only_who_may(State(app): State<App>, request: Request, next: Next) -> Response {
    let path = request.uri().path();
    if OPEN.contains(&path) || is_feed(path) || api::is_address(path) {
        return next.run(request).await;
    }
    // It was removed while other machines reach the program: this one alone is let in.
    if app.reach().is_beyond && !app.has_passphrase() && !peer(&request).address.ip().is_loopback()
    {
        return PageError::NotLoggedIn.into_response();
    }
    let token = shown(request.headers()).unwrap_or_default();
    match app.access().admits(&token, app.clock.now().utc) {
        Ok(true) => next.run(request).await,
        Ok(false) if matches!(*request.method(), Method::GET | Method::HEAD) => {
            let accepts = request.headers().get(header::ACCEPT);
            let is_page = accepts
                .and_then(|kinds| kinds.to_str().ok())
                .is_some_and(|kinds| kinds.contains("text/html"));
            if is_page {
                let asked = request
                    .uri()
                    .path_and_query()
                    .map_or("/", |asked| asked.as_str());
                return Redirect::to(&login::address(asked)).into_response();
            }
            StatusCode::UNAUTHORIZED.into_response()
        }
        Ok(false) => PageError::NotLoggedIn.into_response(),
        Err(error) => PageError::from(error).into_response(),
    }
}

#[cfg(test)]
mod tests {
    use super::{Guesses, TRIES, machine};
    use std::net::IpAddr;

    #[test]
    fn one_machine_guesses_a_few_times_and_the_next_is_not_held_up() {
        let guesses = Guesses::default();
        let of = |text: &str| -> IpAddr { text.parse().expect("an address") };
        for _ in 0..TRIES.get() {
            assert!(guesses.count(of("192.168.1.7")).is_ok());
        }
        let wait = guesses.count(of("192.168.1.7")).expect_err("too many");
        assert!(wait.as_secs() > 0 && wait <= super::ONE_IN);
        assert!(
            guesses.count(of("::ffff:192.168.1.7")).is_err(),
            "the same machine"
        );
        assert!(guesses.count(of("192.168.1.8")).is_ok());
        assert_eq!(
            machine(of("fd00:1:2:3:4::9")),
            machine(of("fd00:1:2:3:ffff::1"))
        );
        assert_ne!(machine(of("fd00:1:2:3::1")), machine(of("fd00:1:2:4::1")));
    }
}
