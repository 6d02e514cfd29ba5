//! The log: what is entered on one page is known on all of them; nothing typed is lost.

use axum::http::StatusCode;

use crate::client::Client;

/// Another food since last week: the case does not ask, whichever page it was told to; withdrawn, it
/// asks again.
#[tokio::test]
async fn what_is_in_the_log_is_evidence_and_is_not_asked() {
    let client = Client::new();
    let evidence = async || client.get("/cases/1").await.text;
    let says = "The food had been changed";
    assert!(!evidence().await.contains(says));
    let sent = client
        .post(
            "/tanks/1/log",
            "what=food-changed&at=2026-03-03+18:00&note=Brown+floc",
        )
        .await;
    assert_eq!(sent.location, "/tanks/1/log");
    assert!(evidence().await.contains(says));
    let log = client.get("/tanks/1/log").await.text;
    assert!(
        log.contains("Another food") && log.contains("Brown floc"),
        "{log}"
    );
    let number = entry_called(&log, "Another food");
    client
        .post(&format!("/tanks/1/log/{number}/strike"), "")
        .await;
    assert!(!evidence().await.contains(says));
    assert!(client.get("/tanks/1/log").await.text.contains("Withdrawn."));
    client
        .post(&format!("/tanks/1/log/{number}/restore"), "")
        .await;
    assert!(evidence().await.contains(says));
    // Answered in the case, it is in the log, and corrected there it is corrected in the case.
    client
        .post("/cases/1/answers", "finding=impeller-serviced&when=week")
        .await;
    let log = client.get("/tanks/1/log").await.text;
    let number = entry_called(&log, "Impeller taken out");
    let answered = "The impeller had been taken out";
    assert!(evidence().await.contains(answered));
    let corrected = client
        .post(
            &format!("/tanks/1/log/{number}"),
            "what=impeller-serviced&at=2026-03-09+10:00&note=Not+last+week",
        )
        .await;
    assert_eq!(corrected.status, StatusCode::SEE_OTHER);
    let log = client.get("/tanks/1/log").await.text;
    assert!(log.contains("Not last week"));
    let page = client
        .get(&format!(
            "/tanks/1/log/{}",
            entry_called(&log, "Impeller taken out")
        ))
        .await
        .text;
    assert!(page.contains("What it said before"), "{page}");
    assert!(
        !page.contains("name=\"in_tank\""),
        "a correction counts nobody twice"
    );
    assert!(evidence().await.contains(answered));
}

/// Denied in the case although the log has it: both are told, and either can be put right.
#[tokio::test]
async fn where_case_and_log_disagree_the_keeper_is_asked() {
    let client = Client::new();
    client
        .post("/tanks/1/log", "what=food-changed&at=2026-03-08+18:00")
        .await;
    client
        .post("/cases/1/answers", "finding=food-changed&answer=no")
        .await;
    let page = client.get("/cases/1").await.text;
    assert!(
        page.contains("Which is so?") && page.contains("The food is as before"),
        "{page}"
    );
    client
        .post("/cases/1/answers", "finding=food-changed&anchor=noticed")
        .await;
    let page = client.get("/cases/1").await.text;
    assert!(!page.contains("Which is so?") && page.contains("The food had been changed"));
}

/// The number of the entry that is called so in the log.
fn entry_called(log: &str, words: &str) -> String {
    let links = log.split("/tanks/1/log/").skip(1);
    let mut numbers = links.filter_map(|link| {
        let (number, rest) = link.split_once("\">")?;
        rest.starts_with(words).then(|| number.to_owned())
    });
    numbers
        .next()
        .unwrap_or_else(|| panic!("no {words}: {log}"))
}

#[tokio::test]
async fn a_refused_entry_names_its_field_and_keeps_what_was_typed() {
    let client = Client::new();
    for (body, says) in [
        ("what=nothing", "Choose one from the list"),
        ("what=change&amount=130", "Give a number from 1 to 100 %"),
        (
            "what=filter-opened&on=filter-99",
            "This tank has no such filter",
        ),
        ("what=lost&on=group-nobody", "This tank has no such group"),
        ("what=lost&at=tomorrow", "nobody plans it"),
        ("what=fed&at=2030-01-01+10:00", "no more than a year ahead"),
        (
            "what=change&amount=20&refill=abc",
            "Give a number from 0 to 120",
        ),
    ] {
        let body = format!("{body}&note=Kept+as+typed");
        let answer = client.post("/tanks/1/log", &body).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{body}");
        assert!(answer.text.contains(says), "{body}: {}", answer.text);
        assert!(answer.text.contains("value=\"Kept as typed\""), "{body}");
    }
    let long = format!("what=note&note={}", "x".repeat(4001));
    let answer = client.post("/tanks/1/log", &long).await;
    assert!(answer.text.contains("at most 4000 letters"));
    assert!(
        !client
            .get("/tanks/1/log")
            .await
            .text
            .contains("Kept as typed")
    );
}

