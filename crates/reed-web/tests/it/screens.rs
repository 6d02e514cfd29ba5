//! What every page keeps to: its weight, one form of nitrogen, one answer to a press, the way back
//! to what was put away.

use axum::http::StatusCode;
use reed_core::tank::{Analyte, kit};
use reed_core::units::NitrogenForm;

use crate::client::Client;

/// Pages that print levels of nitrogen, and those that might.
const PAGES: &[&str] = &[
    "/",
    "/handbook",
    "/tanks/1",
    "/tanks/1/edit",
    "/tanks/1/case",
    "/cases/1",
    "/cases/1/changes",
    "/cases/1/past/3",
    "/cases/1/summary.txt",
    "/tanks/1/readings/new",
    "/tanks/1/log",
    "/log",
    "/tanks/1/water",
    "/tanks/1/water/outlook",
    "/tanks/1/water/changes",
    "/tanks/1/water/changes?size=yes&tan=1.1&nitrite=0.3&ph=7.6&kh=6&tap_tan=0&tap_ph=7.4&tap_kh=7&hot=55&cold=12&chloramine=2",
    "/tanks/1/water/changes?size=yes&tan=0.01&nitrite=0&ph=7&kh=6&tap_tan=0&tap_ph=7&tap_kh=6&hot=20&cold=12",
    "/tanks/1/water/changes?size=yes&tan=9&nitrite=0.15&ph=6.2&kh=0.6&tap_tan=0&tap_ph=8&tap_kh=12&hot=55&cold=12",
    "/tanks/1/water/bacteria",
    "/tanks/1/water/oxygen",
    "/tanks/1/water/ph",
    "/tanks/1/water/media?problem=ammonia",
    "/tanks/1/water/tests",
    "/tanks/1/drift",
];

/// A reading of every analyte that is nitrogen, a dose, a plan, a finding, so that the pages have
/// something to print.
async fn with_nitrogen(client: &Client) {
    for kit in kit::ALL.iter().filter(|kit| kit.analyte.is_nitrogen()) {
        client
            .post(
                "/cases/1/readings",
                &format!("kit={}&value=2&taken_at=2026-03-10T08:05", kit.id),
            )
            .await;
    }
    client
        .post("/tanks/1/log", "what=dose&amount=2&at=2026-03-12T08:00")
        .await;
    let mut form = crate::form::Form::of(&client.get("/tanks/1/edit").await.text);
    client
        .post(
            "/tanks/1",
            &form.set("/set_up", "2026-03-01").set("do", "save").sent(),
        )
        .await;
}

/// A kit that says 20 of the ion and a page that says 4.5 of its nitrogen frighten for nothing: one
/// form everywhere.
#[tokio::test]
async fn no_page_mixes_the_ion_with_its_nitrogen() {
    let client = Client::new();
    with_nitrogen(&client).await;
    // What is a unit of one form, followed by no letter of the other.
    let as_nitrogen = |text: &str| {
        ["mg/L N", "g N", "mg/L of NH₃ as N"].iter().any(|unit| {
            text.match_indices(unit)
                .any(|(at, _)| !text[at + unit.len()..].starts_with(['H', 'O', 'i', 'e', 'a']))
        })
    };
    let as_ion = |text: &str| {
        [
            "mg/L NH₄",
            "mg/L NO₂",
            "mg/L NO₃",
            "mg/L NH₃",
            "g NH₄",
            "mg/L of NO₃",
        ]
        .iter()
        .any(|unit| text.contains(unit))
    };
    for form in NitrogenForm::ALL {
        let units = format!(
            "%2Fvolume=litres&%2Flength=centimetres&%2Ftemperature=celsius&%2Fnitrogen={}&%2Fhardness=degrees",
            form.id()
        );
        assert_eq!(
            client.post("/settings", &units).await.status,
            StatusCode::SEE_OTHER
        );
        let mut printed = 0;
        for path in PAGES {
            let page = client.get(path).await;
            assert!(
                page.status.is_success() || page.status == StatusCode::SEE_OTHER,
                "{path}: {}",
                page.status
            );
            // A refusal lists every unit that is understood.
            let text = page
                .text
                .replace("units understood: mg/L N, mg/L NH₄", "")
                .replace("units understood: mg/L N, mg/L NO₂", "");
            let (own, other) = if *form == NitrogenForm::Ion {
                (as_ion(&text), as_nitrogen(&text))
            } else {
                (as_nitrogen(&text), as_ion(&text))
            };
            printed += usize::from(own);
            assert!(
                !other,
                "{path} in {}: {}",
                form.id(),
                text.lines()
                    .find(|line| if *form == NitrogenForm::Ion {
                        as_nitrogen(line)
                    } else {
                        as_ion(line)
                    })
                    .unwrap_or_default()
            );
        }
        assert!(printed > 8, "{}: only {printed} pages print any", form.id());
    }
    assert!(
        Analyte::ALL
            .iter()
            .filter(|analyte| analyte.units.len() > 1 && analyte.units[0].symbol == "mg/L N")
            .all(|analyte| analyte.is_nitrogen())
    );
}

