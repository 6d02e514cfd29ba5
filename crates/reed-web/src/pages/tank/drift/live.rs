//! The water while things are moved: a socket over which moves come in and packed speeds go out.

use std::sync::mpsc::{Receiver, RecvTimeoutError, TrySendError, sync_channel};
use std::time::{Duration, Instant};

use axum::body::Bytes;
use axum::extract::State;
use axum::extract::ws::{Message, WebSocket, WebSocketUpgrade};
use axum::response::Response;
use reed_core::flow::TankScene;
use reed_core::tank::{Move, Tank};
use reed_flow::{Live, Settings};
use reed_store::{TankId, tanks};
use tokio::sync::mpsc;

use crate::error::PageError;
use crate::pages::ids::Id;
use crate::state::App;

/// Pictures in a second.
const RATE: f32 = 12.0;
/// How many times as fast as life the water goes on, so that a change is seen through in seconds.
const PACE: f32 = 10.0;
/// A session to which nothing comes stops after so long.
const ALONE: Duration = Duration::from_secs(60);
/// A picture that is not taken for so long has nobody who looks at it.
const UNREAD: Duration = Duration::from_secs(10);
/// Bytes of a move at most.
const LONGEST_MOVE: usize = 4096;
/// Moves that wait for the water.
const MOVES_AHEAD: usize = 64;

pub(super) async fn open(
    State(app): State<App>,
    Id(id): Id<TankId>,
    socket: WebSocketUpgrade,
) -> Result<Response, PageError> {
    let tank = app.read(move |db| Ok(tanks::latest(db, id)?.tank)).await?;
    Ok(socket
        .max_message_size(LONGEST_MOVE)
        .max_frame_size(LONGEST_MOVE)
        .on_upgrade(move |socket| session(app, tank, socket)))
}

/// Moves that come in, one [`Move`] each, go to the water's thread; what it sends goes out. Either
/// ends with the other.
async fn session(app: App, tank: Tank, mut socket: WebSocket) {
    let (moves, waiting) = sync_channel::<String>(MOVES_AHEAD);
    // One picture ahead: a slow line holds the water up instead of filling memory.
    let (pictures, mut ready) = mpsc::channel::<Vec<u8>>(1);
    let seats = app.live_seats();
    let Ok(seat) = seats.try_acquire_owned() else {
        // The page then settles step by step.
        let _ = socket.send(Message::Close(None)).await;
        return;
    };
    let water = tokio::task::spawn_blocking(move || {
        run(tank, &waiting, &pictures);
        drop(seat);
    });
    loop {
        tokio::select! {
            picture = ready.recv() => {
                let Some(packed) = picture else { break };
                let sent = socket.send(Message::Binary(Bytes::from(packed)));
                // Whoever does not look any more has gone, and somebody else may want the seat.
                if !matches!(tokio::time::timeout(UNREAD, sent).await, Ok(Ok(()))) {
                    break;
                }
            }
            message = socket.recv() => match message {
                // No hand moves faster than they are taken: what comes beyond is left out.
                Some(Ok(Message::Text(text)))
                    if !matches!(moves.try_send(text.to_string()), Err(TrySendError::Disconnected(_))) => {}
                Some(Ok(Message::Ping(_) | Message::Pong(_))) => {}
                _ => break,
            },
        }
    }
    drop((moves, ready));
    let _ = water.await;
}

/// Steps the water until the session ends or is left alone.
fn run(mut tank: Tank, waiting: &Receiver<String>, pictures: &mpsc::Sender<Vec<u8>>) {
    let scene = TankScene::of(&tank).scene;
    let settings = Settings::of(&scene);
    let mut live = Live::begun(scene, &settings);
    let (mut heard, beat) = (Instant::now(), Duration::from_secs_f32(1.0 / RATE));
    let mut due = Instant::now();
    while heard.elapsed() < ALONE {
        // A move is answered at once, not at the next beat.
        let first = match waiting.recv_timeout(due.saturating_duration_since(Instant::now())) {
            Ok(one) => Some(one),
            Err(RecvTimeoutError::Timeout) => None,
            Err(RecvTimeoutError::Disconnected) => return,
        };
        due = Instant::now() + beat;
        for one in first.into_iter().chain(waiting.try_iter()) {
            // A move that cannot be leaves the water as it is; the page asks for the try and is
            // told why. What is no move at all does not keep the seat.
            if let Ok(one) = one.parse::<Move>() {
                heard = Instant::now();
                let _ = one.apply(&mut tank);
            }
        }
        let scene = TankScene::of(&tank).scene;
        if scene != *live.scene() {
            live.change(scene);
        }
        live.advance(PACE / RATE);
        if pictures.blocking_send(live.field().packed()).is_err() {
            return;
        }
    }
}
