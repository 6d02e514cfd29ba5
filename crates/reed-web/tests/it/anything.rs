//! Whatever is typed into the forms of Water: an answer in words, never a failure.

use axum::http::StatusCode;

use crate::client::Client;

/// What people and machines type where a number or an id is wanted; as it goes over the wire.
const TYPED: &[&str] = &[
    "",
    "+",
    "0",
    "-1",
    "1e309",
    "NaN",
    "inf",
    "-inf",
    "1,5",
    "1.5.5",
    "999999999999999999999",
    "%00",
    "%F0%9F%90%9F",
    "%3Cscript%3E",
    "'%3B--",
    "2026-02-30T25:61",
    "9999-12-31T23:59",
    "-9999-01-01T00:00",
];

fn is_answered(what: &str, status: StatusCode) {
    assert!(!status.is_server_error(), "{what}: {status}");
}

#[tokio::test]
async fn events_take_anything_and_never_fail() {
    let client = Client::new();
    for typed in TYPED {
        for body in [
            format!("what={typed}&amount=5&at=2026-03-12T08:00"),
            format!("what=change&amount={typed}&at=2026-03-12T08:00"),
            format!("what=animals&amount={typed}&at=2026-03-12T08:00"),
            format!("what=ammonia-medium&amount=0.3&at={typed}"),
            typed.to_string(),
        ] {
            is_answered(&body, client.post("/tanks/1/log", &body).await.status);
        }
        for (place, body) in [
            ("habit", format!("from={typed}&to=2026-03-12T08:00")),
            ("habit", format!("from=2026-03-12T08:00&to={typed}")),
            ("cycle", format!("start={typed}&source=doses")),
            ("cycle", format!("start=piece&source={typed}")),
            ("events/1/move", format!("to={typed}")),
        ] {
            is_answered(
                &body,
                client
                    .post(&format!("/tanks/1/water/{place}"), &body)
                    .await
                    .status,
            );
        }
    }
    // Whatever of it was taken, the page and the outlook still stand.
    for page in ["/tanks/1/water", "/tanks/1/water/outlook"] {
        assert_eq!(client.get(page).await.status, StatusCode::OK, "{page}");
    }
}

#[tokio::test]
async fn questions_take_anything_and_never_fail() {
    let client = Client::new();
    for typed in TYPED {
        for query in [
            format!("media?problem={typed}"),
            format!("tests?kit={typed}"),
            format!("changes?target={typed}&units={typed}"),
            format!(
                "changes?size=yes&tan={typed}&nitrite=0.3&ph=7&kh=6&tap_tan=0&tap_ph=7&tap_kh=6&hot=55&cold=12"
            ),
            format!(
                "changes?size=yes&tan=1&nitrite=0.3&ph=7&kh={typed}&tap_tan=0&tap_ph={typed}&tap_kh=0&hot={typed}&cold={typed}"
            ),
            format!(
                "changes?size=yes&tan=1&nitrite=0&ph=7&kh=0&tap_tan=0&tap_ph=7&tap_kh=0&hot=0&cold=0&chloramine={typed}&conditioner={typed}"
            ),
        ] {
            is_answered(
                &query,
                client.get(&format!("/tanks/1/water/{query}")).await.status,
            );
        }
        for query in [
            format!("what={typed}&amount=1"),
            format!("what=seed&amount={typed}"),
        ] {
            is_answered(
                &query,
                client
                    .get(&format!("/tanks/1/water/outlook?{query}"))
                    .await
                    .status,
            );
        }
        let reading = format!(
            "kit=nitrite-drops&value={typed}&spread={typed}&taken_at={typed}&units={typed}&zone={typed}&card={typed}"
        );
        is_answered(
            &reading,
            client
                .post("/tanks/1/water/readings", &reading)
                .await
                .status,
        );
    }
}

/// A tank with nothing in it, and one with everything: the page has words for both.
#[tokio::test]
async fn bare_and_full_tanks_have_a_page() {
    let client = Client::new();
    for start in reed_core::document::start::ALL {
        let saved = client
            .post(
                &format!("/tanks/new/{}", start.id),
                "name=As+it+is&animals=set-up",
            )
            .await;
        let tank = saved.location;
        assert!(
            tank.starts_with("/tanks/"),
            "{}: {}",
            start.id,
            saved.status
        );
        let water = client.get(&format!("{tank}/water/oxygen")).await;
        assert!(
            water.status == StatusCode::OK && water.text.contains("The power fails"),
            "{}",
            start.id
        );
        let ahead = client.get(&format!("{tank}/water/outlook")).await;
        assert!(
            ahead.status == StatusCode::OK && !ahead.text.contains("NaN"),
            "{}",
            start.id
        );
    }
}
