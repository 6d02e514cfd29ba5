//! The program with demo data of its own, on a free port.

use std::path::{Path, PathBuf};
use std::sync::OnceLock;

use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::{Offset, TimeZone};
use reed_store::access::Access;
use tempfile::TempDir;

use crate::watch::Watched;

/// A running program; its data lives as long as this.
pub(crate) struct App {
    pub(crate) address: String,
    process: Option<Watched>,
    folder: TempDir,
}

impl App {
    /// Starts with fresh demo data. Without the flow model: its evidence would come in the middle
    /// of a test, as soon as it is through.
    pub(crate) fn start() -> Self {
        Self::begin(&["demo", "--without-flow"])
    }

    /// Starts with fresh demo data, and the flow model at work.
    pub(crate) fn start_with_flow() -> Self {
        Self::begin(&["demo"])
    }

    /// Starts with nothing entered.
    pub(crate) fn start_empty() -> Self {
        Self::begin(&["serve", "--without-flow"])
    }

    /// The same, with the flow model at work.
    pub(crate) fn start_empty_with_flow() -> Self {
        Self::begin(&["serve"])
    }

    fn begin(command: &[&str]) -> Self {
        let folder = TempDir::new().expect("a folder");
        let (process, address) = launch(folder.path(), command, "0");
        Self {
            address,
            process: Some(process),
            folder,
        }
    }

    /// A folder of its own for files.
    pub(crate) fn folder(&self) -> &Path {
        self.folder.path()
    }

    /// From now on it asks for this passphrase.
    pub(crate) fn guard(&self, passphrase: &str) {
        Access::beside(&self.folder.path().join("data/zesty-reed.db"))
            .set(Some(passphrase))
            .expect("written");
    }

    /// Kills it: nobody answers at its address any more.
    pub(crate) fn kill(&mut self) {
        if let Some(process) = self.process.take() {
            process.kill();
        }
    }

    /// Starts it again on the same data, at the same address.
    pub(crate) fn start_again(&mut self) {
        let port = self.address.rsplit(':').next().expect("a port").to_owned();
        let (process, address) = launch(self.folder.path(), &["demo", "--without-flow"], &port);
        assert_eq!(address, self.address, "somebody else took the port");
        self.process = Some(process);
    }

    /// Kills it and starts it again on the same data.
    pub(crate) fn kill_and_restart(&mut self) {
        self.kill();
        let (process, address) = launch(self.folder.path(), &["demo", "--without-flow"], "0");
        self.process = Some(process);
        self.address = address;
    }
}

/// Hours by which the clock of every app is ahead of universal time: with them it was between nine
/// and ten in the morning when the tests began. Oxygen depends on the hour: what a reading proves at
/// dawn it need not prove at dusk, and the tests run at any time.
fn hours_ahead() -> i8 {
    static AHEAD: OnceLock<i8> = OnceLock::new();
    *AHEAD.get_or_init(|| 9 - Timestamp::now().to_zoned(TimeZone::UTC).hour())
}

/// What the clock on the wall of every app says.
pub(crate) fn now() -> DateTime {
    Offset::constant(hours_ahead()).to_datetime(Timestamp::now())
}

fn launch(folder: &Path, command: &[&str], port: &str) -> (Watched, String) {
    let data = folder.join("data").display().to_string();
    let arguments: Vec<String> = command
        .iter()
        .copied()
        .chain(["--port", port, "--data", &data])
        .map(str::to_owned)
        .collect();
    // The watchdog deletes its scratch folder at the end; the data must survive a kill, so it lies
    // beside it.
    let scratch = folder.join("scratch");
    std::fs::create_dir_all(&scratch).expect("a folder");
    Watched::start(
        &PathBuf::from(env!("CARGO_BIN_EXE_zesty-reed")),
        &arguments,
        // POSIX counts hours behind, not ahead.
        &format!("<NINE>{:+}", -hours_ahead()),
        &scratch,
        |line| {
            line.split_whitespace()
                .find(|word| word.starts_with("http://"))
                .map(str::to_owned)
        },
    )
}
