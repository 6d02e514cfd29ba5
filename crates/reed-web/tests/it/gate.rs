//! The way in: a passphrase, who is let in and who is not, and what the program tells strangers.

use axum::http::StatusCode;
use reed_store::access::Access;
use reed_web::Reach;

use crate::client::{Answer, Client};

const FORM: (&str, &str) = ("content-type", "application/x-www-form-urlencoded");
const OWN: (&str, &str) = ("sec-fetch-site", "same-origin");
const PAGE: (&str, &str) = ("accept", "text/html");
const PASSPHRASE: &str = "three plain words";

fn guarded() -> Client {
    let mut client = Client::new();
    Access::beside(client.store.path())
        .set(Some(PASSPHRASE))
        .expect("written");
    client.set_reach(Reach {
        addresses: vec!["http://192.168.1.7:8738".to_owned()],
        is_beyond: true,
        ..Reach::default()
    });
    client
}

/// What the browser shows from now on.
fn cookie(answer: &Answer) -> String {
    let set = answer.headers["set-cookie"].to_str().expect("text");
    assert!(set.contains("HttpOnly") && set.contains("SameSite=Strict") && set.contains("Path=/"));
    set.split(';').next().expect("a pair").to_owned()
}

async fn log_in(client: &Client, form: &str) -> Answer {
    client.ask("POST", "/login", &[FORM, OWN], form).await
}

#[tokio::test]
async fn no_page_is_shown_and_nothing_stored_without_the_passphrase() {
    let client = guarded();
    for path in [
        "/",
        "/tanks/1",
        "/cases/1?why=demand",
        "/data",
        "/at-the-tank",
        "/log",
    ] {
        let page = client.ask("GET", path, &[PAGE], "").await;
        assert_eq!(page.status, StatusCode::SEE_OTHER, "{path}");
        assert!(
            page.location.starts_with("/login?to=%2F"),
            "{}",
            page.location
        );
        let part = client.get(path).await;
        assert_eq!(part.status, StatusCode::UNAUTHORIZED);
        assert!(!part.text.contains("Reading room"));
    }
    let note = client
        .post("/tanks/1/log", "what=note&note=typed+before")
        .await;
    assert_eq!(note.status, StatusCode::UNAUTHORIZED);
    assert!(
        note.text.contains("typed before"),
        "what was typed is not lost"
    );
    for open in ["/login", "/health", "/offline", "/sw.js"] {
        assert_eq!(client.get(open).await.status, StatusCode::OK, "{open}");
    }
    let login = client.get("/login?to=/tanks/1").await.text;
    assert!(login.contains("name=\"to\" value=\"/tanks/1\"") && login.contains("not encrypted"));
}

#[tokio::test]
async fn whoever_gives_the_passphrase_comes_in_until_they_log_out_or_it_is_changed() {
    let client = guarded();
    let wrong = log_in(&client, "passphrase=something+else&to=/tanks/1").await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        wrong.text.contains("That is not the passphrase") && !wrong.text.contains("something else")
    );
    let form = "passphrase=three+plain+words&to=/tanks/1";
    let right = log_in(&client, form).await;
    assert_eq!(
        (right.status, &*right.location),
        (StatusCode::SEE_OTHER, "/tanks/1")
    );
    let phone = cookie(&right);
    let desk = cookie(&log_in(&client, form).await);
    let sees = async |shown: &str| {
        let page = client.ask("GET", "/", &[PAGE, ("cookie", shown)], "").await;
        page.text.contains("Reading room")
    };
    assert!(sees(&phone).await && sees(&desk).await);
    assert!(!sees("reed=0000").await);
    client
        .ask("POST", "/logout", &[FORM, OWN, ("cookie", &phone)], "")
        .await;
    assert!(!sees(&phone).await && sees(&desk).await);
    Access::beside(client.store.path())
        .set(Some("three other words"))
        .expect("written");
    assert!(!sees(&desk).await, "a change ends all of them");
    // Not even with the file there is a way in from other machines without one; this one is asked
    // for none.
    Access::beside(client.store.path())
        .set(None)
        .expect("written");
    assert!(sees("").await);
}

#[tokio::test]
async fn guessing_is_slowed_down() {
    let client = guarded();
    let mut answers = Vec::new();
    for _ in 0..7 {
        answers.push(log_in(&client, "passphrase=guess+guess+guess").await.status);
    }
    assert_eq!(answers[..5], [StatusCode::UNPROCESSABLE_ENTITY; 5]);
    assert_eq!(answers[5..], [StatusCode::TOO_MANY_REQUESTS; 2]);
    let right = log_in(&client, "passphrase=three+plain+words").await;
    assert_eq!(right.status, StatusCode::TOO_MANY_REQUESTS, "not even then");
    assert!(right.text.contains("Try again in") && right.headers.contains_key("retry-after"));
}

#[tokio::test]
async fn the_phone_is_told_where_to_go() {
    let client = guarded();
    let phone = cookie(&log_in(&client, "passphrase=three+plain+words").await);
    let page = client
        .ask("GET", "/at-the-tank", &[("cookie", &phone)], "")
        .await
        .text;
    assert!(page.contains("http://192.168.1.7:8738") && page.contains("<svg"));
    assert!(page.contains("Log this device out") && page.contains("not encrypted"));
    let alone = Client::new().get("/at-the-tank").await.text;
    assert!(
        alone.contains("Only this machine reaches the program")
            && alone.contains("zesty-reed passphrase")
    );
}

/// A page of elsewhere may lead here; what it fetches, draws or starts is refused.
#[tokio::test]
async fn a_page_of_elsewhere_starts_nothing() {
    let client = Client::new();
    let led = [
        ("sec-fetch-site", "cross-site"),
        ("sec-fetch-mode", "navigate"),
        ("sec-fetch-dest", "document"),
    ];
    assert_eq!(
        client.ask("GET", "/tanks/1", &led, "").await.status,
        StatusCode::OK
    );
    let drawn = [
        ("sec-fetch-site", "cross-site"),
        ("sec-fetch-mode", "no-cors"),
        ("sec-fetch-dest", "image"),
    ];
    for (path, headers) in [
        ("/tanks/1/small.svg", drawn),
        ("/tanks/1/try?moves=", drawn),
        ("/tanks/1/try?moves=", led),
        ("/tanks/1/better", led),
        ("/tanks/1/live", led),
    ] {
        let refused = client.ask("GET", path, &headers, "").await;
        assert_eq!(refused.status, StatusCode::FORBIDDEN, "{path}");
    }
    // Every answer has a number, which the log has too.
    let one = client.get("/").await.headers["x-request-id"].clone();
    assert_ne!(one, client.get("/").await.headers["x-request-id"]);
}
