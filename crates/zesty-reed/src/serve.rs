//! Serving the application on this machine.

use std::fs::{File, TryLockError};
use std::io::Write as _;
use std::net::{IpAddr, Ipv4Addr, SocketAddr, UdpSocket};
use std::path::Path;
use std::sync::Arc;
use std::time::{Duration, Instant};

use anyhow::Context;
use jiff::SignedDuration;
use reed_store::access::Access;
use reed_store::{Store, StoreError, copies, settings, thinning};
use reed_web::{App, Clock, Door, Reach};
use tokio::net::TcpListener;
use tokio::sync::watch;
use tracing_subscriber::Layer as _;
use tracing_subscriber::filter::{LevelFilter, Targets};
use tracing_subscriber::layer::SubscriberExt as _;
use tracing_subscriber::util::SubscriberInitExt as _;

use crate::Serving;

/// The database of a folder.
pub(crate) const DATABASE: &str = "zesty-reed.db";

/// How long a folder is waited for: an instance that was killed holds it until the kernel has
/// cleared it away.
const LAST_BREATH: Duration = Duration::from_secs(1);

/// A folder of data that no other instance works on while this lives.
pub(crate) struct Lock {
    _file: File,
}

impl Lock {
    /// Takes the folder, making it if there is none.
    pub(crate) fn take(folder: &Path) -> anyhow::Result<Self> {
        make_private(folder)
            .with_context(|| format!("The data folder {} cannot be made", folder.display()))?;
        let path = folder.join("in-use");
        let file = File::options()
            .create(true)
            .write(true)
            .truncate(false)
            .open(&path)
            .with_context(|| format!("{} cannot be written", path.display()))?;
        let began = Instant::now();
        loop {
            match file.try_lock() {
                Ok(()) => return Ok(Self { _file: file }),
                Err(TryLockError::WouldBlock) if began.elapsed() < LAST_BREATH => {
                    std::thread::sleep(Duration::from_millis(20));
                }
                Err(TryLockError::WouldBlock) => anyhow::bail!(
                    "Another Zesty Reed works on {}. Stop it first, or give another folder with --data.",
                    folder.display()
                ),
                Err(TryLockError::Error(error)) => {
                    return Err(error)
                        .with_context(|| format!("{} cannot be locked", path.display()));
                }
            }
        }
    }
}

/// Makes a folder that nobody else on this machine can read; one that is there stays as it is.
pub(crate) fn make_private(folder: &Path) -> std::io::Result<()> {
    let mut builder = std::fs::DirBuilder::new();
    builder.recursive(true);
    #[cfg(unix)]
    std::os::unix::fs::DirBuilderExt::mode(&mut builder, 0o700);
    builder.create(folder)
}

/// Opens the data in a folder that was taken.
pub(crate) fn open(folder: &Path) -> anyhow::Result<Arc<Store>> {
    open_file(&folder.join(DATABASE))
}

/// Opens one database file.
pub(crate) fn open_file(file: &Path) -> anyhow::Result<Arc<Store>> {
    Ok(Arc::new(Store::open(file).with_context(|| {
        format!("{} cannot be opened", file.display())
    })?))
}

/// Serves until Ctrl-C or a termination signal; with made-up tanks to look at, and with or without a
/// copy each day.
pub(crate) fn run(
    store: &Arc<Store>,
    example: Option<Arc<Store>>,
    serving: &Serving,
    with_copies: bool,
) -> anyhow::Result<()> {
    log_to_stderr();
    let runtime = tokio::runtime::Runtime::new()?;
    // More threads than processors: the system shares those out among answers that take long.
    let answering = tokio::runtime::Builder::new_multi_thread()
        .worker_threads(ANSWERING)
        .thread_name("answering")
        .enable_all()
        .build()?;
    let answers = answering.handle().clone();
    let served = runtime.block_on(async {
        // Before anybody is told that it runs: who asks it to stop at once is heard.
        let mut stops = Stops::listen()?;
        let (doors, reach) = doors(store, serving).await?;
        let app = App::new(Arc::clone(store), Clock::System).reached(reach);
        let app = if serving.without_flow {
            app
        } else {
            app.with_flows()
        };
        let app = if let Some(example) = example {
            app.with_example(example)
        } else {
            app
        };
        tokio::spawn(thin_with_age(Arc::clone(store)));
        let app = if with_copies {
            tokio::spawn(copy_each_day(Arc::clone(store)));
            app.copying()
        } else {
            app
        };
        let (tell, told) = watch::channel(false);
        tokio::spawn(async move {
            stops.next().await;
            let _ = tell.send(true);
            // Whoever asks twice does not want to wait.
            stops.next().await;
            std::process::exit(EXIT_INTERRUPTED);
        });
        let asked = async |mut told: watch::Receiver<bool>| {
            let _ = told.wait_for(|is| *is).await;
        };
        tokio::select! {
            () = reed_web::run(doors, app, answers, asked(told.clone())) => {}
            // A request that is half sent, or a computation that nobody can wait for.
            () = async { asked(told).await; tokio::time::sleep(GRACE).await } => {}
        }
        anyhow::Ok(())
    });
    // Threads that still compute end with the program; what they were writing rolls back.
    answering.shutdown_background();
    runtime.shutdown_background();
    if store.damage().is_empty()
        && let Err(error) = store.close()
    {
        tracing::warn!(%error, "the log beside the database stays; it is read at the next start");
    }
    served
}

