//! Drift: the water of a tank, computed while the page waits for it, and watched.

use serde_json::{Value, json};

use crate::app::App;
use crate::browser::{Page, Screen};

/// A flow takes seconds where nothing else runs, and a minute where every processor is busy.
async fn computed(page: &Page, script: &str) {
    for _ in 0..120 {
        if page.script(&format!("return Boolean({script})")).await == json!(true) {
            return;
        }
        tokio::time::sleep(std::time::Duration::from_secs(1)).await;
    }
    panic!("never came: {script}");
}

const LOOSE: &str = "document.querySelector('.drift') && document.querySelector('.drift').dataset.ready === 'yes'";

/// Pixels of the canvas that are painted.
async fn painted(page: &Page) -> u64 {
    let script = "const c = document.querySelector('.drift canvas'); \
                  return c.getContext('2d').getImageData(0, 0, c.width, c.height).data.filter((value, index) => index % 4 === 3 && value > 0).length";
    page.script(script).await.as_u64().expect("a count")
}

#[tokio::test]
async fn the_water_is_computed_while_the_page_waits_and_drifts_until_it_is_stopped() {
    let app = App::start_with_flow();
    let page = Page::open(&app.address, Screen::Desk).await;
    page.go("/tanks/1/drift").await;
    computed(&page, LOOSE).await;
    page.until_says(".drift-side", "the loop turns clockwise").await;
    assert!(painted(&page).await > 2_000, "water, muck and bubbles are painted");
    page.is_sound(Screen::Desk).await;
    // The browser of the tests asks for less motion.
    page.until_says(".drift-run", "Let it move").await;
    let picture = "return document.querySelector('.drift canvas').toDataURL()";
    let begun: Value = page.script(picture).await;
    assert_eq!(page.script(picture).await, begun, "nothing moves for whoever asks for that");
    page.click(".drift-run button").await;
    page.until_says(".drift-run", "Stop").await;
    page.until("it moves", format!("document.querySelector('.drift canvas').toDataURL() !== {begun}")).await;
    page.click(".drift-run button").await;
    page.until_says(".drift-run", "Let it move").await;
    let still: Value = page.script(picture).await;
    assert_eq!(page.script(picture).await, still, "nothing moves that was stopped");
    page.click(".layers label:nth-of-type(2) input").await;
    assert_ne!(page.script(picture).await, still, "the muck is gone");
    page.click(".layers label:nth-of-type(4) input").await;
    let rests = "return getComputedStyle(document.querySelector('[data-layer=rests]')).display";
    assert_eq!(page.script(rests).await, json!("none"));
    page.go("/tanks/1").await;
    computed(&page, "document.querySelector('#water-goes a[href$=drift]')").await;
    page.close().await;
    let page = Page::open(&app.address, Screen::Phone).await;
    page.go("/tanks/1/drift").await;
    computed(&page, LOOSE).await;
    page.is_sound(Screen::Phone).await;
    page.close().await;
}

/// The intake is dragged from the outlet's end, to which the loop brings the muck, to the far end: the water follows while it is
/// dragged, and then less is caught. Kept, it stands there; the history says why.
#[tokio::test]
async fn an_intake_dragged_to_the_far_end_catches_less_and_can_be_kept_there() {
    let app = App::start_with_flow();
    let page = Page::open(&app.address, Screen::Desk).await;
    page.go("/tanks/1/drift").await;
    computed(&page, LOOSE).await;
    let find = "return [...document.querySelectorAll('[data-view=front] [data-thing]')].find(e => /^Intake, intake/.test(e.getAttribute('aria-label'))).dataset.thing";
    let number = page.script(find).await.as_str().expect("a number").to_owned();
    let intake = format!("[data-view=front] [data-thing='{number}']");
    let cm = page.script("return document.querySelector('[data-view=front]').getScreenCTM().a").await.as_f64().expect("a number");
    page.carry(&format!("{intake} .hand"), (70.0 * cm, 0.0)).await;
    page.until("the water follows while it is held", "Number(document.querySelector('.drift').dataset.live) > 3").await;
    page.let_go().await;
    computed(&page, "document.querySelector('#try table')").await;
    page.until_says("#try", "catches of the muck").await;
    let verdict =
        page.script("return [...document.querySelectorAll('#try tr')].find(row => row.innerText.includes('catches')).innerText").await;
    assert!(verdict.as_str().expect("text").contains("less"), "{verdict}");
    page.picture("drift").await;
    page.is_sound(Screen::Desk).await;
    page.click("#try button").await;
    computed(&page, &format!("{LOOSE} && !document.querySelector('#try')")).await;
    page.go("/tanks/1").await;
    page.until_says(".history", "Tried in Drift and kept: Intake moved").await;
    // Below the bed it cannot be: said, with the rest kept.
    page.go("/tanks/1/drift").await;
    computed(&page, LOOSE).await;
    page.script(&format!("document.querySelector(\"{intake}\").focus()")).await;
    page.keys("\u{e012}").await;
    page.until_says("#try", "If it stood so").await;
    page.close().await;
}
