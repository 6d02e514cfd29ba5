//! What the program endures: killed in the middle, power cuts, hours of use. Run:
//!
//! - `cargo bench -p zesty-reed --bench endure -- kill`: 500 rounds in which it is killed while
//!   entries are being stored, every second one with the flow model at work. Every entry that was
//!   acknowledged must be there.
//! - `cargo bench -p zesty-reed --bench endure -- cut`: what it writes and has put on the disk is
//!   recorded (needs `strace`); at every acknowledgement the files are made up as a power cut could
//!   have left them: what was put on the disk, and of the rest any part. Every entry that was
//!   acknowledged by then must be there.
//! - `cargo bench -p zesty-reed --bench endure -- soak`: ten minutes of pages and entries from four
//!   clients; memory every half minute.
//! - `cargo bench -p zesty-reed --bench endure -- beside`: how long the rounds take while three
//!   others ask for what is heaviest, without a pause.

use std::collections::HashMap;
use std::io::{BufRead, BufReader, Read as _, Write as _};
use std::net::TcpStream;
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};

use jiff::civil::DateTime;
use reed_store::{Store, TankId, entries};

const PROGRAM: &str = env!("CARGO_BIN_EXE_zesty-reed");
/// The tank that entries go to.
const TANK: i64 = 2;

/// The program at work.
struct Running {
    child: Child,
    address: String,
}

impl Running {
    fn start(mut command: Command) -> Self {
        let mut child = command.stdout(Stdio::piped()).spawn().expect("the program");
        let line = BufReader::new(child.stdout.take().expect("piped"))
            .lines()
            .map_while(Result::ok)
            .find_map(|line| {
                let (_, rest) = line.split_once("http://")?;
                Some(rest.split_whitespace().next()?.to_owned())
            });
        Self {
            child,
            address: line.expect("it says where it listens"),
        }
    }

    fn on(folder: &Path, more: &[&str]) -> Self {
        let mut command = Command::new(PROGRAM);
        command
            .args(["demo", "--port", "0", "--data"])
            .arg(folder)
            .args(more);
        Self::start(command)
    }

    fn kill(mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }

    /// Asks it to stop, and waits until it has.
    fn stop(mut self) {
        let kill = format!("kill {}", self.child.id());
        let _ = Command::new("sh").args(["-c", &kill]).status();
        let _ = self.child.wait();
    }
}

/// A request on a connection of its own; the answer, as far as it came.
fn ask(address: &str, method: &str, path: &str, body: &str) -> Option<String> {
    let mut stream = TcpStream::connect(address).ok()?;
    stream
        .set_read_timeout(Some(Duration::from_secs(30)))
        .ok()?;
    write!(
        stream,
        "{method} {path} HTTP/1.1\r\nHost: {address}\r\nSec-Fetch-Site: same-origin\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: {}\r\nConnection: close\r\n\r\n{body}",
        body.len()
    )
    .ok()?;
    let mut answer = Vec::new();
    // What came before it was killed may be a whole answer.
    let _ = stream.read_to_end(&mut answer);
    Some(String::from_utf8_lossy(&answer).into_owned())
}

/// Stores an entry; whether that was acknowledged.
fn note(address: &str, words: &str) -> bool {
    let body = format!("what=note&note={words}");
    ask(address, "POST", &format!("/tanks/{TANK}/log"), &body)
        .is_some_and(|answer| answer.starts_with("HTTP/1.1 303"))
}

/// The notes that a database holds; none where it is broken.
fn notes(database: &Path) -> Vec<String> {
    let kept = Store::open(database)
        .and_then(|store| store.read(|db| entries::since(db, TankId(TANK), DateTime::MIN)));
    let kept = kept.unwrap_or_default();
    kept.into_iter().map(|kept| kept.entry.note).collect()
}

fn main() {
    let asked: Vec<String> = std::env::args().collect();
    // `cargo test --benches` and `cargo bench --no-run` must not start a load run.
    if !asked.iter().any(|word| word == "--bench") {
        return;
    }
    let only = |what: &str| asked.iter().any(|word| word == what);
    match () {
        () if only("kill") => kill(),
        () if only("cut") => cut(),
        () if only("soak") => soak(),
        () if only("beside") => beside(),
        () => println!("say which: -- kill, -- cut, -- soak or -- beside"),
    }
}

