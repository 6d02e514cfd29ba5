//! A round of glances answered together, what cannot be done, and checks that the keeper would
//! rather do.

use axum::http::StatusCode;

use crate::client::Client;

#[tokio::test]
async fn a_round_is_answered_at_once_and_only_as_far_as_was_looked() {
    let client = Client::new();
    let asked = "asked=surface-flat&asked=surface-film&asked=muck-everywhere&asked=equipment-moved";
    let to = client
        .post(
            "/cases/1/looks",
            &format!("{asked}&surface-flat=yes&surface-film=cannot-look&equipment-moved=longer&when-equipment-moved=half-year&rest="),
        )
        .await;
    assert_eq!(
        (to.status, to.location.as_str()),
        (StatusCode::SEE_OTHER, "/cases/1#next")
    );
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("The surface is a mirror")
            && page.contains("Filter or outlet had been moved or cleaned <small>180 days ago")
    );
    assert!(
        !page.contains("The bed is clean"),
        "nobody looked at the bed"
    );
    assert!(
        page.contains("Could not be done, so not asked: 1")
            && !page.contains("name=\"asked\" value=\"surface-film\"")
    );
    client
        .post("/cases/1/looks", "asked=muck-everywhere&rest=no")
        .await;
    let file = client.get("/cases/1/case.reed.json").await.text;
    assert!(
        file.contains("\"muck-everywhere\"")
            && file.contains("\"declined\"")
            && file.contains("\"look-surface-film\""),
        "{file}"
    );
    // Answered all the same, it is no longer among what could not be done; withdrawn, it is again.
    for (answer, listed) in [("yes", false), ("not-looked", true)] {
        client
            .post(
                "/cases/1/answers",
                &format!("finding=surface-film&answer={answer}"),
            )
            .await;
        assert_eq!(
            client
                .get("/cases/1")
                .await
                .text
                .contains("Could not be done, so not asked: 1"),
            listed,
            "{answer}"
        );
    }
    // Taken back, it is asked again.
    client
        .post("/cases/1/declined", "check=look-surface-film")
        .await;
    assert!(
        !client
            .get("/cases/1")
            .await
            .text
            .contains("Could not be done")
    );
}

#[tokio::test]
async fn a_round_takes_anything_and_says_what_it_does_not_take() {
    let client = Client::new();
    for (body, says) in [
        (
            "asked=nothing-known&rest=no",
            "“nothing-known” is no question of this program.",
        ),
        (
            "asked=surface-flat&surface-flat=perhaps",
            "“perhaps” is no answer to",
        ),
        (
            "asked=equipment-moved&equipment-moved=yes",
            "“yes” is no answer to",
        ),
        ("asked=flow-weak&flow-weak=at-99", "“at-99” is no answer to"),
    ] {
        let refused = client.post("/cases/1/looks", body).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "{body}");
        assert!(refused.text.contains(says), "{body}: {}", refused.text);
    }
    assert_eq!(
        client.post("/cases/1/looks", "").await.status,
        StatusCode::SEE_OTHER,
        "nothing asked, nothing said"
    );
    let refused = client
        .post("/cases/1/declined", "check=nothing-known&why=no-kit")
        .await;
    assert!(
        refused
            .text
            .contains("“nothing-known” is no check of this program.")
    );
    client.post("/cases/1/close", "words=over").await;
    assert_eq!(
        client
            .post("/cases/1/looks", "asked=surface-flat&rest=no")
            .await
            .status,
        StatusCode::UNPROCESSABLE_ENTITY,
        "it is closed"
    );
}

#[tokio::test]
async fn a_keeper_may_rather_do_another_check_and_have_no_kit_for_it() {
    let client = Client::new();
    let page = client.get("/cases/1?check=read-nitrite").await.text;
    assert!(page.contains("<h2>Test nitrite</h2>") && page.contains("Have no kit"));
    client
        .post("/cases/1/declined", "check=read-nitrite&why=no-kit")
        .await;
    assert!(
        !client
            .get("/cases/1?check=read-nitrite")
            .await
            .text
            .contains("<h2>Test nitrite</h2>"),
        "it is not asked for again"
    );
    for page in [
        "/cases/1",
        "/cases/1?check=read-ammonia",
        "/cases/1?check=nothing-known",
    ] {
        let text = client.get(page).await.text;
        assert!(
            !text.contains(" bits"),
            "{page}: no bits where a keeper reads"
        );
    }
}

