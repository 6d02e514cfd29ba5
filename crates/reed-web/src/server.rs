//! Connections: how many there may be, how long they may take to ask, in clear or by TLS.
//!
//! Axum's own server waits for ever for the end of a request's head. Here a connection that asks
//! nothing is closed, and where there are as many as there may be, the one that has been idle
//! longest makes room for the next.
//!
//! Answers are made on threads of their own, more of them than processors: one that is long in the
//! making, whatever it does, holds up neither connections nor other answers.

use std::collections::VecDeque;
use std::convert::Infallible;
use std::future::Future;
use std::io;
use std::net::SocketAddr;
use std::path::Path;
use std::pin::pin;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::Duration;

use axum::Router;
use axum::body::Body;
use axum::http::StatusCode;
use axum::response::{IntoResponse as _, Response};
use http_body_util::BodyExt as _;
use hyper::server::conn::http1;
use hyper::service::service_fn;
use hyper_util::rt::{TokioIo, TokioTimer};
use tokio::io::{AsyncRead, AsyncWrite};
use tokio::net::{TcpListener, TcpStream};
use tokio::runtime::Handle;
use tokio::sync::{Notify, watch};
use tokio::task::JoinSet;
use tokio_rustls::TlsAcceptor;
use tokio_rustls::rustls::ServerConfig;
use tokio_rustls::rustls::crypto::ring;
use tokio_rustls::rustls::pki_types::pem::PemObject as _;
use tokio_rustls::rustls::pki_types::{CertificateDer, PrivateKeyDer};
use tokio_util::task::AbortOnDropHandle;
use tower::ServiceExt as _;

/// So long the head of a request may take, from the moment the connection is free for it.
const HEAD: Duration = Duration::from_secs(20);
/// So long two sides may take to agree on a secret.
const HANDSHAKE: Duration = Duration::from_secs(10);
/// Connections at once; below what a process may have open by default.
const MOST: usize = 400;
/// Bytes of a request's head at most.
const LONGEST_HEAD: usize = 64 * 1024;

/// An address that is listened on.
pub struct Door {
    listener: TcpListener,
    tls: Option<TlsAcceptor>,
}

impl Door {
    /// In clear: whoever is on the network between can read along.
    pub fn in_clear(listener: TcpListener) -> Self {
        Self {
            listener,
            tls: None,
        }
    }

    /// By TLS, with a certificate and its key in PEM files.
    ///
    /// # Errors
    /// When a file cannot be read or the two do not belong together.
    pub fn by_tls(listener: TcpListener, certificate: &Path, key: &Path) -> io::Result<Self> {
        let chain = CertificateDer::pem_file_iter(certificate)
            .and_then(Iterator::collect::<Result<Vec<_>, _>>)
            .map_err(io::Error::other)?;
        let key = PrivateKeyDer::from_pem_file(key).map_err(io::Error::other)?;
        let mut config = ServerConfig::builder_with_provider(Arc::new(ring::default_provider()))
            .with_safe_default_protocol_versions()
            .and_then(|builder| builder.with_no_client_auth().with_single_cert(chain, key))
            .map_err(io::Error::other)?;
        config.alpn_protocols = vec![b"http/1.1".to_vec()];
        Ok(Self {
            listener,
            tls: Some(TlsAcceptor::from(Arc::new(config))),
        })
    }
}

/// Who asks; with every request.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Peer {
    pub(crate) address: SocketAddr,
    /// Nobody between can read along.
    pub(crate) is_by_tls: bool,
}

/// Answers at all doors, on the threads of `answering`, until `stop` resolves; requests under way are
/// finished.
pub(crate) async fn serve(
    doors: Vec<Door>,
    app: Router,
    answering: Handle,
    stop: impl Future<Output = ()> + Send,
) {
    let app = Answering { app, on: answering };
    let (tell, told) = watch::channel(false);
    let connections = Arc::new(Connections::default());
    let mut open = JoinSet::new();
    for door in doors {
        open.spawn(stand(
            door,
            app.clone(),
            Arc::clone(&connections),
            told.clone(),
        ));
    }
    stop.await;
    let _ = tell.send(true);
    while open.join_next().await.is_some() {}
}

/// The application, and the threads on which it answers.
#[derive(Clone)]
struct Answering {
    app: Router,
    on: Handle,
}

impl Answering {
    /// Answers a request; whoever goes away meanwhile breaks it off.
    async fn answer(&self, request: hyper::Request<Body>) -> Response {
        let answer = self.app.clone().oneshot(request);
        match AbortOnDropHandle::new(self.on.spawn(answer)).await {
            Ok(Ok(answer)) => answer,
            Err(_) => StatusCode::INTERNAL_SERVER_ERROR.into_response(),
        }
    }
}

/// Lets in whoever comes, until told to stop and all have been answered.
async fn stand(
    door: Door,
    app: Answering,
    connections: Arc<Connections>,
    mut told: watch::Receiver<bool>,
) {
    /// When the system has no connection to give.
    const BREATH: Duration = Duration::from_millis(100);
    let mut guests = JoinSet::new();
    loop {
        let accepted = tokio::select! {
            accepted = door.listener.accept() => accepted,
            _ = told.wait_for(|is| *is) => break,
        };
        while guests.try_join_next().is_some() {}
        let (stream, address) = match accepted {
            Ok(accepted) => accepted,
            Err(error) => {
                tracing::warn!(%error, "a connection could not be taken");
                tokio::time::sleep(BREATH).await;
                continue;
            }
        };
        let Some(seat) = connections.enter() else {
            continue;
        };
        let guest = Guest {
            seat,
            connections: Arc::clone(&connections),
            told: told.clone(),
        };
        guests.spawn(guest.greet(stream, address, door.tls.clone(), app.clone()));
    }
    while guests.join_next().await.is_some() {}
}

