//! What a drag costs in the browser. Run: `cargo bench -p zesty-reed --bench drag`.
//!
//! Opens a tank of 60 things for changing, takes hold of one, moves it 600 times and prints how
//! long the page's script and the layout that follows took for each move. A frame is 16 ms.

#[path = "../tests/it/app.rs"]
#[expect(dead_code, reason = "the tests use more of it")]
mod app;
#[path = "../tests/it/browser.rs"]
#[expect(dead_code, reason = "the tests use more of it")]
mod browser;
#[path = "../tests/it/watch.rs"]
mod watch;

use jiff::civil::date;
use reed_core::diagnosis::Case;
use reed_core::document::Document;
use reed_fixtures::tanks;

/// Moves in a circle, and takes the time of each with the layout it causes.
const MOVES: &str = "
    const times = [];
    for (let i = 0; i < 600; i += 1) {
        const at = { clientX: 500 + 80 * Math.cos(i / 20), clientY: 300 + 40 * Math.sin(i / 20) };
        const move = new PointerEvent('pointermove', { ...at, pointerId: window.held, bubbles: true });
        const began = performance.now();
        document.dispatchEvent(move);
        document.querySelector('.sheet-drawing').getBoundingClientRect();
        times.push(performance.now() - began);
    }
    times.sort((a, b) => a - b);
    return [times[300], times[593], times[599], document.querySelectorAll('.guides.distances line').length];";

#[tokio::main]
async fn main() {
    // `cargo test --benches` and `cargo bench --no-run` must not start a browser.
    if !std::env::args().any(|argument| argument == "--bench") {
        return;
    }
    let app = app::App::start_empty();
    let page = browser::Page::open(&app.address, browser::Screen::Desk).await;
    page.go("/import").await;
    let case = Case::new(tanks::crowded(60), date(2026, 3, 10).at(8, 0, 0, 0));
    let file = Document::of(&case).write();
    let enter = format!(
        "return (async () => {{ const form = new FormData(); form.append('text', {}); await fetch('/import/take', {{ method: 'POST', body: form }}); }})()",
        serde_json::Value::from(file)
    );
    page.script(&enter).await;
    page.go("/tanks/1/edit").await;
    page.script("document.addEventListener('pointerdown', event => { window.held = event.pointerId }, true)").await;
    page.carry("[data-view=above] [data-thing='31'] .hand", (3.0, 3.0))
        .await;
    let times = page.script(MOVES).await;
    assert!(
        times[3].as_u64().is_some_and(|lines| lines >= 3),
        "the thing was not held: {times}"
    );
    println!(
        "a move with 60 things: median {} ms, p99 {} ms, worst {} ms",
        times[0], times[1], times[2]
    );
    page.let_go().await;
    page.close().await;
}
