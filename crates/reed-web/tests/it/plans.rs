//! Plans on the page of a case: chosen, followed in stages, proved by parts beside a control, and
//! what is left to be watched.

use axum::http::StatusCode;

use crate::client::Client;

async fn revision(client: &Client) -> String {
    let page = client.get("/cases/1").await.text;
    let from = page.find("name=\"revision\" value=\"").expect("plans") + 23;
    page[from..]
        .chars()
        .take_while(char::is_ascii_digit)
        .collect()
}

/// Follows a plan of the demo tank's first case.
async fn follow(client: &Client, changes: &[&str]) -> crate::client::Answer {
    let changes: Vec<String> = changes.iter().map(|id| format!("change={id}")).collect();
    let revision = revision(client).await;
    client
        .post(
            "/cases/1/plan",
            &format!("revision={revision}&{}", changes.join("&")),
        )
        .await
}

#[tokio::test]
async fn plans_stand_side_by_side_with_their_goals_stages_and_what_was_passed_over() {
    let client = Client::new();
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("Best on the whole")
            && page.contains("Oxygen stays out of danger")
            && page.contains("Follow this plan")
            && page.contains("Passed over, and why")
            && page.contains("What it does, and what it leaves"),
        "{page}"
    );
}

#[tokio::test]
async fn a_plan_is_followed_stage_by_stage() {
    let mut client = Client::new();
    let chosen = follow(&client, &["raise-or-aim-outlet", "clean-mechanical"]).await;
    assert_eq!(chosen.status, StatusCode::SEE_OTHER, "{}", chosen.text);
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("Your plan")
            && page.contains("from day 1 on")
            && !page.contains("next-stage"),
        "the first stage is under way"
    );
    // Not before the first is done.
    let early = client.post("/cases/1/plan/next", "").await;
    assert!(
        early.text.contains("A change is under way"),
        "{}",
        early.text
    );
    client.post("/cases/1/choices/1/done", "").await;
    // Said twice, by two who share the list, it holds once.
    let again = client.post("/cases/1/choices/1/done", "").await;
    assert_eq!(again.status, StatusCode::SEE_OTHER);
    let page = client.get("/cases/1").await.text;
    assert!(page.contains("next-stage") && page.contains("Better not before"));
    client.set_clock("2026-03-12T08:30:00");
    client.post("/cases/1/plan/next", "").await;
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("Rinse the mechanical stages in tank water") && page.contains("change-done"),
        "the second stage"
    );
    assert!(
        page.contains("proof1-value"),
        "what the first has still to show is asked for as well"
    );
    let dropped = client.post("/cases/1/plan/drop", "").await;
    assert_eq!(dropped.status, StatusCode::SEE_OTHER);
    assert!(!client.get("/cases/1").await.text.contains("Your plan"));
    let none = client.post("/cases/1/plan/next", "").await;
    assert!(none.text.contains("under way") || none.text.contains("No plan of this case"));
}

/// Bad input, each with a sentence.
#[tokio::test]
async fn plans_that_cannot_be_are_refused_in_words() {
    let client = Client::new();
    let post = |body: String| {
        let client = &client;
        async move { client.post("/cases/1/plan", &body).await }
    };
    let now = revision(&client).await;
    for (body, says) in [
        (format!("revision={now}"), "pick one at least"),
        (
            format!("revision={now}&change=nonsense"),
            "is no change of this program",
        ),
        (
            format!("revision={now}&change=feed-less&change=feed-up"),
            "do not undo each other",
        ),
        (
            format!("revision={now}&change=feed-less&budget=an+hour"),
            "is not a number from 5 to 1440",
        ),
        (
            format!("revision={now}&change=change-sock"),
            "does not fit this tank, or the one",
        ),
        (
            "revision=77&change=feed-less".to_owned(),
            "The tank was changed meanwhile",
        ),
    ] {
        let answer = post(body.clone()).await;
        assert!(
            answer.status == StatusCode::UNPROCESSABLE_ENTITY && answer.text.contains(says),
            "{body}: {}",
            answer.text
        );
    }
    let missing = post("change=feed-less".to_owned()).await;
    assert!(missing.status.is_client_error());
}

