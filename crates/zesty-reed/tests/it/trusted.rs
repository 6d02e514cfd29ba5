//! Records in a browser: logged at the tank without a network, copied, put back, taken elsewhere.

use std::process::Command;

use crate::app::App;
use crate::browser::{Page, Screen};

/// The phone comes in with the passphrase; what is typed while the program is gone is kept, shown as
/// not sent, and stored once it answers again.
#[tokio::test]
async fn what_is_typed_without_a_network_is_sent_when_it_is_back() {
    let mut app = App::start();
    app.guard("three plain words");
    let page = Page::open(&app.address, Screen::Phone).await;
    page.go("/tanks/2/log").await;
    page.until_says("main", "The passphrase").await;
    page.is_sound(Screen::Phone).await;
    page.is_accessible().await;
    page.write("#passphrase", "three plain word").await;
    page.click("#log-in").await;
    page.until_says(".refused", "That is not the passphrase")
        .await;
    page.write("#passphrase", "three plain words").await;
    page.click("#log-in").await;
    page.until(
        "it goes on to where it was going",
        "location.pathname === '/tanks/2/log'",
    )
    .await;
    page.until(
        "the browser keeps what pages are made of",
        "window.kept || (navigator.serviceWorker.ready.then(r => { window.kept = Boolean(r.active) }), false)",
    )
    .await;
    page.go("/visit").await;
    page.until_says(".lede", "As of").await;
    page.go("/tanks/2/log").await;
    app.kill();
    page.write("[data-quick]", "no3 21").await;
    page.click(".quick button").await;
    page.until_says("[data-outbox]", "One thing is not sent yet")
        .await;
    page.until_says("[data-outbox]", "no3 21").await;
    page.is_sound(Screen::Phone).await;
    // The program cannot even be opened: there is a page to write on.
    page.go("/tanks/2").await;
    page.until_says("main", "No connection").await;
    page.is_sound(Screen::Phone).await;
    // But the sheet of a visit is walked with.
    page.go("/visit").await;
    page.until_says(".lede", "As of").await;
    page.go("/tanks/2").await;
    page.write("#offline-form input[name=line]", "kh 6").await;
    page.click("#offline-form button").await;
    page.until_says("[data-outbox]", "2 things are not sent yet")
        .await;
    app.start_again();
    page.click("[data-outbox] button").await;
    page.until(
        "all of it is sent",
        "document.querySelector('[data-outbox]').hidden",
    )
    .await;
    page.go("/tanks/2/log").await;
    for reading in ["Nitrate 21.0", "Carbonate hardness 6.0"] {
        page.until_says(".lines", reading).await;
    }
    page.go("/at-the-tank").await;
    page.is_sound(Screen::Phone).await;
    page.click("#log-out").await;
    page.until_says("main", "The passphrase").await;
    page.until(
        "no sheet is left for whoever has the phone next",
        "window.left === false || (caches.has('sheet').then(left => { window.left = left }), false)",
    )
    .await;
    page.close().await;
}

#[tokio::test]
async fn a_copy_is_put_back_and_everything_goes_to_another_program() {
    let app = App::start();
    let page = Page::open(&app.address, Screen::Desk).await;
    let note = async |words: &str| {
        page.go("/tanks/2/log").await;
        page.keys("/").await;
        page.write("[data-quick]", words).await;
        page.click(".quick button").await;
        page.click("#enter-all").await;
        page.until_says(".lines", "Nitrate").await;
    };
    note("no3 41").await;
    page.go("/data").await;
    page.click("#copy-now").await;
    page.until_says(".said", "A copy was made").await;
    page.is_accessible().await;
    note("no3 42").await;
    page.go("/data").await;
    page.click(".data-copies summary").await;
    page.is_sound(Screen::Desk).await;
    page.click(".data-copies form button").await;
    page.until_says(".said", "The copy was put back").await;
    page.until_says(".data-copies", "what stood there before")
        .await;
    page.go("/tanks/2/log").await;
    page.until_says(".lines", "Nitrate 41.0").await;
    page.until(
        "what came later is set aside",
        "!document.body.textContent.includes('Nitrate 42.0')",
    )
    .await;
    page.go("/data").await;
    page.click("#look-through").await;
    page.until_says(".said", "is sound").await;
    page.close().await;

    let file = app.folder().join("everything.zip");
    let made = Command::new(env!("CARGO_BIN_EXE_zesty-reed"))
        .args(["export", &file.display().to_string(), "--data"])
        .arg(app.folder().join("data"))
        .status();
    assert!(made.expect("the program").success());
    let other = App::start_empty();
    let page = Page::open(&other.address, Screen::Phone).await;
    page.go("/data").await;
    page.is_sound(Screen::Phone).await;
    page.choose_file("#data-file", &file).await;
    page.click("#take-in").await;
    page.until_says(".said", "Everything was taken in").await;
    page.go("/").await;
    page.until_says("main", "Reading room").await;
    page.go("/tanks/2/log").await;
    page.until_says(".lines", "Nitrate 41.0").await;
    page.close().await;
}
