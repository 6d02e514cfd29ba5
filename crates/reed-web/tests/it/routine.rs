//! The routine: what is due and why, what is said of a task, visits, and the calendar, read by
//! another library than the one that wrote it.

use axum::http::StatusCode;
use ical::parser::Component;
use ical::parser::ical::component::IcalEvent;
use reed_core::log::{Details, Entry, Happening, When};
use reed_core::remedy::{Deed, Duty};
use reed_core::tank::Analyte;
use reed_store::access::Access;
use reed_store::{TankId, cases, duties, entries};

use crate::client::Client;

const TANK: TankId = TankId(1);

/// The part of the Routine page about a task.
fn task<'a>(page: &'a str, key: &str) -> &'a str {
    let from = page
        .find(&format!("id=\"task-1-{key}\""))
        .unwrap_or_else(|| panic!("{key} is not on the page"));
    let rest = &page[from..];
    &rest[..rest.find("</details>").expect("each can be opened")]
}

fn log(client: &Client, kind: &str, day: jiff::civil::Date) {
    let kind = Happening::by_id(kind).expect("listed");
    let entry = Entry::of(kind, When::minute(day.at(9, 0, 0, 0)));
    client
        .store
        .write(|db| entries::add(db, TANK, &entry, jiff::Timestamp::UNIX_EPOCH))
        .expect("written");
}

#[tokio::test]
async fn what_was_done_on_any_page_counts_and_says_when_it_is_due_next() {
    let client = Client::new();
    log(&client, "heaters-looked-at", jiff::civil::date(2026, 1, 5));
    let page = client.get("/tanks/1/routine").await.text;
    let late = task(&page, "look-at-heaters");
    assert!(
        late.contains("late by 34 days") && late.contains("last 5 January"),
        "{late}"
    );
    assert!(
        late.contains("licensed electrician"),
        "the caution stands beside it"
    );
    // By the quick line of the log, in a keeper's words.
    let typed = "line=looked+at+heaters";
    client.post("/tanks/1/log/quick/enter", typed).await;
    let page = client.get("/tanks/1/routine").await.text;
    assert!(task(&page, "look-at-heaters").contains("due in 30 days"));
    // By the button, which goes back to where it was pressed.
    let pressed = "what=animals-counted&amount=19&in_tank=yes&back=routine";
    let done = client.post("/tanks/1/log", pressed).await;
    assert_eq!(done.location, "/tanks/1/routine");
    let page = client.get("/tanks/1/routine").await.text;
    assert!(task(&page, "count-animals").contains("last today"));
}

#[tokio::test]
async fn a_task_is_skipped_put_off_and_set_otherwise_with_its_reason() {
    let client = Client::new();
    log(&client, "heaters-looked-at", jiff::civil::date(2026, 1, 5));
    let say = async |form: &str| client.post("/tanks/1/routine/word", form).await;
    let put_off = say("task=look-at-heaters&say=later&days=3&reason=in+the+post").await;
    assert_eq!(put_off.location, "/tanks/1/routine");
    let shown = async || client.get("/tanks/1/routine").await.text;
    let page = shown().await;
    let later = task(&page, "look-at-heaters");
    assert!(
        later.contains("due in 3 days") && later.contains("Put off until 13 March: in the post."),
        "{later}"
    );
    say("task=look-at-heaters&say=skip&reason=summer&back=visit").await;
    assert!(task(&shown().await, "look-at-heaters").contains("Skipped this time: summer."));
    say("task=look-at-heaters&say=every&days=10").await;
    let page = shown().await;
    let own = task(&page, "look-at-heaters");
    assert!(
        own.contains("every 10 days") && own.contains("It was 30 days, and is 10 days"),
        "{own}"
    );
    say("task=look-at-heaters&say=every&days=").await;
    assert!(task(&shown().await, "look-at-heaters").contains("common practice"));
    // The tank file has an interval of its own for the water change, which setting stands in place of.
    let given_up = "As reckoned again";
    assert!(!task(&shown().await, "water-change").contains(given_up));
    say("task=water-change&say=every&days=5").await;
    assert!(task(&shown().await, "water-change").contains(given_up));
    let log = client.get("/tanks/1/log").await.text;
    assert!(
        log.contains("Task put off: Look at heaters, leads and lids"),
        "the log remembers"
    );
}

