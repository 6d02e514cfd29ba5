//! How fast the program starts and serves. Run: `cargo bench -p zesty-reed`.
//!
//! Starts the release binary on demo data, fetches each page over loopback, one request after
//! another and from four and sixteen clients at once, and prints the quantiles; then the same for a tank of 200
//! things, which is also saved again and again, for the rounds of a hundred tanks, and with a
//! million readings, the log of a tank with 100,000 entries, brought in as a sheet, and the charts of
//! a year of four probes that read every minute. Bounded:
//! 2000 requests to a page at each setting, 300 saves. With `-- hundred` only from the hundred tanks
//! on, with `-- log` only the log, with `-- charts` only a year of probes.

use std::io::{BufRead, BufReader};
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

use http_body_util::BodyExt;
use hyper_util::client::legacy::Client;
use hyper_util::client::legacy::connect::HttpConnector;
use hyper_util::rt::TokioExecutor;
use jiff::civil::date;
use reed_core::diagnosis::Case;
use reed_core::document::Document;
use reed_core::document::start;
use reed_core::field::{Described, texts_of};
use reed_core::tank::{Analyte, Reading, Tank};
use reed_core::units::Units;
use reed_fixtures::tanks;
use serde_json::Value;

const REQUESTS: usize = 2000;

fn start(folder: &std::path::Path) -> (Child, String, Duration) {
    let began = Instant::now();
    let mut program = Command::new(env!("CARGO_BIN_EXE_zesty-reed"))
        .args(["demo", "--without-flow", "--port", "0", "--data"])
        .arg(folder)
        .stdout(Stdio::piped())
        .spawn()
        .expect("the program");
    let mut lines = BufReader::new(program.stdout.take().expect("piped"))
        .lines()
        .map_while(Result::ok);
    let address = lines.find_map(|line| {
        line.split_whitespace()
            .find(|word| word.starts_with("http://"))
            .map(str::to_owned)
    });
    (
        program,
        address.expect("it says where it listens"),
        began.elapsed(),
    )
}

async fn fetch(client: &Client<HttpConnector, String>, address: &str) -> (Duration, usize) {
    let began = Instant::now();
    let response = client
        .get(address.parse().expect("an address"))
        .await
        .expect("an answer");
    assert!(response.status().is_success(), "{address}");
    let body = response
        .into_body()
        .collect()
        .await
        .expect("a body")
        .to_bytes();
    (began.elapsed(), body.len())
}

async fn measure(address: &str, clients: usize, requests: usize) -> (Vec<Duration>, usize) {
    let client: Client<HttpConnector, String> = Client::builder(TokioExecutor::new()).build_http();
    let size = fetch(&client, address).await.1;
    let tasks: Vec<_> = (0..clients)
        .map(|_| {
            let (client, address) = (client.clone(), address.to_owned());
            tokio::spawn(async move {
                let mut times = Vec::with_capacity(requests / clients);
                for _ in 0..requests / clients {
                    times.push(fetch(&client, &address).await.0);
                }
                times
            })
        })
        .collect();
    let mut times = Vec::with_capacity(REQUESTS);
    for task in tasks {
        times.extend(task.await.expect("a client"));
    }
    times.sort();
    (times, size)
}

const SAVES: usize = 300;

async fn post(address: &str, kind: &str, body: String) -> (Duration, String) {
    let client: Client<HttpConnector, String> = Client::builder(TokioExecutor::new()).build_http();
    let request = http::Request::post(address)
        .header("content-type", kind)
        .header("sec-fetch-site", "same-origin")
        .body(body);
    let began = Instant::now();
    let response = client
        .request(request.expect("a request"))
        .await
        .expect("an answer");
    let took = began.elapsed();
    assert_eq!(response.status(), 303, "{address}");
    (
        took,
        response.headers()["location"]
            .to_str()
            .expect("text")
            .to_owned(),
    )
}

/// Enters a tank by import; gives its address.
async fn enter(address: &str, tank: &Tank) -> String {
    let case = Case::new(tank.clone(), date(2026, 3, 10).at(8, 0, 0, 0));
    let file = Document::of(&case).write();
    let body = format!(
        "--part\r\nContent-Disposition: form-data; name=\"text\"\r\n\r\n{file}\r\n--part\r\nContent-Disposition: form-data; name=\"once_more\"\r\n\r\nyes\r\n--part--\r\n"
    );
    post(
        &format!("{address}/import/take"),
        "multipart/form-data; boundary=part",
        body,
    )
    .await
    .1
}

