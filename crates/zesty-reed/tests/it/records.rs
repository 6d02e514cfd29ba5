//! Records of years: a stop leaves them whole, a copy brings them back, nothing is written into what
//! is damaged, and no two instances work on the same folder.

use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::os::unix::fs::PermissionsExt as _;
use std::path::Path;
use std::process::{Child, Command, Output, Stdio};
use std::time::{Duration, Instant};

use tempfile::TempDir;

pub(crate) fn program(arguments: &[&str], data: &Path) -> Command {
    let mut command = Command::new(env!("CARGO_BIN_EXE_zesty-reed"));
    command.args(arguments).arg("--data").arg(data);
    command
}

fn run(arguments: &[&str], data: &Path) -> Output {
    program(arguments, data).output().expect("the program")
}

pub(crate) fn said(output: &Output) -> String {
    format!(
        "{}{}",
        String::from_utf8_lossy(&output.stdout),
        String::from_utf8_lossy(&output.stderr)
    )
}

/// The program at work, and where; killed when it is dropped.
pub(crate) struct Serving {
    child: Child,
    pub(crate) address: String,
    /// Where else it listens.
    pub(crate) others: Vec<String>,
}

impl Serving {
    pub(crate) fn start(arguments: &[&str], data: &Path) -> Self {
        let mut child = program(arguments, data)
            .args(["--port", "0"])
            .stdout(Stdio::piped())
            .spawn()
            .expect("the program");
        let mut lines = BufReader::new(child.stdout.take().expect("piped"))
            .lines()
            .map_while(Result::ok)
            .filter_map(|line| {
                let (_, rest) = line.split_once("://")?;
                Some(rest.split_whitespace().next()?.to_owned())
            });
        let address = lines.next().expect("it says where it is");
        let others = arguments.iter().filter(|word| **word == "--listen");
        let others = others.filter_map(|_| lines.next()).collect();
        Self {
            child,
            address,
            others,
        }
    }

    /// Sends a request and gives the answer.
    pub(crate) fn ask(&self, head: &str, body: &str) -> String {
        let mut stream = TcpStream::connect(&self.address).expect("it listens");
        write!(
            stream,
            "{head} HTTP/1.1\r\nHost: {}\r\nSec-Fetch-Site: same-origin\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: {}\r\nConnection: close\r\n\r\n{body}",
            self.address,
            body.len()
        )
        .expect("sent");
        let mut answer = String::new();
        stream.read_to_string(&mut answer).expect("an answer");
        answer
    }

    fn note(&self, words: &str) {
        let answer = self.ask("POST /tanks/2/log", &format!("what=note&note={words}"));
        assert!(answer.starts_with("HTTP/1.1 303"), "{answer}");
    }

    /// Asks it to stop; how long that took.
    fn stop(mut self) -> Duration {
        let began = Instant::now();
        // The shell has it built in; a program of that name is not everywhere.
        let kill = format!("kill {}", self.child.id());
        let told = Command::new("sh").args(["-c", &kill]).status();
        assert!(told.expect("kill").success());
        while self.child.try_wait().expect("its child").is_none() {
            assert!(
                began.elapsed() < Duration::from_secs(20),
                "it does not stop"
            );
            std::thread::sleep(Duration::from_millis(20));
        }
        began.elapsed()
    }
}

