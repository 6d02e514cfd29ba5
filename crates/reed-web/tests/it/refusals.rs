//! Bad input: a sentence, the right status, nothing changed, everything typed still there.

use axum::http::StatusCode;

use crate::client::Client;
use crate::form::Form;

#[tokio::test]
async fn pages_that_are_not_there_say_so_in_words() {
    let client = Client::new();
    for path in [
        "/nowhere",
        "/cases/99",
        "/cases/abc",
        "/tanks/99",
        "/tanks/-1",
        "/tanks/9/edit",
        "/tanks/1/revisions/9",
        "/tanks/new/teapot",
        "/cases/1/choices/5",
    ] {
        let answer = client.get(path).await;
        assert_eq!(answer.status, StatusCode::NOT_FOUND, "{path}");
        assert!(
            answer.text.contains("Not here") && answer.text.contains("To the rounds"),
            "{path}"
        );
    }
    for path in [
        "/cases/99/answers",
        "/cases/1/choices/7/done",
        "/tanks/99/readings",
        "/cases/1/readings/99/strike",
    ] {
        let answer = client
            .post(
                path,
                "finding=gasping&answer=yes&kit=oxygen-drops&value=5&taken_at=2026-03-10T08:00",
            )
            .await;
        assert_eq!(answer.status, StatusCode::NOT_FOUND, "{path}");
    }
}

#[tokio::test]
async fn unknown_ids_in_forms_are_refused_and_named() {
    let client = Client::new();
    let answer = client
        .post("/cases/1/answers", "finding=surface-green&answer=yes")
        .await;
    assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(answer.text.contains("“surface-green” is no question"));
    let answer = client.post("/cases/1/choices", "change=pray").await;
    assert!(answer.text.contains("“pray” is no change"));
    let answer = client.post("/cases/1/choices", "change=restore-air").await;
    assert!(
        answer.text.contains("does not fit this tank"),
        "the tank has nothing that blows air"
    );
}

#[tokio::test]
async fn a_refused_reading_keeps_what_was_typed_and_saves_nothing() {
    let client = Client::new();
    for (form, says) in [
        (
            "kit=oxygen-drops&value=-3&spread=0.7&taken_at=2026-03-10T08:00",
            "Oxygen: “-3” is not accepted.",
        ),
        (
            "kit=thermometer&value=900&spread=0.7&taken_at=2026-03-10T08:00",
            "Water temperature: “900” is not accepted.",
        ),
        (
            "kit=oxygen-drops&value=&spread=0.7&taken_at=2026-03-10T08:00",
            "Oxygen: “nothing” is not accepted.",
        ),
        (
            "kit=oxygen-drops&value=5&spread=0.7&taken_at=2026-03-11T08:00",
            "That is in the future",
        ),
        (
            "kit=oxygen-drops&value=5&spread=0.7&taken_at=some+day",
            "When: “some day” is not accepted.",
        ),
        (
            "kit=crystal-ball&value=5&spread=0.7&taken_at=2026-03-10T08:00",
            "Kit: “crystal-ball” is not accepted.",
        ),
    ] {
        let answer = client.post("/cases/1/readings", form).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{form}");
        assert!(
            answer.text.contains(says) && answer.text.contains("value=\"0.7\""),
            "{form}"
        );
    }
    let page = client.get("/cases/1").await;
    assert_eq!(
        page.text.matches("Strike out:").count(),
        2,
        "the two readings of the example"
    );
}

#[tokio::test]
async fn what_is_typed_is_shown_as_text_and_never_as_markup() {
    let client = Client::new();
    let mut form = Form::from_start(&client, "sponge-cube").await;
    form.set("/name", "<script>x</script>")
        .set("/things/0/name", "\"><b>y")
        .set("do", "save");
    let answer = client.post("/tanks", &form.sent()).await;
    assert_eq!(answer.status, StatusCode::SEE_OTHER, "{}", answer.text);
    for path in ["/", answer.location.as_str()] {
        let page = client.get(path).await;
        assert!(
            !page.text.contains("<script>x") && page.text.contains("&#60;script&#62;x"),
            "{path}"
        );
        assert!(!page.text.contains("\"><b>y"), "{path}");
    }
    assert!(
        !client
            .get(&format!("{}/edit", answer.location))
            .await
            .text
            .contains("\"><b>y")
    );
    assert!(
        client
            .get(&format!("{}/drawing.svg", answer.location))
            .await
            .text
            .contains("&quot;&gt;&lt;b&gt;y")
    );
}