/// Opens every address that is listened on, and says where they are.
async fn doors(store: &Store, serving: &Serving) -> anyhow::Result<(Vec<Door>, Reach)> {
    let beyond: Vec<SocketAddr> = serving
        .listen
        .iter()
        .copied()
        .filter(|address| !address.ip().is_loopback())
        .collect();
    if !beyond.is_empty() && !Access::beside(store.path()).is_needed()? {
        let folder = store.path().parent().unwrap_or(Path::new("."));
        anyhow::bail!(
            "Other machines would come in at {} without being asked. Set a passphrase first: zesty-reed passphrase --data {}",
            beyond[0],
            folder.display()
        );
    }
    let listener = listen(serving.port).await?;
    say(&format!(
        "Zesty Reed is at http://{} (Ctrl-C stops it)",
        listener.local_addr()?
    ));
    let mut doors = vec![Door::in_clear(listener)];
    let mut reach = Reach {
        addresses: Vec::new(),
        names: serving.name.clone(),
        is_beyond: !beyond.is_empty(),
        is_by_tls: serving.certificate.is_some(),
    };
    for address in &serving.listen {
        let listener = TcpListener::bind(address)
            .await
            .with_context(|| format!("{address} cannot be listened on"))?;
        let port = listener.local_addr()?.port();
        let (door, scheme) = match (&serving.certificate, &serving.key) {
            (Some(certificate), Some(key)) => {
                let door = Door::by_tls(listener, certificate, key).with_context(|| {
                    format!(
                        "{} and {} cannot be used as certificate and key",
                        certificate.display(),
                        key.display()
                    )
                })?;
                (door, "https")
            }
            _ => (Door::in_clear(listener), "http"),
        };
        doors.push(door);
        let hosts = serving.name.iter().cloned();
        for host in hosts.chain(as_seen(address.ip())) {
            let url = format!("{scheme}://{host}:{port}");
            say(&format!("  and at {url}"));
            if !address.ip().is_loopback() {
                reach.addresses.push(url);
            }
        }
    }
    if reach.is_beyond && !reach.is_by_tls {
        say(
            "  Not encrypted: whoever listens on the network can read along. --certificate and --key change that.",
        );
    }
    Ok((doors, reach))
}

/// Tells whoever started it; nobody may be there to read it.
fn say(words: &str) {
    let _ = writeln!(std::io::stdout(), "{words}");
}

/// How other machines see an address; of “all of them” the one by which this machine reaches others.
fn as_seen(address: IpAddr) -> Option<String> {
    let seen = if address.is_unspecified() {
        outward(address.is_ipv4())?
    } else {
        address
    };
    Some(match seen {
        IpAddr::V4(address) => address.to_string(),
        IpAddr::V6(address) => format!("[{address}]"),
    })
}

/// The address by which this machine would reach others. Nothing is sent: the addresses that it is
/// asked about are set aside for documentation (RFC 5737 and 3849).
fn outward(is_v4: bool) -> Option<IpAddr> {
    let (own, other) = if is_v4 {
        ("0.0.0.0:0", "192.0.2.1:9")
    } else {
        ("[::]:0", "[2001:db8::1]:9")
    };
    let socket = UdpSocket::bind(own).ok()?;
    socket.connect(other).ok()?;
    Some(socket.local_addr().ok()?.ip())
}

