//! All records: taken away and in, put back, damaged, full; and rows that cannot be read.

use axum::http::StatusCode;
use reed_store::copies::{self, KeptCopy, Origin};
use reed_store::{Connection, Store, StoreError};
use tempfile::TempDir;

use crate::client::Client;

const FORM: (&str, &str) = ("content-type", "application/x-www-form-urlencoded");
const OWN: (&str, &str) = ("sec-fetch-site", "same-origin");

/// Pages that show records of the reading room.
const PAGES: &[&str] = &[
    "/",
    "/log",
    "/tanks/1",
    "/tanks/1/edit",
    "/tanks/1/log",
    "/tanks/1/charts",
    "/tanks/1/water",
    "/tanks/1/water/outlook",
    "/tanks/1/water/oxygen",
    "/tanks/1/drift",
    "/cases/1",
    "/data",
    "/tanks/1/routine",
    "/tanks/1/devices",
    "/visit",
    "/visit/report",
];

#[tokio::test]
async fn everything_goes_out_and_comes_in_where_nothing_is() {
    let from = Client::new();
    from.post("/tanks/1/log", "what=note&note=before+the+move")
        .await;
    let everything = from.post("/data/everything", "").await;
    assert_eq!(everything.status, StatusCode::OK);
    assert_eq!(everything.headers["content-type"], "application/zip");

    let to = Client::empty();
    assert!(to.get("/data").await.text.contains("Take it in"));
    let taken = to
        .upload("/data/take-in", &[("file", &everything.bytes)])
        .await;
    assert_eq!(taken.location, "/data?did=taken-in", "{}", taken.text);
    assert!(
        to.get("/tanks/1/log")
            .await
            .text
            .contains("before the move")
    );
    for page in PAGES {
        let (one, other) = (from.get(page).await, to.get(page).await);
        assert_eq!(one.status, StatusCode::OK, "{page}");
        // The path of the file is another one.
        assert!(one.text == other.text || *page == "/data", "{page}");
    }
    let again = to
        .upload("/data/take-in", &[("file", &everything.bytes)])
        .await;
    assert_eq!(again.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(again.text.contains("There are tanks here already"));
    for (file, says) in [(&b"no zip"[..], "no zip file"), (b"", "No file came")] {
        let refused = Client::empty()
            .upload("/data/take-in", &[("file", file)])
            .await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(refused.text.contains(says), "{says}: {}", refused.text);
    }
}

/// The latest copy of a sort.
fn copy(client: &Client, origin: Origin) -> KeptCopy {
    let of_it = |copy: &KeptCopy| copy.origin == origin;
    let mut all = copies::all(client.store.path()).into_iter();
    all.find(of_it).expect("one of that sort")
}

#[tokio::test]
async fn a_copy_is_made_listed_taken_away_and_put_back_from_the_page() {
    let client = Client::new();
    assert!(
        client
            .get("/data")
            .await
            .text
            .contains("There is no copy yet")
    );
    client
        .post("/tanks/1/log", "what=note&note=in+the+copy")
        .await;
    client.post("/data/copy", "").await;
    client
        .post("/tanks/1/log", "what=note&note=after+the+copy")
        .await;
    assert!(client.get("/cases/1").await.text.contains("Reading room"));
    let made = copy(&client, Origin::ByHand).name();
    assert!(client.get("/data").await.text.contains("made by hand"));
    let away = client.get(&format!("/data/copies/{made}")).await;
    assert!(away.bytes.starts_with(b"SQLite format 3"));
    for elsewhere in ["reed.db", "..%2Freed.db", "none.db"] {
        let refused = client.get(&format!("/data/copies/{elsewhere}")).await;
        assert_eq!(refused.status, StatusCode::NOT_FOUND, "{elsewhere}");
        let refused = client
            .post("/data/restore", &format!("copy={elsewhere}"))
            .await;
        assert_eq!(refused.status, StatusCode::NOT_FOUND, "{elsewhere}");
    }
    let put_back = client.post("/data/restore", &format!("copy={made}")).await;
    assert_eq!(put_back.location, "/data?did=restored", "{}", put_back.text);
    let log = client.get("/tanks/1/log").await.text;
    assert!(log.contains("in the copy") && !log.contains("after the copy"));
    client.post("/tanks/1/log", "what=note&note=goes+on").await;
    assert!(client.get("/tanks/1/log").await.text.contains("goes on"));
    let aside = copy(&client, Origin::BeforeRestore);
    client
        .post("/data/restore", &format!("copy={}", aside.name()))
        .await;
    assert!(
        client
            .get("/tanks/1/log")
            .await
            .text
            .contains("after the copy")
    );
    // A copy that is damaged is not put back, and what stands stays.
    let copy = copy(&client, Origin::ByHand);
    std::fs::write(&copy.file, "no database").expect("written");
    let refused = client
        .post("/data/restore", &format!("copy={}", copy.name()))
        .await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        refused
            .text
            .contains("was not put back, and nothing was changed")
    );
    assert!(
        client
            .get("/tanks/1/log")
            .await
            .text
            .contains("after the copy")
    );
    client
        .post("/tanks/1/log", "what=note&note=still+stored")
        .await;
    assert!(
        client
            .get("/tanks/1/log")
            .await
            .text
            .contains("still stored")
    );
}

