//! Oxygen through a day, and what becomes of it when something fails.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use reed_core::tank::Analyte;
use reed_store::TankId;

use super::super::twin::TwinView;
use super::failures::FailureRow;
use super::part::{Part, PartFrame};
use super::{Recent, failures};
use crate::error::PageError;
use crate::pages::ids::Id;
use crate::pages::now::Watching;
use crate::state::App;
use crate::view::{Dot, Frame};

#[derive(Template, WebTemplate)]
#[template(path = "pages/water/oxygen.html")]
pub(super) struct OxygenPage {
    frame: Frame,
    part: PartFrame,
    id: TankId,
    twin: TwinView,
    /// What fails, and what becomes of the oxygen.
    failures: Vec<FailureRow>,
    peroxide: Option<String>,
}

pub(super) async fn show(
    State(app): State<App>,
    Id(id): Id<TankId>,
) -> Result<OxygenPage, PageError> {
    let (id, now) = (id, app.clock.now().wall);
    let watching = Watching::of(&app);
    app.read(move |db| {
        let recent = Recent::read(db, id, now)?;
        let dots: Vec<Dot> = recent
            .dots(Analyte::OXYGEN)
            .into_iter()
            .map(|reading| Dot::of(reading, false))
            .collect();
        let (frame, part) = PartFrame::read(db, &watching, Part::Oxygen, (id, &recent.tank.name))?;
        Ok(OxygenPage {
            frame,
            part,
            id,
            twin: TwinView::of(&recent.tank, recent.stirring, &dots),
            failures: failures::all(&recent.tank, recent.stirring, &recent.units),
            peroxide: failures::peroxide(&recent.tank, now.date()),
        })
    })
    .await
}