fn kill() {
    const ROUNDS: usize = 500;
    const WRITERS: usize = 3;
    let folder = tempfile::TempDir::new().expect("a folder");
    let mut rng = fastrand::Rng::with_seed(1);
    let acknowledged = Arc::new(Mutex::new(Vec::<String>::new()));
    let (began, mut lost) = (Instant::now(), 0);
    for round in 0..ROUNDS {
        let more: &[&str] = if round % 2 == 0 {
            &["--without-flow"]
        } else {
            &[]
        };
        let running = Running::on(folder.path(), more);
        if round % 2 == 1 {
            // The flow of a tank is asked for, one that was never computed.
            ask(
                &running.address,
                "GET",
                &format!("/tanks/1/try?moves=1:{},8,40", 8 + round % 30),
                "",
            );
        }
        let is_over = Arc::new(AtomicBool::new(false));
        let writers: Vec<_> = (0..WRITERS)
            .map(|writer| {
                let (address, acknowledged) = (running.address.clone(), Arc::clone(&acknowledged));
                let is_over = Arc::clone(&is_over);
                std::thread::spawn(move || {
                    for number in 0.. {
                        let words = format!("round{round}-{writer}-{number}");
                        if note(&address, &words) {
                            acknowledged.lock().expect("whole").push(words);
                        }
                        if is_over.load(Ordering::Relaxed) {
                            return;
                        }
                    }
                })
            })
            .collect();
        std::thread::sleep(Duration::from_millis(rng.u64(20..250)));
        running.kill();
        is_over.store(true, Ordering::Relaxed);
        for writer in writers {
            writer.join().expect("a writer");
        }
        if round % 50 == 49 || round + 1 == ROUNDS {
            let acknowledged = acknowledged.lock().expect("whole");
            let there: std::collections::HashSet<String> =
                notes(&folder.path().join("zesty-reed.db"))
                    .into_iter()
                    .collect();
            lost = acknowledged
                .iter()
                .filter(|words| !there.contains(*words))
                .count();
            println!(
                "{} rounds, {} acknowledged, {lost} lost, {:.0?}",
                round + 1,
                acknowledged.len(),
                began.elapsed()
            );
        }
    }
    let problems = reed_store::backup::problems(&folder.path().join("zesty-reed.db"));
    println!(
        "problems of the file: {:?}",
        problems.expect("it can be read")
    );
    assert_eq!(lost, 0, "acknowledged and lost");
}

/// What was done to a file, as it was recorded.
enum Done {
    Wrote(u64, Vec<u8>),
    Cut(u64),
}

/// A file: what is surely on the disk, and what may be.
#[derive(Default)]
struct Disk {
    sure: Vec<u8>,
    maybe: Vec<Done>,
}

impl Disk {
    fn apply(bytes: &mut Vec<u8>, done: &Done) {
        match done {
            Done::Wrote(at, written) => {
                let at = usize::try_from(*at).expect("small");
                if bytes.len() < at + written.len() {
                    bytes.resize(at + written.len(), 0);
                }
                bytes[at..at + written.len()].copy_from_slice(written);
            }
            Done::Cut(length) => bytes.resize(usize::try_from(*length).expect("small"), 0),
        }
    }

    fn sync(&mut self) {
        for done in self.maybe.drain(..) {
            Self::apply(&mut self.sure, &done);
        }
    }

    /// As a power cut may leave it: any of what was not put on the disk is there, in part.
    fn after_a_cut(&self, rng: &mut fastrand::Rng) -> Vec<u8> {
        let mut bytes = self.sure.clone();
        for done in &self.maybe {
            match (rng.u8(..3), done) {
                (0, done) => Self::apply(&mut bytes, done),
                // The disk writes 512 bytes whole.
                (1, Done::Wrote(at, written)) => {
                    let part = rng.usize(0..=written.len() / 512) * 512;
                    Self::apply(&mut bytes, &Done::Wrote(*at, written[..part].to_vec()));
                }
                _ => {}
            }
        }
        bytes
    }
}

/// The bytes of a string as `strace -xx` prints it.
fn unhex(text: &str) -> Vec<u8> {
    text.split("\\x")
        .skip(1)
        .map(|byte| u8::from_str_radix(&byte[..2], 16).expect("hexadecimal"))
        .collect()
}

fn cut() {
    const NOTES: usize = 300;
    const CUTS: usize = 4;
    let folder = tempfile::TempDir::new().expect("a folder");
    let data = folder.path().join("data");
    Running::on(&data, &["--without-flow"]).stop();
    let database = data.join("zesty-reed.db");
    let recorded = folder.path().join("recorded");
    let before = std::fs::read(&database).expect("there");
    let mut command = Command::new("strace");
    command
        .args(["-f", "-y", "-xx", "-s", "10000000", "-e"])
        .arg("trace=pwrite64,fsync,fdatasync,ftruncate,write,writev,sendto")
        .arg("-o")
        .arg(&recorded)
        .arg(PROGRAM)
        .args(["demo", "--without-flow", "--port", "0", "--data"])
        .arg(&data);
    let running = Running::start(command);
    for number in 0..NOTES {
        assert!(note(&running.address, &format!("cut-{number}-end")));
    }
    // The tracer is the child; the program ends with the request to stop.
    let _ = Command::new("pkill")
        .args(["-TERM", "-P", &running.child.id().to_string()])
        .status();
    std::thread::sleep(Duration::from_secs(3));
    running.kill();
    let text = std::fs::read_to_string(&recorded).expect("recorded");
    let (acknowledged, tried, lost) = replay(&text, &database, before.clone(), CUTS, true);
    println!("{acknowledged} acknowledged, {tried} power cuts, {lost} entries lost");
    assert!(acknowledged == NOTES && lost == 0, "acknowledged and lost");
    let (_, _, lost) = replay(&text, &database, before, 1, false);
    println!("if nothing had been put on the disk: {lost} lost");
    assert!(lost > 0, "this run finds no loss where there is one");
}

