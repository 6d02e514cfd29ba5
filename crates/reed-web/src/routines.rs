//! What is due in each tank: read from its records, with what is costly of it kept in memory until
//! its log or its description changes.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use jiff::Timestamp;
use jiff::civil::Date;
use reed_core::filter::State;
use reed_core::flow::Facts;
use reed_core::log::Entry;
use reed_core::outlook::forecast::Grade;
use reed_core::routine::{Known, Record, Standing, Watched, kinds, standing};
use reed_core::tank::{Analyte, Reading, Serial, analyte};
use reed_store::tanks::Revision;
use reed_store::{Connection, RevisionId, StoreError, TankId, duties, entries, readings, tanks};

use crate::clock::{Clock, Moment};

/// What the routine reads of what was read, and how much of each.
const READ: [&Analyte; 6] = [
    Analyte::AMMONIA,
    Analyte::NITRITE,
    Analyte::NITRATE,
    Analyte::KH,
    Analyte::OXYGEN,
    Analyte::TAP_NITRATE,
];
const OF_EACH: usize = 12;

/// What follows from the log and the description of a tank.
#[derive(Debug)]
struct Kept {
    log: Record,
    filters: Vec<(Serial, State)>,
    entered: Date,
}

/// From what that follows: a revision with its moment, the mark of the log, what each filter's
/// intakes catch by the flow, and the day.
#[derive(Clone, Debug, PartialEq)]
struct Key {
    revision: (RevisionId, Timestamp),
    log: Option<i64>,
    caught: Vec<Option<u64>>,
    today: Date,
}

/// What was read before, by tank.
#[derive(Debug, Default)]
pub(crate) struct Routines(Mutex<HashMap<TankId, (Key, Arc<Kept>)>>);

impl Routines {
    /// Every task of a tank as it stands, in the order of a visit.
    pub(crate) fn of(
        &self,
        db: &Connection,
        revision: &Revision,
        (flow, oxygen): (Option<&Facts>, Grade),
        (clock, now): (&Clock, &Moment),
    ) -> Result<Vec<Standing>, StoreError> {
        let id = revision.tank_id;
        let kept = self.kept(db, revision, flow, (clock, now))?;
        let readings: Vec<Reading> = readings::latest_few(db, id, &READ, OF_EACH)?
            .into_iter()
            .map(|stored| stored.reading)
            .collect();
        Ok(standing(&Known {
            tank: &revision.tank,
            log: &kept.log,
            readings: &readings,
            filters: &kept.filters,
            oxygen,
            watched: &watched(db, id, now)?,
            entered: kept.entered,
            now: now.wall,
        }))
    }

    fn kept(
        &self,
        db: &Connection,
        revision: &Revision,
        flow: Option<&Facts>,
        (clock, now): (&Clock, &Moment),
    ) -> Result<Arc<Kept>, StoreError> {
        let (id, tank) = (revision.tank_id, &revision.tank);
        let caught: Vec<Option<f64>> = tank
            .filters
            .iter()
            .map(|filter| flow.and_then(|facts| facts.caught_by_filter(tank, filter.number)))
            .collect();
        let key = Key {
            revision: (revision.id, revision.made_at),
            log: entries::stamp(db, id)?,
            caught: caught.iter().map(|share| share.map(f64::to_bits)).collect(),
            today: now.wall.date(),
        };
        // Whoever panicked while holding it left whole entries.
        let held = || self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((known, kept)) = held().get(&id)
            && *known == key
        {
            return Ok(Arc::clone(kept));
        }
        let log: Vec<Entry> = entries::of_kinds(db, id, &kinds())?
            .into_iter()
            .map(|kept| kept.entry)
            .collect();
        let states = tank.filters.iter().zip(&caught).map(|(filter, caught)| {
            let state = State::of(tank, filter, &log, *caught, now.wall);
            (filter.number, state)
        });
        let kept = Arc::new(Kept {
            filters: states.collect(),
            entered: tanks::entered_at(db, id)?.map_or(key.today, |at| clock.wall_at(at).date()),
            log: Record::of(log),
        });
        held().insert(id, (key, Arc::clone(&kept)));
        Ok(kept)
    }
}

/// What closed cases left to be watched and is not over.
fn watched(db: &Connection, tank: TankId, now: &Moment) -> Result<Vec<Watched>, StoreError> {
    /// By definition.
    const DAY_H: f64 = 24.0;
    let left = duties::of_tank(db, tank, now.wall)?;
    Ok(left
        .into_iter()
        .filter_map(|duty| {
            let due = duty.due()?;
            Some(Watched {
                number: duty.id.0,
                last: duty.done.last().copied(),
                reads: duty.analyte.as_deref().and_then(analyte),
                every_days: duty.every_hours as f64 / DAY_H,
                words: duty.words,
                why: duty.why,
                due,
            })
        })
        .collect())
}
