//! Drift: the water of a tank, computed while the page waits for it, and watched.

use serde_json::{Value, json};

use crate::app::App;
use crate::browser::{Page, Screen};

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
    page.until("the flow is there and its water was let loose", "document.querySelector('.drift').dataset.ready === 'yes'").await;
    page.until_says(".drift-side", "the loop turns clockwise").await;
    assert!(painted(&page).await > 2_000, "water, muck and bubbles are painted");
    page.is_sound(Screen::Desk).await;
    // The browser of the tests asks for less motion.
    page.until_says(".drift-run", "Let it move").await;
    let picture = "return document.querySelector('.drift canvas').toDataURL()";
    let begun: Value = page.script(picture).await;
    page.picture("drift").await;
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
    page.until_says("#water-goes", "Watch it drift").await;
    page.close().await;
    let page = Page::open(&app.address, Screen::Phone).await;
    page.go("/tanks/1/drift").await;
    page.until("its water was let loose", "document.querySelector('.drift').dataset.ready === 'yes'").await;
    page.is_sound(Screen::Phone).await;
    page.close().await;
}
