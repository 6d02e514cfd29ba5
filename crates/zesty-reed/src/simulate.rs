//! Simulated devices: they send what real ones would, over the same address, as the twin of a tank
//! has it, with noise and the faults that probes have.

use std::path::PathBuf;
use std::time::Duration;

use anyhow::Context;
use clap::{Args, Subcommand, ValueEnum};
use http_body_util::BodyExt as _;
use hyper_util::client::legacy::Client;
use hyper_util::client::legacy::connect::HttpConnector;
use hyper_util::rt::TokioExecutor;
use jiff::{SignedDuration, Timestamp};
use reed_core::document::Document;
use reed_core::outlook::acidity::Acidity;
use reed_core::outlook::limits::Limit;
use reed_core::tank::{Analyte, Tank};
use reed_core::twin::{Stirring, Twin};

/// A town library's reading room, made up.
const TANK: &str = include_str!("../../../examples/reading-room.reed.json");

#[derive(Subcommand)]
pub(crate) enum Device {
    /// A probe of temperature, oxygen, pH and flow: the twin of a tank with noise, drift, a stuck
    /// value and drop-outs, sent to a program that runs.
    Probe(Probe),
    /// A laboratory that reports what it found in a sample of the water.
    Lab(Lab),
}

/// Where it sends to, and of which tank.
#[derive(Args)]
struct Target {
    /// The token that the page Devices showed.
    #[arg(long)]
    token: String,
    /// The program to send to.
    #[arg(long, default_value = "http://127.0.0.1:8737")]
    to: String,
    /// The tank whose twin is read, as a `.reed.json` file; without one a made-up tank.
    #[arg(long)]
    tank: Option<PathBuf>,
}

#[derive(Args)]
pub(crate) struct Lab {
    #[command(flatten)]
    target: Target,
    /// How the report is written.
    #[arg(long = "as", value_enum, default_value_t = Written::Csv)]
    written: Written,
    /// The sample was taken so many days ago.
    #[arg(long, default_value_t = 2, value_parser = clap::value_parser!(u32).range(0..=399))]
    days_ago: u32,
    /// The same number gives the same report.
    #[arg(long, default_value_t = 1)]
    seed: u64,
}

#[derive(Clone, Copy, ValueEnum)]
enum Written {
    Csv,
    Json,
}

#[derive(Args)]
pub(crate) struct Probe {
    #[command(flatten)]
    target: Target,
    /// Seconds from one reading to the next.
    #[arg(long, default_value_t = 60, value_parser = clap::value_parser!(u32).range(1..=86_400))]
    every: u32,
    /// Send what was read in so many hours before first, as after an outage.
    #[arg(long, default_value_t = 0, value_parser = clap::value_parser!(u32).range(0..=9_600))]
    hours_before: u32,
    /// Stop after so many readings from now on; without it go on until Ctrl-C.
    #[arg(long)]
    readings: Option<u32>,
    /// Oxygen is off by so much more each day, mg/L.
    #[arg(long, default_value_t = 0.0, allow_negative_numbers = true)]
    drift: f64,
    /// From this reading on, those before included, the same values are sent.
    #[arg(long)]
    stuck_after: Option<u32>,
    /// One reading in so many is lost.
    #[arg(long)]
    lose_one_in: Option<u32>,
    /// The same number gives the same noise.
    #[arg(long, default_value_t = 1)]
    seed: u64,
}

/// Noise of a cheap probe, one standard deviation: °C, mg/L, pH, share of the flow. From memory.
const NOISE: [f64; 4] = [0.05, 0.08, 0.02, 0.02];
/// How far the temperature goes up and down over a day, °C. From memory.
const SWING_C: f64 = 0.3;
/// Readings of one post, and those that it stores while nobody answers.
const AT_ONCE: usize = 2000;
const STORED: usize = 100_000;

/// What a probe reads, reading by reading.
struct Readings<'a> {
    probe: &'a Probe,
    tank: Tank,
    twin: Twin,
    acidity: Acidity,
    rng: fastrand::Rng,
    count: u32,
    last: [f64; 4],
    began: Option<Timestamp>,
}

