use std::io::Cursor;

use fastrand::Rng;
use jiff::Timestamp;
use rusqlite::params;
use tempfile::TempDir;
use zip::ZipArchive;

use super::{Document, take_in, write};
use crate::photos::Picture;
use crate::{BatchId, Connection, Store, StoreError, cases, photos, settings, tanks};

const NOW: Timestamp = Timestamp::UNIX_EPOCH;

fn store() -> (TempDir, Store) {
    let folder = TempDir::new().expect("a folder");
    let store = Store::open(&folder.path().join("reed.db")).expect("a new file");
    (folder, store)
}

/// Letters that sheets, SQL and JSON could trip over.
fn text(rng: &mut Rng) -> String {
    const LETTERS: &[char] = &[
        'a', 'ü', '魚', '"', '\'', ',', ';', '\n', '\r', '\\', '=', ' ', '\u{0}', '💧',
    ];
    let many = rng.usize(0..12);
    (0..many)
        .map(|_| LETTERS[rng.usize(..LETTERS.len())])
        .collect()
}

fn maybe(rng: &mut Rng) -> Option<String> {
    rng.bool().then(|| text(rng))
}

/// Rows of every table, as far as the tables themselves allow anything.
fn fill(store: &Store, rng: &mut Rng) {
    let starts = ["planted-canister", "community-internal"];
    let picture = |rng: &mut Rng| Picture {
        full: (0..rng.usize(1..5000)).map(|_| rng.u8(..)).collect(),
        small: vec![rng.u8(..); 9],
        width: 40,
        height: 30,
    };
    store
        .write(|db| {
            settings::choose_units(db, reed_core::units::Units::default())?;
            for start in starts {
                let tank = reed_core::document::start::by_id(start).expect("listed").tank();
                let id = tanks::create(db, &tank, &text(rng), NOW)?;
                tanks::revise(db, id, &tank, &text(rng), NOW)?;
                let case = cases::open(db, id, NOW)?;
                cases::close(db, case, &text(rng), NOW)?;
                cases::reopen(db, case, &text(rng), NOW)?;
                db.execute("INSERT INTO batches (tank_id, name, made_at) VALUES (?1, ?2, 'x')", params![id, text(rng)])?;
                let batch = BatchId(db.last_insert_rowid());
                for _ in 0..rng.usize(1..30) {
                    db.execute(
                        "INSERT INTO readings (tank_id, analyte, value, spread, kit, taken_at, entered_at, struck_at, batch_id)
                         VALUES (?1, ?2, ?3, ?4, ?5, '2026-03-10T08:30:00', 'y', ?6, ?7)",
                        params![id, text(rng), f64::from_bits(rng.u64(..) >> 2), rng.f64() + 1e-300, maybe(rng), maybe(rng), batch],
                    )?;
                    db.execute(
                        "INSERT INTO entries (tank_id, happening, from_at, to_at, on_what, amount, note, details, case_id, finding, made_at, struck_at)
                         VALUES (?1, ?2, 'a', 'b', ?3, ?4, ?5, ?6, ?7, ?8, 'z', ?9)",
                        params![id, text(rng), text(rng), rng.bool().then(|| rng.f64()), text(rng), text(rng), rng.bool().then_some(case), maybe(rng), maybe(rng)],
                    )?;
                }
                let reading: i64 = db.query_row("SELECT max(id) FROM readings", [], |row| row.get(0))?;
                let entry: i64 = db.query_row("SELECT max(id) FROM entries", [], |row| row.get(0))?;
                let photo = photos::add(db, &store.photos(), id, &picture(rng), NOW)?;
                photos::attach(db, id, crate::EntryId(entry), &[photo])?;
                for (sql, values) in [
                    ("INSERT INTO answers (case_id, finding, answer, seen_at, entered_at, filters) VALUES (?1, ?2, 'yes', 'a', 'b', ?3)", params![case, text(rng), text(rng)]),
                    ("INSERT INTO declined VALUES (?1, ?2, 'no-kit', ?3)", params![case, text(rng), text(rng)]),
                    ("INSERT INTO choices (case_id, change, now, after, chosen_at, moves) VALUES (?1, ?2, ?3, ?4, 'a', ?5)", params![case, text(rng), text(rng), maybe(rng), maybe(rng)]),
                    ("INSERT INTO step_ticks (choice_id, step, done, made_at) VALUES (last_insert_rowid(), ?1, 1, ?2)", params![rng.i64(..), text(rng)]),
                    ("INSERT INTO proofs (choice_id, reading_id, verdict, words, judged_at) SELECT max(id), ?1, 'partly', ?2, 'a' FROM choices", params![reading, text(rng)]),
                    ("INSERT INTO tries (tank_id, name, moves, made_at, dropped_at) VALUES (?1, ?2, ?3, 'a', ?4)", params![id, text(rng), text(rng), maybe(rng)]),
                    ("INSERT INTO drift_tests (tank_id, pinch, from_x_cm, from_y_cm, to_x_cm, to_y_cm, to_z_cm, seconds, factor, made_at) VALUES (?1, ?2, 1, 2.5, -3, 1e-9, 5, 6, ?3, 'a')", params![id, text(rng), rng.f64()]),
                    ("INSERT INTO service_ticks VALUES (?1, ?2, ?3, 'a')", params![id, rng.i64(..), text(rng)]),
                    ("INSERT INTO plans (case_id, stages, made_at, dropped_at) VALUES (?1, ?2, 'a', ?3)", params![case, text(rng), maybe(rng)]),
                    ("INSERT OR REPLACE INTO prices VALUES (?1, ?2, ?3)", params![text(rng), rng.f64(), rng.f64()]),
                    ("INSERT INTO devices (tank_id, name, token, made_at, heard_at, dropped_at) VALUES (?1, ?2, ?3, 'a', ?4, ?5)", params![id, text(rng), format!("{}", rng.u64(..)), maybe(rng), maybe(rng)]),
                    ("INSERT INTO watches SELECT max(id), ?1, 'a', ?2, ?2, ?1, 'b', 0.5, 1, 0, ?3 FROM devices", params![text(rng), rng.f64(), maybe(rng)]),
                    ("INSERT INTO thinned_hours SELECT ?1, ?2, ?2, max(id), ?3, 1 FROM devices", params![id, text(rng), rng.f64()]),
                    ("INSERT INTO bounds (tank_id, analyte, low, high) VALUES (?1, ?2, ?3, ?4)", params![id, text(rng), rng.bool().then(|| rng.f64()), rng.bool().then(|| rng.f64())]),
                    ("INSERT INTO duties (tank_id, case_id, words, analyte, every_hours, from_at, until_at, why, dropped_at) VALUES (?1, ?2, ?3, ?4, ?5, 'a', 'b', ?6, ?7)", params![id, case, text(rng), maybe(rng), rng.i64(..), text(rng), maybe(rng)]),
                    ("INSERT INTO duty_ticks VALUES (last_insert_rowid(), ?1)", params![text(rng)]),
                    ("INSERT INTO sent VALUES (?1 || ?2, 'a')", params![id, text(rng)]),
                    ("INSERT INTO brought_in (tank_id, digest) VALUES (?1, ?2)", params![id, text(rng)]),
                ] {
                    db.execute(sql, values)?;
                }
            }
            Ok::<_, StoreError>(())
        })
        .expect("rows");
}

