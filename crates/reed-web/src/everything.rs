//! Everything in one file: what the store writes, with each tank and case as a document.

use std::io::Write;

use reed_core::diagnosis::Case;
use reed_core::document::Document;
use reed_store::archive::{self, Document as ForReading};
use reed_store::{Connection, Store, StoreError, TankId, cases, entries, tanks};

use crate::case_file::CaseFile;
use crate::clock::Clock;

/// Writes everything as one zip file, front to back.
///
/// # Errors
/// When the records cannot be read, or nothing more can be written.
pub fn write_everything(store: &Store, clock: &Clock, out: impl Write) -> Result<(), StoreError> {
    store.read(|db| {
        let documents = documents(db, clock)?;
        archive::write(db, &store.photos(), &documents, clock.now().utc, out)
    })
}

fn documents(db: &Connection, clock: &Clock) -> Result<Vec<ForReading>, StoreError> {
    let now = clock.now().wall;
    let mut documents = Vec::new();
    for revision in tanks::all(db)?.into_iter().chain(tanks::put_away(db)?.rows) {
        let id = revision.tank_id;
        documents.push(ForReading {
            name: format!("tanks/{id}.reed.json"),
            text: Document {
                as_of: None,
                log: entries::standing(db, id, None)?,
                ..Document::of(&Case::new(revision.tank, now))
            }
            .write(),
        });
        documents.extend(of_cases(db, id, clock)?);
    }
    Ok(documents)
}

fn of_cases(db: &Connection, tank: TankId, clock: &Clock) -> Result<Vec<ForReading>, StoreError> {
    let now = clock.now().wall;
    let each = cases::of_tank(db, tank)?.into_iter().map(|case| {
        let file = CaseFile::load(db, case.id, clock)?;
        Ok(ForReading {
            name: format!("cases/{}-of-tank-{tank}.reed.json", case.id),
            text: Document::of(&file.as_seen(now)).write(),
        })
    });
    each.collect()
}
