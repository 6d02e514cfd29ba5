//! A case off the straight path: answers corrected, changes dropped, taken back, fallen short.

use axum::http::StatusCode;
use reed_core::document::Document;

use crate::client::Client;

async fn choose_and_do(client: &Client) {
    client
        .post("/cases/1/choices", "change=raise-or-aim-outlet")
        .await;
    let done = client.post("/cases/1/choices/1/done", "").await;
    assert_eq!(done.status, StatusCode::SEE_OTHER, "{}", done.text);
}

fn reading(value: &str, taken_at: &str) -> String {
    format!("kit=oxygen-drops&value={value}&taken_at={taken_at}")
}

#[tokio::test]
async fn an_answer_is_corrected_withdrawn_and_remembered() {
    let client = Client::new();
    for answer in ["yes", "no", "not-looked"] {
        client
            .post(
                "/cases/1/answers",
                &format!("finding=surface-flat&answer={answer}"),
            )
            .await;
    }
    let page = client.get("/cases/1").await;
    assert!(
        page.text.contains("Withdrawn: The surface is a mirror"),
        "the history stays"
    );
    assert!(
        page.text.contains("Look across the surface"),
        "the question is asked again"
    );
    let answer = client
        .post("/cases/1/answers", "finding=equipment-moved&when=week")
        .await;
    assert_eq!(answer.location, "/cases/1#next");
    assert!(
        client
            .get("/cases/1")
            .await
            .text
            .contains("Filter or outlet had been moved or cleaned <small>4 days ago")
    );
}

#[tokio::test]
async fn a_struck_reading_leaves_the_reasons_and_can_be_taken_back() {
    let client = Client::new();
    let mentions = async || {
        client
            .get("/cases/1")
            .await
            .text
            .matches("Oxygen 4.5 ± 0.5 mg/L at 08:20")
            .count()
    };
    assert!(mentions().await > 0);
    client.post("/cases/1/readings/2/strike", "").await;
    assert_eq!(mentions().await, 0);
    assert!(client.get("/cases/1").await.text.contains("struck out"));
    client.post("/cases/1/readings/2/restore", "").await;
    assert!(mentions().await > 0);
}

#[tokio::test]
async fn one_change_at_a_time_and_a_dropped_one_makes_room() {
    let client = Client::new();
    client
        .post("/cases/1/choices", "change=raise-or-aim-outlet")
        .await;
    let second = client
        .post("/cases/1/choices", "change=add-air-stone")
        .await;
    assert_eq!(second.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(second.text.contains("one at a time tells what helped"));
    client.post("/cases/1/choices/1/drop", "").await;
    assert_eq!(
        client
            .post("/cases/1/choices", "change=add-air-stone")
            .await
            .status,
        StatusCode::SEE_OTHER
    );
}

#[tokio::test]
async fn doing_a_change_revises_the_tank_and_undoing_brings_it_back() {
    let client = Client::new();
    client
        .post("/cases/1/choices", "change=add-air-stone")
        .await;
    client.post("/cases/1/choices/1/done", "").await;
    assert!(
        client
            .get("/tanks/1/edit")
            .await
            .text
            .contains("value=\"Air stone\"")
    );
    client.post("/cases/1/choices/1/undo-done", "").await;
    assert!(
        !client
            .get("/tanks/1/edit")
            .await
            .text
            .contains("value=\"Air stone\"")
    );
    assert!(
        client
            .get("/tanks/1")
            .await
            .text
            .contains("Taken back: Add an air stone")
    );
}

/// A probe that goes on reading takes neither the readings from before a change nor the one that
/// proved it out of the case.
#[tokio::test]
async fn a_probe_takes_no_reading_out_of_a_case() {
    let mut client = Client::new();
    choose_and_do(&client).await;
    client
        .post("/cases/1/answers", "finding=keeps-to-top&answer=no")
        .await;
    client.set_clock("2026-03-11T09:00:00");
    client
        .post(
            "/cases/1/choices/1/proof",
            &reading("7.4", "2026-03-11T08:30"),
        )
        .await;
    let before = client.get("/cases/1").await.text;
    assert!(
        before.contains("4.5"),
        "what was read before the change: {before}"
    );
    let minutes: String = (0..60)
        .map(|minute| format!("2026-03-11T09:{minute:02}:00,7.4\n"))
        .collect();
    client.set_clock("2026-03-11T10:30:00");
    let sent = client
        .upload(
            "/tanks/1/bring/file",
            &[("file", format!("date,oxygen\n{minutes}"))],
        )
        .await;
    let page = crate::log::brought_in(&client, &sent.location, "").await;
    assert!(page.contains("60 stored"), "{page}");
    let after = client.get("/cases/1").await.text;
    let verdict = |page: &str| {
        ["Proved: it worked", "So far it worked", "Not proved"].map(|words| page.contains(words))
    };
    assert_eq!(verdict(&after), verdict(&before), "{after}");
    assert!(after.contains("4.5 ± 0.5"), "{after}");
}

#[tokio::test]
async fn a_proof_is_judged_at_its_hour_and_an_early_one_is_provisional() {
    let mut client = Client::new();
    choose_and_do(&client).await;
    client.set_clock("2026-03-10T10:00:00");
    client
        .post(
            "/cases/1/choices/1/proof",
            &reading("5.0", "2026-03-10T09:45"),
        )
        .await;
    let page = client.get("/cases/1").await;
    assert!(
        page.text.contains("Not proved: no effect to be seen")
            && page.text.contains("this verdict is provisional")
    );
    // A success before its day is one so far, wherever it is said.
    client
        .post(
            "/cases/1/choices/1/proof",
            &reading("7.4", "2026-03-10T09:50"),
        )
        .await;
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("So far it worked")
            && page.contains("look again at what it began with")
            && !page.contains("close-early"),
        "{page}"
    );
    // What opened the case has to be gone, and it is looked for after the change.
    client
        .post("/cases/1/answers", "finding=keeps-to-top&answer=no")
        .await;
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("So far it worked")
            && page.contains("close-early")
            && !page.contains("Proved: it worked"),
        "{page}"
    );
    client.set_clock("2026-03-11T09:00:00");
    client
        .post(
            "/cases/1/choices/1/proof",
            &reading("7.4", "2026-03-11T08:30"),
        )
        .await;
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("Proved: it worked") && page.contains("close-proved"),
        "{page}"
    );
}

