//! Rounds: every tank as a line, with its state and the next thing to do, most urgent first.

use std::sync::Arc;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::routing::{get, post};
use axum_extra::extract::Form;
use jiff::SignedDuration;
use jiff::civil::Date;
use reed_core::diagnosis::{Answered, Distress};
use reed_core::flow::Facts;
use reed_core::outlook::forecast::Grade;
use reed_core::routine::visits::{Job, today};
use reed_core::routine::{Standing, State as Near};
use reed_core::tank::Analyte;
use reed_core::twin::Stirring;
use reed_core::units::Units;
use reed_store::duties::KeptDuty;
use reed_store::readings::Stored;
use reed_store::tanks::Revision;
use reed_store::watches::{self, Watched};
use reed_store::{
    CaseId, Connection, RevisionId, StoreError, TankId, answers, cases, choices, duties, readings,
    settings, tanks,
};

use crate::alarms::{AlarmLine, Telling};
use crate::clock::Clock;
use crate::error::PageError;
use crate::example;
use crate::flows;
use crate::forms::{ReadingInput, store};
use crate::pages::ids::Id;
use crate::pages::now::LiveValue;
use crate::pages::tank::{Asking, Doing, Often, TaskLine};
use crate::revision_cache::{Follows, RevisionCache};
use crate::state::App;
use crate::view::{Frame, Keeper, Mood, ReadingForm, percent, since, when};

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/", get(show))
        .route("/tanks/{tank}/readings", post(log_reading))
        .route("/tanks/{tank}/readings/new", get(log_here))
        .route("/tanks/{tank}/small.svg", get(small_drawing))
}

/// Drawings that come with the page take no more than this; the others are fetched when they come
/// into sight.
const DRAWN_BYTES: usize = 32_000;

#[derive(Template, WebTemplate)]
#[template(path = "pages/rounds.html")]
struct RoundsPage {
    frame: Frame,
    lines: Vec<Line>,
    /// What calls for somebody now.
    alarms: Vec<AlarmLine>,
    /// What matters today in all tanks.
    today: Vec<TaskLine>,
    /// How many tasks are due in all.
    due: usize,
    /// Since when nothing was taken to another disk, where that is long ago; else empty.
    take_away: String,
    units: String,
    back: &'static str,
    open_cases: usize,
    /// Tanks that cannot be read.
    unreadable: Vec<UnreadableLine>,
    /// Tanks that were put away: which, its name.
    put_away: Vec<(TankId, String)>,
    /// There are made-up tanks to look at, and a drawing of one; where nothing of the keeper's own
    /// is entered yet.
    example: Option<String>,
}

/// One tank.
struct Line {
    tank: TankId,
    name: String,
    /// From the front. Lines further down have theirs fetched when they come into sight: a hundred
    /// of them would be most of the page.
    drawing: Option<Arc<Follows>>,
    /// How it is, in a sentence.
    state: String,
    /// Colour and weight of the line: `in-danger`, `case`, `watch`, `fine`.
    tone: &'static str,
    /// Figures under the sentence.
    facts: Vec<String>,
    /// The open case, if there is one.
    case: Option<CaseId>,
    next: &'static str,
    /// Tasks of the routine that are due, but for duties, which stand below.
    tasks: usize,
    /// What its devices read now.
    values: Vec<LiveValue>,
    /// Devices that are silent: what each is called, and since when.
    silent: Vec<(String, String)>,
    /// What is due of what closed cases left to be watched, and in which case it stands.
    due: Vec<(String, CaseId)>,
    /// A reading that was refused, with what was typed. Else the form is fetched when it is wanted:
    /// a hundred of them would be most of the page.
    log: Option<ReadingForm>,
    urgency: u8,
}

/// A tank whose latest revision cannot be read.
struct UnreadableLine {
    tank: TankId,
    why: String,
    /// The latest revision that can be: its number, the name there, and when it was made.
    last_good: Option<(RevisionId, String, String)>,
}

impl UnreadableLine {
    fn of(tank: tanks::Unreadable, clock: &Clock) -> Self {
        Self {
            tank: tank.tank_id,
            why: tank.why,
            last_good: tank.last_good.map(|good| {
                let at = clock.wall_at(good.made_at);
                (good.id, good.tank.name, when(at, clock.now().wall))
            }),
        }
    }
}

