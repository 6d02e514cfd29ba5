//! Routine: what is due in a tank, why so often, and doing it.

mod acts;
mod feeding;
mod line;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::State;
use axum::routing::{get, post};
use reed_core::flow::Facts;
use reed_core::routine::{Standing, State as Near};
use reed_core::tank::Tank;
use reed_store::tanks::Revision;
use reed_store::{Connection, StoreError, TankId, settings, tanks};

use feeding::FeedingSheet;
pub(in crate::pages) use line::{Doing, TaskLine, day};

use crate::clock::{Clock, Moment};
use crate::error::PageError;
use crate::flows;
use crate::forms::{ReadingInput, Refusals};
use crate::pages::ids::Id;
use crate::revision_cache::RevisionCache;
use crate::routines::Routines;
use crate::state::App;
use crate::view::{Frame, Mood, Tab};
use reed_core::twin::Stirring;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/tanks/{tank}/routine", get(show))
        .route("/tanks/{tank}/routine/read", post(acts::read))
        .route("/tanks/{tank}/routine/word", post(acts::word))
        .route("/tanks/{tank}/routine/watched", post(acts::watched))
}

/// What is needed to read what is due, on whatever thread.
#[derive(Clone)]
pub(in crate::pages) struct Asking {
    routines: std::sync::Arc<Routines>,
    follows: std::sync::Arc<RevisionCache>,
    pub(in crate::pages) clock: Clock,
    pub(in crate::pages) now: Moment,
}

impl Asking {
    pub(in crate::pages) fn of(app: &App) -> Self {
        Self {
            routines: app.routines(),
            follows: app.follows(),
            clock: app.clock.clone(),
            now: app.clock.now(),
        }
    }

    /// Every task of a tank.
    pub(in crate::pages) fn tasks(
        &self,
        db: &Connection,
        revision: &Revision,
    ) -> Result<Vec<Standing>, StoreError> {
        let flow = flows::kept(db, revision.tank_id, &revision.tank)?;
        self.tasks_in(db, revision, flow.as_ref())
    }

    /// The same in a tank of which the flow was read already.
    pub(in crate::pages) fn tasks_in(
        &self,
        db: &Connection,
        revision: &Revision,
        flow: Option<&Facts>,
    ) -> Result<Vec<Standing>, StoreError> {
        let stirring = Stirring::of(&revision.tank, flow);
        let oxygen = self
            .follows
            .of(revision, Mood::AtEase, stirring)
            .forecast
            .grade();
        self.routines
            .of(db, revision, (flow, oxygen), (&self.clock, &self.now))
    }
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/routine.html")]
struct RoutinePage {
    frame: Frame,
    id: TankId,
    /// What stands first, in a sentence.
    lede: String,
    /// Due or late, what presses most first.
    due: Vec<TaskLine>,
    /// May be done along with others.
    soon: Vec<TaskLine>,
    ahead: Vec<TaskLine>,
    feeding: Option<FeedingSheet>,
    /// [`reed_core::units::Units::code`] of the units it is shown in.
    units: String,
    back: &'static str,
}

/// A reading that was refused: of which task, what was typed, and why.
struct Typed {
    key: String,
    input: ReadingInput,
    refusals: Refusals,
}

impl RoutinePage {
    fn read(
        db: &Connection,
        id: TankId,
        asking: &Asking,
        typed: Option<&Typed>,
    ) -> Result<Self, StoreError> {
        let revision = tanks::latest(db, id)?;
        let mut tasks = asking.tasks(db, &revision)?;
        let today = asking.now.wall.date();
        tasks.sort_by_key(|task| std::cmp::Reverse(task.pressing(today)));
        let units = settings::units(db)?;
        let tank: &Tank = &revision.tank;
        let lines = |near: &[Near]| -> Vec<TaskLine> {
            tasks
                .iter()
                .filter(|task| near.contains(&task.state(today)))
                .map(|task| {
                    let line = TaskLine::of(task, id, tank, &units, today);
                    match typed.filter(|typed| typed.key == line.key) {
                        Some(typed) => line.with_typed(&typed.input, &typed.refusals),
                        None => line,
                    }
                })
                .collect()
        };
        let (mut due, soon) = (lines(&[Near::Late, Near::Due]), lines(&[Near::Soon]));
        if let Some(next) = due.first_mut() {
            next.is_next = true;
        }
        let mut ahead = lines(&[Near::Ahead]);
        ahead.sort_by_key(|line| line.due);
        let late = due.iter().filter(|line| line.is_late).count();
        let minutes: f64 = due.iter().map(|line| line.minutes).sum();
        let lede = match (due.len(), late) {
            (0, _) => ahead.first().or(soon.first()).map_or_else(
                || "Nothing is known that has to be done.".to_owned(),
                |next| format!("Nothing is due. Next: {}, {}.", next.words, next.when),
            ),
            (due, 0) => format!("{due} due, about {minutes:.0} minutes."),
            (due, late) => format!("{due} due, {late} of them late; about {minutes:.0} minutes."),
        };
        Ok(Self {
            frame: Frame::new("routine", format!("Routine of {}", tank.name))
                .with_part("tasks")
                .of_tank(id, &tank.name, Tab::Routine),
            id,
            lede,
            due,
            soon,
            ahead,
            feeding: FeedingSheet::of(tank, today),
            units: units.code(),
            back: "routine",
        })
    }
}

async fn show(State(app): State<App>, Id(id): Id<TankId>) -> Result<RoutinePage, PageError> {
    let asking = Asking::of(&app);
    app.read(move |db| RoutinePage::read(db, id, &asking, None))
        .await
}
