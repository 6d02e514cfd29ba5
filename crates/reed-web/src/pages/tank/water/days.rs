//! The days ahead: the outlook, which is fetched after, and what happened or is planned.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use reed_core::outlook::ahead::{What, parts};
use reed_core::units::Units;
use reed_store::{TankId, settings, tanks};

use super::events::EventInput;
use super::part::{Part, PartFrame};
use crate::error::PageError;
use crate::pages::ids::Id;
use crate::state::App;
use crate::view::Frame;

#[derive(Template, WebTemplate)]
#[template(path = "pages/water/ahead.html")]
pub(super) struct DaysPage {
    frame: Frame,
    part: PartFrame,
    id: TankId,
    /// Media that can be rinsed or replaced one by one: what, and its share of all media in
    /// percent.
    parts: Vec<(String, String)>,
    /// Kinds of events: id, words, unit of the amount.
    kinds: Vec<(&'static str, &'static str, &'static str)>,
    /// [`Units::code`] of the units it is shown in.
    units: String,
    /// The event form as typed, and why it was refused; empty when it was not.
    event: EventInput,
    event_refused: String,
}

impl DaysPage {
    /// The unit of the amount of the kind that is chosen.
    fn unit(&self) -> &'static str {
        self.kinds
            .iter()
            .find(|(kind, ..)| *kind == self.event.what)
            .map_or("", |(_, _, unit)| unit)
    }
}

/// The kinds of events with their units as the keeper reads them.
fn kinds(units: &Units) -> Vec<(&'static str, &'static str, &'static str)> {
    let own = |(id, words, unit)| {
        (
            id,
            words,
            What::amount_unit(id, units).map_or(unit, |own| own.symbol),
        )
    };
    What::KINDS.into_iter().map(own).collect()
}

/// The page with what was typed into its form, and why that was refused; empty where it was not.
pub(super) async fn page(
    app: &App,
    id: TankId,
    event: EventInput,
    event_refused: String,
) -> Result<DaysPage, PageError> {
    app.read(move |db| {
        let tank = tanks::latest(db, id)?.tank;
        let units = event.carried.units(settings::units(db)?);
        let (frame, part) = PartFrame::of(Part::Ahead, id, &tank.name);
        Ok(DaysPage {
            frame,
            part,
            id,
            parts: parts(&tank)
                .into_iter()
                .map(|(name, share)| (name, format!("{:.0}", (100.0 * share).max(1.0))))
                .collect(),
            kinds: kinds(&units),
            units: units.code(),
            event,
            event_refused,
        })
    })
    .await
}

pub(super) async fn show(
    State(app): State<App>,
    Id(id): Id<TankId>,
) -> Result<DaysPage, PageError> {
    page(&app, id, EventInput::blank(), String::new()).await
}
