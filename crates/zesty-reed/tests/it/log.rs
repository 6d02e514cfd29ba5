//! The log in a browser: two taps, the quick line, a filter's opening, and a case that does not ask
//! what the log knows.

use std::path::{Path, PathBuf};

use crate::app::App;
use crate::browser::{Page, Screen};

#[tokio::test]
async fn a_hand_logs_in_two_taps_and_in_words_at_either_size() {
    for screen in [Screen::Desk, Screen::Phone] {
        let app = App::start();
        let page = Page::open(&app.address, screen).await;
        // From the rounds: unfold, and as last time.
        page.go("/").await;
        page.click("#tank-2 .log > summary").await;
        page.until_says("#tank-2 .often", "Water change, 20 %, now")
            .await;
        page.click("#tank-2 .often form:first-child button").await;
        page.until("it came back to the tank", "location.hash === '#tank-2'")
            .await;
        page.go("/tanks/2/log").await;
        page.until_says(".day:nth-of-type(2) .lines, .lines", "Water change, 20 %")
            .await;
        page.is_sound(screen).await;

        // In words: what is not understood is shown as a note, and corrected before it is stored.
        page.keys("/").await;
        page.write(
            "[data-quick]",
            "no3 20, cleaned prefilter yesterday, lost 1 shoaling fish, the heron was here",
        )
        .await;
        page.click(".quick button").await;
        page.until_says(".meant", "Pre-filter rinsed").await;
        page.is_sound(screen).await;
        page.until_says(".meant .unclear", "kept as a note").await;
        page.write("#part-3", "").await;
        page.click("#look-again").await;
        page.until(
            "three parts are left",
            "document.querySelectorAll('.meant li').length === 3",
        )
        .await;
        page.click("#enter-all").await;
        page.until_says(".lines", "Nitrate 20.0").await;
        page.go("/tanks/2").await;
        page.until_says("main", "9").await;
        page.close().await;
    }
}

/// What was found in a filter is written down once: its grades stand in the log, and the case does
/// not ask whether it was opened.
#[tokio::test]
async fn the_opening_of_a_filter_is_recorded_and_not_asked_again() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Desk).await;
    page.go("/tanks/1/log").await;
    page.click("#enter-other").await;
    page.choose("#entry-what", "filter-opened").await;
    page.until(
        "only what belongs to it is asked",
        "!document.querySelector('[data-for=filter-opened]').hidden && document.querySelector('[data-for=lost]').hidden && document.querySelector('[x-ref=amount]').hidden",
    )
    .await;
    page.is_accessible().await;
    page.click("input[name=grade-fine][value='4']").await;
    page.write("#entry-note", "The fine pad was brown and sagging")
        .await;
    page.write("#entry-at", "3 days ago").await;
    page.choose_file("#entry-photos", &picture()).await;
    page.until(
        "the photo is taken in before the entry is",
        "(image => image && image.complete && image.naturalWidth > 0)(document.querySelector('.photos-in img'))",
    )
    .await;
    page.click("#entry-save").await;
    page.until_says(".lines", "Fine foam 4 of 5").await;
    page.is_sound(Screen::Desk).await;
    page.until_says(".lines", "The fine pad was brown").await;
    page.go("/cases/1").await;
    page.until(
        "it is on record",
        "document.querySelector('#noticed').textContent.includes('The filter had been cleaned')",
    )
    .await;
    // The next one has its photo from a file; both stand side by side.
    page.go("/tanks/1/log").await;
    page.write("[data-quick]", "opened the filter").await;
    page.click(".quick button").await;
    page.click("#enter-all").await;
    page.click(".line .what a[href^='/tanks/1/log/']").await;
    page.choose_file("#photos-file", &picture()).await;
    page.click("#photos form[enctype] button").await;
    page.until(
        "last time and now are side by side",
        "[...document.querySelectorAll('.opening img')].filter(image => image.complete && image.naturalWidth > 0).length === 2",
    )
    .await;
    page.is_sound(Screen::Desk).await;
    page.resize(390, 800).await;
    page.is_sound(Screen::Phone).await;
    page.close().await;
}

/// Some picture.
fn picture() -> PathBuf {
    let file = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/screenshots/log.png");
    file.canonicalize().expect("it is there")
}

/// A messy sheet is looked at, corrected, brought in, seen on a chart, taken away as a picture, and
/// taken back as a whole.
#[tokio::test]
async fn a_messy_sheet_becomes_a_chart_and_is_taken_back() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Desk).await;
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("messy.csv");
    let today = crate::app::now().date();
    let rows: String = (1..60)
        .map(|ago| {
            let day = today.saturating_sub(jiff::Span::new().days(ago));
            format!("{};{},5;{}\n", day.strftime("%d.%m.%Y"), 10 + ago % 7, 7)
        })
        .collect();
    std::fs::write(&file, format!("Datum;Nitrat;pH\n{rows}31.02.2026;viel;7\n")).expect("written");
    page.go("/tanks/1/bring").await;
    page.choose_file("#bring-file", &file).await;
    page.click("#bring-look").await;
    page.until_says("main", "60 rows").await;
    for (column, role) in [(1, "from"), (2, "nitrate"), (3, "ph")] {
        let field = format!(".columns label:nth-of-type({column}) select");
        page.choose(&field, role).await;
    }
    page.click("#bring-again").await;
    page.until_says("main", "118 readings and 0 events").await;
    page.until_says("main", "Line 61").await;
    page.is_sound(Screen::Desk).await;
    page.click("#bring-take").await;
    page.until_says("main", "118 stored").await;
    page.go("/tanks/1/charts?read=nitrate&read=ph&span=month")
        .await;
    page.until(
        "both are drawn",
        "document.querySelectorAll('.plotted .course.wide .dot').length > 50",
    )
    .await;
    page.is_sound(Screen::Desk).await;
    page.click("#as-png").await;
    page.until(
        "a picture is made",
        "/^1520x\\d{3,4}$/.test(document.querySelector('#as-png').dataset.made)",
    )
    .await;
    page.resize(390, 800).await;
    page.is_sound(Screen::Phone).await;
    page.go("/tanks/1/bring").await;
    page.click("form[action*='/batches/'] button").await;
    page.go("/tanks/1/charts").await;
    page.until(
        "nothing of it is left",
        "![...document.querySelectorAll('.thing')].some(thing => thing.textContent.includes('Nitrate'))",
    )
    .await;
    page.close().await;
}
