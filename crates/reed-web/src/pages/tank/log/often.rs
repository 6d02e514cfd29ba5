//! What a tank logs most, to be entered again in one tap, with the amount of last time.

use jiff::SignedDuration;
use jiff::civil::DateTime;
use reed_core::log::{Details, Entry};
use reed_core::tank::Tank;
use reed_core::units::Units;
use reed_store::{Connection, StoreError, TankId, entries};

use super::form::EntryInput;
use super::line::on_words;

/// Something that is entered in two taps.
pub(in crate::pages) struct Often {
    /// As a button.
    pub(in crate::pages) words: String,
    pub(in crate::pages) what: String,
    pub(in crate::pages) amount: String,
    pub(in crate::pages) on: String,
}

/// It is looked for so many days back.
const BACK_DAYS: i64 = 120;

impl Often {
    /// Of a tank, what is logged most first.
    pub(in crate::pages) fn read(
        db: &Connection,
        id: TankId,
        tank: &Tank,
        now: DateTime,
        units: &Units,
    ) -> Result<Vec<Self>, StoreError> {
        let since = now - SignedDuration::from_hours(24 * BACK_DAYS);
        let often = entries::often(db, id, since, now)?;
        Ok(often
            .into_iter()
            .filter_map(|kept| Self::of(kept.entry, tank, units))
            .collect())
    }

    fn of(entry: Entry, tank: &Tank, units: &Units) -> Option<Self> {
        entry.kind()?;
        let again = Entry {
            details: Details::default(),
            note: String::new(),
            ..entry
        };
        let input = EntryInput::of_entry(&again, units);
        let on = on_words(&again, tank);
        Some(Self {
            words: if on.is_empty() {
                again.words(units)
            } else {
                format!("{}: {on}", again.words(units))
            },
            what: input.what,
            amount: input.amount,
            on: input.on,
        })
    }
}