/// What the quick line is taken for is shown first; then all of it is stored, or nothing.
#[tokio::test]
async fn the_quick_line_is_shown_before_it_is_stored() {
    let client = Client::new();
    let line = "line=no3+20,+lost+2+rasboras,+the+heron+was+here";
    let tank = client.get("/tanks/1/tank.reed.json").await.text;
    let document: serde_json::Value = serde_json::from_str(&tank).expect("JSON");
    let (name, count) = (
        document["tank"]["stock"][0]["name"]
            .as_str()
            .expect("a name")
            .to_owned(),
        document["tank"]["stock"][0]["count"]
            .as_u64()
            .expect("a count"),
    );
    let line = line.replace("rasboras", &name.replace(' ', "+"));
    let preview = client.post("/tanks/1/log/quick", &line).await.text;
    for says in [
        "Nitrate 20.0",
        "Animals lost, 2 of them",
        "the heron was here",
        "kept as a note",
        "Change the tank’s description too",
    ] {
        assert!(preview.contains(says), "{says}: {preview}");
    }
    assert!(!client.get("/tanks/1/log").await.text.contains("heron"));
    // One part is left out, one is corrected.
    let body = format!(
        "part=no3+25&part=lost+2+{}&part=&in_tank=1&typed_at=2026-03-10T08:20",
        name.replace(' ', "+")
    );
    let entered = client.post("/tanks/1/log/quick/enter", &body).await;
    assert_eq!(entered.location, "/tanks/1/log");
    let log = client.get("/tanks/1/log").await.text;
    assert!(
        log.contains("Nitrate 25.0") && !log.contains("heron"),
        "{log}"
    );
    assert!(log.contains("08:20"), "now is when it was typed first");
    let tank = client.get("/tanks/1/tank.reed.json").await.text;
    let document: serde_json::Value = serde_json::from_str(&tank).expect("JSON");
    assert_eq!(
        document["tank"]["stock"][0]["count"].as_u64(),
        Some(count - 2)
    );
    // Without media nothing can be rinsed: none of the line is stored.
    let idle = client
        .post("/tanks/1/log/quick/enter", "part=zeolite+0.5+L&part=ph+7.7")
        .await;
    assert_eq!(idle.status, StatusCode::SEE_OTHER, "{}", idle.text);
}

/// A hundred and thirty entries of one minute: each stands on one page, once.
#[tokio::test]
async fn pages_of_the_log_hold_every_line_once() {
    let client = Client::new();
    for number in 0..130 {
        let body = format!("what=note&note=line-{number}-&at=2026-03-09+12:00");
        client.post("/tanks/1/log", &body).await;
    }
    let (mut seen, mut address) = (Vec::new(), "/tanks/1/log?kind=around".to_owned());
    for _ in 0..5 {
        let page = client.get(&address).await.text;
        let found = (0..130).filter(|number| page.contains(&format!("line-{number}-")));
        seen.extend(found);
        match page.split_once("rel=\"next\"") {
            Some((before, _)) => {
                let (_, link) = before.rsplit_once("href=\"").expect("a link");
                let query = link
                    .trim_end_matches(['"', ' '])
                    .replace("&#38;", "&")
                    .replace("&amp;", "&");
                address = format!("/tanks/1/log{query}");
            }
            None => break,
        }
    }
    seen.sort_unstable();
    assert_eq!(seen, (0..130).collect::<Vec<_>>());
    let found = client.get("/tanks/1/log?words=line-77-").await.text;
    assert!(found.contains("line-77-") && !found.contains("line-78-"));
    let none = client.get("/tanks/1/log?words=elephant").await.text;
    assert!(none.contains("Nothing of that kind is in the log"));
    let all = client.get("/log").await.text;
    assert!(all.contains("Reading room"), "{all}");
}

/// What a tank logs most is offered again, with the amount of last time.
#[tokio::test]
async fn what_is_logged_most_is_offered_again() {
    let client = Client::new();
    for day in [1, 5, 8] {
        let body = format!("what=change&amount={}&at=2026-03-0{day}+18:00", 20 + day);
        client.post("/tanks/1/log", &body).await;
    }
    for address in ["/tanks/1/log", "/tanks/1/readings/new"] {
        let page = client.get(address).await.text;
        assert!(
            page.contains("Water change, 28 %, now"),
            "{address}: {page}"
        );
    }
    let sent = client
        .post("/tanks/1/log", "what=change&amount=28&at=&back=rounds")
        .await;
    assert_eq!(sent.location, "/#tank-1");
}

/// A change that was made in a case moves the water too, and taking it back takes that back.
#[tokio::test]
async fn a_change_made_in_a_case_stands_in_the_log() {
    let client = Client::new();
    client.post("/cases/1/choices", "change=water-change").await;
    let outlook = async || client.get("/tanks/1/water/outlook").await.text;
    assert!(!outlook().await.contains("Water change, 33 %"));
    client.post("/cases/1/choices/1/done", "").await;
    assert!(
        outlook().await.contains("Water change, 33 %"),
        "{}",
        outlook().await
    );
    assert!(client.get("/tanks/1/log").await.text.contains("(case 1)"));
    client.post("/cases/1/choices/1/undo-done", "").await;
    assert!(
        !client
            .get("/tanks/1/log")
            .await
            .text
            .contains("33 %</a></p>")
    );
}

