//! The program: arguments in, the right crate called.

mod demo;
mod diagnose;
mod evaluate;
mod flow;
mod passphrase;
mod records;
mod serve;
mod simulate;

use std::io::{ErrorKind, Write as _};
use std::net::SocketAddr;
use std::path::PathBuf;
use std::process::ExitCode;

use clap::{Args, Parser, Subcommand};

/// Diagnose an aquarium's filtration faults and plan what to change.
#[derive(Parser)]
#[command(version, about)]
struct Arguments {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Serve with demo data: two made-up tanks, one with an open case. What you change is kept.
    Demo {
        /// Throw the demo data away and start over.
        #[arg(long)]
        fresh: bool,
        #[command(flatten)]
        serving: Serving,
    },
    /// Serve your own data.
    Serve {
        #[command(flatten)]
        serving: Serving,
        /// Make no copy each day in the folder `backups`, whatever is chosen on the page “Your data”.
        #[arg(long)]
        without_copies: bool,
    },
    /// Set the passphrase that is asked for before any page is shown; the first line of the input
    /// where that is no terminal. Whoever was logged in is asked again.
    Passphrase {
        /// Ask for none any more. Other machines are then not listened to.
        #[arg(long)]
        remove: bool,
        /// Folder of the data; by default `reed-data`.
        #[arg(long)]
        data: Option<PathBuf>,
    },
    /// Write everything as one zip file of open formats: sheets, documents, pictures.
    Export {
        /// The file; by default one with the date in the current folder.
        file: Option<PathBuf>,
        /// Folder of the data; by default `reed-data`.
        #[arg(long)]
        data: Option<PathBuf>,
    },
    /// Take such a zip file in, where no tank is yet.
    TakeIn {
        /// The file.
        file: PathBuf,
        /// Folder of the data; by default `reed-data`.
        #[arg(long)]
        data: Option<PathBuf>,
    },
    /// Look through all records: whether every page of the file and every link in it is sound.
    Check {
        /// Folder of the data; by default `reed-data`.
        #[arg(long)]
        data: Option<PathBuf>,
    },
    /// Copy all records, also while the program runs; the copy is looked through before it counts.
    /// Photos come to lie in `photos` beside it.
    Backup {
        /// The copy; by default a file with the date in the current folder.
        file: Option<PathBuf>,
        /// Folder of the data; by default `reed-data`.
        #[arg(long)]
        data: Option<PathBuf>,
    },
    /// Put a copy in place of the records; those are kept aside.
    Restore {
        /// The copy.
        file: PathBuf,
        /// Folder of the data; by default `reed-data`.
        #[arg(long)]
        data: Option<PathBuf>,
    },
    /// Weigh the causes of a case in a `.reed.json` file.
    Diagnose {
        /// The file.
        file: PathBuf,
        /// Print JSON instead of text.
        #[arg(long)]
        json: bool,
        /// Settle the flow of the tank as drawn first, as the pages do: some ten seconds.
        #[arg(long)]
        flow: bool,
    },
    /// Settle the flow of a tank and tell what it means: the loop, slow places, where muck rests,
    /// good places for an intake.
    Flow {
        /// The `.reed.json` file, or the id of a set-up such as `community-internal`.
        file: PathBuf,
        /// Write the flow here, for any general viewer of flows.
        #[arg(long)]
        vtk: Option<PathBuf>,
        /// Write the flow here as comma-separated values.
        #[arg(long)]
        csv: Option<PathBuf>,
    },
    /// Rehearse the diagnosis on made-up cases whose truth is known, and print how it did.
    Evaluate {
        /// How many cases.
        #[arg(long, default_value_t = 200)]
        cases: usize,
        /// The same number gives the same cases.
        #[arg(long, default_value_t = 1)]
        seed: u64,
    },
    /// Print the JSON Schema of `.reed.json` files.
    Schema,
    /// Print the description of what devices talk to, OpenAPI 3.1.
    Openapi,
    /// Send what a made-up device reads to a program that runs.
    Simulate {
        #[command(subcommand)]
        device: simulate::Device,
    },
}

