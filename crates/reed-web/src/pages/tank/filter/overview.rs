//! What is in a filter, what flows through it, how full it is, and what it looked like.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State as AppState};
use reed_core::filter::State;
use reed_core::filter::clogging::what_if;
use reed_core::filter::judged::consequence;
use reed_core::filter::load::caught_by_flow;
use reed_core::tank::{At, Filter};
use reed_core::units::{Quantity as _, Volume};
use reed_store::{Connection, StoreError, TankId};

use super::bucket::BucketInput;
use super::due::{Due, if_words};
use super::gauges::{bucket_says, gauges};
use super::order::place_words;
use super::record::{RecordLine, record};
use super::{Asked, AskedFilter, Part, PartFrame, Seen};
use crate::error::PageError;
use crate::forms::Refusals;
use crate::pages::ids::Id;
use crate::state::App;
use crate::view::{Frame, Opened, cutaway, percent};

#[derive(Template, WebTemplate)]
#[template(path = "pages/filter/inside.html")]
pub(super) struct FilterPage {
    frame: Frame,
    part: PartFrame,
    id: TankId,
    seen: Option<FilterView>,
}

struct FilterView {
    number: u32,
    name: String,
    kind: &'static str,
    path: &'static str,
    drawing: String,
    stops: Vec<StopView>,
    wrong: Vec<WrongView>,
    mends: bool,
    due: Due,
    gauges: Vec<Opened>,
    what_if: Vec<String>,
    record: Vec<RecordLine>,
    bucket: BucketInput,
    refusals: Refusals,
    bucket_says: Vec<String>,
}

/// A stop of the water, with its media.
struct StopView {
    place: usize,
    name: String,
    fill: String,
    drop: String,
    media: Vec<MediumView>,
    /// Where a medium that is put last here goes.
    end: String,
}

struct MediumView {
    words: String,
    is_full_first: bool,
    here: String,
    /// Where it would go one earlier or later; nothing at the ends of the way.
    earlier: Option<String>,
    later: Option<String>,
}

struct WrongView {
    words: String,
    where_: String,
    reason: &'static str,
    costs: Option<String>,
}

pub(super) async fn show(
    AppState(app): AppState<App>,
    Id(id): Id<TankId>,
    Query(asked): AskedFilter,
) -> Result<FilterPage, PageError> {
    let now = app.clock.now().wall;
    app.read(move |db| FilterPage::read(db, id, asked, now, None))
        .await
}

impl FilterPage {
    pub(super) fn read(
        db: &Connection,
        id: TankId,
        asked: Asked,
        now: jiff::civil::DateTime,
        typed: Option<(BucketInput, Refusals)>,
    ) -> Result<Self, StoreError> {
        let seen = Seen::read(db, id, asked, now)?;
        let (frame, part) = seen.framed(Part::Inside);
        let view = match &seen.filter {
            Some((filter, state)) => Some(FilterView::of(db, &seen, filter, state, typed)?),
            None => None,
        };
        Ok(Self {
            frame,
            part,
            id,
            seen: view,
        })
    }
}

