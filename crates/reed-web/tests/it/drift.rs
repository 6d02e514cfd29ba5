//! Drift: what is told of a flow, tries and what becomes of them, better places, the drift test.

use std::ops::ControlFlow;

use axum::http::StatusCode;
use reed_core::document::Document;
use reed_core::flow::{Facts, Range, TankScene, key};
use reed_core::tank::{Moves, Tank};
use reed_fixtures::example;
use reed_flow::Settings;

use crate::client::Client;

fn tank() -> Tank {
    Document::read(&example("reading-room"))
        .expect("an example")
        .document
        .tank
}

/// Keeps a flow of a tank as the model would, from a glance alone.
fn keep_flow(client: &Client, tank: &Tank) -> Facts {
    let drawn = TankScene::of(tank);
    let glance = drawn
        .scene
        .glance(Settings::of(&drawn.scene), |_| ControlFlow::Continue(()))
        .expect("nobody breaks it off");
    let facts = Facts::of(tank, &drawn, &glance);
    let now = jiff::Timestamp::UNIX_EPOCH;
    client
        .store
        .write(|db| reed_store::flows::keep(db, &key(tank, &drawn), &facts, &glance.packed(), now))
        .expect("written");
    facts
}

/// What the flow model found is on the page of the tank and among the evidence; what nothing moves
/// is said to stand.
#[tokio::test]
async fn the_flow_of_a_tank_is_told_where_it_is_known() {
    let client = Client::new();
    assert_eq!(
        client.get("/tanks/1/flow.bin").await.status,
        StatusCode::NOT_FOUND
    );
    assert!(
        client
            .get("/tanks/1/drift")
            .await
            .text
            .contains("Not computed")
    );
    let page = client.get("/tanks/1").await.text;
    assert!(page.contains("Where the water goes") && page.contains("Not computed"));
    let tank = Document::read(&example("reading-room"))
        .expect("an example")
        .document
        .tank;
    let range = |likely: f64| Range {
        low: likely * 0.8,
        likely,
        high: likely * 1.2,
    };
    let facts = Facts {
        surface_cm_s: range(0.7),
        loop_turns: range(0.9),
        slow: range(0.4),
        ..Facts::default()
    };
    let scene = key(&tank, &TankScene::of(&tank));
    client
        .store
        .write(|db| {
            reed_store::flows::keep(db, &scene, &facts, &[7; 20], jiff::Timestamp::UNIX_EPOCH)
        })
        .expect("written");
    let part = client.get("/tanks/1/flow").await.text;
    assert!(
        part.contains("the loop turns clockwise")
            && part.contains("0.7 (0.6–0.8) cm/s")
            && !part.contains("data-poll"),
        "{part}"
    );
    assert!(client.get("/tanks/1").await.text.contains("40 (32–48) %"));
    let drift = client.get("/tanks/1/drift").await.text;
    assert!(
        drift.contains("the loop turns clockwise")
            && drift.contains("data-field=\"/tanks/1/flow.bin\""),
        "{drift}"
    );
    let field = client.get("/tanks/1/flow.bin").await;
    assert!(field.text.len() == 20 && field.headers["content-type"] == "application/octet-stream");
    client
        .post(
            "/cases/1/answers",
            "finding=muck-behind-structure&answer=yes",
        )
        .await;
    let case = client.get("/cases/1").await.text;
    assert!(case.contains("By the flow model 40 (32–48) % of the water is slower than 1 cm/s"));
}

/// A try is a list of moves in an address: what is no move, no thing or no place is said, and what
/// is kept has its history.
#[tokio::test]
async fn a_try_is_refused_in_a_sentence_or_kept_with_its_history() {
    let client = Client::new();
    for (moves, says) in [
        ("nonsense", "is no move"),
        ("1:5,6", "is no move"),
        ("1:5,6,inf", "is no move"),
        ("99:5,6,7", "There is no thing with the number 99"),
        ("1:5,6,7000", "above the floor: “7000 cm” is not accepted"),
    ] {
        let answer = client.get(&format!("/tanks/1/try?moves={moves}")).await;
        assert!(
            answer.status == StatusCode::UNPROCESSABLE_ENTITY && answer.text.contains(says),
            "{moves}: {}",
            answer.text
        );
        assert!(
            answer.text.contains("id=\"try\"") && !answer.text.contains("It stands so now"),
            "said where the try would stand"
        );
        assert_eq!(
            client
                .post("/tanks/1/try", &format!("moves={moves}"))
                .await
                .status,
            StatusCode::UNPROCESSABLE_ENTITY
        );
    }
    let part = client.get("/tanks/1/try?moves=1:50,20,40").await;
    assert!(part.text.contains("It stands so now") && part.text.contains("1:50,20,40"));
    assert_eq!(
        client.get("/tanks/1/try.bin?moves=1:50,20,40").await.status,
        StatusCode::NOT_FOUND
    );
    let kept = client.post("/tanks/1/try", "moves=1:50,20,40").await;
    assert_eq!(
        (kept.status, kept.location.as_str()),
        (StatusCode::SEE_OTHER, "/tanks/1/drift")
    );
    let file = client.get("/tanks/1/tank.reed.json").await.text;
    let tank = Document::read(&file).expect("our own file").document.tank;
    let thing = &tank.things[0];
    assert!(
        (thing.x.as_cm(), thing.y.as_cm(), thing.z.as_cm()) == (50.0, 20.0, 40.0),
        "{thing:?}"
    );
    assert!(
        client
            .get("/tanks/1")
            .await
            .text
            .contains(&format!("Tried in Drift and kept: {} moved", thing.name))
    );
}

