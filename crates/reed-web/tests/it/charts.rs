//! Charts: what was read is drawn, however much, with its extremes; taken away as a picture and a
//! sheet; what is asked amiss is told.

use axum::http::StatusCode;

use crate::client::Client;

/// Brings a sheet into the first tank.
async fn bring(client: &Client, sheet: &str) {
    let sent = client
        .upload("/tanks/1/bring/file", &[("file", sheet)])
        .await;
    let page = crate::log::brought_in(client, &sent.location, "").await;
    assert!(page.contains(" stored"), "{page}");
}

/// Minutes of two weeks, with a spike of one minute each way.
fn probe() -> String {
    let start = jiff::civil::date(2026, 2, 20).at(0, 0, 0, 0);
    let row = |minute: i64| {
        let at = start + jiff::SignedDuration::from_mins(minute);
        let value = match minute {
            5_000 => 31.0,
            9_000 => 17.5,
            _ => 24.0 + f64::from(u8::try_from(minute % 10).unwrap_or(0)) / 10.0,
        };
        format!("{at},{value}\n")
    };
    "date,temperature\n".to_owned() + &(0..20_160).map(row).collect::<String>()
}

#[tokio::test]
async fn a_spike_of_a_minute_is_seen_among_weeks_and_years() {
    let client = Client::new();
    bring(&client, &probe()).await;
    for span in ["month", "quarter", "year", "all"] {
        let asked = format!("?read=temperature&span={span}");
        let csv = client
            .get(&format!("/tanks/1/charts.csv{asked}"))
            .await
            .text;
        let mut lines = csv.lines();
        assert_eq!(
            lines.next(),
            Some("tank,what,from,to,least,mean,most,readings,unit")
        );
        let rows: Vec<Vec<&str>> = lines.map(|line| line.split(',').collect()).collect();
        let number = |row: &Vec<&str>, place: usize| row[place].parse::<f64>().expect("a number");
        assert!((2..=461).contains(&rows.len()), "{span}: {}", rows.len());
        let least = rows.iter().map(|row| number(row, 4)).fold(99.0, f64::min);
        let most = rows.iter().map(|row| number(row, 6)).fold(0.0, f64::max);
        assert_eq!((least, most), (17.5, 31.0), "{span}");
        // None is lost and none counted twice: those of the probe and the one of the case.
        let many: f64 = rows.iter().map(|row| number(row, 7)).sum();
        assert!((many - 20_161.0).abs() < 0.5, "{span}: {many}");
        let mean = rows
            .iter()
            .map(|row| number(row, 5) * number(row, 7))
            .sum::<f64>()
            / many;
        assert!((mean - 24.45).abs() < 0.01, "{span}: {mean}");
        let page = client.get(&format!("/tanks/1/charts{asked}")).await.text;
        assert!(
            page.contains("curve-own") && page.len() < 90_000,
            "{}",
            page.len()
        );
    }
}

#[tokio::test]
async fn a_chart_shows_limits_entries_the_days_ahead_and_another_tank() {
    let client = Client::new();
    client
        .post("/tanks/new/community-internal", "name=Twin&animals=set-up")
        .await;
    for tank in [1, 2] {
        for day in 1..8 {
            let body = format!(
                "kit=nitrate-drops&value={}&taken_at=2026-03-0{day}+18:00&card=ion",
                10 + day
            );
            client.post(&format!("/tanks/{tank}/readings"), &body).await;
        }
    }
    client
        .post(
            "/tanks/1/log",
            "what=change&amount=25&at=2026-03-04+19:00&note=%3Cb%3E",
        )
        .await;
    let chart = async |asked: &str| {
        let answer = client.get(&format!("/tanks/1/charts{asked}")).await;
        assert_eq!(answer.status, StatusCode::OK);
        answer.text
    };
    let usual = chart("").await;
    assert!(!usual.contains("band-ahead"), "it is fetched after");
    let expected = client.get("/tanks/1/charts/expected").await.text;
    assert!(expected.contains("band-ahead") && expected.contains("dot-own"));
    assert!(usual.contains("data-expected=\"/tanks/1/charts/expected\""));
    for part in ["dot-own", "stay under", "class=\"mark\"", "Water change"] {
        assert!(usual.contains(part), "{part}: {usual}");
    }
    assert!(!usual.contains("dot-sister") && !usual.contains("<b>"));
    let beside = chart("?read=nitrate&span=month&beside=2").await;
    assert!(beside.contains("dot-sister") && beside.contains("Ringed and dashed: Twin"));
    assert!(!beside.contains("data-expected"), "not asked for");
    let svg = client
        .get("/tanks/1/charts.svg?read=nitrate&span=month&beside=2")
        .await
        .text;
    assert!(svg.contains("<style>") && svg.contains("dot-sister") && !svg.contains("NaN"));
    let own = chart("?read=nitrate&span=own&from=2026-03-02&to=2026-03-03").await;
    assert_eq!(
        own.matches("class=\"dot dot-own\"").count(),
        2,
        "to the end of its day"
    );
    // What cannot be is told, and what was typed is still there.
    for (from, to, says) in [
        ("soon", "2026-03-03", "From: “soon” is not accepted"),
        ("2026-03-03", "", "To: “” is not accepted"),
        ("2026-03-03", "2026-03-01", "lies before"),
        ("0001-01-01", "9999-12-31", ""),
    ] {
        let asked = format!("/tanks/1/charts?read=nitrate&span=own&from={from}&to={to}");
        let answer = client.get(&asked).await;
        let is_refused = answer.status == StatusCode::UNPROCESSABLE_ENTITY;
        assert_eq!(is_refused, !says.is_empty(), "{asked}: {}", answer.text);
        assert!(answer.text.contains(says) && answer.text.contains(&format!("value=\"{from}\"")));
    }
    let nothing = chart("?read=unknown&span=never&beside=99&ahead=yes").await;
    assert!(nothing.contains("Choose what is to be drawn."));
    assert_eq!(
        client.get("/tanks/9/charts").await.status,
        StatusCode::NOT_FOUND
    );
    // Two tanks of one name are told apart.
    client
        .post(
            "/tanks/new/community-internal",
            "name=Reading+room&animals=set-up",
        )
        .await;
    assert!(chart("").await.contains("Reading room, tank 3"));
    let empty = client.get("/tanks/2/charts").await.text;
    assert!(empty.contains("Nitrate"));
}

/// A probe that reads every minute makes no page heavier than a hand with its tests would.
#[tokio::test]
async fn every_page_stays_light_beside_a_probe() {
    let client = Client::new();
    let of_temperature = probe();
    bring(&client, &of_temperature).await;
    let of_oxygen = of_temperature
        .replace("temperature", "oxygen")
        .replace(",2", ",0");
    bring(&client, &of_oxygen).await;
    for path in [
        "/",
        "/cases/1",
        "/cases/1/summary.txt",
        "/tanks/1",
        "/tanks/1/log",
        "/tanks/1/water",
        "/tanks/1/water/outlook",
        "/tanks/1/water/changes",
        "/tanks/1/water/bacteria",
        "/tanks/1/water/oxygen",
        "/tanks/1/water/ph",
        "/tanks/1/water/tests",
        "/tanks/1/charts",
        "/tanks/1/drift",
    ] {
        let page = client.get(path).await;
        assert_eq!(page.status, StatusCode::OK, "{path}");
        assert!(page.text.len() < 110_000, "{path}: {}", page.text.len());
    }
}
