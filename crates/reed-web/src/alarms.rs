//! What calls for somebody now: bounds of what devices read, alarms in words, and what listeners are
//! told as it happens.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use jiff::Timestamp;
use reed_core::alarm::{Advice, Bounds, Quiet, Side};
use reed_core::sensor::is_silent;
use reed_core::tank::{Analyte, Reading, Tank};
use reed_core::units::Units;
use reed_store::watches::{self, OwnBounds, Watched};
use reed_store::{Connection, DeviceId, RevisionId, StoreError, TankId, tanks};

use crate::clock::{Clock, Moment};
use crate::view::{since, when};

/// What listeners are told.
#[derive(Clone, Debug)]
pub(crate) enum Heard {
    /// A device read something.
    Read {
        /// Of which tank.
        tank: TankId,
        /// Which device.
        device: DeviceId,
        /// What it read.
        reading: Reading,
    },
    /// Something of a tank begins or ends to call for somebody.
    Rings(TankId),
}

/// The usual bounds of tanks, which follow from how each stands: reading its description for every
/// post would cost more than all the rest.
#[derive(Debug, Default)]
pub(crate) struct KnownBounds(Mutex<HashMap<TankId, (Mark, Arc<OwnBounds>)>>);

/// A revision with its moment: records that were put back may have another under the same number.
type Mark = (RevisionId, Timestamp);

impl KnownBounds {
    /// Between what each thing should stay in a tank: as the keeper set it, else as usual.
    pub(crate) fn of(
        &self,
        db: &Connection,
        tank: TankId,
    ) -> Result<impl Fn(&'static Analyte) -> Bounds + use<>, StoreError> {
        let own = watches::own_bounds(db, tank)?;
        let usual = self.usual(db, tank)?;
        Ok(move |analyte: &'static Analyte| bounds_among(&own, &usual, analyte))
    }

    fn usual(&self, db: &Connection, tank: TankId) -> Result<Arc<OwnBounds>, StoreError> {
        let latest = tanks::latest_mark(db, tank)?;
        // Whoever panicked while holding it left whole entries.
        let held = || self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((mark, usual)) = held().get(&tank)
            && Some(*mark) == latest
        {
            return Ok(Arc::clone(usual));
        }
        // What cannot be read has no bounds; its readings are kept all the same.
        let Ok(revision) = tanks::latest(db, tank) else {
            return Ok(Arc::default());
        };
        let all = Analyte::ALL.iter().copied();
        let usual = all.map(|analyte| (analyte, Bounds::usual(analyte, &revision.tank)));
        let usual: Arc<OwnBounds> = Arc::new(usual.collect());
        let mark = (revision.id, revision.made_at);
        held().insert(tank, (mark, Arc::clone(&usual)));
        Ok(usual)
    }
}

fn bounds_among(own: &OwnBounds, usual: &OwnBounds, analyte: &Analyte) -> Bounds {
    let among = |all: &OwnBounds| {
        let found = all.iter().find(|(of, _)| *of == analyte);
        found.map(|(_, bounds)| *bounds)
    };
    among(own).or_else(|| among(usual)).unwrap_or_default()
}

/// Something that calls for somebody.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct AlarmLine {
    pub(crate) tank: TankId,
    pub(crate) device: DeviceId,
    pub(crate) analyte: &'static str,
    pub(crate) title: String,
    pub(crate) words: String,
    /// What to do first.
    pub(crate) now: &'static str,
    /// It is to be heard: nobody sees to it yet, and it is no hour of quiet or animals are in danger.
    pub(crate) rings: bool,
    /// Who sees to it, or why it is quiet; empty where it rings.
    pub(crate) hushed: String,
}

/// What is read less often is no live value, s: a day's water moves within hours. A judgement.
const LIVE_S: f64 = 3600.0;

/// It is read so often that a reading of it is one of many.
pub(crate) fn is_live(watched: &Watched) -> bool {
    watched.gap_s.is_some_and(|gap| gap <= LIVE_S)
}

