//! The control of a proof: another tank of the keeper's, or the tap, read before the change and
//! after it.

use jiff::SignedDuration;
use jiff::civil::DateTime;
use reed_core::remedy::proof::{Control, TOGETHER};
use reed_core::tank::{Analyte, Reading};
use reed_store::{Connection, StoreError, TankId, readings, tanks};

/// What the tap is called in forms.
const TAP: &str = "tap";

/// Of so long before the change readings are laid beside the proof; of none in that time the last.
const BEFORE: SignedDuration = SignedDuration::from_hours(14 * 24);

/// What of the tap is read as well.
fn of_the_tap(analyte: &Analyte) -> Option<&'static Analyte> {
    [
        (Analyte::AMMONIA, Analyte::TAP_AMMONIA),
        (Analyte::NITRATE, Analyte::TAP_NITRATE),
        (Analyte::PH, Analyte::TAP_PH),
        (Analyte::KH, Analyte::TAP_KH),
        (Analyte::GH, Analyte::TAP_GH),
    ]
    .into_iter()
    .find(|(tank, _)| *tank == analyte)
    .map(|(_, tap)| tap)
}

/// What could serve as a control of a reading of this, read before the change: value and name for a
/// form.
pub(crate) fn controls(
    db: &Connection,
    tank: TankId,
    analyte: &'static Analyte,
    done: DateTime,
) -> Result<Vec<(String, String)>, StoreError> {
    let mut controls = Vec::new();
    for other in tanks::all(db)? {
        let was_read = readings::last_before(db, other.tank_id, analyte.id, done)?.is_some();
        if other.tank_id != tank && was_read {
            controls.push((other.tank_id.to_string(), other.tank.name));
        }
    }
    if let Some(tap) = of_the_tap(analyte)
        && readings::last_before(db, tank, tap.id, done)?.is_some()
    {
        controls.push((TAP.to_owned(), "the tap".to_owned()));
    }
    Ok(controls)
}

/// The control that was named, with its readings; or why it is none, as a sentence.
pub(crate) fn control(
    db: &Connection,
    (tank, named): (TankId, &str),
    reading: &Reading,
    done: DateTime,
) -> Result<Result<Option<Control>, String>, StoreError> {
    let named = named.trim();
    if named.is_empty() {
        return Ok(Ok(None));
    }
    let (of, analyte, name) = if named == TAP {
        match of_the_tap(reading.analyte) {
            Some(tap) => (tank, tap, "the tap".to_owned()),
            None => {
                return Ok(Err(format!(
                    "Beside: {} of the tap is not read; name another tank, or none.",
                    reading.analyte.label
                )));
            }
        }
    } else {
        let known = named.parse().ok().map(TankId);
        let known = known.map(|id| tanks::latest(db, id)).transpose();
        match known {
            Ok(Some(revision)) if revision.tank_id != tank => {
                (revision.tank_id, reading.analyte, revision.tank.name)
            }
            Ok(_) | Err(StoreError::NotFound { .. }) => {
                return Ok(Err(format!(
                    "Beside: “{named}” is no other tank of yours; another tank, the tap or none is accepted."
                )));
            }
            Err(why) => return Err(why),
        }
    };
    let mut before = readings::between(db, of, analyte, done - BEFORE, done)?;
    if before.is_empty() {
        before.extend(readings::last_before(db, of, analyte.id, done)?);
    }
    // What was read in the minute of the change is of after it.
    let before: Vec<Reading> = before
        .into_iter()
        .map(|stored| stored.reading)
        .filter(|before| before.taken_at < done)
        .collect();
    let after = readings::last_before(db, of, analyte.id, reading.taken_at + TOGETHER)?
        .map(|stored| stored.reading)
        .filter(|after| after.taken_at >= done);
    Ok(Control::of(name, &before, after, reading).map(Some))
}
