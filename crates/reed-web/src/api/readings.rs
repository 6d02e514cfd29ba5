//! Readings of a device, many at once.

use axum::Json;
use axum::body::Bytes;
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::{IntoResponse, Response};
use jiff::{SignedDuration, Timestamp};
use reed_core::tank::{Analyte, Reading, analyte};
use reed_core::units::{Unit, plain};
use reed_store::devices::Sent;
use serde::{Deserialize, Serialize};

use super::{device, problem, unknown_token};
use crate::clock::Moment;
use crate::error::PageError;
use crate::state::App;

/// Readings of one post, and their bytes, at most: a month of minutes of one thing comes in a few.
const MOST: usize = 10_000;
pub(crate) const LARGEST_POST: usize = 4 * 1024 * 1024;
/// A device's clock may be ahead by so much, and what it kept during an outage be as old. Judgements.
const AHEAD: SignedDuration = SignedDuration::from_mins(2);
const OLDEST: SignedDuration = SignedDuration::from_hours(400 * 24);

/// A post.
#[derive(Debug, Deserialize, utoipa::ToSchema)]
pub(super) struct Post {
    /// What was read, in any order; what was sent before is known again by what was read and when.
    readings: Vec<Read>,
}

/// Something that was read.
#[derive(Debug, Deserialize, utoipa::ToSchema)]
struct Read {
    /// What, by its id (`do`, `temperature`, `ph`, `flow`, `nitrate`, …) or as the pages call it.
    #[schema(example = "oxygen")]
    analyte: String,
    /// How much, in the unit that is named.
    #[schema(example = 7.4)]
    value: f64,
    /// The unit; empty for what has none, such as pH.
    #[schema(example = "mg/L")]
    unit: String,
    /// When, with its offset from UTC.
    #[schema(example = "2026-03-10T08:30:00Z")]
    at: String,
    /// One standard deviation, in the same unit; without it that of a usual kit is taken.
    #[serde(default)]
    #[schema(example = 0.1)]
    spread: Option<f64>,
}

/// What came of a post.
#[derive(Debug, Serialize, utoipa::ToSchema)]
struct Taken {
    /// Readings that were stored.
    #[schema(example = 1)]
    stored: usize,
    /// Those that were there already.
    #[schema(example = 0)]
    known: usize,
    /// Those that were not taken; the others were.
    refused: Vec<Refused>,
}

/// A reading that was not taken.
#[derive(Debug, Serialize, utoipa::ToSchema)]
struct Refused {
    /// Its place in the post, counted from zero.
    #[schema(example = 3)]
    index: usize,
    /// Which field.
    #[schema(example = "unit")]
    field: &'static str,
    /// Why, with what would be taken.
    why: String,
}

/// Takes readings of a device.
///
/// Answered when everything is on the disk. A post may come twice, as after an answer that was lost:
/// each reading is stored once. What cannot be is named and left out, and the rest is taken.
#[utoipa::path(
    post,
    path = "/api/v1/readings",
    request_body(
        content((Post = "application/json"), (String = "text/csv", example = json!(SHEET))),
        description = "As JSON, or as a sheet whose first line names its columns: analyte, value, unit, at, and spread where it is known.",
    ),
    security(("device" = [])),
    responses(
        (status = 200, description = "Taken, but for what is named.", body = Taken),
        (status = 401, description = "No device shows such a token.", body = super::Problem),
        (status = 413, description = "Too many at once.", body = super::Problem),
        (status = 422, description = "It is no post as described.", body = super::Problem),
    )
)]
pub(super) async fn take(
    State(app): State<App>,
    headers: HeaderMap,
    body: Bytes,
) -> Result<Response, PageError> {
    let Some(device) = device(&app, &headers).await? else {
        return Ok(unknown_token());
    };
    let post = match Post::of(&headers, &body) {
        Ok(post) => post,
        Err(why) => {
            return Ok(problem(
                StatusCode::UNPROCESSABLE_ENTITY,
                format!("This is no post as /api/v1/openapi.json describes it: {why}."),
            ));
        }
    };
    if post.readings.len() > MOST {
        let why = format!(
            "{} readings at once; at most {MOST} are taken. Send them in parts.",
            post.readings.len()
        );
        return Ok(problem(StatusCode::PAYLOAD_TOO_LARGE, why));
    }
    let now = app.clock.now();
    let (mut sent, mut refused) = (Vec::new(), Vec::new());
    for (index, read) in post.readings.iter().enumerate() {
        match read.understood(&now, |at| app.clock.wall_at(at)) {
            Ok(one) => sent.push(one),
            Err((field, why)) => refused.push(Refused { index, field, why }),
        }
    }
    let posted = app.intake().post(&app, device, sent).await?;
    Ok(Json(Taken {
        stored: posted.stored,
        known: posted.known,
        refused,
    })
    .into_response())
}