/// What is typed must outlive a reload: every form with something to type in keeps it, by its id;
/// the drawing keeps drafts of its own.
#[tokio::test]
async fn every_form_keeps_what_is_typed() {
    let client = Client::new();
    let mut kept = 0;
    for path in PAGES
        .iter()
        .chain(&["/import", "/settings", "/tanks/new/turtle"])
    {
        let page = client.get(path).await.text;
        for form in page
            .split("<form")
            .skip(1)
            .filter_map(|rest| rest.split("</form>").next())
        {
            let head = form.split('>').next().unwrap_or_default();
            let is_typed_into =
                form.contains("class=\"input\"") || form.contains("<textarea class");
            if head.contains("method=\"post\"")
                && is_typed_into
                && !head.contains("id=\"tank-form\"")
            {
                assert!(
                    head.contains("data-keeps") && head.contains(" id=\""),
                    "{path}: <form{head}>"
                );
                kept += 1;
            }
        }
    }
    assert!(kept >= 6, "{kept}");
}

/// Asked once what the card of the kit says; from then on everything is in that form, and nobody is
/// asked again.
#[tokio::test]
async fn the_first_reading_of_nitrogen_asks_what_the_card_says() {
    let client = Client::new();
    let form = async || client.get("/tanks/1/water/tests").await.text;
    assert!(form().await.contains("What does your kit’s card say?"));
    let refused = client
        .post(
            "/tanks/1/water/readings",
            "kit=nitrite-drops&value=much&card=nitrogen",
        )
        .await;
    assert!(
        refused.text.contains("value=\"nitrogen\" checked"),
        "the choice is kept: {}",
        refused.text
    );
    client
        .post(
            "/tanks/1/water/readings",
            "kit=oxygen-drops&value=7&card=nitrogen",
        )
        .await;
    assert!(
        form().await.contains("card say?"),
        "an oxygen kit says nothing of it"
    );
    client
        .post(
            "/tanks/1/water/readings",
            "kit=nitrite-drops&value=0.3&card=nitrogen",
        )
        .await;
    let page = form().await;
    assert!(
        !page.contains("card say?") && page.contains("0.30 ± 0.03 mg/L N"),
        "{page}"
    );
}

#[tokio::test]
async fn pages_are_light_enough_for_a_phone() {
    let client = Client::new();
    let case = client.get("/cases/1").await.text.len();
    assert!(case <= 60_000, "{case} bytes");
    // One of them with so much in it that its drawing alone would be half of the page.
    let crowded = reed_fixtures::tanks::crowded(200);
    let now = "2026-03-10T08:00:00Z".parse().expect("a moment");
    client
        .store
        .write(|db| reed_store::tanks::create(db, &crowded, "First entry", now))
        .expect("written");
    for start in reed_core::document::start::ALL.iter().cycle().take(98) {
        let saved = client
            .post(
                &format!("/tanks/new/{}", start.id),
                "name=One+more+of+a+hundred&animals=set-up",
            )
            .await;
        assert_eq!(saved.status, StatusCode::SEE_OTHER);
    }
    let rounds = client.get("/").await.text;
    assert_eq!(rounds.matches("class=\"round ").count(), 100);
    assert!(rounds.len() <= 150_000, "{} bytes", rounds.len());
    // Every line has its drawing, or leads to it.
    let (drawn, to_come) = (
        rounds.matches("class=\"tank\"").count(),
        rounds.matches("/small.svg\"").count(),
    );
    assert_eq!(drawn + to_come, 100);
    let drawing = client.get("/tanks/99/small.svg").await;
    assert!(drawing.status == StatusCode::OK && drawing.text.starts_with("<svg"));
}

/// A fast double click on Yes withdrew the answer.
#[tokio::test]
async fn the_same_answer_twice_is_the_same_answer() {
    let client = Client::new();
    for _ in 0..2 {
        client
            .post(
                "/cases/1/answers",
                "finding=surface-flat&answer=yes&anchor=noticed&place=surface",
            )
            .await;
    }
    let page = client.get("/cases/1?place=surface").await.text;
    assert!(
        page.contains("The surface is a mirror <small>")
            && !page.contains("name=\"answer\" value=\"not-looked\" aria-pressed")
    );
    let answer = client
        .post(
            "/cases/1/answers",
            "finding=surface-flat&answer=not-looked&anchor=noticed&find=a+mirror",
        )
        .await;
    assert_eq!(
        answer.location, "/cases/1?find=a+mirror#noticed",
        "what was asked about stays open"
    );
    assert!(
        !client
            .get("/cases/1")
            .await
            .text
            .contains("The surface is a mirror <small>")
    );
}

