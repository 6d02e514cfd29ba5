//! Devices: who may send, what is taken and what is not, once whatever happens to the answer; and the
//! description of it, whose examples are run.

use axum::http::StatusCode;
use reed_core::tank::Analyte;
use reed_store::{TankId, readings};
use serde_json::{Value, json};

use crate::client::{Answer, Client};

const TANK: TankId = TankId(1);

/// Lets a device in by its page; what it shows.
async fn let_in(client: &Client) -> String {
    let page = client
        .post("/tanks/1/devices", "name=Probe+by+the+outlet")
        .await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(page.text.contains("Probe by the outlet may send now"));
    let from = page
        .text
        .split("id=\"token\" value=\"")
        .nth(1)
        .expect("shown once");
    from.split('"').next().expect("it ends").to_owned()
}

async fn send(client: &Client, token: &str, body: &str) -> Answer {
    let shown = format!("Bearer {token}");
    let headers = [
        ("authorization", shown.as_str()),
        ("content-type", "application/json"),
    ];
    client.ask("POST", "/api/v1/readings", &headers, body).await
}

fn said(answer: &Answer) -> Value {
    serde_json::from_str(&answer.text).unwrap_or_else(|_| panic!("{}", answer.text))
}

fn oxygen(client: &Client) -> Vec<f64> {
    let read = client
        .store
        .read(|db| readings::latest_few(db, TANK, &[Analyte::OXYGEN], 50));
    read.expect("read")
        .iter()
        .map(|one| one.reading.value)
        .collect()
}

#[tokio::test]
async fn a_post_that_comes_twice_is_stored_once_and_in_any_order() {
    let client = Client::new();
    let token = let_in(&client).await;
    let before = oxygen(&client).len();
    let one = |minute: u32| {
        json!({ "analyte": "oxygen", "value": 6.5 + f64::from(minute) / 100.0, "unit": "mg/L",
                "at": format!("2026-03-10T08:{minute:02}:00Z") })
    };
    let body = json!({ "readings": [one(27), one(25), one(26)] }).to_string();
    let first = send(&client, &token, &body).await;
    assert_eq!(
        said(&first),
        json!({ "stored": 3, "known": 0, "refused": [] })
    );
    let again = send(&client, &token, &body).await;
    assert_eq!(
        said(&again),
        json!({ "stored": 0, "known": 3, "refused": [] })
    );
    // What was kept during an outage comes later than what came after it.
    let late = json!({ "readings": [one(21), one(27)] }).to_string();
    assert_eq!(said(&send(&client, &token, &late).await)["stored"], 1);
    assert_eq!(oxygen(&client).len(), before + 4);
    assert!(
        (oxygen(&client)[0] - 6.77).abs() < 1e-9,
        "the latest by its moment"
    );
    let page = client.get("/tanks/1/devices").await.text;
    assert!(
        page.contains("6.8 mg/L") && page.contains("Sent something just now"),
        "{page}"
    );
    assert!(!page.contains(&token), "the token is told once");
    // In the units it names, and seen as any other reading.
    let in_fahrenheit = json!({ "readings": [
        { "analyte": "temperature", "value": 77.0, "unit": "°F", "at": "2026-03-10T10:28:00+02:00" } ] });
    assert_eq!(
        said(&send(&client, &token, &in_fahrenheit.to_string()).await)["stored"],
        1
    );
    // It stays there when the device is let go.
    for _ in 0..2 {
        let log = client.get("/tanks/1/log").await.text;
        assert!(log.contains("Water temperature 25.0"), "{log}");
        client.post("/tanks/1/devices/1/drop", "").await;
    }
}