/// A sheet as it may be posted.
const SHEET: &str = "analyte,value,unit,at,spread\nnitrate,6.2,mg/L N,2026-03-10T08:30:00Z,0.2\nph,7.1,,2026-03-10T08:30:00Z,\n";

impl Post {
    /// By what it says that it is; as JSON where it says nothing.
    fn of(headers: &HeaderMap, body: &[u8]) -> Result<Self, String> {
        let is_sheet = headers
            .get(header::CONTENT_TYPE)
            .is_some_and(|kind| kind.as_bytes().starts_with(b"text/csv"));
        if !is_sheet {
            return serde_json::from_slice(body).map_err(|why| why.to_string());
        }
        let mut sheet = csv::ReaderBuilder::new()
            .trim(csv::Trim::All)
            .from_reader(body);
        let rows: Result<Vec<Read>, csv::Error> = sheet.deserialize().collect();
        let readings = rows.map_err(|why| why.to_string())?;
        Ok(Self { readings })
    }
}

/// Which field is at fault, and why.
type Fault = (&'static str, String);

impl Read {
    fn understood(
        &self,
        now: &Moment,
        wall_at: impl Fn(Timestamp) -> jiff::civil::DateTime,
    ) -> Result<Sent, Fault> {
        let analyte = self.analyte()?;
        let unit = self.unit_of(analyte)?;
        let value = unit.to_base(self.value);
        if !analyte.holds(value) {
            let (low, high) = (unit.from_base(analyte.low), unit.from_base(analyte.high));
            let why = format!(
                "{} cannot be. Accepted is {} to {} {}.",
                self.value,
                plain(low),
                plain(high),
                unit.symbol
            );
            return Err(("value", why));
        }
        let at = self.moment(now)?;
        let usual = Reading::usual(analyte, value, wall_at(at));
        let spread = self.spread_of(analyte, unit)?.unwrap_or(usual.spread);
        Ok(Sent {
            reading: Reading {
                spread,
                kit: None,
                ..usual
            },
            at,
        })
    }

    /// By its id, or as the pages call it.
    fn analyte(&self) -> Result<&'static Analyte, Fault> {
        let called = |one: &&&Analyte| one.label.eq_ignore_ascii_case(&self.analyte);
        let by_label = || Analyte::ALL.iter().find(called).copied();
        analyte(&self.analyte).or_else(by_label).ok_or_else(|| {
            let all: Vec<&str> = Analyte::ALL.iter().map(|one| one.id).collect();
            let why = format!(
                "“{}” is not known. Known are {}.",
                self.analyte,
                all.join(", ")
            );
            ("analyte", why)
        })
    }

    fn unit_of(&self, analyte: &Analyte) -> Result<&'static Unit, Fault> {
        let named = self.unit.trim();
        let lower = named.to_lowercase();
        let is_named = |unit: &&Unit| unit.symbol == named || unit.also.contains(&lower.as_str());
        analyte.units.iter().find(is_named).ok_or_else(|| {
            let all: Vec<String> = analyte
                .units
                .iter()
                .map(|unit| format!("“{}”", unit.symbol))
                .collect();
            let why = format!("“{named}” is no unit of it. Name {}.", all.join(" or "));
            ("unit", why)
        })
    }

    fn moment(&self, now: &Moment) -> Result<Timestamp, Fault> {
        let at: Timestamp = self.at.parse().map_err(|_| {
            let why = format!(
                "“{}” is no moment. Give it with its offset from UTC, such as {}.",
                self.at, now.utc
            );
            ("at", why)
        })?;
        if at > now.utc + AHEAD {
            let why = format!(
                "{at} lies ahead; here it is {}. Set the device’s clock.",
                now.utc
            );
            return Err(("at", why));
        }
        if at < now.utc - OLDEST {
            let why = format!("{at} lies more than 400 days back. Bring it in as a sheet.");
            return Err(("at", why));
        }
        Ok(at)
    }

    /// In the first unit of what is read; none where it is not said.
    fn spread_of(&self, analyte: &Analyte, unit: &Unit) -> Result<Option<f64>, Fault> {
        let Some(spread) = self.spread else {
            return Ok(None);
        };
        let in_base = spread * unit.factor;
        let most = (analyte.high - analyte.low) / 4.0;
        if in_base > 0.0 && in_base <= most {
            return Ok(Some(in_base));
        }
        let most = plain(most / unit.factor);
        let why = format!("{spread} is not accepted. Give a number above 0, at most {most}.");
        Err(("spread", why))
    }
}