impl Readings<'_> {
    /// About normally distributed: the sum of twelve throws.
    fn noise(&mut self) -> f64 {
        (0..12).map(|_| self.rng.f64()).sum::<f64>() - 6.0
    }

    /// What is read at a moment; nothing where it is lost.
    fn at(&mut self, at: Timestamp) -> Vec<serde_json::Value> {
        let began = *self.began.get_or_insert(at);
        let zoned = at.to_zoned(jiff::tz::TimeZone::system());
        let hour = f64::from(zoned.hour()) + f64::from(zoned.minute()) / 60.0;
        let days = at.duration_since(began).as_secs_f64() / 86_400.0;
        let turn = (hour - 16.0) / 24.0 * std::f64::consts::TAU;
        let [warm, oxygen, acid, flow] = NOISE.map(|spread| spread * self.noise());
        let truth = [
            self.tank.water_temperature().as_celsius() + SWING_C * turn.cos() + warm,
            (self.twin.day.at(hour) + self.probe.drift * days + oxygen).clamp(0.0, 20.0),
            self.acidity.ph_at(hour, 0.0) + acid,
            self.tank.filter_flow_l_per_h() * (1.0 + flow),
        ];
        let is_stuck = self
            .probe
            .stuck_after
            .is_some_and(|after| self.count >= after);
        if !is_stuck {
            self.last = truth;
        }
        self.count += 1;
        let is_lost = self
            .probe
            .lose_one_in
            .is_some_and(|many| self.rng.u32(0..many.max(1)) == 0);
        if is_lost {
            return Vec::new();
        }
        let read = [
            ("temperature", "°C"),
            ("oxygen", "mg/L"),
            ("ph", ""),
            ("flow", "L/h"),
        ];
        read.into_iter()
            .zip(self.last)
            .filter(|((what, _), value)| *what != "flow" || *value > 0.0)
            .map(|((what, unit), value)| {
                serde_json::json!({
                    "analyte": what,
                    "value": (value * 100.0).round() / 100.0,
                    "unit": unit,
                    "at": at.to_string(),
                })
            })
            .collect()
    }
}

/// Runs a simulated device until it is through.
pub(crate) fn run(device: &Device) -> anyhow::Result<()> {
    let runtime = tokio::runtime::Builder::new_current_thread()
        .enable_all()
        .build()
        .context("no room to run in")?;
    match device {
        Device::Probe(probe) => runtime.block_on(send(probe)),
        Device::Lab(lab) => runtime.block_on(report(lab)),
    }
}

impl Target {
    fn read_tank(&self) -> anyhow::Result<Tank> {
        let text = match &self.tank {
            Some(file) => std::fs::read_to_string(file)
                .with_context(|| format!("{} cannot be read", file.display()))?,
            None => TANK.to_owned(),
        };
        Ok(Document::read(&text)?.document.tank)
    }
}

async fn send(probe: &Probe) -> anyhow::Result<()> {
    let tank = probe.target.read_tank()?;
    let wall = jiff::Zoned::now().datetime();
    let mut readings = Readings {
        probe,
        twin: Twin::of(&tank),
        acidity: Acidity::of(&tank, Stirring::of(&tank, None), &[], wall),
        tank,
        rng: fastrand::Rng::with_seed(probe.seed),
        count: 0,
        last: [0.0; 4],
        began: None,
    };
    let client = client();
    let step = SignedDuration::from_secs(i64::from(probe.every));
    let now = Timestamp::now();
    let known = ask(&client, &probe.target).await?;
    println!("{known}");
    // What is kept there need not be sent again.
    let mut at = (now - SignedDuration::from_hours(i64::from(probe.hours_before)))
        .max(known.last.map_or(Timestamp::MIN, |last| last + step));
    // What could not be sent waits, as in a probe that stores.
    let mut waiting = Vec::new();
    while at < now {
        waiting.extend(readings.at(at));
        at += step;
    }
    for part in waiting.chunks(AT_ONCE) {
        send_readings(&client, &probe.target, part).await?;
    }
    waiting.clear();
    let mut left = probe.readings;
    loop {
        if let Some(left) = &mut left {
            let Some(one_less) = left.checked_sub(1) else {
                return Ok(());
            };
            *left = one_less;
        }
        waiting.extend(readings.at(Timestamp::now()));
        let from = waiting.len().saturating_sub(STORED);
        waiting.drain(..from);
        while !waiting.is_empty() {
            let part = &waiting[..waiting.len().min(AT_ONCE)];
            match send_readings(&client, &probe.target, part).await {
                Ok(()) => waiting.drain(..part.len()),
                // Who is answered with no need not ask again.
                Err(why) if left == Some(0) || !is_unanswered(&why) => return Err(why),
                Err(why) => {
                    eprintln!("{why:#}. {} readings wait.", waiting.len());
                    break;
                }
            };
        }
        if left != Some(0) {
            tokio::time::sleep(Duration::from_secs(u64::from(probe.every))).await;
        }
    }
}

/// What the program knows of the device.
struct KnownThere {
    name: String,
    tank: String,
    /// The latest reading that it keeps of it.
    last: Option<Timestamp>,
}

impl std::fmt::Display for KnownThere {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{}, for {}", self.name, self.tank)?;
        self.last
            .map_or(Ok(()), |last| write!(f, "; kept until {last}"))
    }
}

async fn ask(client: &Sending, target: &Target) -> anyhow::Result<KnownThere> {
    let said = answer(client, target, "device", None).await?;
    let said: serde_json::Value = serde_json::from_str(&said)?;
    let text = |key: &str| said[key].as_str().unwrap_or_default().to_owned();
    let latest = said["latest"].as_array().into_iter().flatten();
    Ok(KnownThere {
        name: text("name"),
        tank: text("tank"),
        last: latest
            .filter_map(|one| one["at"].as_str()?.parse().ok())
            .max(),
    })
}

