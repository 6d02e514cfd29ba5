//! What is on record of a filter: openings with grades and photos, bucket tests.

use reed_core::tank::Filter;
use reed_store::{Connection, StoreError, entries, photos};

use super::Seen;
use crate::view::when_of;

/// An opening or a bucket test on record.
pub(super) struct RecordLine {
    pub(super) entry: i64,
    pub(super) when: String,
    pub(super) words: String,
    pub(super) lines: Vec<String>,
    pub(super) note: String,
    pub(super) photos: Vec<(i64, u32, u32)>,
}

/// Openings and bucket tests, the latest first, with grades and photos.
pub(super) fn record(
    db: &Connection,
    seen: &Seen,
    filter: &Filter,
) -> Result<Vec<RecordLine>, StoreError> {
    const SHOWN: usize = 8;
    const KINDS: [&str; 6] = [
        "filter-opened",
        "bucket-test",
        "tap-rinse",
        "new-media",
        "floss-new",
        "seals-renewed",
    ];
    let mut kept = entries::of_kinds(db, seen.id, &KINDS)?;
    kept.retain(|kept| {
        kept.entry.on.is_filter(&seen.tank, filter.number) && kept.entry.when.from <= seen.now
    });
    let latest = kept.iter().rev().take(SHOWN);
    latest
        .map(|kept| {
            let photos = photos::of_entry(db, seen.id, kept.id)?;
            Ok(RecordLine {
                entry: kept.id.0,
                when: when_of(&kept.entry.when, seen.now),
                words: kept.entry.words(&seen.units),
                lines: kept.entry.details.lines(&seen.units),
                note: kept.entry.note.clone(),
                photos: photos
                    .into_iter()
                    .filter(|photo| !photo.is_struck())
                    .map(|photo| (photo.id.0, photo.width, photo.height))
                    .collect(),
            })
        })
        .collect()
}