/// What is stored of a tank, as far as its line needs it.
struct Stand {
    revision: Revision,
    case: Option<OpenCase>,
    oxygen: Option<Stored>,
    flow: Option<Facts>,
    /// What closed cases left to be watched.
    duties: Vec<KeptDuty>,
    tasks: Vec<Standing>,
}

struct OpenCase {
    id: CaseId,
    answers: Vec<Answered>,
    next: &'static str,
}

fn standing(
    db: &Connection,
    tanks: Vec<Revision>,
    asking: &Asking,
) -> Result<Vec<Stand>, StoreError> {
    tanks
        .into_iter()
        .map(|revision| {
            let open = cases::of_tank(db, revision.tank_id)?
                .into_iter()
                .find(|case| case.closed.is_none());
            let case = open.map(|case| open_case(db, case.id)).transpose()?;
            let oxygen = readings::latest(db, revision.tank_id, Analyte::OXYGEN.id)?;
            let flow = flows::kept(db, revision.tank_id, &revision.tank)?;
            let duties = duties::of_tank(db, revision.tank_id, asking.now.wall)?;
            let tasks = asking.tasks_in(db, &revision, flow.as_ref())?;
            Ok(Stand {
                revision,
                case,
                oxygen,
                flow,
                duties,
                tasks,
            })
        })
        .collect()
}

fn open_case(db: &Connection, id: CaseId) -> Result<OpenCase, StoreError> {
    let next = match choices::of_case(db, id)?.last() {
        Some(choice) if choice.is_done() => "Take the proof reading",
        Some(_) => "Go on with the change",
        None => "Go on with the case",
    };
    Ok(OpenCase {
        id,
        answers: answers::current(db, id)?,
        next,
    })
}

impl Line {
    fn of(
        standing: Stand,
        watched: &[Watched],
        memory: &RevisionCache,
        telling: &Telling<'_>,
    ) -> Self {
        let (now, units) = (&telling.now, telling.units);
        let Stand {
            revision,
            case,
            oxygen,
            flow,
            duties,
            tasks,
        } = standing;
        let distress = case
            .as_ref()
            .and_then(|case| Distress::worst_of(&case.answers));
        let follows = memory.of(
            &revision,
            case.as_ref()
                .map_or(Mood::AtEase, |case| mood(&case.answers)),
            Stirring::of(&revision.tank, flow.as_ref()),
        );
        let forecast = &follows.forecast;
        let grade = forecast.grade();
        let expected = if case.is_some() {
            "As described it would fall no lower than"
        } else {
            "Expected lowest tonight"
        };
        let mut facts = vec![format!(
            "{expected} {:.1} ± {:.1} mg/L ({} of saturation)",
            forecast.lowest,
            forecast.lowest_spread,
            percent(forecast.lowest / forecast.saturation)
        )];
        facts.push(oxygen.as_ref().map_or_else(
            || "Oxygen never read".to_owned(),
            |stored| {
                format!(
                    "Oxygen read {}, {}",
                    stored.reading.print(units),
                    since(stored.reading.taken_at, now.wall)
                )
            },
        ));
        let Told {
            state,
            tone,
            urgency,
        } = Told::of(grade, case.is_some(), distress);
        Self {
            log: None,
            tank: revision.tank_id,
            drawing: Some(follows),
            name: revision.tank.name,
            state,
            tone,
            facts,
            next: case.as_ref().map_or("", |case| case.next),
            tasks: {
                let due = |task: &&Standing| {
                    task.duty().is_none() && task.state(now.wall.date()) >= Near::Due
                };
                tasks.iter().filter(due).count()
            },
            values: LiveValue::all(watched, telling),
            silent: telling.silent(watched),
            due: duties
                .into_iter()
                .filter(|duty| duty.due().is_some_and(|due| due <= now.wall))
                .map(|duty| (duty.words, duty.case_id))
                .collect(),
            case: case.map(|case| case.id),
            urgency,
        }
    }
}

/// How a tank stands, in words.
struct Told {
    state: String,
    tone: &'static str,
    urgency: u8,
}

impl Told {
    fn of(grade: Grade, has_case: bool, distress: Option<Distress>) -> Self {
        let told = |state: String, tone, urgency| Self {
            state,
            tone,
            urgency,
        };
        match (has_case, distress, grade) {
            (true, Some(distress), _) if distress.is_urgent() => told(
                format!("{}. Help them breathe first.", distress.says),
                "in-danger",
                4,
            ),
            (true, Some(distress), _) => {
                told(format!("{}. The case is open.", distress.says), "case", 3)
            }
            (true, None, _) => told("A case is open.".to_owned(), "case", 3),
            (false, _, Grade::Good | Grade::Watch) => {
                let words = format!(
                    "Nothing reported. Oxygen should be {} tonight.",
                    grade.words()
                );
                told(words, "fine", 1)
            }
            (false, _, Grade::Act | Grade::Distress) => {
                let words = format!(
                    "As described, its oxygen would be {} tonight. Read it before lights-on.",
                    grade.words()
                );
                told(words, "watch", 2)
            }
        }
    }
}