/// A connection.
struct Guest {
    seat: Arc<Seat>,
    connections: Arc<Connections>,
    told: watch::Receiver<bool>,
}

impl Guest {
    async fn greet(
        self,
        stream: TcpStream,
        address: SocketAddr,
        tls: Option<TlsAcceptor>,
        app: Answering,
    ) {
        let _ = stream.set_nodelay(true);
        let Some(tls) = tls else {
            let peer = Peer {
                address,
                is_by_tls: false,
            };
            return self.answer(stream, peer, app).await;
        };
        match tokio::time::timeout(HANDSHAKE, tls.accept(stream)).await {
            Ok(Ok(stream)) => {
                let peer = Peer {
                    address,
                    is_by_tls: true,
                };
                self.answer(stream, peer, app).await;
            }
            Ok(Err(error)) => tracing::debug!(%error, %address, "no secret was agreed on"),
            Err(_) => {}
        }
    }

    async fn answer(
        &self,
        stream: impl AsyncRead + AsyncWrite + Unpin + Send + 'static,
        peer: Peer,
        app: Answering,
    ) {
        let service = service_fn(|request: hyper::Request<hyper::body::Incoming>| {
            let busy = Busy::of(&self.seat);
            let mut request = request.map(Body::new);
            request.extensions_mut().insert(peer);
            let app = app.clone();
            async move {
                let answer = app.answer(request).await;
                // It is busy until the last of the answer is on its way.
                Ok::<_, Infallible>(answer.map(|body| {
                    body.map_frame(move |frame| {
                        let _ = &busy;
                        frame
                    })
                }))
            }
        });
        let connection = http1::Builder::new()
            .timer(TokioTimer::new())
            .header_read_timeout(HEAD)
            .max_buf_size(LONGEST_HEAD)
            .serve_connection(TokioIo::new(stream), service)
            .with_upgrades();
        let mut connection = pin!(connection);
        let mut told = self.told.clone();
        tokio::select! {
            _ = connection.as_mut() => return,
            () = self.seat.end.notified() => return,
            _ = told.wait_for(|is| *is) => connection.as_mut().graceful_shutdown(),
        }
        let _ = connection.await;
    }
}

impl Drop for Guest {
    fn drop(&mut self) {
        self.connections.leave(&self.seat);
    }
}

/// All connections, the oldest first.
#[derive(Debug, Default)]
struct Connections(Mutex<VecDeque<Arc<Seat>>>);

#[derive(Debug, Default)]
struct Seat {
    /// Requests that are being answered.
    busy: AtomicUsize,
    /// Somebody else needs the place.
    end: Notify,
}

impl Connections {
    fn all(&self) -> MutexGuard<'_, VecDeque<Arc<Seat>>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// A place, in which the connection that came first and asks nothing may have been; none where
    /// all are being answered.
    fn enter(&self) -> Option<Arc<Seat>> {
        let mut all = self.all();
        if all.len() >= MOST {
            let idle = all
                .iter()
                .position(|seat| seat.busy.load(Ordering::Relaxed) == 0)?;
            if let Some(seat) = all.remove(idle) {
                seat.end.notify_one();
            }
        }
        let seat = Arc::new(Seat::default());
        all.push_back(Arc::clone(&seat));
        Some(seat)
    }

    fn leave(&self, seat: &Arc<Seat>) {
        self.all().retain(|other| !Arc::ptr_eq(other, seat));
    }
}

/// A request that is being answered.
struct Busy(Arc<Seat>);

impl Busy {
    fn of(seat: &Arc<Seat>) -> Self {
        seat.busy.fetch_add(1, Ordering::Relaxed);
        Self(Arc::clone(seat))
    }
}

impl Drop for Busy {
    fn drop(&mut self) {
        self.0.busy.fetch_sub(1, Ordering::Relaxed);
    }
}

#[cfg(test)]
mod tests {
    use super::{Busy, Connections, MOST};
    use std::sync::atomic::Ordering;

    /// As many as there may be, and more: those that are answered stay, the oldest idle one goes.
    #[test]
    fn whoever_asks_nothing_makes_room() {
        let connections = Connections::default();
        let enter = || connections.enter();
        let seats: Vec<_> = (0..MOST).map(|_| enter().expect("room")).collect();
        let busy: Vec<_> = seats[..MOST - 1].iter().map(Busy::of).collect();
        let next = enter().expect("one of them is idle");
        assert_eq!(connections.all().len(), MOST);
        assert!(
            !connections
                .all()
                .iter()
                .any(|seat| std::sync::Arc::ptr_eq(seat, &seats[MOST - 1]))
        );
        let _one_more = Busy::of(&next);
        assert!(enter().is_none(), "all are being answered");
        drop(busy);
        assert_eq!(seats[0].busy.load(Ordering::Relaxed), 0);
        assert!(enter().is_some());
        connections.leave(&next);
        assert_eq!(connections.all().len(), MOST - 1);
    }
}