#[tokio::test]
async fn a_change_that_falls_short_sends_the_case_on_with_the_new_state() {
    let mut client = Client::new();
    choose_and_do(&client).await;
    client.set_clock("2026-03-11T09:00:00");
    client
        .post(
            "/cases/1/choices/1/proof",
            &reading("4.2", "2026-03-11T08:30"),
        )
        .await;
    let page = client.get("/cases/1").await;
    assert!(
        page.text.contains("The case looks on from here") && page.text.contains("Tried before")
    );
    assert!(
        page.text.contains("Oxygen 4.2 ± 0.5 mg/L at 08:30"),
        "the proof reading is evidence now"
    );
    assert!(
        !page.text.contains("Oxygen 4.5 ± 0.5 mg/L at 08:20"),
        "the reading of the old state is not"
    );
    assert_eq!(
        client
            .post("/cases/1/choices", "change=remove-waste")
            .await
            .status,
        StatusCode::SEE_OTHER
    );
}

#[tokio::test]
async fn a_reading_of_before_the_change_proves_nothing() {
    let mut client = Client::new();
    choose_and_do(&client).await;
    client.set_clock("2026-03-10T12:00:00");
    let early = client
        .post(
            "/cases/1/choices/1/proof",
            &reading("7.5", "2026-03-10T08:00"),
        )
        .await;
    assert_eq!(early.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        early.text.contains("taken before the change was done")
            && early.text.contains("value=\"7.5\"")
    );
    let wrong = client
        .post(
            "/cases/1/choices/1/proof",
            "kit=thermometer&value=25&taken_at=2026-03-10T11:00",
        )
        .await;
    assert!(
        wrong
            .text
            .contains("This change is proved by Oxygen, not by Water temperature.")
    );
}

#[tokio::test]
async fn a_closed_case_can_be_opened_again_and_a_second_one_is_not_opened_beside_it() {
    let client = Client::new();
    assert_eq!(
        client.post("/tanks/1/cases", "").await.location,
        "/cases/1",
        "one open case to a tank"
    );
    client.post("/cases/1/close", "words=It+was+the+clip").await;
    assert!(
        client
            .get("/cases/1")
            .await
            .text
            .contains("It was the clip")
    );
    assert!(client.get("/").await.text.contains("No case is open."));
    for (path, form) in [
        ("answers", "finding=gasping&answer=yes"),
        ("choices", "change=feed-less"),
        ("readings/2/strike", ""),
    ] {
        let refused = client.post(&format!("/cases/1/{path}"), form).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "{path}");
        assert!(
            refused
                .text
                .contains("case 1 is closed; open it again to change it"),
            "{path}"
        );
    }
    assert!(
        !client
            .get("/cases/1")
            .await
            .text
            .contains("Save the reading"),
        "a closed case offers nothing to enter"
    );
    let second = client.post("/tanks/1/cases", "").await.location;
    let refused = client.post("/cases/1/reopen", "").await;
    assert_eq!(
        refused.status,
        StatusCode::UNPROCESSABLE_ENTITY,
        "two open cases would weigh the same tank apart"
    );
    assert!(
        refused
            .text
            .contains("of this tank is open; go on there, or close it first")
    );
    client
        .post(&format!("{second}/close"), "words=By+mistake")
        .await;
    client.post("/cases/1/reopen", "").await;
    assert!(client.get("/").await.text.contains("One case is open."));
}

