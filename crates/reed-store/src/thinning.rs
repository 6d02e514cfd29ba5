//! Readings of devices grow fewer with age: of each hour of each thing the least, the most and the last
//! stay. The hours that charts of years are drawn from ([`crate::hours`]) stay as they were made from
//! all of them.

use std::collections::BTreeMap;

use jiff::{SignedDuration, Timestamp};
use rusqlite::{Connection, named_params, params};

use crate::devices::{Device, Sent};
use crate::hours::hour_of;
use crate::{StoreError, TankId, settings};

const FIRST: &str = "
    SELECT min(device_at) FROM readings INDEXED BY readings_by_device
    WHERE device_id = :device AND analyte = :analyte AND device_at >= :from";
const READ: &str = "SELECT device_id, analyte FROM watches";
/// What is struck stays, since a page may bring it back, and so does what something refers to.
const THIN: &str = "
    DELETE FROM readings WHERE id IN (
        SELECT id FROM (
            SELECT id,
                row_number() OVER (hour ORDER BY value, device_at) AS from_least,
                row_number() OVER (hour ORDER BY value DESC, device_at) AS from_most,
                row_number() OVER (hour ORDER BY device_at DESC) AS from_last
            FROM readings INDEXED BY readings_by_device
            WHERE device_id = :device AND analyte = :analyte AND device_at >= :from AND device_at < :to
                AND struck_at IS NULL
            WINDOW hour AS (PARTITION BY substr(taken_at, 1, 13)))
        WHERE from_least > 1 AND from_most > 1 AND from_last > 1)
    AND id NOT IN (SELECT reading_id FROM proofs WHERE reading_id IS NOT NULL)
    RETURNING tank_id, substr(taken_at, 1, 13), value";
const GONE: &str = "
    INSERT INTO thinned_hours VALUES (?1, ?2, ?3, ?4, ?5, ?6)
    ON CONFLICT DO UPDATE SET total = total + excluded.total, many = many + excluded.many";
/// Least and most of what a device read of something in an hour from which something went.
const STAYED: &str = "
    SELECT min(value), max(value) FROM readings INDEXED BY readings_by_device
    WHERE device_id = :device AND analyte = :analyte AND device_at > :after AND device_at < :before
        AND substr(taken_at, 1, 13) = :hour
        AND EXISTS (SELECT 1 FROM thinned_hours AS thinned WHERE thinned.tank_id = :tank
            AND thinned.analyte = :analyte AND hour = :hour AND thinned.device_id = :device)";

/// Every statement of this module.
#[cfg(test)]
pub(crate) const STATEMENTS: &[&str] = &[FIRST, READ, THIN, GONE, STAYED];

/// So much at a time, so that no page waits long for a write.
const STEP: SignedDuration = SignedDuration::from_hours(24);

/// Thins a day of readings that are older than this moment; how many went, none where nothing is left
/// to thin.
///
/// # Errors
/// When the database fails.
pub fn step(db: &Connection, before: Timestamp) -> Result<Option<usize>, StoreError> {
    let from = settings::thinned_until(db)?.unwrap_or(Timestamp::MIN);
    let read: Vec<(i64, String)> = db
        .prepare_cached(READ)?
        .query_map([], |row| Ok((row.get(0)?, row.get(1)?)))?
        .collect::<Result<_, _>>()?;
    let mut first: Option<Timestamp> = None;
    for (device, analyte) in &read {
        let row = named_params! { ":device": device, ":analyte": analyte, ":from": from };
        let own: Option<Timestamp> = db.prepare_cached(FIRST)?.query_row(row, |row| row.get(0))?;
        first = match (first, own) {
            (Some(one), Some(other)) => Some(one.min(other)),
            (one, other) => one.or(other),
        };
    }
    let Some(first) = first.filter(|first| *first < before) else {
        return Ok(None);
    };
    let to = first.saturating_add(STEP).unwrap_or(before).min(before);
    let mut gone = 0;
    for (device, analyte) in &read {
        gone += thin(db, *device, analyte, (first, to))?;
    }
    settings::set_thinned_until(db, to)?;
    Ok(Some(gone))
}

/// Thins one thing that a device read between two moments, and keeps the sums of what goes.
fn thin(
    db: &Connection,
    device: i64,
    analyte: &str,
    (from, to): (Timestamp, Timestamp),
) -> Result<usize, StoreError> {
    let mut sums: BTreeMap<(TankId, String), (f64, u32)> = BTreeMap::new();
    let mut statement = db.prepare_cached(THIN)?;
    let mut rows = statement.query(named_params! {
        ":device": device, ":analyte": analyte, ":from": from, ":to": to,
    })?;
    while let Some(row) = rows.next()? {
        let (total, many) = sums.entry((row.get(0)?, row.get(1)?)).or_default();
        *total += row.get::<_, f64>(2)?;
        *many += 1;
    }
    for ((tank, hour), (total, many)) in &sums {
        db.prepare_cached(GONE)?
            .execute(params![tank, analyte, hour, device, total, many])?;
    }
    Ok(sums.values().map(|(_, many)| *many as usize).sum())
}

/// A reading says nothing new of an hour from which something went: it lies between the least and the
/// most that stayed, and was one of those that went, sent again.
///
/// # Errors
/// When the database fails.
pub(crate) fn is_among(db: &Connection, device: &Device, sent: &Sent) -> Result<bool, StoreError> {
    let taken_at = sent.reading.taken_at.to_string();
    let hour = SignedDuration::from_hours(1);
    let span = db.prepare_cached(STAYED)?.query_row(
        named_params! {
            ":tank": device.tank, ":device": device.id, ":analyte": sent.reading.analyte.id,
            ":after": sent.at.saturating_sub(hour).unwrap_or(Timestamp::MIN), ":before": sent.at.saturating_add(hour).unwrap_or(Timestamp::MAX),
            ":hour": hour_of(&taken_at),
        },
        |row| Ok((row.get::<_, Option<f64>>(0)?, row.get::<_, Option<f64>>(1)?)),
    )?;
    Ok(match span {
        (Some(least), Some(most)) => (least..=most).contains(&sent.reading.value),
        _ => false,
    })
}

