//! Where the water goes, ready to print.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use reed_core::flow::{Facts, LeftOut, words};
use reed_core::tank::Tank;
use reed_core::units::Units;
use reed_store::{TankId, settings, tanks};

use crate::error::PageError;
use crate::flows::{self, Flow, Wanted};
use crate::pages::ids::Id;
use crate::state::App;

/// What is told of the flow.
#[derive(Default)]
pub(super) struct FlowView {
    /// Percent done, while it is being computed.
    pub(super) share: Option<u8>,
    /// Nothing moves the water.
    pub(super) still: bool,
    /// The model failed.
    pub(super) failed: bool,
    /// Drift tests speak against what is told.
    pub(super) doubted: bool,
    pub(super) sentences: Vec<String>,
    pub(super) best: Vec<String>,
    pub(super) left_out: Vec<LeftOut>,
}

impl FlowView {
    pub(super) fn of(flow: Flow, units: &Units) -> Self {
        match flow {
            Flow::Unknown => Self::default(),
            Flow::Failed => Self {
                failed: true,
                ..Self::default()
            },
            Flow::Still => Self {
                still: true,
                ..Self::default()
            },
            Flow::UnderWay(share) => Self {
                share: Some(flows::whole_percent(share)),
                ..Self::default()
            },
            Flow::Known(facts) => Self::known(&facts, units),
        }
    }

    fn known(facts: &Facts, units: &Units) -> Self {
        Self {
            doubted: facts.trust.is_doubted(),
            sentences: words::all(facts),
            best: facts
                .best
                .iter()
                .map(|spot| words::spot(spot, units))
                .collect(),
            left_out: facts.left_out.clone(),
            ..Self::default()
        }
    }
}

/// The section alone: the page asks for it again and again while the flow is being computed.
#[derive(Template, WebTemplate)]
#[template(path = "parts/flow.html")]
pub(super) struct FlowPart {
    id: TankId,
    flow: FlowView,
}

/// A tank with what is known of its flow, and the units of its keeper.
pub(super) async fn of(app: &App, id: TankId) -> Result<(Tank, Flow, Units), PageError> {
    let (tank, kept, units) = app
        .read(move |db| {
            let tank = tanks::latest(db, id)?.tank;
            let kept = flows::kept(db, id, &tank)?;
            Ok((tank, kept, settings::units(db)?))
        })
        .await?;
    let flow = app.flow(&tank, kept.as_ref(), Wanted::AsItStands);
    Ok((tank, flow, units))
}

pub(super) async fn part(
    State(app): State<App>,
    Id(id): Id<TankId>,
) -> Result<FlowPart, PageError> {
    let (_, flow, units) = of(&app, id).await?;
    Ok(FlowPart {
        id,
        flow: FlowView::of(flow, &units),
    })
}