/// Replays what was recorded; at every acknowledgement some cuts. Without syncs it is as if the
/// program had put nothing on the disk.
fn replay(
    text: &str,
    database: &Path,
    before: Vec<u8>,
    cuts: usize,
    with_syncs: bool,
) -> (usize, usize, usize) {
    let log = PathBuf::from(format!("{}-wal", database.display()));
    // `-xx` prints paths in hexadecimal too.
    let name_of = |line: &str| -> Option<PathBuf> {
        let (_, rest) = line.split_once('<')?;
        let path = String::from_utf8(unhex(rest.split_once('>')?.0)).ok()?;
        Some(PathBuf::from(path))
    };
    let mut disk: HashMap<PathBuf, Disk> = HashMap::new();
    disk.entry(database.to_owned()).or_default().sure = before;
    let mut rng = fastrand::Rng::with_seed(7);
    let (mut acknowledged, mut tried, mut lost) = (0, 0, 0);
    let mut unfinished: HashMap<String, String> = HashMap::new();
    let scratch = tempfile::TempDir::new().expect("a folder");
    for line in text.lines() {
        let (thread, call) = line.split_once(' ').unwrap_or_default();
        let call = call.trim();
        // A call during which another thread did something is told in two lines.
        let call = if let Some(begun) = call.strip_suffix("<unfinished ...>") {
            unfinished.insert(thread.to_owned(), begun.to_owned());
            continue;
        } else if let Some((_, rest)) = call.split_once(" resumed>") {
            format!("{}{rest}", unfinished.remove(thread).unwrap_or_default())
        } else {
            call.to_owned()
        };
        let (what, arguments) = call.split_once('(').unwrap_or_default();
        let file = name_of(arguments).filter(|file| *file == database || *file == log);
        match (what, file) {
            ("pwrite64", Some(file)) => {
                let quoted: Vec<&str> = arguments.split('"').collect();
                let at = quoted[2].trim_start_matches(", ").split(", ").nth(1);
                let at = at.and_then(|at| at.split(')').next()?.trim().parse().ok());
                let at = at.expect("an offset");
                let done = Done::Wrote(at, unhex(quoted[1]));
                disk.entry(file).or_default().maybe.push(done);
            }
            ("ftruncate", Some(file)) => {
                let length = arguments
                    .split(", ")
                    .nth(1)
                    .and_then(|rest| rest.split(')').next());
                let length = length.and_then(|length| length.trim().parse().ok());
                let done = Done::Cut(length.expect("a length"));
                disk.entry(file).or_default().maybe.push(done);
            }
            ("fsync" | "fdatasync", Some(file)) if with_syncs => {
                disk.entry(file).or_default().sync();
            }
            ("write" | "writev" | "sendto", _) => {
                let sent: Vec<u8> = arguments
                    .split('"')
                    .skip(1)
                    .step_by(2)
                    .flat_map(unhex)
                    .collect();
                if !sent.starts_with(b"HTTP/1.1 303") {
                    continue;
                }
                acknowledged += 1;
                for _ in 0..cuts {
                    tried += 1;
                    let cut = scratch.path().join(format!("{tried}"));
                    std::fs::create_dir(&cut).expect("a folder");
                    let there = cut.join("zesty-reed.db");
                    std::fs::write(&there, disk[database].after_a_cut(&mut rng)).expect("written");
                    if let Some(log) = disk.get(&log) {
                        let beside = cut.join("zesty-reed.db-wal");
                        std::fs::write(beside, log.after_a_cut(&mut rng)).expect("written");
                    }
                    let notes = notes(&there);
                    let is_there = |number: &usize| notes.contains(&format!("cut-{number}-end"));
                    lost += (0..acknowledged).filter(|number| !is_there(number)).count();
                    std::fs::remove_dir_all(&cut).expect("removed");
                }
            }
            _ => {}
        }
    }
    (acknowledged, tried, lost)
}

