//! Serving the application on this machine.

use std::fs::{File, TryLockError};
use std::net::Ipv4Addr;
use std::path::Path;
use std::sync::Arc;
use std::time::Duration;

use anyhow::Context;
use reed_store::{Store, nightly};
use reed_web::{App, Clock};
use tokio::net::TcpListener;
use tokio::sync::watch;
use tracing_subscriber::Layer as _;
use tracing_subscriber::filter::{LevelFilter, Targets};
use tracing_subscriber::layer::SubscriberExt as _;
use tracing_subscriber::util::SubscriberInitExt as _;

/// The database of a folder.
pub(crate) const DATABASE: &str = "zesty-reed.db";

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
        match file.try_lock() {
            Ok(()) => Ok(Self { _file: file }),
            Err(TryLockError::WouldBlock) => anyhow::bail!(
                "Another Zesty Reed works on {}. Stop it first, or give another folder with --data.",
                folder.display()
            ),
            Err(TryLockError::Error(error)) => {
                Err(error).with_context(|| format!("{} cannot be locked", path.display()))
            }
        }
    }
}

/// Makes a folder that nobody else on this machine can read; one that is there stays as it is.
fn make_private(folder: &Path) -> std::io::Result<()> {
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

/// Serves until Ctrl-C or a termination signal; with made-up tanks to look at, with or without the
/// flow of tanks computed in the background, and with or without a copy each day.
pub(crate) fn run(
    store: &Arc<Store>,
    example: Option<Arc<Store>>,
    port: u16,
    with_flow: bool,
    with_copies: bool,
) -> anyhow::Result<()> {
    log_to_stderr();
    let runtime = tokio::runtime::Runtime::new()?;
    let served = runtime.block_on(async {
        let listener = listen(port).await?;
        println!(
            "Zesty Reed is at http://{} (Ctrl-C stops it)",
            listener.local_addr()?
        );
        let app = App::new(Arc::clone(store), Clock::System);
        let app = if with_flow { app.with_flows() } else { app };
        let app = if let Some(example) = example {
            app.with_example(example)
        } else {
            app
        };
        if with_copies {
            tokio::spawn(copy_each_day(Arc::clone(store)));
        }
        let (tell, told) = watch::channel(false);
        tokio::spawn(async move {
            stop().await;
            let _ = tell.send(true);
            // Whoever asks twice does not want to wait.
            stop().await;
            std::process::exit(EXIT_INTERRUPTED);
        });
        let asked = async |mut told: watch::Receiver<bool>| {
            let _ = told.wait_for(|is| *is).await;
        };
        tokio::select! {
            served = reed_web::run(listener, app, asked(told.clone())) => served?,
            // A request that is half sent, or a computation that nobody can wait for.
            () = async { asked(told).await; tokio::time::sleep(GRACE).await } => {}
        }
        anyhow::Ok(())
    });
    // Threads that still compute end with the program; what they were writing rolls back.
    runtime.shutdown_background();
    if let Err(error) = store.close() {
        tracing::warn!(%error, "the log beside the database stays; it is read at the next start");
    }
    served
}

/// Makes a copy of each day on which the program runs.
async fn copy_each_day(store: Arc<Store>) {
    const ASK_AGAIN: Duration = Duration::from_secs(15 * 60);
    loop {
        let store = Arc::clone(&store);
        let made = tokio::task::spawn_blocking(move || {
            nightly::keep(store.path(), jiff::Zoned::now().date())
        });
        if let Ok(Err(error)) = made.await {
            tracing::error!(%error, "no copy of today was made");
        }
        tokio::time::sleep(ASK_AGAIN).await;
    }
}

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

/// Resolves at Ctrl-C, or at the termination signal that service managers send.
async fn stop() {
    let interrupted = tokio::signal::ctrl_c();
    #[cfg(unix)]
    {
        use tokio::signal::unix::{SignalKind, signal};
        let Ok(mut terminated) = signal(SignalKind::terminate()) else {
            // Without the handler only Ctrl-C is left.
            let _ = interrupted.await;
            return;
        };
        tokio::select! {
            _ = interrupted => {}
            _ = terminated.recv() => {}
        }
    }
    #[cfg(not(unix))]
    let _ = interrupted.await;
}