impl Drop for Serving {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// One's own data are copied once a day, unless that is not wanted; what is damaged is told with the
/// copy that can be put back.
#[test]
fn a_day_leaves_a_copy_that_can_be_put_back() {
    let folder = TempDir::new().expect("a folder");
    let data = folder.path();
    Serving::start(&["serve", "--without-flow", "--without-copies"], data).stop();
    assert!(!data.join("backups").exists());
    let serving = Serving::start(&["serve", "--without-flow"], data);
    let began = Instant::now();
    let copies = || std::fs::read_dir(data.join("backups")).map_or(0, Iterator::count);
    let copy = || {
        let mut files = std::fs::read_dir(data.join("backups")).ok()?.flatten();
        files.find(|file| file.file_name().to_string_lossy().ends_with(".db"))
    };
    while copy().is_none() {
        assert!(began.elapsed() < Duration::from_secs(20), "no copy");
        std::thread::sleep(Duration::from_millis(20));
    }
    serving.stop();
    assert_eq!(copies(), 1);
    let copy = copy().expect("made").path();
    let file = data.join("zesty-reed.db");
    let mut damaged = std::fs::read(&file).expect("read");
    let middle = damaged.len() / 2;
    damaged[middle..middle + 9000].fill(0xA5);
    std::fs::write(&file, &damaged).expect("written");
    let told = said(&run(&["check"], data));
    let words = format!("restore {}", copy.display());
    assert!(told.contains(&words), "{told}");
    // It can be looked at meanwhile, and is not written to.
    let serving = Serving::start(&["serve", "--without-flow"], data);
    let page = serving.ask("GET /data", "");
    assert!(page.contains("The file is damaged"), "{page}");
    let chosen = serving.ask("POST /data/copies", "each_day=on");
    assert!(chosen.starts_with("HTTP/1.1 507"), "{chosen}");
    serving.stop();
    assert!(std::fs::read(&file).expect("read") == damaged, "touched");
    let restored = run(&["restore", copy.to_str().expect("a path")], data);
    assert!(restored.status.success(), "{}", said(&restored));
    assert!(said(&run(&["check"], data)).contains("is sound"));
}

/// The log of a tank, as the program tells it of a folder that holds the one file alone.
fn log_of(database: &Path) -> String {
    let folder = TempDir::new().expect("a folder");
    std::fs::copy(database, folder.path().join("zesty-reed.db")).expect("copied");
    let serving = Serving::start(&["demo", "--without-flow"], folder.path());
    serving.ask("GET /tanks/2/log", "")
}

#[test]
fn a_stop_is_quick_and_leaves_everything_in_one_file_whatever_is_under_way() {
    let folder = TempDir::new().expect("a folder");
    let data = folder.path().join("data");
    let serving = Serving::start(&["demo"], &data);
    serving.note("before-the-stop");
    // The flow of a tank is being computed, and somebody sends a header that never ends.
    serving.ask("GET /tanks/1/drift", "");
    let mut half = TcpStream::connect(&serving.address).expect("it listens");
    half.write_all(b"GET / HTTP/1.1\r\nHost: x\r\nHalf")
        .expect("sent");
    let took = serving.stop();
    assert!(took < Duration::from_secs(10), "{took:?}");
    let file = data.join("zesty-reed.db");
    let beside = std::fs::metadata(data.join("zesty-reed.db-wal")).map_or(0, |log| log.len());
    assert_eq!(beside, 0, "all of it is in the file");
    let mode = |path: &Path| {
        let found = std::fs::metadata(path).expect("there");
        found.permissions().mode() & 0o777
    };
    assert_eq!(
        (mode(&data), mode(&file)),
        (0o700, 0o600),
        "nobody else reads it"
    );
    assert!(log_of(&file).contains("before-the-stop"));
}

#[test]
fn a_folder_has_one_instance() {
    let folder = TempDir::new().expect("a folder");
    let first = Serving::start(&["demo", "--without-flow"], folder.path());
    first.note("still-here");
    for arguments in [
        &["demo", "--without-flow"][..],
        &["demo", "--fresh"],
        &["serve"],
        &["restore", "/dev/null"],
    ] {
        let refused = run(arguments, folder.path());
        assert!(!refused.status.success(), "{arguments:?}");
        let says = said(&refused);
        assert!(says.contains("Another Zesty Reed works on"), "{says}");
    }
    assert!(first.ask("GET /tanks/2/log", "").contains("still-here"));
}

#[test]
fn a_copy_made_while_it_runs_brings_everything_back() {
    let folder = TempDir::new().expect("a folder");
    let data = folder.path().join("data");
    let copy = folder.path().join("copy.db");
    let backup = ["backup", copy.to_str().expect("a path")];
    let serving = Serving::start(&["demo", "--without-flow"], &data);
    serving.note("in-the-copy");
    let made = run(&backup, &data);
    assert!(made.status.success(), "{}", said(&made));
    serving.note("after-the-copy");
    serving.stop();
    let again = run(&backup, &data);
    assert!(
        said(&again).contains("is there already"),
        "{}",
        said(&again)
    );
    // What is no copy leaves everything as it was.
    let none = folder.path().join("none.db");
    std::fs::write(&none, "no database at all").expect("written");
    let refused = run(&["restore", none.to_str().expect("a path")], &data);
    assert!(!refused.status.success());
    assert!(log_of(&data.join("zesty-reed.db")).contains("after-the-copy"));

    let restored = run(&["restore", copy.to_str().expect("a path")], &data);
    assert!(restored.status.success(), "{}", said(&restored));
    let log = log_of(&data.join("zesty-reed.db"));
    assert!(log.contains("in-the-copy") && !log.contains("after-the-copy"));
    let aside = data.join("zesty-reed.before-restore-1.db");
    assert!(log_of(&aside).contains("after-the-copy"), "kept aside");
    assert!(said(&run(&["check"], &data)).contains("is sound"));
}

#[test]
fn what_is_damaged_or_newer_is_told_and_not_touched() {
    let folder = TempDir::new().expect("a folder");
    let data = folder.path();
    Serving::start(&["demo", "--without-flow"], data).stop();
    let file = data.join("zesty-reed.db");
    let whole = std::fs::read(&file).expect("read");
    let mut damaged = whole.clone();
    let middle = damaged.len() / 2;
    damaged[middle..middle + 9000].fill(0xA5);
    // Version 99, as SQLite keeps it: four bytes from the sixtieth on.
    let mut newer = whole;
    newer[60..64].copy_from_slice(&99_u32.to_be_bytes());
    let nonsense = vec![7; 5000];
    let newest = "a newer version of the program wrote this";
    for (bytes, command, says) in [
        (&damaged, "check", "zesty-reed restore FILE"),
        (
            &nonsense,
            "check",
            "is damaged, and nothing was written to it",
        ),
        (&newer, "serve", newest),
        (&newer, "check", newest),
    ] {
        std::fs::write(&file, bytes).expect("written");
        let refused = run(&[command], data);
        assert!(!refused.status.success(), "{command}");
        assert!(said(&refused).contains(says), "{says}: {}", said(&refused));
        assert!(
            &std::fs::read(&file).expect("read") == bytes,
            "{command}: touched"
        );
    }
    // Even what is no database at all is told on the page from which a copy is put back.
    std::fs::write(&file, &nonsense).expect("written");
    let serving = Serving::start(&["serve", "--without-flow"], data);
    let page = serving.ask("GET /data", "");
    assert!(
        page.starts_with("HTTP/1.1 200") && page.contains("The file is damaged"),
        "{page}"
    );
    serving.stop();
    assert!(std::fs::read(&file).expect("read") == nonsense, "touched");
    let nothing = run(&["check"], &data.join("nowhere"));
    assert!(said(&nothing).contains("There are no records in"));
}

#[test]
fn everything_goes_into_one_file_and_into_an_empty_folder() {
    let folder = TempDir::new().expect("a folder");
    let (data, other) = (folder.path().join("data"), folder.path().join("other"));
    let file = folder.path().join("everything.zip");
    let path = file.to_str().expect("a path");
    let serving = Serving::start(&["demo", "--without-flow"], &data);
    serving.note("goes-along");
    let made = run(&["export", path], &data);
    assert!(made.status.success(), "{}", said(&made));
    assert!(
        !run(&["export", path], &data).status.success(),
        "not over a file that is there"
    );
    let taken = run(&["take-in", path], &other);
    assert!(
        said(&taken).contains("Taken in: 2 tanks"),
        "{}",
        said(&taken)
    );
    assert!(log_of(&other.join("zesty-reed.db")).contains("goes-along"));
    let again = said(&run(&["take-in", path], &other));
    assert!(again.contains("There are tanks here already"), "{again}");
    let refused = said(&run(&["take-in", path], &data));
    assert!(refused.contains("Another Zesty Reed works on"), "{refused}");
}
