//! What was done on a day, what is left, and what to buy: for whoever owns the tanks.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State};
use jiff::civil::Date;
use reed_core::routine;
use reed_core::routine::State as Near;
use reed_core::routine::visits::Job;
use reed_store::{Connection, StoreError, TankId, entries, readings};
use serde::Deserialize;

use super::Walk;
use crate::error::PageError;
use crate::pages::tank::{Asking, day};
use crate::state::App;
use crate::view::Frame;

/// Of which day, and which tank.
#[derive(Debug, Default, Deserialize)]
#[serde(default)]
pub(super) struct Asked {
    /// Number of one tank; nothing for all.
    tank: String,
    /// As a date; today where nothing is said.
    day: String,
}

/// A tank in the report.
struct Told {
    name: String,
    done: Vec<String>,
    read: Vec<String>,
    left: Vec<String>,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/visit_report.html")]
pub(super) struct ReportPage {
    frame: Frame,
    day: String,
    tanks: Vec<Told>,
    buy: Vec<&'static str>,
}

impl ReportPage {
    fn read(
        db: &Connection,
        asking: &Asking,
        (only, on): (Option<TankId>, Date),
    ) -> Result<Self, StoreError> {
        let walk = Walk::read(db, asking, only)?;
        let today = asking.now.wall.date();
        let is_left = |job: &Job| job.task.state(today) >= Near::Due;
        let mut tanks = Vec::new();
        for (place, revision) in walk.tanks.iter().enumerate() {
            let id = revision.tank_id;
            let of_day = entries::since(db, id, on.at(0, 0, 0, 0))?;
            let done = of_day
                .iter()
                .filter(|kept| !kept.is_struck() && kept.entry.when.likely().date() == on)
                .filter(|kept| kept.entry.details.task.is_empty())
                .map(|kept| {
                    let words = kept.entry.words(&walk.units);
                    let note = &kept.entry.note;
                    if note.is_empty() {
                        words
                    } else {
                        format!("{words}: {note}")
                    }
                });
            let next_day = on.tomorrow().unwrap_or(on);
            let of_each = (on.at(0, 0, 0, 0), next_day.at(0, 0, 0, 0));
            let read = readings::latest_of_each(db, id, of_each, 1)?;
            let read = read
                .iter()
                .filter(|stored| !stored.is_struck())
                .map(|stored| {
                    let reading = &stored.reading;
                    format!("{} {}", reading.analyte.label, reading.print(&walk.units))
                });
            let own = walk.jobs.iter().filter(|job| job.tank == place);
            let left = own.filter(|job| is_left(job)).map(|job| {
                let put_off = job
                    .task
                    .put_off
                    .as_ref()
                    .map_or("", |put_off| &put_off.reason);
                if put_off.is_empty() {
                    job.task.words.clone()
                } else {
                    format!("{} ({put_off})", job.task.words)
                }
            });
            let skipped = of_day
                .iter()
                .filter(|kept| !kept.is_struck() && kept.entry.when.likely().date() == on)
                .filter_map(|kept| {
                    let task = routine::by_id(&kept.entry.details.task)?;
                    let note = &kept.entry.note;
                    let why = if note.is_empty() {
                        String::new()
                    } else {
                        format!(" ({note})")
                    };
                    Some(format!("{}, not this time{why}", task.words))
                });
            tanks.push(Told {
                name: revision.tank.name.clone(),
                done: done.collect(),
                read: read.collect(),
                left: left.chain(skipped).collect(),
            });
        }
        let soon: Vec<usize> = (0..walk.jobs.len())
            .filter(|job| walk.jobs[*job].task.state(today) >= Near::Soon)
            .collect();
        Ok(Self {
            frame: Frame::new("visit-report", "Report of a visit"),
            day: day(on, today),
            tanks,
            buy: walk.supplies(soon.iter()),
        })
    }
}

pub(super) async fn show(
    State(app): State<App>,
    Query(asked): Query<Asked>,
) -> Result<ReportPage, PageError> {
    let asking = Asking::of(&app);
    let today = asking.now.wall.date();
    let on = if asked.day.is_empty() {
        today
    } else {
        asked.day.parse().map_err(|_| {
            PageError::Refused(format!(
                "Day: “{}” is not accepted. Give a date such as {today}.",
                asked.day
            ))
        })?
    };
    let only = asked.tank.parse().ok().map(TankId);
    app.read(move |db| ReportPage::read(db, &asking, (only, on)))
        .await
}
