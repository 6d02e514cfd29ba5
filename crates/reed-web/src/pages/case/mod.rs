//! Case: from what was noticed to the proof that it is cured. One page; every action comes back to
//! it.

mod actions;
mod answers;
mod changes;
mod choice;
mod choosing;
mod currents;
mod evidence;
mod fit;
mod known;
mod mix;
mod next;
mod none;
mod past;
mod planned;
mod plans;
mod proving;
mod report;
mod summary;

use std::sync::{Arc, OnceLock};

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Query, State};
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::routing::{get, post};
use reed_core::diagnosis::fault::{self, Fault};
use reed_core::diagnosis::{Account, Advice, Case, CheckOutlook, Differential, Distress, Observed};
use reed_core::document::Document;
use reed_core::remedy::first_aid::{self, FirstAid};
use reed_core::remedy::plan::{Found, Reckoner, candidates, search};
use reed_core::remedy::{Change, Offer, advice, offers};
use reed_store::{CaseId, ChoiceId, StoreError};

use self::answers::LONGER_AGO;
use self::changes::{OfferView, OffersView};
use self::choice::ChoiceView;
use self::evidence::{AnswerLine, Asking, ReadingLine, SuspectView};
use self::fit::{FitView, WhyNot};
use self::known::Key;
pub(crate) use self::known::KnownCases;
use self::next::{NextView, Strip};
use self::planned::{DutyLine, PlannedView};
use self::plans::PlansView;
use super::ids::Id;
use crate::case_file::{CaseFile, CaseStage};
use crate::clock::{Clock, Moment};
use crate::error::PageError;
use crate::flows::Wanted;
use crate::forms::{ReadingInput, Refusals};
use crate::state::App;
use crate::view::{Frame, Keeper, Mood, ReadingForm, Tab, draw, percent, when};

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/tanks/{tank}/case", get(none::show))
        .route("/cases/{case}", get(show))
        .route("/cases/{case}/questions", get(questions))
        .route("/cases/{case}/changes", get(other_changes))
        .route("/cases/{case}/case.reed.json", get(download))
        .route("/cases/{case}/summary.txt", get(summary_file))
        .route("/cases/{case}/past/{entry}", get(past::show))
        .route("/cases/{case}/answers", post(answers::answer))
        .route("/cases/{case}/looks", post(answers::look_round))
        .route("/cases/{case}/declined", post(answers::decline))
        .route("/cases/{case}/readings", post(actions::add_reading))
        .route(
            "/cases/{case}/readings/{reading}/strike",
            post(actions::strike),
        )
        .route(
            "/cases/{case}/readings/{reading}/restore",
            post(actions::restore),
        )
        .route("/cases/{case}/choices", post(choosing::choose))
        .route("/cases/{case}/plan", post(choosing::choose_plan))
        .route("/cases/{case}/plan/next", post(choosing::next_stage))
        .route("/cases/{case}/plan/drop", post(choosing::drop_plan))
        .route("/cases/{case}/mix", get(mix::show))
        .route("/cases/{case}/currents", get(currents::listen))
        .route("/cases/{case}/report", get(report::show))
        .route("/cases/{case}/choices/{choice}/steps", post(actions::tick))
        .route(
            "/cases/{case}/choices/{choice}/drop",
            post(actions::drop_choice),
        )
        .route("/cases/{case}/choices/{choice}/done", post(actions::done))
        .route(
            "/cases/{case}/choices/{choice}/undo-done",
            post(actions::undo_done),
        )
        .route("/cases/{case}/choices/{choice}/proof", post(proving::prove))
        .route(
            "/cases/{case}/choices/{choice}/look",
            post(proving::prove_by_look),
        )
        .route(
            "/cases/{case}/choices/{choice}/leave",
            post(proving::leave_unproved),
        )
        .route("/cases/{case}/duties/{duty}", post(actions::duty_done))
        .route("/cases/{case}/close", post(actions::close))
        .route("/cases/{case}/reopen", post(actions::reopen))
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/case.html")]
struct CasePage {
    frame: Frame,
    case: CaseId,
    tank: reed_store::TankId,
    /// What of the tank nobody said.
    assumed: Vec<&'static str>,
    /// The tank stands no longer.
    put_away: bool,
    headline: String,
    opened: String,
    closed: Option<(String, String)>,
    stage: StageView,
    drawing: String,
    drawing_note: &'static str,
    first_aid: Vec<&'static FirstAid>,
    next: NextView,
    strip: Option<Strip>,
    /// Nothing is known yet: the page begins with the question what is seen.
    silent: bool,
    asking: Asking,
    known: KnownView,
    reading_form: ReadingForm,
    suspicion: SuspicionView,
    plans: Arc<PlansView>,
    planned: Option<PlannedView>,
    /// What the case left to be watched, once it is closed.
    duties: Vec<DutyLine>,
    offers: OffersView,
    choice: Option<ChoiceView>,
    earlier: Vec<ChoiceView>,
    summary: String,
    why_not: WhyNot,
    history: Vec<(usize, String, String)>,
}

