//! How the water follows what is dragged: latency, pictures in a second, memory. Run: `cargo bench
//! -p zesty-reed --bench live`.
//!
//! Starts the release binary on demo data; one client, then four at once, each drag an outlet to
//! and fro for some seconds over a socket of its own and time every picture.

use std::io::{BufRead, BufReader};
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

use futures_util::{SinkExt, StreamExt};
use tokio_tungstenite::connect_async;
use tokio_tungstenite::tungstenite::Message;

/// Moves that each client makes.
const MOVES: usize = 40;

/// Times from a move to the picture that shows it, and how many pictures came in a second.
async fn drag(address: String) -> (Vec<Duration>, f64) {
    let (mut socket, _) = connect_async(address).await.expect("a socket");
    // The first pictures: the water has begun.
    for _ in 0..3 {
        socket.next().await.expect("open").expect("a picture");
    }
    let (began, mut pictures) = (Instant::now(), 0);
    let mut times = Vec::with_capacity(MOVES);
    for step in 0..MOVES {
        let sent = Instant::now();
        let x = 8.0 + (step % 10) as f64;
        socket
            .send(Message::text(format!("1:{x},8,45")))
            .await
            .expect("sent");
        // One may have been on its way already; the second began after the move came in.
        for _ in 0..2 {
            socket.next().await.expect("open").expect("a picture");
            pictures += 1;
        }
        times.push(sent.elapsed());
    }
    times.sort();
    (times, f64::from(pictures) / began.elapsed().as_secs_f64())
}

/// Memory of a process that is resident, MB.
fn resident(process: u32) -> f64 {
    let status = std::fs::read_to_string(format!("/proc/{process}/status")).unwrap_or_default();
    let line = status
        .lines()
        .find_map(|line| line.strip_prefix("VmRSS:"))
        .unwrap_or("0");
    line.trim()
        .trim_end_matches(" kB")
        .parse::<f64>()
        .unwrap_or(0.0)
        / 1024.0
}

#[tokio::main]
async fn main() {
    let folder = tempfile::TempDir::new().expect("a folder");
    let mut program = Command::new(env!("CARGO_BIN_EXE_zesty-reed"))
        .args(["demo", "--without-flow", "--port", "0", "--data"])
        .arg(folder.path())
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
    let address = format!(
        "{}/tanks/1/live",
        address
            .expect("it says where it listens")
            .replace("http", "ws")
    );
    let before = resident(program.id());
    println!(
        "{:<10} {:>12} {:>12} {:>14} {:>18}",
        "sessions", "median", "p95", "pictures/s", "MB for a session"
    );
    for sessions in [1, 4] {
        let all: Vec<_> = (0..sessions)
            .map(|_| tokio::spawn(drag(address.clone())))
            .collect();
        tokio::time::sleep(Duration::from_secs(3)).await;
        let memory = (resident(program.id()) - before) / f64::from(sessions);
        let (mut times, mut rate) = (Vec::new(), f64::INFINITY);
        for one in all {
            let (some, pictures) = one.await.expect("a client");
            times.extend(some);
            rate = rate.min(pictures);
        }
        times.sort();
        println!(
            "{sessions:<10} {:>12.1?} {:>12.1?} {rate:>14.1} {memory:>18.1}",
            times[times.len() / 2],
            times[times.len() * 95 / 100]
        );
    }
    program.kill().expect("it runs");
    let _ = program.wait();
}