#[tokio::test]
async fn writes_come_from_our_own_pages_only_and_are_of_bounded_size() {
    let client = Client::new();
    let answer = client
        .post_from(
            "/cases/1/answers",
            "finding=gasping&answer=yes",
            "cross-site",
        )
        .await;
    assert_eq!(answer.status, StatusCode::FORBIDDEN);
    let answer = client
        .post(
            "/cases/1/close",
            &format!("words={}", "x".repeat(2_000_000)),
        )
        .await;
    assert_eq!(answer.status, StatusCode::PAYLOAD_TOO_LARGE);
    assert!(client.get("/").await.text.contains("One case is open."));
}

/// A page elsewhere whose name was made to point here learns and changes nothing.
#[tokio::test]
async fn another_name_for_this_machine_is_refused() {
    let client = Client::new();
    let (ours, refused) = (StatusCode::OK, StatusCode::UNPROCESSABLE_ENTITY);
    for (host, origin, status) in [
        ("127.0.0.1:8737", None, ours),
        ("localhost:8737", Some("http://localhost:8737"), ours),
        ("elsewhere.example", None, refused),
        ("localhost:8737", Some("https://elsewhere.example"), refused),
        ("localhost:8737", Some("null"), refused),
    ] {
        let answer = client.get_as("/tanks/1", host, origin).await;
        assert_eq!(answer.status, status);
        assert_eq!(
            answer.text.contains("Reading room"),
            status == StatusCode::OK
        );
        assert_eq!(
            answer.headers["cross-origin-resource-policy"],
            "same-origin"
        );
    }
}

/// What never reaches a page is refused in the program's own words, on a page of its own.
#[tokio::test]
async fn what_the_layers_refuse_is_a_page_too() {
    let client = Client::new();
    let close = "/cases/1/close";
    for (answer, status) in [
        (
            client.post_from(close, "words=x", "cross-site").await,
            StatusCode::FORBIDDEN,
        ),
        (
            client.post(close, &"x".repeat(2_000_000)).await,
            StatusCode::PAYLOAD_TOO_LARGE,
        ),
        (
            client.post("/cases/1/answers", "").await,
            StatusCode::UNPROCESSABLE_ENTITY,
        ),
        (
            client.post("/handbook", "").await,
            StatusCode::METHOD_NOT_ALLOWED,
        ),
        (
            client.upload(close, &[("words", "x")]).await,
            StatusCode::UNSUPPORTED_MEDIA_TYPE,
        ),
    ] {
        assert_eq!(answer.status, status, "{}", answer.text);
        assert!(
            answer.text.contains("<h1>") && answer.text.contains("Zesty Reed"),
            "{status}: {}",
            answer.text
        );
    }
}

#[tokio::test]
async fn every_page_carries_a_strict_policy_and_nothing_inline() {
    let client = Client::new();
    for path in [
        "/",
        "/cases/1",
        "/tanks/1",
        "/tanks/1/edit",
        "/tanks/1/revisions/1",
        "/tanks/new",
        "/import",
        "/settings",
        "/data",
        "/at-the-tank",
        "/offline",
        "/handbook",
        "/nowhere",
    ] {
        let page = client.get(path).await;
        let policy = page.headers["content-security-policy"]
            .to_str()
            .expect("text");
        assert!(
            policy.contains("default-src 'none'") && !policy.contains("unsafe"),
            "{path}"
        );
        assert!(
            !page.text.contains("style=\"")
                && !page.text.contains("onclick")
                && !page.text.contains("<style"),
            "{path}"
        );
        for address in ["http://", "https://", "//cdn"] {
            assert!(
                !page.text.replace("http://www.w3.org", "").contains(address),
                "{path} loads from {address}"
            );
        }
    }
}