/// Makes a copy of each day on which the program runs.
async fn copy_each_day(store: Arc<Store>) {
    const ASK_AGAIN: Duration = Duration::from_secs(15 * 60);
    loop {
        let store = Arc::clone(&store);
        let made = tokio::task::spawn_blocking(move || {
            // A file that is damaged has no copy made, and one that was put back is sound.
            let is_wanted = store.damage().is_empty() && store.read(settings::makes_copies)?;
            if is_wanted {
                copies::keep(store.path(), jiff::Zoned::now().date())?;
            }
            Ok::<_, StoreError>(())
        });
        if let Ok(Err(error)) = made.await {
            tracing::error!(%error, "no copy of today was made");
        }
        tokio::time::sleep(ASK_AGAIN).await;
    }
}

/// Thins what devices sent long ago, a day at a time.
async fn thin_with_age(store: Arc<Store>) {
    const ASK_AGAIN: Duration = Duration::from_secs(60 * 60);
    const BETWEEN_STEPS: Duration = Duration::from_millis(50);
    loop {
        let store = Arc::clone(&store);
        let thinned = tokio::task::spawn_blocking(move || {
            let days = store.read(settings::whole_days)?;
            let Some(days) = days.filter(|_| store.damage().is_empty()) else {
                return Ok(None);
            };
            let before = jiff::Timestamp::now() - SignedDuration::from_hours(24 * i64::from(days));
            store.write(|db| thinning::step(db, before))
        });
        let has_more = match thinned.await {
            Ok(Ok(thinned)) => thinned.is_some(),
            Ok(Err(error)) => {
                let error: StoreError = error;
                tracing::error!(%error, "old readings of devices were not thinned");
                false
            }
            Err(_) => false,
        };
        tokio::time::sleep(if has_more { BETWEEN_STEPS } else { ASK_AGAIN }).await;
    }
}

/// Answers that may be long in the making at once without holding others up.
const ANSWERING: usize = 16;
/// Requests under way are given so long once the program was asked to stop.
const GRACE: Duration = Duration::from_secs(2);
/// What shells say of a program that was interrupted.
const EXIT_INTERRUPTED: i32 = 130;

/// Warnings and errors, or what `RUST_LOG` asks for, such as `info,reed_web=debug`.
fn log_to_stderr() {
    let asked = std::env::var("RUST_LOG").ok();
    let filter = asked
        .and_then(|asked| asked.parse::<Targets>().ok())
        .unwrap_or_else(|| Targets::new().with_default(LevelFilter::WARN));
    let lines = tracing_subscriber::fmt::layer().with_writer(std::io::stderr);
    tracing_subscriber::registry()
        .with(lines.with_filter(filter))
        .init();
}

/// The port asked for, or any free one if it is taken.
async fn listen(port: u16) -> anyhow::Result<TcpListener> {
    match TcpListener::bind((Ipv4Addr::LOCALHOST, port)).await {
        Ok(listener) => Ok(listener),
        Err(error) if error.kind() == std::io::ErrorKind::AddrInUse => {
            eprintln!("Port {port} is taken; another one is used.");
            Ok(TcpListener::bind((Ipv4Addr::LOCALHOST, 0)).await?)
        }
        Err(error) => Err(error).with_context(|| format!("Port {port} cannot be opened")),
    }
}

/// Whoever asks the program to stop: Ctrl-C, or the termination signal that service managers send.
struct Stops {
    #[cfg(unix)]
    interrupt: tokio::signal::unix::Signal,
    #[cfg(unix)]
    terminate: tokio::signal::unix::Signal,
}

impl Stops {
    /// Listens from now on; what came before ended the program.
    fn listen() -> std::io::Result<Self> {
        #[cfg(unix)]
        use tokio::signal::unix::{SignalKind, signal};
        Ok(Self {
            #[cfg(unix)]
            interrupt: signal(SignalKind::interrupt())?,
            #[cfg(unix)]
            terminate: signal(SignalKind::terminate())?,
        })
    }

    /// The next time that somebody asks.
    async fn next(&mut self) {
        #[cfg(unix)]
        tokio::select! {
            _ = self.interrupt.recv() => {}
            _ = self.terminate.recv() => {}
        }
        #[cfg(not(unix))]
        let _ = tokio::signal::ctrl_c().await;
    }
}
