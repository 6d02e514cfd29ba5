//! What devices read last, and whether it calls for somebody: [`reed_core::alarm`] kept from one post
//! to the next.

use jiff::Timestamp;
use reed_core::alarm::{Bounds, Heard, Side, Watch};
use reed_core::tank::{Analyte, analyte};
use rusqlite::types::Type;
use rusqlite::{Connection, Row, named_params, params};

use crate::devices::{Device, Sent};
use crate::{DeviceId, StoreError, TankId, entries};

const ALL: &str = "
    SELECT device_id, tank_id, name, analyte, at, value, gap_s, side, since, worst, in_a_row, is_raised, seen_at
    FROM watches JOIN devices ON devices.id = device_id
    WHERE dropped_at IS NULL AND (:tank IS NULL OR tank_id = :tank) ORDER BY tank_id, device_id, analyte";
/// Those of devices that were dropped too: what they sent stays.
const EVER: &str = "
    SELECT device_id, tank_id, name, analyte, at, value, gap_s, side, since, worst, in_a_row, is_raised, seen_at
    FROM watches JOIN devices ON devices.id = device_id
    WHERE tank_id = :tank ORDER BY device_id, analyte";
const ONE: &str = "
    SELECT at, gap_s, side, since, worst, in_a_row, is_raised, seen_at FROM watches
    WHERE device_id = ?1 AND analyte = ?2";
const KEEP: &str = "
    INSERT OR REPLACE INTO watches
        (device_id, analyte, at, value, gap_s, side, since, worst, in_a_row, is_raised, seen_at)
    VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10, ?11)";
const SEEN: &str = "
    UPDATE watches SET seen_at = :now
    WHERE device_id = :device AND analyte = :analyte AND is_raised
        AND device_id IN (SELECT id FROM devices WHERE tank_id = :tank)";
const BOUNDS: &str = "SELECT analyte, low, high FROM bounds WHERE tank_id = :tank";
const SET: &str = "INSERT OR REPLACE INTO bounds (tank_id, analyte, low, high) VALUES (:tank, :analyte, :low, :high)";
const UNSET: &str = "DELETE FROM bounds WHERE tank_id = :tank AND analyte = :analyte";
const ANEW: &str = "
    UPDATE watches SET side = NULL, in_a_row = 0, is_raised = 0, seen_at = NULL
    WHERE analyte = :analyte AND device_id IN (SELECT id FROM devices WHERE tank_id = :tank)";

/// Every statement of this module.
#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[ALL, EVER, ONE, KEEP, SEEN, BOUNDS, SET, UNSET, ANEW];

/// Something that a device reads.
#[derive(Clone, Debug, PartialEq)]
pub struct Watched {
    /// By which device.
    pub device: DeviceId,
    /// Of which tank.
    pub tank: TankId,
    /// What the keeper calls the device.
    pub name: String,
    /// What is read.
    pub analyte: &'static Analyte,
    /// The moment of the latest reading, by the device's clock.
    pub at: Timestamp,
    /// That reading.
    pub value: f64,
    /// Usual seconds from one reading to the next; none after one.
    pub gap_s: Option<f64>,
    /// How it stands against its bounds.
    pub watch: Watch,
    /// When the keeper said that somebody sees to it.
    pub seen_at: Option<Timestamp>,
}

/// Bounds by what they are of.
pub type OwnBounds = Vec<(&'static Analyte, Bounds)>;

fn side_of(text: &str) -> Option<Side> {
    match text {
        "below" => Some(Side::Below),
        "above" => Some(Side::Above),
        _ => None,
    }
}

const fn told(side: Side) -> &'static str {
    match side {
        Side::Below => "below",
        Side::Above => "above",
    }
}

/// From its columns `side` to `is_raised`, the first of which is the given one.
fn watch_from(row: &Row<'_>, first: usize) -> rusqlite::Result<Watch> {
    let side: Option<String> = row.get(first)?;
    Ok(Watch {
        side: side.as_deref().and_then(side_of),
        since: row.get(first + 1)?,
        worst: row.get(first + 2)?,
        in_a_row: row.get(first + 3)?,
        is_raised: row.get(first + 4)?,
    })
}

