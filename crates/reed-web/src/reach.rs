//! From where the program can be reached, and under which names.

use std::net::IpAddr;

use axum::extract::{Request, State};
use axum::http::{HeaderName, Method, header};
use axum::middleware::Next;
use axum::response::{IntoResponse as _, Response};

use crate::error::PageError;
use crate::state::App;

/// From where the program can be reached.
#[derive(Clone, Debug, Default)]
pub struct Reach {
    /// Addresses for other machines, as they are typed: `http://192.168.1.7:8737`. None where only
    /// this machine reaches it.
    pub addresses: Vec<String>,
    /// Names beyond its addresses under which it may be asked.
    pub names: Vec<String>,
    /// Other machines reach it.
    pub is_beyond: bool,
    /// What other machines send cannot be read on the way.
    pub is_by_tls: bool,
}

impl Reach {
    /// Whether something may be asked under this name, with or without a port. Numbers are safe
    /// where other machines reach it at all: a page of elsewhere can have a name of its own point
    /// here, but no number.
    fn knows(&self, host: &str) -> bool {
        let name = without_port(host);
        name.is_empty()
            || name.eq_ignore_ascii_case("localhost")
            || self.names.iter().any(|own| name.eq_ignore_ascii_case(own))
            || name
                .parse::<IpAddr>()
                .is_ok_and(|address| address.is_loopback() || self.is_beyond)
    }

    /// The name that is not this program's, under which or from whose page something is asked.
    /// Browsers send both; what has none comes from no browser.
    fn stranger(&self, host: &str, origin: &str) -> Option<String> {
        if !self.knows(host) {
            return Some(host.to_owned());
        }
        // Sockets are asked for by GET, which pages of elsewhere may send.
        let origin = origin.split_once("://").map_or(origin, |(_, host)| host);
        let is_local = |host| Self::default().knows(host);
        let is_own = origin.is_empty()
            || origin == host
            || (is_local(origin) && is_local(host))
            || self
                .names
                .iter()
                .any(|own| without_port(origin).eq_ignore_ascii_case(own));
        (!is_own).then(|| origin.to_owned())
    }
}

fn without_port(host: &str) -> &str {
    let name = match host.rsplit_once(':') {
        Some((name, port)) if port.bytes().all(|digit| digit.is_ascii_digit()) => name,
        _ => host,
    };
    name.trim_start_matches('[').trim_end_matches(']')
}

/// Refuses what is asked under a name that is not this program's own, or by a page of elsewhere.
pub(crate) async fn under_own_names(
    State(app): State<App>,
    request: Request,
    next: Next,
) -> Response {
    match refused(app.reach(), &request) {
        Some(why) => why.into_response(),
        None => next.run(request).await,
    }
}

/// Why something is not answered at all.
fn refused(reach: &Reach, request: &Request) -> Option<PageError> {
    let said = |name: HeaderName| {
        let value = request.headers().get(name);
        value
            .and_then(|value| value.to_str().ok())
            .unwrap_or_default()
    };
    if let Some(name) = reach.stranger(said(header::HOST), said(header::ORIGIN)) {
        return Some(PageError::Refused(format!(
            "this program answers under its own addresses alone, and not as or to “{name}”. \
             Open it at one of them, or start it with --name"
        )));
    }
    // Whatever else changes something is looked at by a layer of its own.
    if !matches!(*request.method(), Method::GET | Method::HEAD) {
        return None;
    }
    // A page of elsewhere may lead here, and that is all: its pictures, scripts and frames are
    // told nothing, and start nothing.
    let fetch = |name| said(HeaderName::from_static(name));
    let is_elsewhere = matches!(fetch("sec-fetch-site"), "cross-site" | "same-site");
    let is_led = fetch("sec-fetch-mode") == "navigate" && fetch("sec-fetch-dest") == "document";
    let is_refused = is_elsewhere && (!is_led || starts_work(request.uri().path()));
    is_refused.then_some(PageError::NotFromHere)
}

/// Asking for it costs minutes of work: only the program's own pages may.
fn starts_work(path: &str) -> bool {
    ["/try", "/try.bin", "/better", "/live", "/charts/expected"]
        .iter()
        .any(|end| path.ends_with(end))
}

#[cfg(test)]
mod tests {
    use super::Reach;

    fn beyond() -> Reach {
        Reach {
            is_beyond: true,
            names: vec!["reed.lan".to_owned()],
            ..Reach::default()
        }
    }

    #[test]
    fn only_own_names_are_known() {
        let alone = Reach::default();
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
            assert!(alone.knows(own) && beyond().knows(own), "{own}");
        }
        for other in [
            "evil.example",
            "evil.example:8737",
            "localhost.evil.example",
            "127.0.0.1.evil.example:8737",
            "localhost:8737:8737",
        ] {
            assert!(!alone.knows(other) && !beyond().knows(other), "{other}");
        }
        for near in ["192.168.1.7:8737", "[fd00::7]:1", "reed.lan", "REED.lan:80"] {
            assert!(!alone.knows(near) && beyond().knows(near), "{near}");
        }
    }

    #[test]
    fn a_page_asks_for_itself_alone() {
        for (host, origin, is_stranger) in [
            ("127.0.0.1:8737", "http://localhost:8737", false),
            ("192.168.1.7:8737", "http://192.168.1.7:8737", false),
            ("192.168.1.7:8737", "", false),
            ("192.168.1.7:8737", "https://reed.lan", false),
            ("192.168.1.7:8737", "http://192.168.1.9:8737", true),
            ("192.168.1.7:8737", "null", true),
            ("reed.lan", "http://reed.lan.evil.example", true),
        ] {
            let stranger = beyond().stranger(host, origin);
            assert_eq!(stranger.is_some(), is_stranger, "{origin} to {host}");
        }
    }
}