/// So long after everything was taken to another disk, or after the first tank was entered, it is time
/// again: copies of each day lie on the same disk. A judgement.
const TAKE_AWAY: SignedDuration = SignedDuration::from_hours(90 * 24);

/// Since when nothing was taken elsewhere, where that is long ago; else empty.
fn take_away(
    db: &Connection,
    telling: &Telling<'_>,
    first: Option<TankId>,
) -> Result<String, StoreError> {
    let Some(first) = first else {
        return Ok(String::new());
    };
    let taken = settings::taken_away(db)?;
    let since_when = taken.map_or_else(|| tanks::entered_at(db, first), |at| Ok(Some(at)))?;
    let ago = since_when.map(|at| telling.now.utc.duration_since(at));
    if ago.is_none_or(|ago| ago < TAKE_AWAY) {
        return Ok(String::new());
    }
    Ok(taken.map_or_else(
        || "never yet".to_owned(),
        |at| {
            format!(
                "last {}",
                since(telling.clock.wall_at(at), telling.now.wall)
            )
        },
    ))
}

/// More than this nobody reads before the first bucket is filled.
const TODAY: usize = 5;

/// What matters today, how much is due in all, and the units it is shown in.
fn matters(stand: &[Stand], units: &Units, day: Date) -> (Vec<TaskLine>, usize, String) {
    let jobs: Vec<Job> = stand
        .iter()
        .enumerate()
        .flat_map(|(tank, one)| one.tasks.iter().map(move |task| (tank, task)))
        .filter(|(_, task)| task.state(day) >= Near::Due)
        .map(|(tank, task)| Job {
            tank,
            task: task.clone(),
        })
        .collect();
    let line = |job: usize| {
        let Job { tank, task } = &jobs[job];
        let revision = &stand[*tank].revision;
        let mut line = TaskLine::of(task, revision.tank_id, &revision.tank, units, day);
        line.words = format!("{}: {}", revision.tank.name, line.words);
        line
    };
    let lines = today(&jobs, TODAY, day).into_iter().map(line).collect();
    (lines, jobs.len(), units.code())
}

impl RoundsPage {
    fn with_case(&self) -> impl Iterator<Item = &Line> {
        self.lines.iter().filter(|line| line.case.is_some())
    }

    fn without_case(&self) -> impl Iterator<Item = &Line> {
        self.lines.iter().filter(|line| line.case.is_none())
    }

    async fn load(app: &App) -> Result<Self, PageError> {
        let asking = Asking::of(app);
        let now = asking.now.clone();
        let (memory, clock, known) = (app.follows(), app.clock.clone(), app.bounds());
        let (mut lines, alarms, put_away, unreadable, ((today, due, units), take_away)) = app
            .read(move |db| {
                let units = settings::units(db)?;
                let (stand, put_away) = (tanks::all_told(db)?, tanks::put_away(db)?);
                let unreadable = if stand.unreadable.is_empty() && put_away.unreadable.is_empty() {
                    Vec::new()
                } else {
                    tanks::unreadable(db)?
                        .into_iter()
                        .map(|tank| UnreadableLine::of(tank, &clock))
                        .collect()
                };
                let put_away = put_away
                    .rows
                    .into_iter()
                    .map(|revision| (revision.tank_id, revision.tank.name))
                    .collect();
                let stand = standing(db, stand.rows, &asking)?;
                let today = matters(&stand, &units, now.wall.date());
                let telling = Telling {
                    clock: &clock,
                    units: &units,
                    quiet: settings::quiet(db)?,
                    now,
                };
                let watched = watches::all(db, None)?;
                let alarms = telling.alarms(db, &known, &watched)?;
                let first = stand.first().map(|one| one.revision.tank_id);
                let take_away = take_away(db, &telling, first)?;
                let lines: Vec<Line> = stand
                    .into_iter()
                    .map(|standing| {
                        let tank = standing.revision.tank_id;
                        let first = watched.partition_point(|one| one.tank < tank);
                        let many = watched[first..].partition_point(|one| one.tank == tank);
                        let of_tank = &watched[first..first + many];
                        Line::of(standing, of_tank, &memory, &telling)
                    })
                    .collect();
                Ok((lines, alarms, put_away, unreadable, (today, take_away)))
            })
            .await?;
        lines.sort_by_key(|line: &Line| std::cmp::Reverse(line.urgency));
        let mut room = DRAWN_BYTES;
        for line in &mut lines {
            let size = line
                .drawing
                .as_ref()
                .map_or(0, |follows| follows.drawing.len());
            match room.checked_sub(size) {
                Some(left) => room = left,
                None => line.drawing = None,
            }
        }
        let open_cases = lines.iter().filter(|line| line.case.is_some()).count();
        let example = (lines.is_empty() && app.has_example()).then(example::picture);
        Ok(Self {
            frame: Frame::new("rounds", "Rounds")
                .with_part("tasks")
                .with_part("alarms"),
            lines,
            alarms,
            today,
            due,
            take_away,
            units,
            back: "today",
            open_cases,
            unreadable,
            put_away,
            example,
        })
    }
}

