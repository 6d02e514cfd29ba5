//! A new tank's cycle: stage, tests due, what proves the end, and a plan that can be entered and
//! withdrawn as a whole.

use axum::extract::State;
use axum::response::Redirect;
use axum_extra::extract::Form;
use reed_core::outlook::ahead::cycling::{self, Condition, CycleStage, STARTS, Source};
use reed_core::outlook::ahead::{Event, NitrogenBelief, NitrogenOutlook};
use reed_core::units::Refusal;
use reed_core::units::span_of_days;
use reed_store::{TankId, entries};

use super::ahead::DAYS;
use super::habit::{back, plan_entry};
use super::inputs::WaterInputs;
use crate::error::PageError;
use crate::pages::ids::Id;
use crate::state::App;

/// How it stands with a new tank.
pub(super) struct CycleView {
    pub(super) stage: &'static str,
    /// Tests, and when each is due.
    pub(super) due: Vec<(&'static str, String)>,
    pub(super) proof: [Condition; 4],
    /// Where to look if it takes too long.
    pub(super) stalled: Option<Vec<&'static str>>,
    /// Ways to start: what, and the earliest, likely and latest day of the end.
    pub(super) starts: Vec<(&'static str, [String; 3])>,
}

impl CycleView {
    /// Of a tank that is new; `None` of a settled one.
    pub(super) fn of(
        loaded: &WaterInputs,
        belief: &NitrogenBelief,
        known: &[Event],
        outlook: &NitrogenOutlook,
    ) -> Option<Self> {
        loaded.setting.young_days?;
        let stage = CycleStage::of(outlook);
        let due = |(analyte, days): (&'static reed_core::tank::Analyte, f64)| {
            let when = if days <= 0.0 {
                "due now".to_owned()
            } else {
                format!("due on {}", loaded.date(days))
            };
            (analyte.label, when)
        };
        let start = |start: cycling::Start| {
            // By how it is started: without what is planned, whose last dose would decide.
            let events: Vec<Event> = known
                .iter()
                .copied()
                .filter(|event| event.day <= 0.0)
                .chain(start.event())
                .collect();
            let ahead = loaded.outlook(belief, &events, 2 * DAYS);
            let never = if ahead.is_fed {
                "later than four months"
            } else {
                "not without food"
            };
            let say =
                |done: Option<f64>| done.map_or_else(|| never.to_owned(), |days| loaded.date(days));
            (start.words, ahead.cycled.map(say))
        };
        Some(Self {
            stage: stage.words(),
            due: cycling::due(stage, &loaded.readings, loaded.now)
                .into_iter()
                .map(due)
                .collect(),
            proof: cycling::proof(
                &loaded.setting,
                known,
                &loaded.readings,
                loaded.now,
                &loaded.units,
            ),
            stalled: cycling::stalled(
                &loaded.tank,
                &loaded.setting,
                known,
                outlook,
                &loaded.readings,
            ),
            starts: STARTS.map(start).to_vec(),
        })
    }
}

/// What a cycle is to be planned with.
#[derive(serde::Deserialize)]
pub(super) struct PlanInput {
    start: String,
    source: String,
}

impl PlanInput {
    fn parse(&self) -> Result<(cycling::Start, Source), Refusal> {
        let accepted = "Choose one from the list.";
        let start = STARTS.into_iter().find(|start| start.id == self.start);
        let start = start.ok_or_else(|| Refusal::new("start", "Started", &self.start, accepted))?;
        let source = Source::by_id(&self.source)
            .ok_or_else(|| Refusal::new("source", "Fed by", &self.source, accepted))?;
        Ok((start, source))
    }
}

/// Plans it, by its own outlook, and enters what is to be done.
pub(super) async fn plan(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Form(input): Form<PlanInput>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now();
    let chosen = input
        .parse()
        .map_err(|refusal| PageError::Refused(refusal.to_string()))?;
    let planned = app
        .read(move |db| {
            let loaded = WaterInputs::read(db, id, now.wall)?;
            // A new plan takes the place of whatever was planned.
            let known: Vec<Event> = loaded
                .known()
                .into_iter()
                .filter(|event| event.day <= 0.0)
                .collect();
            let belief = loaded.belief(&known);
            Ok(cycling::plan(
                &loaded.setting,
                &belief,
                &known,
                chosen,
                (&loaded.acidity, loaded.tank.salinity),
            ))
        })
        .await?;
    app.write(move |db| {
        entries::strike_after(db, id, now.wall, now.utc)?;
        for event in planned {
            let at = now
                .wall
                .saturating_add(span_of_days(event.day).unwrap_or_default());
            entries::add(db, id, &plan_entry(event.effect, at), now.utc)?;
        }
        Ok(())
    })
    .await?;
    Ok(back(id))
}

/// Withdraws everything that is planned.
pub(super) async fn withdraw(
    State(app): State<App>,
    Id(id): Id<TankId>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now();
    app.write(move |db| entries::strike_after(db, id, now.wall, now.utc))
        .await?;
    Ok(back(id))
}