/// Saves the tank of 200 things, one of them moved each time.
async fn save_again_and_again(address: &str, tank: &str) -> (Vec<Duration>, usize) {
    let texts = texts_of(&tanks::crowded(200).to_value(), Tank::FIELDS, &Units::BASE);
    let mut times = Vec::with_capacity(SAVES);
    let mut bytes = 0;
    for round in 0..SAVES {
        let mut form = url::form_urlencoded::Serializer::new(String::new());
        pairs(&texts, "", &mut |pointer, text| {
            let moved = if pointer == "/things/0/x_cm" {
                (8.0 + 0.01 * round as f64).to_string()
            } else {
                text.to_owned()
            };
            form.append_pair(pointer, &moved);
        });
        let body = form.append_pair("do", "save-over").finish();
        bytes = body.len();
        times.push(
            post(
                &format!("{address}{tank}"),
                "application/x-www-form-urlencoded",
                body,
            )
            .await
            .0,
        );
    }
    times.sort();
    (times, bytes)
}

/// Every leaf of a text tree with its pointer.
fn pairs(texts: &Value, pointer: &str, each: &mut impl FnMut(&str, &str)) {
    match texts {
        Value::Object(part) => part
            .iter()
            .for_each(|(key, value)| pairs(value, &format!("{pointer}/{key}"), each)),
        Value::Array(entries) => entries
            .iter()
            .enumerate()
            .for_each(|(index, entry)| pairs(entry, &format!("{pointer}/{index}"), each)),
        leaf => each(pointer, leaf.as_str().unwrap_or_default()),
    }
}

#[tokio::main]
async fn main() {
    // `cargo test --benches` and `cargo bench --no-run` must not start a load run.
    if !std::env::args().any(|argument| argument == "--bench") {
        return;
    }
    let folder = tempfile::TempDir::new().expect("a folder");
    let (mut first, _, fresh) = start(folder.path());
    first.kill().expect("it runs");
    first.wait().expect("it ran");
    let (mut program, address, again) = start(folder.path());
    println!(
        "start to first listening: {fresh:.1?} with new demo data, {again:.1?} with data there"
    );
    println!(
        "{:<30} {:>8} {:>9} {:>9} {:>9} {:>9}",
        "page", "clients", "bytes", "median", "p99", "worst"
    );
    let only = |what: &str| std::env::args().any(|argument| argument == what);
    if only("log") {
        program.kill().expect("it runs");
        program.wait().expect("it ran");
        return log_of_years(folder.path()).await;
    }
    if only("posts") {
        posts(&address).await;
        program.kill().expect("it runs");
        program.wait().expect("it ran");
        return;
    }
    if only("charts") {
        program.kill().expect("it runs");
        program.wait().expect("it ran");
        return year_of_probes(folder.path()).await;
    }
    if !only("hundred") {
        table(
            &address,
            &[
                "/",
                "/cases/1",
                "/cases/1/questions?find=noise",
                "/tanks/1",
                "/tanks/1/water",
                "/tanks/1/drift",
                "/tanks/1/filter",
                "/tanks/1/filter/service",
                "/handbook",
            ],
        )
        .await;
        let crowded = enter(&address, &tanks::crowded(200)).await;
        table(&address, &[&crowded, &format!("{crowded}/edit")]).await;
        let (times, bytes) = save_again_and_again(&address, &crowded).await;
        line("save", 1, bytes, &times);
    }
    for start in start::ALL.iter().cycle().take(97) {
        enter(&address, &start.tank()).await;
    }
    println!("with a hundred tanks");
    table(
        &address,
        &["/", "/tanks/1/routine", "/visit", "/visit/calendar.ics"],
    )
    .await;
    program.kill().expect("it runs");
    program.wait().expect("it ran");
    let readings = fill_with_readings(&folder.path().join("zesty-reed.db"));
    let (mut program, address, _) = start(folder.path());
    println!("with {readings} readings");
    table(
        &address,
        &[
            "/",
            "/tanks/1",
            "/tanks/1/water",
            "/tanks/1/water/oxygen",
            "/tanks/1/water/changes",
        ],
    )
    .await;
    program.kill().expect("it runs");
    program.wait().expect("it ran");
    log_of_years(folder.path()).await;
    year_of_probes(folder.path()).await;
}

