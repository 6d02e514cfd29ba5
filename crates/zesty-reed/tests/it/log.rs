//! The log in a browser: two taps, the quick line, a filter's opening, and a case that does not ask
//! what the log knows.

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
    page.click("#entry-save").await;
    page.until_says(".lines", "Fine foam 4 of 5").await;
    page.until_says(".lines", "The fine pad was brown").await;
    page.go("/cases/1").await;
    page.until(
        "it is on record",
        "document.querySelector('#noticed').textContent.includes('The filter had been cleaned')",
    )
    .await;
}