/// What is known of a case.
struct KnownView {
    shown: Vec<AnswerLine>,
    /// Those that are not so, where they are many.
    folded: Vec<AnswerLine>,
    /// What nobody has to be asked: it stands in the tank's file or was entered with its water.
    on_record: Vec<(&'static str, String)>,
    /// Answers that the record speaks against.
    disagreements: Vec<evidence::Disagreement>,
    /// What could not be looked at or tested: id, title and why.
    declined: Vec<(&'static str, &'static str, &'static str)>,
    readings: Vec<ReadingLine>,
}

/// Who is suspected, and how sure that is.
struct SuspicionView {
    list: Vec<SuspectView>,
    fit: FitView,
    unlikely: Vec<(&'static str, String)>,
    ruled_out: Vec<(&'static str, &'static str)>,
    healthy: String,
    /// What that would leave unexplained.
    alarms: Vec<String>,
    /// It is not known yet who it is, and nothing may be called well.
    unknown_yet: bool,
    /// Likely, but accounting for nothing here.
    also_true: Vec<(&'static str, String)>,
    together: Vec<(String, String)>,
}

/// Where on the drawing something can be seen.
const PINS: &[(&str, &str)] = &[
    ("surface", "Surface"),
    ("outlet", "Outlet"),
    ("fish", "Fish"),
    ("water", "Water"),
    ("bed", "Bed"),
];
/// What has no place on it.
const BESIDE: &[(&str, &str)] = &[("filter", "Filter"), ("event", "What happened")];

/// The way through a case: which step is reached.
struct StageView {
    steps: Vec<StepView>,
}

/// A step of the way.
struct StepView {
    name: &'static str,
    anchor: &'static str,
    /// `past`, `here` or `ahead`.
    state: &'static str,
    /// There is something at its place to go to.
    leads: bool,
}

impl StageView {
    fn of(stage: CaseStage, silent: bool, clear: bool, is_chosen: bool) -> Self {
        let reached = match (stage, clear) {
            (CaseStage::Looking, _) if silent => 0,
            (CaseStage::Looking, false) => 1,
            (CaseStage::Looking, true) => 2,
            (CaseStage::Doing, _) => 3,
            (CaseStage::Proving, _) => 4,
            (CaseStage::Closed, _) => 5,
        };
        let choosing = !is_chosen && stage == CaseStage::Looking;
        let steps = [
            ("Noticed", "noticed", true),
            ("Suspects", "suspects", true),
            ("Plans", if silent { "changes" } else { "plans" }, choosing),
            ("Do", "doing", is_chosen),
            ("Proof", "proof", is_chosen),
        ];
        let state = |index: usize| match index.cmp(&reached) {
            std::cmp::Ordering::Less => "past",
            std::cmp::Ordering::Equal => "here",
            std::cmp::Ordering::Greater => "ahead",
        };
        let step = |(index, (name, anchor, leads)): (usize, (&'static str, &'static str, bool))| {
            StepView {
                name,
                anchor,
                state: state(index),
                leads,
            }
        };
        Self {
            steps: steps.into_iter().enumerate().map(step).collect(),
        }
    }
}

/// More answers that something is not so than this are folded away.
const MOST_DENIED: usize = 4;

const LIKELIER_THAN_NOT: f64 = 0.5;

/// A form on the page that was refused, with what was typed.
enum Refused {
    Reading(ReadingInput, Refusals),
    /// Of the choice that it should prove.
    Proof(ChoiceId, ReadingInput, Refusals),
}

/// A case with everything computed about it.
struct Weighed {
    file: CaseFile,
    /// What was weighed.
    case: Case,
    differential: Differential,
    account: Account,
    outlook: CheckOutlook,
    advice: Advice,
    now: reed_core::outlook::forecast::Forecast,
    offers: Vec<Offer>,
    /// The plans, searched for when first asked for.
    found: OnceLock<Found>,
    /// The same, ready to print.
    plans: OnceLock<Arc<PlansView>>,
}

impl Weighed {
    /// Weighs a case; the fault that was asked about is explained too.
    fn of(file: CaseFile, why: Option<&'static Fault>, moment: &Moment) -> Self {
        let case = file.as_seen(moment.wall);
        let differential = Differential::of(&case);
        let those: Vec<_> = differential
            .suspects
            .iter()
            .filter(|suspect| Some(suspect.fault) == why)
            .collect();
        let account = differential.account(&those);
        let outlook = differential.outlook(&case);
        let (now, offers) = offers(&differential, &case.observed);
        let advice = advice(&differential, &outlook, &offers);
        Self {
            file,
            case,
            differential,
            account,
            outlook,
            advice,
            now,
            offers,
            found: OnceLock::new(),
            plans: OnceLock::new(),
        }
    }

    /// Changes can be chosen now: the case is open and looks, and something is known of it.
    fn is_choosing(&self) -> bool {
        self.file.stage() == CaseStage::Looking && !self.file.is_silent(&self.case.observed)
    }

    /// The changes of the foremost plan.
    fn foremost(&self) -> Option<Vec<&'static Change>> {
        let plan = self.found().plans.first()?;
        Some(plan.reckoned.changes.clone())
    }

    /// What any set of changes comes to.
    fn reckoner(&self) -> Reckoner<'_> {
        Reckoner::new(&self.case, &self.differential, &self.file.prices)
    }

    /// The plans; searched for once, whoever asks.
    fn found(&self) -> &Found {
        self.found.get_or_init(|| {
            let reckoner = self.reckoner();
            let candidates = candidates(&reckoner, &self.offers);
            search(&reckoner, &self.offers, &candidates, |so_far| {
                so_far.reckoned < MOST_RECKONED
            })
        })
    }
}

impl Weighed {
    /// The plans, ready to print; made once for as long as nothing is stored.
    fn plans(&self) -> Arc<PlansView> {
        let plans = self.plans.get_or_init(|| Arc::new(PlansView::of(self)));
        Arc::clone(plans)
    }
}

/// A page does not wait for more sets of changes than this to be reckoned.
const MOST_RECKONED: usize = 4_000;

impl Weighed {
    /// The form for the next reading: with what was refused, or for the kit that is asked for.
    fn reading_form(
        &self,
        refused: Option<(ReadingInput, Refusals)>,
        keeper: &Keeper,
    ) -> ReadingForm {
        let action = format!("/cases/{}/readings", self.file.case.id);
        match refused {
            Some((input, refusals)) => {
                ReadingForm::typed("reading", action, input, refusals, keeper)
            }
            None => {
                let kit = next::kit_asked_for(&self.outlook, &self.advice);
                ReadingForm::blank("reading", action, kit, keeper)
            }
        }
    }
}

impl KnownView {
    fn of(file: &CaseFile, observed: &Observed, moment: &Moment) -> Self {
        let answers = evidence::answer_lines(file, observed, moment);
        let denied = answers.iter().filter(|line| !line.so).count();
        let (shown, folded) = answers
            .into_iter()
            .partition(|line: &AnswerLine| line.so || denied <= MOST_DENIED);
        Self {
            shown,
            folded,
            on_record: evidence::record_lines(observed, moment),
            disagreements: evidence::disagreements(observed, moment),
            declined: evidence::not_asked(file, observed)
                .map(|declined| {
                    (
                        declined.check.id,
                        declined.check.title,
                        declined.why.words(),
                    )
                })
                .collect(),
            readings: evidence::reading_lines(file, moment),
        }
    }
}

impl SuspicionView {
    fn of(weighed: &Weighed, silent: bool) -> Self {
        let (differential, account) = (&weighed.differential, &weighed.account);
        Self {
            list: evidence::suspects(differential, account, &weighed.case),
            fit: FitView::of(account),
            unlikely: evidence::unlikely(differential),
            ruled_out: differential
                .ruled_out
                .iter()
                .map(|out| (out.fault.title, out.why))
                .collect(),
            healthy: percent(differential.healthy),
            alarms: differential.alarms.clone(),
            unknown_yet: !silent
                && !differential.alarms.is_empty()
                && differential.leading() < LIKELIER_THAN_NOT,
            also_true: evidence::also_true(differential),
            together: evidence::together(differential),
        }
    }
}

impl CasePage {
    fn of(
        weighed: &Weighed,
        asked: &Asked,
        moment: &Moment,
        clock: &Clock,
        refused: Option<Refused>,
    ) -> Self {
        let Weighed {
            file,
            differential,
            account,
            advice,
            now,
            offers,
            ..
        } = weighed;
        let (case, tank, stage) = (file.case.id, file.tank(), file.stage());
        let observed = &weighed.case.observed;
        let distress = Distress::worst_of(&observed.answers);
        let keeper = Keeper {
            units: file.units,
            has_said: file.units_are_chosen,
        };
        let (reading, proof) = match refused {
            Some(Refused::Reading(input, refusals)) => (Some((input, refusals)), None),
            Some(Refused::Proof(choice, input, refusals)) => {
                (None, Some((choice, input, refusals)))
            }
            None => (None, None),
        };
        let reading_form = weighed.reading_form(reading, &keeper);
        let wall = |at| when(clock.wall_at(at), moment.wall);
        let headline = headline(distress, observed);
        let drawing = drawing(weighed, distress);
        let (choice, earlier) = choices(file, proof, &keeper, moment);
        let silent = stage == CaseStage::Looking && file.is_silent(observed);
        let next = NextView::of(stage, weighed, &asked.check, moment);
        Self {
            frame: Frame::new("case", format!("{headline}: {}, case {case}", tank.name)).of_tank(
                file.case.tank_id,
                &file.tank_now().name,
                Tab::Case,
            ),
            case,
            tank: file.case.tank_id,
            assumed: tank.assumed_labels(),
            put_away: file.is_put_away(),
            headline,
            opened: wall(file.case.opened_at),
            closed: file
                .case
                .closed
                .clone()
                .map(|(at, words)| (wall(at), words)),
            stage: StageView::of(
                stage,
                silent,
                !matches!(advice, Advice::Look { .. }),
                choice.is_some(),
            ),
            drawing,
            drawing_note: match stage {
                CaseStage::Looking | CaseStage::Doing => {
                    "As it is believed to be. Tap where you see something."
                }
                CaseStage::Proving | CaseStage::Closed => "As it stands now, to scale.",
            },
            first_aid: if stage == CaseStage::Looking {
                first_aid::due(&weighed.case)
            } else {
                Vec::new()
            },
            strip: Strip::of(&next),
            next,
            silent,
            asking: asked.asking.clone().answered(file),
            known: KnownView::of(file, observed, moment),
            reading_form,
            suspicion: SuspicionView::of(weighed, silent),
            plans: weighed.plans(),
            planned: PlannedView::of(file, moment),
            offers: OffersView::of(
                now,
                offers,
                &weighed.case,
                (&file.filter_log(), &file.prices),
            ),
            duties: file
                .duties
                .iter()
                .map(|duty| DutyLine::of(duty, moment))
                .collect(),
            choice,
            earlier,
            summary: summary::of(weighed, moment),
            why_not: WhyNot::of(differential, account, asked.fault()),
            history: evidence::history(file, clock, moment),
        }
    }
}

/// What the case is about: how badly the fish are off, else what was seen first.
fn headline(distress: Option<Distress>, observed: &Observed) -> String {
    distress
        .map(|distress| distress.says)
        .or_else(|| evidence::first_sign(observed))
        .unwrap_or("Something is wrong")
        .to_owned()
}

/// The tank as it is believed to be, from the cure on as it stands.
fn drawing(weighed: &Weighed, distress: Option<Distress>) -> String {
    let is_done = weighed.file.stage() >= CaseStage::Proving;
    let mood = if distress.is_some_and(Distress::at_the_top) && !is_done {
        Mood::AtTheTop
    } else {
        Mood::AtEase
    };
    let tank = if is_done {
        weighed.file.tank_now()
    } else {
        weighed.differential.believed.likeliest()
    };
    draw(tank, mood)
}

/// The change that is under way, with its forms, and those before it. What one of those has still to
/// show is asked for too: a heap takes two weeks, and the next stage may not wait for it.
fn choices(
    file: &CaseFile,
    refused: Option<(ChoiceId, ReadingInput, Refusals)>,
    keeper: &Keeper,
    moment: &Moment,
) -> (Option<ChoiceView>, Vec<ChoiceView>) {
    let mut earlier: Vec<ChoiceView> = file
        .choices
        .iter()
        .map(|choice| ChoiceView::of(choice, file, moment))
        .collect();
    let mut refused = refused;
    let mut of = |id: ChoiceId| {
        let (_, input, refusals) = refused.take_if(|(choice, ..)| *choice == id)?;
        Some((input, refusals))
    };
    let mut present = file.choice().and_then(|_| earlier.pop());
    if let Some(choice) = &mut present {
        let typed = of(choice.id);
        choice.forms(file.case.id, typed, (keeper, &file.controls));
        for choice in earlier
            .iter_mut()
            .filter(|choice| file.is_to_be_proved(choice.id))
        {
            let typed = of(choice.id);
            choice.forms(file.case.id, typed, (keeper, &[]));
        }
    }
    (present, earlier)
}

/// A case with everything computed about it; the fault that the keeper has in mind is explained too.
async fn weigh(
    app: &App,
    id: CaseId,
    why: Option<&'static Fault>,
) -> Result<Arc<Weighed>, PageError> {
    let (clock, known) = (app.clock.clone(), app.cases());
    let now = clock.now();
    let weighed = app
        .blocking(move |store| {
            // Counted before anything is read: what is stored meanwhile counts for the next.
            let key = Key::of(id, why, store.stored(), now.utc);
            let weighed = known.of(key, || {
                let file = store.read(|db| CaseFile::load(db, id, &clock))?;
                Ok(Weighed::of(file, why, &now))
            })?;
            // Searched for here, where nobody else's page waits for it.
            weighed.plans();
            Ok::<_, StoreError>(weighed)
        })
        .await?;
    // Asked for here, its evidence is there at the next look.
    let (tank, kept) = (weighed.file.tank(), weighed.file.flow.as_ref());
    app.flow(tank, kept, Wanted::AsItStands);
    Ok(weighed)
}

/// The page with a form that was refused.
async fn refused_page(app: &App, id: CaseId, refused: Refused) -> Result<Response, PageError> {
    let (weighed, asked) = (weigh(app, id, None).await?, Asked::default());
    let now = app.clock.now();
    Ok((
        StatusCode::UNPROCESSABLE_ENTITY,
        CasePage::of(&weighed, &asked, &now, &app.clock, Some(refused)),
    )
        .into_response())
}

/// What can be asked of the page.
#[derive(Default, serde::Deserialize)]
#[serde(default)]
struct Asked {
    /// Id of the fault that the keeper has in mind.
    why: String,
    /// Id of the check that the keeper would rather do next.
    check: String,
    #[serde(flatten)]
    asking: Asking,
}

impl Asked {
    /// The fault that the keeper has in mind.
    fn fault(&self) -> Option<&'static Fault> {
        fault::by_id(&self.why)
    }
}

async fn show(
    State(app): State<App>,
    Id(id): Id<CaseId>,
    Query(asked): Query<Asked>,
) -> Result<CasePage, PageError> {
    let weighed = weigh(&app, id, asked.fault()).await?;
    let now = app.clock.now();
    Ok(CasePage::of(&weighed, &asked, &now, &app.clock, None))
}

/// The questions of a place or a search, alone.
#[derive(Template, WebTemplate)]
#[template(path = "parts/questions.html")]
struct QuestionsPart {
    case: CaseId,
    asking: Asking,
}

async fn questions(
    State(app): State<App>,
    Id(id): Id<CaseId>,
    Query(asking): Query<Asking>,
) -> Result<QuestionsPart, PageError> {
    let (case, clock) = (id, app.clock.clone());
    let asking = app
        .read(move |db| Ok(asking.answered(&CaseFile::load(db, case, &clock)?)))
        .await?;
    Ok(QuestionsPart { case, asking })
}

/// The changes that are not shown in full, alone.
#[derive(Template, WebTemplate)]
#[template(path = "parts/case_others.html")]
struct OthersPart {
    case: CaseId,
    others: Vec<OfferView>,
}

async fn other_changes(
    State(app): State<App>,
    Id(id): Id<CaseId>,
) -> Result<OthersPart, PageError> {
    let weighed = weigh(&app, id, None).await?;
    Ok(OthersPart {
        case: id,
        others: OffersView::others(
            &weighed.offers,
            &weighed.case,
            (&weighed.file.filter_log(), &weighed.file.prices),
        ),
    })
}

/// The summary as a text file.
async fn summary_file(
    State(app): State<App>,
    Id(id): Id<CaseId>,
) -> Result<impl IntoResponse, PageError> {
    let weighed = weigh(&app, id, None).await?;
    let disposition = format!("attachment; filename=\"case-{id}.txt\"");
    let headers = [
        (header::CONTENT_TYPE, "text/plain; charset=utf-8".to_owned()),
        (header::CONTENT_DISPOSITION, disposition),
    ];
    Ok((headers, summary::of(&weighed, &app.clock.now())))
}

/// The case as an open file.
async fn download(
    State(app): State<App>,
    Id(id): Id<CaseId>,
) -> Result<impl IntoResponse, PageError> {
    let weighed = weigh(&app, id, None).await?;
    let tank = weighed.file.case.tank_id;
    let log = app
        .read(move |db| reed_store::entries::standing(db, tank, Some(id)))
        .await?;
    let text = Document {
        log,
        ..Document::of(&weighed.case)
    }
    .write();
    let disposition = format!("attachment; filename=\"case-{id}.reed.json\"");
    Ok((
        [
            (header::CONTENT_TYPE, "application/json".to_owned()),
            (header::CONTENT_DISPOSITION, disposition),
        ],
        text,
    ))
}