async fn show(State(app): State<App>) -> Result<RoundsPage, PageError> {
    RoundsPage::load(&app).await
}

/// The drawing of a line, alone.
async fn small_drawing(
    State(app): State<App>,
    Id(tank): Id<TankId>,
) -> Result<impl IntoResponse, PageError> {
    let memory = app.follows();
    let follows = app
        .read(move |db| {
            let revision = tanks::latest(db, tank)?;
            let open = cases::of_tank(db, tank)?
                .into_iter()
                .find(|case| case.closed.is_none());
            let answers = open
                .map(|case| answers::current(db, case.id))
                .transpose()?
                .unwrap_or_default();
            let flow = flows::kept(db, revision.tank_id, &revision.tank)?;
            Ok(memory.of(
                &revision,
                mood(&answers),
                Stirring::of(&revision.tank, flow.as_ref()),
            ))
        })
        .await?;
    Ok((
        [(header::CONTENT_TYPE, "image/svg+xml")],
        follows.drawing.clone(),
    ))
}

/// Where the fish are drawn, by what was seen.
fn mood(answers: &[Answered]) -> Mood {
    if Distress::worst_of(answers).is_some_and(Distress::at_the_top) {
        Mood::AtTheTop
    } else {
        Mood::AtEase
    }
}

/// What can be logged, for a line that was opened.
#[derive(Template, WebTemplate)]
#[template(path = "parts/log_here.html")]
struct LogPart {
    tank_id: TankId,
    often: Vec<Often>,
    /// [`Units::code`] of the units it is shown in.
    units: String,
    /// From where it is sent.
    back: &'static str,
    form: ReadingForm,
}

async fn log_here(State(app): State<App>, Id(tank_id): Id<TankId>) -> Result<LogPart, PageError> {
    let now = app.clock.now().wall;
    app.read(move |db| {
        let tank = tanks::latest(db, tank_id)?.tank;
        let keeper = Keeper::load(db)?;
        Ok(LogPart {
            tank_id,
            often: Often::read(db, tank_id, &tank, now, &keeper.units)?,
            units: keeper.units.code(),
            back: "rounds",
            form: ReadingForm::blank(
                format!("log-{tank_id}"),
                format!("/tanks/{tank_id}/readings"),
                "oxygen-drops",
                &keeper,
            ),
        })
    })
    .await
}

async fn log_reading(
    State(app): State<App>,
    Id(tank): Id<TankId>,
    Form(input): Form<ReadingInput>,
) -> Result<Response, PageError> {
    let now = app.clock.now();
    let keeper = app.read(Keeper::load).await?;
    match input.parse(&now, &keeper.units) {
        Ok(reading) => {
            app.write(move |db| store(db, tank, &input, &reading, now.utc))
                .await?;
            Ok(axum::response::Redirect::to(&format!("/#tank-{tank}")).into_response())
        }
        Err(refusals) => {
            let mut page = RoundsPage::load(&app).await?;
            let line = page.lines.iter_mut().find(|line| line.tank == tank);
            let line =
                line.ok_or_else(|| PageError::NotFound(format!("there is no tank {tank}")))?;
            line.log = Some(ReadingForm::typed(
                format!("log-{tank}"),
                format!("/tanks/{tank}/readings"),
                input,
                refusals,
                &keeper,
            ));
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}
