//! Many posts, few writes. A write is on the disk before it is answered, which takes milliseconds
//! however little is written; posts that come meanwhile wait together and are written together.

use std::sync::{Mutex, PoisonError};

use reed_store::devices::{self, Device, Posted, Sent};
use tokio::sync::oneshot;
use tokio::sync::oneshot::error::TryRecvError;

use crate::alarms::Heard;
use crate::error::PageError;
use crate::state::App;

/// A post that waits.
#[derive(Debug)]
struct Waiting {
    device: Device,
    sent: Vec<Sent>,
    tell: oneshot::Sender<Posted>,
}

/// Where posts wait for the next write.
#[derive(Debug, Default)]
pub(crate) struct Intake {
    waiting: Mutex<Vec<Waiting>>,
    /// Whoever has the turn writes for all who wait.
    turn: tokio::sync::Mutex<()>,
}

impl Intake {
    fn waiting(&self) -> std::sync::MutexGuard<'_, Vec<Waiting>> {
        // Whoever panicked while holding it left whole posts.
        self.waiting.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Stores what a device sent, together with all that wait; on the disk when this returns.
    pub(crate) async fn post(
        &self,
        app: &App,
        device: Device,
        sent: Vec<Sent>,
    ) -> Result<Posted, PageError> {
        let (tell, mut told) = oneshot::channel();
        self.waiting().push(Waiting { device, sent, tell });
        let turn = self.turn.lock().await;
        match told.try_recv() {
            Ok(posted) => return Ok(posted),
            Err(TryRecvError::Closed) => return Err(not_stored()),
            Err(TryRecvError::Empty) => {}
        }
        let all = std::mem::take(&mut *self.waiting());
        let now = app.clock.now().utc;
        let known = app.bounds();
        let written = app
            .write(move |db| {
                all.into_iter()
                    .map(|one| {
                        let posted = devices::take(
                            db,
                            &one.device,
                            &one.sent,
                            now,
                            known.of(db, one.device.tank)?,
                        )?;
                        Ok((one, posted))
                    })
                    .collect::<Result<Vec<_>, reed_store::StoreError>>()
            })
            .await;
        // Those whose end was dropped with the failed write hear of it by that.
        for (one, posted) in written? {
            if posted.stored > 0 {
                for sent in one.sent {
                    // Nobody may listen.
                    let _ = app.heard().send(Heard::Read {
                        tank: one.device.tank,
                        device: one.device.id,
                        reading: sent.reading,
                    });
                }
            }
            if posted.rings {
                let _ = app.heard().send(Heard::Rings(one.device.tank));
            }
            let _ = one.tell.send(posted);
        }
        drop(turn);
        told.await.map_err(|_| not_stored())
    }
}

fn not_stored() -> PageError {
    PageError::Failed("what was posted could not be stored".into())
}