/// The reading room in a file with a hole in it, where pages are read anew.
fn damaged() -> Client {
    let client = Client::new();
    let folder = TempDir::new().expect("a folder");
    let file = folder.path().join("reed.db");
    let yesterday = jiff::civil::date(2026, 3, 9).at(8, 0, 0, 0);
    let copy = copies::by_hand(client.store.path(), yesterday).expect("made");
    let backups = folder.path().join("backups");
    std::fs::create_dir_all(&backups).expect("a folder");
    let name = copy.file_name().expect("named");
    for to in [&file, &backups.join(name)] {
        std::fs::copy(&copy, to).expect("copied");
    }
    let problems = vec!["a page is not what it was".to_owned()];
    Client::over(
        folder,
        Store::open_damaged(&file, problems).expect("it opens"),
    )
}

#[tokio::test]
async fn what_is_damaged_can_be_looked_at_and_put_back_and_is_not_written_to() {
    let client = damaged();
    let before = std::fs::read(client.store.path()).expect("there");
    for page in PAGES {
        let page = client.get(page).await;
        assert_eq!(page.status, StatusCode::OK);
        // Parts of pages have nothing above them.
        let is_part = !page.text.contains("<main");
        assert!(is_part || page.text.contains("The records are damaged"));
    }
    assert_eq!(
        client.get("/health").await.status,
        StatusCode::SERVICE_UNAVAILABLE
    );
    let refused = client
        .post("/tanks/1/log", "what=note&note=typed+with+care")
        .await;
    assert_eq!(refused.status, StatusCode::INSUFFICIENT_STORAGE);
    assert!(refused.text.contains("typed with care") && refused.text.contains("Send it again"));
    assert!(
        std::fs::read(client.store.path()).expect("there") == before,
        "not touched"
    );
    let copy = copy(&client, Origin::ByHand).name();
    client.post("/data/restore", &format!("copy={copy}")).await;
    assert!(
        !client
            .get("/")
            .await
            .text
            .contains("The records are damaged")
    );
    assert_eq!(client.get("/health").await.text, "ok\n");
    let stored = client
        .post("/tanks/1/log", "what=note&note=typed+with+care")
        .await;
    assert_eq!(stored.status, StatusCode::SEE_OTHER);
}

