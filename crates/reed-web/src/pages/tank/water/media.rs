//! Chemical media: one problem, one medium, and when it comes out again.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State};
use jiff::civil::Date;
use reed_core::outlook::ahead::{Setting, Tap};
use reed_core::outlook::chemical::{
    Advice, MOST_AT_ONCE, PROBLEMS, Problem, chemicals_in, in_use, problem,
};
use reed_core::tank::Tank;
use reed_core::units::{Quantity, Units, Volume};
use reed_store::TankId;

use super::Recent;
use super::part::{Part, PartFrame};
use crate::error::PageError;
use crate::pages::ids::Id;
use crate::pages::now::Watching;
use crate::state::App;
use crate::view::Frame;

#[derive(Template, WebTemplate)]
#[template(path = "pages/water/media.html")]
pub(super) struct MediaPage {
    frame: Frame,
    part: PartFrame,
    id: TankId,
    media: MediaView,
}

/// A problem that a chemical medium is used against.
#[derive(serde::Deserialize)]
pub(super) struct Asked {
    #[serde(default)]
    problem: String,
}

pub(super) async fn show(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Query(asked): Query<Asked>,
) -> Result<MediaPage, PageError> {
    let (id, now) = (id, app.clock.now().wall);
    let watching = Watching::of(&app);
    app.read(move |db| {
        let recent = Recent::read(db, id, now)?;
        let setting = Setting::of(&recent.tank, recent.stirring, now, &Tap::default());
        let (frame, part) = PartFrame::read(db, &watching, Part::Media, (id, &recent.tank.name))?;
        let media = MediaView::of(
            &asked.problem,
            &recent.tank,
            &setting,
            now.date(),
            &recent.units,
        );
        Ok(MediaPage {
            frame,
            part,
            id,
            media,
        })
    })
    .await
}

/// The picker with its answer.
struct MediaView {
    problems: &'static [Problem],
    chosen: Option<Chosen>,
    /// What is in now, and when it comes out.
    in_use: Vec<String>,
    too_many: bool,
}

/// A problem with what its medium would do here.
struct Chosen {
    id: &'static str,
    headline: String,
    first: &'static str,
    lines: Vec<String>,
    against: Vec<&'static str>,
}

fn date(day: Date) -> String {
    day.strftime("%-d %B").to_string()
}

impl MediaView {
    /// For the problem with this id, if it is one.
    fn of(id: &str, tank: &Tank, setting: &Setting, today: Date, units: &Units) -> Self {
        let line = |(medium, out): (reed_core::tank::Medium, Option<Date>)| match out {
            None => format!(
                "{}: nobody wrote down when it went in. Enter it in the filter, or take it out.",
                medium.words()
            ),
            Some(out) if out <= today => format!(
                "{}: it has had its time since {}; take it out.",
                medium.words(),
                date(out)
            ),
            Some(out) => format!("{}: out by {}.", medium.words(), date(out)),
        };
        Self {
            problems: PROBLEMS,
            chosen: problem(id)
                .map(|problem| Chosen::of(problem, &problem.advice(tank, setting, today), units)),
            in_use: in_use(tank).into_iter().map(line).collect(),
            too_many: chemicals_in(tank) > MOST_AT_ONCE,
        }
    }
}

impl Chosen {
    fn of(problem: &'static Problem, advice: &Advice, units: &Units) -> Self {
        let litres = units.print(advice.litres, Volume::UNITS, 2);
        let won = advice.hours.map(|hours| {
            let won = if hours < 72.0 { format!("{hours:.0} hours") } else { format!("{:.0} days", hours / 24.0) };
            format!("At what is fed now it is full after {won} if it gets all of it, later if bacteria take their share. It wins time, it does not carry the load.")
        });
        let lines = [
            Some("Last in the path of the water, after the biological media; rinsed, in a bag, laid flat.".to_owned()),
            won,
            Some(format!("Out by {} at the latest. {}", date(advice.out_by), problem.until)),
            problem
                .medium
                .takes()
                .map(|_| "While it is in, a zero of what it takes says nothing about the bacteria: stock nothing on it.".to_owned()),
        ];
        Self {
            id: problem.id,
            headline: format!("{litres} of {}", problem.medium.words()),
            first: problem.first,
            lines: lines.into_iter().flatten().collect(),
            against: advice.against.clone(),
        }
    }
}
