//! A line of the log: an entry, a reading, a case, a change of the tank's description.

use jiff::civil::DateTime;
use reed_core::log::{Entry, On, When};
use reed_core::routine;
use reed_core::tank::Tank;
use reed_core::units::Units;
use reed_store::TankId;
use reed_store::entries::KeptEntry;
use reed_store::readings::Stored;

use super::photos::PhotoView;

/// The marks of cases, and of changes of the tank’s description.
pub(super) const OF_CASE: &str = "of-case";
pub(super) const OF_TANK: &str = "of-tank";

/// A line.
pub(super) struct Line {
    /// The moment by which it stands in its place.
    pub(super) at: DateTime,
    /// Told apart from others of the same moment: what it is, and its number.
    pub(super) order: (u8, i64),
    /// When, as far as it is known.
    pub(super) when: String,
    /// What.
    pub(super) words: String,
    /// More of it.
    pub(super) lines: Vec<String>,
    pub(super) note: String,
    /// `of-entry`, `of-reading`, [`OF_CASE`] or [`OF_TANK`]: its mark.
    pub(super) kind: &'static str,
    pub(super) is_struck: bool,
    pub(super) is_planned: bool,
    /// Its photos.
    pub(super) photos: Vec<PhotoView>,
    /// Where it can be looked at or corrected.
    pub(super) link: Option<String>,
    /// Where it is withdrawn, or taken back in.
    pub(super) strike: Option<String>,
    /// Its tank, where several are shown.
    pub(super) tank: Option<(TankId, String)>,
}

/// When, under the date of its day.
fn of_its_day(when: &When) -> String {
    if when.is_exact() {
        when.from.strftime("%H:%M").to_string()
    } else if when.from.date() == when.to.date() {
        "that day".to_owned()
    } else {
        when.words()
    }
}

/// On what an entry happened, in words; nothing for the whole tank.
pub(super) fn on_words(entry: &Entry, tank: &Tank) -> String {
    match &entry.on {
        On::Tank => String::new(),
        On::Filter(number) => tank
            .filters
            .iter()
            .find(|filter| filter.number == *number)
            .map_or_else(
                || format!("filter {number}, gone since"),
                |filter| filter.name.clone(),
            ),
        On::Group(name) => name.clone(),
    }
}

impl Line {
    pub(super) fn of_entry(
        kept: &KeptEntry,
        photos: Vec<PhotoView>,
        tank: &Tank,
        now: DateTime,
        units: &Units,
    ) -> Self {
        let entry = &kept.entry;
        let on = on_words(entry, tank);
        let words = match routine::by_id(&entry.details.task) {
            Some(task) => format!("{}: {}", entry.words(units), task.words),
            None => entry.words(units),
        };
        Self {
            at: entry.when.to,
            order: (0, kept.id.0),
            when: of_its_day(&entry.when),
            words: if on.is_empty() {
                words
            } else {
                format!("{words}: {on}")
            },
            lines: entry
                .details
                .lines(units)
                .into_iter()
                .chain(entry.details.until.map(|until| format!("Until {until}")))
                .collect(),
            note: entry.note.clone(),
            kind: "of-entry",
            is_struck: kept.is_struck(),
            is_planned: entry.when.from > now,
            photos,
            link: entry
                .details
                .task
                .is_empty()
                .then(|| format!("/tanks/{}/log/{}", kept.tank, kept.id)),
            strike: Some(format!(
                "/tanks/{}/log/{}/{}",
                kept.tank,
                kept.id,
                if kept.is_struck() {
                    "restore"
                } else {
                    "strike"
                }
            )),
            tank: None,
        }
    }

    pub(super) fn of_reading(stored: &Stored, tank: TankId, units: &Units) -> Self {
        let reading = &stored.reading;
        Self {
            at: reading.taken_at,
            order: (1, stored.id.0),
            when: of_its_day(&When::minute(reading.taken_at)),
            words: format!("{} {}", reading.analyte.label, reading.print(units)),
            lines: reading
                .kit
                .map(|kit| kit.title.to_owned())
                .into_iter()
                .collect(),
            note: String::new(),
            kind: "of-reading",
            is_struck: stored.is_struck(),
            is_planned: false,
            photos: Vec::new(),
            link: None,
            strike: Some(format!(
                "/tanks/{tank}/readings/{}/{}",
                stored.id,
                if stored.is_struck() {
                    "restore"
                } else {
                    "strike"
                }
            )),
            tank: None,
        }
    }

    /// Something of which there is only a moment, a sentence and a page.
    pub(super) fn plain(
        kind: &'static str,
        number: i64,
        at: DateTime,
        words: String,
        link: String,
    ) -> Self {
        Self {
            at,
            order: (if kind == OF_CASE { 2 } else { 3 }, number),
            when: of_its_day(&When::minute(at)),
            words,
            lines: Vec::new(),
            note: String::new(),
            kind,
            is_struck: false,
            is_planned: false,
            photos: Vec::new(),
            link: Some(link),
            strike: None,
            tank: None,
        }
    }
}
