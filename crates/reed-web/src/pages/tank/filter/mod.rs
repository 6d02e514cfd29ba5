//! Filter: what is in each filter and the way of the water through it, its flow, its dirt, its air,
//! its hoses, its service. A page to each part, of one filter at a time.

mod air;
mod bucket;
mod due;
mod gauges;
mod hoses;
mod kinds;
mod order;
mod overview;
mod record;
mod service;

use axum::Router;
use axum::extract::Query;
use axum::routing::{get, post};
use jiff::civil::DateTime;
use reed_core::filter::{State, history};
use reed_core::log::Entry;
use reed_core::tank::{Filter, Serial, Tank};
use reed_core::units::{FlowRate, Length, Quantity, Units};
use reed_store::{Connection, StoreError, TankId, entries, settings, tanks};

use crate::flows;
use crate::state::App;
use crate::view::{Frame, Tab};

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/tanks/{tank}/filter", get(overview::show))
        .route("/tanks/{tank}/filter/air", get(air::show))
        .route("/tanks/{tank}/filter/hoses", get(hoses::show))
        .route("/tanks/{tank}/filter/service", get(service::show))
        .route("/tanks/{tank}/filter/kinds", get(kinds::show))
        .route("/tanks/{tank}/filter/{filter}/order", post(order::mend))
        .route(
            "/tanks/{tank}/filter/{filter}/media",
            post(order::move_medium),
        )
        .route("/tanks/{tank}/filter/{filter}/bucket", post(bucket::enter))
        .route("/tanks/{tank}/filter/{filter}/steps", post(service::tick))
        .route("/tanks/{tank}/filter/{filter}/anew", post(service::anew))
}

/// Which filter a page is about; the first where nothing is said.
#[derive(Clone, Copy, Default, serde::Deserialize)]
struct Asked {
    #[serde(default)]
    f: Option<u32>,
}

type AskedFilter = Query<Asked>;

/// A part of Filter.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Part {
    Inside,
    Air,
    Hoses,
    Service,
    Kinds,
}

impl Part {
    /// All of them, in the order of the bar.
    const ALL: [Self; 5] = [
        Self::Inside,
        Self::Service,
        Self::Air,
        Self::Hoses,
        Self::Kinds,
    ];

    const fn words(self) -> &'static str {
        match self {
            Self::Inside => "Inside",
            Self::Air => "Air",
            Self::Hoses => "Hoses and levels",
            Self::Service => "Service",
            Self::Kinds => "Kinds",
        }
    }

    /// Its address below that of the tank's filters.
    const fn path(self) -> &'static str {
        match self {
            Self::Inside => "",
            Self::Air => "/air",
            Self::Hoses => "/hoses",
            Self::Service => "/service",
            Self::Kinds => "/kinds",
        }
    }
}

/// What the bar of the parts needs.
struct PartFrame {
    id: TankId,
    here: Part,
    /// The filter that is looked at.
    filter: Serial,
    /// Every filter: number and name.
    filters: Vec<(Serial, String)>,
}

impl PartFrame {
    const fn all(&self) -> &'static [Part] {
        &Part::ALL
    }
}

/// A tank with the filter that is asked for, as it stands.
struct Seen {
    id: TankId,
    tank: Tank,
    filter: Option<(Filter, State)>,
    units: Units,
    now: DateTime,
}

impl Seen {
    fn read(db: &Connection, id: TankId, asked: Asked, now: DateTime) -> Result<Self, StoreError> {
        let tank = tanks::latest(db, id)?.tank;
        let filter = match asked.f {
            Some(number) => Some(of_number(&tank, number)?.clone()),
            None => tank.filters.first().cloned(),
        };
        let kept = entries::of_kinds(db, id, &history::KINDS)?;
        let log: Vec<Entry> = kept.into_iter().map(|kept| kept.entry).collect();
        let caught = match &filter {
            Some(filter) => caught(db, id, &tank, filter.number)?,
            None => None,
        };
        let filter = filter.map(|filter| {
            let state = State::of(&tank, &filter, &log, caught, now);
            (filter, state)
        });
        Ok(Self {
            id,
            filter,
            units: settings::units(db)?,
            now,
            tank,
        })
    }

    /// The frame of a part with its bar.
    fn framed(&self, here: Part) -> (Frame, PartFrame) {
        let tank = &self.tank.name;
        let title = match here {
            Part::Inside => format!("Filter of {tank}"),
            _ => format!("{}, filter of {tank}", here.words()),
        };
        let filters = self.tank.filters.iter();
        let bar = PartFrame {
            id: self.id,
            here,
            filter: self
                .filter
                .as_ref()
                .map_or(Serial::default(), |(filter, _)| filter.number),
            filters: filters
                .map(|filter| (filter.number, filter.name.clone()))
                .collect(),
        };
        (
            Frame::new("filter", title).of_tank(self.id, tank, Tab::Filter),
            bar,
        )
    }

    fn flow(&self, l_per_h: f64) -> String {
        self.units.print(l_per_h, FlowRate::UNITS, 0)
    }

    fn length(&self, cm: f64) -> String {
        self.units.print(cm, Length::UNITS, 0)
    }
}

/// The filter of this number.
fn of_number(tank: &Tank, number: u32) -> Result<&Filter, StoreError> {
    let filter = tank.filters.iter().find(|filter| filter.number.0 == number);
    filter.ok_or(StoreError::NotFound {
        what: "filter",
        id: i64::from(number),
    })
}

/// The share of all dirt that the intakes of a filter catch, by the flow model.
fn caught(
    db: &Connection,
    id: TankId,
    tank: &Tank,
    filter: Serial,
) -> Result<Option<f64>, StoreError> {
    let facts = flows::kept(db, id, tank)?;
    Ok(facts.and_then(|facts| facts.caught_by_filter(tank, filter)))
}