/// No room, as SQLite is told: what was typed comes back in a form that sends it again, and nothing
/// is half stored.
#[tokio::test]
async fn a_full_disk_is_named_and_what_was_typed_comes_back() {
    let client = Client::new();
    let room = |pages: i64| {
        client
            .store
            .write(|db| {
                let set = format!("PRAGMA max_page_count = {pages}");
                db.query_row(&set, [], |_| Ok(()))?;
                Ok::<_, StoreError>(())
            })
            .expect("set");
    };
    // No more than there is now.
    room(1);
    let note = |number: usize| {
        let filled = "x".repeat(900);
        format!("what=note&note=begins+so+{number}+{filled}")
    };
    let (mut number, mut refused) = (0, client.post("/tanks/1/log", &note(0)).await);
    while refused.status == StatusCode::SEE_OTHER && number < 100 {
        number += 1;
        refused = client.post("/tanks/1/log", &note(number)).await;
    }
    let begins = format!("begins so {number} x");
    assert_eq!(
        refused.status,
        StatusCode::INSUFFICIENT_STORAGE,
        "{}",
        refused.text
    );
    for says in [
        "The disk is full",
        "action=\"/tanks/1/log\"",
        &format!("name=\"note\" value=\"{begins}"),
        "name=\"what\" value=\"note\"",
    ] {
        assert!(refused.text.contains(says), "{says}");
    }
    assert!(!client.get("/tanks/1/log").await.text.contains(&begins));
    room(1_000_000);
    let again = client.post("/tanks/1/log", &note(number)).await;
    assert_eq!(again.status, StatusCode::SEE_OTHER);
    assert!(client.get("/tanks/1/log").await.text.contains(&begins));
}

/// A folder that may only be read, as SQLite is told.
#[tokio::test]
async fn what_may_only_be_read_is_named() {
    let client = Client::new();
    client
        .store
        .write(|db| Ok::<_, StoreError>(db.pragma_update(None, "query_only", true)?))
        .expect("set");
    let refused = client
        .post("/tanks/1/log", "what=note&note=with+care")
        .await;
    assert_eq!(refused.status, StatusCode::INSUFFICIENT_STORAGE);
    for says in ["may only be read", "with care", "Send it again"] {
        assert!(refused.text.contains(says), "{says}");
    }
    assert!(!client.get("/tanks/1/log").await.text.contains("with care"));
}

/// What a page kept without a network is stored once, as of when it was typed.
#[tokio::test]
async fn what_was_kept_is_stored_once_and_as_of_when_it_was_typed() {
    let client = Client::new();
    let kept = [
        FORM,
        OWN,
        ("x-kept-id", "0b9f2c1e-kept"),
        ("x-typed-at", "2026-03-10T06:10:00Z"),
    ];
    let line = "line=no3+20";
    let first = client
        .ask("POST", "/tanks/1/log/quick/enter", &kept, line)
        .await;
    assert_eq!(first.status, StatusCode::SEE_OTHER);
    let again = client
        .ask("POST", "/tanks/1/log/quick/enter", &kept, line)
        .await;
    assert_eq!(again.status, StatusCode::NO_CONTENT);
    let log = client.get("/tanks/1/log?words=nitrate").await.text;
    assert_eq!(log.matches("Withdraw: Nitrate").count(), 1, "{log}");
    assert!(log.contains("06:10"), "as of when it was typed");
    // A moment that is yet to come is as of now.
    let ahead = [
        FORM,
        OWN,
        ("x-kept-id", "another-one"),
        ("x-typed-at", "2030-01-01T00:00:00Z"),
    ];
    client
        .ask("POST", "/tanks/1/log/quick/enter", &ahead, "line=no2+0.1")
        .await;
    assert!(
        client
            .get("/tanks/1/log?words=nitrite")
            .await
            .text
            .contains("08:30")
    );
}

