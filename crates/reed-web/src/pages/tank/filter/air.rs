//! Air in a filter: the pressure on the way, whether bubbles are usual now, where to look in order.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State as AppState};
use reed_core::diagnosis::fault;
use reed_core::filter::State;
use reed_core::filter::air::MARGIN_SPREAD_KPA;
use reed_core::filter::rise::{AIR_DENSITY, terminal_speed};
use reed_core::tank::Filter;
use reed_store::TankId;

use super::{AskedFilter, Part, PartFrame, Seen};
use crate::error::PageError;
use crate::pages::ids::Id;
use crate::state::App;
use crate::view::Frame;

#[derive(Template, WebTemplate)]
#[template(path = "pages/filter/air.html")]
pub(super) struct AirPage {
    frame: Frame,
    part: PartFrame,
    id: TankId,
    seen: Option<AirView>,
}

struct AirView {
    name: String,
    usual: String,
    purge: String,
    /// It is not known whether it purges itself, and it could.
    asks_purge: bool,
    margin: Option<String>,
    margin_is_low: bool,
    pressed: Vec<PressedView>,
    suspects: Vec<SuspectView>,
    exposed: Option<String>,
    rises: String,
}

struct PressedView {
    place: &'static str,
    height: String,
    kpa: String,
    draws: bool,
}

struct SuspectView {
    look: &'static str,
    title: &'static str,
    says: String,
    is_possible: bool,
}

pub(super) async fn show(
    AppState(app): AppState<App>,
    Id(id): Id<TankId>,
    Query(asked): AskedFilter,
) -> Result<AirPage, PageError> {
    let now = app.clock.now().wall;
    app.read(move |db| {
        let seen = Seen::read(db, id, asked, now)?;
        let (frame, part) = seen.framed(Part::Air);
        let view = seen
            .filter
            .as_ref()
            .map(|(filter, state)| AirView::of(&seen, filter, state));
        Ok(AirPage {
            frame,
            part,
            id,
            seen: view,
        })
    })
    .await
}

impl AirView {
    fn of(seen: &Seen, filter: &Filter, state: &State) -> Self {
        let is_canister = filter.kind.design().is_canister;
        let purge = match filter.purges_every {
            Some(hours) => format!("It purges itself every {:.0} hours, and within two minutes of being switched on: it stops, starts again and sheds a gush of air. Bursts in that rhythm are how it is built; leave it plugged in, off and on begins it anew.", hours.as_hours()),
            None if is_canister => "Does it stop and start by itself, within two minutes of being switched on and then every 12 to 24 hours? Then bursts are its own purge, and no fault.".to_owned(),
            None => "This kind sheds no air by itself.".to_owned(),
        };
        let water = &state.plumbing.water;
        let speed =
            |millimetres: f64| 100.0 * terminal_speed(millimetres / 1000.0, AIR_DENSITY, water);
        Self {
            name: filter.name.clone(),
            usual: state.trapped.words(),
            purge,
            asks_purge: filter.purges_every.is_none() && is_canister,
            margin: state.margin_kpa.map(|margin| format!("{margin:.1} ± {MARGIN_SPREAD_KPA:.0} kPa")),
            margin_is_low: state.margin_kpa.is_some_and(|margin| margin < MARGIN_SPREAD_KPA),
            pressed: state
                .pressed
                .iter()
                .map(|place| PressedView {
                    place: place.place,
                    height: if place.height >= 0.0 {
                        format!("{} above the water", seen.length(100.0 * place.height))
                    } else {
                        format!("{} below", seen.length(-100.0 * place.height))
                    },
                    kpa: format!("{:+.1} kPa", place.kpa),
                    draws: place.kpa < 0.0,
                })
                .collect(),
            suspects: state
                .suspects
                .iter()
                .map(|suspect| SuspectView {
                    look: suspect.look,
                    title: fault::by_id(suspect.fault).map_or("", |fault| fault.title),
                    says: suspect.says.clone(),
                    is_possible: suspect.is_possible,
                })
                .collect(),
            exposed: state.exposed_in_days.map(|days| {
                if days <= 0.0 {
                    "The top of its intake stands in the air now: top up, or lower it.".to_owned()
                } else {
                    format!("Evaporation bares the top of its intake in about {days:.0} days, if nobody tops up.")
                }
            }),
            rises: format!(
                "A micro bubble of 0.1 mm rises {:.1} cm a second, one of 0.3 mm {:.0} cm, the fizz of 1 mm on panes {:.0} cm: what leaves a filter’s outlet is so fine that the stream carries it round the tank like mist, while fizz sits on panes and leaves and comes from water that holds too much gas, as after a cold refill.",
                speed(0.1), speed(0.3), speed(1.0)
            ),
        }
    }
}