fn everything(store: &Store) -> Vec<u8> {
    let documents = [Document {
        name: "tanks/1.reed.json".to_owned(),
        text: "{}".to_owned(),
    }];
    let mut out = Vec::new();
    store
        .read(|db| write(db, &store.photos(), &documents, NOW, &mut out))
        .expect("written");
    out
}

fn take(store: &Store, bytes: &[u8]) -> Result<super::TakenIn, StoreError> {
    let file = store.path().with_extension("zip");
    std::fs::write(&file, bytes).expect("written");
    take_in(store, &file)
}

/// Whatever stands in any table, written, taken in elsewhere and written again, is the same file.
#[test]
fn what_is_written_taken_in_and_written_again_is_the_same() {
    for seed in 0..12 {
        let (_first, from) = store();
        fill(&from, &mut Rng::with_seed(seed));
        let names: Vec<String> = from
            .read(|db| {
                Ok::<_, StoreError>(
                    super::tables(db)?
                        .into_iter()
                        .map(|table| table.name)
                        .collect(),
                )
            })
            .expect("tables");
        for name in names {
            let rows: i64 = from
                .read(|db: &Connection| {
                    Ok::<_, StoreError>(db.query_row(
                        &format!("SELECT count(*) FROM {name}"),
                        [],
                        |row| row.get(0),
                    )?)
                })
                .expect("a table");
            assert!(rows > 0, "this test forgets {name}");
        }
        let written = everything(&from);
        let (_second, to) = store();
        let taken = take(&to, &written).expect("taken in");
        assert_eq!((taken.tanks, taken.pictures), (2, 2));
        assert!(written == everything(&to), "seed {seed}");
        let hours = |store: &Store| -> i64 {
            store
                .read(|db: &Connection| {
                    Ok::<_, StoreError>(db.query_row(
                        "SELECT sum(many) FROM reading_hours",
                        [],
                        |row| row.get(0),
                    )?)
                })
                .expect("hours")
        };
        let counted: i64 = to
            .read(|db: &Connection| {
                Ok::<_, StoreError>(db.query_row(
                    "SELECT count(*) FROM readings WHERE struck_at IS NULL",
                    [],
                    |row| row.get(0),
                )?)
            })
            .expect("readings");
        assert_eq!(hours(&to), counted, "what follows is made anew");
        // Twice is refused, and leaves what is there.
        let again = take(&to, &written).expect_err("there are tanks");
        assert!(
            again.to_string().contains("There are tanks here already"),
            "{again}"
        );
        assert!(written == everything(&to));
    }
}