/// Posts of one reading each from so many devices for ten seconds, and how long pages take meanwhile.
async fn posts(address: &str) {
    const DEVICES: usize = 40;
    let client: Client<HttpConnector, String> = Client::builder(TokioExecutor::new()).build_http();
    let mut tokens = Vec::new();
    for number in 0..DEVICES {
        let request = http::Request::post(format!("{address}/tanks/1/devices"))
            .header("content-type", "application/x-www-form-urlencoded")
            .header("sec-fetch-site", "same-origin")
            .body(format!("name=Probe+{number}"))
            .expect("a request");
        let answer = client.request(request).await.expect("an answer");
        let body = answer
            .into_body()
            .collect()
            .await
            .expect("a page")
            .to_bytes();
        let page = String::from_utf8_lossy(&body).into_owned();
        let token = page
            .split("id=\"token\" value=\"")
            .nth(1)
            .expect("shown once");
        tokens.push(token.split('"').next().expect("it ends").to_owned());
    }
    let until = Instant::now() + Duration::from_secs(10);
    let start = jiff::Timestamp::now() - jiff::SignedDuration::from_hours(24);
    let senders = tokens.into_iter().map(|token| {
        let (client, address) = (client.clone(), format!("{address}/api/v1/readings"));
        tokio::spawn(async move {
            let mut times = Vec::new();
            let mut at = start;
            while Instant::now() < until {
                at += jiff::SignedDuration::from_secs(1);
                let body = format!(
                    "{{\"readings\":[{{\"analyte\":\"temperature\",\"value\":24.1,\"unit\":\"°C\",\"at\":\"{at}\"}}]}}"
                );
                let request = http::Request::post(&address)
                    .header("authorization", format!("Bearer {token}"))
                    .body(body)
                    .expect("a request");
                let began = Instant::now();
                let answer = client.request(request).await.expect("an answer");
                assert_eq!(answer.status(), 200);
                answer.into_body().collect().await.expect("an answer");
                times.push(began.elapsed());
            }
            times
        })
    });
    let senders: Vec<_> = senders.collect();
    let mut pages = Vec::new();
    for path in ["/", "/tanks/1", "/tanks/1/log"].iter().cycle() {
        if Instant::now() >= until {
            break;
        }
        pages.push(fetch(&client, &format!("{address}{path}")).await.0);
    }
    let mut times = Vec::new();
    for sender in senders {
        times.extend(sender.await.expect("it sends"));
    }
    times.sort();
    pages.sort();
    println!(
        "{} posts a second, each on the disk when answered",
        times.len() / 10
    );
    line("a post", DEVICES, 0, &times);
    line("pages meanwhile", 1, 0, &pages);
}

/// A hundred thousand entries and as many readings brought into one tank as a sheet, checked and
/// stored; then its log, searched and narrowed.
async fn log_of_years(folder: &std::path::Path) {
    use reed_core::log::sheet::Writer;
    use reed_core::log::{Entry, Happening, When};
    const ENTRIES: i64 = 100_000;
    let store = reed_store::Store::open(&folder.join("zesty-reed.db")).expect("a file");
    let id = reed_store::TankId(2);
    let tank = store
        .read(|db| reed_store::tanks::latest(db, id))
        .expect("the demo")
        .tank;
    let now = jiff::Zoned::now();
    let (change, fed) = (Happening::by_id("change"), Happening::by_id("fed"));
    let mut writer = Writer::new(Units::BASE);
    for index in 0..ENTRIES {
        let at = now.datetime() - jiff::SignedDuration::from_mins(50 * index + 10);
        let kind = if index % 7 == 0 { change } else { fed }.expect("listed");
        let note = if index % 1000 == 999 {
            "a heron stood there"
        } else {
            ""
        };
        let entry = Entry {
            amount: kind.amount.map(|_| 20.0),
            note: note.to_owned(),
            ..Entry::of(kind, When::minute(at))
        };
        writer.entry(&entry, false);
        writer.reading(&Reading::usual(Analyte::TEMPERATURE, 24.5, at), false);
    }
    let taken = bring(&store, id, &tank, &writer.finish());
    drop(store);
    let (mut program, address, _) = start(folder);
    println!("with {taken} rows in one log");
    table(
        &address,
        &[
            "/tanks/2/log",
            "/tanks/2/log?kind=water",
            "/tanks/2/log?words=heron",
            "/tanks/2/water",
        ],
    )
    .await;
    program.kill().expect("it runs");
    program.wait().expect("it ran");
}