/// Where to keep data and where to listen.
#[derive(Args)]
struct Serving {
    /// Folder of the data; by default `reed-data`, or `demo-data` for the demo, in the current
    /// folder.
    #[arg(long)]
    data: Option<PathBuf>,
    /// Port on this machine; 0 for any free one.
    #[arg(long, default_value_t = 8737)]
    port: u16,
    /// Address and port to listen on besides, such as 0.0.0.0:8738 for all of the network; as often
    /// as there are any. Needs a passphrase, unless it is of this machine alone.
    #[arg(long, value_name = "ADDRESS:PORT")]
    listen: Vec<SocketAddr>,
    /// A name under which other machines know this one, such as reed.lan; as often as there are any.
    #[arg(long, value_name = "NAME")]
    name: Vec<String>,
    /// Encrypt what goes over the addresses of `--listen`: the certificate, a PEM file.
    #[arg(long, value_name = "FILE", requires = "key")]
    certificate: Option<PathBuf>,
    /// The key of the certificate, a PEM file.
    #[arg(long, value_name = "FILE", requires = "certificate")]
    key: Option<PathBuf>,
    /// Do not compute where the water goes: for machines that have no processor to spare.
    #[arg(long)]
    without_flow: bool,
}

fn main() -> ExitCode {
    match run(Arguments::parse().command).and_then(|text| print(&text)) {
        Ok(()) => ExitCode::SUCCESS,
        Err(error) => {
            eprintln!("{error:#}");
            ExitCode::FAILURE
        }
    }
}

/// Whoever has read enough closes the pipe: that is no failure.
fn print(text: &str) -> anyhow::Result<()> {
    let mut out = std::io::stdout().lock();
    match out.write_all(text.as_bytes()).and_then(|()| out.flush()) {
        Err(error) if error.kind() != ErrorKind::BrokenPipe => Err(error.into()),
        _ => Ok(()),
    }
}

/// Where the data to be served are.
fn folder_of(serving: &Serving, otherwise: &str) -> PathBuf {
    serving
        .data
        .clone()
        .unwrap_or_else(|| PathBuf::from(otherwise))
}

/// Where one's own data are.
fn data_folder(said: Option<PathBuf>) -> PathBuf {
    said.unwrap_or_else(|| PathBuf::from("reed-data"))
}

/// Does what was asked for; what it has to say.
fn run(command: Command) -> anyhow::Result<String> {
    match command {
        Command::Demo { fresh, serving } => {
            let folder = folder_of(&serving, "demo-data");
            let _lock = serve::Lock::take(&folder)?;
            let store = demo::open(&folder, fresh)?;
            serve::run(&store, None, &serving, false)?;
            Ok(String::new())
        }
        Command::Serve {
            serving,
            without_copies,
        } => {
            let folder = folder_of(&serving, "reed-data");
            let _lock = serve::Lock::take(&folder)?;
            let store = records::open(&folder)?;
            let example = demo::example(&folder)?;
            serve::run(&store, Some(example), &serving, !without_copies)?;
            Ok(String::new())
        }
        Command::Passphrase { remove, data } => passphrase::run(&data_folder(data), remove),
        Command::Export { file, data } => records::export(&data_folder(data), file),
        Command::TakeIn { file, data } => records::take_in(&data_folder(data), &file),
        Command::Check { data } => records::check(&data_folder(data)),
        Command::Backup { file, data } => records::backup(&data_folder(data), file),
        Command::Restore { file, data } => records::restore(&data_folder(data), &file),
        Command::Diagnose { file, json, flow } => diagnose::run(&file, json, flow),
        Command::Flow { file, vtk, csv } => flow::run(&file, vtk.as_deref(), csv.as_deref()),
        Command::Evaluate { cases, seed } => Ok(evaluate::run(cases, seed)),
        Command::Schema => Ok(reed_core::document::SCHEMA.to_owned()),
        Command::Openapi => Ok(reed_web::api::openapi()),
        Command::Simulate { device } => simulate::run(&device).map(|()| String::new()),
    }
}
