//! Connections from elsewhere: a passphrase first, encrypted where there is a certificate; and those
//! that ask nothing, or without end, hold nobody up.

use std::io::{Read as _, Write as _};
use std::net::TcpStream;
use std::path::Path;
use std::process::Stdio;
use std::sync::Arc;
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

/// A certificate for `localhost` that nobody but these tests trusts, and its key.
const CERTIFICATE: &str = concat!(
    env!("CARGO_MANIFEST_DIR"),
    "/tests/certificate/certificate.pem"
);
const KEY: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/certificate/key.pem");

/// Asks over TLS, trusting that certificate alone.
async fn ask_by_tls(address: &str) -> std::io::Result<String> {
    use tokio::io::{AsyncReadExt as _, AsyncWriteExt as _};
    use tokio_rustls::TlsConnector;
    use tokio_rustls::rustls::crypto::ring;
    use tokio_rustls::rustls::pki_types::pem::PemObject as _;
    use tokio_rustls::rustls::pki_types::{CertificateDer, ServerName};
    use tokio_rustls::rustls::{ClientConfig, RootCertStore};
    let mut roots = RootCertStore::empty();
    roots
        .add(CertificateDer::from_pem_file(CERTIFICATE).expect("ours"))
        .expect("a certificate");
    let config = ClientConfig::builder_with_provider(Arc::new(ring::default_provider()))
        .with_safe_default_protocol_versions()
        .expect("known versions")
        .with_root_certificates(roots)
        .with_no_client_auth();
    let stream = tokio::net::TcpStream::connect(address).await?;
    let name = ServerName::try_from("localhost").expect("a name");
    let mut stream = TlsConnector::from(Arc::new(config))
        .connect(name, stream)
        .await?;
    let asked = "GET /health HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\r\n";
    stream.write_all(asked.as_bytes()).await?;
    let mut answer = Vec::new();
    stream.read_to_end(&mut answer).await?;
    Ok(String::from_utf8_lossy(&answer).into_owned())
}

#[tokio::test]
async fn a_certificate_encrypts_and_one_that_does_not_fit_is_told() {
    let folder = TempDir::new().expect("a folder");
    let with = |key: &'static str| {
        let listen = ["demo", "--without-flow", "--listen", "127.0.0.1:0"];
        [&listen[..], &["--certificate", CERTIFICATE, "--key", key]].concat()
    };
    let refused = program(&with(CERTIFICATE), folder.path())
        .output()
        .expect("the program");
    let says = said(&refused);
    assert!(
        says.contains("cannot be used as certificate and key"),
        "{says}"
    );

    let serving = Serving::start(&with(KEY), folder.path());
    let answer = ask_by_tls(&serving.others[0]).await.expect("an answer");
    assert!(
        answer.starts_with("HTTP/1.1 200") && answer.ends_with("ok\n"),
        "{answer}"
    );
    // The other door is in clear, and this one is not.
    assert!(ask_by_tls(&serving.address).await.is_err());
    let mut in_clear = TcpStream::connect(&serving.others[0]).expect("it listens");
    let _ = in_clear.write_all(b"GET /health HTTP/1.1\r\nHost: localhost\r\n\r\n");
    let mut answer = Vec::new();
    let _ = in_clear.read_to_end(&mut answer);
    assert!(!String::from_utf8_lossy(&answer).contains("HTTP/1.1"));
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