#[cfg(test)]
mod tests {
    use jiff::tz::TimeZone;
    use jiff::{SignedDuration, Timestamp};
    use reed_core::alarm::Bounds;
    use reed_core::document::start;
    use reed_core::tank::{Analyte, Reading};

    use super::step;
    use crate::devices::{self, Sent};
    use crate::{Connection, Store, StoreError, hours, readings, tanks};

    const START: Timestamp = Timestamp::UNIX_EPOCH;

    /// Hour, value, device or none, of every reading that is there.
    fn all(db: &Connection) -> Vec<(String, f64, Option<i64>)> {
        let mut statement = db
            .prepare("SELECT substr(taken_at, 1, 13), value, device_id FROM readings ORDER BY id")
            .expect("it prepares");
        let rows = statement.query_map([], |row| Ok((row.get(0)?, row.get(1)?, row.get(2)?)));
        rows.expect("rows").map(|row| row.expect("a row")).collect()
    }

    /// What two devices sent in three days, thinned but for the last: of each hour the least, the most
    /// and the last are there, all hours say what they said, and what was read by hand stays.
    #[test]
    fn old_hours_keep_their_least_most_and_last() {
        let folder = tempfile::TempDir::new().expect("a folder");
        let store = Store::open(&folder.path().join("reed.db")).expect("a new file");
        let mut rng = fastrand::Rng::with_seed(3);
        let cut = START + SignedDuration::from_hours(48);
        store
            .write(|db| {
                let tank = start::ALL[0].tank();
                let id = tanks::create(db, &tank, "", START)?;
                let mut posts = Vec::new();
                for name in ["one", "other"] {
                    let token = devices::let_in(db, id, name, START)?;
                    let device = devices::by_token(db, &token)?.expect("let in");
                    let sent: Vec<Sent> = (0..3 * 24 * 12)
                        .map(|step| {
                            let at = START + SignedDuration::from_mins(5 * step);
                            let wall = at.to_zoned(TimeZone::UTC).datetime();
                            let value = f64::from(rng.u8(..)) / 10.0;
                            Sent {
                                reading: Reading::usual(Analyte::TEMPERATURE, value, wall),
                                at,
                            }
                        })
                        .collect();
                    devices::take(db, &device, &sent, cut, |_| Bounds::default())?;
                    posts.push((device, sent));
                }
                let by_hand = START.to_zoned(TimeZone::UTC).datetime();
                let reading = Reading::usual(Analyte::TEMPERATURE, 21.0, by_hand);
                readings::add(db, id, &reading, START)?;
                let between = |db: &Connection| {
                    let (from, to) = (jiff::civil::DateTime::MIN, jiff::civil::DateTime::MAX);
                    hours::between(db, id, Analyte::TEMPERATURE, from, to)
                };
                let (before, hours_before) = (all(db), between(db)?);
                let mut gone = 0;
                while let Some(many) = step(db, cut)? {
                    gone += many;
                }
                let after = all(db);
                assert_eq!(after.len() + gone, before.len());
                assert_eq!(between(db)?, hours_before);
                let is_old = |hour: &str| hour < "1970-01-03";
                for (hour, _, device) in &before {
                    let of = |rows: &[(String, f64, Option<i64>)]| -> Vec<f64> {
                        let same = rows.iter().filter(|row| row.0 == *hour && row.2 == *device);
                        same.map(|row| row.1).collect()
                    };
                    let (was, is) = (of(&before), of(&after));
                    if device.is_none() || !is_old(hour) {
                        assert_eq!(was, is, "{hour}");
                        continue;
                    }
                    let span = |values: &[f64]| {
                        let least = values.iter().copied().fold(f64::INFINITY, f64::min);
                        let most = values.iter().copied().fold(f64::NEG_INFINITY, f64::max);
                        (least, most)
                    };
                    assert!(is.len() <= 3 && span(&was) == span(&is), "{was:?}: {is:?}");
                    assert!(was.last() == is.last(), "{was:?}: {is:?}");
                }
                assert_eq!(step(db, cut)?, None, "a second time there is nothing to do");
                // Sent again it is all known; only what goes beyond an hour is new of it.
                for (device, all) in &posts {
                    let again = devices::take(db, device, all, cut, |_| Bounds::default())?;
                    assert_eq!((again.stored, again.known), (0, all.len()));
                }
                let (device, all) = &posts[0];
                let beyond = Sent {
                    at: all[0].at + SignedDuration::from_secs(30),
                    reading: Reading {
                        value: 39.0,
                        ..all[0].reading.clone()
                    },
                };
                let new = devices::take(db, device, &[beyond], cut, |_| Bounds::default())?;
                assert_eq!(new.stored, 1);
                // Hours made anew, as when all is brought back from a file, are the same too.
                let as_kept = between(db)?;
                hours::make_all(db)?;
                let made = between(db)?;
                assert_eq!(made.len(), as_kept.len());
                for (one, other) in made.iter().zip(&as_kept) {
                    assert!((one.mean - other.mean).abs() < 1e-9, "{one:?} {other:?}");
                    assert_eq!(
                        (one.least, one.most, one.many),
                        (other.least, other.most, other.many)
                    );
                }
                Ok::<_, StoreError>(())
            })
            .expect("written");
    }
}