#[tokio::test]
async fn every_entry_opens_the_case_as_it_stood_then() {
    let mut client = Client::new();
    client.set_clock("2026-03-10T08:40:00");
    client
        .post("/cases/1/answers", "finding=surface-flat&answer=yes")
        .await;
    client.set_clock("2026-03-10T08:50:00");
    client
        .post("/cases/1/answers", "finding=surface-flat&answer=not-looked")
        .await;
    // Two signs and two readings came with the case.
    let seen = client.get("/cases/1/past/5").await.text;
    assert!(
        seen.contains("The surface is a mirror") && seen.contains("entry 5 of 6"),
        "{seen}"
    );
    let withdrawn = client.get("/cases/1/past/6").await.text;
    assert!(withdrawn.contains("Withdrawn: The surface is a mirror"));
    // After the withdrawal all stands as before the answer.
    let after = |page: &str| {
        page.split("<strong>")
            .nth(1)
            .and_then(|rest| rest.split('<').next())
            .expect("a figure")
            .to_owned()
    };
    assert_eq!(
        after(&client.get("/cases/1/past/4").await.text),
        after(&withdrawn)
    );
    assert_ne!(after(&seen), after(&withdrawn));
    for nowhere in [
        "/cases/1/past/0",
        "/cases/1/past/7",
        "/cases/1/past/-1",
        "/cases/9/past/1",
    ] {
        assert_eq!(
            client.get(nowhere).await.status,
            StatusCode::NOT_FOUND,
            "{nowhere}"
        );
    }
}

#[tokio::test]
async fn why_not_is_answered_for_every_fault_and_the_summary_says_what_is_known() {
    let client = Client::new();
    for fault in reed_core::diagnosis::fault::all() {
        let page = client.get(&format!("/cases/1?why={}", fault.id)).await;
        assert_eq!(page.status, StatusCode::OK, "{}", fault.id);
        let says = [
            "likely, by everything that is known",
            "It cannot be.",
            "There is no reading",
        ];
        assert!(
            says.iter().any(|says| page.text.contains(says)),
            "{}",
            fault.id
        );
    }
    assert_eq!(
        client.get("/cases/1?why=nothing-known").await.status,
        StatusCode::OK
    );
    let summary = client.get("/cases/1/summary.txt").await;
    assert!(
        summary.headers["content-type"]
            .to_str()
            .expect("text")
            .starts_with("text/plain")
    );
    for part in [
        "Fish keep to the top",
        "Oxygen 4.5 ± 0.5 mg/L",
        "The surface is too still: 53 %",
        "To be looked at next: ",
    ] {
        assert!(summary.text.contains(part), "{part} in\n{}", summary.text);
    }
}

#[tokio::test]
async fn the_case_downloads_as_a_document_that_reads_back() {
    let client = Client::new();
    let file = client.get("/cases/1/case.reed.json").await;
    let document = Document::read(&file.text)
        .expect("an own document")
        .document;
    assert_eq!((document.findings.len(), document.readings.len()), (2, 2));
    assert!(
        file.headers["content-disposition"]
            .to_str()
            .expect("text")
            .contains("case-1.reed.json")
    );
}

#[tokio::test]
async fn a_tank_put_away_leaves_the_rounds_and_comes_back() {
    let client = Client::new();
    client.post("/tanks/1/put-away", "").await;
    assert!(client.get("/").await.text.contains("Put away: 1"));
    assert!(client.get("/tanks/1").await.text.contains("Take it back"));
    client.post("/tanks/1/take-back", "").await;
    assert!(client.get("/").await.text.contains("Reading room"));
}