/// A year of four probes that read every minute, brought into one tank, and its charts.
async fn year_of_probes(folder: &std::path::Path) {
    use reed_core::log::sheet::Writer;
    const MINUTES: i64 = 366 * 24 * 60;
    let store = reed_store::Store::open(&folder.join("zesty-reed.db")).expect("a file");
    let id = reed_store::TankId(1);
    let tank = store
        .read(|db| reed_store::tanks::latest(db, id))
        .expect("the demo")
        .tank;
    let now = jiff::Zoned::now().datetime();
    let mut taken = 0;
    for analyte in [
        Analyte::TEMPERATURE,
        Analyte::PH,
        Analyte::OXYGEN,
        Analyte::NITRATE,
    ] {
        let mut writer = Writer::new(Units::BASE);
        for minute in (0..MINUTES).rev() {
            let at = now - jiff::SignedDuration::from_mins(minute);
            let value = 7.0 + f64::from(i32::try_from(minute % 97).expect("small")) / 100.0;
            writer.reading(&Reading::usual(analyte, value, at), false);
        }
        taken += bring(&store, id, &tank, &writer.finish());
    }
    drop(store);
    let (mut program, address, _) = start(folder);
    println!("with {taken} readings of one tank");
    let year = "/tanks/1/charts?read=temperature&read=ph&read=do&read=nitrate&span=year";
    let ahead = format!("{year}&ahead=yes");
    let month = year.replace("year", "month");
    let paths = [
        year,
        &month,
        &ahead,
        "/tanks/1/log",
        "/tanks/1/water",
        "/tanks/1/water/oxygen",
        "/cases/1",
    ];
    table_of(&address, &paths, REQUESTS / 10).await;
    program.kill().expect("it runs");
    program.wait().expect("it ran");
}

/// Checks and stores a sheet; says how fast, and gives how many rows were stored.
fn bring(store: &reed_store::Store, id: reed_store::TankId, tank: &Tank, text: &str) -> usize {
    use reed_core::log::sheet::{Read, Sheet};
    let now = jiff::Zoned::now();
    let began = Instant::now();
    let sheet = Sheet::open(text.as_bytes()).expect("our own sheet");
    let read = Read {
        tank,
        now: now.datetime(),
        zone: jiff::tz::TimeZone::UTC,
        units: &Units::BASE,
    };
    let mapping = sheet.guess();
    let rows = sheet
        .read(&mapping, &read)
        .flat_map(|row| row.expect("our own row"));
    let take = |db: &reed_store::Transaction<'_>| {
        reed_store::batches::take(db, id, "years.csv", rows, now.timestamp(), &|_| true)
    };
    let taken = store.write(take).expect("written");
    let took = began.elapsed();
    println!(
        "a sheet of {} rows checked and stored in {took:.1?}: {:.0} rows/s",
        taken.stored,
        taken.stored as f64 / took.as_secs_f64()
    );
    taken.stored
}

/// Ten thousand readings to each of a hundred tanks, over ten years; says how many.
fn fill_with_readings(file: &std::path::Path) -> usize {
    let store = reed_store::Store::open(file).expect("the program's own file");
    let now = jiff::Zoned::now();
    let tanks: Vec<_> = store
        .read(reed_store::tanks::all)
        .expect("tanks")
        .into_iter()
        .map(|revision| revision.tank_id)
        .collect();
    let kinds = [
        Analyte::AMMONIA,
        Analyte::NITRITE,
        Analyte::NITRATE,
        Analyte::KH,
        Analyte::OXYGEN,
    ];
    let mut count = 0;
    for tank in tanks {
        let fill = |db: &reed_store::Transaction<'_>| -> Result<(), reed_store::StoreError> {
            for index in 0..10_000_i64 {
                let at = now.datetime() - jiff::SignedDuration::from_hours(9 * index);
                let reading = Reading::usual(
                    kinds[usize::try_from(index % 5).expect("one of five")],
                    5.0,
                    at,
                );
                reed_store::readings::add(db, tank, &reading, now.timestamp())?;
            }
            Ok(())
        };
        store.write(fill).expect("written");
        count += 10_000;
    }
    count
}

/// Measures pages with one client, with four and with sixteen at once, and prints a line for each.
async fn table(address: &str, paths: &[&str]) {
    table_of(address, paths, REQUESTS).await;
}

/// The same with so many requests to each page and setting.
async fn table_of(address: &str, paths: &[&str], requests: usize) {
    for path in paths {
        for clients in [1, 4, 16] {
            let (times, bytes) = measure(&format!("{address}{path}"), clients, requests).await;
            line(path, clients, bytes, &times);
        }
    }
}

fn line(what: &str, clients: usize, bytes: usize, times: &[Duration]) {
    let quantile = |share: usize| times[(times.len() - 1) * share / 100];
    println!(
        "{what:<30} {clients:>8} {bytes:>9} {:>9.2?} {:>9.2?} {:>9.2?}",
        quantile(50),
        quantile(99),
        quantile(100)
    );
}