/// Two people prove at once: both readings stay, and the later one is the verdict.
#[tokio::test]
async fn two_proofs_at_once_lose_nothing() {
    let mut client = Client::new();
    client
        .post("/cases/1/choices", "change=raise-or-aim-outlet")
        .await;
    client.post("/cases/1/choices/1/done", "").await;
    client.set_clock("2026-03-11T09:00:00");
    let proof = |value: &str| format!("kit=oxygen-drops&value={value}&taken_at=2026-03-11T08:30");
    let (one, other) = (proof("7.4"), proof("7.2"));
    let (one, other) = tokio::join!(
        client.post("/cases/1/choices/1/proof", &one),
        client.post("/cases/1/choices/1/proof", &other)
    );
    assert_eq!([one.status, other.status], [StatusCode::SEE_OTHER; 2]);
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("7.4 ± 0.5 mg/L") && page.contains("7.2 ± 0.5 mg/L"),
        "{page}"
    );
    let another_kit = client
        .post(
            "/cases/1/choices/1/proof",
            "kit=ph-card&value=7&taken_at=2026-03-11T08:40",
        )
        .await;
    assert!(
        another_kit.text.contains("is not accepted")
            || another_kit.text.contains("This change is proved by Oxygen"),
        "{}",
        another_kit.text
    );
    let unphysical = client.post("/cases/1/choices/1/proof", &proof("24")).await;
    assert!(unphysical.text.contains("Give a number from 0 to 20 mg/L"));
}

async fn raised_and_read(client: &mut Client, at: &str, value: &str) -> String {
    client
        .post("/cases/1/choices", "change=raise-or-aim-outlet")
        .await;
    client.post("/cases/1/choices/1/done", "").await;
    client.set_clock(at);
    client
        .post(
            "/cases/1/choices/1/proof",
            &format!("kit=oxygen-drops&value={value}&taken_at={}", &at[..16]),
        )
        .await;
    client.get("/cases/1").await.text
}

/// Oxygen is good, and the fish hang at the surface as before: that is no end, and the case looks
/// on.
#[tokio::test]
async fn nothing_is_over_while_the_sign_that_opened_it_stands() {
    let mut client = Client::new();
    let page = raised_and_read(&mut client, "2026-03-11T08:40:00", "7.4").await;
    assert!(
        page.contains("Not all is shown yet")
            && page.contains("look again at what it began with")
            && !page.contains("close-proved")
    );
    client
        .post("/cases/1/answers", "finding=keeps-to-top&answer=yes")
        .await;
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("The case looks on from here")
            && page.contains("Tried before")
            && !page.contains("close-proved"),
        "{page}"
    );
    // Said in error, and taken back.
    client
        .post("/cases/1/answers", "finding=keeps-to-top&answer=no")
        .await;
    assert!(client.get("/cases/1").await.text.contains("close-proved"));
}

/// Next morning is next morning, whatever the hour at which the change was made.
#[tokio::test]
async fn a_proof_that_waits_for_the_morning_is_due_in_the_morning() {
    let mut client = Client::new();
    let evening = raised_and_read(&mut client, "2026-03-10T19:00:00", "8.4").await;
    assert!(
        evening.contains("So far it worked") && evening.contains("Read again from"),
        "after more than eight hours, but before the night"
    );
    client.set_clock("2026-03-11T08:10:00");
    client
        .post(
            "/cases/1/choices/1/proof",
            "kit=oxygen-drops&value=7.4&taken_at=2026-03-11T08:00",
        )
        .await;
    assert!(
        client
            .get("/cases/1")
            .await
            .text
            .contains("<strong>Shown</strong>")
    );
}

/// What was read highest before is what is read again.
#[tokio::test]
async fn the_proof_asks_for_what_convicted_and_for_a_before() {
    let client = Client::new();
    client.post("/cases/1/choices", "change=water-change").await;
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("Nitrite at most") && page.contains("Read it before you start, too"),
        "{page}"
    );
    client
        .post(
            "/cases/1/readings",
            "kit=ammonia-drops&value=1.2&card=nitrogen&taken_at=2026-03-10T08:25",
        )
        .await;
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("Ammonia at most") && !page.contains("Read it before you start, too"),
        "{page}"
    );
}
