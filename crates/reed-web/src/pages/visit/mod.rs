//! Visits: what is due in all tanks, gathered into walks; the sheet of the next walk, to be printed
//! or done with one thumb; and what is told to the owner afterwards.

mod calendar;
mod report;

use std::collections::BTreeSet;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Query, State};
use axum::routing::{get, post};
use reed_core::routine::feeding::Plan;
use reed_core::routine::visits::{Job, Rules, Visit, left_over, visits, waits};
use reed_core::tank::Tank;
use reed_core::units::Units;
use reed_store::tanks::Revision;
use reed_store::{Connection, StoreError, TankId, settings, tanks};
use serde::Deserialize;

use crate::error::PageError;
use crate::pages::tank::{Asking, Doing, TaskLine, day};
use crate::state::App;
use crate::view::Frame;

pub(crate) use calendar::is_feed;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/visit", get(show))
        .route("/visit/report", get(report::show))
        .route("/visit/calendar.ics", get(calendar::file))
        .route("/visit/feed", post(calendar::draw))
        .route("/calendar/{feed}", get(calendar::feed))
}

/// For which tanks, how long, how often.
#[derive(Clone, Debug, Default, Deserialize)]
#[serde(default)]
struct Asked {
    /// Number of one tank; nothing for all.
    tank: String,
    minutes: String,
    /// Days between two visits.
    gap: String,
}

/// Minutes that a visit may be given, and days between two.
const MINUTES: [u32; 6] = [20, 30, 45, 60, 90, 120];
const GAPS: [(u32, &str); 4] = [
    (1, "any day"),
    (7, "a week apart"),
    (14, "two weeks apart"),
    (30, "monthly"),
];

impl Asked {
    fn tank(&self) -> Option<TankId> {
        self.tank.parse().ok().map(TankId)
    }

    /// What is not on the lists is as usual.
    fn rules(&self) -> Rules {
        let minutes = self.minutes.parse().ok();
        let minutes = minutes.filter(|minutes| MINUTES.contains(minutes));
        let gap = self.gap.parse::<u32>().ok();
        let gap = gap.filter(|gap| GAPS.iter().any(|(days, _)| days == gap));
        Rules {
            budget_min: minutes.map_or(Rules::USUAL.budget_min, f64::from),
            gap_days: gap.map_or(Rules::USUAL.gap_days, i64::from),
            // A monthly visit is seen three times ahead.
            ahead_days: gap.map_or(Rules::USUAL.ahead_days, |gap| i64::from(gap.max(10) * 3)),
        }
    }
}

/// Every tank with its tasks, in walking order.
struct Walk {
    tanks: Vec<Revision>,
    jobs: Vec<Job>,
    units: Units,
}

impl Walk {
    fn read(db: &Connection, asking: &Asking, only: Option<TankId>) -> Result<Self, StoreError> {
        let mut tanks = tanks::all(db)?;
        if let Some(only) = only {
            tanks.retain(|revision| revision.tank_id == only);
        }
        let mut jobs = Vec::new();
        for (place, revision) in tanks.iter().enumerate() {
            let tasks = asking.tasks(db, revision)?;
            jobs.extend(tasks.into_iter().map(|task| Job { tank: place, task }));
        }
        Ok(Self {
            tanks,
            jobs,
            units: settings::units(db)?,
        })
    }

    fn line(&self, job: usize, today: jiff::civil::Date) -> TaskLine {
        let Job { tank, task } = &self.jobs[job];
        let revision = &self.tanks[*tank];
        let tank: &Tank = &revision.tank;
        TaskLine::of(task, revision.tank_id, tank, &self.units, today)
    }

    /// These jobs tank by tank; the first of all is what to do next.
    fn stops(&self, jobs: &[usize], today: jiff::civil::Date) -> Vec<Stop> {
        let mut stops: Vec<Stop> = Vec::new();
        for job in jobs {
            let line = TaskLine {
                is_next: stops.is_empty(),
                ..self.line(*job, today)
            };
            match stops.last_mut().filter(|stop| stop.id == line.tank) {
                Some(stop) => stop.tasks.push(line),
                None => stops.push(Stop {
                    id: line.tank,
                    name: self.tanks[self.jobs[*job].tank].tank.name.clone(),
                    feeding: Plan::of(&self.tanks[self.jobs[*job].tank].tank).words(),
                    tasks: vec![line],
                }),
            }
        }
        stops
    }

    /// What is due on a day and not among these jobs, in words.
    fn left(&self, jobs: &[usize], on: jiff::civil::Date) -> Vec<String> {
        let left = left_over(&self.jobs, jobs, on).into_iter();
        let waiting = left.map(|job| &self.jobs[job]).filter(|job| waits(job));
        waiting
            .map(|Job { tank, task }| format!("{}: {}", self.tanks[*tank].tank.name, task.words))
            .collect()
    }

    /// What these jobs use up, each once.
    fn supplies<'a>(&'a self, jobs: impl Iterator<Item = &'a usize>) -> Vec<&'static str> {
        let all: BTreeSet<&'static str> = jobs
            .flat_map(|job| self.jobs[*job].task.supplies)
            .copied()
            .collect();
        all.into_iter().collect()
    }

