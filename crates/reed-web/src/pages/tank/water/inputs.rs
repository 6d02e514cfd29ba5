//! Everything that the outlook of a tank is made of, read from the store.

use jiff::SignedDuration;
use jiff::civil::DateTime;
use reed_core::log::Entry;
use reed_core::outlook::acidity::Acidity;
use reed_core::outlook::ahead::{Event, NitrogenBelief, NitrogenOutlook, Setting, Tap, events_of};
use reed_core::tank::{Analyte, Reading, Tank};
use reed_core::twin::Stirring;
use reed_core::units::Units;
use reed_core::units::span_of_days;
use reed_store::entries::KeptEntry;
use reed_store::{Connection, StoreError, TankId, entries, readings, settings, tanks};

use crate::flows;

/// How far back readings and events are looked at, days.
const BACK_DAYS: i64 = 120;
/// Readings that are learned from at most, the newest.
const MOST_READINGS: usize = 400;

/// A tank with what was read, what happened and what is planned.
pub(in crate::pages::tank) struct WaterInputs {
    pub(super) tank: Tank,
    pub(super) setting: Setting,
    pub(super) acidity: Acidity,
    /// Of the last months, oldest first.
    pub(super) readings: Vec<Reading>,
    /// The log of the last months and what is planned, withdrawn entries too.
    pub(super) kept: Vec<KeptEntry>,
    /// General hardness of the tap, where it was read, dGH.
    pub(super) tap_dgh: Option<f64>,
    pub(super) units: Units,
    pub(super) now: DateTime,
}

impl WaterInputs {
    pub(in crate::pages::tank) fn read(
        db: &Connection,
        id: TankId,
        now: DateTime,
    ) -> Result<Self, StoreError> {
        let since = now - SignedDuration::from_hours(24 * BACK_DAYS);
        let tank = tanks::latest(db, id)?.tank;
        let flow = flows::kept(db, id, &tank)?;
        let stirring = Stirring::of(&tank, flow.as_ref());
        let mut readings = readings::to_learn_from(db, id, since)?;
        readings.drain(..readings.len().saturating_sub(MOST_READINGS));
        let latest = |analyte: &Analyte| {
            Ok::<_, StoreError>(
                readings::latest(db, id, analyte.id)?.map(|stored| stored.reading.value),
            )
        };
        let tap = Tap {
            ammonia: latest(Analyte::TAP_AMMONIA)?,
            nitrate: latest(Analyte::TAP_NITRATE)?,
            dkh: latest(Analyte::TAP_KH)?,
        };
        Ok(Self {
            setting: Setting::of(&tank, stirring, now, &tap),
            acidity: Acidity::of(&tank, stirring, &readings, now),
            kept: entries::since(db, id, since)?,
            tap_dgh: latest(Analyte::TAP_GH)?,
            units: settings::units(db)?,
            tank,
            readings,
            now,
        })
    }

    /// What happened and is planned, as far as it counts.
    pub(in crate::pages::tank) fn known(&self) -> Vec<Event> {
        let standing = self.kept.iter().filter(|kept| !kept.is_struck());
        let log: Vec<Entry> = standing.map(|kept| kept.entry.clone()).collect();
        events_of(&log, &self.tank, self.now)
    }

    pub(in crate::pages::tank) fn belief(&self, known: &[Event]) -> NitrogenBelief {
        NitrogenBelief::learned(&self.setting, known, &self.readings, self.now)
    }

    pub(in crate::pages::tank) fn outlook(
        &self,
        belief: &NitrogenBelief,
        known: &[Event],
        days: usize,
    ) -> NitrogenOutlook {
        NitrogenOutlook::of(
            &self.setting,
            belief,
            known,
            days,
            &self.acidity,
            self.tank.salinity,
        )
    }

    /// The latest reading of something.
    pub(super) fn latest(&self, analyte: &Analyte) -> Option<&Reading> {
        self.readings
            .iter()
            .rev()
            .find(|reading| reading.analyte == analyte)
    }

    /// A day from now as a date.
    pub(super) fn date(&self, days: f64) -> String {
        let at = self
            .now
            .checked_add(span_of_days(days).unwrap_or_default())
            .unwrap_or(self.now);
        at.strftime("%-d %b").to_string()
    }
}