#[tokio::test]
async fn a_mix_of_ones_own_is_reckoned_and_says_what_does_not_go_together() {
    let client = Client::new();
    let mix = |query: &'static str| {
        let client = &client;
        async move { client.get(&format!("/cases/1/mix?{query}")).await.text }
    };
    assert!(mix("").await.contains("Pick what you would do"));
    let page = mix("change=raise-or-aim-outlet&change=clean-mechanical").await;
    assert!(
        page.contains("follow-mix") && page.contains("Oxygen stays out of danger"),
        "{page}"
    );
    for (query, says) in [
        (
            "change=clean-mechanical&change=replace-floss",
            "do the same or undo each other",
        ),
        (
            "change=feed-less&change=remove-waste&change=break-film&change=add-air-stone&change=raise-or-aim-outlet",
            "More than four at once",
        ),
        ("change=nonsense", "is no change of this program"),
        (
            "change=feed-less&budget=long",
            "is not a number from 5 to 1440",
        ),
    ] {
        let page = mix(query).await;
        assert!(
            page.contains(says) && !page.contains("follow-mix"),
            "{query}"
        );
    }
    // With a quarter of an hour for a visit the second change waits for the next.
    let short = mix("change=vacuum-bed&change=remove-waste&budget=30").await;
    assert!(
        short.contains("Later, from day") || short.contains("This week"),
        "{short}"
    );
}

/// Oxygen alone is no end: what the case began with has to be gone too, and an answer given anywhere
/// counts.
#[tokio::test]
async fn a_proof_of_several_parts_is_whole_only_with_all_of_them() {
    let mut client = Client::new();
    client
        .post("/cases/1/choices", "change=raise-or-aim-outlet")
        .await;
    client.post("/cases/1/choices/1/done", "").await;
    client.set_clock("2026-03-11T08:40:00");
    let page = client.get("/cases/1").await.text;
    assert!(page.contains("things have to be shown"), "{page}");
    client
        .post(
            "/cases/1/choices/1/proof",
            "kit=oxygen-drops&value=7.4&taken_at=2026-03-11T08:30",
        )
        .await;
    let page = client.get("/cases/1").await.text;
    assert!(page.contains("Cannot tell yet") || page.contains("Not all is shown yet"));
    assert!(!page.contains("close-proved"));
    client
        .post("/cases/1/answers", "finding=keeps-to-top&answer=no")
        .await;
    let page = client.get("/cases/1").await.text;
    assert!(page.contains("close-proved"), "{page}");
    client.post("/cases/1/close", "words=Proved").await;
    // What it left to be watched.
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("To be watched") && page.contains("Read ammonia") && page.contains("0 of 7"),
        "{page}"
    );
    client
        .post(
            "/tanks/1/water/readings",
            "kit=ammonia-drops&value=0.05&card=nitrogen",
        )
        .await;
    let page = client.get("/cases/1").await.text;
    assert!(page.contains("1 of 7"), "{page}");
    let tick = page.find("/duties/").expect("a duty to tick");
    let address: String = page[tick - 8..]
        .chars()
        .take_while(|letter| *letter != '"')
        .collect();
    let number: String = page[tick + 8..]
        .chars()
        .take_while(char::is_ascii_digit)
        .collect();
    let ticked = client.post(&format!("/cases/1/duties/{number}"), "").await;
    assert_eq!(ticked.status, StatusCode::SEE_OTHER, "{address}");
    assert!(client.get("/cases/1").await.text.contains("1 of 28"));
    let unknown = client.post("/cases/1/duties/99", "").await;
    assert_eq!(unknown.status, StatusCode::NOT_FOUND);
    // Opened again, it is watched no longer.
    client.post("/cases/1/reopen", "").await;
    assert!(!client.get("/cases/1").await.text.contains("To be watched"));
}

/// The last stage is proved: what an earlier one has still to show is asked for, its form keeps what
/// was typed, and only then the case may be closed as proved.
#[tokio::test]
async fn a_plan_is_proved_with_all_of_its_stages() {
    let mut client = Client::new();
    follow(&client, &["raise-or-aim-outlet", "add-plants"]).await;
    client.post("/cases/1/choices/1/done", "").await;
    client.set_clock("2026-03-12T08:30:00");
    client.post("/cases/1/plan/next", "").await;
    client.post("/cases/1/choices/2/done", "").await;
    client.set_clock("2026-05-20T08:40:00");
    let read = |choice: u8, value: &str| {
        (
            format!("/cases/1/choices/{choice}/proof"),
            format!("kit=oxygen-drops&value={value}&taken_at=2026-05-20T08:30"),
        )
    };
    let (path, body) = read(2, "12");
    client.post(&path, &body).await;
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("Proof of what was made first: Raise the outlet")
            && page.contains("data-focus=\"proof1-value\"")
            && !page.contains("close-proved"),
        "{page}"
    );
    let (path, body) = read(1, "abc");
    let refused = client.post(&path, &body).await;
    assert!(
        refused.status == StatusCode::UNPROCESSABLE_ENTITY
            && refused
                .text
                .contains("id=\"proof1-value\" name=\"value\" value=\"abc\""),
        "{}",
        refused.text
    );
    let (path, body) = read(1, "12");
    client.post(&path, &body).await;
    client
        .post("/cases/1/choices/1/look", "sign=keeps-to-top&answer=no")
        .await;
    assert!(client.get("/cases/1").await.text.contains("close-proved"));
}