    /// A tank's share of a visit, in words.
    fn in_words(&self, visit: &Visit) -> Vec<String> {
        let tanks: BTreeSet<usize> = visit.jobs.iter().map(|job| self.jobs[*job].tank).collect();
        let of_tank = |tank: usize| {
            let own = visit
                .jobs
                .iter()
                .filter(|job| self.jobs[**job].tank == tank);
            let tasks: Vec<&str> = own.map(|job| self.jobs[*job].task.words.as_str()).collect();
            format!("{}: {}", self.tanks[tank].tank.name, tasks.join("; "))
        };
        tanks.into_iter().map(of_tank).collect()
    }
}

/// A tank on the sheet.
struct Stop {
    id: TankId,
    name: String,
    /// What is fed and when, for whoever stands in.
    feeding: String,
    tasks: Vec<TaskLine>,
}

/// A later walk, in words.
struct Later {
    day: String,
    minutes: String,
    tanks: Vec<String>,
}

/// A choice in a list.
struct Choice {
    value: String,
    words: String,
    chosen: bool,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/visit.html")]
struct VisitPage {
    frame: Frame,
    /// As of when it is.
    as_of: String,
    /// The day of the sheet.
    day: String,
    is_today: bool,
    lede: String,
    stops: Vec<Stop>,
    left: Vec<String>,
    later: Vec<Later>,
    buy: Vec<&'static str>,
    tanks: Vec<Choice>,
    minutes: Vec<Choice>,
    gaps: Vec<Choice>,
    /// Address of the calendar feed, where there is one.
    feed: Option<String>,
    units: String,
    back: &'static str,
}

fn minutes(minutes: f64) -> String {
    format!("about {:.0} minutes", minutes.max(1.0))
}

/// How many of something, in words.
fn counted(many: usize, what: &str) -> String {
    if many == 1 {
        format!("{many} {what}")
    } else {
        format!("{many} {what}s")
    }
}

/// The tanks that a visit can be of.
fn tank_choices(db: &Connection, chosen: Option<TankId>) -> Result<Vec<Choice>, StoreError> {
    let all = Choice {
        value: String::new(),
        words: "all tanks".to_owned(),
        chosen: chosen.is_none(),
    };
    let each = tanks::all(db)?.into_iter().map(|one| Choice {
        value: one.tank_id.to_string(),
        words: one.tank.name,
        chosen: chosen == Some(one.tank_id),
    });
    Ok(std::iter::once(all).chain(each).collect())
}

/// How long a visit may take, and how far apart two are.
fn rule_choices(rules: &Rules) -> (Vec<Choice>, Vec<Choice>) {
    let minutes = MINUTES.iter().map(|many| Choice {
        value: many.to_string(),
        words: format!("{many} minutes"),
        chosen: (f64::from(*many) - rules.budget_min).abs() < 0.5,
    });
    let gaps = GAPS.iter().map(|(days, words)| Choice {
        value: days.to_string(),
        words: (*words).to_owned(),
        chosen: i64::from(*days) == rules.gap_days,
    });
    (minutes.collect(), gaps.collect())
}

impl VisitPage {
    fn read(db: &Connection, asking: &Asking, asked: &Asked) -> Result<Self, StoreError> {
        let walk = Walk::read(db, asking, asked.tank())?;
        let (rules, today) = (asked.rules(), asking.now.wall.date());
        let planned = visits(&walk.jobs, rules, today);
        let next = planned.first();
        let on = next.map_or(today, |visit| visit.day);
        let jobs: &[usize] = next.map_or(&[], |visit| &visit.jobs);
        let stops = walk.stops(jobs, today);
        let later = planned.iter().skip(1).map(|visit| Later {
            day: day(visit.day, today),
            minutes: minutes(visit.minutes),
            tanks: walk.in_words(visit),
        });
        let lede = match next {
            None => "Nothing is due in the weeks ahead.".to_owned(),
            Some(visit) => format!(
                "{} in {}, {}.",
                counted(jobs.len(), "task"),
                counted(stops.len(), "tank"),
                minutes(visit.minutes)
            ),
        };
        let (minutes, gaps) = rule_choices(&rules);
        Ok(Self {
            frame: Frame::new("visit", "Visit").with_part("tasks"),
            as_of: asking.now.wall.strftime("%-d %B, %H:%M").to_string(),
            day: day(on, today),
            is_today: on == today,
            lede,
            left: walk.left(jobs, on),
            later: later.collect(),
            buy: walk.supplies(planned.iter().flat_map(|visit| &visit.jobs)),
            tanks: tank_choices(db, asked.tank())?,
            minutes,
            gaps,
            stops,
            feed: None,
            units: walk.units.code(),
            back: "visit",
        })
    }
}

async fn show(State(app): State<App>, Query(asked): Query<Asked>) -> Result<VisitPage, PageError> {
    let asking = Asking::of(&app);
    let page = app
        .read(move |db| VisitPage::read(db, &asking, &asked))
        .await?;
    Ok(VisitPage {
        feed: calendar::address(&app).await?,
        ..page
    })
}