/// Nobody was there to answer.
fn is_unanswered(why: &anyhow::Error) -> bool {
    why.is::<hyper_util::client::legacy::Error>()
}

type Sending = Client<HttpConnector, String>;

fn client() -> Sending {
    Client::builder(TokioExecutor::new()).build_http()
}

/// A line of a report: what was found, in which unit, how much, and how far that is off at most.
struct Found {
    analyte: &'static Analyte,
    value: f64,
    /// One standard deviation, as a share of the value.
    spread: f64,
}

/// What a laboratory finds in the water of a tank: invented, near what such a tank has, so that a
/// report has something in each of its lines.
fn found(tank: &Tank, seed: u64) -> Vec<Found> {
    let mut rng = fastrand::Rng::with_seed(seed);
    let acidity = Acidity::of(
        tank,
        Stirring::of(tank, None),
        &[],
        jiff::Zoned::now().datetime(),
    );
    let nitrate = Limit::of(Analyte::NITRATE, tank).map_or(5.0, |limit| limit.value);
    let all = [
        (Analyte::PH, acidity.ph_at(9.0, 0.0), 0.003),
        (Analyte::KH, acidity.dkh, 0.02),
        (Analyte::GH, acidity.dkh + 2.5, 0.02),
        (Analyte::AMMONIA, 0.02, 0.2),
        (Analyte::NITRITE, 0.01, 0.2),
        (Analyte::NITRATE, 0.6 * nitrate, 0.03),
        (Analyte::PHOSPHATE, 0.4, 0.05),
        (Analyte::COPPER, 0.004, 0.1),
    ];
    let line = |(analyte, value, spread): (&'static Analyte, f64, f64)| Found {
        analyte,
        value: value * (1.0 + spread * (2.0 * rng.f64() - 1.0)),
        spread,
    };
    all.into_iter().map(line).collect()
}

async fn report(lab: &Lab) -> anyhow::Result<()> {
    let tank = lab.target.read_tank()?;
    let at = Timestamp::now() - SignedDuration::from_hours(24 * i64::from(lab.days_ago));
    let lines = found(&tank, lab.seed);
    let many = lines.len();
    let (kind, body) = match lab.written {
        Written::Json => {
            let line = |found: &Found| {
                serde_json::json!({
                    "analyte": found.analyte.id,
                    "value": found.value,
                    "unit": found.analyte.units[0].symbol,
                    "spread": found.value * found.spread,
                    "at": at.to_string(),
                })
            };
            let readings: Vec<_> = lines.iter().map(line).collect();
            let body = serde_json::json!({ "readings": readings });
            ("application/json", body.to_string())
        }
        Written::Csv => {
            let mut body = "analyte,value,unit,at,spread\n".to_owned();
            for found in &lines {
                let (analyte, value) = (found.analyte, found.value);
                let spread = value * found.spread;
                let unit = analyte.units[0].symbol;
                body.push_str(&format!("{},{value},{unit},{at},{spread}\n", analyte.id));
            }
            ("text/csv", body)
        }
    };
    post(&client(), &lab.target, kind, body, many).await
}

async fn send_readings(
    client: &Sending,
    target: &Target,
    readings: &[serde_json::Value],
) -> anyhow::Result<()> {
    let body = serde_json::json!({ "readings": readings }).to_string();
    post(client, target, "application/json", body, readings.len()).await
}

async fn post(
    client: &Sending,
    target: &Target,
    kind: &str,
    body: String,
    many: usize,
) -> anyhow::Result<()> {
    let said = answer(client, target, "readings", Some((kind, body))).await?;
    println!("{many} readings sent: {said}");
    Ok(())
}

/// What an address of the API answers: to a post of this kind, or to a question.
async fn answer(
    client: &Sending,
    target: &Target,
    of: &str,
    post: Option<(&str, String)>,
) -> anyhow::Result<String> {
    let address = format!("{}/api/v1/{of}", target.to.trim_end_matches('/'));
    let request = hyper::Request::builder()
        .uri(&address)
        .header("authorization", format!("Bearer {}", target.token));
    let request = match post {
        Some((kind, body)) => request
            .method("POST")
            .header("content-type", kind)
            .body(body),
        None => request.body(String::new()),
    };
    let answer = client
        .request(request.with_context(|| format!("{address} is no address"))?)
        .await
        .with_context(|| format!("{address} does not answer"))?;
    let status = answer.status();
    let body = answer.into_body().collect().await?.to_bytes();
    let said = String::from_utf8_lossy(&body).into_owned();
    anyhow::ensure!(status.is_success(), "{address} answered {status}: {said}");
    Ok(said)
}