#[tokio::test]
async fn what_makes_no_sense_is_refused_in_a_sentence_and_stays_typed() {
    let client = Client::new();
    for (form, says) in [
        (
            "task=polish-the-cat&say=skip",
            "It is no task of this program",
        ),
        (
            "task=clean-hose&on=filter-77&say=skip",
            "no such filter any more",
        ),
        (
            "task=test-kh&say=every&days=often",
            "“often” is not accepted. Give whole days",
        ),
        (
            "task=test-kh&say=later&days=0",
            "“0” is not accepted. Give whole days",
        ),
        (
            "task=test-kh&say=shout",
            "put off, skipped, or given an interval",
        ),
    ] {
        let refused = client.post("/tanks/1/routine/word", form).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "{form}");
        assert!(refused.text.contains(says), "{form}: {}", refused.text);
    }
    let gone = client
        .post("/tanks/9/routine/word", "task=test-kh&say=skip")
        .await;
    assert_eq!(gone.status, StatusCode::NOT_FOUND);
    let read = "kit=kh-drops&value=five&key=test-kh";
    let refused = client.post("/tanks/1/routine/read", read).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    let line = task(&refused.text, "test-kh");
    assert!(
        line.contains("value=\"five\"") && line.contains("class=\"refused\""),
        "{line}"
    );
    let taken = client
        .post("/tanks/1/routine/read", "kit=kh-drops&value=5&key=test-kh")
        .await;
    assert_eq!(taken.location, "/tanks/1/routine");
    for path in [
        "/visit/report?day=someday",
        "/visit?minutes=9999&gap=x&tank=y",
    ] {
        let page = client.get(path).await;
        assert!(
            page.status == StatusCode::OK || page.text.contains("“someday” is not accepted"),
            "{path}: {}",
            page.status
        );
    }
}

/// An entry that speaks of a task or a filter that is gone, from a file of another program, is kept
/// and disturbs nothing.
#[tokio::test]
async fn words_about_tasks_that_are_gone_are_kept_and_disturb_nothing() {
    let client = Client::new();
    let kind = Happening::by_id("task-put-off").expect("listed");
    let entry = Entry {
        details: Details {
            task: "trim-the-bonsai".to_owned(),
            until: Some(jiff::civil::date(9999, 12, 31)),
            ..Details::default()
        },
        ..Entry::of(
            kind,
            When::minute(jiff::civil::date(2026, 3, 9).at(9, 0, 0, 0)),
        )
    };
    client
        .store
        .write(|db| entries::add(db, TANK, &entry, jiff::Timestamp::UNIX_EPOCH))
        .expect("written");
    for path in [
        "/tanks/1/routine",
        "/tanks/1/log",
        "/visit",
        "/visit/calendar.ics",
    ] {
        assert_eq!(client.get(path).await.status, StatusCode::OK, "{path}");
    }
}

#[tokio::test]
async fn a_visit_keeps_its_time_and_its_report_says_what_was_done_and_left() {
    let client = Client::new();
    for kind in ["heaters-looked-at", "animals-counted", "surface-looked-at"] {
        log(&client, kind, jiff::civil::date(2025, 12, 1));
    }
    let page = client.get("/visit?minutes=20").await.text;
    assert!(
        page.contains("Look at heaters") && page.contains("Left for next time"),
        "{page}"
    );
    let pressed = "what=heaters-looked-at&in_tank=yes&back=visit&note=drip+loop+mended";
    let done = client.post("/tanks/1/log", pressed).await;
    assert_eq!(done.location, "/visit");
    let words = "task=count-animals&say=skip&reason=too+dark&back=visit";
    client.post("/tanks/1/routine/word", words).await;
    let report = client.get("/visit/report").await.text;
    for says in [
        "Heaters, leads and lids looked at: drip loop mended",
        "Count the animals, not this time (too dark)",
    ] {
        assert!(report.contains(says), "{says} is not in {report}");
    }
}

fn events(text: &str) -> Vec<IcalEvent> {
    let calendars: Vec<_> = ical::IcalParser::new(text.as_bytes())
        .collect::<Result<_, _>>()
        .expect("another library reads it");
    calendars
        .into_iter()
        .flat_map(|calendar| calendar.events)
        .collect()
}

fn of(event: &IcalEvent, name: &str) -> Option<String> {
    event.get_property(name)?.value.clone()
}

