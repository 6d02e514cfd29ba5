//! A tank as it stands: drawing, numbers, oxygen, records.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use reed_core::figure::Figure;
use reed_core::tank::{Conflict, Weight};
use reed_core::twin::Stirring;
use reed_store::{CaseId, RevisionId, TankId, cases, settings, tanks};

use super::flow::FlowView;
use super::twin::TwinView;
use crate::error::PageError;
use crate::flows::{self, Wanted};
use crate::pages::ids::Id;
use crate::state::App;
use crate::view::{Frame, NumberLine, Tab, Use, number_lines, sheet, when};

/// Below this, litres, a tank swings fast.
const SMALL_LITRES: Figure = Figure::common_practice(40.0);

#[derive(Template, WebTemplate)]
#[template(path = "pages/tank.html")]
pub(super) struct TankPage {
    frame: Frame,
    id: TankId,
    name: String,
    removed: bool,
    advice: &'static str,
    /// What nobody said: the set-up's.
    assumed: Vec<&'static str>,
    /// It swings fast.
    is_small: bool,
    drawing: String,
    conflicts: Vec<Conflict>,
    impossible: usize,
    numbers: Vec<NumberLine>,
    twin: TwinView,
    flow: FlowView,
    unknown: Vec<String>,
    history: Vec<HistoryLine>,
    cases: Vec<CaseLine>,
    open_case: Option<CaseId>,
}

struct HistoryLine {
    id: RevisionId,
    at: String,
    why: String,
    is_latest: bool,
}

struct CaseLine {
    id: CaseId,
    opened: String,
    ended: String,
}

pub(super) async fn show(
    State(app): State<App>,
    Id(id): Id<TankId>,
) -> Result<TankPage, PageError> {
    let (clock, asking) = (app.clock.clone(), app.clone());
    app.read(move |db| {
        let units = settings::units(db)?;
        let tanks::Revision {
            tank,
            removed,
            id: latest,
            ..
        } = tanks::latest(db, id)?;
        let history = tanks::history(db, id)?;
        let cases = cases::of_tank(db, id)?;
        let now = clock.now();
        let wall = |at| when(clock.wall_at(at), now.wall);
        let conflicts = tank.conflicts(&units);
        let kept = flows::kept(db, id, &tank)?;
        Ok(TankPage {
            frame: Frame::new("tank", tank.name.clone()).of_tank(id, &tank.name, Tab::Tank),
            id,
            removed,
            advice: tank.purpose.advice(),
            assumed: tank.assumed_labels(),
            is_small: tank.net_volume().as_litres() < SMALL_LITRES.value,
            drawing: sheet(&tank, &units, &conflicts, Use::Reading),
            impossible: conflicts
                .iter()
                .filter(|conflict| conflict.weight == Weight::Impossible)
                .count(),
            conflicts,
            numbers: number_lines(&tank, &units),
            twin: TwinView::of(&tank, Stirring::of(&tank, kept.as_ref()), &[]),
            flow: FlowView::of(
                asking.flow(&tank, kept.as_ref(), Wanted::AsItStands),
                &units,
            ),
            unknown: tank.unknown.0.keys().cloned().collect(),
            history: history
                .into_iter()
                .map(|line| HistoryLine {
                    id: line.id,
                    at: wall(line.made_at),
                    why: line.why,
                    is_latest: line.id == latest,
                })
                .collect(),
            open_case: cases
                .iter()
                .find(|case| case.closed.is_none())
                .map(|case| case.id),
            cases: cases
                .into_iter()
                .map(|case| CaseLine {
                    id: case.id,
                    opened: wall(case.opened_at),
                    ended: case.closed.map_or_else(
                        || "open".to_owned(),
                        |(at, words)| format!("closed {}: {words}", wall(at)),
                    ),
                })
                .collect(),
            name: tank.name,
        })
    })
    .await
}
