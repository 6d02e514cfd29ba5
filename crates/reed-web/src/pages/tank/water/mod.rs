//! Water: nitrogen ahead, water changes, surfaces for bacteria, oxygen and pH through the day,
//! media, tests. A page to each part.

mod acid_day;
mod ahead;
mod ahead_chart;
mod bacteria;
mod changes;
mod cycle;
pub(super) mod days;
mod emergency_answer;
mod emergency_form;
mod failures;
mod habit;
mod inputs;
mod media;
mod oxygen;
mod part;
mod testing;

use std::collections::HashSet;

use axum::Router;
use axum::routing::{get, post};
use jiff::SignedDuration;
use jiff::civil::DateTime;
use reed_core::tank::{Analyte, Reading, Tank};
use reed_core::twin::Stirring;
use reed_core::units::Units;
use reed_store::{Connection, StoreError, TankId, readings, settings, tanks};

pub(super) use ahead_chart::{ahead, bands_of};
pub(super) use inputs::WaterInputs;

use crate::flows;
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/tanks/{tank}/water", get(days::show))
        .route("/tanks/{tank}/water/outlook", get(ahead::show))
        .route("/tanks/{tank}/water/changes", get(changes::show))
        .route("/tanks/{tank}/water/bacteria", get(bacteria::show))
        .route("/tanks/{tank}/water/oxygen", get(oxygen::show))
        .route("/tanks/{tank}/water/ph", get(acid_day::show))
        .route("/tanks/{tank}/water/media", get(media::show))
        .route("/tanks/{tank}/water/tests", get(testing::show))
        .route("/tanks/{tank}/water/habit", post(habit::move_habit))
        .route("/tanks/{tank}/water/cycle", post(cycle::plan))
        .route("/tanks/{tank}/water/planned/strike", post(cycle::withdraw))
        .route("/tanks/{tank}/water/readings", post(testing::add_reading))
}

/// Readings that stand on the day's curves are no older, days; hardness is looked for as far back
/// as it counts.
const DOTS_DAYS: i64 = 14;
const RECENT_DAYS: i64 = 30;

/// Readings on a curve of a day at most, unless they are thinned.
const MOST_DOTS: usize = 60;
const MINUTES_OF_A_DAY: usize = 24 * 60;

/// A tank with what was read of it lately.
struct Recent {
    tank: Tank,
    stirring: Stirring,
    readings: Vec<Reading>,
    units: Units,
    now: DateTime,
}

impl Recent {
    fn read(db: &Connection, id: TankId, now: DateTime) -> Result<Self, StoreError> {
        let tank = tanks::latest(db, id)?.tank;
        let flow = flows::kept(db, id, &tank)?;
        let since = now - SignedDuration::from_hours(24 * RECENT_DAYS);
        let stored = readings::latest_of_each(db, id, (since, DateTime::MAX), MINUTES_OF_A_DAY)?;
        let readings = stored
            .into_iter()
            .filter(|stored| !stored.is_struck())
            .map(|stored| stored.reading)
            .collect();
        Ok(Self {
            stirring: Stirring::of(&tank, flow.as_ref()),
            tank,
            readings,
            units: settings::units(db)?,
            now,
        })
    }

    /// Readings of something that stand on the curves of a day.
    /// Of a probe the latest of each half hour of the day: more could not be told apart.
    fn dots(&self, analyte: &'static Analyte) -> Vec<&Reading> {
        let since = self.now - SignedDuration::from_hours(24 * DOTS_DAYS);
        let mut dots: Vec<&Reading> = self
            .readings
            .iter()
            .filter(|reading| reading.analyte == analyte && reading.taken_at >= since)
            .collect();
        if dots.len() > MOST_DOTS {
            let mut half_hours = HashSet::new();
            dots.reverse();
            dots.retain(|reading| {
                let at = reading.taken_at.time();
                half_hours.insert((at.hour(), at.minute() / 30))
            });
        }
        dots
    }
}
