//! Processes that cannot outlive the tests: not after a failure, not after Ctrl-C, not after a
//! kill.
//!
//! A shell leads a process group of its own and reads a pipe whose only write end is in the test
//! process. When that process ends, however it ends, the kernel closes the pipe and the shell ends
//! its group. `Drop` alone would leave browsers behind when the tests are killed.

use std::io::{BufRead, BufReader};
use std::os::unix::process::CommandExt;
use std::path::Path;
use std::process::{Child, Command, Stdio};

const WATCH: &str = r#"trap : TERM INT HUP; "$@" & read -r _; kill -TERM 0; sleep 0.3; rm -rf "$ZR_SCRATCH"; kill -KILL 0"#;

/// A watched process.
pub(crate) struct Watched {
    shell: Child,
}

impl Watched {
    /// Starts a program and waits for the line of its output in which `pick` finds something.
    pub(crate) fn start(
        program: &Path,
        arguments: &[String],
        time_zone: &str,
        scratch: &Path,
        pick: impl Fn(&str) -> Option<String>,
    ) -> (Self, String) {
        let mut shell = Command::new("/bin/sh")
            .args(["-c", WATCH, "watch"])
            .arg(program)
            .args(arguments)
            .env("TZ", time_zone)
            .env("ZR_SCRATCH", scratch)
            .env("TMPDIR", scratch)
            .process_group(0)
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .expect("a shell");
        let mut lines = BufReader::new(shell.stdout.take().expect("piped")).lines();
        let found = lines
            .by_ref()
            .map_while(Result::ok)
            .find_map(|line| pick(&line));
        // A full pipe would stop the program: go on reading.
        std::thread::spawn(move || lines.for_each(drop));
        let found = found.unwrap_or_else(|| {
            panic!(
                "{} ended without saying where it listens",
                program.display()
            )
        });
        (Self { shell }, found)
    }

    /// Ends it at once, without a chance to tidy up.
    pub(crate) fn kill(mut self) {
        let group = format!("-{}", self.shell.id());
        Command::new("kill")
            .args(["-KILL", "--", &group])
            .status()
            .expect("kill is there");
        self.shell.wait().expect("it was started");
    }
}