#[tokio::test]
async fn another_library_reads_the_calendar_and_another_tells_its_repeats() {
    let client = Client::new();
    let answer = client.get("/visit/calendar.ics").await;
    let kind = answer.headers["content-type"].to_str().expect("text");
    assert!(kind.starts_with("text/calendar"));
    assert!(
        answer.text.split("\r\n").all(|line| line.len() <= 75),
        "lines are folded"
    );
    let first = events(&answer.text);
    assert!(first.len() > 10);
    let mut ids: Vec<String> = first.iter().filter_map(|event| of(event, "UID")).collect();
    assert_eq!(ids.len(), first.len());
    ids.sort();
    ids.dedup();
    assert_eq!(ids.len(), first.len(), "each has an id of its own");
    assert!(first.iter().all(|event| event.alarms.len() == 1));
    let again = client.get("/visit/calendar.ics").await.text;
    assert_eq!(
        again, answer.text,
        "nothing changed: the same, to the last letter"
    );
    let mut repeated = 0;
    for event in &first {
        let Some(rule) = of(event, "RRULE") else {
            continue;
        };
        let starts = of(event, "DTSTART").expect("a start");
        let every: i64 = rule
            .strip_prefix("FREQ=DAILY;INTERVAL=")
            .and_then(|days| days.parse().ok())
            .unwrap_or_else(|| panic!("{rule}"));
        let set: rrule::RRuleSet = format!("DTSTART:{starts}T000000Z\nRRULE:{rule}")
            .parse()
            .expect("another library understands it");
        let days: Vec<i64> = set
            .all(5)
            .dates
            .iter()
            .map(|date| date.timestamp() / 86_400)
            .collect();
        assert!(
            days.windows(2).all(|pair| pair[1] - pair[0] == every) && days.len() == 5,
            "{days:?}"
        );
        repeated += 1;
    }
    assert!(repeated > 5, "{repeated}");
    let heaters = |events: &[IcalEvent]| {
        let own = events
            .iter()
            .find(|event| of(event, "UID").is_some_and(|id| id.starts_with("look-at-heaters")));
        of(own.expect("listed"), "DTSTART")
    };
    let before = heaters(&first);
    client
        .post("/tanks/1/log", "what=heaters-looked-at&at=2026-03-09+10:00")
        .await;
    let after = events(&client.get("/visit/calendar.ics").await.text);
    assert_eq!(heaters(&after), Some("20260408".to_owned()));
    assert_ne!(heaters(&after), before, "the same event, on another day");
    // Daily for the week after animals came, and not for ever.
    client
        .post("/tanks/1/log", "what=animals&amount=8&at=2026-03-09+10:00")
        .await;
    let watched = events(&client.get("/visit/calendar.ics").await.text);
    let ammonia = |events: &[IcalEvent]| {
        let mut own = events.iter();
        let own =
            own.find(|event| of(event, "UID").is_some_and(|id| id.starts_with("test-ammonia")));
        of(own.expect("listed"), "RRULE")
    };
    assert!(ammonia(&after).is_some() && ammonia(&watched).is_none());
}

/// What a case left to be read twice a day stands at its hour in UTC, on both sides of the day on
/// which the clocks are changed.
#[tokio::test]
async fn hours_stand_in_utc_from_the_clock_beside_the_tank() {
    let duty = Duty {
        words: "Read ammonia, morning and evening",
        deed: Deed::Read(Analyte::AMMONIA),
        every_hours: 12,
        for_days: 7,
        why: "Many animals came at once.",
    };
    for (now, utc) in [
        ("2026-03-28T07:00:00[Europe/Berlin]", "20260328T070000Z"),
        ("2026-03-29T07:00:00[Europe/Berlin]", "20260329T060000Z"),
    ] {
        let mut client = Client::new();
        let at: jiff::Zoned = now.parse().expect("a moment");
        let from = at.datetime().with().hour(8).build().expect("an hour");
        client
            .store
            .write(|db| {
                let case = cases::of_tank(db, TANK)?[0].id;
                duties::leave(
                    db,
                    (TANK, case),
                    std::slice::from_ref(&duty),
                    (from, at.timestamp()),
                )
            })
            .expect("written");
        client.set_moment(at);
        let text = client.get("/visit/calendar.ics").await.text;
        let all = events(&text);
        let own = all
            .iter()
            .find(|event| of(event, "UID").is_some_and(|id| id.starts_with("duty-")))
            .expect("it is in the calendar");
        assert_eq!(of(own, "DTSTART").as_deref(), Some(utc), "{now}");
    }
}

#[tokio::test]
async fn only_whoever_knows_its_address_reads_the_feed() {
    let client = Client::new();
    let access = Access::beside(client.store.path());
    let guess = "/calendar/0000000000000000000000000000000000000000000000000000000000000000.ics";
    assert_eq!(client.get(guess).await.status, StatusCode::NOT_FOUND);
    let made = client.post("/visit/feed", "want=new").await;
    assert_eq!(made.location, "/visit#calendar");
    let address = |drawn: &str| format!("/calendar/{drawn}.ics");
    let first = access.feed().expect("readable").expect("drawn");
    let feed = client.get(&address(&first)).await;
    assert_eq!(feed.status, StatusCode::OK);
    assert!(events(&feed.text).len() > 10);
    assert!(client.get("/visit").await.text.contains(&first));
    for wrong in [
        guess.to_owned(),
        address(&first[1..]),
        format!("/calendar/{first}"),
    ] {
        let refused = client.get(&wrong).await;
        assert_eq!(refused.status, StatusCode::NOT_FOUND, "{wrong}");
        assert!(!refused.text.contains("VCALENDAR"));
    }
    // Behind a passphrase the feed is open to its address, and everything else is not.
    access.set(Some("three plain words")).expect("written");
    access.set_feed(true).expect("written");
    let second = access.feed().expect("readable").expect("drawn");
    assert_eq!(client.get(&address(&second)).await.status, StatusCode::OK);
    assert_eq!(
        client.get(&address(&first)).await.status,
        StatusCode::NOT_FOUND
    );
    for closed in ["/visit/calendar.ics", "/visit", "/calendar/x/../../tanks/1"] {
        assert_ne!(client.get(closed).await.status, StatusCode::OK, "{closed}");
    }
}