#[tokio::test]
async fn what_cannot_be_is_named_and_the_rest_is_taken() {
    let client = Client::new();
    let token = let_in(&client).await;
    let read = |change: &dyn Fn(&mut Value)| {
        let mut one = json!({ "analyte": "oxygen", "value": 7.0, "unit": "mg/L", "at": "2026-03-10T08:00:00Z" });
        change(&mut one);
        one
    };
    let all = [
        read(&|_| ()),
        read(&|one| one["analyte"] = json!("happiness")),
        read(&|one| one["unit"] = json!("")),
        read(&|one| one["value"] = json!(900)),
        read(&|one| one["at"] = json!("yesterday")),
        read(&|one| one["at"] = json!("2026-03-11T08:00:00Z")),
        read(&|one| one["at"] = json!("2020-03-11T08:00:00Z")),
        read(&|one| one["spread"] = json!(-1)),
    ];
    let answer = said(&send(&client, &token, &json!({ "readings": all }).to_string()).await);
    assert_eq!(answer["stored"], 1, "{answer}");
    let refused: Vec<(u64, String)> = answer["refused"]
        .as_array()
        .expect("a list")
        .iter()
        .map(|one| {
            (
                one["index"].as_u64().expect("a place"),
                format!("{} {}", one["field"], one["why"]),
            )
        })
        .collect();
    let says = [
        "is not known",
        "is no unit",
        "cannot be",
        "is no moment",
        "lies ahead",
        "400 days",
        "is not accepted",
    ];
    assert_eq!(refused.len(), says.len());
    for (place, ((index, why), says)) in refused.iter().zip(says).enumerate() {
        assert!(*index == place as u64 + 1 && why.contains(says), "{why}");
    }
    for (body, status) in [
        ("{ half", StatusCode::UNPROCESSABLE_ENTITY),
        (
            "{\"readings\":[{\"analyte\":\"oxygen\"}]}",
            StatusCode::UNPROCESSABLE_ENTITY,
        ),
        ("[]", StatusCode::UNPROCESSABLE_ENTITY),
    ] {
        let answer = send(&client, &token, body).await;
        assert!(
            answer.status == status && said(&answer)["why"].is_string(),
            "{body}: {}",
            answer.text
        );
    }
    let too_many: Vec<Value> = (0..10_001).map(|_| read(&|_| ())).collect();
    let answer = send(
        &client,
        &token,
        &json!({ "readings": too_many }).to_string(),
    )
    .await;
    assert_eq!(answer.status, StatusCode::PAYLOAD_TOO_LARGE);
    assert!(
        said(&answer)["why"]
            .as_str()
            .is_some_and(|why| why.contains("10001 readings"))
    );
    assert_eq!(
        client.get("/api/v1/nothing").await.status,
        StatusCode::NOT_FOUND
    );
}

#[tokio::test]
async fn ten_thousand_at_once_are_taken_and_only_a_device_that_is_let_in_may_send() {
    let mut client = Client::new();
    let token = let_in(&client).await;
    let start: jiff::Timestamp = "2026-03-01T00:00:00Z".parse().expect("a moment");
    let all: Vec<Value> = (0..10_000)
        .map(|minute| {
            let at = start + jiff::SignedDuration::from_mins(minute);
            json!({ "analyte": "temperature", "value": 24.0, "unit": "°C", "at": at.to_string() })
        })
        .collect();
    let body = json!({ "readings": all }).to_string();
    assert_eq!(said(&send(&client, &token, &body).await)["stored"], 10_000);
    // A probe that showed one value for a week is not believed.
    client.set_clock("2026-03-07T22:42:00");
    let page = client.get("/tanks/1/devices").await.text;
    assert!(page.contains("The same value for"), "{page}");
    client.set_clock("2026-03-10T08:30:00");
    let page = client.get("/tanks/1/devices").await.text;
    assert!(page.contains("Silent for 58 hours"), "{page}");
    let rounds = client.get("/").await.text;
    assert!(
        rounds.contains("Probe by the outlet is silent:") && rounds.contains("2 days ago last"),
        "{rounds}"
    );
    let one = json!({ "readings": [all[0]] }).to_string();
    for wrong in ["", "guess", &token[1..]] {
        let answer = send(&client, wrong, &one).await;
        assert_eq!(answer.status, StatusCode::UNAUTHORIZED, "{wrong}");
    }
    let nobody = client.ask("POST", "/api/v1/readings", &[], &one).await;
    assert_eq!(nobody.status, StatusCode::UNAUTHORIZED);
    let gone = client.post("/tanks/1/devices/1/drop", "").await;
    assert_eq!(gone.location, "/tanks/1/devices");
    assert_eq!(
        send(&client, &token, &one).await.status,
        StatusCode::UNAUTHORIZED
    );
    let again = client.post("/tanks/1/devices/1/drop", "").await;
    assert_eq!(again.status, StatusCode::NOT_FOUND);
    let nameless = client
        .post("/tanks/1/devices", &format!("name={}", "n".repeat(61)))
        .await;
    assert!(
        nameless.status == StatusCode::UNPROCESSABLE_ENTITY
            && nameless.text.contains("it has 61 letters")
            && nameless.text.contains(&"n".repeat(61)),
        "what was typed stays"
    );
}

