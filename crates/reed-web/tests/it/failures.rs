//! What fails is told to the keeper in words that help, and to the log with its causes.

use std::io::Write;
use std::sync::{Arc, Mutex, PoisonError};

use axum::http::StatusCode;
use tracing_subscriber::fmt::MakeWriter;

use crate::client::Client;

/// A log that a test can read.
#[derive(Clone, Default)]
struct Log(Arc<Mutex<Vec<u8>>>);

impl Write for Log {
    fn write(&mut self, bytes: &[u8]) -> std::io::Result<usize> {
        self.0
            .lock()
            .unwrap_or_else(PoisonError::into_inner)
            .write(bytes)
    }

    fn flush(&mut self) -> std::io::Result<()> {
        Ok(())
    }
}

impl MakeWriter<'_> for Log {
    type Writer = Self;

    fn make_writer(&self) -> Self {
        self.clone()
    }
}

#[tokio::test]
async fn the_log_says_which_statement_failed_and_why_the_page_does_not() {
    let client = Client::new();
    // What is to be traced is known before anybody listens: tests beside this one, to which nobody
    // listens, might else be the first to meet it just then.
    client.get("/cases/1").await;
    client
        .store
        .write(|db| -> Result<(), reed_store::StoreError> {
            db.execute_batch("ALTER TABLE readings RENAME TO gone")?;
            Ok(())
        })
        .expect("broken on purpose");
    let log = Log::default();
    let lines = tracing_subscriber::fmt()
        .with_ansi(false)
        .with_writer(log.clone())
        .finish();
    let _until_the_end = tracing::subscriber::set_default(lines);
    tracing::callsite::rebuild_interest_cache();
    let answer = client.get("/cases/1").await;
    assert_eq!(answer.status, StatusCode::INTERNAL_SERVER_ERROR);
    assert!(answer.text.contains("Nothing you entered before was lost"));
    assert!(!answer.text.contains("no such table") && !answer.text.contains("SELECT"));
    let said =
        String::from_utf8_lossy(&log.0.lock().unwrap_or_else(PoisonError::into_inner)).into_owned();
    for wanted in [
        "the last statement was “SELECT",
        "no such table: readings",
        "route=\"/cases/{case}\"",
        "path=\"/cases/1\"",
    ] {
        assert!(said.contains(wanted), "{wanted} is not in: {said}");
    }
}