/// Memory of a process that is resident, MB.
fn resident(process: u32) -> f64 {
    let status = std::fs::read_to_string(format!("/proc/{process}/status")).unwrap_or_default();
    let line = status.lines().find_map(|line| line.strip_prefix("VmRSS:"));
    let kilobytes = line.and_then(|line| line.trim().strip_suffix(" kB")?.parse::<f64>().ok());
    kilobytes.unwrap_or(0.0) / 1024.0
}

const PAGES: &[&str] = &[
    "/",
    "/cases/1",
    "/tanks/1",
    "/tanks/1/water",
    "/tanks/1/drift",
    "/tanks/2/log",
    "/tanks/2/charts",
    "/tanks/1/water/outlook",
    "/handbook",
    "/data",
];

fn soak() {
    const LASTS: Duration = Duration::from_secs(600);
    let folder = tempfile::TempDir::new().expect("a folder");
    let running = Running::on(folder.path(), &[]);
    let (began, asked) = (Instant::now(), Arc::new(AtomicUsize::new(0)));
    let clients: Vec<_> = (0..4)
        .map(|client| {
            let (address, asked) = (running.address.clone(), Arc::clone(&asked));
            std::thread::spawn(move || {
                let mut rng = fastrand::Rng::with_seed(client);
                while began.elapsed() < LASTS {
                    let number = asked.fetch_add(1, Ordering::Relaxed);
                    if rng.u8(..20) == 0 {
                        assert!(note(&address, &format!("soak-{number}")));
                    } else {
                        let page = PAGES[rng.usize(..PAGES.len())];
                        let answer = ask(&address, "GET", page, "").unwrap_or_default();
                        assert!(answer.starts_with("HTTP/1.1 200"), "{page}");
                    }
                }
            })
        })
        .collect();
    while began.elapsed() < LASTS {
        std::thread::sleep(Duration::from_secs(30));
        println!(
            "{:>4} s {:>8} answers {:>7.1} MB",
            began.elapsed().as_secs(),
            asked.load(Ordering::Relaxed),
            resident(running.child.id())
        );
    }
    for client in clients {
        client.join().expect("a client");
    }
    running.kill();
}

/// A form of five thousand things: more than a tank can have.
fn five_thousand_things() -> String {
    use std::fmt::Write as _;
    let mut form = String::from("do=look&%2Fname=x");
    for number in 0..5000 {
        let _ = write!(form, "&%2Fthings%2F{number}%2Fname=x");
    }
    form
}

fn beside() {
    const ASKED: usize = 400;
    const OTHERS: u32 = 3;
    let folder = tempfile::TempDir::new().expect("a folder");
    let running = Running::on(folder.path(), &["--without-flow"]);
    let things = five_thousand_things();
    let heavy: &[(&str, &str, &str)] = &[
        ("nothing else", "GET", "/health"),
        ("a form of 5,000 things", "POST", "/tanks/1"),
        ("everything in one file", "POST", "/data/everything"),
        ("all records looked through", "POST", "/data/check"),
        ("the days ahead", "GET", "/tanks/2/water/outlook"),
        (
            "what is expected on charts",
            "GET",
            "/tanks/2/charts/expected?read=no3&span=quarter",
        ),
        ("the log as a sheet", "GET", "/tanks/2/log.csv"),
    ];
    println!(
        "{:<30} {:>9} {:>9} {:>12}",
        "the rounds beside", "median", "p99", "it takes"
    );
    for (what, method, path) in heavy {
        let is_over = Arc::new(AtomicBool::new(false));
        let others: Vec<_> = (0..OTHERS)
            .map(|_| {
                let (address, is_over) = (running.address.clone(), Arc::clone(&is_over));
                let (method, path) = ((*method).to_owned(), (*path).to_owned());
                let body = if path == "/tanks/1" {
                    things.clone()
                } else {
                    String::new()
                };
                std::thread::spawn(move || {
                    let (began, mut times) = (Instant::now(), 0_u32);
                    while !is_over.load(Ordering::Relaxed) {
                        ask(&address, &method, &path, &body);
                        times += 1;
                    }
                    began.elapsed() / times.max(1)
                })
            })
            .collect();
        let mut times: Vec<Duration> = (0..ASKED)
            .map(|_| {
                let began = Instant::now();
                let answer = ask(&running.address, "GET", "/", "").unwrap_or_default();
                assert!(answer.starts_with("HTTP/1.1 200"));
                began.elapsed()
            })
            .collect();
        is_over.store(true, Ordering::Relaxed);
        let takes: Duration = others
            .into_iter()
            .map(|other| other.join().expect("it ends"))
            .sum();
        let takes = takes / OTHERS;
        times.sort();
        println!(
            "{what:<30} {:>9.2?} {:>9.2?} {takes:>12.2?}",
            times[ASKED / 2],
            times[ASKED * 99 / 100]
        );
    }
    running.kill();
}