/// Readings at minutes of the hour of now.
fn at_minutes(analyte: &str, unit: &str, values: &[(u32, f64)]) -> String {
    let one = |(minute, value): &(u32, f64)| {
        json!({ "analyte": analyte, "value": value, "unit": unit,
                "at": format!("2026-03-10T08:{minute:02}:00Z") })
    };
    let all: Vec<Value> = values.iter().map(one).collect();
    json!({ "readings": all }).to_string()
}

/// It calls on every page that watches, with what to do first; seen to it is heard no more; back
/// inside it is gone. What an outage kept back calls for nobody.
#[tokio::test]
async fn what_leaves_its_bounds_calls_for_somebody_until_it_is_back() {
    let client = Client::new();
    let token = let_in(&client).await;
    let post = async |values: &[(u32, f64)]| {
        let answer = send(&client, &token, &at_minutes("oxygen", "mg/L", values)).await;
        assert_eq!(answer.status, StatusCode::OK, "{}", answer.text);
    };
    let calls = async |path: &str| client.get(path).await.text.contains("role=\"alert\"");
    post(&[(1, 7.0), (2, 2.0), (3, 7.0)]).await;
    assert!(!calls("/").await, "one mistaken reading calls nobody");
    post(&[(10, 3.9), (11, 3.7), (12, 3.8)]).await;
    for path in [
        "/",
        "/tanks/1/devices",
        "/tanks/1/water",
        "/tanks/1/water/oxygen",
        "/tanks/1/water/tests",
    ] {
        let page = client.get(path).await.text;
        assert!(
            page.contains("Oxygen 3.8 mg/L in ")
                && page.contains("since today 08:10, lowest 3.7 mg/L")
                && page.contains("start an air stone")
                && page.contains("data-rings"),
            "{path}: {page}"
        );
    }
    let seen = client.post("/tanks/1/alarms/1/do/seen", "").await;
    assert_eq!(seen.location, "/tanks/1/devices");
    let page = client.get("/").await.text;
    assert!(page.contains("Seen to, just now") && !page.contains("data-rings"));
    // What was read before all this comes late; then it is well again.
    post(&[(4, 1.0), (5, 1.0), (6, 1.0)]).await;
    post(&[(20, 7.0), (21, 7.1)]).await;
    assert!(!calls("/").await);
    post(&[(13, 1.0), (14, 1.0)]).await;
    assert!(!calls("/").await, "older than what is known");
    // The log keeps both ends of it, once each, with how far it was.
    let log = client.get("/tanks/1/log").await.text;
    for line in [
        " mg/L, lowest 3.7 mg/L · By Probe by the outlet",
        " mg/L for 11 min, lowest 3.7 mg/L · By Probe by the outlet",
    ] {
        assert_eq!(log.matches(line).count(), 1, "{line}: {log}");
    }
    // What is read each minute would hide all else there: it stands apart.
    let read = "<p>Oxygen 3.8 ± 0.5 mg/L</p>";
    let apart = client.get("/tanks/1/log?kind=devices").await.text;
    assert!(
        !log.contains(read) && log.contains("log?kind=devices") && apart.contains(read),
        "{log}"
    );
    assert!(!apart.contains("Alarm of a device</a>"), "{apart}");
    let nothing = client.post("/tanks/1/alarms/1/do/seen", "").await;
    assert_eq!(nothing.status, StatusCode::NOT_FOUND);
    let unknown = client.post("/tanks/1/alarms/1/joy/seen", "").await;
    assert_eq!(unknown.status, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn bounds_and_hours_of_quiet_are_the_keepers() {
    let client = Client::new();
    let token = let_in(&client).await;
    let ph = at_minutes("ph", "", &[(1, 6.1), (2, 6.1)]);
    send(&client, &token, &ph).await;
    let page = client.get("/tanks/1/devices").await.text;
    assert!(page.contains("never, as usual"), "{page}");
    // What cannot be is named, and stays as it was typed.
    for (body, says) in [
        ("analyte=ph&low=sour&high=", "Below: "),
        ("analyte=ph&low=8&high=7", "it would always call"),
        ("analyte=ph&low=&high=900", "Above: "),
    ] {
        let page = client.post("/tanks/1/devices/bounds", body).await;
        let typed = body
            .split("low=")
            .nth(1)
            .and_then(|rest| rest.split('&').next());
        let typed = format!("value=\"{}\"", typed.expect("typed"));
        assert!(
            page.status == StatusCode::UNPROCESSABLE_ENTITY
                && page.text.contains(says)
                && page.text.contains(&typed),
            "{body}: {}",
            page.text
        );
    }
    let set = client
        .post("/tanks/1/devices/bounds", "analyte=ph&low=6.5&high=")
        .await;
    assert_eq!(set.location, "/tanks/1/devices#bounds");
    for (body, says) in [
        ("from=late&until=07:00", "“late” is no time"),
        ("from=22:00&until=", "“” is no time"),
        ("from=07:00&until=07:00", "the same as from"),
    ] {
        let page = client.post("/tanks/1/devices/quiet", body).await;
        assert!(
            page.status == StatusCode::UNPROCESSABLE_ENTITY && page.text.contains(says),
            "{body}: {}",
            page.text
        );
    }
    client
        .post("/tanks/1/devices/quiet", "from=08:00&until=09:00")
        .await;
    send(
        &client,
        &token,
        &at_minutes("ph", "", &[(3, 6.1), (4, 6.0)]),
    )
    .await;
    let page = client.get("/").await.text;
    assert!(
        page.contains("Quiet until 09:00.") && !page.contains("data-rings"),
        "{page}"
    );
    // Animals without air are heard in any hour.
    let oxygen = at_minutes("oxygen", "mg/L", &[(5, 3.0), (6, 3.0)]);
    send(&client, &token, &oxygen).await;
    let page = client.get("/").await.text;
    assert!(page.contains("data-rings=\"1-1-do\""), "{page}");
    let usual = client
        .post("/tanks/1/devices/bounds", "analyte=ph&usual=1")
        .await;
    assert_eq!(usual.location, "/tanks/1/devices#bounds");
    let page = client.get("/").await.text;
    assert!(!page.contains("Quiet until"), "{page}");
}

/// An hour that the clocks show twice is two hours of a device.
#[tokio::test]
async fn the_hour_that_comes_twice_is_stored_twice() {
    let mut client = Client::new();
    client.set_moment(
        "2026-10-25T12:00:00[Europe/Berlin]"
            .parse()
            .expect("a moment"),
    );
    let token = let_in(&client).await;
    let at = |moment: &str| json!({ "analyte": "ph", "value": 7.1, "unit": "", "at": moment });
    let body = json!({ "readings": [at("2026-10-25T00:30:00Z"), at("2026-10-25T01:30:00Z")] });
    assert_eq!(
        said(&send(&client, &token, &body.to_string()).await)["stored"],
        2
    );
}

/// The description that is kept is the one that the code gives, and the example of each field makes
/// a post that is taken.
#[tokio::test]
async fn the_description_is_of_this_code_and_its_example_is_taken() {
    let kept = include_str!("../../../../docs/openapi.json");
    assert_eq!(
        kept,
        reed_web::api::openapi(),
        "write it anew: zesty-reed openapi > docs/openapi.json"
    );
    let client = Client::new();
    let served = client.get("/api/v1/openapi.json").await;
    assert_eq!(served.text, kept);
    let described: Value = serde_json::from_str(kept).expect("JSON");
    assert_eq!(described["openapi"], "3.1.0");
    let read = &described["components"]["schemas"]["Read"]["properties"];
    let example: serde_json::Map<String, Value> = read
        .as_object()
        .expect("fields")
        .iter()
        .map(|(name, field)| (name.clone(), field["example"].clone()))
        .collect();
    assert!(
        example.values().all(|value| !value.is_null()),
        "{example:?}"
    );
    let token = let_in(&client).await;
    let answer = send(
        &client,
        &token,
        &json!({ "readings": [example] }).to_string(),
    )
    .await;
    assert_eq!(said(&answer)["stored"], 1, "{}", answer.text);
}

/// A device asks who it is, what time it is and what is kept of it, so that after an outage it sends
/// what is later. Every address that is described answers nobody without a token.
#[tokio::test]
async fn a_device_asks_what_is_kept_of_it() {
    let client = Client::new();
    let token = let_in(&client).await;
    let shown = format!("Bearer {token}");
    let ask = async || {
        let headers = [("authorization", shown.as_str())];
        let answer = client.ask("GET", "/api/v1/device", &headers, "").await;
        assert_eq!(answer.status, StatusCode::OK, "{}", answer.text);
        said(&answer)
    };
    let new = ask().await;
    assert_eq!(new["latest"], json!([]), "{new}");
    let now = new["now"].as_str().map(str::parse::<jiff::Timestamp>);
    assert!(matches!(now, Some(Ok(_))), "{new}");
    // Out of order, and of two things: of each the latest by the device's clock.
    for body in [
        at_minutes("oxygen", "mg/L", &[(20, 7.0), (10, 6.0)]),
        at_minutes("ph", "", &[(5, 7.2)]),
    ] {
        send(&client, &token, &body).await;
    }
    let known = ask().await;
    assert_eq!(known["name"], "Probe by the outlet");
    let latest = |analyte: &str| {
        let all = known["latest"].as_array().expect("a list");
        let of = all.iter().find(|one| one["analyte"] == analyte);
        of.map(|one| (one["value"].clone(), one["unit"].clone(), one["at"].clone()))
    };
    let expected = |value: f64, unit: &str, at: &str| Some((json!(value), json!(unit), json!(at)));
    assert_eq!(latest("do"), expected(7.0, "mg/L", "2026-03-10T08:20:00Z"));
    assert_eq!(latest("ph"), expected(7.2, "", "2026-03-10T08:05:00Z"));
    let described: Value =
        serde_json::from_str(include_str!("../../../../docs/openapi.json")).expect("JSON");
    for (path, methods) in described["paths"].as_object().expect("paths") {
        for method in methods.as_object().expect("methods").keys() {
            let answer = client.ask(&method.to_uppercase(), path, &[], "").await;
            assert_eq!(answer.status, StatusCode::UNAUTHORIZED, "{method} {path}");
        }
    }
}

/// A report of a laboratory comes as a sheet, or as JSON: the same readings either way.
#[tokio::test]
async fn a_sheet_is_taken_as_json_is() {
    let described: Value =
        serde_json::from_str(include_str!("../../../../docs/openapi.json")).expect("JSON");
    let kinds = &described["paths"]["/api/v1/readings"]["post"]["requestBody"]["content"];
    let example = kinds["text/csv"]["example"].as_str().expect("an example");
    let mut client = Client::new();
    let token = let_in(&client).await;
    let shown = format!("Bearer {token}");
    let sheet = async |body: &str| {
        let headers = [
            ("authorization", shown.as_str()),
            ("content-type", "text/csv; charset=utf-8"),
        ];
        client.ask("POST", "/api/v1/readings", &headers, body).await
    };
    let answer = sheet(example).await;
    assert_eq!(said(&answer)["stored"], 2, "{}", answer.text);
    let same = json!({ "readings": [
        { "analyte": "nitrate", "value": 6.2, "unit": "mg/L N", "at": "2026-03-10T08:30:00Z" } ] });
    let again = send(&client, &token, &same.to_string()).await;
    assert_eq!(said(&again)["known"], 1, "{}", again.text);
    for (body, says) in [
        (
            "analyte,value,unit,at\nph,sour,,2026-03-10T08:30:00Z\n",
            "line: 2",
        ),
        ("what,how much\nph,7\n", "missing field"),
        ("analyte,value,unit,at\nph,7\n", "line: 2"),
    ] {
        let answer = sheet(body).await;
        let why = said(&answer)["why"].to_string();
        assert!(
            answer.status == StatusCode::UNPROCESSABLE_ENTITY && why.contains(says),
            "{body}: {why}"
        );
    }
    let empty = sheet("analyte,value,unit,at\n").await;
    assert_eq!(said(&empty)["stored"], 0, "{}", empty.text);
    // A report comes once: days later nobody is told that its sender is silent.
    client.set_clock("2026-03-14T08:30:00");
    let rounds = client.get("/").await.text;
    assert!(
        !rounds.contains("is silent:") && !rounds.contains("data-live-of"),
        "{rounds}"
    );
}