/// What nothing was read of before cannot be told; the case may go on without it.
#[tokio::test]
async fn what_cannot_be_told_is_said_so_and_can_be_left() {
    let mut client = Client::new();
    client
        .post("/cases/1/choices", "change=bigger-changes")
        .await;
    client.post("/cases/1/choices/1/done", "").await;
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("only you know") && page.contains("/tanks/1/edit"),
        "the larger change is not in the tank's file by itself"
    );
    client.set_clock("2026-07-01T08:40:00");
    client
        .post(
            "/cases/1/choices/1/proof",
            "kit=nitrate-drops&value=2&card=nitrogen&taken_at=2026-07-01T08:30",
        )
        .await;
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("nothing was read before the change") && page.contains("leave-unproved"),
        "{page}"
    );
    client.post("/cases/1/choices/1/leave", "").await;
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("could not be told") && page.contains("The case looks on from here"),
        "{page}"
    );
}

/// A sister tank that was read before and after is taken as a control; one that was not is refused
/// in words, and what was typed stays.
#[tokio::test]
async fn a_proof_can_be_compared_with_a_tank_that_was_left_alone() {
    let mut client = Client::new();
    client
        .post("/tanks/new/sponge-cube", "name=Sister&animals=set-up")
        .await;
    let read = |tank: u8, value: &str, at: &str| {
        (
            format!("/tanks/{tank}/water/readings"),
            format!("kit=oxygen-drops&value={value}&taken_at={at}"),
        )
    };
    let (path, body) = read(2, "7.0", "2026-03-10T08:00");
    client.post(&path, &body).await;
    client
        .post("/cases/1/choices", "change=raise-or-aim-outlet")
        .await;
    client.post("/cases/1/choices/1/done", "").await;
    client.set_clock("2026-03-11T08:40:00");
    let page = client.get("/cases/1").await.text;
    assert!(page.contains("Beside, left alone"), "{page}");
    let proof = |control: &str| {
        format!("kit=oxygen-drops&value=7.4&taken_at=2026-03-11T08:30&control={control}")
    };
    for (control, says) in [
        ("2", "now, too, within 6 hours"),
        ("tap", "of the tap is not read"),
        ("1", "is no other tank of yours"),
        ("99", "is no other tank of yours"),
        ("the+other", "is no other tank of yours"),
    ] {
        let answer = client
            .post("/cases/1/choices/1/proof", &proof(control))
            .await;
        assert!(
            answer.status == StatusCode::UNPROCESSABLE_ENTITY
                && answer.text.contains(says)
                && answer.text.contains("value=\"7.4\""),
            "{control}: {}",
            answer.text
        );
    }
    let (path, body) = read(2, "7.1", "2026-03-11T08:20");
    client.post(&path, &body).await;
    client.post("/cases/1/choices/1/proof", &proof("2")).await;
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("left alone: 7.0 ± 0.5 mg/L before, 7.1 ± 0.5 mg/L now; it stayed"),
        "{page}"
    );
}

#[tokio::test]
async fn own_prices_are_kept_and_bad_ones_refused_with_what_was_typed() {
    let client = Client::new();
    let bad = client
        .post(
            "/prices",
            "euros.add-air-stone=cheap&minutes.add-air-stone=10",
        )
        .await;
    assert!(
        bad.status == StatusCode::UNPROCESSABLE_ENTITY
            && bad
                .text
                .contains("Euros: “cheap” is not a number from 0 to 10000.")
            && bad.text.contains("value=\"cheap\""),
        "{}",
        bad.text
    );
    client
        .post("/prices", "euros.add-air-stone=12,5&minutes.add-air-stone=")
        .await;
    let page = client.get("/prices").await.text;
    assert!(
        page.contains("name=\"euros.add-air-stone\" value=\"12.5\""),
        "{page}"
    );
    let mix = client.get("/cases/1/mix?change=add-air-stone").await.text;
    assert!(mix.contains("your price"), "{mix}");
    client.post("/prices", "euros.add-air-stone=").await;
    assert!(!client.get("/cases/1/mix").await.text.contains("your price"));
}

#[tokio::test]
async fn the_report_says_what_was_found_done_left_and_is_to_be_bought() {
    let client = Client::new();
    follow(&client, &["raise-or-aim-outlet", "add-bio-media"]).await;
    client.post("/cases/1/choices/1/done", "").await;
    let page = client.get("/cases/1/report").await.text;
    for says in [
        "Found",
        "Fish keep to the top",
        "Raise the outlet",
        "Not proved yet.",
        "Left for next time",
        "Add a litre or two",
        "Biological medium",
        "1.0 L",
    ] {
        assert!(page.contains(says), "{says}: {page}");
    }
}