/// Each part of the file broken or missing: a sentence, and nothing is stored.
#[test]
fn a_broken_file_is_refused_in_words_and_leaves_nothing() {
    let (_from, from) = store();
    fill(&from, &mut Rng::with_seed(99));
    let whole = everything(&from);
    let parts = ZipArchive::new(Cursor::new(&whole)).expect("a zip");
    let names: Vec<String> = parts
        .file_names()
        .map(|name| name.expect("a name").into_owned())
        .collect();
    let without = |left_out: &str, changed: Option<(&str, &str)>| {
        let mut zip = zip::ZipWriter::new(Cursor::new(Vec::new()));
        let mut parts = ZipArchive::new(Cursor::new(&whole)).expect("a zip");
        for name in names.iter().filter(|name| *name != left_out) {
            let mut bytes = Vec::new();
            std::io::copy(&mut parts.by_name(name).expect("there"), &mut bytes).expect("read");
            if let Some((of, more)) = changed
                && of == name
            {
                bytes.extend_from_slice(more.as_bytes());
            }
            zip.start_file(name.as_str(), zip::write::SimpleFileOptions::default())
                .expect("begun");
            std::io::Write::write_all(&mut zip, &bytes).expect("written");
        }
        zip.finish().expect("finished").into_inner()
    };
    let (_to, to) = store();
    let refused = |bytes: &[u8], says: &str| {
        let error = take(&to, bytes).expect_err(says);
        assert!(
            matches!(error, StoreError::NotTaken(_)) && error.to_string().contains(says),
            "{error}"
        );
        assert_eq!(to.read(tanks::count).expect("readable"), 0);
    };
    refused(b"no zip at all", "no zip file");
    refused(&whole[..whole.len() / 2], "no zip file");
    refused(&without("about.json", None), "about.json");
    for sheet in names.iter().filter(|name| name.starts_with("records/")) {
        refused(&without(sheet, None), sheet);
        refused(&without("", Some((sheet, "\"1\"\n"))), sheet);
    }
    refused(
        &without(
            "",
            Some((
                "records/readings.csv",
                "900,1,ph,seven,0.1,,2026-03-10T08:30:00,y,,,,\n",
            )),
        ),
        "“seven” is not a number",
    );
    refused(
        &without("", Some(("records/cases.csv", "900,77,a\n"))),
        "do not belong together",
    );
    refused(
        &without("", Some(("records/tank_revisions.csv", "900,1,a,b,{}\n"))),
        "revision 900 of tank 1 is no tank",
    );
    let picture = names
        .iter()
        .find(|name| name.starts_with("photos/") && !name.contains("small"))
        .expect("one");
    refused(&without("", Some((picture, "x"))), "is not the picture");
    // A row without end, well packed: it is not read to its end.
    let endless = "x".repeat(40_000_000);
    refused(
        &without("", Some(("records/settings.csv", &endless))),
        "longer than any",
    );
    take(&to, &whole).expect("the whole one goes in");
}
