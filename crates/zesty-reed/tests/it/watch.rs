//! Processes that cannot outlive the tests: not after a failure, not after Ctrl-C, not after a
//! kill.
//!
//! A shell leads a process group of its own and reads a pipe whose only write end is in the test
//! process. When that process ends, however it ends, the kernel closes the pipe and the shell ends
//! its group. `Drop` alone would leave browsers behind when the tests are killed. The shell lets go
//! of the program's output, which therefore ends with the program: nobody waits for a word of one
//! that has refused to start.

use std::io::{BufRead, BufReader};
use std::os::unix::process::CommandExt;
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

const WATCH: &str = r#"trap : TERM INT HUP; "$@" & exec >&-; read -r _; kill -TERM 0; sleep 0.3; rm -rf "$ZR_SCRATCH"; kill -KILL 0"#;

/// How long a program may take to say where it listens.
const PATIENCE: Duration = Duration::from_secs(60);

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
        let lines = BufReader::new(shell.stdout.take().expect("piped")).lines();
        let (tell, told) = std::sync::mpsc::channel();
        // A full pipe would stop the program: it is read to its end, heard or not.
        std::thread::spawn(move || {
            for line in lines.map_while(Result::ok) {
                tell.send(line).ok();
            }
        });
        let until = Instant::now() + PATIENCE;
        let found = std::iter::from_fn(|| {
            told.recv_timeout(until.saturating_duration_since(Instant::now()))
                .ok()
        })
        .find_map(|line| pick(&line))
        .unwrap_or_else(|| panic!("{} did not say where it listens", program.display()));
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

#[test]
#[should_panic(expected = "did not say where it listens")]
fn a_program_that_ends_without_a_word_is_not_waited_for() {
    let scratch = tempfile::TempDir::new().expect("a folder");
    let end = Path::new("/bin/true");
    Watched::start(end, &[], "UTC", scratch.path(), |line| {
        Some(line.to_owned())
    });
}
