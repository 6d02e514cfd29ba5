//! How fast the program starts and serves. Run: `cargo bench -p zesty-reed`.
//!
//! Starts the release binary on demo data, fetches each page over loopback, one request after another and from four
//! clients at once, and prints the quantiles. Bounded: 2000 requests to a page at each setting.

use std::io::{BufRead, BufReader};
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

use http_body_util::BodyExt;
use hyper_util::client::legacy::Client;
use hyper_util::client::legacy::connect::HttpConnector;
use hyper_util::rt::TokioExecutor;

const REQUESTS: usize = 2000;

fn start(folder: &std::path::Path) -> (Child, String, Duration) {
    let began = Instant::now();
    let mut program = Command::new(env!("CARGO_BIN_EXE_zesty-reed"))
        .args(["demo", "--port", "0", "--data"])
        .arg(folder)
        .stdout(Stdio::piped())
        .spawn()
        .expect("the program");
    let mut lines = BufReader::new(program.stdout.take().expect("piped")).lines().map_while(Result::ok);
    let address = lines.find_map(|line| line.split_whitespace().find(|word| word.starts_with("http://")).map(str::to_owned));
    (program, address.expect("it says where it listens"), began.elapsed())
}

async fn fetch(client: &Client<HttpConnector, String>, address: &str) -> (Duration, usize) {
    let began = Instant::now();
    let response = client.get(address.parse().expect("an address")).await.expect("an answer");
    assert!(response.status().is_success(), "{address}");
    let body = response.into_body().collect().await.expect("a body").to_bytes();
    (began.elapsed(), body.len())
}

async fn measure(address: &str, clients: usize) -> (Vec<Duration>, usize) {
    let client: Client<HttpConnector, String> = Client::builder(TokioExecutor::new()).build_http();
    let size = fetch(&client, address).await.1;
    let tasks: Vec<_> = (0..clients)
        .map(|_| {
            let (client, address) = (client.clone(), address.to_owned());
            tokio::spawn(async move {
                let mut times = Vec::with_capacity(REQUESTS / clients);
                for _ in 0..REQUESTS / clients {
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
    println!("start to first listening: {fresh:.1?} with new demo data, {again:.1?} with data there");
    println!("{:<12} {:>8} {:>9} {:>9} {:>9} {:>9}", "page", "clients", "bytes", "median", "p99", "worst");
    for path in ["/", "/cases/1", "/tanks/1", "/handbook"] {
        for clients in [1, 4] {
            let (times, bytes) = measure(&format!("{address}{path}"), clients).await;
            let quantile = |share: usize| times[(times.len() - 1) * share / 100];
            println!("{path:<12} {clients:>8} {bytes:>9} {:>9.2?} {:>9.2?} {:>9.2?}", quantile(50), quantile(99), quantile(100));
        }
    }
    program.kill().expect("it runs");
    program.wait().expect("it ran");
}
