//! Work of some seconds that a page listens to: told as it goes by server-sent events, and broken
//! off when nobody listens any more.

use std::convert::Infallible;
use std::ops::ControlFlow;

use axum::response::Sse;
use axum::response::sse::{Event, KeepAlive, KeepAliveStream};
use futures_util::StreamExt;
use futures_util::stream::BoxStream;
use tokio::sync::mpsc;

use crate::flows::whole_percent;
use crate::state::App;

/// Whoever listens.
pub(crate) struct Telling(mpsc::Sender<Event>);

impl Telling {
    /// Somebody still listens.
    pub(crate) fn go_on(&self) -> ControlFlow<()> {
        if self.0.is_closed() {
            ControlFlow::Break(())
        } else {
            ControlFlow::Continue(())
        }
    }

    /// Says how far it is: the share done, and what is being done.
    pub(crate) fn progress(&self, share: f32, words: &str) -> ControlFlow<()> {
        let event = progress(share, words);
        if self.0.blocking_send(event).is_err() {
            ControlFlow::Break(())
        } else {
            ControlFlow::Continue(())
        }
    }
}

fn progress(share: f32, words: &str) -> Event {
    Event::default()
        .event("progress")
        .data(format!("{} {words}", whole_percent(share)))
}

/// What a page hears.
pub(crate) type Heard = Sse<KeepAliveStream<BoxStream<'static, Result<Event, Infallible>>>>;

/// Does this work on a thread of its own once no other search is under way, and tells the page what
/// it gives: a piece of the page, or that it was not finished.
pub(crate) fn search(
    app: &App,
    work: impl FnOnce(&Telling) -> Option<String> + Send + 'static,
) -> Heard {
    let (events, heard) = mpsc::channel::<Event>(8);
    let turn = app.searches();
    tokio::spawn(async move {
        let _ = events
            .send(progress(0.0, "Waiting for another search"))
            .await;
        // One search at a time: they take a processor each.
        let Ok(turn) = turn.acquire_owned().await else {
            return;
        };
        let _ = tokio::task::spawn_blocking(move || {
            let telling = Telling(events);
            let last = match work(&telling) {
                Some(html) => Event::default().event("found").data(html),
                None => Event::default()
                    .event("failed")
                    .data("The search was not finished: the flow model failed; the log says how."),
            };
            // Nobody listens any more: nothing is lost.
            let _ = telling.0.blocking_send(last);
            drop(turn);
        })
        .await;
    });
    let stream = futures_util::stream::unfold(heard, |mut heard| async {
        heard.recv().await.map(|event| (Ok(event), heard))
    });
    Sse::new(stream.boxed()).keep_alive(KeepAlive::default())
}
