//! The days ahead: the outlook, which is fetched after, and what happened or is planned.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use reed_core::log::Happening;
use reed_core::outlook::ahead::parts;
use reed_core::units::Units;
use reed_store::{TankId, settings, tanks};

use super::part::{Part, PartFrame};
use crate::error::PageError;
use crate::pages::ids::Id;
use crate::pages::now::Watching;
use crate::pages::tank::log::EntryInput;
use crate::state::App;
use crate::view::Frame;

#[derive(Template, WebTemplate)]
#[template(path = "pages/water/ahead.html")]
pub(in crate::pages::tank) struct DaysPage {
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
    event: EntryInput,
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

/// The kinds that do something to the water, with the units of their amounts as the keeper reads
/// them.
fn kinds(units: &Units) -> Vec<(&'static str, &'static str, &'static str)> {
    Happening::all()
        .filter(|kind| kind.does.is_some())
        .map(|kind| {
            let unit = kind.amount.map_or("", |measure| {
                measure
                    .unit_for(units)
                    .map_or(measure.unit, |own| own.symbol)
            });
            (kind.id, kind.label, unit)
        })
        .collect()
}

/// The page with what was typed into its form, and why that was refused; empty where it was not.
pub(in crate::pages::tank) async fn page(
    app: &App,
    id: TankId,
    event: EntryInput,
    event_refused: String,
) -> Result<DaysPage, PageError> {
    let watching = Watching::of(app);
    app.read(move |db| {
        let tank = tanks::latest(db, id)?.tank;
        let units = event.carried().units(settings::units(db)?);
        let (frame, part) = PartFrame::read(db, &watching, Part::Ahead, (id, &tank.name))?;
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
    page(&app, id, EntryInput::of_water(), String::new()).await
}