#[tokio::test]
async fn questions_come_by_place_and_by_the_words_people_use() {
    let client = Client::new();
    assert!(
        !client
            .get("/cases/1")
            .await
            .text
            .contains("class=\"question\""),
        "none before they are asked for"
    );
    for (query, says) in [
        ("place=bed", "Does muck lie all over the bed?"),
        ("find=noise", "gurgle"),
        ("find=not+eating", "slow to come and feed"),
        ("find=red+gills", "gill covers pump"),
        ("place=fish&find=dead", "dead in the morning"),
        ("find=xyzzy", "No question is found for that"),
    ] {
        for page in [
            format!("/cases/1/questions?{query}"),
            format!("/cases/1?{query}"),
        ] {
            let answer = client.get(&page).await;
            assert!(answer.text.contains(says), "{page}: {says}");
        }
    }
    assert_eq!(
        client.get("/cases/9/questions?place=bed").await.status,
        StatusCode::NOT_FOUND
    );
}

/// A tank that was put away can be found again, and its case says so.
#[tokio::test]
async fn a_tank_that_was_put_away_is_found_again() {
    let client = Client::new();
    client.post("/tanks/new/sponge-cube", "name=Second").await;
    client.post("/tanks/1/put-away", "").await;
    let rounds = client.get("/").await.text;
    assert!(
        rounds.contains("No case is open.")
            && rounds.contains("Put away: 1")
            && rounds.contains("<a href=\"/tanks/1\">Reading room</a>")
    );
    assert!(
        client
            .get("/cases/1")
            .await
            .text
            .contains("This tank is put away")
    );
    client.post("/tanks/1/take-back", "").await;
    assert!(client.get("/").await.text.contains("One case is open."));
}

/// What is printed for the keeper is said in words and rounded: no id, no number with more digits
/// than anyone reads, no "1 days".
#[tokio::test]
async fn no_page_prints_an_id_or_more_digits_than_are_read() {
    let client = Client::new();
    with_nitrogen(&client).await;
    for (finding, days) in [
        ("filter-cleaned", 1),
        ("water-changed", 2),
        ("stock-added", 40),
    ] {
        let at = jiff::civil::date(2026, 3, 10).saturating_sub(jiff::Span::new().days(days));
        client
            .post(
                "/cases/1/answers",
                &format!("finding={finding}&answer=yes&at={at}T08:00"),
            )
            .await;
    }
    let ids = reed_core::diagnosis::finding::all().map(|finding| finding.id);
    let ids = ids.chain(reed_core::diagnosis::fault::all().map(|fault| fault.id));
    let ids = ids.chain(reed_core::diagnosis::check::all().map(|check| check.id));
    // Of one word, or words of their own, they are told from nothing.
    let told = |id: &&str| id.contains('-') && *id != "top-up";
    let ids: Vec<&str> = ids
        .chain(reed_core::remedy::change::all().map(|change| change.id))
        .filter(told)
        .collect();
    for path in PAGES {
        let page = client.get(path).await.text;
        let text = if path.ends_with(".txt") {
            page
        } else {
            visible(&page)
        };
        for word in text.split_whitespace() {
            let bare = word.trim_matches(|letter: char| !letter.is_alphanumeric());
            assert!(!ids.contains(&bare), "{path} prints the id {bare}");
            for number in bare
                .split(['–', '…', ';', '/'])
                .filter(|part| part.contains('.'))
            {
                let digits = number
                    .trim_start_matches(['0', '.'])
                    .bytes()
                    .filter(u8::is_ascii_digit)
                    .count();
                assert!(digits <= 6, "{path} prints {number}");
            }
        }
        let (words, one) = (
            format!(" {text} "),
            [
                " 1 days",
                " 1 hours",
                " 1 minutes",
                " 1 weeks",
                " 1 filters",
            ],
        );
        assert!(
            one.iter().all(|one| !words.contains(one)),
            "{path}: {:?}",
            one.iter().find(|one| words.contains(**one))
        );
        // These ids are no words.
        for id in ["tan", "do", "kh", "gh"] {
            let follows = |at: usize| {
                words[at + id.len() + 2..].starts_with(|next: char| next.is_ascii_digit())
            };
            assert!(
                !words
                    .match_indices(&format!(" {id} "))
                    .any(|(at, _)| follows(at)),
                "{path} prints {id} and a number"
            );
        }
    }
}

/// The text of a page as it is read, without what is between tags.
fn visible(page: &str) -> String {
    let mut text = String::new();
    for part in page.split('<') {
        let (tag, after) = part.split_once('>').unwrap_or(("", part));
        // What stands in a script or a style is not read.
        if !tag.starts_with("script") && !tag.starts_with("style") {
            text.push_str(after);
            text.push(' ');
        }
    }
    text.split_whitespace().collect::<Vec<_>>().join(" ")
}