impl FilterView {
    fn of(
        db: &Connection,
        seen: &Seen,
        filter: &Filter,
        state: &State,
        typed: Option<(BucketInput, Refusals)>,
    ) -> Result<Self, StoreError> {
        let wrong: Vec<WrongView> = filter
            .misplaced()
            .into_iter()
            .map(|found| WrongView {
                words: found.wrong.words(),
                where_: found
                    .at
                    .and_then(|at| stop_name(filter, at))
                    .unwrap_or_default(),
                reason: found.wrong.reason(),
                costs: consequence(&seen.tank, filter, found.wrong),
            })
            .collect();
        let (bucket, refusals) = typed.unwrap_or_default();
        let bucket = BucketInput {
            litres: if bucket.litres.is_empty() {
                "10".to_owned()
            } else {
                bucket.litres
            },
            ..bucket
        };
        let caught = super::caught(db, seen.id, &seen.tank, filter.number)?;
        Ok(Self {
            number: filter.number.0,
            name: filter.name.clone(),
            kind: filter.kind.words(),
            path: filter.kind.path(),
            drawing: cutaway(filter, state),
            stops: stops(seen, filter, state),
            mends: filter
                .misplaced()
                .iter()
                .any(|found| found.wrong.is_mended_by_order()),
            wrong,
            due: Due::of(seen, state),
            gauges: gauges(seen, filter, state),
            what_if: what_if(
                &seen.tank,
                filter,
                caught.unwrap_or_else(|| caught_by_flow(&seen.tank, filter)),
            )
            .iter()
            .map(|what| if_words(what, state.clogging.as_ref()))
            .collect(),
            record: record(db, seen, filter)?,
            bucket,
            refusals,
            bucket_says: bucket_says(seen, filter, state),
        })
    }
}

fn stop_name(filter: &Filter, at: At) -> Option<String> {
    let path = filter.path();
    path.into_iter()
        .find(|stop| stop.at == at)
        .map(|stop| stop.name)
}

/// The way of the water, stop by stop.
fn stops(seen: &Seen, filter: &Filter, state: &State) -> Vec<StopView> {
    let path = filter.path();
    let choked = state.clogging.as_ref().map(|clogging| clogging.bed);
    let share = state
        .clogging
        .as_ref()
        .and_then(|clogging| clogging.share)
        .map_or(0.0, |share| share.middle);
    let losses = state.plumbing.losses(state.flow, choked, share);
    let laid = || state.plumbing.beds.iter().zip(&losses).enumerate();
    // Every place of a medium along the way, so that one can be moved to the next.
    let places: Vec<(At, usize)> = path
        .iter()
        .flat_map(|stop| (0..stop.media.len()).map(move |medium| (stop.at, medium)))
        .collect();
    let views = path.iter().enumerate().map(|(place, stop)| {
        let media = stop.media.iter().enumerate().map(|(medium, portion)| {
            let own = places.iter().position(|own| *own == (stop.at, medium));
            let grain = portion
                .grain
                .map_or_else(String::new, |grain| format!(", {} mm", grain.as_mm()));
            let litres = seen
                .units
                .print(portion.litres.as_litres(), Volume::UNITS, 1);
            // Within a stop it goes before the one above it; past its end into the next stop.
            let earlier = if medium > 0 {
                Some((stop.at, medium - 1))
            } else {
                place
                    .checked_sub(1)
                    .map(|before| (path[before].at, path[before].media.len()))
            };
            let later = if medium + 1 < stop.media.len() {
                Some((stop.at, medium + 1))
            } else {
                path.get(place + 1).map(|after| (after.at, 0))
            };
            MediumView {
                words: format!("{litres} {}{grain}", portion.medium.words()),
                is_full_first: own.is_some_and(|_| {
                    laid().any(|(index, (laid, _))| {
                        Some(index) == choked && laid.at == stop.at && laid.portion == medium
                    })
                }),
                here: place_words(stop.at, medium),
                earlier: earlier.map(|(at, medium)| place_words(at, medium)),
                later: later.map(|(at, medium)| place_words(at, medium)),
            }
        });
        let drop: f64 = laid()
            .filter(|(_, (laid, _))| laid.at == stop.at)
            .map(|(_, (_, loss))| *loss)
            .sum();
        StopView {
            place: place + 1,
            name: stop.name.clone(),
            fill: stop
                .fill()
                .map_or_else(String::new, |fill| format!("{} full", percent(fill))),
            drop: format!("{:.0} mm", 1000.0 * drop),
            media: media.collect(),
            end: place_words(stop.at, stop.media.len()),
        }
    });
    views.collect()
}

impl WrongView {
    /// Where it is, said after a comma.
    fn place(&self) -> String {
        if self.where_.is_empty() {
            String::new()
        } else {
            format!(" ({})", self.where_)
        }
    }
}