/// One column of one row after the other holds what cannot be read: no page but that of the thing
/// itself may fail for it, and nothing but that row is lost.
#[tokio::test]
async fn a_row_that_cannot_be_read_stays_its_own_affair() {
    let client = Client::new();
    for (path, form) in [
        ("/tanks/1/log", "what=change&amount=20"),
        ("/tanks/1/tries", "name=elsewhere&moves="),
        ("/cases/1/declined", "check=count-fish&why=no-kit"),
        ("/cases/1/choices", "change=outlet-to-surface"),
    ] {
        client.post(path, form).await;
    }
    let columns: Vec<(String, String, i64)> = client
        .store
        .read(|db: &Connection| {
            let mut all = db.prepare(
                "SELECT m.name, c.name, c.\"notnull\" FROM sqlite_schema m JOIN pragma_table_info(m.name) c
                 WHERE m.type = 'table' AND c.type = 'TEXT' AND m.name NOT LIKE 'sqlite_%' AND m.name NOT LIKE 'entry_words%'",
            )?;
            let rows = all.query_map([], |row| Ok((row.get(0)?, row.get(1)?, row.get(2)?)))?;
            Ok::<_, StoreError>(rows.collect::<Result<_, _>>()?)
        })
        .expect("columns");
    assert!(columns.len() > 40);
    let set = |table: &str, column: &str, to: &str| {
        client.store.write(|db| {
            let changed = db.execute(&format!("UPDATE {table} SET {column} = {to} WHERE rowid = (SELECT max(rowid) FROM {table})"), []);
            Ok::<_, StoreError>(changed.unwrap_or(0))
        })
    };
    let mut failures = Vec::new();
    for (table, column, _) in &columns {
        let keys = matches!(table.as_str(), "declined" | "sent" | "reading_hours");
        if keys {
            continue;
        }
        let before: Option<String> = client
            .store
            .read(|db: &Connection| {
                let row = db.query_row(&format!("SELECT {column} FROM {table} WHERE rowid = (SELECT max(rowid) FROM {table})"), [], |row| row.get(0));
                Ok::<_, StoreError>(row.unwrap_or(None))
            })
            .expect("read");
        let Some(before) = before else { continue };
        if set(table, column, "'{xyz'").expect("written") == 0 {
            continue;
        }
        for page in PAGES {
            // The tank itself, and the case itself.
            let is_of_it = (table.as_str(), column.as_str()) == ("tank_revisions", "tank")
                || matches!(
                    (table.as_str(), column.as_str()),
                    ("tank_revisions", "made_at")
                        | ("cases", "opened_at")
                        | ("case_marks", "made_at")
                );
            let answer = client.get(page).await;
            let may_fail = is_of_it && !matches!(*page, "/" | "/log" | "/data");
            if answer.status.is_server_error() && !may_fail {
                failures.push(format!("{table}.{column}: {page} {}", answer.status));
            }
        }
        let back = format!("'{}'", before.replace('\'', "''"));
        set(table, column, &back).expect("written");
    }
    assert!(failures.is_empty(), "{}", failures.join("\n"));
}

#[tokio::test]
async fn a_tank_that_cannot_be_read_is_a_line_with_the_way_back() {
    let client = Client::new();
    client
        .post("/tanks/1/log", "what=note&note=still+kept")
        .await;
    client
        .store
        .write(|db| {
            db.execute(
                "INSERT INTO tank_revisions (tank_id, made_at, why, tank) VALUES (1, '2026-03-10T08:00:00Z', 'x', '{\"name\": 7}')",
                [],
            )?;
            Ok::<_, StoreError>(())
        })
        .expect("written");
    let rounds = client.get("/").await;
    assert_eq!(rounds.status, StatusCode::OK);
    assert!(
        rounds.text.contains("cannot be read")
            && rounds.text.contains("/tanks/1/revisions/1/restore"),
        "{}",
        rounds.text
    );
    let tank = client.get("/tanks/1").await;
    assert_eq!(tank.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(tank.text.contains("cannot be read"), "{}", tank.text);
    let back = client.post("/tanks/1/revisions/1/restore", "").await;
    assert_eq!(back.status, StatusCode::SEE_OTHER, "{}", back.text);
    assert!(client.get("/tanks/1/log").await.text.contains("still kept"));
    assert!(!client.get("/").await.text.contains("cannot be read"));
    let looked = client.post("/data/check", "").await;
    assert!(
        looked.text.contains("1 rows cannot be read")
            || looked.text.contains("tank 1 cannot be read"),
        "{}",
        looked.text
    );
}

/// Copies of each day lie on the same disk: after a season Rounds says so, until everything was taken
/// away.
#[tokio::test]
async fn after_a_season_rounds_ask_for_a_copy_elsewhere() {
    let mut client = Client::new();
    let asks = async |client: &Client| {
        let rounds = client.get("/").await.text;
        rounds.contains("Take your records to another disk")
    };
    assert!(!asks(&client).await, "nothing is old yet");
    client.set_clock("2026-07-10T08:30:00");
    assert!(asks(&client).await);
    client.post("/data/everything", "").await;
    assert!(!asks(&client).await);
    client.set_clock("2026-11-10T08:30:00");
    let rounds = client.get("/").await.text;
    assert!(
        rounds.contains("<strong>last 123 days ago</strong>"),
        "{rounds}"
    );
}