/// When and in which words alarms are told.
pub(crate) struct Telling<'a> {
    pub(crate) clock: &'a Clock,
    pub(crate) units: &'a Units,
    pub(crate) quiet: Option<Quiet>,
    pub(crate) now: Moment,
}

impl Telling<'_> {
    /// An alarm in words; none where nothing is raised.
    fn line(&self, watched: &Watched, tank: &Tank, bounds: &Bounds) -> Option<AlarmLine> {
        let side = watched.watch.side.filter(|_| watched.watch.is_raised)?;
        let (analyte, wall) = (watched.analyte, self.now.wall);
        let print = |value: f64| analyte.print(value, self.units);
        let advice = Advice::of(analyte, side);
        let (far, worst) = match side {
            Side::Below => ("Below", "lowest"),
            Side::Above => ("Above", "highest"),
        };
        let bound = bounds.on(side).map_or_else(String::new, print);
        let mut words = format!(
            "{far} {bound} since {}, {worst} {}.",
            when(self.clock.wall_at(watched.watch.since), wall),
            print(watched.watch.worst)
        );
        if self.is_silent(watched) {
            let last = since(self.clock.wall_at(watched.at), wall);
            words = format!(
                "{words} {} sent it {last} and is silent since.",
                watched.name
            );
        }
        let hushed = match (watched.seen_at, self.quiet) {
            (Some(seen), _) => format!("Seen to, {}.", since(self.clock.wall_at(seen), wall)),
            (None, Some(quiet)) if !advice.endangers && quiet.holds(wall.time()) => {
                format!("Quiet until {}.", quiet.until.strftime("%H:%M"))
            }
            _ => String::new(),
        };
        Some(AlarmLine {
            tank: watched.tank,
            device: watched.device,
            analyte: analyte.id,
            title: format!(
                "{} {} in {}",
                analyte.label,
                print(watched.value),
                tank.name
            ),
            words,
            now: advice.now,
            rings: hushed.is_empty(),
            hushed,
        })
    }

    /// It was read last so long ago, by how often it is read, that nothing comes any more.
    pub(crate) fn is_silent(&self, watched: &Watched) -> bool {
        let minutes = self.now.utc.duration_since(watched.at).as_secs_f64() / 60.0;
        is_silent(watched.gap_s.map(|gap| gap / 60.0), minutes)
    }

    /// It is read so often that its latest reading is how the water is now.
    pub(crate) fn is_live(&self, watched: &Watched) -> bool {
        is_live(watched) && !self.is_silent(watched)
    }

    /// Devices that have become silent, with since when, by how often each reads what it reads.
    pub(crate) fn silent(&self, watched: &[Watched]) -> Vec<(String, String)> {
        let by_device = watched.chunk_by(|one, other| one.device == other.device);
        by_device
            .filter(|of_one| of_one.iter().all(|one| self.is_silent(one)))
            .filter_map(|of_one| {
                let last = of_one.iter().max_by_key(|one| one.at)?;
                let since = since(self.clock.wall_at(last.at), self.now.wall);
                Some((last.name.clone(), since))
            })
            .collect()
    }

    /// What is raised among what is watched, what rings first.
    pub(crate) fn alarms(
        &self,
        db: &Connection,
        known: &KnownBounds,
        watched: &[Watched],
    ) -> Result<Vec<AlarmLine>, StoreError> {
        let mut lines = Vec::new();
        for of_tank in watched.chunk_by(|one, other| one.tank == other.tank) {
            if !of_tank.iter().any(|one| one.watch.is_raised) {
                continue;
            }
            // A tank that cannot be read, or was put away, is told of elsewhere.
            let Ok(revision) = tanks::latest(db, of_tank[0].tank) else {
                continue;
            };
            if revision.removed {
                continue;
            }
            let bounds = known.of(db, revision.tank_id)?;
            let raised = of_tank.iter();
            lines.extend(
                raised.filter_map(|one| self.line(one, &revision.tank, &bounds(one.analyte))),
            );
        }
        lines.sort_by_key(|line| !line.rings);
        Ok(lines)
    }
}