/// A messy sheet is looked at, its columns corrected, taken in with each refused row named, known
/// again when it comes twice, and taken back as a whole.
#[tokio::test]
async fn a_sheet_is_brought_in_and_taken_back_as_a_whole() {
    let client = Client::new();
    let sheet = "Datum;NO3 (mg/L);Was;Bemerkung\r\n03.02.2026;20,5;;\r\n04.02.2026;viel;;\r\n05.02.2026;;Wasser;\"30 % frisch; kühl\"\r\n";
    let bring = async || {
        let sent = client
            .upload("/tanks/1/bring/file", &[("file", sheet)])
            .await;
        assert_eq!(sent.status, StatusCode::SEE_OTHER, "{}", sent.text);
        sent.location
    };
    let file = bring().await;
    let page = client.get(&file).await.text;
    for says in [
        "3 rows",
        "1 readings and 1 events",
        "Line 3: Nitrate: “viel” is not accepted",
        "30 % frisch; kühl",
    ] {
        assert!(page.contains(says), "{says}: {page}");
    }
    assert!(!client.get("/tanks/1/log").await.text.contains("20.5"));
    let page = brought_in(
        &client,
        &file,
        "role=from&role=nitrate&role=&role=note&dates=day",
    )
    .await;
    assert!(
        page.contains("2 stored, 0 were there already, 1 could not be taken"),
        "{page}"
    );
    let log = client.get("/tanks/1/log").await.text;
    assert!(
        log.contains("Nitrate 20.5") && log.contains("kühl"),
        "{log}"
    );
    // The same file again is known.
    let again = brought_in(&client, &bring().await, "").await;
    assert!(again.contains("0 stored, 2 were there already"), "{again}");
    let undo = page
        .split_once("/tanks/1/batches/")
        .and_then(|(_, rest)| rest.split_once('"'))
        .map(|(undo, _)| undo.to_owned())
        .expect("it can be taken back");
    client.post(&format!("/tanks/1/batches/{undo}"), "").await;
    let log = client.get("/tanks/1/log").await.text;
    assert!(
        !log.contains("Nitrate 20.5") && !log.contains("kühl"),
        "{log}"
    );
    // What is no such file is told so.
    for (text, says) in [("", "Choose a file first."), ("a,b\n", "no rows")] {
        let refused = client
            .upload("/tanks/1/bring/file", &[("file", text)])
            .await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(refused.text.contains(says), "{}", refused.text);
    }
    assert_eq!(
        client.get("/tanks/1/bring/99").await.status,
        StatusCode::NOT_FOUND
    );
    // An order of dates that is open is asked for before anything is taken.
    let sent = client
        .upload(
            "/tanks/1/bring/file",
            &[("file", "date,ph\n03/02/2026,7\n")],
        )
        .await;
    let open = client.get(&sent.location).await.text;
    assert!(open.contains("could be read in two ways") && !open.contains("Bring it in</button>"));
    client.post(&format!("{}/take", sent.location), "").await;
    assert!(client.get(&sent.location).await.text.contains("two ways"));
    client.post(&sent.location, "dates=month").await;
    assert!(client.get(&sent.location).await.text.contains("2 Mar"));
}

/// Has a file that was sent taken in and waits for its end; gives the page that says so.
pub(crate) async fn brought_in(client: &Client, file: &str, roles: &str) -> String {
    client.post(&format!("{file}/take"), roles).await;
    for _ in 0..1000 {
        let page = client.get(file).await.text;
        if !page.contains("Stop: store nothing") {
            return page;
        }
        tokio::time::sleep(std::time::Duration::from_millis(10)).await;
    }
    panic!("it never came to an end")
}

/// The log of one tank goes out as a sheet and comes into another as it was.
#[tokio::test]
async fn a_log_that_is_taken_away_can_be_brought_in_elsewhere() {
    let client = Client::new();
    for body in [
        "what=change&amount=25&at=2026-03-01+10:00&refill=20&conditioned=yes",
        "what=filter-opened&at=2026-02-01&grade-fine=3&inside=tea&note=%3D1%2B1",
        "what=copper&at=half+a+year",
    ] {
        client.post("/tanks/1/log", body).await;
    }
    let sheet = client.get("/tanks/1/log.csv").await.text;
    assert!(sheet.starts_with("from,to,what,value,unit,spread,kit,on,note,details,withdrawn"));
    assert!(sheet.contains("'=1+1"), "a formula is none: {sheet}");
    client
        .post("/tanks/new/community-internal", "name=Twin&animals=set-up")
        .await;
    let sent = client
        .upload("/tanks/2/bring/file", &[("file", &sheet)])
        .await;
    let page = brought_in(&client, &sent.location, "").await;
    assert!(page.contains("8 stored"), "{page}");
    let lines = |sheet: String| {
        let mut lines: Vec<String> = sheet.lines().map(str::to_owned).collect();
        lines.sort_unstable();
        lines
    };
    let twin = client.get("/tanks/2/log.csv").await.text;
    assert_eq!(lines(twin), lines(sheet));
}