fn analyte_of(row: &Row<'_>, column: usize) -> rusqlite::Result<&'static Analyte> {
    let id: String = row.get(column)?;
    analyte(&id).ok_or_else(|| {
        let why = format!("nothing is read that is called “{id}”");
        rusqlite::Error::FromSqlConversionFailure(column, Type::Text, why.into())
    })
}

/// What the devices of a tank read last, or those of all tanks.
///
/// # Errors
/// When the database fails.
pub fn all(db: &Connection, tank: Option<TankId>) -> Result<Vec<Watched>, StoreError> {
    let mut statement = db.prepare_cached(ALL)?;
    let rows = statement.query_map(named_params! { ":tank": tank }, watched_from)?;
    StoreError::readable(rows.map(|row| Ok(row?)))
}

/// What any device of a tank ever read, those that were dropped too.
///
/// # Errors
/// When the database fails.
pub fn ever(db: &Connection, tank: TankId) -> Result<Vec<Watched>, StoreError> {
    let mut statement = db.prepare_cached(EVER)?;
    let rows = statement.query_map(named_params! { ":tank": tank }, watched_from)?;
    StoreError::readable(rows.map(|row| Ok(row?)))
}

fn watched_from(row: &Row<'_>) -> rusqlite::Result<Watched> {
    Ok(Watched {
        device: row.get(0)?,
        tank: row.get(1)?,
        name: row.get(2)?,
        analyte: analyte_of(row, 3)?,
        at: row.get(4)?,
        value: row.get(5)?,
        gap_s: row.get(6)?,
        watch: watch_from(row, 7)?,
        seen_at: row.get(12)?,
    })
}

/// Share of a new gap in the usual one. A judgement.
const NEW_GAP: f64 = 0.2;

/// Takes in what a device sent, in any order: what is older than what was known, as after an outage,
/// rings nothing. Whether anything begins or ends to call for somebody, which the log is told too.
///
/// # Errors
/// When the database fails.
pub fn follow(
    db: &Connection,
    device: &Device,
    sent: &[Sent],
    now: Timestamp,
    bounds: impl Fn(&'static Analyte) -> Bounds,
) -> Result<bool, StoreError> {
    let mut by_time: Vec<&Sent> = sent.iter().collect();
    by_time.sort_by(|one, other| {
        let what = |sent: &Sent| sent.reading.analyte.id;
        (what(one), one.at).cmp(&(what(other), other.at))
    });
    let mut one = db.prepare_cached(ONE)?;
    let mut keep = db.prepare_cached(KEEP)?;
    let mut changed = false;
    for of_one in by_time.chunk_by(|one, other| one.reading.analyte == other.reading.analyte) {
        let analyte = of_one[0].reading.analyte;
        let mut rows = one.query(params![device.id, analyte.id])?;
        let (mut at, mut gap_s, mut watch, mut seen_at) = match rows.next()? {
            Some(row) => (
                row.get::<_, Timestamp>(0)?,
                row.get::<_, Option<f64>>(1)?,
                watch_from(row, 2)?,
                row.get::<_, Option<Timestamp>>(7)?,
            ),
            None => (Timestamp::MIN, None, Watch::INSIDE, None),
        };
        drop(rows);
        let bounds = bounds(analyte);
        let before = at;
        let mut value = 0.0;
        for sent in of_one.iter().filter(|sent| sent.at > before) {
            if at > Timestamp::MIN {
                let gap = sent.at.duration_since(at).as_secs_f64();
                gap_s = Some(gap_s.map_or(gap, |usual| usual + NEW_GAP * (gap - usual)));
            }
            (at, value) = (sent.at, sent.reading.value);
            let stood = watch;
            let heard = watch.hear(analyte, &bounds, at, value);
            if heard == Heard::Ended {
                seen_at = None;
            }
            let moment = (at, sent.reading.taken_at);
            if let Some(mut entry) = watch.told(heard, &stood, analyte, &bounds, moment) {
                entry.details.by.clone_from(&device.name);
                entries::add(db, device.tank, &entry, now)?;
                changed = true;
            }
        }
        if at > before {
            keep.execute(params![
                device.id,
                analyte.id,
                at,
                value,
                gap_s,
                watch.side.map(told),
                watch.since,
                watch.worst,
                watch.in_a_row,
                watch.is_raised,
                seen_at
            ])?;
        }
    }
    Ok(changed)
}

/// Somebody sees to what calls.
///
/// # Errors
/// When nothing of it calls in this tank or the database fails.
pub fn seen(
    db: &Connection,
    tank: TankId,
    device: DeviceId,
    analyte: &Analyte,
    now: Timestamp,
) -> Result<(), StoreError> {
    let row =
        named_params! { ":tank": tank, ":device": device, ":analyte": analyte.id, ":now": now };
    if db.prepare_cached(SEEN)?.execute(row)? == 0 {
        return Err(StoreError::NotFound {
            what: "alarm of the device",
            id: device.0,
        });
    }
    Ok(())
}

/// Bounds that the keeper set for a tank.
///
/// # Errors
/// When the database fails.
pub fn own_bounds(db: &Connection, tank: TankId) -> Result<OwnBounds, StoreError> {
    let mut statement = db.prepare_cached(BOUNDS)?;
    let rows = statement.query_map(named_params! { ":tank": tank }, |row| {
        let bounds = Bounds {
            low: row.get(1)?,
            high: row.get(2)?,
        };
        Ok((analyte_of(row, 0)?, bounds))
    })?;
    StoreError::readable(rows.map(|row| Ok(row?)))
}

/// Sets bounds of something in a tank, or goes back to the usual ones; what called by the old ones
/// calls again when the next readings say so.
///
/// # Errors
/// When the database fails.
pub fn set_bounds(
    db: &Connection,
    tank: TankId,
    analyte: &Analyte,
    bounds: Option<Bounds>,
) -> Result<(), StoreError> {
    match bounds {
        Some(Bounds { low, high }) => db.prepare_cached(SET)?.execute(
            named_params! { ":tank": tank, ":analyte": analyte.id, ":low": low, ":high": high },
        )?,
        None => db
            .prepare_cached(UNSET)?
            .execute(named_params! { ":tank": tank, ":analyte": analyte.id })?,
    };
    db.prepare_cached(ANEW)?
        .execute(named_params! { ":tank": tank, ":analyte": analyte.id })?;
    Ok(())
}