/// The intake, moved, is kept by name beside the tank, compared, taken as the change of the open
/// case with its place, done and taken back.
#[tokio::test]
async fn a_kept_try_becomes_the_change_of_the_case() {
    let client = Client::new();
    let tank = tank();
    let moves = "2:94,10,10";
    let tried = moves
        .parse::<Moves>()
        .and_then(|moves| moves.applied_to(&tank))
        .expect("it can stand there");
    for (body, says) in [
        ("moves=2:94,10,10&name=", "Name of the try"),
        ("moves=2:5,10,10&name=nothing", "Nothing stands elsewhere"),
        ("moves=2:9400,10,10&name=far", "9400 cm"),
    ] {
        let refused = client.post("/tanks/1/tries", body).await;
        assert!(
            refused.status == StatusCode::UNPROCESSABLE_ENTITY && refused.text.contains(says),
            "{body}: {}",
            refused.text
        );
    }
    let kept = client
        .post("/tanks/1/tries", &format!("moves={moves}&name=Far+end"))
        .await;
    assert_eq!(
        (kept.status, kept.location.as_str()),
        (StatusCode::SEE_OTHER, "/tanks/1/tries/1")
    );
    assert!(
        client
            .get("/tanks/1/tries/1")
            .await
            .text
            .contains("runs without its flow model")
    );
    let (now, then) = (keep_flow(&client, &tank), keep_flow(&client, &tried));
    assert!(
        client
            .get("/tanks/1/drift")
            .await
            .text
            .contains("href=\"/tanks/1/tries/1\">Far end")
    );
    let page = client.get("/tanks/1/tries/1").await.text;
    assert!(
        page.contains("Intake: 94 cm from the left, 10 cm from the front, 10 cm above the floor"),
        "{page}"
    );
    assert!(
        then.caught() < now.caught()
            && page.contains("Intake catches of the muck")
            && page.contains("data-tried"),
        "{page}"
    );
    assert_eq!(
        client.get("/tanks/1/tries/1/flow.bin").await.status,
        StatusCode::OK
    );
    let offered = page
        .split("<option value=\"")
        .skip(1)
        .filter_map(|rest| rest.split('"').next())
        .find(|id| id.contains("intake"));
    let change = offered.expect("a change that moves intakes");
    let refused = client
        .post("/tanks/1/tries/1/adopt", "change=move-structure")
        .await;
    assert!(
        refused.status == StatusCode::UNPROCESSABLE_ENTITY
            && refused.text.contains("not done by what this try moves")
    );
    let adopted = client
        .post("/tanks/1/tries/1/adopt", &format!("change={change}"))
        .await;
    assert_eq!(adopted.location, "/cases/1#doing", "{}", adopted.text);
    let case = client.get("/cases/1").await.text;
    assert!(
        case.contains("Where things go, as tried in the water")
            && case.contains("Intake: 94 cm from the left"),
        "{case}"
    );
    assert!(
        client
            .get("/tanks/1/tries/1")
            .await
            .text
            .contains("A change is under way")
    );
    assert_eq!(
        client
            .post("/tanks/1/tries/1/adopt", &format!("change={change}"))
            .await
            .status,
        StatusCode::UNPROCESSABLE_ENTITY
    );
    let stands = async || {
        Document::read(&client.get("/tanks/1/tank.reed.json").await.text)
            .expect("ours")
            .document
            .tank
            .things[1]
            .x
            .as_cm()
    };
    client.post("/cases/1/choices/1/done", "").await;
    assert!(
        (stands().await - 94.0).abs() < 1e-9,
        "done, it stands as tried"
    );
    client.post("/cases/1/choices/1/undo-done", "").await;
    assert!((stands().await - 5.0).abs() < 1e-9, "not done after all");
}

