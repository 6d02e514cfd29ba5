//! Connections from elsewhere: a passphrase first, encrypted where there is a certificate; and those
//! that ask nothing, or without end, hold nobody up.

use std::io::{Read as _, Write as _};
use std::net::TcpStream;
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

use tempfile::TempDir;

use crate::records::{Serving, program, said};

/// An address of this machine that counts as one of elsewhere: not of its loopback.
const ALL: &str = "0.0.0.0:0";

fn set_passphrase(words: &str, data: &Path) -> String {
    let mut child = program(&["passphrase"], data)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .expect("the program");
    let mut input = child.stdin.take().expect("piped");
    writeln!(input, "{words}").expect("typed");
    drop(input);
    said(&child.wait_with_output().expect("it ends"))
}

#[test]
fn other_machines_are_let_in_only_with_a_passphrase() {
    let folder = TempDir::new().expect("a folder");
    let data = folder.path();
    let arguments = ["demo", "--without-flow", "--listen", ALL];
    let refused = program(&arguments, data).output().expect("the program");
    let says = said(&refused);
    assert!(
        !refused.status.success() && says.contains("Set a passphrase first"),
        "{says}"
    );
    let short = set_passphrase("short", data);
    assert!(
        short.contains("has 5 characters; 10 to 200 are accepted"),
        "{short}"
    );
    assert!(set_passphrase("three plain words", data).contains("The passphrase is set"));

    let serving = Serving::start(&arguments, data);
    let login = serving.ask("GET /tanks/1", "");
    assert!(login.starts_with("HTTP/1.1 401"), "{login}");
    let entered = serving.ask("POST /login", "passphrase=three+plain+words&to=/");
    assert!(
        entered.starts_with("HTTP/1.1 303") && entered.contains("HttpOnly"),
        "{entered}"
    );
    // What the command line changes holds at once for the program that runs.
    set_passphrase("three other words", data);
    let old = serving.ask("POST /login", "passphrase=three+plain+words&to=/");
    assert!(old.starts_with("HTTP/1.1 422"), "{old}");
}

/// A certificate for this test alone, made by the common tool; none where the machine lacks it.
fn certificate(folder: &Path) -> Option<(String, String)> {
    let (certificate, key) = (folder.join("c.pem"), folder.join("k.pem"));
    let made = Command::new("openssl")
        .args([
            "req",
            "-x509",
            "-newkey",
            "ec",
            "-pkeyopt",
            "ec_paramgen_curve:prime256v1",
            "-nodes",
        ])
        .args([
            "-days",
            "2",
            "-subj",
            "/CN=localhost",
            "-addext",
            "subjectAltName=DNS:localhost,IP:127.0.0.1",
        ])
        .arg("-keyout")
        .arg(&key)
        .arg("-out")
        .arg(&certificate)
        .output()
        .ok()?;
    assert!(made.status.success(), "{}", said(&made));
    Some((certificate.display().to_string(), key.display().to_string()))
}

#[test]
fn a_certificate_encrypts_and_one_that_does_not_fit_is_told() {
    let folder = TempDir::new().expect("a folder");
    let data = folder.path().join("data");
    let Some((certificate, key)) = certificate(folder.path()) else {
        eprintln!("no openssl here: left out");
        return;
    };
    let listen = ["demo", "--without-flow", "--listen", "127.0.0.1:0"];
    let with = |certificate: &str, key: &str| {
        let more = ["--certificate", certificate, "--key", key];
        [&listen[..], &more]
            .concat()
            .into_iter()
            .map(str::to_owned)
            .collect::<Vec<_>>()
    };
    let wrong = with(&certificate, &certificate);
    let wrong: Vec<&str> = wrong.iter().map(String::as_str).collect();
    let refused = program(&wrong, &data).output().expect("the program");
    assert!(
        said(&refused).contains("cannot be used as certificate and key"),
        "{}",
        said(&refused)
    );

    let right = with(&certificate, &key);
    let right: Vec<&str> = right.iter().map(String::as_str).collect();
    let serving = Serving::start(&right, &data);
    let mut child = Command::new("openssl")
        .args([
            "s_client",
            "-quiet",
            "-verify_return_error",
            "-CAfile",
            &certificate,
            "-connect",
            &serving.others[0],
        ])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::null())
        .spawn()
        .expect("openssl");
    let mut input = child.stdin.take().expect("piped");
    write!(
        input,
        "GET /health HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\r\n"
    )
    .expect("sent");
    let mut answer = String::new();
    child
        .stdout
        .take()
        .expect("piped")
        .read_to_string(&mut answer)
        .expect("an answer");
    let _ = child.kill();
    let _ = child.wait();
    drop(input);
    assert!(
        answer.starts_with("HTTP/1.1 200") && answer.ends_with("ok\n"),
        "{answer}"
    );
}

/// A thousand connections that ask nothing, two hundred halves of a head and two hundred of a body:
/// whoever asks is answered, and the halves are closed.
#[test]
fn those_who_ask_nothing_hold_nobody_up() {
    let folder = TempDir::new().expect("a folder");
    let serving = Serving::start(&["demo", "--without-flow"], folder.path());
    let connect = || TcpStream::connect(&serving.address);
    // More at once than a process may have open in most shells, so some may be refused here.
    let idle: Vec<_> = (0..600).filter_map(|_| connect().ok()).collect();
    let halves = |text: &str| -> Vec<TcpStream> {
        let half = || {
            let mut stream = connect().ok()?;
            stream.write_all(text.as_bytes()).ok()?;
            Some(stream)
        };
        (0..200).filter_map(|_| half()).collect()
    };
    let mut heads = halves("GET / HTTP/1.1\r\nHost: localhost\r\nHalf");
    let mut bodies = halves(
        "POST /tanks/1/log HTTP/1.1\r\nHost: localhost\r\nSec-Fetch-Site: same-origin\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: 500\r\n\r\nwhat=",
    );
    let began = Instant::now();
    for _ in 0..20 {
        assert!(serving.ask("GET /health", "").ends_with("ok\n"));
    }
    assert!(
        began.elapsed() < Duration::from_secs(10),
        "{:?}",
        began.elapsed()
    );
    assert!(idle.len() > 300 && heads.len() > 100);
    // Closed, with or without a word that it took too long; not left open.
    for half in [heads.last_mut(), bodies.last_mut()] {
        let half = half.expect("some");
        half.set_read_timeout(Some(Duration::from_secs(60)))
            .expect("set");
        let mut rest = Vec::new();
        let is_reset = |why: std::io::Error| why.kind() == std::io::ErrorKind::ConnectionReset;
        let closed = half.read_to_end(&mut rest);
        assert!(closed.is_ok() || closed.is_err_and(is_reset));
    }
    // A head without end is told so, or cut off.
    let mut flood = connect().expect("it listens");
    let line = format!("X-Flood: {}\r\n", "x".repeat(1000));
    let _ = flood.write_all(b"GET / HTTP/1.1\r\nHost: localhost\r\n");
    for _ in 0..2000 {
        if flood.write_all(line.as_bytes()).is_err() {
            break;
        }
    }
    let _ = flood.set_read_timeout(Some(Duration::from_secs(5)));
    let mut answer = Vec::new();
    let ended = flood.read_to_end(&mut answer);
    let told = String::from_utf8_lossy(&answer);
    let is_reset = ended.is_err_and(|why| why.kind() == std::io::ErrorKind::ConnectionReset);
    assert!(is_reset || told.starts_with("HTTP/1.1 431"), "{told}");
}
