//! The program with demo data of its own, on a free port.

use std::path::{Path, PathBuf};

use tempfile::TempDir;

use crate::watch::Watched;

/// A running program; its data lives as long as this.
pub(crate) struct App {
    pub(crate) address: String,
    process: Option<Watched>,
    folder: TempDir,
}

impl App {
    /// Starts with fresh demo data.
    pub(crate) fn start() -> Self {
        let folder = TempDir::new().expect("a folder");
        let (process, address) = launch(folder.path());
        Self { address, process: Some(process), folder }
    }

    /// Kills it and starts it again on the same data.
    pub(crate) fn kill_and_restart(&mut self) {
        if let Some(process) = self.process.take() {
            process.kill();
        }
        let (process, address) = launch(self.folder.path());
        self.process = Some(process);
        self.address = address;
    }
}

fn launch(folder: &Path) -> (Watched, String) {
    let data = folder.join("data").display().to_string();
    let arguments = ["demo", "--port", "0", "--data", &data].map(str::to_owned);
    // The watchdog deletes its scratch folder at the end; the data must survive a kill, so it lies beside it.
    let scratch = folder.join("scratch");
    std::fs::create_dir_all(&scratch).expect("a folder");
    Watched::start(&PathBuf::from(env!("CARGO_BIN_EXE_zesty-reed")), &arguments, &scratch, |line| {
        line.split_whitespace().find(|word| word.starts_with("http://")).map(str::to_owned)
    })
}
