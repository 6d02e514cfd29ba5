//! Which kind of filter would serve the tank.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State as AppState};
use reed_core::remedy::choosing::{Choice, choices};
use reed_store::TankId;

use super::{AskedFilter, Part, PartFrame, Seen};
use crate::error::PageError;
use crate::pages::ids::Id;
use crate::state::App;
use crate::view::{Frame, percent};

#[derive(Template, WebTemplate)]
#[template(path = "pages/filter/kinds.html")]
pub(super) struct KindsPage {
    frame: Frame,
    part: PartFrame,
    id: TankId,
    /// The label that all of them would have.
    label: String,
    kinds: Vec<KindView>,
}

struct KindView {
    name: &'static str,

    stands_here: bool,
    carries: String,
    catches: String,
    lasts: String,
    minutes: String,
    kwh: String,
    aeration: &'static str,
    noise: &'static str,
    room: &'static str,
}

pub(super) async fn show(
    AppState(app): AppState<App>,
    Id(id): Id<TankId>,
    Query(asked): AskedFilter,
) -> Result<KindsPage, PageError> {
    let now = app.clock.now().wall;
    app.read(move |db| {
        let seen = Seen::read(db, id, asked, now)?;
        let (frame, part) = seen.framed(Part::Kinds);
        let kinds = choices(&seen.tank);
        Ok(KindsPage {
            frame,
            part,
            id,
            label: kinds
                .first()
                .map_or_else(String::new, |choice| seen.flow(choice.rated_l_per_h)),
            kinds: kinds.iter().map(KindView::of).collect(),
        })
    })
    .await
}

impl KindView {
    fn of(choice: &Choice) -> Self {
        let lasts = if choice.lasts_days > 365.0 {
            "over a year".to_owned()
        } else {
            format!("{:.0} days", choice.lasts_days)
        };
        Self {
            name: choice.kind.words(),

            stands_here: choice.stands_here,

            carries: choice.capacity.map_or_else(
                || "nothing is fed".to_owned(),
                |times| format!("{times:.1} × the feed"),
            ),
            catches: percent(choice.catches),
            lasts,
            minutes: format!("{:.0} min", choice.minutes_a_month.max(1.0)),
            kwh: format!("{:.0} kWh", choice.kwh_a_year),
            aeration: choice.said.aeration,
            noise: choice.said.noise,
            room: choice.said.room,
        }
    }
}
