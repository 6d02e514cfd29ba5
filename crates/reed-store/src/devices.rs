//! Devices that send what they read, each for one tank and with a token of its own.

use jiff::Timestamp;
use reed_core::alarm::Bounds;
use reed_core::tank::{Analyte, Reading};
use rusqlite::{Connection, Row, named_params, params};

use crate::access::drawn;
use crate::hours::Hours;
use crate::photos::digest;
use crate::{DeviceId, StoreError, TankId, settings, thinning, watches};

const NEW: &str = "
    INSERT INTO devices (tank_id, name, token, made_at) VALUES (:tank, :name, :token, :now)";
const OF_TANK: &str = "
    SELECT id, tank_id, name, made_at, heard_at FROM devices
    WHERE tank_id = :tank AND dropped_at IS NULL ORDER BY id";
const BY_TOKEN: &str = "
    SELECT id, tank_id, name, made_at, heard_at FROM devices
    WHERE token = :token AND dropped_at IS NULL";
const DROP: &str = "
    UPDATE devices SET dropped_at = :now WHERE id = :device AND tank_id = :tank AND dropped_at IS NULL";
const HEARD: &str = "UPDATE devices SET heard_at = :now WHERE id = :device";
const LATEST: &str = "
    SELECT id, analyte, value, spread, kit, taken_at, struck_at, entered_at FROM readings
    WHERE device_id = :device AND analyte = :analyte AND struck_at IS NULL
    ORDER BY device_at DESC LIMIT :most";
const ADD: &str = "
    INSERT OR IGNORE INTO readings
        (tank_id, analyte, value, spread, kit, taken_at, entered_at, device_id, device_at)
    VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9)";

/// Every statement of this module.
#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[NEW, OF_TANK, BY_TOKEN, DROP, HEARD, LATEST, ADD];

/// Most that may send for one tank. A judgement.
pub const MOST: usize = 50;

/// A device.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Device {
    /// Its number.
    pub id: DeviceId,
    /// For which tank it reads.
    pub tank: TankId,
    /// What the keeper calls it.
    pub name: String,
    /// When it was let in.
    pub made_at: Timestamp,
    /// When it sent something last.
    pub heard_at: Option<Timestamp>,
}

/// Something that a device read.
#[derive(Clone, Debug, PartialEq)]
pub struct Sent {
    /// What was read, by the clock on the wall beside the tank.
    pub reading: Reading,
    /// The same moment as the device gave it.
    pub at: Timestamp,
}

/// What came of a post.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Posted {
    /// Stored.
    pub stored: usize,
    /// There already.
    pub known: usize,
    /// Something begins or ends to call for somebody.
    pub rings: bool,
}

fn from_row(row: &Row<'_>) -> rusqlite::Result<Device> {
    Ok(Device {
        id: row.get(0)?,
        tank: row.get(1)?,
        name: row.get(2)?,
        made_at: row.get(3)?,
        heard_at: row.get(4)?,
    })
}

/// Lets a device in; what it shows from now on, told this once.
///
/// # Errors
/// When there is no such tank, it has [`MOST`] already, or the database fails.
pub fn let_in(
    db: &Connection,
    tank: TankId,
    name: &str,
    now: Timestamp,
) -> Result<String, StoreError> {
    if of_tank(db, tank)?.len() >= MOST {
        return Err(StoreError::Full {
            what: "devices of one tank",
            most: MOST,
        });
    }
    let token = drawn()?;
    db.prepare_cached(NEW)?.execute(named_params! {
        ":tank": tank, ":name": name, ":token": digest(token.as_bytes()), ":now": now,
    })?;
    Ok(token)
}

/// The devices of a tank.
///
/// # Errors
/// When the database fails.
pub fn of_tank(db: &Connection, tank: TankId) -> Result<Vec<Device>, StoreError> {
    let mut statement = db.prepare_cached(OF_TANK)?;
    let rows = statement.query_map(named_params! { ":tank": tank }, from_row)?;
    StoreError::readable(rows.map(|row| Ok(row?)))
}

/// The device that shows this.
///
/// # Errors
/// When the database fails.
pub fn by_token(db: &Connection, token: &str) -> Result<Option<Device>, StoreError> {
    let mut statement = db.prepare_cached(BY_TOKEN)?;
    let mut rows = statement.query_map(
        named_params! { ":token": digest(token.as_bytes()) },
        from_row,
    )?;
    Ok(rows.next().transpose()?)
}

/// A device may send no more; what it sent stays.
///
/// # Errors
/// When the tank has no such device or the database fails.
pub fn drop(
    db: &Connection,
    tank: TankId,
    device: DeviceId,
    now: Timestamp,
) -> Result<(), StoreError> {
    let rows = db
        .prepare_cached(DROP)?
        .execute(named_params! { ":device": device, ":tank": tank, ":now": now })?;
    if rows == 1 {
        Ok(())
    } else {
        Err(StoreError::NotFound {
            what: "device",
            id: device.0,
        })
    }
}

/// The latest readings of something by a device that stand, oldest first.
///
/// # Errors
/// When the database fails.
pub fn latest(
    db: &Connection,
    device: DeviceId,
    analyte: &Analyte,
    most: usize,
) -> Result<Vec<Reading>, StoreError> {
    let most = i64::try_from(most).unwrap_or(i64::MAX);
    let mut statement = db.prepare_cached(LATEST)?;
    let row = named_params! { ":device": device, ":analyte": analyte.id, ":most": most };
    let rows = statement.query_and_then(row, crate::readings::from_row)?;
    let mut latest: Vec<Reading> = StoreError::readable(rows)?
        .into_iter()
        .map(|stored| stored.reading)
        .collect();
    latest.reverse();
    Ok(latest)
}

/// Stores what a device sent, each once, and holds it against the bounds of what it reads.
///
/// # Errors
/// When the database fails.
pub fn take(
    db: &Connection,
    device: &Device,
    sent: &[Sent],
    now: Timestamp,
    bounds: impl Fn(&'static Analyte) -> Bounds,
) -> Result<Posted, StoreError> {
    let mut posted = Posted::default();
    let mut hours = Hours::new(device.tank);
    let entered = now.to_string();
    let thinned = settings::thinned_until(db)?;
    {
        let mut add = db.prepare_cached(ADD)?;
        for one in sent {
            let Sent { reading, at } = one;
            if thinned.is_some_and(|until| *at < until) && thinning::is_among(db, device, one)? {
                posted.known += 1;
                continue;
            }
            let taken_at = reading.taken_at.to_string();
            let rows = add.execute(params![
                device.tank,
                reading.analyte.id,
                reading.value,
                reading.spread,
                reading.kit.map(|kit| kit.id),
                taken_at,
                entered,
                device.id,
                at.to_string(),
            ])?;
            if rows == 1 {
                hours.count(reading, &taken_at);
                posted.stored += 1;
            } else {
                posted.known += 1;
            }
        }
    }
    hours.add_to(db)?;
    posted.rings = watches::follow(db, device, sent, now, bounds)?;
    db.prepare_cached(HEARD)?
        .execute(named_params! { ":device": device.id, ":now": now })?;
    Ok(posted)
}