#[tokio::test]
async fn a_try_is_discarded_and_taken_back() {
    let client = Client::new();
    client
        .post("/tanks/1/tries", "moves=1:50,20,40,90,10&name=Middle")
        .await;
    client.post("/tanks/1/tries/1/discard", "").await;
    keep_flow(&client, &tank());
    let links = async || {
        client
            .get("/tanks/1/drift")
            .await
            .text
            .contains("href=\"/tanks/1/tries/1\"")
    };
    assert!(
        !links().await
            && client
                .get("/tanks/1/tries/1")
                .await
                .text
                .contains("This try is discarded")
    );
    client.post("/tanks/1/tries/1/take-back", "").await;
    assert!(links().await);
    assert_eq!(
        client.get("/tanks/1/tries/9").await.status,
        StatusCode::NOT_FOUND
    );
}

/// What cannot be is refused with everything typed still there; what is kept is judged, and takes
/// weight from what is computed until it is withdrawn.
#[tokio::test]
async fn a_drift_test_that_disagrees_takes_weight_from_the_model() {
    let client = Client::new();
    let test = |to: &str| format!("pinch=fine-food&seconds=20&from_x=20&from_y=20&{to}");
    let early = client
        .post("/tanks/1/drift-tests", &test("to_x=90&to_y=5&to_z=45"))
        .await;
    assert_eq!(early.status, StatusCode::UNPROCESSABLE_ENTITY);
    keep_flow(&client, &tank());
    client
        .post(
            "/cases/1/answers",
            "finding=muck-behind-structure&answer=yes",
        )
        .await;
    let computed = async || {
        client
            .get("/cases/1")
            .await
            .text
            .matches("/tanks/1/drift\">flow model</a>")
            .count()
    };
    let before = computed().await;
    assert!(
        before > 0,
        "what the model says stands among the evidence, with a link to see it"
    );
    let refused = client
        .post("/tanks/1/drift-tests", &test("to_x=far&to_y=500&to_z=7,5"))
        .await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    for says in [
        "Seen, from the left: “far” is not accepted",
        "Seen, from the front: “500 cm” is not accepted",
        "value=\"7,5\"",
        "value=\"far\"",
    ] {
        assert!(refused.text.contains(says), "{says}: {}", refused.text);
    }
    // In twenty seconds it sinks by a hand's breadth: food on the floor at the other end is not
    // where the model puts it.
    for _ in 0..3 {
        let kept = client
            .post("/tanks/1/drift-tests", &test("to_x=97&to_y=2&to_z=5"))
            .await;
        assert_eq!(kept.location, "/tanks/1/drift#drift-test", "{}", kept.text);
    }
    let page = client.get("/tanks/1/drift").await.text;
    assert!(
        page.contains("The model puts it elsewhere")
            && page.contains("Your drift tests speak against this"),
        "{page}"
    );
    assert!(
        computed().await < before,
        "what hardly counts is not listed"
    );
    for test in 1..=3 {
        client
            .post(&format!("/tanks/1/drift-tests/{test}/strike"), "")
            .await;
    }
    let page = client.get("/tanks/1/drift").await.text;
    assert!(
        page.contains("Withdrawn.") && !page.contains("Your drift tests speak against this"),
        "{page}"
    );
    client.post("/tanks/1/drift-tests/1/restore", "").await;
    assert!(
        client
            .get("/tanks/1/drift")
            .await
            .text
            .contains("/tanks/1/drift-tests/1/strike")
    );
}

#[tokio::test]
async fn a_search_that_cannot_be_is_refused_in_a_sentence() {
    let client = Client::new();
    for (wish, says) in [
        (
            "thing=2&muck=0&bubbles=0&surface=0&gentle=0",
            "Nothing matters",
        ),
        (
            "thing=2&muck=9&bubbles=0&surface=0&gentle=0",
            "some (1) or much (2)",
        ),
        (
            "thing=2&muck=2&bubbles=1&surface=1&gentle=0",
            "without its flow model",
        ),
    ] {
        let answer = client.get(&format!("/tanks/1/better?{wish}")).await;
        assert!(
            answer.status == StatusCode::UNPROCESSABLE_ENTITY && answer.text.contains(says),
            "{wish}: {}",
            answer.text
        );
    }
}