#[tokio::test]
async fn many_things_that_are_not_so_are_folded_away_and_nothing_that_is_so() {
    let client = Client::new();
    for (count, finding) in [
        "gasping",
        "surface-film",
        "cloudy-white",
        "irritated",
        "hose-kinked",
    ]
    .into_iter()
    .enumerate()
    {
        assert!(
            !client
                .get("/cases/1")
                .await
                .text
                .contains("things looked at"),
            "{count} are few"
        );
        client
            .post("/cases/1/answers", &format!("finding={finding}&answer=no"))
            .await;
    }
    let page = client.get("/cases/1").await.text;
    let (open, folded) = page
        .split_once("Not so: 5 things looked at")
        .expect("five are many");
    assert!(
        open.contains("Fish keep to the top <small>")
            && folded.contains("The surface is clear <small>"),
        "{folded}"
    );
}

/// With two filters a finding of a filter is said of one of them, taken back by saying it again,
/// kept with its history and in the file.
#[tokio::test]
async fn a_finding_of_a_filter_is_said_of_one_and_the_suspect_sits_there() {
    let client = Client::new();
    let saved = client
        .post(
            "/tanks/new/background-two-canisters",
            "name=Hall&length=150&width=50&height=50",
        )
        .await;
    assert_eq!(saved.status, StatusCode::SEE_OTHER, "{}", saved.text);
    client.post(&format!("{}/cases", saved.location), "").await;
    let page = client.get("/cases/2?find=weak").await.text;
    assert!(
        page.contains(r#"name="filter" value="1""#) && page.contains("Stop one filter at a time"),
        "{page}"
    );
    let say = async |what: &str| {
        client
            .post("/cases/2/answers", &format!("finding=flow-weak&{what}"))
            .await
    };
    say("filter=1").await;
    let page = client.get("/cases/2").await.text;
    assert!(
        page.contains(r#"aria-pressed="true" id="given-flow-weak-at-1""#)
            && page.contains("in Left canister ("),
        "{page}"
    );
    let file = client.get("/cases/2/case.reed.json").await.text;
    let document = Document::read(&file).expect("an own document").document;
    assert_eq!(
        document.findings[0]
            .filters
            .iter()
            .map(|filter| filter.0)
            .collect::<Vec<_>>(),
        [1]
    );
    let unknown = file.replace(
        "\"filters\": [\n        1\n      ]",
        "\"filters\": [\n        7\n      ]",
    );
    let refused = Document::read(&unknown)
        .expect_err("no such filter")
        .to_string();
    assert!(
        refused.contains("/findings/0/filters: 7 is no filter of this tank; known are 1, 2."),
        "{refused}"
    );
    say("filter=2").await;
    let page = client.get("/cases/2").await.text;
    assert!(
        page.contains(r#"aria-pressed="true" id="given-flow-weak-at-2""#)
            && !page.contains("in Left canister ("),
        "at both: neither"
    );
    // Sent twice it says the same twice; what is no filter here is refused and changes nothing.
    say("filter=2").await;
    for wrong in ["filter=9", "filter=left", "filter=not-x"] {
        let refused = say(wrong).await;
        assert!(
            refused.status == StatusCode::UNPROCESSABLE_ENTITY
                && refused.text.contains("is no filter of this tank"),
            "{}",
            refused.text
        );
    }
    assert!(
        client
            .get("/cases/2")
            .await
            .text
            .contains(r#"aria-pressed="true" id="given-flow-weak-at-2""#)
    );
    say("filter=not-1").await;
    say("filter=not-2").await;
    say("filter=not-2").await;
    assert!(
        !client
            .get("/cases/2")
            .await
            .text
            .contains(r#"aria-pressed="true" id="given-flow-weak"#),
        "taken back, still seen"
    );
    // What stood after each entry can be looked at again.
    assert!(
        client
            .get("/cases/2/past/1")
            .await
            .text
            .contains("weaker than it did")
    );
    // A tank with one filter is not asked which.
    assert!(
        !client
            .get("/cases/1?find=weak")
            .await
            .text
            .contains(r#"name="filter""#)
    );
}

/// What the Water page knows is on record in the case, weighed and not asked.
#[tokio::test]
async fn what_was_entered_with_the_water_is_not_asked_in_the_case() {
    let client = Client::new();
    let before = client.get("/cases/1").await.text;
    assert!(!before.contains("The tank had been medicated"));
    client
        .post("/tanks/1/log", "what=medicine&amount=&at=2026-03-05T08:00")
        .await;
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("On record, so not asked")
            && page.contains("The tank had been medicated, 5 days ago"),
        "{page}"
    );
    // An answer of the case counts before it.
    client
        .post("/cases/1/answers", "finding=medicated&answer=no")
        .await;
    assert!(
        !client
            .get("/cases/1")
            .await
            .text
            .contains("The tank had been medicated, 5 days ago")
    );
}
